using System.Text.Json.Serialization;

namespace PlainPorch.Core.Tidying;

/// <summary>In what two spellings are alike, from what is nearly certain to what somebody has to look at.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Likeness>))]
public enum Likeness
{
    /// <summary>They differ by capitals, blanks, punctuation or accents alone.</summary>
    Signs,

    /// <summary>They have the same words in another order.</summary>
    WordOrder,

    /// <summary>One is made of the other's initials.</summary>
    Initials,

    /// <summary>A letter or two differ, and one of the two is rare.</summary>
    Letters,
}
