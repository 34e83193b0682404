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
        if (Pairs(rows, at, at).Count < EnoughRows)
            return ByName(rows.Table, column);
        var others = rows
            .Table.Columns.Select((other, i) => (other, i))
            .Where(pair => pair.i != at && pair.other.Type.Kind is ValueKind.Text)
            .ToList();
        foreach (var (other, i) in others)
        {
            var pairs = Pairs(rows, at, i);
            if (pairs.Count < EnoughRows || pairs.TrueForAll(pair => pair.Own == pair.Other))
                continue;
            foreach (var (make, says) in _made)
            {
                if (pairs.TrueForAll(pair => pair.Own == make(pair.Other)))
                    return Of(other.Name, says, $"all {pairs.Count} rows looked at have “{other.Name}” {says}");
            }
        }

        return OfTwo(rows, at, others);
    }

    private static ColumnMeaning? OfTwo(TableRows rows, int at, List<(Column Column, int Place)> others)
    {
        foreach (var (first, i) in others)
        {
            // Only what begins with it can be joined from it.
            var firsts = Pairs(rows, at, i);
            if (
                firsts.Count < EnoughRows
                || !firsts.TrueForAll(pair => pair.Own.StartsWith(pair.Other, StringComparison.Ordinal))
            )
                continue;
            foreach (var (second, k) in others.Where(other => other.Place != i))
            {
                var filled = Enumerable
                    .Range(0, rows.Count)
                    .Select(row => (Own: rows.Of(at)[row], First: rows.Of(i)[row], Second: rows.Of(k)[row]))
                    .Where(row => row is { Own: not null, First: { Length: > 0 }, Second: { Length: > 0 } })
                    .ToList();
                if (filled.Count < EnoughRows)
                    continue;
                var mark = Array.Find(_marks, mark => filled.TrueForAll(row => row.Own == row.First + mark + row.Second));
                if (mark is not null)
                    return Of(
                        first.Name,
                        "joined",
                        $"all {filled.Count} rows looked at have “{first.Name}” and “{second.Name}” joined"
                    );
            }
        }

        return null;
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

    private static List<(string Own, string Other)> Pairs(TableRows rows, int at, int other) =>
        [
            .. rows.Of(at)
                .Zip(rows.Of(other))
                .Where(pair => !string.IsNullOrEmpty(pair.First) && !string.IsNullOrEmpty(pair.Second))
                .Select(pair => (pair.First!, pair.Second!)),
        ];

    private static bool IsInKey(Table table, string column) =>
        table.Keys.Any(key => key.IsPrimary && key.Columns.Contains(column));
}
