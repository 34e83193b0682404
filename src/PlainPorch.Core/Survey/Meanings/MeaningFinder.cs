using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds what columns are, from their names, types and values.</summary>
public static class MeaningFinder
{
    /// <summary>How sure a reading has to be before it is drafted; a less sure one is for people to choose.</summary>
    public const double SureOfReading = 0.8;

    private static readonly Func<ColumnFacts, ColumnMeaning?>[] _detectors =
    [
        SecretDetector.Find,
        SensitiveDetectors.NationalNumber,
        SensitiveDetectors.Account,
        SensitiveDetectors.BirthDate,
        StampDetectors.Removed,
        StampDetectors.At,
        StampDetectors.By,
        StampDetectors.Position,
        DisguiseDetectors.YesNo,
        ReadingDetectors.Day,
        ReadingDetectors.Moment,
        ReadingDetectors.Month,
        ReadingDetectors.Time,
        ReadingDetectors.Since,
        ReadingDetectors.TextNumber,
        ReadingDetectors.Scaled,
        ReadingDetectors.Duration,
        ReadingDetectors.Words,
        SeveralDetectors.Bits,
        SeveralDetectors.Places,
        SeveralDetectors.List,
        DocumentDetectors.Json,
        DocumentDetectors.Xml,
        DocumentDetectors.Base64,
        DisguiseDetectors.Year,
        TextDetectors.Html,
        TextDetectors.Email,
        TextDetectors.Url,
        TextDetectors.Phone,
        TextDetectors.PostalCode,
        TextDetectors.Country,
        TextDetectors.File,
        TextDetectors.IdList,
        TextDetectors.LongText,
        TextDetectors.Name,
        TextDetectors.Code,
        RowlessDetectors.Address,
        RowlessDetectors.Moment,
        RowlessDetectors.YesNo,
        RowlessDetectors.Measure,
        NumberDetectors.Money,
        NumberDetectors.Percentage,
        NumberDetectors.Quantity,
        NumberDetectors.Identifier,
        TextDetectors.Choice,
    ];

    /// <summary>Finds what a column is, by its rows and by those of the columns beside it.</summary>
    /// <param name="rows">The rows of its table.</param>
    /// <param name="at">Its place.</param>
    public static ColumnMeaning Find(TableRows rows, int at)
    {
        ArgumentNullException.ThrowIfNull(rows);
        var own = Find(rows.Table, rows.Table.Columns[at], rows.Of(at));
        return own.Meaning is Meaning.Secret ? own : CopyDetector.Find(rows, at) ?? own;
    }

    /// <summary>Finds what a column is.</summary>
    /// <param name="table">Its table.</param>
    /// <param name="column">The column.</param>
    /// <param name="values">The values that were looked at.</param>
    /// <returns>The surest meaning; <see cref="Meaning.Plain"/> where nothing was found.</returns>
    public static ColumnMeaning Find(Table table, Column column, IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(values);
        var facts = new ColumnFacts(table, column, values);
        var found = _detectors.Select(detect => detect(facts)).OfType<ColumnMeaning>().ToList();
        // Whatever a column is, its values are read as they are kept: a date of birth is sensitive, and a day packed in a number.
        var reading = found
            .Where(meaning => meaning is { Reading: not null, Confidence: >= SureOfReading })
            .MaxBy(meaning => meaning.Confidence)
            ?.Reading
            ?? ReadingDetectors.Padded(facts);
        if (found.MaxBy(meaning => meaning.Confidence) is { } best)
            return best.Reading is null || best.Confidence < SureOfReading ? best with { Reading = reading } : best;
        return facts is { Rows: > 0, Filled.Count: 0 }
            ? new ColumnMeaning(Meaning.Empty, 0.9, $"none of {facts.Rows} rows has a value")
            : new ColumnMeaning(Meaning.Plain, 0.5, $"nothing beyond its type, {column.Type.StoreType}") { Reading = reading };
    }
}
