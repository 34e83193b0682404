using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;

namespace PlainPorch.Data.Records;

/// <summary>Records of another panel that are written together with one that they refer to.</summary>
/// <param name="Writer">Writes them.</param>
/// <param name="Column">The column of theirs that refers to it.</param>
/// <param name="Added">Checked values of new ones, without that column.</param>
/// <param name="Changed">What changes in present ones.</param>
/// <param name="Name">What problems are named by: they stand at <c>NAME.added.0.COLUMN</c> or <c>NAME.changed.0.COLUMN</c>.</param>
public sealed record Belonging(
    RecordWriter Writer,
    BoundColumn Column,
    IReadOnlyList<IReadOnlyDictionary<string, string?>> Added,
    IReadOnlyList<BelongingChange> Changed,
    string Name
);

/// <summary>What changes in a record that belongs to another.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Version">The version that was shown.</param>
/// <param name="Values">Checked values of the columns to change.</param>
public sealed record BelongingChange(string Key, uint Version, IReadOnlyDictionary<string, string?> Values);

/// <summary>A record is written together with those that belong to it: all of it in one transaction, or nothing.</summary>
public sealed partial class RecordWriter
{
    // What belongs to a record that itself stays as it is.
    private async Task<WriteOutcome> BesidesAsync(
        string key,
        IReadOnlyList<string> keyValues,
        IReadOnlyList<Belonging> belonging,
        CancellationToken cancellationToken
    )
    {
        try
        {
            await using var session = await store.WriteAsync(cancellationToken);
            if (await store.ReadWholeAsync(session.Reader, keyValues, cancellationToken) is not { } record)
                return new WriteOutcome.Gone();
            return ToOutcome(
                await EndAsync<WriteOutcome.Written>(
                    session,
                    async () =>
                    {
                        var witnesses = new Witnesses(session.Rows);
                        var others = await WriteBelongingAsync(session, record.Values, belonging, witnesses, cancellationToken);
                        var view = await ViewAsync(session, key, null, cancellationToken);
                        return new Act<WriteOutcome.Written>(LogAct.Changed, others, _ => new WriteOutcome.Written(view))
                        {
                            Witnesses = witnesses,
                            Anew = () => AnewAsync(session, key, cancellationToken),
                        };
                    },
                    cancellationToken
                )
            );
        }
        catch (BelongingRefusedException refused)
        {
            return new WriteOutcome.Refused(refused.Problems);
        }
    }

    private static async Task<IReadOnlyList<LoggedRecord>> WriteBelongingAsync(
        WriteSession session,
        IReadOnlyDictionary<string, string?> record,
        IReadOnlyList<Belonging> belonging,
        Witnesses witnesses,
        CancellationToken cancellationToken
    )
    {
        var logged = new List<LoggedRecord>();
        foreach (var part in belonging)
        {
            for (var i = 0; i < part.Added.Count; i++)
                logged.AddRange(
                    await part.Writer.AddOneAsync(
                        session,
                        await part.Writer.WithReferenceAsync(
                            session,
                            part,
                            record,
                            part.Added[i],
                            $"added.{i}",
                            cancellationToken
                        ),
                        new Place(part.Name, $"added.{i}"),
                        witnesses,
                        cancellationToken
                    )
                );
            for (var i = 0; i < part.Changed.Count; i++)
                logged.Add(
                    await part.Writer.ChangeOneAsync(
                        session,
                        part.Changed[i],
                        new Place(part.Name, $"changed.{i}"),
                        witnesses,
                        cancellationToken
                    )
                );
        }

        return logged;
    }

    private async Task<IReadOnlyDictionary<string, string?>> WithReferenceAsync(
        WriteSession session,
        Belonging part,
        IReadOnlyDictionary<string, string?> record,
        IReadOnlyDictionary<string, string?> values,
        string place,
        CancellationToken cancellationToken
    )
    {
        if (
            store.Seen.Porch.Bind(part.Column) is not { } lookup
            || record.GetValueOrDefault(lookup.Lookup.Key) is not { } referred
            || lookup.ReferredBy(record.GetValueOrDefault) is null
        )
            throw new BelongingRefusedException([
                new($"{part.Name}.{place}", "The record has no value that others can refer to. Fill it in first."),
            ]);
        var example = await store.ExampleAsync(session.Reader, part.Column, cancellationToken);
        var filled = new Dictionary<string, string?>(values) { [part.Column.Name] = lookup.WrittenAs(referred, example) };
        foreach (var pair in lookup.Lookup.Also)
            filled[pair.From] = record[pair.Column];
        return filled;
    }

    private async Task<IReadOnlyList<LoggedRecord>> AddOneAsync(
        WriteSession session,
        IReadOnlyDictionary<string, string?> given,
        Place place,
        Witnesses witnesses,
        CancellationToken cancellationToken
    )
    {
        var numbered = NextNumber.ColumnOf(Panel) is { } column && !given.ContainsKey(column.Name) ? column : null;
        var values = WithStamps(given, isNew: true);
        try
        {
            var (put, problem) = await PutNewAsync(session, values, numbered, cancellationToken);
            if (put is null)
                throw place.Refuse([problem!]);
            witnesses.Stays(Panel.Table.Name, Panel.Identity.Columns, InDatabase(put.KeyValues), null);
            var now = (await store.ReadWholeAsync(session.Reader, put.KeyValues, cancellationToken))?.Values ?? values;
            var added = Logged(put.Key, null, LogAct.Added, new Dictionary<string, string?>(), now);
            return put.Moved > 0 ? [added, MovedAside(put.Moved)] : [added];
        }
        catch (DbUpdateException refused) when (refused.InnerException is PostgresException answer)
        {
            throw place.Refuse((await RefuseAsync(answer, values, refused, cancellationToken)).Problems);
        }
        catch (PostgresException answer)
        {
            throw place.Refuse((await RefuseAsync(answer, values, answer, cancellationToken)).Problems);
        }
        catch (DbUpdateConcurrencyException)
        {
            throw place.Refuse(SilentlyRefused().Problems);
        }
    }

    private async Task<LoggedRecord> ChangeOneAsync(
        WriteSession session,
        BelongingChange change,
        Place place,
        Witnesses witnesses,
        CancellationToken cancellationToken
    )
    {
        var values = WithStamps(change.Values, isNew: false);
        try
        {
            if (
                store.KeyValues(change.Key) is not { } keyValues
                || await RewriteAsync(session, keyValues, change.Version, values, cancellationToken) is not { } rewritten
            )
                throw place.Refuse([
                    new(
                        "",
                        "Somebody has changed or removed this record since it was shown. Nothing was saved. Look at it again."
                    ),
                ]);
            if (await CircleAsync(session, values, rewritten.KeyValues.SequenceEqual, cancellationToken) is { } circle)
                throw place.Refuse([circle]);
            witnesses.Stays(
                Panel.Table.Name,
                Panel.Identity.Columns,
                InDatabase(rewritten.KeyValues),
                RecordKey.Write(rewritten.KeyValues) == change.Key
                    ? change.Version.ToString(System.Globalization.CultureInfo.InvariantCulture)
                    : null
            );
            return Logged(RecordKey.Write(rewritten.KeyValues), null, LogAct.Changed, rewritten, values);
        }
        catch (PostgresException answer)
        {
            throw place.Refuse((await RefuseAsync(answer, values, answer, cancellationToken)).Problems);
        }
    }

    private sealed record Place(string Belonging, string Line)
    {
        public BelongingRefusedException Refuse(IReadOnlyList<FieldProblem> problems) =>
            new([
                .. problems.Select(problem =>
                    problem with
                    {
                        Field = $"{Belonging}.{Line}{(problem.Field.Length == 0 ? "" : ".")}{problem.Field}",
                    }
                ),
            ]);
    }

    // Leaves the transaction, which must not come to pass.
    private sealed class BelongingRefusedException(IReadOnlyList<FieldProblem> problems) : Exception("A record was refused.")
    {
        public IReadOnlyList<FieldProblem> Problems => problems;
    }
}
