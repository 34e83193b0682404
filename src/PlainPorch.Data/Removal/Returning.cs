using System.Globalization;
using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>Rows of a parcel on their way back: finds what came in the way, and puts back what can be.</summary>
/// <param name="panel">The panel where they are brought back.</param>
/// <param name="source">The rows of the source.</param>
/// <param name="transaction">The number of the transaction that set them aside.</param>
/// <param name="triggers">Finds what the database does by itself.</param>
/// <param name="isTrial">Whether it is only to be shown.</param>
/// <param name="cancellationToken">Gives it up.</param>
internal sealed class Returning(
    OpenPanel panel,
    SourceRows source,
    string transaction,
    TableTriggers triggers,
    bool isTrial,
    CancellationToken cancellationToken
)
{
    private const int ShownTitles = 6;

    private readonly List<ReturningRows> _parts = [];
    private readonly List<(Conflict Conflict, ConflictRemedy? Remedy)> _conflicts = [];

    /// <summary>Why nothing can be brought back; null where something can.</summary>
    public string? Problem { get; private set; }

    /// <summary>Whether every conflict was decided about.</summary>
    public bool IsDecided =>
        _conflicts.TrueForAll(one => one.Remedy is not null || one.Conflict.Kind is ConflictKind.Gone or ConflictKind.Changed);

    /// <summary>The parts of which rows come back.</summary>
    public IEnumerable<ReturningRows> Coming => _parts.Where(part => part.Coming.Count > 0);

    /// <summary>How many records the parcel holds that were removed, and not only changed.</summary>
    public int Total => _parts.Where(part => part.Part.Act.Removes()).Sum(part => part.Coming.Count + part.Staying.Count);

    /// <summary>The first of the rows that come back under another number.</summary>
    public IReadOnlyList<RenumberedRecord> Renumbered { get; private set; } = [];

    /// <summary>Work that cannot be done.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="connection">An open connection to the source.</param>
    /// <param name="problem">Why.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    public static Returning Impossible(
        OpenPanel panel,
        NpgsqlConnection connection,
        string problem,
        CancellationToken cancellationToken
    ) =>
        new(panel, new SourceRows(connection), "0", new TableTriggers(connection), isTrial: true, cancellationToken)
        {
            Problem = problem,
        };

    /// <summary>Adds a part.</summary>
    /// <param name="part">The part.</param>
    /// <param name="rows">Its rows.</param>
    /// <param name="isWanted">Whether a row is to come back.</param>
    public void Add(ParcelPartRow part, IEnumerable<ParcelRecordRow> rows, Predicate<ParcelRecordRow> isWanted)
    {
        if (panel.Model.Snapshot.Find(new TableName(part.Schema, part.Table)) is not { } table)
        {
            Problem =
                $"The database no longer has the table {part.Schema}.{part.Table}, so nothing can go back there. Read the schema again, or restore the table.";
            return;
        }

        var returning = new ReturningRows(part, table);
        foreach (var row in rows)
            returning.Add(row, isWanted(row));
        _parts.Add(returning);
    }

    /// <summary>Drops rows that are in their tables, as most are of what came back before.</summary>
    public async Task DropPresentAsync()
    {
        foreach (var part in _parts.Where(part => part.Part is { Act: PartAct.Moved, Identity.Count: > 0 }))
        {
            var there = await source.FindAsync(
                part.Table.Name,
                part.Part.Identity,
                [.. part.Coming.Select(row => part.Of(row, part.Part.Identity))],
                [],
                cancellationToken
            );
            part.Drop(part.Coming.Where((_, i) => there[i] is not null).ToHashSet());
        }
    }

    /// <summary>Shows what would come back and what came in the way.</summary>
    public async Task<ReturnProposal> ShowAsync() =>
        new(
            [
                .. Coming.Select(part => new ReturningPart(
                    part.Part.Place,
                    part.Part.Label,
                    part.Part.Act,
                    part.Coming.Count,
                    Titles(part.Coming)
                )),
            ],
            [.. _conflicts.Select(one => Show(one.Conflict))],
            await triggers.FindAsync(
                Coming.Select(part => (part.Table.Name, part.Part.Act is PartAct.Moved ? RowEvent.Insert : RowEvent.Update)),
                cancellationToken
            ),
            Problem
        );

    private ReturnConflict Show(Conflict conflict) =>
        new(
            conflict.Part.Part.Place,
            conflict.Part.Part.Label,
            conflict.Kind,
            conflict.Columns,
            [.. conflict.Columns.Select(column => LabelOf(conflict.Part, column))],
            conflict.Rows.Count,
            Titles(conflict.Rows),
            conflict.Remedies
        );

    private string LabelOf(ReturningRows part, string column) =>
        panel.Panels.BoundOver(part.Table.Name)?.Find(column)?.Label ?? column;

    /// <summary>Finds what came in the way, and follows what was decided: rows that stay keep those that need them.</summary>
    public async Task SettleAsync(IReadOnlyList<ConflictChoice> choices)
    {
        foreach (var part in _parts.Where(part => part.Part.Act is PartAct.Moved))
            await CheckColumnsAsync(part);
        if (Problem is not null)
            return;
        var numbers = new Renumbering(panel, source, _parts, isTrial, cancellationToken);
        while (await FindAsync(numbers) is { } conflict)
        {
            var choice = choices.FirstOrDefault(choice =>
                choice.Place == conflict.Part.Part.Place
                && choice.Kind == conflict.Kind
                && choice.Columns.SequenceEqual(conflict.Columns)
            );
            ConflictRemedy? remedy =
                choice is null ? null
                : conflict.Remedies.Contains(choice.Remedy) ? choice.Remedy
                : ConflictRemedy.Leave;
            // What somebody else did to a record that was only marked or detached needs nobody's decision; the rest is shown.
            _conflicts.Add((conflict, remedy));
            switch (remedy)
            {
                case ConflictRemedy.Empty:
                    Empty(conflict);
                    break;
                case ConflictRemedy.NewNumber:
                    Problem = await numbers.NumberAsync(conflict.Part, conflict.Columns, conflict.Numbered!, conflict.Rows);
                    Renumbered = [.. Renumbered, .. RenumberedIn(conflict)];
                    break;
                default:
                    conflict.Part.Leave(conflict.Rows);
                    break;
            }

            if (Problem is not null)
                return;
        }

        Problem = numbers.FindStayingBehind();
    }

    /// <summary>Puts the rows back, and compares what came with what was kept.</summary>
    /// <param name="choices">What was decided about conflicts.</param>
    /// <returns>How many came; null where they came otherwise than they were and nobody has agreed to that, or
    /// <see cref="Problem"/> says why they did not come.</returns>
    public async Task<int?> ReturnAsync(IReadOnlyList<ConflictChoice> choices)
    {
        // A value of which there may be only one is given back before its owner comes.
        foreach (var part in Coming.Where(IsTaker))
            await RestoreAsync(part);
        // What others refer to first.
        foreach (
            var group in Coming
                .Where(part => part.Part.Act is PartAct.Moved)
                .GroupBy(part => part.Part.Group)
                .OrderByDescending(group => group.Key)
        )
            await InsertAsync([.. group]);
        // What was changed last first.
        foreach (
            var part in Coming
                .Where(part => part.Part.Act is not PartAct.Moved && !IsTaker(part))
                .OrderByDescending(part => part.Part.Place)
        )
            await RestoreAsync(part);
        if (Problem is not null)
            return null;
        var altered = new List<Conflict>();
        foreach (var part in Coming)
        {
            if (
                await FindAlteredAsync(part) is { } conflict
                && !choices.Any(choice =>
                    choice.Place == conflict.Part.Part.Place
                    && choice is { Kind: ConflictKind.Altered, Remedy: ConflictRemedy.AsTheyCome }
                )
            )
                altered.Add(conflict);
        }

        _conflicts.AddRange(altered.Select(conflict => (conflict, (ConflictRemedy?)null)));
        return Problem is null && altered.Count == 0
            ? Coming.Where(part => part.Part.Act.Removes()).Sum(part => part.Coming.Count)
            : null;
    }

    private async Task InsertAsync(IReadOnlyList<ReturningRows> group)
    {
        var came = await source.InsertAsync(
            [
                .. group.Select(part => new StoredRows(
                    part.Table.Name,
                    part.Part.Columns,
                    [.. part.Coming.Select(row => row.Values)]
                )),
            ],
            cancellationToken
        );
        foreach (var (part, rows) in group.Zip(came))
        {
            if (rows.Count != part.Coming.Count)
                HoldBack(part, rows.Count);
            part.Came = rows;
        }
    }

    // What a trigger does after a row has come, or to one that is only written to, shows in the table.
    private async Task<Conflict?> FindAlteredAsync(ReturningRows part)
    {
        var columns = (await source.ColumnsAsync(part.Table.Name, cancellationToken))
            .Where(column => !column.IsGenerated)
            .Select(column => column.Name)
            .ToHashSet();
        List<string> compared = [.. (part.Part.Act is PartAct.Moved ? part.Part.Columns : part.Restored).Where(columns.Contains)];
        if (part.Part.Identity.Count == 0)
            return FindAlteredWithoutKey(part, compared);
        var there = await source.FindAsync(
            part.Table.Name,
            part.Part.Identity,
            [.. part.Coming.Select(row => part.Of(row, part.Part.Identity))],
            compared,
            cancellationToken
        );
        var gone = there.Count(row => row is null);
        if (gone > 0)
        {
            HoldBack(part, part.Coming.Count - gone);
            return null;
        }

        var pairs = part
            .Coming.Zip(there, (row, now) => (Row: row, Kept: part.Of(row, compared), now!.Value.Values))
            .Where(pair => !pair.Kept.SequenceEqual(pair.Values))
            .ToList();
        var differing = compared.Where((_, i) => pairs.Exists(pair => pair.Kept[i] != pair.Values[i])).ToList();
        return pairs.Count == 0
            ? null
            : new Conflict(part, ConflictKind.Altered, differing, [.. pairs.Select(pair => pair.Row)], CanComeAltered: true);
    }

    private static Conflict? FindAlteredWithoutKey(ReturningRows part, List<string> compared)
    {
        var places = compared.ConvertAll(column => part.Part.Columns.ToList().IndexOf(column));
        var came = part
            .Came.Select(row => Joined(places.Select(place => row[place])))
            .GroupBy(row => row)
            .ToDictionary(group => group.Key, group => group.Count());
        var altered = part.Coming.Where(row => !Take(Joined(part.Of(row, compared)))).ToList();
        return altered.Count == 0 ? null : new Conflict(part, ConflictKind.Altered, [], altered, CanComeAltered: true);

        bool Take(string row)
        {
            if (!came.TryGetValue(row, out var count) || count == 0)
                return false;
            came[row] = count - 1;
            return true;
        }
    }

    private static string Joined(IEnumerable<string?> values) => string.Join('\u001f', values.Select(value => value ?? "\u0000"));

    private void HoldBack(ReturningRows part, int came) =>
        Problem ??= string.Create(
            CultureInfo.InvariantCulture,
            $"Of {part.Coming.Count:N0} records of {part.Part.Label} only {came:N0} would come back: a trigger or rule of {part.Table.Name} prevents the others. Nothing was changed. Ask the database administrator."
        );

    private static bool IsTaker(ReturningRows part) => part.Part is { Act: PartAct.Merged, Group: > 0 };

    private async Task RestoreAsync(ReturningRows part)
    {
        var written = await source.RestoreAsync(
            part.Table.Name,
            part.Part.Identity,
            part.Restored,
            [.. part.Coming.Select(row => (part.FoundAt(row), part.Of(row, part.Restored)))],
            cancellationToken
        );
        if (written != part.Coming.Count)
            HoldBack(part, (int)written);
    }

    private IEnumerable<RenumberedRecord> RenumberedIn(Conflict conflict) =>
        from row in conflict.Rows.Take(Math.Max(0, ShownTitles - Renumbered.Count))
        from change in conflict.Part.ChangesOf(row)
        where change.Column == conflict.Numbered
        select new RenumberedRecord(
            row.Title,
            change.Column,
            LabelOf(conflict.Part, change.Column),
            change.Before!,
            change.After!
        );

    private static void Empty(Conflict conflict)
    {
        foreach (var column in conflict.Columns.Where(column => conflict.Part.Table.Find(column)!.IsNullable))
        {
            foreach (var row in conflict.Rows)
                conflict.Part.Set(row, column, null);
        }
    }

    private async Task CheckColumnsAsync(ReturningRows part)
    {
        var now = await source.ColumnsAsync(part.Table.Name, cancellationToken);
        if (part.Part.Columns.FirstOrDefault(column => now.All(one => one.Name != column)) is { } gone)
            Problem =
                $"{part.Table.Name} no longer has the column {gone}, so its values would be lost. Restore the column first.";
        var missing = part.Table.Columns.FirstOrDefault(column =>
            column is { IsNullable: false, IsSuppliedByDatabase: false } && !part.Part.Columns.Contains(column.Name)
        );
        if (missing is not null)
            Problem =
                $"{part.Table.Name} requires a value for {missing.Name}, which the records set aside do not have. Give the column a default first.";
    }

    private async Task<Conflict?> FindAsync(Renumbering numbers)
    {
        // What gives values back makes room for others.
        foreach (var part in Coming.OrderByDescending(IsTaker))
        {
            var conflict = part.Part.Act switch
            {
                PartAct.Moved => await FindTakenAsync(part, numbers) ?? await FindReferredGoneAsync(part),
                PartAct.Merged => await FindChangedAsync(part),
                _ => await FindGoneAsync(part),
            };
            if (conflict is not null)
                return conflict;
        }

        return null;
    }

    private async Task<Conflict?> FindTakenAsync(ReturningRows part, Renumbering numbers)
    {
        foreach (var key in part.Table.Keys.Where(key => part.Keeps(key.Columns)))
        {
            var rows = part.Coming.Where(row => part.Of(row, key.Columns).All(value => value is not null)).ToList();
            var found = await source.FindAsync(
                part.Table.Name,
                key.Columns,
                [.. rows.Select(row => part.Of(row, key.Columns))],
                [],
                cancellationToken
            );
            var taken = rows.Where((_, i) => found[i] is { } there && !IsGivenBack(part.Table.Name, there.Place, key)).ToList();
            if (taken.Count == 0)
                continue;
            var numbered = await numbers.ColumnOfAsync(part, key);
            var canBeEmptied = !key.IsPrimary && key.Columns.Any(column => part.Table.Find(column) is { IsNullable: true });
            return new Conflict(part, ConflictKind.Taken, key.Columns, taken, canBeEmptied, numbered);
        }

        return null;
    }

    // Whether the row that has a key's values gets others when it is restored.
    private bool IsGivenBack(TableName table, string place, Key key) =>
        _parts.Exists(part =>
            IsTaker(part)
            && part.Coming.Count > 0
            && part.Table.Name == table
            && part.Places.Contains(place)
            && key.Columns.Any(part.Restored.Contains)
        );

    private async Task<Conflict?> FindReferredGoneAsync(ReturningRows part)
    {
        foreach (var key in part.Table.ForeignKeys.Where(key => part.Keeps(key.Columns)))
        {
            var rows = part.Coming.Where(row => part.Of(row, key.Columns).All(value => value is not null)).ToList();
            var found = await source.FindAsync(
                key.ReferredTable,
                key.ReferredColumns,
                [.. rows.Select(row => part.Of(row, key.Columns))],
                [],
                cancellationToken
            );
            var coming = _parts
                .Where(other => other.Table.Name == key.ReferredTable && other.Part.Act is PartAct.Moved)
                .SelectMany(other => other.Coming.Select(row => string.Join('\u001f', other.Of(row, key.ReferredColumns))))
                .ToHashSet();
            var gone = rows.Where(
                    (row, i) => found[i] is null && !coming.Contains(string.Join('\u001f', part.Of(row, key.Columns)))
                )
                .ToList();
            if (gone.Count > 0)
                return new Conflict(
                    part,
                    ConflictKind.ReferredGone,
                    key.Columns,
                    gone,
                    key.Columns.Any(column => part.Table.Find(column) is { IsNullable: true })
                );
        }

        return null;
    }

    // A marked row that nobody marks any more was brought back already; a reference that was given anew stays as it is now.
    private async Task<Conflict?> FindGoneAsync(ReturningRows part)
    {
        if (part.IsChecked)
            return null;
        part.IsChecked = true;
        if (part.Part.Identity.Count == 0)
            return new Conflict(part, ConflictKind.Gone, [], [.. part.Coming]);
        var columns = part.Restored;
        var found = await source.FindAsync(
            part.Table.Name,
            part.Part.Identity,
            [.. part.Coming.Select(part.FoundAt)],
            columns,
            cancellationToken
        );
        var gone = part.Coming.Where((_, i) => found[i] is null).ToList();
        var unchanged = part.Coming.Where((row, i) => found[i] is { } there && there.Values.SequenceEqual(part.Of(row, columns)));
        var givenAnew =
            part.Part.Act is PartAct.Detached
                ? part.Coming.Where(
                    (_, i) =>
                        found[i] is { } there
                        && columns.Where((column, c) => part.Table.Find(column)!.IsNullable && there.Values[c] is not null).Any()
                )
                : [];
        part.Drop(unchanged.Concat(givenAnew).ToHashSet());
        return gone.Count > 0 ? new Conflict(part, ConflictKind.Gone, part.Part.Identity, gone) : null;
    }

    private async Task<Conflict?> FindChangedAsync(ReturningRows part)
    {
        if (part.IsChecked)
            return null;
        part.IsChecked = true;
        var found = await source.FindAsync(
            part.Table.Name,
            part.Part.Identity,
            [.. part.Coming.Select(part.FoundAt)],
            ["xmin"],
            cancellationToken
        );
        part.Places.UnionWith(found.OfType<(string Place, string?[] Values)>().Select(there => there.Place));
        var written = SourceRows.VersionOf(transaction).ToString(CultureInfo.InvariantCulture);
        var changed = part.Coming.Where((_, i) => found[i] is not { } there || there.Values[0] != written).ToList();
        return changed.Count > 0 ? new Conflict(part, ConflictKind.Changed, part.Part.Identity, changed) : null;
    }

    private static IReadOnlyList<string> Titles(IReadOnlyList<ParcelRecordRow> rows) =>
        [.. rows.Take(ShownTitles).Select(row => row.Title)];

    private sealed record Conflict(
        ReturningRows Part,
        ConflictKind Kind,
        IReadOnlyList<string> Columns,
        IReadOnlyList<ParcelRecordRow> Rows,
        bool CanBeEmptied = false,
        string? Numbered = null,
        bool CanComeAltered = false
    )
    {
        public IReadOnlyList<ConflictRemedy> Remedies =>
            (CanBeEmptied, Numbered) switch
            {
                _ when CanComeAltered => [ConflictRemedy.AsTheyCome],
                (false, null) => [],
                (true, null) => [ConflictRemedy.Leave, ConflictRemedy.Empty],
                (false, _) => [ConflictRemedy.Leave, ConflictRemedy.NewNumber],
                (true, _) => [ConflictRemedy.Leave, ConflictRemedy.NewNumber, ConflictRemedy.Empty],
            };
    }
}
