using System.Text.Json;
using PlainPorch.Data.Query;

namespace PlainPorch.Web.Query;

/// <summary>
/// Writes a page of a list as JSON, just as the serializer would. Its rows are most of what the server writes all day, and by
/// reflection they take three times as long.
/// </summary>
internal static class ListPageJson
{
    private static readonly JsonEncodedText _columns = JsonEncodedText.Encode("columns");
    private static readonly JsonEncodedText _rows = JsonEncodedText.Encode("rows");
    private static readonly JsonEncodedText _key = JsonEncodedText.Encode("key");
    private static readonly JsonEncodedText _title = JsonEncodedText.Encode("title");
    private static readonly JsonEncodedText _values = JsonEncodedText.Encode("values");
    private static readonly JsonEncodedText _version = JsonEncodedText.Encode("version");

    /// <summary>Writes a page.</summary>
    public static void Write(Utf8JsonWriter json, ListPage page, JsonSerializerOptions options)
    {
        json.WriteStartObject();
        json.WriteStartArray(_columns);
        foreach (var column in page.Columns)
            json.WriteStringValue(column);
        json.WriteEndArray();
        json.WriteStartArray(_rows);
        foreach (var row in page.Rows)
            Write(json, row);
        json.WriteEndArray();
        json.WriteBoolean("hasNext", page.HasNext);
        json.WriteBoolean("hasPrevious", page.HasPrevious);
        json.WriteString("previous", page.Previous);
        json.WriteString("next", page.Next);
        WriteRest("count", page.Count);
        WriteRest("lookups", page.Lookups);
        WriteSeveral("restricted", page.Restricted);
        WriteSeveral("dropped", page.Dropped);
        json.WriteEndObject();

        void WriteRest<T>(string name, T value)
        {
            json.WritePropertyName(name);
            JsonSerializer.Serialize(json, value, options);
        }

        void WriteSeveral<T>(string name, IReadOnlyList<T> values)
        {
            if (values.Count > 0)
            {
                WriteRest(name, values);
                return;
            }

            json.WriteStartArray(name);
            json.WriteEndArray();
        }
    }

    private static void Write(Utf8JsonWriter json, ListRow row)
    {
        json.WriteStartObject();
        json.WriteString(_key, row.Key);
        json.WriteString(_title, row.Title);
        json.WriteStartArray(_values);
        foreach (var value in row.Values)
            json.WriteStringValue(value);
        json.WriteEndArray();
        if (row.Version is { } version)
            json.WriteNumber(_version, version);
        else
            json.WriteNull(_version);
        if (row.Unfit is { } unfit)
        {
            json.WriteStartArray("unfit");
            foreach (var place in unfit)
                json.WriteNumberValue(place);
            json.WriteEndArray();
        }

        json.WriteEndObject();
    }
}
