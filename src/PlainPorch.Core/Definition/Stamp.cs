using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>What the program writes about a record into a column of its table, so that nobody types it.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Stamp>))]
public enum Stamp
{
    /// <summary>When the record was entered.</summary>
    EnteredAt,

    /// <summary>Who entered it.</summary>
    EnteredBy,

    /// <summary>When it was last changed.</summary>
    ChangedAt,

    /// <summary>Who changed it last.</summary>
    ChangedBy,
}
