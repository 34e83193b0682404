using System.Globalization;
using System.Text.RegularExpressions;
using PlainPorch.Core.Definition.Readings;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds columns that hold several values each: parted by a sign, each at its place, or each a bit.</summary>
internal static partial class SeveralDetectors
{
    // Codes come back; words of a sentence do not.
    private const int MostCodes = 60;
    private const int LongestCode = 20;
    private const int MostPlaces = 60;
    private const int FewestFilled = 5;

    private static readonly string[] _signs = [",", ";", "|", "/"];
    private static readonly (string Yes, string No)[] _flags =
    [
        ("Y", "N"),
        ("J", "N"),
        ("T", "F"),
        ("X", "."),
        ("X", "-"),
        ("1", "0"),
    ];
    private static readonly string[] _weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

    /// <summary>Codes with a sign between them, in one text.</summary>
    public static ColumnMeaning? List(ColumnFacts column)
    {
        if (!column.IsText || column.IsKey || column.Filled.Count < FewestFilled)
            return null;
        foreach (var sign in _signs)
        {
            if (column.Share(text => text.Contains(sign, StringComparison.Ordinal)) < 0.3)
                continue;
            var lists = column
                .Filled.Select(text => text.Split(sign, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
                .ToList();
            var pieces = lists.SelectMany(list => list).ToList();
            // A few lists with a sentence among them are lists all the same.
            var codes = pieces.Where(piece => piece.Length <= LongestCode && Code().IsMatch(piece)).ToList();
            var different = codes.Select(AnyCase.Capitals).Distinct().Count();
            if (
                codes.Count < 0.9 * pieces.Count
                || different > MostCodes
                || different * 3 > codes.Count
                // A name in two parts has the first part always in front; what stands in a list stands anywhere in it.
                || !StandAnywhere(lists)
                || (sign == "/" && codes.Any(code => !code.Any(char.IsLetter)))
                || lists.Count(list => list.Distinct().Count() < list.Length) > 0.1 * lists.Count
            )
                continue;
            var words = InComment(column).Where(word => pieces.Contains(word.Stored)).ToList();
            return new(
                Meaning.Several,
                0.9,
                $"{ColumnFacts.Percent(column.Share(text => text.Contains(sign, StringComparison.Ordinal)))} of the texts are several codes with “{sign}” between them; {different} different ones, such as {string.Join(", ", codes.CountBy(code => code).OrderByDescending(pair => pair.Value).Take(4).Select(pair => $"“{pair.Key}”"))}"
            )
            {
                Reading = new ListReading { Sign = sign, Words = words.Count == different ? words : [] },
            };
        }

        return null;
    }

    /// <summary>Yes or no at several places of a text.</summary>
    public static ColumnMeaning? Places(ColumnFacts column)
    {
        if (!column.IsText || column.IsKey || column.Filled.Count < FewestFilled || column.Distinct.Count < 3)
            return null;
        var length = column.Filled.CountBy(text => text.Length).MaxBy(pair => pair.Value);
        if (length.Key is < 3 or > MostPlaces || length.Value < 0.9 * column.Filled.Count)
            return null;
        var usual = column.Filled.Where(text => text.Length == length.Key).ToList();
        foreach (var (yes, no) in _flags)
        {
            var fitting = usual.Count(text => text.All(c => AnyCase.Same(c.ToString(), yes) || AnyCase.Same(c.ToString(), no)));
            // Numbers of the digits 0 and 1 alone do not begin with 0.
            if (fitting < 0.9 * column.Filled.Count || (yes == "1" && column.Share(text => text[0] == '0') < 0.1))
                continue;
            var told = InComment(column).Where(word => int.TryParse(word.Stored, out var place) && place <= length.Key).ToList();
            var isWeek = length.Key == 7 && column.Says("days", "week", "weekdays", "dow");
            WordFor[] words =
                told.Count == length.Key ? [.. told]
                : isWeek ? [.. _weekdays.Select((day, i) => new WordFor(Number(i + 1), day))]
                : [.. Enumerable.Range(1, length.Key).Select(place => new WordFor(Number(place), $"place {place}"))];
            var isKnown = told.Count == length.Key || isWeek;
            return new(
                Meaning.Several,
                isKnown ? 0.9 : 0.7,
                $"{ColumnFacts.Percent((double)fitting / column.Filled.Count)} of the texts are {length.Key} times {yes} or {no}"
                    + (
                        isKnown
                            ? ""
                            : "; what the places mean is not known: choose “Several yes or no, each at its place in a text” and name them"
                    )
            )
            {
                Reading = new PlacesReading
                {
                    Yes = yes,
                    No = no,
                    Words = words,
                },
            };
        }

        return null;
    }

    /// <summary>Yes or no in the bits of a number: only a comment can say which; a name lets one think so.</summary>
    public static ColumnMeaning? Bits(ColumnFacts column)
    {
        if (!column.Column.Type.IsInteger || column.IsKey || column.Distinct.Count < 3)
            return null;
        var numbers = column.Filled.Select(text => long.Parse(text, CultureInfo.InvariantCulture)).ToList();
        var told = InComment(column)
            .Where(word => long.TryParse(word.Stored, out var bit) && long.IsPow2(bit))
            .DistinctBy(word => word.Stored)
            .ToList();
        var known = told.Aggregate(0L, (all, word) => all | long.Parse(word.Stored, CultureInfo.InvariantCulture));
        var share = (double)numbers.Count(number => (number & ~known) == 0) / numbers.Count;
        if (told.Count >= 2 && share >= 0.9 && numbers.Any(number => number > 0 && !long.IsPow2(number)))
            return new(
                Meaning.Several,
                0.95,
                $"its comment says what 1, 2, 4 and so on mean, and {ColumnFacts.Percent(share)} of the numbers are sums of those"
            )
            {
                Reading = new BitsReading { Words = told, None = ["0"] },
            };
        var most = numbers.Max();
        return
            column.Says("flags", "flag", "flgs", "mask", "bits", "bitmask", "options", "opts", "perms", "permissions", "features")
            && numbers.Min() >= 0
            && most is > 2 and < 1 << 16
            ? new(
                Meaning.Several,
                0.6,
                $"its name suggests that each number is a sum of 1, 2, 4 and so on, up to {Number((int)long.Log2(most) + 1)} yes or no; what they mean is not known: choose “Several yes or no, each a bit of a number” if it is so"
            )
            : null;
    }

    private static bool StandAnywhere(List<string[]> lists)
    {
        var first = lists.Where(list => list.Length > 1).Select(list => AnyCase.Capitals(list[0])).ToHashSet();
        var later = lists.SelectMany(list => list.Skip(1)).Select(AnyCase.Capitals).ToHashSet();
        return first.Overlaps(later);
    }

    private static IEnumerable<WordFor> InComment(ColumnFacts column) => ReadingDetectors.CodesInComment(column);

    private static string Number(int number) => number.ToString(CultureInfo.InvariantCulture);

    [GeneratedRegex(@"^[\p{L}\p{N}_.+#-]+$", RegexOptions.CultureInvariant)]
    private static partial Regex Code();
}
