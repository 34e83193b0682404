using System.Globalization;
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
            || column.Distinct.Count > 2
            || !(column.IsText || column.Column.Type.IsInteger || column.Column.Type.Kind is ValueKind.Decimal)
        )
            return null;
        var values = column.Distinct.Select(value => value.ToUpperInvariant()).ToHashSet();
        var pair = _pairs.FirstOrDefault(pair =>
            values.SetEquals([pair.Yes, pair.No]) || (pair.No.Length == 0 && values.SetEquals([pair.Yes]))
        );
        var isNamed = column.Says(_flagWords);
        if (pair.Yes is null)
            return
                isNamed
                && values.Count == 1
                && _pairs.FirstOrDefault(known => values.Contains(known.Yes) || values.Contains(known.No)).Yes is not null
                ? new(Meaning.YesNoInDisguise, 0.75, $"all values are “{column.Distinct[0]}”, and its name suggests yes or no")
                : null;
        // 1 and 2 are as often two kinds of something.
        var sure =
            pair == ("1", "2") ? (isNamed ? 0.7 : 0.3)
            : isNamed ? 0.97
            : 0.87;
        return new(
            Meaning.YesNoInDisguise,
            sure,
            $"“{pair.Yes}” is yes, {(pair.No.Length == 0 ? "empty" : $"“{pair.No}”")} is no; there are no others"
        );
    }

    public static ColumnMeaning? Date(ColumnFacts column)
    {
        var mayBe = column.IsText || column.Column.Type.IsInteger || column.Kind is ValueKind.Decimal or ValueKind.Double;
        if (!mayBe || column.IsKey || column.Filled.Count < 3)
            return null;
        var isNamed = column.Says("date", "dt", "day", "on", "at", "time", "ts", "from", "to", "until", "since", "datum");
        if (!column.IsText && DateForms.FindEpoch(column.Filled) is { } epoch)
            return new(
                Meaning.DateInDisguise,
                isNamed ? 0.95 : 0.6,
                $"{ColumnFacts.Percent(epoch.Share)} of the numbers are {epoch.Label}"
            );
        if (DateForms.Find(column.Filled) is not { Share: >= 0.8 } form || (!column.IsText && !isNamed))
            return null;
        // Six digits are a number of something as often as a date.
        if (!isNamed && form.IsShort)
            return null;
        var empty = column.Rows - column.Filled.Count + form.Blanks;
        return new(
            Meaning.DateInDisguise,
            isNamed ? 0.97 : 0.85,
            $"{ColumnFacts.Percent(form.Share)} of the texts are dates ({form.Label}); {empty} of {column.Rows} are blank or zeros{(form.Misfits.Count == 0 ? "" : $"; no dates are {string.Join(", ", form.Misfits.Select(text => $"“{text}”"))}")}"
        );
    }

    public static ColumnMeaning? Time(ColumnFacts column)
    {
        if (!(column.IsText || column.Column.Type.IsInteger) || column.IsKey || column.Filled.Count < 3)
            return null;
        var isNamed = column.Says(
            "time",
            "tm",
            "hour",
            "clock",
            "start",
            "end",
            "from",
            "until",
            "arr",
            "dep",
            "zeit",
            "heure",
            "hora"
        );
        var parted = column.IsText
            ? column.Share(text => TimeOnly.TryParseExact(text, ["H:mm", "HH:mm", "H.mm", "HH:mm:ss"], out _))
            : 0;
        if (parted >= 0.8)
            return new(
                Meaning.TimeInDisguise,
                0.93,
                $"{ColumnFacts.Percent(parted)} of the texts are times of day; {Others(column, text => TimeOnly.TryParse(text, CultureInfo.InvariantCulture, out _))}"
            );
        // Four digits are a time only where a name says so, and the minutes run to 59.
        var plain = column.Share(text =>
            text.Length is 3 or 4 && int.TryParse(text, out var number) && number / 100 < 24 && number % 100 < 60
        );
        return isNamed && plain >= 0.98 && column.Distinct.Count > 5
            ? new(
                Meaning.TimeInDisguise,
                0.7,
                $"its name suggests a time, and {ColumnFacts.Percent(plain)} of the values are hours and minutes without a separator"
            )
            : null;
    }

    // The values that do not fit are what a developer has to decide about.
    private static string Others(ColumnFacts column, Func<string, bool> fits)
    {
        var others = column.Distinct.Where(text => !fits(text)).Take(3).ToList();
        return others.Count == 0 ? "there are no others" : $"others are {string.Join(", ", others.Select(text => $"“{text}”"))}";
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
