using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Records;

/// <summary>
/// The one text form in which values travel between browser, rules and database: numbers with a point and no grouping,
/// dates and times as ISO 8601, <c>true</c>/<c>false</c>, arrays as JSON. No digit is lost on the way.
/// </summary>
public static partial class ValueText
{
    /// <summary>Reads what a person or program gave for a column and brings it into the one form.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="input">The given text, not null.</param>
    /// <param name="value">The text in the one form; the input on failure.</param>
    /// <param name="problem">What is wrong, as a sentence with the remedy; null on success.</param>
    /// <returns>Whether it is a value of the type. Types of kind <see cref="ValueKind.Other"/> are left to the database.</returns>
    public static bool TryRead(ColumnType type, string input, out string value, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(input);
        if (input.Contains('\0', StringComparison.Ordinal))
        {
            value = input;
            problem = "It holds a zero character, which the database cannot keep. Remove it.";
            return false;
        }

        value = type.Kind is ValueKind.Text or ValueKind.Json or ValueKind.Other or ValueKind.Enum ? input : input.Trim();
        problem = type.Kind switch
        {
            ValueKind.Text => CheckLength(type, input),
            ValueKind.SmallInteger => ReadInteger(ref value, short.MinValue, short.MaxValue),
            ValueKind.Integer => ReadInteger(ref value, int.MinValue, int.MaxValue),
            ValueKind.BigInteger => ReadInteger(ref value, long.MinValue, long.MaxValue),
            ValueKind.Decimal => ReadDecimal(type, ref value),
            ValueKind.Real => ReadFloat(ref value, isSingle: true),
            ValueKind.Double => ReadFloat(ref value, isSingle: false),
            ValueKind.Boolean => ReadBoolean(ref value),
            ValueKind.Date => ReadDate(ref value),
            ValueKind.Time => ReadTime(ref value),
            ValueKind.DateTime => ReadDateTime(ref value),
            ValueKind.Instant => ReadInstant(ref value),
            ValueKind.Uuid => ReadUuid(ref value),
            ValueKind.Json => CheckJson(input),
            ValueKind.Enum => CheckEnum(type, input),
            ValueKind.Array => ReadArray(type, ref value),
            ValueKind.Binary => "Bytes cannot be typed. Leave it as it is.",
            _ => null,
        };
        return problem is null;
    }

    // char(n) and varchar(n) count characters as people do, so a surrogate pair is one.
    private static string? CheckLength(ColumnType type, string input)
    {
        if (type.MaxLength is not { } max || input.Length <= max)
            return null;
        var length = input.EnumerateRunes().Count();
        return length <= max ? null : $"At most {max} characters fit; these are {length}. Shorten it by {length - max}.";
    }

    private static string? ReadInteger(ref string value, long min, long max)
    {
        if (!WholeNumber().IsMatch(value))
            return "This is no whole number. Type digits only, such as 42.";
        if (!long.TryParse(value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) || number < min || number > max)
            return string.Create(CultureInfo.InvariantCulture, $"The number must be between {min} and {max}.");
        value = number.ToString(CultureInfo.InvariantCulture);
        return null;
    }

    private static string? ReadDecimal(ColumnType type, ref string value)
    {
        if (DecimalNumber().Match(value) is not { Success: true } match)
            return "This is no number. Type it with digits and a point, such as 12.50.";
        var whole = match.Groups["whole"].Value.TrimStart('0');
        var fraction = match.Groups["fraction"].Value;
        var sign = match.Groups["sign"].Value == "-" && (whole + fraction).Trim('0').Length > 0 ? "-" : "";
        if (type.Scale is { } scale and >= 0 && fraction.TrimEnd('0').Length > scale)
            return scale == 0
                ? "Only whole numbers fit. Leave out the digits after the point."
                : $"At most {scale} digits after the point fit. Round it.";
        if (type.Precision is { } precision && whole.Length > precision - (type.Scale ?? 0))
            return $"At most {precision - (type.Scale ?? 0)} digits before the point fit. Check the number.";
        value = sign + (whole.Length == 0 ? "0" : whole) + (fraction.Length == 0 ? "" : "." + fraction);
        return null;
    }

    private static string? ReadFloat(ref string value, bool isSingle)
    {
        if (!double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number))
            return "This is no number. Type it with digits and a point, such as 12.5.";
        if (!double.IsFinite(isSingle ? (float)number : number) && value.Any(char.IsDigit))
            return "The number is too large for the column.";
        value = isSingle
            ? ((float)number).ToString("R", CultureInfo.InvariantCulture)
            : number.ToString("R", CultureInfo.InvariantCulture);
        return null;
    }

    private static string? ReadBoolean(ref string value)
    {
        bool? read = value.ToUpperInvariant() switch
        {
            "TRUE" or "T" or "YES" or "Y" or "ON" or "1" => true,
            "FALSE" or "F" or "NO" or "N" or "OFF" or "0" => false,
            _ => null,
        };
        if (read is null)
            return "This is neither true nor false. Choose one.";
        value = read.Value ? "true" : "false";
        return null;
    }

    private static string? ReadDate(ref string value)
    {
        if (IsInfinity(ref value))
            return null;
        if (!DateOnly.TryParseExact(value, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date))
            return "This is no date of the calendar. Type it as year-month-day, such as 2026-03-31.";
        value = date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        return null;
    }

    private static string? ReadTime(ref string value)
    {
        string[] forms = ["H:mm", "HH:mm", "HH:mm:ss", "HH:mm:ss.FFFFFFF"];
        if (!TimeOnly.TryParseExact(value, forms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
            return "This is no time of day. Type it as hour:minute, such as 14:30.";
        value = time.ToString("HH:mm:ss.FFFFFF", CultureInfo.InvariantCulture);
        return null;
    }

    private static string? ReadDateTime(ref string value)
    {
        if (IsInfinity(ref value))
            return null;
        string[] forms = ["yyyy-MM-ddTHH:mm", "yyyy-MM-ddTHH:mm:ss", "yyyy-MM-ddTHH:mm:ss.FFFFFFF", "yyyy-MM-dd"];
        if (!DateTime.TryParseExact(value.Replace(' ', 'T'), forms, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment))
            return "This is no date and time. Type it as year-month-day and hour:minute, such as 2026-03-31 14:30.";
        value = moment.ToString("yyyy-MM-ddTHH:mm:ss.FFFFFF", CultureInfo.InvariantCulture);
        return null;
    }

    private static string? ReadInstant(ref string value)
    {
        if (IsInfinity(ref value))
            return null;
        // Without an offset it would mean another moment on another machine.
        if (!ZoneAtEnd().IsMatch(value)
            || !DateTimeOffset.TryParse(value, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment))
            return "This is no moment. Type date, time and offset, such as 2026-03-31T14:30:00Z.";
        value = moment.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ss.FFFFFF'Z'", CultureInfo.InvariantCulture);
        return null;
    }

    private static bool IsInfinity(ref string value)
    {
        if (!value.Equals("infinity", StringComparison.OrdinalIgnoreCase) && !value.Equals("-infinity", StringComparison.OrdinalIgnoreCase))
            return false;
        value = value.ToLowerInvariant();
        return true;
    }

    private static string? ReadUuid(ref string value)
    {
        if (!Guid.TryParse(value, out var uuid))
            return "This is no UUID. Type 32 hexadecimal digits, such as 3f2b8c1e-0d4a-4f5e-9c1b-7a6d5e4f3c2b.";
        value = uuid.ToString("D");
        return null;
    }

    private static string? CheckJson(string input)
    {
        try
        {
            using var document = JsonDocument.Parse(input);
            return null;
        }
        catch (JsonException wrong)
        {
            return $"This is no JSON (line {(wrong.LineNumber ?? 0) + 1}, column {(wrong.BytePositionInLine ?? 0) + 1}). Check quotes, commas and brackets.";
        }
    }

    private static string? CheckEnum(ColumnType type, string input) =>
        type.EnumValues.Contains(input) ? null : $"“{input}” is not among the values. Choose one of: {string.Join(", ", type.EnumValues)}.";

    private static string? ReadArray(ColumnType type, ref string value)
    {
        string?[]? items;
        try
        {
            items = JsonSerializer.Deserialize<string?[]>(value);
        }
        catch (JsonException)
        {
            items = null;
        }

        if (items is null)
            return "This is no list of texts. Give one item for each line.";
        var element = new ColumnType
        {
            StoreType = type.StoreType,
            Kind = type.Element ?? ValueKind.Other,
            MaxLength = type.MaxLength,
            Precision = type.Precision,
            Scale = type.Scale,
            EnumValues = type.EnumValues,
        };
        for (var i = 0; i < items.Length; i++)
        {
            if (items[i] is not { } item)
                continue;
            if (!TryRead(element, item, out var read, out var problem))
                return $"Item {i + 1}: {problem}";
            items[i] = read;
        }

        value = WriteArray(items);
        return null;
    }

    /// <summary>Writes an array's items, each in the one form, as the array's text.</summary>
    public static string WriteArray(IEnumerable<string?> items) => JsonSerializer.Serialize(items, _plainJson);

    private static readonly JsonSerializerOptions _plainJson =
        new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    [GeneratedRegex(@"^[+-]?\d+$", RegexOptions.CultureInvariant)]
    private static partial Regex WholeNumber();

    [GeneratedRegex(@"^(?<sign>[+-]?)(?=\.?\d)(?<whole>\d*)(?:\.(?<fraction>\d*))?$", RegexOptions.CultureInvariant)]
    private static partial Regex DecimalNumber();

    [GeneratedRegex(@"(?:Z|[+-]\d\d(?::?\d\d)?)$", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex ZoneAtEnd();
}
