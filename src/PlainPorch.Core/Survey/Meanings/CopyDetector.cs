using System.Security.Cryptography;
using System.Text;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>
/// Finds columns that a program fills with another one of the same record: in capitals or small letters, trimmed, joined from two,
/// or hashed. Without rows the name tells: <c>name_upper</c> beside <c>name</c>.
/// </summary>
internal static class CopyDetector
{
    private const int EnoughRows = 5;
    private const int MostRows = 300;

    private static readonly (string Word, string Says)[] _named =
    [
        ("upper", "in capitals"),
        ("lower", "in small letters"),
        ("uppercase", "in capitals"),
        ("lowercase", "in small letters"),
        ("normalized", "in one spelling"),
        ("normalised", "in one spelling"),
    ];

    // From what another column holds to what a copy would.
    private static readonly (Func<string, string> Make, string Says)[] _made =
    [
        (text => text.ToUpperInvariant(), "in capitals"),
        (text => text.ToLowerInvariant(), "in small letters"),
        (text => text.Trim(), "trimmed"),
        (text => text.Trim().ToUpperInvariant(), "trimmed and in capitals"),
#pragma warning disable CA5351, CA5350 // What programs write is looked at, and nothing is protected by it.
        (text => Convert.ToHexStringLower(MD5.HashData(Encoding.UTF8.GetBytes(text))), "hashed (MD5)"),
        (text => Convert.ToHexStringLower(SHA1.HashData(Encoding.UTF8.GetBytes(text))), "hashed (SHA-1)"),
#pragma warning restore CA5351, CA5350
        (text => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text))), "hashed (SHA-256)"),
    ];

    private static readonly string[] _marks = ["", " ", ", ", "-", "/", "_"];

    /// <summary>Finds what a column copies.</summary>
    /// <param name="rows">The rows of its table.</param>
    /// <param name="at">Its place.</param>
    /// <returns>The meaning; null where it is no copy.</returns>
    public static ColumnMeaning? Find(TableRows rows, int at)
    {
        var column = rows.Table.Columns[at];
        if (column.Type.Kind is not ValueKind.Text || IsInKey(rows.Table, column.Name))
            return null;
        var own = rows.Of(at);
        var filled = Enumerable.Range(0, own.Count).Where(row => !string.IsNullOrEmpty(own[row])).Take(MostRows).ToList();
        if (filled.Count < EnoughRows)
            return ByName(rows.Table, column);
        var others = rows
            .Table.Columns.Select((other, i) => (Column: other, Values: rows.Of(i), Place: i))
            .Where(other => other.Place != at && other.Column.Type.Kind is ValueKind.Text)
            .ToList();
        foreach (var (other, values, _) in others)
        {
            if (Agree(filled, own, values, (text, copy) => text == copy) is not null)
                continue;
            foreach (var (make, says) in _made)
            {
                if (Agree(filled, own, values, (text, copy) => make(text) == copy) is { } count)
                    return Of(other.Name, says, $"all {count} rows looked at have “{other.Name}” {says}");
            }
        }

        // Only what begins with another can be joined from it.
        foreach (
            var (first, firsts, place) in others.Where(other =>
                Agree(filled, own, other.Values, (text, copy) => copy.StartsWith(text, StringComparison.Ordinal)) is not null
            )
        )
        {
            foreach (var (second, seconds, _) in others.Where(other => other.Place != place))
            {
                if (Joined(filled, own, firsts, seconds) is { } count)
                    return Of(first.Name, "joined", $"all {count} rows looked at have “{first.Name}” and “{second.Name}” joined");
            }
        }

        return null;
    }

    // In how many rows both have a value, where what is asked holds of all these; null where it does not, or they are too few.
    private static int? Agree(
        List<int> filled,
        IReadOnlyList<string?> own,
        IReadOnlyList<string?> other,
        Func<string, string, bool> holds
    )
    {
        var count = 0;
        foreach (var row in filled)
        {
            if (string.IsNullOrEmpty(other[row]))
                continue;
            if (!holds(other[row]!, own[row]!))
                return null;
            count++;
        }

        return count >= EnoughRows ? count : null;
    }

    private static int? Joined(
        List<int> filled,
        IReadOnlyList<string?> own,
        IReadOnlyList<string?> first,
        IReadOnlyList<string?> second
    )
    {
        var both = filled.Where(row => !string.IsNullOrEmpty(first[row]) && !string.IsNullOrEmpty(second[row])).ToList();
        return
            both.Count >= EnoughRows
            && Array.Exists(_marks, mark => both.TrueForAll(row => own[row] == first[row] + mark + second[row]))
            ? both.Count
            : null;
    }

    private static ColumnMeaning? ByName(Table table, Column column)
    {
        var words = IdentifierWords.Split(column.Name);
        if (words.Count < 2)
            return null;
        foreach (var (word, says) in _named)
        {
            if (words[^1] != word && words[0] != word)
                continue;
            var rest = words.Where(other => other != word).ToList();
            if (table.Columns.FirstOrDefault(other => IdentifierWords.Split(other.Name).SequenceEqual(rest)) is { } of)
                return Of(of.Name, says, $"its name says that it is “{of.Name}” {says}");
        }

        return null;
    }

    private static ColumnMeaning Of(string other, string says, string evidence) =>
        new(Meaning.Copy, 0.95, $"{evidence}: a copy of “{other}”, {says}, which is filled in by whatever fills it today");

    private static bool IsInKey(Table table, string column) =>
        table.Keys.Any(key => key.IsPrimary && key.Columns.Contains(column));
}
