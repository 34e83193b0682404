using System.Text.Json;
using Npgsql;
using NpgsqlTypes;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Records;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.History;

/// <summary>What is to be written about one record.</summary>
/// <param name="Table">Its table.</param>
/// <param name="Key">Its key; null where its table has none.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Act">What is done with it.</param>
/// <param name="Changes">The values that change; empty where none or all do.</param>
public sealed record LoggedRecord(TableName Table, string? Key, string Title, LogAct Act, IReadOnlyList<ValueChange> Changes);

/// <summary>
/// Writes the logbook. An entry is written before the source's transaction ends, with that transaction's number, and confirmed after:
/// so nothing is ever changed without an entry, and what a crash leaves open can be settled.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="caller">Who does it.</param>
/// <param name="time">Tells when.</param>
public sealed class Logbook(CatalogContext catalog, Caller caller, TimeProvider time)
{
    // From so many on they are copied in a stream.
    private const int Many = 50;

    private const string Copy = """COPY porch.log_record ("EntryId", "Number", "SourceId", "Schema", "Table", "Key", "Title", "Act", "Changes") FROM STDIN (FORMAT BINARY)""";

    /// <summary>Who does what is written.</summary>
    public Caller Caller => caller;

    /// <summary>Writes an entry, as something that is about to happen.</summary>
    /// <param name="panel">The panel where it is done.</param>
    /// <param name="act">What is done.</param>
    /// <param name="transaction">The source's number of the transaction that does it.</param>
    /// <param name="records">The records.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <param name="parcelId">The parcel that it makes, brings back or erases; null for none.</param>
    /// <returns>The entry's number.</returns>
    public async Task<long> WriteAsync(
        OpenPanel panel, LogAct act, string transaction, IReadOnlyList<LoggedRecord> records, CancellationToken cancellationToken, long? parcelId = null)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(records);
        var entry = new LogEntryRow
        {
            At = time.GetUtcNow(),
            Who = caller.Name,
            From = caller.From,
            SourceId = panel.Source.Id,
            PorchId = panel.Porch.Id,
            Panel = panel.Definition.Slug,
            Act = act,
            Title = records.Count == 0 ? "" : records[0].Title,
            Count = records.Count,
            ParcelId = parcelId,
            Transaction = transaction,
        };
        catalog.LogEntries.Add(entry);
        await catalog.SaveChangesAsync(cancellationToken);
        var rows = records.Select((record, i) => new LogRecordRow
        {
            EntryId = entry.Id,
            Number = i,
            SourceId = panel.Source.Id,
            Schema = record.Table.Schema,
            Table = record.Table.Name,
            Key = record.Key,
            Title = record.Title,
            Act = record.Act,
            Changes = JsonSerializer.Serialize(record.Changes, DefinitionJson.Options),
        });
        if (records.Count >= Many)
        {
            await catalog.CopyAsync(Copy, rows, WriteAsync, cancellationToken);
        }
        else
        {
            catalog.LogRecords.AddRange(rows);
            await catalog.SaveChangesAsync(cancellationToken);
        }

        catalog.ChangeTracker.Clear();
        return entry.Id;
    }

    /// <summary>Carries work out within a transaction of the source, with an entry that is written before it ends and confirmed after.</summary>
    /// <param name="panel">The panel where it is done; its table must be there.</param>
    /// <param name="act">What is done.</param>
    /// <param name="transaction">The transaction.</param>
    /// <param name="records">The records.</param>
    /// <param name="work">The work.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>The entry; and why the database refused, null where it did not.</returns>
    public async Task<(long Entry, FieldProblem? Problem)> CarryOutAsync(
        OpenPanel panel, LogAct act, NpgsqlTransaction transaction, IReadOnlyList<LoggedRecord> records, Func<Task> work, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(transaction);
        ArgumentNullException.ThrowIfNull(work);
        var number = await new SourceRows(transaction.Connection!).TransactionAsync(cancellationToken);
        var entry = await WriteAsync(panel, act, number, records, cancellationToken);
        var happened = false;
        try
        {
            await work();
            await transaction.CommitAsync(cancellationToken);
            happened = true;
            return (entry, null);
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, panel.Bound!) is { } problem)
        {
            return (entry, problem);
        }
        finally
        {
            await SettleAsync(entry, happened, CancellationToken.None);
        }
    }

    /// <summary>Writes down whether what an entry tells came to pass.</summary>
    public async Task SettleAsync(long entry, bool happened, CancellationToken cancellationToken)
    {
        catalog.LogOutcomes.Add(new LogOutcomeRow { EntryId = entry, Happened = happened, At = time.GetUtcNow() });
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
    }

    private static async Task WriteAsync(NpgsqlBinaryImporter import, LogRecordRow row, CancellationToken cancellationToken)
    {
        await import.WriteAsync(row.EntryId, cancellationToken);
        await import.WriteAsync(row.Number, cancellationToken);
        await import.WriteAsync(row.SourceId, cancellationToken);
        await import.WriteAsync(row.Schema, cancellationToken);
        await import.WriteAsync(row.Table, cancellationToken);
        await import.WriteAsync(row.Key, cancellationToken);
        await import.WriteAsync(row.Title, cancellationToken);
        await import.WriteAsync(row.Act.ToString(), cancellationToken);
        await import.WriteAsync(row.Changes, NpgsqlDbType.Jsonb, cancellationToken);
    }
}
