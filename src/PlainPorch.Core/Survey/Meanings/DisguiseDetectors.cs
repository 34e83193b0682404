using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds values that are kept in a type which is not theirs.</summary>
internal static class DisguiseDetectors
{
    // Yes first, no second; in the languages of the offices that kept such records.
    private static readonly (string Yes, string No)[] _pairs =
    [
        ("Y", "N"),
        ("YES", "NO"),
        ("T", "F"),
        ("TRUE", "FALSE"),
        ("-1", "0"),
        ("1", "0"),
        ("ON", "OFF"),
        ("X", ""),
        ("J", "N"),
        ("JA", "NEIN"),
        ("JA", "NEE"),
        ("O", "N"),
        ("OUI", "NON"),
        ("S", "N"),
        ("SI", "NO"),
        ("SÍ", "NO"),
        ("SIM", "NAO"),
        ("A", "N"),
        ("TAK", "NIE"),
        ("1", "2"),
    ];

    private const int MostSpellings = 12;
    private const double MostOthers = 0.1;

    private static readonly string[] _flagWords =
    [
        "yn",
        "flag",
        "flg",
        "is",
        "has",
        "bool",
        "active",
        "enabled",
        "paid",
        "pin",
        "pinned",
        "visible",
        "done",
        "can",
        "ok",
        "checked",
    ];

    public static ColumnMeaning? YesNo(ColumnFacts column)
    {
        if (
            column.Kind is ValueKind.Boolean
            || column.IsKey
            || column.Filled.Count < 5
            || !(column.IsText || column.Column.Type.IsInteger || column.Column.Type.Kind is ValueKind.Decimal)
        )
            return null;
        var counts = column.Filled.CountBy(value => value.ToUpperInvariant()).OrderByDescending(pair => pair.Value).ToList();
        // One value for unknown, and a few that somebody mistyped.
        var several = counts.Count > 2;
        if (
            several && (counts.Count > MostSpellings || counts.Skip(2).Sum(pair => pair.Value) > MostOthers * column.Filled.Count)
        )
            return null;
        var values = counts.Take(2).Select(pair => pair.Key).ToHashSet();
        var pair = _pairs.FirstOrDefault(pair =>
            values.SetEquals([pair.Yes, pair.No]) || (!several && pair.No.Length == 0 && values.SetEquals([pair.Yes]))
        );
        var isNamed = column.Says(_flagWords);
        if (pair.Yes is null)
            return OneValue(column, values, isNamed);
        // 1 and 2 are as often two kinds of something, and so are any two of several values.
        var sure =
            pair == ("1", "2") ? (isNamed ? 0.7 : 0.3)
            : isNamed ? 0.97
            : several ? 0.81
            : 0.87;
        var reading = ReadingDetectors.YesNo(column, pair.Yes, pair.No);
        var none = reading?.None is { Count: > 0 } unknown
            ? $"; {string.Join(" and ", unknown.Select(text => $"“{text}”"))} means unknown"
            : "";
        var others = column
            .Distinct.Where(text => reading?.Read(text, column.Column.Type).Sort is ReadSort.Misfit)
            .Take(3)
            .Select(text => $"“{text}”")
            .ToList();
        return new(
            Meaning.YesNoInDisguise,
            sure,
            $"“{pair.Yes}” is yes, {(pair.No.Length == 0 ? "empty" : $"“{pair.No}”")} is no{none}; {(others.Count == 0 ? "there are no others" : $"what does not fit is {string.Join(", ", others)}")}"
        )
        {
            Reading = reading,
        };
    }

    private static ColumnMeaning? OneValue(ColumnFacts column, HashSet<string> values, bool isNamed)
    {
        var known = _pairs.FirstOrDefault(known => values.Contains(known.Yes) || values.Contains(known.No));
        return isNamed && values.Count == 1 && known.Yes is not null
            ? new(Meaning.YesNoInDisguise, 0.75, $"all values are “{column.Distinct[0]}”, and its name suggests yes or no")
            : null;
    }

    public static ColumnMeaning? Year(ColumnFacts column)
    {
        if (!(column.Column.Type.IsInteger || column.IsText) || column.IsKey || !column.Says("yr", "year", "jahr", "vintage"))
            return null;
        var years = column.Share(text => text.Length == 4 && int.TryParse(text, out var year) && year is > 1700 and < 2150);
        return column.Filled.Count == 0 || years > 0.9
            ? new(Meaning.Year, 0.9, $"its name says so, and {ColumnFacts.Percent(years)} of the values are years")
            : null;
    }
}
