using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>Where a searched text has to occur in a value.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<TextPlace>))]
public enum TextPlace
{
    /// <summary>Anywhere.</summary>
    Contains,

    /// <summary>At the beginning.</summary>
    StartsWith,

    /// <summary>It is the whole value.</summary>
    Whole,

    /// <summary>Somewhere, or something spelled much like it (similarity of trigrams), where the database can tell.</summary>
    Alike,
}
