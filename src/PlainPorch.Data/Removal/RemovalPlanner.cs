using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>Works out what a removal would do, and how to show it.</summary>
/// <param name="panel">The panel whose records are removed.</param>
/// <param name="connection">An open connection to the source.</param>
/// <param name="now">The present moment.</param>
internal sealed class RemovalPlanner(OpenPanel panel, NpgsqlConnection connection, DateTimeOffset now)
{
    // So many records and titles a person takes in.
    private const int Shown = 5;
    private const int ShownTitles = 6;
    private const int PageSize = 100;

    private readonly SourceReader _reader = new(panel.Model, connection);

    private BoundPanel Bound => panel.Bound!;

    /// <summary>Makes the plan.</summary>
    /// <param name="chosen">The records.</param>
    /// <param name="forGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    /// <returns>The plan; null where none of the records is there.</returns>
    public async Task<RemovalPlan?> PlanAsync(RecordSelection chosen, bool forGood, CancellationToken cancellationToken)
    {
        var references = new RemovalReferences(panel.Panels);
        var rows = new RemovalRowReader(_reader);
        var filter = Filter.Join(chosen.ToWrite, forGood ? Bound.SetAside() : Bound.InUse())!;
        var found = await rows.ReadAsync(Bound.Table, filter, references.ColumnsOf(Bound.Table), chosen.Count, cancellationToken);
        return found.Count == 0
            ? null
            : await new RemovalWalk(panel.Panels, references, rows).PlanAsync(Bound, found, ActOf(forGood), cancellationToken);
    }

    /// <summary>Shows a plan.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="chosen">The records that were chosen.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<RemovalProposal> ShowAsync(RemovalPlan plan, RecordSelection chosen, CancellationToken cancellationToken)
    {
        var root = plan.Taken is [var first, ..] ? first : null;
        var own = OwnOf(plan, chosen);
        var along = new List<AffectedRecords>();
        foreach (var (taken, part) in plan.Taken.Select((taken, i) => (taken, i)))
        {
            var rows = GoingAlong(plan, taken, own);
            if (rows.Count > 0)
                along.Add(
                    new AffectedRecords(
                        ParcelSight.Sees(panel, taken.Table.Name) ? taken.Label : ParcelSight.Others,
                        rows.Count,
                        taken.Act,
                        false,
                        await TitlesAsync(taken.Table, rows, cancellationToken),
                        ParcelSight.Sees(panel, taken.Table.Name) ? taken.Panel : null,
                        null,
                        null,
                        part
                    )
                );
        }

        return new RemovalProposal(
            plan.Act is RowAct.Erase ? RemovalManner.Erase : Bound.Manner,
            await RecognizeAsync(
                root is null
                    ? []
                    : await FirstAsync(
                        [.. root.Rows.Take(own).Select(row => RecordKey.Write(row.KeyIn(Bound)))],
                        cancellationToken
                    ),
                cancellationToken
            ),
            own,
            root is null ? 0 : chosen.Count - own,
            along,
            await TouchedAsync(plan, RemovalEffect.Detached, cancellationToken),
            await TouchedAsync(plan, RemovalEffect.Left, cancellationToken),
            await TouchedAsync(plan, RemovalEffect.Hidden, cancellationToken),
            await TouchedAsync(plan, RemovalEffect.Forbids, cancellationToken),
            await new TableTriggers(connection).FindAsync(
                plan.Taken.Select(taken => (taken.Table.Name, taken.Act is RowAct.Mark ? RowEvent.Update : RowEvent.Delete)),
                cancellationToken
            ),
            plan.TooManyOf is { } label
                ? $"More than {RemovalWalk.MaxRows:N0} records would be removed, {label} among them. Select fewer at a time."
                : null,
            plan.CanBeUndone,
            plan.CanBeUndone && Bound.Definition.Removal.EraseAfterDays is { } days ? now.AddDays(days) : null,
            plan.Count,
            plan.MustBeTyped,
            plan.Fingerprint
        );
    }

    /// <summary>Names the records of one part of a plan.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="chosen">The records that were chosen.</param>
    /// <param name="part">The part's number, as <see cref="AffectedRecords.Part"/> tells it.</param>
    /// <param name="skip">How many of them are known already.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>A page of them; null where there is no such part.</returns>
    public async Task<AffectedPage?> ListAsync(
        RemovalPlan plan,
        RecordSelection chosen,
        int part,
        int skip,
        CancellationToken cancellationToken
    )
    {
        (Table Table, IReadOnlyList<RemovalRow> Rows)? found = part - plan.Taken.Count is var touched and >= 0
            ? touched < plan.Touched.Count
                ? (plan.Touched[touched].Reference.Table, plan.Touched[touched].Rows)
                : null
            : part >= 0
                ? (plan.Taken[part].Table, GoingAlong(plan, plan.Taken[part], OwnOf(plan, chosen)))
                : null;
        if (found is not { } all)
            return null;
        var named = await NameAsync(all.Table, [.. all.Rows.Skip(skip).Take(PageSize)], cancellationToken);
        return new AffectedPage(
            [.. named.Select(record => new AffectedRecord(record.Key, record.Title))],
            all.Rows.Count > skip + PageSize
        );
    }

    // The chosen records are the first of the first part.
    private int OwnOf(RemovalPlan plan, RecordSelection chosen) =>
        plan.Taken is [var root, ..] ? root.Rows.Count(row => chosen.Has(row.KeyIn(Bound))) : 0;

    // Records of the panel itself may go along, too: those that refer to a chosen one.
    private static IReadOnlyList<RemovalRow> GoingAlong(RemovalPlan plan, TakenRows taken, int own) =>
        taken == plan.Taken[0] ? [.. taken.Rows.Skip(own)] : taken.Rows;

    private RowAct ActOf(bool forGood) =>
        forGood
            ? RowAct.Erase
            : Bound.Manner switch
            {
                RemovalManner.Mark => RowAct.Mark,
                RemovalManner.Erase => RowAct.Erase,
                _ => RowAct.Move,
            };

    private async Task<List<AffectedRecords>> TouchedAsync(
        RemovalPlan plan,
        RemovalEffect effect,
        CancellationToken cancellationToken
    )
    {
        var affected = new List<AffectedRecords>();
        foreach (
            var (touched, place) in plan.Touched.Select((touched, i) => (touched, i)).Where(pair => pair.touched.Effect == effect)
        )
        {
            var reference = touched.Reference;
            var isSeen = ParcelSight.Sees(panel, reference.Table.Name);
            var isListed =
                isSeen && reference is { Panel: not null, Columns.Count: 1, Lookup: not null } && touched.Example.Count > 0;
            affected.Add(
                new AffectedRecords(
                    isSeen ? reference.Label : ParcelSight.Others,
                    touched.Rows.Count,
                    null,
                    touched.ByDatabase,
                    await TitlesAsync(reference.Table, touched.Rows, cancellationToken),
                    isSeen ? reference.Panel : null,
                    isListed ? reference.Columns[0] : null,
                    isListed ? touched.Example[0].Values.GetValueOrDefault(reference.TargetColumns[0]) : null,
                    plan.Taken.Count + place
                )
            );
        }

        return affected;
    }

    private async Task<IReadOnlyList<string>> TitlesAsync(
        Table table,
        IReadOnlyList<RemovalRow> rows,
        CancellationToken cancellationToken
    ) => [.. (await NameAsync(table, [.. rows.Take(ShownTitles)], cancellationToken)).Select(named => named.Title)];

    private async Task<IReadOnlyList<(string? Key, string Title)>> NameAsync(
        Table table,
        IReadOnlyList<RemovalRow> rows,
        CancellationToken cancellationToken
    )
    {
        var titles = new RowTitles(_reader, panel.Panels);
        var columns = titles.ColumnsOf(table);
        if (!ParcelSight.Sees(panel, table.Name))
            return [];
        var values = await new SourceRows(connection).ReadAsync(
            table.Name,
            [.. rows.Select(row => row.Place)],
            columns,
            cancellationToken
        );
        var named = await titles.ReadAsync(table, columns, [.. values.Select(row => row.Values)], cancellationToken);
        return ParcelSight.SeesAll(panel, table.Name) ? named : await SeenOfAsync(table, named, cancellationToken);
    }

    // Of records that somebody does not see they learn that there are some, and no more.
    private async Task<IReadOnlyList<(string? Key, string Title)>> SeenOfAsync(
        Table table,
        IReadOnlyList<(string? Key, string Title)> named,
        CancellationToken cancellationToken
    )
    {
        var keys = named.Select(one => one.Key).OfType<string>().Distinct().ToList();
        if (keys.Count == 0 || panel.Panels.BoundOver(table.Name) is not { Identity.Exists: true } seen)
            return [];
        var rows = await KeyedRows.ReadAsync(_reader, seen, keys, seen.Identity.Columns, cancellationToken);
        var there = rows.Select(row => row.Key).ToHashSet();
        return [.. named.Where(one => one.Key is { } key && there.Contains(key))];
    }

    // As people know them from the list: in its order.
    private async Task<IEnumerable<string>> FirstAsync(IReadOnlyList<string> keys, CancellationToken cancellationToken)
    {
        if (keys.Count < 2 || !RecordSelection.TryRead(Bound, keys, out var all, out _))
            return keys.Take(Shown);
        var listed = (
            await panel.Lists().KeysAsync(_reader, panel.Seen.Plan(new ListRequest()).OfChosen(all!.Filter), cancellationToken)
        ).Keys.ToList();
        // Those that the list leaves out, as one that is marked already, come last.
        return listed.Concat(keys.Except(listed)).Take(Shown);
    }

    private async Task<IReadOnlyList<RecognizedRecord>> RecognizeAsync(
        IEnumerable<string> keys,
        CancellationToken cancellationToken
    )
    {
        var records = new List<RecognizedRecord>();
        foreach (var key in keys)
        {
            if (await panel.Records().FindAsync(_reader, key, cancellationToken) is not { } record)
                continue;
            var values = Bound
                .RecognizedBy.Where(column => record.Values.GetValueOrDefault(column.Name) is { Length: > 0 })
                .Select(column =>
                    record.Lookups.TryGetValue(column.Name, out var title)
                        ? new RecognizedValue(column.Name, title.Title, IsTitle: true)
                        : new RecognizedValue(column.Name, RowTitles.Shown(record.Values[column.Name]!), IsTitle: false)
                );
            records.Add(new RecognizedRecord(record.Key, RowTitles.Shown(record.Title), [.. values]));
        }

        return records;
    }
}
