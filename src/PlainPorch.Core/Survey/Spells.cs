using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>Rows that say from when until when something held for a record, and how many of them overlap.</summary>
/// <param name="Table">The table.</param>
/// <param name="Begin">The column that says from when.</param>
/// <param name="End">The column that says until when.</param>
/// <param name="Of">The column that refers to the record.</param>
/// <param name="Rows">How many rows say all three.</param>
/// <param name="Overlapping">How many of them begin before an earlier one of the same record has ended.</param>
/// <param name="Sql">The question that counted; null where nothing was counted.</param>
public sealed record SurveyedSpells(
    TableName Table,
    string Begin,
    string End,
    string Of,
    long Rows = 0,
    long Overlapping = 0,
    string? Sql = null
)
{
    // Where more rows overlap, several at once are the rule and no fault.
    private const double FaultShare = 0.25;

    /// <summary>Whether the overlaps are exceptions, and so worth a look.</summary>
    public bool IsSuspicious => Overlapping > 0 && Overlapping <= FaultShare * Rows;
}

/// <summary>Finds the columns that say from when until when.</summary>
public static class Spells
{
    // Of the rows that say both, so many must end no earlier than they begin.
    private const double OrderedShare = 0.95;

    private const double CompactShare = 0.8;

    private static readonly (string Begin, string End)[] _pairs =
    [
        ("from", "to"),
        ("from", "until"),
        ("from", "till"),
        ("start", "end"),
        ("started", "ended"),
        ("begin", "end"),
        ("began", "ended"),
        ("arr", "dep"),
        ("arrival", "departure"),
        ("arrived", "departed"),
        ("arrived", "left"),
        ("in", "out"),
        ("since", "until"),
        ("opened", "closed"),
        ("start", "finish"),
        ("started", "finished"),
        ("start", "stop"),
        ("checkin", "checkout"),
        ("von", "bis"),
        ("beginn", "ende"),
        ("debut", "fin"),
        ("desde", "hasta"),
    ];

    /// <summary>Finds them by name, type and values, once for each single reference of the table.</summary>
    /// <param name="rows">The rows that were looked at.</param>
    /// <param name="references">The references that are taken for true.</param>
    public static IReadOnlyList<SurveyedSpells> Find(IEnumerable<TableRows> rows, IReadOnlyList<Reference> references)
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(references);
        var own = references
            .Where(reference => reference is { Where: null, Columns.Count: 1 })
            .ToLookup(reference => reference.Table);
        return
        [
            .. from table in rows
            where !table.Table.IsView && table.Count > 0
            from pair in PairsOf(table)
            from reference in own[table.Table.Name].DistinctBy(reference => reference.Columns[0])
            select new SurveyedSpells(table.Table.Name, pair.Begin, pair.End, reference.Columns[0]),
        ];
    }

    private static IEnumerable<(string Begin, string End)> PairsOf(TableRows rows)
    {
        var words = rows.Table.Columns.Select(column => IdentifierWords.Split(column.Name)).ToList();
        return from begin in Enumerable.Range(0, words.Count)
            from end in Enumerable.Range(0, words.Count)
            where
                begin != end
                && IsPair(words[begin], words[end])
                && AreDates(rows, begin)
                && AreDates(rows, end)
                && InOrder(rows.Of(begin), rows.Of(end))
            select (rows.Table.Columns[begin].Name, rows.Table.Columns[end].Name);
    }

    internal static bool IsPair(IReadOnlyList<string> begin, IReadOnlyList<string> end)
    {
        if (begin.Count != end.Count)
            return false;
        var different = begin.Zip(end).Where(pair => pair.First != pair.Second).ToList();
        return different is [var only] && _pairs.Contains(only);
    }

    private static bool AreDates(TableRows rows, int column) =>
        rows.Table.Columns[column].Type.Kind switch
        {
            ValueKind.Date or ValueKind.DateTime or ValueKind.Instant => true,
            ValueKind.Text => rows.Of(column).Where(value => !string.IsNullOrWhiteSpace(value)).ToList() is { Count: > 0 } filled
                && filled.Count(IsCompact) >= CompactShare * filled.Count,
            _ => false,
        };

    private static bool IsCompact(string? value) =>
        DateOnly.TryParseExact(value, "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _)
        || value == "00000000";

    private static bool InOrder(IReadOnlyList<string?> begin, IReadOnlyList<string?> end)
    {
        var both = begin.Zip(end).Where(pair => IsFilled(pair.First) && IsFilled(pair.Second)).ToList();
        return both.Count > 0
            && both.Count(pair => string.CompareOrdinal(pair.First, pair.Second) <= 0) >= OrderedShare * both.Count;
    }

    private static bool IsFilled(string? value) => !string.IsNullOrWhiteSpace(value) && value != "00000000";
}
