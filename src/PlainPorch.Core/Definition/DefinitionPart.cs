using System.Text.Json;
using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>
/// A part of a definition. What a newer Plain Porch wrote into it is kept and passed on, though nobody knows it here.
/// </summary>
public abstract record DefinitionPart
{
    /// <summary>What is not known here, by its name in JSON; null or empty for nothing.</summary>
    [JsonExtensionData]
    public IDictionary<string, JsonElement>? Unknown { get; init; }
}

/// <summary>A kept definition holds something that only a newer Plain Porch understands.</summary>
public sealed class DefinitionTooNewException : Exception
{
    /// <summary>Says which.</summary>
    /// <param name="panel">The panel's name in addresses.</param>
    /// <param name="reason">What is not understood, as the end of a sentence.</param>
    /// <param name="unread">What reading came to; null where the format said enough.</param>
    public DefinitionTooNewException(string panel, string reason, Exception? unread = null)
        : base(
            $"The panel “{panel}” was set up by a newer Plain Porch: {reason}. Update this one; nothing was changed.",
            unread
        ) => Panel = panel;

    /// <summary>The panel's name in addresses.</summary>
    public string Panel { get; }
}
