using System.Text.Encodings.Web;
using System.Text.Json;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Export;

/// <summary>JSON (RFC 8259): one array of objects, or an object in each line. Numbers keep all their digits.</summary>
/// <param name="stream">Where to write; stays open.</param>
/// <param name="isLines">Whether each record is a line of its own.</param>
public sealed class JsonExportWriter(Stream stream, bool isLines) : IExportWriter
{
    private const int FlushAt = 32_768;

    private static readonly byte[] _newLine = "\n"u8.ToArray();

    // The file is read by programs and people, never pasted into HTML.
    private readonly Utf8JsonWriter _json = new(
        stream,
        new JsonWriterOptions { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping, SkipValidation = isLines }
    );

    private IReadOnlyList<ExportColumn> _columns = [];

    /// <inheritdoc/>
    public Task BeginAsync(IReadOnlyList<ExportColumn> columns)
    {
        _columns = columns;
        if (!isLines)
            _json.WriteStartArray();
        return Task.CompletedTask;
    }

    /// <inheritdoc/>
    public async Task WriteAsync(IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        _json.WriteStartObject();
        for (var i = 0; i < values.Count; i++)
            Write(_columns[i], values[i]);
        _json.WriteEndObject();
        if (isLines)
        {
            await _json.FlushAsync();
            await stream.WriteAsync(_newLine);
            _json.Reset();
        }
        else if (_json.BytesPending > FlushAt)
        {
            await _json.FlushAsync();
        }
    }

    /// <inheritdoc/>
    public async Task EndAsync()
    {
        if (!isLines)
            _json.WriteEndArray();
        await _json.FlushAsync();
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        // Disposing would flush: what was left unfinished is to stay so.
        return ValueTask.CompletedTask;
    }

    private void Write(ExportColumn column, string? value)
    {
        _json.WritePropertyName(column.Name);
        if (value is null)
            _json.WriteNullValue();
        else if (column.HoldsBoolean(value))
            _json.WriteBooleanValue(value == "true");
        else if (
            column.HoldsNumber(value)
            || (!column.IsTitle && column.Type.Kind is ValueKind.Json or ValueKind.Array or ValueKind.Several && IsJson(value))
        )
            _json.WriteRawValue(value, skipInputValidation: true);
        else
            _json.WriteStringValue(value);
    }

    private static bool IsJson(string value)
    {
        try
        {
            using var document = JsonDocument.Parse(value);
            return true;
        }
        catch (JsonException)
        {
            return false;
        }
    }
}
