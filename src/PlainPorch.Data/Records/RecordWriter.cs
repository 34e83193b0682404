using System.Globalization;
using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Query;
using Npgsql;
using PlainPorch.Core.Filters;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>Writes the records of one panel. What the database refuses comes back as a problem of a field.</summary>
/// <param name="store">The panel's records.</param>
/// <param name="acts">Carries out what is done, with an entry of the logbook; null for work that nobody is told of.</param>
/// <param name="opened">The panel, where there is a logbook.</param>
public sealed partial class RecordWriter(RecordStore store, ActRunner? acts = null, OpenPanel? opened = null)
{
    // Another program may take the number between our look and our insert; it will not do so five times.
    private const int NumberingTries = 5;

    private static readonly System.Reflection.MethodInfo _setProperty = typeof(UpdateSettersBuilder<Row>)
        .GetMethods()
        .Single(method =>
            method is { Name: nameof(UpdateSettersBuilder<Row>.SetProperty), IsGenericMethodDefinition: true }
            && typeof(LambdaExpression).IsAssignableFrom(method.GetParameters()[1].ParameterType)
        );

    private RecordStore Store => store;

    private bool IsLogged => acts is not null;

    private BoundPanel Panel => store.Seen.Panel;

    /// <summary>Adds a record. What collides with somebody else's work is tried again.</summary>
    /// <param name="values">Checked values in the one text form; columns left out get their default.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <param name="belonging">Records of other panels that are written with it, or none of them; null for none.</param>
    public async Task<WriteOutcome> AddAsync(
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken,
        IReadOnlyList<Belonging>? belonging = null
    )
    {
        ArgumentNullException.ThrowIfNull(values);
        return await Collisions.TryAgainAsync(() => AddOnceAsync(values, belonging, cancellationToken), cancellationToken);
    }

    private async Task<WriteOutcome> AddOnceAsync(
        IReadOnlyDictionary<string, string?> values,
        IReadOnlyList<Belonging>? belonging,
        CancellationToken cancellationToken
    )
    {
        var numbered = NextNumber.ColumnOf(Panel) is { } column && !values.ContainsKey(column.Name) ? column : null;
        values = WithStamps(values, isNew: true);
        for (var attempt = 1; ; attempt++)
        {
            try
            {
                return await InsertAsync(values, numbered, belonging ?? [], cancellationToken);
            }
            catch (BelongingRefusedException refused)
            {
                return new WriteOutcome.Refused(refused.Problems);
            }
            catch (DbUpdateException refused) when (refused.InnerException is PostgresException answer)
            {
                var numberTaken =
                    numbered is not null
                    && answer.SqlState == PostgresErrorCodes.UniqueViolation
                    && attempt < NumberingTries
                    && Panel.Table.Keys.Any(key =>
                        key.Name == answer.ConstraintName && key.Columns is [var only] && only == numbered.Name
                    );
                if (!numberTaken)
                    return await RefuseAsync(answer, values, refused, cancellationToken);
            }
            catch (DbUpdateConcurrencyException)
            {
                return SilentlyRefused();
            }
        }
    }

    /// <summary>
    /// Changes a record, if it is still the version that was shown. What collides with somebody else's work is tried again.
    /// </summary>
    /// <param name="key">Its key.</param>
    /// <param name="version">The version that was shown.</param>
    /// <param name="values">Checked values of the columns to change, in the one text form.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <param name="belonging">Records of other panels that are written with it, or none of them; null for none.</param>
    public async Task<WriteOutcome> UpdateAsync(
        string key,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken,
        IReadOnlyList<Belonging>? belonging = null
    )
    {
        ArgumentNullException.ThrowIfNull(values);
        return await Collisions.TryAgainAsync(
            () => UpdateOnceAsync(key, version, values, belonging, cancellationToken),
            cancellationToken
        );
    }

    private async Task<WriteOutcome> UpdateOnceAsync(
        string key,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        IReadOnlyList<Belonging>? belonging,
        CancellationToken cancellationToken
    )
    {
        if (store.KeyValues(key) is not { } keyValues)
            return new WriteOutcome.Gone();
        if (values.Count == 0)
            return belonging is not { Count: > 0 }
                ? await WhatIsThereAsync(key, version, cancellationToken)
                : await BesidesAsync(key, keyValues, belonging, cancellationToken);
        values = WithStamps(values, isNew: false);
        try
        {
            await using var session = await store.WriteAsync(cancellationToken);
            if (await RewriteAsync(session, keyValues, version, values, cancellationToken) is not { } rewritten)
            {
                await session.Transaction.RollbackAsync(cancellationToken);
                return await WhyNothingAsync(key, version, cancellationToken);
            }

            var newKeyValues = rewritten.KeyValues;
            var newKey = RecordKey.Write(newKeyValues);
            if (newKey != key && await IsDoubledAsync(session, newKeyValues, cancellationToken))
                return Taken();
            if (await CircleAsync(session, values, one => RecordKey.Write(one) == newKey, cancellationToken) is { } circle)
                return Refused(circle);
            return ToOutcome(
                await EndAsync<WriteOutcome.Written>(
                    session,
                    async () =>
                    {
                        var witnesses = new Witnesses(session.Rows);
                        witnesses.Stays(
                            Panel.Table.Name,
                            Panel.Identity.Columns,
                            InDatabase(newKeyValues),
                            newKey == key ? version.ToString(CultureInfo.InvariantCulture) : null
                        );
                        var others = await WriteBelongingAsync(
                            session,
                            rewritten.After?.Values ?? values,
                            belonging ?? [],
                            witnesses,
                            cancellationToken
                        );
                        var view = await ViewAsync(
                            session,
                            newKey,
                            // What is written beside it may have the database write to it again.
                            others.Count == 0
                                ? rewritten.After
                                : null,
                            cancellationToken
                        );
                        return new Act<WriteOutcome.Written>(
                            LogAct.Changed,
                            [Logged(newKey, view?.Title, LogAct.Changed, rewritten, values), .. others],
                            _ => new WriteOutcome.Written(view)
                        )
                        {
                            Witnesses = witnesses,
                            Anew = () => AnewAsync(session, newKey, cancellationToken),
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
        catch (PostgresException answer)
        {
            return await RefuseAsync(answer, values, answer, cancellationToken);
        }
    }

    private async Task<WriteOutcome> InsertAsync(
        IReadOnlyDictionary<string, string?> values,
        BoundColumn? numbered,
        IReadOnlyList<Belonging> belonging,
        CancellationToken cancellationToken
    )
    {
        await using var session = await store.WriteAsync(cancellationToken);
        var (put, problem) = await PutNewAsync(session, values, numbered, cancellationToken);
        if (put is not { Key: var key, KeyValues: var keyValues, Moved: var moved })
            return Refused(problem!);
        return ToOutcome(
            await EndAsync<WriteOutcome.Written>(
                session,
                async () =>
                {
                    var witnesses = new Witnesses(session.Rows);
                    witnesses.Stays(Panel.Table.Name, Panel.Identity.Columns, InDatabase(keyValues), null);
                    var row = await store.ReadWholeAsync(session.Reader, keyValues, cancellationToken);
                    var now = row?.Values ?? values;
                    var others = await WriteBelongingAsync(session, now, belonging, witnesses, cancellationToken);
                    var view = await ViewAsync(session, key, others.Count == 0 ? row : null, cancellationToken);
                    var added = Logged(key, view?.Title, LogAct.Added, new Dictionary<string, string?>(), now);
                    IReadOnlyList<LoggedRecord> made = moved > 0 ? [added, MovedAside(moved)] : [added];
                    return new Act<WriteOutcome.Written>(LogAct.Added, [.. made, .. others], _ => new WriteOutcome.Written(view))
                    {
                        Witnesses = witnesses,
                        Anew = () => AnewAsync(session, key, cancellationToken),
                    };
                },
                cancellationToken
            )
        );
    }

    // What is told of the record, where it was written to again within the act.
    private async Task<Func<ActPlace, WriteOutcome.Written>> AnewAsync(
        WriteSession session,
        string key,
        CancellationToken cancellationToken
    )
    {
        var view = await ViewAsync(session, key, null, cancellationToken);
        return _ => new WriteOutcome.Written(view);
    }

    private async Task<ActEnd<T>> EndAsync<T>(WriteSession session, Func<Task<Act<T>>> act, CancellationToken cancellationToken)
        where T : class
    {
        if (acts is not null)
            return await acts.CarryOutAsync(
                opened!,
                session.Transaction,
                async () => (await act(), (FieldProblem?)null),
                cancellationToken
            );
        var done = (await act()).Result(new ActPlace(0, null));
        await session.Transaction.CommitAsync(CancellationToken.None);
        return new ActEnd<T>.Done(done);
    }

    // Read before the transaction ends, so that it can be answered whatever happens after. What cannot be read must not undo what
    // was written.
    private async Task<RecordView?> ViewAsync(
        WriteSession session,
        string key,
        WholeRow? row,
        CancellationToken cancellationToken
    )
    {
        // What is read already asks the database for nothing that it could refuse.
        if (row is not null && !store.AsksForTitles(row))
            return await store.ViewAsync(session.Reader, key, row, cancellationToken);
        return await WithinSavepointAsync<RecordView>(
            session,
            async () =>
                row is null
                    ? await store.FindAsync(session.Reader, key, cancellationToken)
                    : await store.ViewAsync(session.Reader, key, row, cancellationToken),
            goesOn: false,
            cancellationToken
        );
    }

    private static async Task<T?> WithinSavepointAsync<T>(
        WriteSession session,
        Func<Task<T?>> read,
        bool goesOn,
        CancellationToken cancellationToken
    )
        where T : class
    {
        const string Before = "before_reading";
        await session.Transaction.SaveAsync(Before, cancellationToken);
        try
        {
            var found = await read();
            // What is written within it would bear its number.
            if (goesOn)
                await session.Transaction.ReleaseAsync(Before, cancellationToken);
            return found;
        }
        catch (PostgresException)
        {
            await session.Transaction.RollbackAsync(Before, cancellationToken);
            return null;
        }
    }

    private string?[] InDatabase(IReadOnlyList<string> keyValues) =>
        [.. Panel.Identity.Columns.Zip(keyValues, (name, text) => ClrValue.InDatabase(Panel.Table.Find(name)!.Type, text))];

    private static WriteOutcome ToOutcome(ActEnd<WriteOutcome.Written> end) =>
        end switch
        {
            ActEnd<WriteOutcome.Written>.Done(var done) => done,
            ActEnd<WriteOutcome.Written>.Refused(var problems) => new WriteOutcome.Refused(problems),
            var other => throw new InvalidOperationException($"An end that is not known here: {other}."),
        };

    private IReadOnlyDictionary<string, string?> WithStamps(IReadOnlyDictionary<string, string?> values, bool isNew)
    {
        var stamps = Stamps.For(Panel, isNew, acts?.Caller.Name ?? Caller.ThisComputer, store.Seen.Porch.Now);
        return stamps.Count == 0 ? values : values.Concat(stamps.Where(stamp => !values.ContainsKey(stamp.Key))).ToDictionary();
    }

    // What the database's own rules put out of reach is told as it was asked for.
    private LoggedRecord Logged(
        string key,
        string? title,
        LogAct act,
        Rewritten rewritten,
        IReadOnlyDictionary<string, string?> values
    ) =>
        Logged(key, title, act, rewritten.Before?.Values ?? new Dictionary<string, string?>(), rewritten.After?.Values ?? values);

    // Where the database would not tell the title, it is made of the record's own values.
    private LoggedRecord Logged(
        string key,
        string? title,
        LogAct act,
        IReadOnlyDictionary<string, string?> before,
        IReadOnlyDictionary<string, string?> after
    )
    {
        var name = title
            ?? Panel.Title.Render(column => after.GetValueOrDefault(column) ?? before.GetValueOrDefault(column), fallback: key);
        return new LoggedRecord(
            Panel.Table.Name,
            Panel.Identity.ByPlace ? null : key,
            name,
            act,
            ValueChange.Between(Panel, before, after)
        );
    }

    private string KeyOf(Dictionary<string, string?> values) =>
        RecordKey.Write([.. Panel.Identity.Columns.Select(column => values[column] ?? "")]);

    private IQueryable<Row> Target(WriteSession session, IReadOnlyList<string> keyValues, uint version) =>
        store.Query.WithVersion(store.Matching(session.Context, RecordKey.ToWrite(Panel, keyValues)), version);

    private void Set(UpdateSettersBuilder<Row> setters, IReadOnlyDictionary<string, string?> values)
    {
        foreach (var (name, text) in values)
        {
            var column = store.Query.Selector(name);
            _setProperty.MakeGenericMethod(column.ReturnType).Invoke(setters, [column, store.Query.Value(name, text)]);
        }
    }

    private async Task<WriteOutcome> WhatIsThereAsync(string key, uint version, CancellationToken cancellationToken) =>
        await store.FindAsync(key, cancellationToken) switch
        {
            null => new WriteOutcome.Gone(),
            var current when current.Version != version => new WriteOutcome.Conflict(current),
            var current => new WriteOutcome.Written(current),
        };

    private async Task<WriteOutcome> WhyNothingAsync(string key, uint version, CancellationToken cancellationToken)
    {
        var there = await WhatIsThereAsync(key, version, cancellationToken);
        if (there is not WriteOutcome.Written)
            return there;
        await using var session = await store.WriteAsync(cancellationToken);
        return await IsDoubledAsync(session, store.KeyValues(key)!, cancellationToken)
            ? Refused(new("", DoubledKey.Says(Panel)))
            : SilentlyRefused();
    }

    private async Task<WriteOutcome.Refused> RefuseAsync(
        PostgresException answer,
        IReadOnlyDictionary<string, string?> values,
        Exception thrown,
        CancellationToken cancellationToken
    )
    {
        if (RefusalText.IsAboutValueText(answer) && await FindUnreadableAsync(values, cancellationToken) is { } blamed)
            return Refused(
                new(
                    blamed.Name,
                    $"The database cannot store this as {blamed.Type.Domain ?? blamed.Type.StoreType}: {answer.MessageText}. Correct it."
                )
            );
        return RefusalText.Explain(answer, Panel) is { } problem
            ? Refused(problem)
            : throw new InvalidOperationException($"The database failed while writing to {Panel.Table.Name}.", thrown);
    }

    // The database does not say which value it could not read, so each one that only it can read is shown to it alone.
    private async Task<BoundColumn?> FindUnreadableAsync(
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        await using var context = store.Open();
        foreach (var (name, text) in values)
        {
            if (text is null || Panel.FindToWrite(name) is not { } column || !ClrValue.IsSentUntyped(column.Type))
                continue;
            try
            {
                var probe = store.Matching(context, new Filter.EqualTo(name, text));
                await probe.Select(_ => 1).Take(1).CountAsync(cancellationToken);
            }
            catch (PostgresException answer) when (RefusalText.IsAboutValueText(answer))
            {
                return column;
            }
            catch (PostgresException answer) when (answer.SqlState == PostgresErrorCodes.UndefinedFunction)
            {
                // A type without equality (a point, say) cannot be asked about in this way.
            }
        }

        return null;
    }

    private static WriteOutcome.Refused Refused(FieldProblem problem) => new([problem]);

    private static WriteOutcome.Refused SilentlyRefused() =>
        Refused(
            new(
                "",
                "The database accepted the request but changed nothing: a trigger or rule of the table prevents it. Ask the database administrator."
            )
        );
}
