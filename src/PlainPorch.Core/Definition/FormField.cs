using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>How much of a form's row a field takes, where there is room for several beside each other.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FieldWidth>))]
public enum FieldWidth
{
    /// <summary>A third.</summary>
    Third,

    /// <summary>Half.</summary>
    Half,

    /// <summary>All of it.</summary>
    Full,
}

/// <summary>How a field is typed into, where its type alone does not say it. What is stored is the same text or number.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FieldInput>))]
public enum FieldInput
{
    /// <summary>An e-mail address: phones show the keys for it, and what does not look like one is pointed out.</summary>
    Email,

    /// <summary>A telephone number.</summary>
    Telephone,

    /// <summary>The address of a page.</summary>
    WebAddress,

    /// <summary>A colour as six hexadecimal digits, with a sample beside it.</summary>
    Colour,

    /// <summary>A whole number from 1 to <see cref="FormField.MostMarks"/>, chosen by marks in a row.</summary>
    Rating,

    /// <summary>One of a few values, all of which are seen at once.</summary>
    Segments,

    /// <summary>Several lines, even where texts are short.</summary>
    Paragraph,

    /// <summary>Text with emphasis, headings and lists, stored as HTML, of which only what is harmless is shown and written.</summary>
    Formatted,
}

/// <summary>Where the form of a record is filled in.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FormPlace>))]
public enum FormPlace
{
    /// <summary>On a page of its own.</summary>
    Page,

    /// <summary>In a sheet at the side of the list, which stays in sight.</summary>
    Sheet,
}

/// <summary>Says that a field is shown only where another one of the same record has some value. What it holds stays as it is.</summary>
/// <param name="Column">The other column.</param>
/// <param name="OneOf">The values, in the one text form of what that column means; empty for any value at all.</param>
public sealed record ShownWhen(string Column, IReadOnlyList<string> OneOf)
{
    /// <summary>Whether a record's field is shown.</summary>
    /// <param name="value">The other column's value; null for none.</param>
    public bool Holds(string? value) =>
        OneOf.Count == 0 ? !string.IsNullOrWhiteSpace(value) : value is not null && OneOf.Contains(value);
}

/// <summary>Says that a lookup offers those records alone that have some value in one of their own columns.</summary>
/// <param name="Column">The column of the table referred to.</param>
/// <param name="From">
/// The column of the record's own whose value it has to have; null where it is chosen in the form beforehand, and stored nowhere.
/// </param>
public sealed record LookupRestriction(string Column, string? From);

/// <summary>Facts about fields.</summary>
public static class FormField
{
    /// <summary>How many marks a rating has.</summary>
    public const int MostMarks = 5;

    /// <summary>By how many columns a lookup can be restricted.</summary>
    public const int MostRestrictions = 3;

    /// <summary>How many megabytes a file has at most where nothing is said.</summary>
    public const int UsualMegabytes = 10;

    /// <summary>How many megabytes a file can be allowed to have.</summary>
    public const int GreatestMegabytes = 25;

    /// <summary>How many values a condition for showing a field can name.</summary>
    public const int MostValues = 50;
}
