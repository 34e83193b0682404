using System.Text.Json.Serialization;
using PlainPorch.Core.Definition.Readings;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>What a column is in the life of an office, beyond its type.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Meaning>))]
public enum Meaning
{
    /// <summary>Nothing was found beyond the type.</summary>
    Plain,

    /// <summary>No row has a value.</summary>
    Empty,

    /// <summary>Tells records apart.</summary>
    Identifier,

    /// <summary>A short code that stands for something.</summary>
    Code,

    /// <summary>What somebody or something is called.</summary>
    Name,

    /// <summary>Text of sentences.</summary>
    LongText,

    /// <summary>Text with HTML marks.</summary>
    Html,

    /// <summary>E-mail addresses.</summary>
    Email,

    /// <summary>Web addresses.</summary>
    Url,

    /// <summary>Telephone numbers.</summary>
    Phone,

    /// <summary>Postal codes.</summary>
    PostalCode,

    /// <summary>Countries, by code or name.</summary>
    Country,

    /// <summary>Amounts of money.</summary>
    Money,

    /// <summary>Percentages.</summary>
    Percentage,

    /// <summary>A measure with a unit.</summary>
    Quantity,

    /// <summary>Years.</summary>
    Year,

    /// <summary>Dates kept as text or number.</summary>
    DateInDisguise,

    /// <summary>Times of day kept as text or number.</summary>
    TimeInDisguise,

    /// <summary>Yes or no kept as text or number.</summary>
    YesNoInDisguise,

    /// <summary>One of a few values.</summary>
    Choice,

    /// <summary>Pictures or files, as bytes or by their path.</summary>
    File,

    /// <summary>A picture, as bytes.</summary>
    Picture,

    /// <summary>The place of a record in an order.</summary>
    Position,

    /// <summary>When a record was entered.</summary>
    CreatedAt,

    /// <summary>Who entered a record.</summary>
    CreatedBy,

    /// <summary>When a record was last changed.</summary>
    ChangedAt,

    /// <summary>Who last changed a record.</summary>
    ChangedBy,

    /// <summary>Says that a record is removed without its being deleted (soft delete).</summary>
    RemovedMarker,

    /// <summary>What should not be shown to everybody: national numbers, account numbers, secrets.</summary>
    Sensitive,

    /// <summary>What nobody is to read: a password, a token, a key.</summary>
    Secret,

    /// <summary>Several identifiers in one text.</summary>
    IdList,

    /// <summary>Several codes, or several yes or no, in one text or number.</summary>
    Several,

    /// <summary>A document of another sort in a text: JSON, XML, or what was put into base64.</summary>
    Document,

    /// <summary>Another column of the same record in capitals, trimmed, joined or hashed.</summary>
    Copy,
}

/// <summary>What a column was found to be.</summary>
/// <param name="Meaning">What it is.</param>
/// <param name="Confidence">How sure that is, from 0 to 1.</param>
/// <param name="Evidence">What was seen, for people. Never a value of a sensitive column.</param>
public sealed record ColumnMeaning(Meaning Meaning, double Confidence, string Evidence)
{
    /// <summary>
    /// How its stored values are to be read; null where they are what they are, or where there is more doubt than
    /// <see cref="MeaningFinder.SureOfReading"/> leaves.
    /// </summary>
    public Reading? Reading { get; init; }
}
