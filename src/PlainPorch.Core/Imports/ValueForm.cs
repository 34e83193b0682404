using System.Globalization;
using System.Text;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Imports;

/// <summary>How the texts of a column are read as values of a type, so that nothing of them is lost.</summary>
/// <param name="StoreType">The type, as PostgreSQL calls it.</param>
/// <param name="Reading">How they are read, in words; empty for as they stand.</param>
public abstract record ValueForm(string StoreType, string Reading)
{
    /// <summary>Reads a text.</summary>
    /// <param name="text">The text, without blanks around it and not empty.</param>
    /// <returns>The value as PostgreSQL reads it; null where the text is none.</returns>
    public abstract string? Read(string text);

    /// <summary>How the texts are written, where the type alone does not say it: a sample, a pattern, or the two spellings; null else.</summary>
    public virtual string? Pattern => null;

    /// <summary>Texts as they stand.</summary>
    public static ValueForm Text { get; } = new AsText();

    /// <summary>Finds a form by what it says of itself.</summary>
    /// <param name="type">Its <see cref="StoreType"/>.</param>
    /// <param name="pattern">Its <see cref="Pattern"/>.</param>
    /// <returns>The form; null where there is none such.</returns>
    public static ValueForm? Find(string type, string? pattern) =>
        (type, pattern) switch
        {
            ("text", null) => Text,
            ("bytea", null) => new Bytes(),
            ("uuid", null) => new Uuid(),
            ("timestamp with time zone", null) => new Instant(),
            ("integer" or "bigint" or "numeric", null) => new Whole(type),
            ("numeric", ['1', '2', '3', '4', var sign, '5']) => new Number(sign, null),
            ("numeric", ['1', var group, '2', '3', '4', var sign, '5']) when group != sign => new Number(sign, group),
            ("boolean", { } pair) when pair.Split('/') is [{ Length: > 0 } yes, { Length: > 0 } no] && yes != no => new YesNo(
                yes,
                no
            ),
            ("date" or "timestamp without time zone" or "time without time zone", { Length: > 0 and <= 40 } written)
                when Calendar.IsPattern(written, type) => new Calendar(type, written),
            _ => null,
        };

    private sealed record AsText() : ValueForm("text", "")
    {
        public override string? Read(string text) => text;
    }

    /// <summary>Yes and no in two spellings.</summary>
    /// <param name="Yes">The spelling of yes.</param>
    /// <param name="No">The spelling of no.</param>
    public sealed record YesNo(string Yes, string No) : ValueForm("boolean", $"{Yes} is yes, {No} is no")
    {
        /// <inheritdoc/>
        public override string Pattern => $"{Yes}/{No}";

        /// <inheritdoc/>
        public override string? Read(string text) =>
            text == Yes ? "true"
            : text == No ? "false"
            : null;
    }

    /// <summary>
    /// Whole numbers. Leading zeros and signs that say nothing make a text of it: whoever wrote them meant something by them.
    /// </summary>
    /// <param name="StoreType">The smallest type that holds them all.</param>
    public sealed record Whole(string StoreType) : ValueForm(StoreType, "")
    {
        /// <inheritdoc/>
        public override string? Read(string text) => IsWhole(text) ? text : null;

        internal static bool IsWhole(ReadOnlySpan<char> text)
        {
            var digits = text is ['-', ..] ? text[1..] : text;
            return digits is ['0']
                ? text.Length == 1
                : digits is [>= '1' and <= '9', ..] && digits.Length <= 1000 && !digits.ContainsAnyExceptInRange('0', '9');
        }
    }

    /// <summary>Numbers with a decimal sign, and perhaps with their thousands parted.</summary>
    /// <param name="Decimal">The decimal sign.</param>
    /// <param name="Group">What parts the thousands; null where nothing may.</param>
    public sealed record Number(char Decimal, char? Group)
        : ValueForm("numeric", Decimal == '.' && Group is null ? "" : $"{Sample(Group, Decimal)} is 1234.5")
    {
        /// <inheritdoc/>
        public override string Pattern => Sample(Group, Decimal);

        /// <inheritdoc/>
        public override string? Read(string text)
        {
            // As PostgreSQL writes them itself.
            if (Decimal == '.' && IsPlain(text))
                return text;
            var read = new StringBuilder(text.Length);
            var (place, digits) = (0, 0);
            if (text[0] == '-')
            {
                read.Append('-');
                place = 1;
            }

            var first = place;
            var run = 0;
            var isGrouped = false;
            for (; place < text.Length && text[place] != Decimal; place++)
            {
                if (char.IsAsciiDigit(text[place]))
                {
                    read.Append(text[place]);
                    (run, digits) = (run + 1, digits + 1);
                }
                // Groups are of three digits, but for the first.
                else if (text[place] == Group && (isGrouped ? run == 3 : run is > 0 and <= 3))
                    (isGrouped, run) = (true, 0);
                else
                    return null;
            }

            if ((isGrouped && run != 3) || (digits > 1 && text[first] == '0') || digits > 500)
                return null;
            if (place == text.Length)
                return digits > 0 && !(digits == 1 && text is ['-', '0']) ? read.ToString() : null;
            var fraction = text.AsSpan(place + 1);
            if (fraction.Length is 0 or > 500 || fraction.ContainsAnyExceptInRange('0', '9'))
                return null;
            if (digits == 0)
                read.Append('0');
            return read.Append('.').Append(fraction).ToString();
        }

        private static bool IsPlain(ReadOnlySpan<char> text)
        {
            var point = text.IndexOf('.');
            return point < 0
                ? Whole.IsWhole(text)
                : point is > 0 and < 500
                    && (Whole.IsWhole(text[..point]) || text[..point] is "-0")
                    && text.Length - point is > 1 and < 500
                    && !text[(point + 1)..].ContainsAnyExceptInRange('0', '9');
        }

        private static string Sample(char? group, char sign) => $"1{group}234{sign}5";
    }

    /// <summary>Days, moments and times of day by a pattern.</summary>
    /// <param name="StoreType">The type.</param>
    /// <param name="Written">The pattern, as .NET has custom formats.</param>
    public sealed record Calendar(string StoreType, string Written)
        : ValueForm(StoreType, Written is "yyyy-MM-dd" or "yyyy-MM-ddTHH:mm:ss" ? "" : WordsOf(Written))
    {
        private readonly string[] _patterns = PatternsOf(Written);
        private readonly int _shortest =
            PatternsOf(Written).Min(pattern => pattern.Replace("F", "", StringComparison.Ordinal).Length) - 1;
        private readonly int _longest = PatternsOf(Written).Max(pattern => pattern.Length);

        /// <inheritdoc/>
        public override string Pattern => Written;

        // Whatever it is, a pattern has to give back what it says, and nothing but the parts that such values have.
        internal static bool IsPattern(string pattern, string type)
        {
            var letters = string.Concat(pattern.Where(char.IsAsciiLetter));
            var parts = type switch
            {
                "date" => new[] { "yyyyMMdd", "ddMMyyyy", "MMddyyyy", "ddMMyy", "MMddyy", "yyMMdd", "ddMMMyyyy", "ddMMMyy" },
                "time without time zone" => ["HHmmss"],
                _ => ["yyyyMMddTHHmmss", "yyyyMMddHHmmss", "ddMMyyyyHHmmss", "MMddyyyyHHmmss"],
            };
            return parts.Contains(letters) && pattern.All(one => char.IsAsciiLetter(one) || ".-/: ".Contains(one));
        }

        /// <inheritdoc/>
        public override string? Read(string text)
        {
            if (!char.IsAsciiDigit(text[0]))
                return null;
            if (Pattern == "yyyy-MM-dd" && IsPlainDay(text))
                return text;
            // Most texts are told apart by their length.
            if (text.Length < _shortest || text.Length > _longest)
                return null;
            return StoreType switch
            {
                "date" => DateOnly.TryParseExact(text, _patterns, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
                    ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                    : null,
                "time without time zone" => TimeOnly.TryParseExact(
                    text,
                    _patterns,
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.None,
                    out var time
                )
                    ? time.ToString("HH:mm:ss.FFFFFF", CultureInfo.InvariantCulture)
                    : null,
                _ => DateTime.TryParseExact(text, _patterns, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment)
                    ? moment.ToString("yyyy-MM-ddTHH:mm:ss.FFFFFF", CultureInfo.InvariantCulture)
                    : null,
            };
        }

        private static bool IsPlainDay(ReadOnlySpan<char> text) =>
            text is [_, _, _, _, '-', _, _, '-', _, _]
            && int.TryParse(text[..4], NumberStyles.None, CultureInfo.InvariantCulture, out var year)
            && int.TryParse(text.Slice(5, 2), NumberStyles.None, CultureInfo.InvariantCulture, out var month)
            && int.TryParse(text[8..], NumberStyles.None, CultureInfo.InvariantCulture, out var day)
            && year > 0
            && month is >= 1 and <= 12
            && day >= 1
            && day <= DateTime.DaysInMonth(year, month);

        private static string[] PatternsOf(string pattern) =>
            pattern.Contains("HH:mm", StringComparison.Ordinal)
                ?
                [
                    .. new[] { pattern.Replace("HH:mm:ss", "HH:mm", StringComparison.Ordinal), pattern, $"{pattern}.FFFFFF" }
                        .SelectMany(one => new[] { one, one.Replace("HH", "H", StringComparison.Ordinal) })
                        .SelectMany(Single),
                ]
                : [.. Single(pattern)];

        // Days and months with and without a zero before them, but where there is nothing between.
        private static IEnumerable<string> Single(string pattern) =>
            pattern.StartsWith("yyyyMMdd", StringComparison.Ordinal)
                ? [pattern]
                :
                [
                    pattern,
                    pattern
                        .Replace("dd", "d", StringComparison.Ordinal)
                        .Replace("MMM", "mmm", StringComparison.Ordinal)
                        .Replace("MM", "M", StringComparison.Ordinal)
                        .Replace("mmm", "MMM", StringComparison.Ordinal),
                ];

        private static string WordsOf(string pattern) =>
            pattern
                .Replace("yyyy", "year", StringComparison.Ordinal)
                .Replace("yy", "year", StringComparison.Ordinal)
                .Replace("MMM", "month", StringComparison.Ordinal)
                .Replace("MM", "month", StringComparison.Ordinal)
                .Replace("dd", "day", StringComparison.Ordinal)
                .Replace("HH", "hour", StringComparison.Ordinal)
                .Replace("mm", "minute", StringComparison.Ordinal)
                .Replace("ss", "second", StringComparison.Ordinal);
    }

    /// <summary>Moments with their distance from UTC.</summary>
    public sealed record Instant() : ValueForm("timestamp with time zone", "")
    {
        /// <inheritdoc/>
        public override string? Read(string text) =>
            text.Length >= 17 && char.IsAsciiDigit(text[0]) && CalendarText.TryReadInstant(ref text) ? text : null;
    }

    /// <summary>Bytes, as PostgreSQL writes them in hexadecimal digits.</summary>
    public sealed record Bytes() : ValueForm("bytea", "")
    {
        /// <inheritdoc/>
        public override string? Read(string text) => text.StartsWith("\\x", StringComparison.Ordinal) ? text : null;
    }

    /// <summary>Universally unique identifiers (RFC 9562).</summary>
    public sealed record Uuid() : ValueForm("uuid", "")
    {
        /// <inheritdoc/>
        public override string? Read(string text) => text.Length == 36 && Guid.TryParseExact(text, "D", out _) ? text : null;
    }
}
