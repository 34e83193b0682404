using System.Collections.Concurrent;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// The form in which days and times are stored as text: <c>yyyy</c> or <c>yy</c>, <c>MM</c> or <c>M</c> (<c>MMM</c> and
/// <c>MMMM</c> for the English name), <c>dd</c> or <c>d</c>, <c>HH</c> or <c>H</c>, <c>mm</c>, <c>ss</c>, and whatever stands
/// between. Where there are fewer than two letters, one digit will do.
/// </summary>
public sealed class CalendarPattern
{
    /// <summary>The greatest length of a pattern.</summary>
    public const int MaxLength = 40;

    private const string Parts = "yMdHms";

    // The days of all months, and the 29th of February of leap years: the months parted from the year by {0}, from the day by {1}.
    private const string AnyYear = "[1-9][0-9]{3}";
    private const string LeapYear = "(?:[1-9][0-9](?:0[48]|[2468][048]|[13579][26])|(?:[2468][048]|[13579][26])00)";

    /// <summary>The days of the years 1000 to 9999 in ISO form, leap years heeded (Gregorian calendar).</summary>
    internal static readonly string RealDay = DayBetween("-", "-");

    /// <summary>The times of a day, to the second.</summary>
    internal const string RealTime = "(?:[01][0-9]|2[0-3]):[0-5][0-9]:[0-5][0-9]";

    private static readonly ConcurrentDictionary<(string, int), CalendarPattern> _known = new();
    private static readonly string[] _months = CultureInfo.InvariantCulture.DateTimeFormat.MonthNames[..12];

    private readonly List<Token> _tokens;
    private readonly Regex _shape;
    private readonly int _pivot;

    private CalendarPattern(List<Token> tokens, int pivot)
    {
        (_tokens, _pivot) = (tokens, pivot);
        _shape = new Regex($@"\A{Shape(captured: null)}\z", RegexOptions.CultureInvariant);
    }

    /// <summary>The pattern of a text; kept, for there are few.</summary>
    /// <param name="text">The text, one of which <see cref="ProblemWith"/> finds nothing.</param>
    /// <param name="pivot">Years of two digits under it are of this century, others of the one before.</param>
    public static CalendarPattern Of(string text, int pivot) =>
        _known.GetOrAdd((text, pivot), key => new CalendarPattern(Split(key.Item1), key.Item2));

    /// <summary>What is wrong with a pattern.</summary>
    /// <param name="text">The pattern.</param>
    /// <param name="needed">The parts that it must have, of <c>yMdHm</c>; others must not be there, but seconds after minutes.</param>
    /// <returns>A sentence with the remedy; null where all is well.</returns>
    public static string? ProblemWith(string text, string needed)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(needed);
        if (text.Length is 0 or > MaxLength)
            return $"A pattern has 1 to {MaxLength} characters, such as yyyyMMdd.";
        var tokens = Split(text);
        if (tokens.FirstOrDefault(token => token.Part != '\0' && !token.IsKnown) is { } unknown)
            return $"“{unknown.Text}” is no part of a pattern. Use yyyy, yy, MMMM, MMM, MM, M, dd, d, HH, H, mm and ss.";
        var parts = string.Concat(tokens.Where(token => token.Part != '\0').Select(token => token.Part));
        if (needed.FirstOrDefault(part => !parts.Contains(part, StringComparison.Ordinal)) is var missing and not '\0')
            return $"The pattern lacks the {NameOf(missing)}. Add it, as in {ExampleOf(needed)}.";
        var allowed = needed.Contains('m', StringComparison.Ordinal) ? needed + "s" : needed;
        if (parts.FirstOrDefault(part => !allowed.Contains(part, StringComparison.Ordinal)) is var beyond and not '\0')
            return $"The pattern has the {NameOf(beyond)}, which does not belong there. Take it out, as in {ExampleOf(needed)}.";
        if (parts.Distinct().Count() != parts.Length)
            return "A part stands twice in the pattern. Take one of them out.";
        for (var i = 1; i < tokens.Count; i++)
        {
            if (tokens[i - 1].IsOpen && tokens[i].Part != '\0' && !tokens[i].IsName)
                return $"“{tokens[i - 1].Text}” may have one digit or two, so that “{tokens[i].Text}” behind it cannot be told from it. Put a sign between, or use two letters.";
        }

        return null;
    }

    /// <summary>Whether all that is stored by it has one length and is of digits alone.</summary>
    public bool IsOfDigits => _tokens.TrueForAll(token => token is { Part: not '\0', IsOpen: false, IsName: false });

    /// <summary>The length of what is stored by it, where all of it has the same.</summary>
    public int Length => _tokens.Sum(token => token.Text.Length);

    /// <summary>Whether texts of the pattern stand in the order of what they mean.</summary>
    public bool KeepsOrder =>
        _tokens.TrueForAll(token => token is { IsOpen: false, IsName: false, Text: not "yy" })
        && IsSorted([
            .. _tokens.Where(token => token.Part != '\0').Select(token => Parts.IndexOf(token.Part, StringComparison.Ordinal)),
        ]);

    /// <summary>
    /// A regular expression of just the texts that mean something; only where texts keep the order of what they mean.
    /// </summary>
    internal string Exact
    {
        get
        {
            var parts = new Queue<Token>(_tokens);
            var text = new StringBuilder("^");
            while (parts.TryDequeue(out var token))
            {
                text.Append(
                    token.Part switch
                    {
                        'y' when _tokens.Exists(other => other.Part == 'd') => DayBetween(UpTo('M'), UpTo('d')),
                        'y' => $"{AnyYear}{UpTo('M')}(?:0[1-9]|1[0-2])",
                        'H' => "(?:[01][0-9]|2[0-3])",
                        'm' or 's' => "[0-5][0-9]",
                        _ => AnyCase.Literal(token.Text),
                    }
                );
            }

            return text.Append('$').ToString();

            // What stands between, the part itself taken as well.
            string UpTo(char part)
            {
                var between = "";
                while (parts.Dequeue() is var next && next.Part != part)
                    between += AnyCase.Literal(next.Text);
                return between;
            }
        }
    }

    /// <summary>Reads a text.</summary>
    /// <returns>The parts, 1 and 0 for those that the pattern has not; null where the text is not of the pattern, or no such day is.</returns>
    public (DateOnly Day, TimeOnly Time)? Read(string text)
    {
        var match = _shape.Match(text);
        if (!match.Success)
            return null;
        var (year, month, day) = (Year(match), Month(match), Number(match, 'd', 1));
        if (year is < 1000 or > 9999 || month is < 1 or > 12 || day < 1 || day > DateTime.DaysInMonth(year, month))
            return null;
        var (hour, minute, second) = (Number(match, 'H', 0), Number(match, 'm', 0), Number(match, 's', 0));
        return hour > 23 || minute > 59 || second > 59
            ? null
            : (new DateOnly(year, month, day), new TimeOnly(hour, minute, second));
    }

    /// <summary>Writes a moment by the pattern.</summary>
    /// <param name="moment">The moment; parts that the pattern has not are left out.</param>
    /// <param name="problem">What the pattern cannot hold, as a sentence; null on success.</param>
    public string Write(DateTime moment, out string? problem)
    {
        problem = null;
        var text = new StringBuilder();
        foreach (var token in _tokens)
            text.Append(token.Part == '\0' ? token.Text : moment.ToString(token.Format, CultureInfo.InvariantCulture));
        if (_tokens.Exists(token => token.Text == "yy") && Full(moment.Year % 100) != moment.Year)
            problem =
                $"Years are stored with two digits here: only {Full(_pivot)} to {Full((_pivot + 99) % 100)} can be. Check the year.";
        else if (_tokens.Exists(token => token.Part == 'y') && moment.Year < 1000)
            problem = "Only the years 1000 to 9999 can be stored. Check the year.";
        return text.ToString();
    }

    /// <summary>The test that a text has the pattern's shape, whether or not there is such a day.</summary>
    internal FormulaTest IsShaped(Formula text) => new FormulaTest.Matches(text, $"^{Shape('\0')}$");

    /// <summary>The day as a formula, in ISO form, of a text that has the pattern's shape.</summary>
    /// <param name="text">The stored text.</param>
    /// <param name="withDay">Whether the pattern has the day itself; else it is the first of the month.</param>
    internal Formula Day(Formula text, bool withDay) =>
        new Formula.Joined([
            YearOf(text),
            new Formula.Literal("-"),
            MonthOf(text),
            new Formula.Literal("-"),
            withDay ? TwoDigits(text, 'd') : new Formula.Literal("01"),
        ]);

    /// <summary>The time of day as a formula, to the second, of a text that has the pattern's shape.</summary>
    internal Formula Time(Formula text) =>
        new Formula.Joined([
            TwoDigits(text, 'H'),
            new Formula.Literal(":"),
            TwoDigits(text, 'm'),
            new Formula.Literal(":"),
            _tokens.Exists(token => token.Part == 's') ? TwoDigits(text, 's') : new Formula.Literal("00"),
        ]);

    private static bool IsSorted(List<int> places) => places.Zip(places.Skip(1)).All(pair => pair.First < pair.Second);

    private static List<Token> Split(string text)
    {
        var tokens = new List<Token>();
        for (var i = 0; i < text.Length; )
        {
            var start = i;
            var isPart = Parts.Contains(text[i], StringComparison.Ordinal);
            while (i < text.Length && (isPart ? text[i] == text[start] : !Parts.Contains(text[i], StringComparison.Ordinal)))
                i++;
            tokens.Add(new Token(isPart ? text[start] : '\0', text[start..i]));
        }

        return tokens;
    }

    private static string DayBetween(string afterYear, string afterMonth) =>
        $"(?:{AnyYear}{afterYear}(?:(?:0[13578]|1[02]){afterMonth}(?:0[1-9]|[12][0-9]|3[01])|(?:0[469]|11){afterMonth}(?:0[1-9]|[12][0-9]|30)"
        + $"|02{afterMonth}(?:0[1-9]|1[0-9]|2[0-8]))|{LeapYear}{afterYear}02{afterMonth}29)";

    private static string NameOf(char part) =>
        part switch
        {
            'y' => "year (yyyy)",
            'M' => "month (MM)",
            'd' => "day (dd)",
            'H' => "hour (HH)",
            'm' => "minute (mm)",
            _ => "second (ss)",
        };

    private static string ExampleOf(string needed) =>
        needed switch
        {
            "yMd" => "yyyyMMdd",
            "yM" => "yyyyMM",
            "Hm" => "HHmm",
            _ => "yyyyMMddHHmmss",
        };

    // Without groups, or with one around the only part that is wanted.
    private string Shape(char? captured) =>
        string.Concat(
            _tokens.Select(token =>
                token.Part == '\0' ? AnyCase.Literal(token.Text)
                : captured is null ? $"(?<{token.Part}>{token.Shape})"
                : token.Part == captured ? $"({token.Shape})"
                : $"(?:{token.Shape})"
            )
        );

    private static int Number(Match match, char part, int otherwise) =>
        match.Groups[part.ToString()] is { Success: true, Value: var text }
            ? int.Parse(text, CultureInfo.InvariantCulture)
            : otherwise;

    private int Year(Match match)
    {
        var year = Number(match, 'y', 2000);
        return _tokens.Exists(token => token.Text == "yy") ? Full(year) : year;
    }

    private int Full(int digits) => digits < _pivot ? 2000 + digits : 1900 + digits;

    private int Month(Match match)
    {
        if (_tokens.Find(token => token.Part == 'M') is not { IsName: true } token)
            return Number(match, 'M', 1);
        var name = match.Groups["M"].Value;
        return 1 + Array.FindIndex(_months, month => token.Cut(month).Equals(name, StringComparison.OrdinalIgnoreCase));
    }

    // By its place where all texts have the same, else by the signs between: a regular expression takes ten times as long.
    private Formula Part(Formula text, char part)
    {
        var at = _tokens.FindIndex(token => token.Part == part);
        if (_tokens.TrueForAll(token => token.Width is not null))
            return new Formula.Slice(text, 1 + _tokens.Take(at).Sum(token => token.Width!.Value), _tokens[at].Width!.Value);
        var signs = _tokens.Where(token => token.Part == '\0').Select(token => token.Text).Distinct().ToList();
        var isParted = _tokens.Select((token, i) => token.Part == '\0' == (i % 2 == 1)).All(fits => fits);
        return isParted && signs is [{ Length: 1 } sign]
            ? new Formula.Field(text, sign, 1 + (at / 2))
            : new Formula.Found(text, $"^{Shape(part)}$");
    }

    private Formula TwoDigits(Formula text, char part)
    {
        var found = Part(text, part);
        return _tokens.Exists(token => token.Part == part && token.IsOpen) ? new Formula.ZerosBefore(found, 2) : found;
    }

    private Formula YearOf(Formula text)
    {
        var found = Part(text, 'y');
        if (!_tokens.Exists(token => token.Text == "yy"))
            return found;
        var old = new Formula.Joined([new Formula.Literal("19"), found]);
        if (_pivot == 0)
            return old;
        var early = Enumerable.Range(0, _pivot).Select(year => year.ToString("00", CultureInfo.InvariantCulture));
        return new Formula.Chosen(
            [
                new(
                    new FormulaTest.Matches(found, $"^(?:{string.Join('|', early)})$"),
                    new Formula.Joined([new Formula.Literal("20"), found])
                ),
            ],
            old
        );
    }

    private Formula MonthOf(Formula text)
    {
        if (_tokens.Find(token => token.Part == 'M') is not { IsName: true } token)
            return TwoDigits(text, 'M');
        return new Formula.Mapped(
            Part(text, 'M'),
            [
                .. _months.Select(
                    (month, i) => (token.Cut(month).ToUpperInvariant(), (i + 1).ToString("00", CultureInfo.InvariantCulture))
                ),
            ],
            CaseCounts: false
        );
    }

    // A part of the pattern, or what stands between two, whose part is none.
    private sealed record Token(char Part, string Text)
    {
        public bool IsKnown =>
            Text is "yyyy" or "yy" or "MMMM" or "MMM" or "MM" or "M" or "dd" or "d" or "HH" or "H" or "mm" or "ss";

        public bool IsName => Text is "MMM" or "MMMM";

        // How many characters it takes; null where that differs.
        public int? Width => IsOpen || Text == "MMMM" ? null : Text.Length;

        public bool IsOpen => Part != '\0' && Text.Length == 1;

        // A single letter would be read as one of the formats that .NET names by a letter.
        public string Format => Text.Length == 1 ? "%" + Text : Text;

        public string Shape =>
            Text switch
            {
                "yyyy" => "[0-9]{4}",
                "MMM" or "MMMM" => string.Join('|', _months.Select(month => AnyCase.Pattern(Cut(month)))),
                _ when IsOpen => "[0-9]{1,2}",
                _ => "[0-9]{2}",
            };

        public string Cut(string month) => Text == "MMM" ? month[..3] : month;
    }
}
