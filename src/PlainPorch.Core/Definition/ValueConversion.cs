using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>How a referring value has to be changed to be found in the target.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ValueConversion>))]
public enum ValueConversion
{
    /// <summary>Not at all.</summary>
    None,

    /// <summary>A text of digits, leading zeros or not, is read as a whole number.</summary>
    TextToInteger,

    /// <summary>Blanks around a text and the difference of capitals are left out on both sides.</summary>
    TrimmedAnyCase,
}
