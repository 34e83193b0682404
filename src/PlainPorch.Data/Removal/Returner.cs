using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>
/// Brings back what was set aside, exactly as it was, or erases it for good: all in one transaction of the source, or nothing.
/// </summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="acts">Carries it out.</param>
public sealed class Returner(ParcelStore parcels, ActRunner acts)
{
    private const string BeingSettled =
        "Somebody is working on it, or the outcome of the last action is not yet certain. Try again in a minute.";

    /// <summary>Works out what bringing back would do.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="parcel">The parcel.</param>
    /// <param name="wanted">What is wanted of it; null for all.</param>
    /// <param name="choices">What was decided about conflicts so far.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    /// <returns>What it would do; null where there is no such parcel.</returns>
    public async Task<ReturnProposal?> ProposeAsync(
        OpenPanel panel,
        long parcel,
        IReadOnlyList<WantedPart>? wanted,
        IReadOnlyList<ConflictChoice> choices,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(choices);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        // Looking locks rows for a moment; the transaction lets go of them.
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        return await LoadAsync(panel, parcel, wanted, choices, connection, isTrial: true, cancellationToken) is { } work
            ? await work.ShowAsync()
            : null;
    }

    /// <summary>Brings back.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="parcel">The parcel.</param>
    /// <param name="wanted">What is wanted of it; null for all.</param>
    /// <param name="choices">What was decided about conflicts.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<ReturnOutcome> ReturnAsync(
        OpenPanel panel,
        long parcel,
        IReadOnlyList<WantedPart>? wanted,
        IReadOnlyList<ConflictChoice> choices,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(choices);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        if (await LoadAsync(panel, parcel, wanted, choices, connection, isTrial: false, cancellationToken) is not { } work)
            return new ReturnOutcome.Gone();
        if (work.Problem is { } problem)
            return Refused(problem);
        var coming = work.Coming.ToList();
        if (!work.IsDecided || coming.Count == 0)
            return new ReturnOutcome.Undecided(await work.ShowAsync());
        var witnesses = new Witnesses(new SourceRows(connection));
        var isAltered = false;
        var end = await acts.CarryOutAsync<ReturnOutcome.Done>(
            panel,
            transaction,
            async () =>
            {
                foreach (var part in coming)
                    await witnesses.WatchAsync(
                        part.Table.Name,
                        part.Part.Identity,
                        part.Coming.Where(row => row.FoundAt is null).Select(row => part.Of(row, part.Part.Identity)),
                        cancellationToken
                    );
                if (await work.ReturnAsync(choices) is not { } count)
                {
                    isAltered = work.Problem is null;
                    return (null, new FieldProblem("", work.Problem ?? ""));
                }

                var done = new ReturnOutcome.Done(
                    count,
                    work.Total - coming.Where(part => part.Part.Act.Removes()).Sum(part => part.Coming.Count),
                    work.Renumbered
                );
                return (
                    new Act<ReturnOutcome.Done>(
                        LogAct.BroughtBack,
                        [.. coming.SelectMany(part => part.Coming.Select(row => Logged(panel, part, row)))],
                        _ => done
                    )
                    {
                        Witnesses = witnesses,
                        Parcel = new ReturningParcel(parcels, parcel, [.. coming.Select(part => (part.Part, part.Coming))]),
                    },
                    null
                );
            },
            cancellationToken
        );
        return isAltered ? new ReturnOutcome.Undecided(await work.ShowAsync()) : ToOutcome(end);
    }

    /// <summary>
    /// Brings back records that a marker says are set aside and no parcel knows of, because another program marked them.
    /// </summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="chosen">The records.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<ReturnOutcome> UnmarkAsync(OpenPanel panel, RecordSelection chosen, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        if (panel.Bound is not { Marker: { } marker, NotEditableBecause: null, Table.Rights.Update: true } bound)
            return Refused($"{panel.Definition.Label} have no marker for records set aside, or cannot be changed here.");
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var reader = new SourceReader(panel.Model, connection);
        var titles = new RowTitles(reader, panel.Panels);
        var (source, columns) = (new SourceRows(connection), titles.ColumnsOf(bound.Table));
        var found = await new RemovalRowReader(reader).ReadAsync(
            bound.Table,
            Core.Filters.Filter.Join(chosen.ToWrite, bound.SetAside())!,
            [],
            chosen.Count,
            cancellationToken
        );
        if (found.Count == 0)
            return new ReturnOutcome.Gone();
        var rows = await source.LockAsync(bound.Table.Name, [.. found.Select(row => row.Place)], columns, cancellationToken);
        var names = await titles.ReadAsync(bound.Table, columns, [.. rows.Select(row => row.Values)], cancellationToken);
        var emptied = new[] { marker.At, marker.By }
            .OfType<string>()
            .Where(column => column != marker.Column && bound.Table.Find(column)!.IsNullable);
        (string Column, string? Value)[] values =
        [
            (marker.Column, marker.Kind is MarkerKind.Time ? null : marker.InUse),
            .. emptied.Select(column => (column, (string?)null)),
        ];
        return ToOutcome(
            await acts.CarryOutAsync<ReturnOutcome.Done>(
                panel,
                transaction,
                async () =>
                {
                    var witnesses = new Witnesses(source);
                    var key = bound.Identity.Columns.Select(column => columns.ToList().IndexOf(column)).ToList();
                    string?[][] keys = [.. rows.Select(row => key.Select(at => row.Values[at]).ToArray())];
                    foreach (var (row, values) in rows.Zip(keys))
                        witnesses.Stays(bound.Table.Name, bound.Identity.Columns, values, row.Values[^1]);
                    var written = await source.SetAsync(
                        bound.Table.Name,
                        [.. rows.Select(row => row.Place)],
                        values,
                        cancellationToken
                    );
                    var there = await source.FindAsync(
                        bound.Table.Name,
                        bound.Identity.Columns,
                        keys,
                        [marker.Column],
                        cancellationToken
                    );
                    if (written != rows.Count || there.Any(row => row?.Values[0] != values[0].Value))
                        return (
                            null,
                            new FieldProblem(
                                "",
                                $"The database left some of the records marked: a trigger or rule of {bound.Table.Name} prevents the change. Nothing was changed. Ask the database administrator."
                            )
                        );
                    var done = new ReturnOutcome.Done(rows.Count, chosen.Count - rows.Count, []);
                    return (
                        new Act<ReturnOutcome.Done>(
                            LogAct.BroughtBack,
                            [
                                .. names.Select(named => new LoggedRecord(
                                    bound.Table.Name,
                                    named.Key,
                                    named.Title,
                                    LogAct.BroughtBack,
                                    []
                                )),
                            ],
                            _ => done
                        )
                        {
                            Witnesses = witnesses,
                        },
                        null
                    );
                },
                cancellationToken
            )
        );
    }

    /// <summary>Erases a parcel for good: what is in our keep, and what is marked in its table.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="parcel">The parcel.</param>
    /// <param name="typed">The number that was typed; null where the parcel's time is over, and nobody is asked.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<ReturnOutcome> EraseAsync(OpenPanel panel, long parcel, int? typed, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (await FindAsync(panel, parcel, cancellationToken) is not { } found)
            return new ReturnOutcome.Gone();
        if (found.Parcel.State is ParcelState.Leaving or ParcelState.Returning)
            return Refused(BeingSettled);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var parts = new List<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)>();
        foreach (var part in found.Parts)
            parts.Add((part, await parcels.RecordsAsync(parcel, part.Place, returned: false, cancellationToken)));
        var going = parts.Where(part => part.Part.Act.Removes()).ToList();
        if (IsOfAnother(found.Parcel, panel) && going.Exists(part => part.Part.Act is PartAct.Marked))
            return Refused(FromAnother(panel));
        var count = going.Sum(part => part.Rows.Count);
        if (typed is not null && typed != count)
            return new ReturnOutcome.Refused([
                new(
                    "typed",
                    string.Create(CultureInfo.InvariantCulture, $"{count:N0} records would be erased for good. Type this number.")
                ),
            ]);
        var logged = going.SelectMany(part =>
            part.Rows.Select(row => new LoggedRecord(
                new TableName(part.Part.Schema, part.Part.Table),
                row.Key,
                row.Title,
                LogAct.Erased,
                []
            ))
        );
        var done = new ReturnOutcome.Done(count, 0, []);
        return ToOutcome(
            await acts.CarryOutAsync<ReturnOutcome.Done>(
                panel,
                transaction,
                async () =>
                {
                    var witnesses = new Witnesses(new SourceRows(connection));
                    await DeleteMarkedAsync(panel, new SourceRows(connection), going, witnesses, cancellationToken);
                    return (
                        new Act<ReturnOutcome.Done>(LogAct.Erased, [.. logged], _ => done)
                        {
                            Witnesses = witnesses,
                            Parcel = new ReturningParcel(parcels, parcel, parts),
                        },
                        null
                    );
                },
                cancellationToken
            )
        );
    }

    // A record that somebody brought back in his own program is not erased here.
    private static async Task DeleteMarkedAsync(
        OpenPanel panel,
        SourceRows source,
        IEnumerable<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)> parts,
        Witnesses witnesses,
        CancellationToken cancellationToken
    )
    {
        foreach (
            var group in parts
                .Where(part => part.Part.Act is PartAct.Marked)
                .GroupBy(part => part.Part.Group)
                .OrderBy(group => group.Key)
        )
        {
            var deleted = new List<(TableName, IReadOnlyList<string>)>();
            foreach (var (part, rows) in group)
            {
                var table = new TableName(part.Schema, part.Table);
                if (panel.Panels.BoundOver(table) is not { Marker: { } marker })
                    continue;
                var keys = rows.Select(row =>
                        part.Identity.Select(column => row.Values[part.Columns.ToList().IndexOf(column)]).ToArray()
                    )
                    .ToList();
                var there = await source.FindAsync(table, part.Identity, keys, [marker.Column, "xmin"], cancellationToken);
                var marked = keys.Zip(there)
                    .Where(row =>
                        row.Second is { } one
                        && (marker.Kind is MarkerKind.Time ? one.Values[0] is not null : one.Values[0] == marker.Removed)
                    )
                    .ToList();
                foreach (var (key, row) in marked)
                    witnesses.Goes(table, part.Identity, key, row!.Value.Place, row.Value.Values[1]!);
                deleted.Add((table, [.. marked.Select(row => row.Second!.Value.Place)]));
            }

            if (deleted.Count > 0)
                await source.DeleteAsync(deleted, cancellationToken);
        }
    }

    // One that whoever asks is not to learn of is not there.
    private async Task<(ParcelRow Parcel, IReadOnlyList<ParcelPartRow> Parts)?> FindAsync(
        OpenPanel panel,
        long parcel,
        CancellationToken cancellationToken
    ) =>
        await parcels.FindAsync(panel.Porch.Id, parcel, cancellationToken) is { } found
        && ParcelSight.Tells(panel, acts.Caller.Name, found.Parcel)
            ? found
            : null;

    private async Task<Returning?> LoadAsync(
        OpenPanel panel,
        long parcel,
        IReadOnlyList<WantedPart>? wanted,
        IReadOnlyList<ConflictChoice> choices,
        NpgsqlConnection connection,
        bool isTrial,
        CancellationToken cancellationToken
    )
    {
        if (await FindAsync(panel, parcel, cancellationToken) is not { } found)
            return null;
        if (found.Parcel.State is ParcelState.Leaving or ParcelState.Returning)
            return Returning.Impossible(panel, connection, BeingSettled, cancellationToken);
        // What came back is still here for a while, and comes once more if it is not there after all.
        var isReturned = found.Parcel.State is ParcelState.Returned;
        if (IsOfAnother(found.Parcel, panel))
            return Returning.Impossible(panel, connection, FromAnother(panel), cancellationToken);
        var work = new Returning(
            panel,
            new SourceRows(connection),
            found.Parcel.MadeBy,
            new TableTriggers(connection),
            isTrial,
            cancellationToken
        );
        foreach (var part in found.Parts)
        {
            var rows = await parcels.RecordsAsync(parcel, part.Place, isReturned, cancellationToken);
            // What lost a reference gets it again whenever anything comes back.
            var isWhole = wanted is null || !part.Act.Removes();
            work.Add(part, rows, row =>
                isWhole || wanted!.FirstOrDefault(one => one.Place == part.Place)?.Has(row.Number) == true
            );
        }

        if (isReturned)
            await work.DropPresentAsync();
        await work.SettleAsync(choices);
        return work;
    }

    // A parcel belongs to the database that its rows were in, wherever the source leads now.
    private static bool IsOfAnother(ParcelRow parcel, OpenPanel panel) =>
        parcel.Database is { } of && panel.Source.Identity is { } now && of != now;

    private static string FromAnother(OpenPanel panel) =>
        $"It was set aside in a different database from the one the source {panel.Source.Name} connects to now. Connect the source to that one again.";

    private static LoggedRecord Logged(OpenPanel panel, ReturningRows part, ParcelRecordRow row)
    {
        var changes = part.ChangesOf(row)
            .Select(change => ValueChange.Of(panel.Panels, part.Table.Name, change.Column, change.Before, change.After));
        return new LoggedRecord(part.Table.Name, part.KeyOf(row), row.Title, LogAct.BroughtBack, [.. changes]);
    }

    private static ReturnOutcome ToOutcome(ActEnd<ReturnOutcome.Done> end) =>
        end switch
        {
            ActEnd<ReturnOutcome.Done>.Done(var done) => done,
            // There is no form with fields, but what only warns is still told as that.
            ActEnd<ReturnOutcome.Done>.Refused(var problems) => new ReturnOutcome.Refused([
                .. problems.Select(problem => problem with { Field = "" }),
            ]),
            _ => Refused(BeingSettled),
        };

    private static ReturnOutcome.Refused Refused(string message) => new([new FieldProblem("", message)]);
}
