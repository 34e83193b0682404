using System.Globalization;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>
/// Gives rows on their way back numbers that are free, and lets what comes back with them refer to the new ones.
/// </summary>
/// <param name="panel">The panel where they are brought back.</param>
/// <param name="source">The rows of the source.</param>
/// <param name="parts">All parts of the parcel.</param>
/// <param name="isTrial">Whether it is only to be shown; then the numbers are made up, and none of the database's is used
/// up.</param>
/// <param name="cancellationToken">Gives it up.</param>
internal sealed class Renumbering(
    OpenPanel panel,
    SourceRows source,
    IReadOnlyList<ReturningRows> parts,
    bool isTrial,
    CancellationToken cancellationToken
)
{
    private const int Tries = 100;

    private readonly RemovalReferences _references = new(panel.Panels);

    // The parts that may hold rows which stay behind, with what their references meant before.
    private readonly List<(RemovalReference Reference, ReturningRows Referring, Dictionary<string, ParcelRecordRow> Old)> _left =
    [];
    private int _made;

    /// <summary>The column of a key that can be renumbered.</summary>
    /// <returns>The column; null where none can, or where the database numbers it in a way of its own.</returns>
    public async Task<string?> ColumnOfAsync(ReturningRows part, Key key) =>
        NextNumber.ColumnOf(part.Table, key, column => _references.IsReferring(part.Table.Name, column)) is { } column
        && (!column.IsSuppliedByDatabase || await source.HasSequenceAsync(part.Table.Name, column.Name, cancellationToken))
            ? column.Name
            : null;

    /// <summary>Numbers rows.</summary>
    /// <param name="part">Their part.</param>
    /// <param name="key">The key whose values others have.</param>
    /// <param name="name">The column to number.</param>
    /// <param name="rows">The rows.</param>
    /// <returns>Why there is no number for them; null where they have theirs.</returns>
    public async Task<string?> NumberAsync(
        ReturningRows part,
        IReadOnlyList<string> key,
        string name,
        IReadOnlyList<ParcelRecordRow> rows
    )
    {
        var column = part.Table.Find(name)!;
        var others = key.Where(one => one != name).ToList();
        var changes = new List<RowChange>();
        foreach (var group in rows.GroupBy(row => string.Join('\u001f', part.Of(row, others))))
        {
            if (await FreeAsync(part, column, [.. others.Zip(part.Of(group.First(), others))], group.Count()) is not { } numbers)
                return $"There are no free numbers left for {name} of {part.Part.Label}. Leave them set aside.";
            changes.AddRange(group.Zip(numbers, (row, number) => new RowChange(row, [(name, number)])));
        }

        Change(part, changes);
        return null;
    }

    /// <summary>Why the rows cannot have other numbers: what would stay set aside refers to the old ones.</summary>
    /// <returns>The reason in words; null where nothing does.</returns>
    public string? FindStayingBehind()
    {
        foreach (var (reference, referring, old) in _left)
        {
            foreach (var staying in referring.Staying)
            {
                if (
                    reference.MeaningOf(referring.TextsOf(staying, reference.Columns)) is { } meaning
                    && old.TryGetValue(meaning, out var row)
                )
                    return $"“{staying.Title}” of {referring.Part.Label} would stay set aside and then refer to another record by its number. Bring it back as well, or leave “{row.Title}” set aside.";
            }
        }

        return null;
    }

    // A changed value may be part of a key that others refer to in their turn.
    private void Change(ReturningRows part, IReadOnlyList<RowChange> changes)
    {
        var columns = changes.SelectMany(change => change.Values.Select(pair => pair.Column)).ToHashSet();
        var referring = ReferringTo(part.Table.Name, columns)
            .Select(pair => (pair.Reference, pair.Part, Old: ByMeaning(pair.Reference, part, changes)))
            .ToList();
        foreach (var (row, values) in changes)
        {
            foreach (var (column, value) in values)
                part.Set(row, column, value);
        }

        foreach (var (reference, other, old) in referring)
        {
            if (other.Part.Act is PartAct.Moved)
                _left.Add((reference, other, old));
            var following = new List<RowChange>();
            foreach (var row in other.Coming)
            {
                var values = other.TextsOf(row, reference.Columns);
                if (reference.MeaningOf(values) is { } meaning && old.TryGetValue(meaning, out var target))
                    following.Add(
                        new RowChange(
                            row,
                            [.. reference.Columns.Zip(reference.Rewritten(values, part.TextsOf(target, reference.TargetColumns)))]
                        )
                    );
            }

            if (following.Count > 0)
                Change(other, following);
        }
    }

    private static Dictionary<string, ParcelRecordRow> ByMeaning(
        RemovalReference reference,
        ReturningRows part,
        IEnumerable<RowChange> changes
    ) =>
        changes
            .Select(change => (Meaning: reference.MeaningOf(part.TextsOf(change.Row, reference.TargetColumns)), change.Row))
            .Where(pair => pair.Meaning is not null)
            .DistinctBy(pair => pair.Meaning)
            .ToDictionary(pair => pair.Meaning!, pair => pair.Row);

    // What was only marked refers to records that never left, so to none of these.
    private IEnumerable<(RemovalReference Reference, ReturningRows Part)> ReferringTo(TableName table, HashSet<string> columns) =>
        from reference in _references.To(table)
        where reference.TargetColumns.Any(columns.Contains)
        from part in parts
        where part.Table.Name == reference.Table.Name && part.Part.Act is not PartAct.Marked && part.Keeps(reference.Columns)
        select (reference, part);

    private async Task<IReadOnlyList<string>?> FreeAsync(
        ReturningRows part,
        Column column,
        IReadOnlyList<(string Column, string? Value)> others,
        int count
    )
    {
        if (isTrial)
            return [.. Enumerable.Range(0, count).Select(_ => (--_made).ToString(CultureInfo.InvariantCulture))];
        // Numbers of the rows that come back, too, are taken.
        var own = part
            .Coming.Concat(part.Staying)
            .Select(row => part.TextsOf(row, [column.Name])[0])
            .OfType<string>()
            .ToHashSet();
        return column.IsSuppliedByDatabase
            ? await DrawAsync(part.Table, column, own, count)
            : await CountOnAsync(part.Table, column, others, own, count);
    }

    // Where another program gives numbers by itself, a sequence lags behind.
    private async Task<IReadOnlyList<string>?> DrawAsync(Table table, Column column, HashSet<string> own, int count)
    {
        var free = new List<string>();
        for (var tries = 0; tries < Tries && free.Count < count; tries++)
        {
            var drawn = await source.DrawAsync(table.Name, column.Name, count - free.Count, cancellationToken);
            var there = await source.FindAsync(
                table.Name,
                [column.Name],
                [.. drawn.Select(number => new[] { number })],
                [],
                cancellationToken
            );
            free.AddRange(drawn.Where((number, i) => there[i] is null && !own.Contains(number)));
        }

        return free.Count == count ? free : null;
    }

    private async Task<IReadOnlyList<string>?> CountOnAsync(
        Table table,
        Column column,
        IReadOnlyList<(string Column, string? Value)> others,
        HashSet<string> own,
        int count
    )
    {
        var greatest = await source.GreatestAsync(table.Name, column.Name, others, cancellationToken);
        var taken = own.Select(text => long.Parse(text, CultureInfo.InvariantCulture)).Append(greatest ?? 0).Max();
        var numbers = new List<string>();
        while (numbers.Count < count)
        {
            if (NextNumber.After(column.Type, taken) is not { } next)
                return null;
            numbers.Add(next);
            taken = long.Parse(next, CultureInfo.InvariantCulture);
        }

        return numbers;
    }
}

/// <summary>Values that a row gets.</summary>
/// <param name="Row">The row.</param>
/// <param name="Values">Its columns with their new values.</param>
internal sealed record RowChange(ParcelRecordRow Row, IReadOnlyList<(string Column, string? Value)> Values);
