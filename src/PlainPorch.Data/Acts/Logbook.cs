using System.Text.Json;
using Npgsql;
using NpgsqlTypes;
using PlainPorch.Core.Acts;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Code;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Acts;

/// <summary>What an entry is to say.</summary>
/// <param name="Panel">The panel where it is done.</param>
/// <param name="Act">What is done.</param>
/// <param name="Transaction">The source's number of the transaction that does it.</param>
/// <param name="Records">The records.</param>
/// <param name="Parcel">The parcel that it makes, brings back or erases; null for none.</param>
/// <param name="Witnesses">Rows by which it can be seen later whether it came to pass.</param>
/// <param name="Despite">The checks that warned of it.</param>
/// <param name="Afterwards">What code of one's own is to do once it has come to pass.</param>
internal sealed record LogNote(
    OpenPanel Panel,
    LogAct Act,
    string Transaction,
    IReadOnlyList<LoggedRecord> Records,
    long? Parcel,
    IReadOnlyList<RowWitness> Witnesses,
    IReadOnlyList<string> Despite,
    IReadOnlyList<AskedAfterwards> Afterwards
);

/// <summary>
/// Writes the logbook. An entry is written before the source's transaction ends, with that transaction's number, and confirmed
/// after:
/// so nothing is ever changed without an entry, and what a crash leaves open can be settled.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="caller">Who does it.</param>
/// <param name="time">Tells when.</param>
public sealed class Logbook(CatalogContext catalog, Caller caller, TimeProvider time)
{
    // From so many on they are copied in a stream.
    private const int Many = 50;

    private const string Copy =
        """COPY porch.log_record ("EntryId", "Number", "SourceId", "Schema", "Table", "Key", "Title", "Act", "Changes") FROM STDIN (FORMAT BINARY)""";

    /// <summary>Who does what is written.</summary>
    public Caller Caller => caller;

    /// <summary>
    /// Writes an entry, as something that is about to happen, with what is needed to find out later whether it did.
    /// </summary>
    /// <param name="note">What is written.</param>
    /// <param name="answer">What is answered once it has come to pass; given the entry's number.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>The entry's number.</returns>
    internal async Task<long> WriteAsync(LogNote note, Func<long, object> answer, CancellationToken cancellationToken)
    {
        var records = note.Records;
        var entry = new LogEntryRow
        {
            At = time.GetUtcNow(),
            Who = caller.Name,
            From = caller.From,
            SourceId = note.Panel.Source.Id,
            PorchId = note.Panel.Porch.Id,
            Panel = note.Panel.Definition.Slug,
            Act = note.Act,
            Title = records.Count == 0 ? "" : records[0].Title,
            Count = records.Count,
            ParcelId = note.Parcel,
            Transaction = note.Transaction,
            Despite = [.. note.Despite],
        };
        catalog.LogEntries.Add(entry);
        await catalog.SaveChangesAsync(cancellationToken);
        try
        {
            await WriteAsync(note, entry.Id, answer(entry.Id), cancellationToken);
        }
        catch
        {
            // Of an entry that is not whole it is certain that it did not come to pass: the source was never told to commit.
            catalog.ChangeTracker.Clear();
            catalog.LogOutcomes.Add(
                new LogOutcomeRow
                {
                    EntryId = entry.Id,
                    Happened = false,
                    At = time.GetUtcNow(),
                }
            );
            await catalog.SaveChangesAsync(CancellationToken.None);
            throw;
        }
        finally
        {
            catalog.ChangeTracker.Clear();
        }

        return entry.Id;
    }

    private async Task WriteAsync(LogNote note, long entry, object answer, CancellationToken cancellationToken)
    {
        var rows = note.Records.Select(
            (record, i) =>
                new LogRecordRow
                {
                    EntryId = entry,
                    Number = i,
                    SourceId = note.Panel.Source.Id,
                    Schema = record.Table.Schema,
                    Table = record.Table.Name,
                    Key = record.Key,
                    Title = record.Title,
                    Act = record.Act,
                    Changes = JsonSerializer.Serialize(record.Changes, DefinitionJson.Options),
                }
        );
        if (note.Witnesses.Count > 0)
            catalog.ActWitnesses.Add(
                new ActWitnessRow { EntryId = entry, Content = JsonSerializer.Serialize(note.Witnesses, DefinitionJson.Options) }
            );
        catalog.AddRange(
            note.Afterwards.Select(asked => new CodeEffectRow
            {
                EntryId = entry,
                Code = asked.Code,
                Content = asked.Content,
                DueAt = time.GetUtcNow(),
            })
        );
        if (caller.RequestKey is { } key)
            PromiseAnswer(key, entry, answer);
        if (note.Records.Count < Many)
            catalog.LogRecords.AddRange(rows);
        await catalog.SaveChangesAsync(cancellationToken);
        if (note.Records.Count >= Many)
            await catalog.CopyAsync(Copy, rows, WriteAsync, cancellationToken);
    }

    // It holds as soon as the entry has come to pass.
    private void PromiseAnswer(string key, long entry, object answer)
    {
        var kept = new KeptAnswerRow { Key = key, Fingerprint = "" };
        catalog.Attach(kept);
        kept.EntryId = entry;
        kept.Result = JsonSerializer.Serialize(answer, answer.GetType(), DefinitionJson.Options);
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
