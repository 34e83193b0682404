using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Rows;

/// <summary>Between the one text form of values and what parameters and results hold.</summary>
internal static partial class ClrValue
{
    private const string HexMark = @"\x";

    private static readonly Regex _hostMask = HostMask();

    /// <summary>The type of a column's property in the run-time model; string where the value is sent untyped.</summary>
    public static Type TypeFor(ColumnType type) =>
        type.Kind switch
        {
            ValueKind.SmallInteger => typeof(short?),
            ValueKind.Integer => typeof(int?),
            ValueKind.BigInteger => typeof(long?),
            ValueKind.Real => typeof(float?),
            ValueKind.Double => typeof(double?),
            ValueKind.Boolean => typeof(bool?),
            ValueKind.Uuid => typeof(Guid?),
            ValueKind.Binary => typeof(byte[]),
            _ => typeof(string),
        };

    /// <summary>
    /// Whether values are sent without a type, for the database to read by the column's: those of types that .NET does not
    /// have, or of which it holds less (no NaN among decimals, no year before 1 or beyond 9999, no infinity, no 24:00).
    /// </summary>
    public static bool IsSentUntyped(ColumnType type) =>
        type.Kind
            is ValueKind.Enum
                or ValueKind.Array
                or ValueKind.Other
                or ValueKind.Decimal
                or ValueKind.Date
                or ValueKind.Time
                or ValueKind.DateTime
                or ValueKind.Instant;

    /// <summary>Converts a text in the one form.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="text">The text as <see cref="ValueText.TryRead"/> gave it; null for an empty value.</param>
    public static object? From(ColumnType type, string? text)
    {
        if (text is null)
            return null;
        var culture = CultureInfo.InvariantCulture;
        return type.Kind switch
        {
            ValueKind.SmallInteger => short.Parse(text, culture),
            ValueKind.Integer => int.Parse(text, culture),
            ValueKind.BigInteger => long.Parse(text, culture),
            ValueKind.Real => float.Parse(text, culture),
            ValueKind.Double => double.Parse(text, culture),
            ValueKind.Boolean => text == "true",
            ValueKind.Uuid => Guid.Parse(text),
            ValueKind.Array => InDatabase(type, text),
            ValueKind.Binary => Convert.FromHexString(text.AsSpan(HexMark.Length)),
            _ => text,
        };
    }

    /// <summary>Bytes as a text from which <see cref="From"/> makes them again.</summary>
    public static string OfBytes(ReadOnlySpan<byte> bytes) => HexMark + Convert.ToHexStringLower(bytes);

    /// <summary>Whether the database's text form of some values of a type differs from the one form.</summary>
    public static bool HasOtherText(ColumnType type) =>
        type.Kind is ValueKind.DateTime or ValueKind.Instant or ValueKind.Array
        || type is { Kind: ValueKind.Other, StoreType: "inet" };

    /// <summary>Brings the database's text form into the one form.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="text">What the database gave; null for an empty value.</param>
    public static string? ToText(ColumnType type, string? text) =>
        text is null
            ? null
            : type.Kind switch
            {
                ValueKind.DateTime => CalendarText.FromDatabase(text, hasZone: false),
                // The session's zone is UTC, so the offset is always +00.
                ValueKind.Instant => CalendarText.FromDatabase(text, hasZone: true),
                // The cast to text, unlike the type's own output, writes the mask of a single host.
                ValueKind.Other when type.StoreType == "inet" => _hostMask.Replace(text, ""),
                // Boxes alone are parted by semicolons, for they hold commas.
                ValueKind.Array => type.StoreType != "box[]" && ArrayLiteral.TryRead(text, out var items)
                    ? ValueText.WriteArray(items)
                    : text,
                _ => text,
            };

    /// <summary>Writes a text in the one form as the database reads it.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="text">The text in the one form.</param>
    public static string InDatabase(ColumnType type, string text) =>
        type.Kind is ValueKind.Array && !ValueText.IsInDatabaseForm(text)
            ? ArrayLiteral.Write(JsonSerializer.Deserialize<string?[]>(text)!)
            : text;

    /// <summary>The text of a value that EF read back, as of a key that the database supplied.</summary>
    public static string Format(object value) =>
        value switch
        {
            DateOnly date => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTime { Kind: DateTimeKind.Utc } moment => moment.ToString(
                "yyyy-MM-ddTHH:mm:ss.FFFFFF'Z'",
                CultureInfo.InvariantCulture
            ),
            DateTime moment => moment.ToString("yyyy-MM-ddTHH:mm:ss.FFFFFF", CultureInfo.InvariantCulture),
            TimeOnly time => time.ToString("HH:mm:ss.FFFFFF", CultureInfo.InvariantCulture),
            bool flag => flag ? "true" : "false",
            _ => Convert.ToString(value, CultureInfo.InvariantCulture)!,
        };

    [GeneratedRegex(@"(?<=^[\d.]+)/32$|(?<=:.*)/128$", RegexOptions.CultureInvariant)]
    private static partial Regex HostMask();
}

/// <summary>PostgreSQL's text form of one-dimensional arrays (manual, "Array Input and Output Syntax").</summary>
internal static class ArrayLiteral
{
    /// <summary>Writes items; null for an empty one.</summary>
    public static string Write(IEnumerable<string?> items) =>
        "{"
        + string.Join(
            ',',
            items.Select(item =>
                item is null
                    ? "NULL"
                    : "\""
                        + item.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)
                        + "\""
            )
        )
        + "}";

    /// <summary>Reads items.</summary>
    /// <returns>False for arrays of several dimensions or with bounds of their own.</returns>
    public static bool TryRead(string text, out List<string?> items)
    {
        items = [];
        if (text.Length < 2 || text[0] != '{' || text[^1] != '}')
            return false;
        var position = 1;
        while (position < text.Length - 1)
        {
            if (text[position] == '{')
                return false;
            items.Add(text[position] == '"' ? ReadQuoted(text, ref position) : ReadBare(text, ref position));
            position++;
        }

        return true;
    }

    private static string ReadQuoted(string text, ref int position)
    {
        var item = new StringBuilder();
        for (position++; position < text.Length && text[position] != '"'; position++)
        {
            if (text[position] == '\\')
                position++;
            item.Append(text[position]);
        }

        position++;
        return item.ToString();
    }

    private static string? ReadBare(string text, ref int position)
    {
        var start = position;
        while (position < text.Length - 1 && text[position] != ',')
            position++;
        var item = text[start..position];
        return item == "NULL" ? null : item;
    }
}
