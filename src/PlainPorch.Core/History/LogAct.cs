using System.Text.Json.Serialization;

namespace PlainPorch.Core.History;

/// <summary>What the logbook (audit log) tells of.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<LogAct>))]
public enum LogAct
{
    /// <summary>A record was added.</summary>
    Added,

    /// <summary>A record was changed.</summary>
    Changed,

    /// <summary>Several records were changed together.</summary>
    ChangedTogether,

    /// <summary>A value of several records was spelled as others are.</summary>
    Tidied,

    /// <summary>A record was set aside.</summary>
    SetAside,

    /// <summary>A record no longer refers to one that was removed.</summary>
    Detached,

    /// <summary>A record was brought back.</summary>
    BroughtBack,

    /// <summary>A record was deleted for good.</summary>
    Erased,

    /// <summary>A record got another place in the running order.</summary>
    Moved,

    /// <summary>A record took in its duplicates.</summary>
    Merged,

    /// <summary>A file was brought in.</summary>
    Imported,

    /// <summary>What was brought in was taken back.</summary>
    TakenBack,
}
