using System.Text.Json.Serialization;

namespace PlainPorch.Core.Export;

/// <summary>The forms in which records are exported.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ExportFormat>))]
public enum ExportFormat
{
    /// <summary>Comma-separated values (RFC 4180), UTF-8.</summary>
    Csv,

    /// <summary>One JSON array of objects.</summary>
    Json,

    /// <summary>A JSON object in each line.</summary>
    Ndjson,

    /// <summary>An XML document.</summary>
    Xml,

    /// <summary>A spreadsheet (Office Open XML, ECMA-376).</summary>
    Xlsx,
}

/// <summary>A column of an export.</summary>
/// <param name="Name">The column's exact name.</param>
/// <param name="Label">What people read instead.</param>
/// <param name="Type">Its type.</param>
/// <param name="IsTitle">Whether the values are titles of the records that the column refers to, and so texts whatever the
/// type.</param>
public sealed record ExportColumn(string Name, string Label, Schema.ColumnType Type, bool IsTitle = false)
{
    private static readonly System.Buffers.SearchValues<char> _ofNumbers = System.Buffers.SearchValues.Create("0123456789.+-eE");

    /// <summary>Whether its values are written as numbers.</summary>
    public bool IsNumber => !IsTitle && Type.IsNumber;

    /// <summary>Whether its values are written as truth values.</summary>
    public bool IsBoolean => !IsTitle && Type.Kind is Schema.ValueKind.Boolean;

    /// <summary>Whether a value is a number here, as JSON has them: what does not fit a reading is a text, whatever the type.</summary>
    public bool HoldsNumber(string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        return IsNumber
            && value.Length > 0
            && !value.AsSpan().ContainsAnyExcept(_ofNumbers)
            && char.IsAsciiDigit(value[^1])
            && (char.IsAsciiDigit(value[0]) || (value[0] == '-' && value.Length > 1 && char.IsAsciiDigit(value[1])))
            && value.AsSpan().Count('.') <= 1
            && double.TryParse(
                value,
                System.Globalization.NumberStyles.Float,
                System.Globalization.CultureInfo.InvariantCulture,
                out _
            );
    }

    /// <summary>Whether a value is yes or no here.</summary>
    public bool HoldsBoolean(string value) => IsBoolean && value is ("true" or "false");
}

/// <summary>Writes records one by one into a stream. Nothing is kept: a million rows take as much memory as one.</summary>
public interface IExportWriter : IAsyncDisposable
{
    /// <summary>Writes what comes before the first record.</summary>
    /// <param name="columns">The columns.</param>
    Task BeginAsync(IReadOnlyList<ExportColumn> columns);

    /// <summary>Writes a record.</summary>
    /// <param name="values">Its values in the one text form; null for empty ones.</param>
    Task WriteAsync(IReadOnlyList<string?> values);

    /// <summary>Writes what comes after the last record. An export that broke off never gets it.</summary>
    Task EndAsync();
}

/// <summary>Makes writers.</summary>
public static class ExportWriters
{
    /// <summary>The writer of a format.</summary>
    /// <param name="format">The format.</param>
    /// <param name="stream">Where to write; stays open.</param>
    /// <param name="name">What the records are called taken together.</param>
    public static IExportWriter For(ExportFormat format, Stream stream, string name) =>
        format switch
        {
            ExportFormat.Csv => new CsvExportWriter(stream),
            ExportFormat.Json => new JsonExportWriter(stream, isLines: false),
            ExportFormat.Ndjson => new JsonExportWriter(stream, isLines: true),
            ExportFormat.Xml => new XmlExportWriter(stream),
            _ => new XlsxExportWriter(stream, name),
        };

    /// <summary>Reads the name of a format, capitals or not.</summary>
    /// <returns>The format; null where there is none of that name.</returns>
    public static ExportFormat? Read(string name) =>
        Enum.TryParse<ExportFormat>(name, ignoreCase: true, out var format) && Enum.IsDefined(format) ? format : null;

    /// <summary>The media type of a format.</summary>
    public static string MediaType(ExportFormat format) =>
        format switch
        {
            ExportFormat.Csv => "text/csv; charset=utf-8",
            ExportFormat.Json => "application/json",
            ExportFormat.Ndjson => "application/x-ndjson",
            ExportFormat.Xml => "application/xml",
            _ => "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
        };
}
