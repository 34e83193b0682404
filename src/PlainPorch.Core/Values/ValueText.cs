using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Values;

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
    /// <returns>Whether it is a value of the type. Types of kind <see cref="ValueKind.Other"/> are left to the
    /// database.</returns>
    public static bool TryRead(ColumnType type, string input, out string value, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(type);
        ArgumentNullException.ThrowIfNull(input);
        if (input.Contains('\0', StringComparison.Ordinal))
        {
            value = input;
            problem = "It contains a null character, which the database cannot store. Remove it.";
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
            ValueKind.Date => CalendarText.TryReadDay(ref value)
                ? null
                : "There is no such date. Type it as year-month-day, such as 2026-03-31.",
            ValueKind.Time => CalendarText.TryReadTime(ref value)
                ? null
                : "Not a time of day. Type it as hour:minute, such as 14:30.",
            ValueKind.DateTime => CalendarText.TryReadMoment(ref value)
                ? null
                : "Not a date and time. Type it as year-month-day and hour:minute, such as 2026-03-31 14:30.",
            ValueKind.Instant => CalendarText.TryReadInstant(ref value)
                ? null
                : "Not a date, time and offset. Type date, time and offset, such as 2026-03-31T14:30:00Z.",
            ValueKind.Duration => DurationText.TryRead(ref value) ? null : DurationText.Remedy,
            ValueKind.Uuid => ReadUuid(ref value),
            ValueKind.Json => CheckJson(input),
            ValueKind.Enum => CheckEnum(type, input),
            ValueKind.Array => ReadArray(type, ref value),
            ValueKind.Several => ReadSeveral(type, ref value),
            ValueKind.Binary => "Bytes cannot be typed. Leave it as it is.",
            _ => null,
        };
        return problem is null;
    }

    /// <summary>Whether two texts in the one form are one value, as the database stores it: 3 and 3.00, or with blanks filled up.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="one">A value; null for none.</param>
    /// <param name="other">Another; null for none.</param>
    public static bool AreSame(ColumnType type, string? one, string? other)
    {
        ArgumentNullException.ThrowIfNull(type);
        return one == other || (one is not null && other is not null && Stored(type, one) == Stored(type, other));
    }

    private static string Stored(ColumnType type, string text) =>
        type.Kind is ValueKind.Decimal && text.Contains('.', StringComparison.Ordinal) ? text.TrimEnd('0').TrimEnd('.')
        : type.StoreType.StartsWith("character(", StringComparison.Ordinal) ? text.TrimEnd(' ')
        : text;

    // char(n) and varchar(n) count characters as people do, so a surrogate pair is one.
    private static string? CheckLength(ColumnType type, string input)
    {
        if (type.MaxLength is not { } max || input.Length <= max)
            return null;
        var length = input.EnumerateRunes().Count();
        return length <= max ? null : $"At most {max} characters are allowed; this has {length}. Shorten it by {length - max}.";
    }

    private static string? ReadInteger(ref string value, long min, long max)
    {
        if (!WholeNumber().IsMatch(value))
            return "Not a whole number. Type digits only, such as 42.";
        if (
            !long.TryParse(value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number)
            || number < min
            || number > max
        )
            return string.Create(CultureInfo.InvariantCulture, $"The number must be between {min} and {max}.");
        value = number.ToString(CultureInfo.InvariantCulture);
        return null;
    }

    private static string? ReadDecimal(ColumnType type, ref string value)
    {
        // Without bounds of its own a column holds infinities as well.
        if (value == "NaN" || (type.Precision is null && value is "Infinity" or "-Infinity"))
            return null;
        if (DecimalNumber().Match(value) is not { Success: true } match)
            return "Not a number. Type it with digits and a point, such as 12.50.";
        var whole = match.Groups["whole"].Value.TrimStart('0');
        var fraction = match.Groups["fraction"].Value;
        var sign = match.Groups["sign"].Value == "-" && (whole + fraction).Trim('0').Length > 0 ? "-" : "";
        if (type.Scale is { } scale and >= 0 && fraction.TrimEnd('0').Length > scale)
            return scale == 0
                ? "Only whole numbers are allowed. Remove the digits after the point."
                : $"At most {scale} digits after the point are allowed. Round it.";
        if (type.Precision is { } precision && TooLarge(whole, fraction, precision - (type.Scale ?? 0)) is { } tooLarge)
            return tooLarge;
        value = sign + (whole.Length == 0 ? "0" : whole) + (fraction.Length == 0 ? "" : "." + fraction);
        return null;
    }

    // A scale beyond the precision leaves the first digits after the point to zeros, a negative one leaves out the last ones
    // before it.
    private static string? TooLarge(string whole, string fraction, int room) =>
        room switch
        {
            < 0 when whole.Length > 0 || fraction.AsSpan(0, Math.Min(fraction.Length, -room)).Trim('0').Length > 0 =>
                $"Only numbers closer to zero than 0.{new string('0', -room - 1)}1 are allowed. Check the number.",
            0 when whole.Length > 0 => "Only numbers between -1 and 1 are allowed. Check the number.",
            > 0 when whole.Length > room => room == 1
                ? "At most 1 digit before the point is allowed. Check the number."
                : $"At most {room} digits before the point are allowed. Check the number.",
            _ => null,
        };

    private static string? ReadFloat(ref string value, bool isSingle)
    {
        if (!double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number))
            return "Not a number. Type it with digits and a point, such as 12.5.";
        if (!double.IsFinite(isSingle ? (float)number : number) && value.Any(char.IsAsciiDigit))
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
            return "Neither true nor false. Choose one.";
        value = read.Value ? "true" : "false";
        return null;
    }

    private static string? ReadUuid(ref string value)
    {
        if (!Guid.TryParse(value, out var uuid))
            return "Not a UUID. Type 32 hexadecimal digits, such as 3f2b8c1e-0d4a-4f5e-9c1b-7a6d5e4f3c2b.";
        value = uuid.ToString("D");
        return null;
    }

    private static string? CheckJson(string input)
    {
        try
        {
            using var document = JsonDocument.Parse(input);
            return ZeroEscape().IsMatch(input)
                ? "It contains a null character (\\u0000), which the database cannot store. Remove it."
                : null;
        }
        catch (JsonException wrong)
        {
            return $"Not valid JSON (line {(wrong.LineNumber ?? 0) + 1}, column {(wrong.BytePositionInLine ?? 0) + 1}). Check quotes, commas and brackets.";
        }
    }

    private static string? CheckEnum(ColumnType type, string input) =>
        type.EnumValues.Contains(input)
            ? null
            : $"“{input}” is not one of the allowed values. Choose one of: {string.Join(", ", type.EnumValues)}.";

    private static string? ReadArray(ColumnType type, ref string value)
    {
        // Of several dimensions, or with bounds of their own: as the database writes them, and only it reads them.
        if (IsInDatabaseForm(value))
            return null;
        if (ItemsOf(value) is not { } items)
            return NoItems;
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

    private const string NoItems = "Not a list of texts. Give one item per line.";

    private static string? ReadSeveral(ColumnType type, ref string value)
    {
        if (ItemsOf(value) is not { } items || items.Contains(null))
            return NoItems;
        if (type.EnumValues.Count > 0 && items.FirstOrDefault(item => !type.EnumValues.Contains(item!)) is { } unknown)
            return CheckEnum(type, unknown);
        value = WriteArray(items.Distinct());
        return null;
    }

    /// <summary>The items of an array's text; null where it is no list of texts.</summary>
    public static string?[]? ItemsOf(string value)
    {
        try
        {
            return JsonSerializer.Deserialize<string?[]>(value);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>Writes an array's items, each in the one form, as the array's text.</summary>
    public static string WriteArray(IEnumerable<string?> items) => JsonSerializer.Serialize(items, _plainJson);

    /// <summary>Whether an array is written as the database does, rather than as a list of texts.</summary>
    public static bool IsInDatabaseForm(string value) => ArrayOfDatabase().IsMatch(value);

    private static readonly JsonSerializerOptions _plainJson = new()
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    [GeneratedRegex(@"(?<!\\)(?:\\\\)*\\u0000", RegexOptions.CultureInvariant)]
    private static partial Regex ZeroEscape();

    [GeneratedRegex(@"^(?:(?:\[[+-]?[0-9]+:[+-]?[0-9]+\])+=)?\{", RegexOptions.CultureInvariant)]
    private static partial Regex ArrayOfDatabase();

    [GeneratedRegex(@"^[+-]?[0-9]+$", RegexOptions.CultureInvariant)]
    private static partial Regex WholeNumber();

    [GeneratedRegex(@"^(?<sign>[+-]?)(?=\.?[0-9])(?<whole>[0-9]*)(?:\.(?<fraction>[0-9]*))?$", RegexOptions.CultureInvariant)]
    private static partial Regex DecimalNumber();
}
