using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Records;

namespace PlainPorch.Data.Removal;

/// <summary>Brings back what was set aside, exactly as it was, or erases it for good: all in one transaction of the source, or nothing.</summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="logbook">The logbook.</param>
public sealed class Returner(ParcelStore parcels, Logbook logbook)
{
    /// <summary>Is called between the steps; a test that fails there leaves what a crash would.</summary>
    internal Func<RemovalStage, Task> AtStage { get; init; } = _ => Task.CompletedTask;

    /// <summary>Works out what bringing back would do.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="parcel">The parcel.</param>
    /// <param name="wanted">What is wanted of it; null for all.</param>
    /// <param name="choices">What was decided about conflicts so far.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    /// <returns>What it would do; null where there is no such parcel.</returns>
    public async Task<ReturnProposal?> ProposeAsync(
        OpenPanel panel, long parcel, IReadOnlyList<WantedPart>? wanted, IReadOnlyList<ConflictChoice> choices, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(choices);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        // Looking locks rows for a moment; the transaction lets go of them.
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        return await LoadAsync(panel, parcel, wanted, choices, connection, isTrial: true, cancellationToken) is { } work ? work.Show() : null;
    }

    /// <summary>Brings back.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="parcel">The parcel.</param>
    /// <param name="wanted">What is wanted of it; null for all.</param>
    /// <param name="choices">What was decided about conflicts.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<ReturnOutcome> ReturnAsync(
        OpenPanel panel, long parcel, IReadOnlyList<WantedPart>? wanted, IReadOnlyList<ConflictChoice> choices, CancellationToken cancellationToken)
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
            return new ReturnOutcome.Undecided(work.Show());
        return await WithinAsync(
            panel,
            parcel,
            LogAct.BroughtBack,
            [.. coming.SelectMany(part => part.Coming.Select(row => Logged(panel, part, row)))],
            transaction,
            [.. coming.Select(part => (part.Part, part.Coming))],
            async () =>
            {
                var count = await work.ReturnAsync();
                return new ReturnOutcome.Done(count, work.Total - coming.Where(part => part.Part.Act.Removes()).Sum(part => part.Coming.Count), work.Renumbered);
            },
            cancellationToken);
    }

    /// <summary>Brings back records that a marker says are set aside and no parcel knows of, because another program marked them.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="chosen">The records.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<ReturnOutcome> UnmarkAsync(OpenPanel panel, RecordSelection chosen, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        if (panel.Bound is not { Marker: { } marker, CanRemove: true } bound)
            return Refused($"Nothing marks the records of {panel.Definition.Label} as set aside, or they cannot be changed here.");
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var reader = new SourceReader(panel.Model, connection);
        var titles = new RowTitles(reader, panel.Panels);
        var (source, columns) = (new SourceRows(connection), titles.ColumnsOf(bound.Table));
        var found = await new RemovalRowReader(reader).ReadAsync(bound.Table, Core.Query.Filter.Join(chosen.Filter, bound.SetAside())!, [], chosen.Count, cancellationToken);
        if (found.Count == 0)
            return new ReturnOutcome.Gone();
        var rows = await source.LockAsync(bound.Table.Name, [.. found.Select(row => row.Place)], columns, cancellationToken);
        var names = await titles.ReadAsync(bound.Table, columns, [.. rows.Select(row => row.Values)], cancellationToken);
        var emptied = new[] { marker.At, marker.By }.OfType<string>().Where(column => column != marker.Column && bound.Table.Find(column)!.IsNullable);
        var (_, refused) = await logbook.CarryOutAsync(
            panel,
            LogAct.BroughtBack,
            transaction,
            [.. names.Select(named => new LoggedRecord(bound.Table.Name, named.Key, named.Title, LogAct.BroughtBack, []))],
            () => source.SetAsync(
                bound.Table.Name,
                [.. rows.Select(row => row.Place)],
                [(marker.Column, marker.Kind is MarkerKind.Time ? null : marker.InUse), .. emptied.Select(column => (column, (string?)null))],
                cancellationToken),
            cancellationToken);
        return refused is null ? new ReturnOutcome.Done(rows.Count, chosen.Count - rows.Count, []) : Refused(refused.Message);
    }

    /// <summary>Erases a parcel for good: what is in our keep, and what is marked in its table.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="parcel">The parcel.</param>
    /// <param name="typed">The number that was typed; null where the parcel's time is over, and nobody is asked.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<ReturnOutcome> EraseAsync(OpenPanel panel, long parcel, int? typed, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (await parcels.FindAsync(panel.Porch.Id, parcel, cancellationToken) is not { } found)
            return new ReturnOutcome.Gone();
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var parts = new List<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)>();
        foreach (var part in found.Parts)
            parts.Add((part, await parcels.RecordsAsync(parcel, part.Place, cancellationToken)));
        var going = parts.Where(part => part.Part.Act.Removes()).ToList();
        var count = going.Sum(part => part.Rows.Count);
        if (typed is not null && typed != count)
            return new ReturnOutcome.Refused([new("typed", string.Create(CultureInfo.InvariantCulture, $"{count:N0} records would be erased for good. Type this number."))]);
        var logged = going.SelectMany(part => part.Rows.Select(row => new LoggedRecord(new TableName(part.Part.Schema, part.Part.Table), row.Key, row.Title, LogAct.Erased, [])));
        return await WithinAsync(panel, parcel, LogAct.Erased, [.. logged], transaction, parts, async () =>
        {
            await DeleteMarkedAsync(panel, new SourceRows(connection), going, cancellationToken);
            return new ReturnOutcome.Done(count, 0, []);
        }, cancellationToken);
    }

    // A record that somebody brought back in his own program is not erased here.
    private static async Task DeleteMarkedAsync(
        OpenPanel panel, SourceRows source, IEnumerable<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)> parts, CancellationToken cancellationToken)
    {
        foreach (var group in parts.Where(part => part.Part.Act is PartAct.Marked).GroupBy(part => part.Part.Group).OrderBy(group => group.Key))
        {
            var deleted = new List<(TableName, IReadOnlyList<string>)>();
            foreach (var (part, rows) in group)
            {
                var table = new TableName(part.Schema, part.Table);
                if (panel.Panels.BoundOver(table) is not { Marker: { } marker })
                    continue;
                var keys = rows.Select(row => part.Identity.Select(column => row.Values[part.Columns.ToList().IndexOf(column)]).ToArray()).ToList();
                var there = await source.FindAsync(table, part.Identity, keys, [marker.Column], cancellationToken);
                var places = there.Where(row => row is { } one && (marker.Kind is MarkerKind.Time ? one.Values[0] is not null : one.Values[0] == marker.Removed)).Select(row => row!.Value.Place);
                deleted.Add((table, [.. places]));
            }

            if (deleted.Count > 0)
                await source.DeleteAsync(deleted, cancellationToken);
        }
    }

    private async Task<Returning?> LoadAsync(
        OpenPanel panel, long parcel, IReadOnlyList<WantedPart>? wanted, IReadOnlyList<ConflictChoice> choices, NpgsqlConnection connection, bool isTrial, CancellationToken cancellationToken)
    {
        if (await parcels.FindAsync(panel.Porch.Id, parcel, cancellationToken) is not { Parcel.State: ParcelState.Kept } found)
            return null;
        var work = new Returning(panel, new SourceRows(connection), found.Parcel.MadeBy, isTrial, cancellationToken);
        foreach (var part in found.Parts)
        {
            var rows = await parcels.RecordsAsync(parcel, part.Place, cancellationToken);
            // What lost a reference gets it again whenever anything comes back.
            var isWhole = wanted is null || !part.Act.Removes();
            work.Add(part, rows, row => isWhole || wanted!.FirstOrDefault(one => one.Place == part.Place)?.Has(row.Number) == true);
        }

        await work.SettleAsync(choices);
        return work;
    }

    private static LoggedRecord Logged(OpenPanel panel, ReturningRows part, ParcelRecordRow row)
    {
        var changes = part.ChangesOf(row).Select(change => ValueChange.Of(panel.Panels, part.Table.Name, change.Column, change.Before, change.After));
        return new LoggedRecord(part.Table.Name, part.KeyOf(row), row.Title, LogAct.BroughtBack, [.. changes]);
    }

    private async Task<ReturnOutcome> WithinAsync(
        OpenPanel panel, long parcel, LogAct act, IReadOnlyList<LoggedRecord> logged, NpgsqlTransaction transaction,
        IReadOnlyList<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)> rows, Func<Task<ReturnOutcome>> work, CancellationToken cancellationToken)
    {
        var number = await new SourceRows(transaction.Connection!).TransactionAsync(cancellationToken);
        var entry = await logbook.WriteAsync(panel, act, number, logged, cancellationToken, parcel);
        var isOpen = true;
        var isBegun = false;
        ReturnOutcome outcome;
        try
        {
            isBegun = await parcels.BeginReturnAsync(parcel, entry, number, cancellationToken);
            if (!isBegun)
                return new ReturnOutcome.Gone();
            foreach (var (part, coming) in rows)
                await parcels.MarkReturningAsync(parcel, part.Place, [.. coming.Select(row => row.Number)], cancellationToken);
            await AtStage(RemovalStage.Written);
            outcome = await work();
            await AtStage(RemovalStage.Removed);
            await transaction.CommitAsync(cancellationToken);
            isOpen = false;
            await AtStage(RemovalStage.Committed);
        }
        catch (PostgresException answer) when (isOpen && RefusalText.Explain(answer, panel.Bound!) is { } problem)
        {
            return Refused(problem.Message);
        }
        catch (SimulatedCrash)
        {
            isOpen = false;
            throw;
        }
        finally
        {
            if (isOpen)
            {
                await transaction.GiveUpAsync();
                if (isBegun)
                    await parcels.StayAsync(parcel, CancellationToken.None);
                await logbook.SettleAsync(entry, happened: false, CancellationToken.None);
            }
        }

        await parcels.TakeOutReturnedAsync(parcel, CancellationToken.None);
        await logbook.SettleAsync(entry, happened: true, CancellationToken.None);
        return outcome;
    }

    private static ReturnOutcome.Refused Refused(string message) => new([new FieldProblem("", message)]);
}
