using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>How a setting of a reading is typed or chosen.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<SettingSort>))]
public enum SettingSort
{
    /// <summary>A line of text.</summary>
    Text,

    /// <summary>A whole number.</summary>
    Whole,

    /// <summary>Yes or no.</summary>
    YesNo,

    /// <summary>One of several choices.</summary>
    Choice,

    /// <summary>Several texts.</summary>
    Texts,

    /// <summary>Stored values with the words that they stand for.</summary>
    Words,
}

/// <summary>A choice of a setting.</summary>
/// <param name="Value">The value in JSON.</param>
/// <param name="Label">What people read.</param>
public sealed record SettingChoice(string Value, string Label);

/// <summary>A setting of a reading, as the set-up offers it.</summary>
/// <param name="Name">Its name in JSON.</param>
/// <param name="Label">What people read.</param>
/// <param name="Sort">How it is typed or chosen.</param>
/// <param name="Hint">What to know; null for nothing.</param>
public sealed record ReadingSetting(string Name, string Label, SettingSort Sort, string? Hint = null)
{
    /// <summary>The choices, or examples of what may be typed; empty for none.</summary>
    [JsonRequired]
    public IReadOnlyList<SettingChoice> Choices { get; init; } = [];

    /// <summary>It matters only where the pattern lacks this text; null for always.</summary>
    public string? OnlyWithout { get; init; }
}

/// <summary>A kind of reading, as the set-up offers it.</summary>
/// <param name="Label">What it is called.</param>
/// <param name="Settings">What can be set about it.</param>
/// <param name="Start">A reading of the kind to begin with.</param>
public sealed record ReadingKind(string Label, IReadOnlyList<ReadingSetting> Settings, Reading Start);

/// <summary>The kinds of readings.</summary>
public static class ReadingKinds
{
    private static readonly ReadingSetting _none = new(
        "none",
        "Values that mean “none”",
        SettingSort.Texts,
        "Parted by commas, such as 0, 00000000. Blank always means none."
    );

    private static readonly ReadingSetting _isPadded = new("isPadded", "Ignore blanks around the value", SettingSort.YesNo);

    private static readonly ReadingSetting _pivot = new(
        "pivot",
        "Two-digit years under",
        SettingSort.Whole,
        "are 20.., the others 19.."
    )
    {
        OnlyWithout = "yyyy",
    };

    /// <summary>All of them, in the order in which they are offered.</summary>
    public static IReadOnlyList<ReadingKind> All { get; } =
    [
        new(
            "Day",
            [
                Pattern("yyyyMMdd", "yyyy-MM-dd", "dd.MM.yyyy", "dd/MM/yyyy", "MM/dd/yyyy", "ddMMyyyy", "yyMMdd", "dd MMM yyyy"),
                _none,
                new(
                    "openEnd",
                    "Value that means “no end”",
                    SettingSort.Text,
                    "Such as 99999999. Leave it blank if there is none."
                ),
                _pivot,
                _isPadded,
            ],
            new DayReading { Pattern = "yyyyMMdd", None = ["0", "00000000"] }
        ),
        new(
            "Month",
            [Pattern("yyyyMM", "yyyy-MM", "MM/yyyy", "MMMM yyyy"), _none, _pivot, _isPadded],
            new MonthReading { Pattern = "yyyyMM" }
        ),
        new("Time of day", [Pattern("HHmm", "HH:mm", "H.mm", "HHmmss"), _none, _isPadded], new TimeReading { Pattern = "HHmm" }),
        new(
            "Day with time",
            [Pattern("yyyyMMddHHmmss", "yyyyMMddHHmm", "yyyy-MM-dd HH:mm:ss", "dd.MM.yyyy HH:mm"), _none, _pivot, _isPadded],
            new MomentReading { Pattern = "yyyyMMddHHmmss" }
        ),
        new(
            "Time counted since a day",
            [
                Choice("unit", "Counted in", ("seconds", "seconds"), ("milliseconds", "milliseconds"), ("days", "days")),
                new("since", "Since the beginning of", SettingSort.Text, "As year-month-day, in UTC."),
                _none,
            ],
            new SinceReading { Unit = SinceUnit.Seconds, None = ["0"] }
        ),
        new(
            "Yes or no",
            [
                new("yes", "Value for yes", SettingSort.Text),
                new("no", "Value for no", SettingSort.Text, "Leave it blank if blank means no."),
                _none,
                _isPadded,
            ],
            new YesNoReading { Yes = "Y", No = "N" }
        ),
        new(
            "List of values",
            [new("words", "Values and what they mean", SettingSort.Words), _none, _isPadded],
            new WordsReading { Words = [] }
        ),
        new(
            "Several values in one text",
            [
                Choice(
                    "sign",
                    "Between two values",
                    (",", "comma"),
                    (";", "semicolon"),
                    ("|", "bar"),
                    ("/", "slash"),
                    (" ", "blank"),
                    ("", "nothing: all have the same length")
                ),
                new("width", "Characters each", SettingSort.Whole, "Where nothing stands between them; else 0."),
                new("words", "Values and what they mean", SettingSort.Words, "Leave it empty to show the values as they are."),
                _none,
            ],
            new ListReading { Sign = "," }
        ),
        new(
            "Several yes or no, each at its place in a text",
            [
                new("yes", "Sign for yes", SettingSort.Text),
                new("no", "Sign for no", SettingSort.Text, "A blank means no in any case."),
                new("words", "Places, from 1, and what they mean", SettingSort.Words),
                _none,
            ],
            new PlacesReading { Yes = "Y", No = "N" }
        ),
        new(
            "Several yes or no, each a bit of a number",
            [new("words", "Bits (1, 2, 4, 8 …) and what they mean", SettingSort.Words), _none],
            new BitsReading { None = ["0"] }
        ),
        new(
            "Number, money or measure",
            [
                new("decimals", "Stored digits behind the point", SettingSort.Whole, "2 for cents; 0 for the number as it is."),
                new("unit", "Unit or currency", SettingSort.Text, "Such as m, %, €. Leave it blank if there is none."),
                new("unitFirst", "Show it before the number", SettingSort.YesNo),
                _none,
            ],
            new NumberReading { Decimals = 2 }
        ),
        new(
            "Number kept as text",
            [
                Choice("decimalMark", "Decimal mark", (",", "comma"), (".", "point")),
                Choice(
                    "thousandsMark",
                    "Between thousands",
                    ("", "nothing"),
                    (".", "point"),
                    (",", "comma"),
                    ("'", "apostrophe"),
                    (" ", "blank")
                ),
                new("minusBehind", "The minus stands behind the number", SettingSort.YesNo),
                new("zeros", "Fill up with zeros to", SettingSort.Whole, "digits before the decimal mark; 0 for none."),
                new(
                    "decimals",
                    "Digits behind the decimal mark",
                    SettingSort.Whole,
                    "Leave it blank to store as many as are typed."
                ),
                _none,
                _isPadded,
            ],
            new TextNumberReading { DecimalMark = "," }
        ),
        new(
            "Duration",
            [
                Choice(
                    "unit",
                    "Stored as",
                    ("minutes", "minutes"),
                    ("seconds", "seconds"),
                    ("hundredthsOfHour", "hundredths of an hour"),
                    ("hoursMinutes", "hours and minutes side by side (130 is 1:30)")
                ),
                _none,
                _isPadded,
            ],
            new DurationReading { Unit = DurationUnit.Minutes }
        ),
        new(
            "Text filled up with blanks",
            [new("length", "Fill up to", SettingSort.Whole, "characters when it is written; 0 for not at all.")],
            new PaddedReading()
        ),
        new("Name in capitals, shown in ordinary letters", [], new CapitalsReading()),
        new(
            "E-mail, web address or telephone",
            [Choice("means", "It is", ("email", "an e-mail address"), ("web", "a web address"), ("phone", "a telephone number"))],
            new ContactReading { Means = ContactMeans.Email }
        ),
        new(
            "JSON or XML document",
            [Choice("means", "It is", ("json", "JSON"), ("xml", "XML"))],
            new DocumentReading { Means = DocumentMeans.Json }
        ),
        new(
            "Base64",
            [Choice("holds", "It holds", ("text", "a text"), ("bytes", "a file or a picture")), _none],
            new Base64Reading { Holds = Base64Holds.Text }
        ),
    ];

    private static ReadingSetting Pattern(params string[] examples) =>
        new("pattern", "Stored as", SettingSort.Text, "yyyy or yy, MM or MMM, dd, HH, mm, ss, and the signs between.")
        {
            Choices = [.. examples.Select(example => new SettingChoice(example, example))],
        };

    private static ReadingSetting Choice(string name, string label, params (string Value, string Label)[] choices) =>
        new(name, label, SettingSort.Choice)
        {
            Choices = [.. choices.Select(choice => new SettingChoice(choice.Value, choice.Label))],
        };
}
