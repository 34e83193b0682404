using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>
/// A list's restriction to some values of a column (the field calls it a facet). It travels as <c>COLUMN:VALUE</c>, once for each
/// value, the column percent-encoded; a column alone means its empty values, <c>COLUMN:FROM..UNTIL</c> a range of numbers or
/// times, its end left out of it.
/// </summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Values">The values in their one text form; null for the empty ones.</param>
/// <param name="Ranges">The ranges.</param>
public sealed record Narrowing(string Column, IReadOnlyList<string?> Values, IReadOnlyList<ValueRange> Ranges)
{
    /// <summary>The greatest number of values in one list's address.</summary>
    public const int MaxValues = 200;

    private const string RangeSign = "..";

    /// <summary>The column, where the panel is known.</summary>
    public BoundColumn? Bound { get; init; }

    /// <summary>Whether a list can be narrowed by a column of a type.</summary>
    public static bool CanBeBy(ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.Kind is not (ValueKind.Json or ValueKind.Binary or ValueKind.Array);
    }

    /// <summary>Whether the values of a column make ranges.</summary>
    public static bool HasRanges(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return column.Decision.Lookup is null
            && (column.Type.IsNumber || column.Type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant);
    }

    /// <summary>Reads what was asked.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="asked">The restrictions as they travel.</param>
    /// <param name="problems">Gets what could not be understood; the rest is read all the same.</param>
    /// <returns>One narrowing for each column.</returns>
    public static IReadOnlyList<Narrowing> Read(BoundPanel panel, IReadOnlyList<string> asked, List<FieldProblem> problems)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(asked);
        ArgumentNullException.ThrowIfNull(problems);
        if (asked.Count > MaxValues)
            problems.Add(new("in", $"A list is narrowed by at most {MaxValues} values. The others were left out."));
        return
        [
            .. asked
                .Take(MaxValues)
                .Select(text => ReadOne(panel, text, problems))
                .OfType<Narrowing>()
                .GroupBy(one => one.Column)
                .Select(group => new Narrowing(
                    group.Key,
                    [.. group.SelectMany(one => one.Values).Distinct()],
                    [.. group.SelectMany(one => one.Ranges).Distinct()]
                )
                {
                    Bound = group.First().Bound,
                }),
        ];
    }

    /// <summary>The condition that it makes.</summary>
    public Filter ToFilter()
    {
        var filled = Values.OfType<string>().ToList();
        var parts = new List<Filter>();
        if (filled.Count > 0)
            parts.Add(Bound?.OneOf(filled) ?? new Filter.OneOf(Column, filled));
        if (Values.Contains(null))
            parts.Add(Bound?.Empty() ?? new Filter.Empty(Column));
        parts.AddRange(Ranges.Select(range => range.In(Bound!)));
        return parts is [var only] ? only : new Filter.Any(parts);
    }

    /// <summary>What it restricts to, in words.</summary>
    /// <param name="column">The column.</param>
    /// <param name="notation">How dates and numbers are written.</param>
    /// <param name="titleOf">How the record is called that a value refers to; null for the value itself.</param>
    public string Say(BoundColumn column, Notation notation, Func<string, string?> titleOf)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(titleOf);
        return $"{column.Label}: {string.Join(", ", Values.Select(value => value is null ? "none" : titleOf(value) ?? column.ShowRead(value, notation)).Concat(Ranges.Select(range => range.Say(column.Type, notation))))}";
    }

    private static Narrowing? ReadOne(BoundPanel panel, string text, List<FieldProblem> problems)
    {
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        var name = Uri.UnescapeDataString(colon < 0 ? text : text[..colon]);
        if (panel.Find(name) is not { Decision.Narrows: true } column || !CanBeBy(column.Type))
        {
            problems.Add(new("in", $"The list cannot be narrowed by {name}. Leave it out, or turn it on in the panel's set-up."));
            return null;
        }

        if (colon < 0)
            return new Narrowing(name, [null], []) { Bound = column };
        var value = text[(colon + 1)..];
        if (HasRanges(column) && value.IndexOf(RangeSign, StringComparison.Ordinal) is >= 0 and var dots)
        {
            if (ValueRange.Read(column.Type, value[..dots], value[(dots + RangeSign.Length)..]) is { } range)
                return new Narrowing(name, [], [range]) { Bound = column };
        }
        else if (ValueText.TryRead(column.One, value, out var read, out _))
        {
            return new Narrowing(name, [read], []) { Bound = column };
        }

        problems.Add(new("in", $"{column.Label} has no value “{value}”. Choose one that is offered."));
        return null;
    }
}

/// <summary>A range of numbers or times, its end left out of it.</summary>
/// <param name="From">The least value in the one text form; null for no bound.</param>
/// <param name="Until">The first value after; null for no bound.</param>
public sealed record ValueRange(string? From, string? Until)
{
    /// <summary>The range in words.</summary>
    /// <param name="type">The type of its bounds.</param>
    /// <param name="notation">How dates and numbers are written.</param>
    public string Say(ColumnType type, Notation notation)
    {
        var (from, until) = (Shown(From), Shown(Until));
        return (from, until) switch
        {
            (null, _) => $"under {until}",
            (_, null) => $"{from} and more",
            _ => $"{from} to under {until}",
        };

        string? Shown(string? bound) => bound is null ? null : ShownText.Of(type, bound, notation);
    }

    /// <summary>Reads a range.</summary>
    /// <returns>The range; null where a bound is not a value of the type, or there is none.</returns>
    public static ValueRange? Read(ColumnType type, string from, string until)
    {
        ArgumentNullException.ThrowIfNull(from);
        ArgumentNullException.ThrowIfNull(until);
        var (least, end) = (ReadBound(type, from), ReadBound(type, until));
        return (from.Length > 0 && least is null) || (until.Length > 0 && end is null) || (least is null && end is null)
            ? null
            : new ValueRange(least, end);
    }

    /// <summary>The condition that a column's value lies in it.</summary>
    public Filter In(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return Filter.Join(
            From is null ? null : column.Compared(Comparison.AtLeast, From),
            Until is null ? null : column.Compared(Comparison.Less, Until)
        )!;
    }

    private static string? ReadBound(ColumnType type, string text) =>
        text.Length > 0 && ValueText.TryRead(type, text, out var value, out _) ? value : null;
}
