using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>How rows are written to, by a key or by their place, and that a key which nobody declared is not given twice.</summary>
public sealed partial class RecordWriter
{
    // The key of the new row; null where the database took the request but no row.
    private async Task<IReadOnlyList<string>?> PutAsync(
        WriteSession session,
        Row row,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        if (Panel.Identity.ByPlace)
            return (await session.Rows.AddAsync(Panel.Table.Name, Stored(values), cancellationToken))?.Parts;
        store.Rows(session.Context).Add(row);
        await session.Context.SaveChangesAsync(cancellationToken);
        // Whether a further row has the same key is for the database to say.
        session.Context.ChangeTracker.Clear();
        return
        [
            .. Panel.Identity.Columns.Select(name =>
                values.GetValueOrDefault(name) ?? ClrValue.Format(row[RecordModel.Property(name)]!)
            ),
        ];
    }

    // Null where the row is not there in this version, or is not the only one that is meant.
    private async Task<Rewritten?> RewriteAsync(
        WriteSession session,
        IReadOnlyList<string> keyValues,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        await TakeTurnAboveAsync(session, values, cancellationToken);
        if (Panel.Identity.ByPlace)
            return await RewriteAtPlaceAsync(session, keyValues, version, values, cancellationToken);
        IReadOnlyList<string> newKeyValues =
        [
            .. Panel.Identity.Columns.Zip(keyValues, (name, old) => values.GetValueOrDefault(name) ?? old),
        ];
        await using var batch = new NpgsqlBatch(session.Connection);
        if (IsLogged)
            Read(keyValues);
        using (var update = await UpdateCommandAsync(session, keyValues, version, values, cancellationToken))
            batch.BatchCommands.Add(Statements.MovedFrom(update));
        var change = batch.BatchCommands[^1];
        Read(newKeyValues);
        try
        {
            await using var answers = await batch.ExecuteReaderAsync(cancellationToken);
            var before = IsLogged ? store.ToWhole(await NextAsync(answers)) : null;
            var after = store.ToWhole(await NextAsync(answers));
            return change.RecordsAffected > 0 ? new Rewritten(newKeyValues, before, after) : null;
        }
        catch (PostgresException failure) when (session.Note(failure))
        {
            throw;
        }

        void Read(IReadOnlyList<string> key)
        {
            using var command = session.Reader.Command(Panel.Table, store.Whole(key));
            batch.BatchCommands.Add(Statements.MovedFrom(command));
        }

        async Task<string?[]?> NextAsync(NpgsqlDataReader answers)
        {
            var row = await answers.ReadAsync(cancellationToken) ? Statements.Read(answers) : null;
            await answers.NextResultAsync(cancellationToken);
            return row;
        }
    }

    // EF Core makes it, the first time that these columns of the table are written to.
    private Task<NpgsqlCommand> UpdateCommandAsync(
        WriteSession session,
        IReadOnlyList<string> keyValues,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        var test = store.Query.Test(RecordKey.ToWrite(Panel, keyValues))!;
        var shape = new QueryShape().Add("update");
        store.Query.Describe(shape);
        test.Describe(shape);
        shape.AddValue(version);
        foreach (var (name, text) in values)
        {
            shape.Add(name);
            if (ClrValue.From(Panel.Table.Find(name)!.Type, text) is { } value)
                shape.AddValue(value);
            else
                shape.Add("empty");
        }

        return session.Reader.CommandAsync(shape, () =>
            HeldBack.TakeAsync(session.Context, () =>
                Target(session, keyValues, version).ExecuteUpdateAsync(setters => Set(setters, values), cancellationToken)
            )
        );
    }

    private async Task<Rewritten?> RewriteAtPlaceAsync(
        WriteSession session,
        IReadOnlyList<string> keyValues,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        if (
            RowPlace.TryRead(keyValues) is not { } place
            || place.Version != version
            || await store.ReadWholeAsync(session.Reader, keyValues, cancellationToken) is not { } before
            || await session.Rows.RewriteAsync(Panel.Table.Name, place, Stored(values), cancellationToken) is not { } moved
        )
            return null;
        var after = await store.ReadWholeAsync(session.Reader, moved.Parts, cancellationToken);
        return new Rewritten(moved.Parts, before, after);
    }

    // The key that a row has after it was written to; the row before, where that is told to anybody; and after.
    private sealed record Rewritten(IReadOnlyList<string> KeyValues, WholeRow? Before, WholeRow? After);

    private List<(string Column, string? Value)> Stored(IReadOnlyDictionary<string, string?> values) =>
        [
            .. values.Select(pair =>
                (pair.Key, pair.Value is { } text ? ClrValue.InDatabase(Panel.Table.Find(pair.Key)!.Type, text) : null)
            ),
        ];

    // Where the database does not see to it that a key stays the only one.
    private Task<bool> IsDoubledAsync(
        WriteSession session,
        IReadOnlyList<string> keyValues,
        CancellationToken cancellationToken
    ) =>
        Panel.Identity.IsAssumed
            ? store.AreDoubledAsync(session.Context, RecordKey.Filter(Panel.Identity.Columns, keyValues), cancellationToken)
            : Task.FromResult(false);

    private WriteOutcome.Refused Taken() => Refused(new(Panel.Identity.Columns[^1], DoubledKey.Taken(Panel)));
}
