using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Npgsql;
using PlainPorch.Contract;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Code;

/// <summary>What code of one's own said of an act.</summary>
/// <param name="Records">The act's records, with what the code changed.</param>
/// <param name="Problems">Why it is refused; empty where it is not.</param>
/// <param name="Afterwards">What is to be done afterwards.</param>
/// <param name="HasWritten">Whether values were changed.</param>
internal sealed record CodeAnswer(
    IReadOnlyList<LoggedRecord> Records,
    IReadOnlyList<FieldProblem> Problems,
    IReadOnlyList<AskedAfterwards> Afterwards,
    bool HasWritten
);

/// <summary>Something to be done after an act.</summary>
/// <param name="Code">The class that asked for it.</param>
/// <param name="Content">What it needs to know.</param>
internal sealed record AskedAfterwards(string Code, string Content);

/// <summary>
/// Calls code of one's own within acts. It runs beside the thread that waits for it, so that one that hangs holds up nobody for longer than
/// the time that is set; what it did is taken only once it has ended well.
/// </summary>
/// <param name="shelf">The code.</param>
/// <param name="services">What its classes may ask for.</param>
/// <param name="time">Tells when.</param>
/// <param name="log">Gets what went wrong in it.</param>
public sealed partial class CodeRunner(CodeShelf shelf, IServiceProvider services, TimeProvider time, ILogger<CodeRunner> log)
    : ICodedColumns
{
    // Of a change of many so many records are told at a time.
    private const int AtOnce = 500;
    private const int MostOffered = 50;

    /// <summary>Calls the code about the records of an act.</summary>
    /// <param name="panel">The panel where it is done.</param>
    /// <param name="transaction">The act's transaction.</param>
    /// <param name="records">What it did to which records.</param>
    /// <param name="caller">Who does it.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    internal async Task<CodeAnswer> RunAsync(
        OpenPanel panel,
        NpgsqlTransaction transaction,
        IReadOnlyList<LoggedRecord> records,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        var (all, problems, afterwards) = (records.ToArray(), new List<FieldProblem>(), new List<AskedAfterwards>());
        var hasWritten = false;
        foreach (var (table, code) in records.Select(record => record.Table).Distinct().SelectMany(WithCode).ToList())
        {
            var places = Enumerable.Range(0, all.Length).Where(place => all[place].Table == table);
            foreach (var some in places.Chunk(AtOnce))
            {
                var told = await TellAsync(panel, transaction, [.. some.Select(place => all[place])], cancellationToken);
                var act = new ActInProgress(caller.Name, time.GetUtcNow(), told);
                if (await BeforeAsync(code, act, cancellationToken) is { } why)
                    return new CodeAnswer(records, [new FieldProblem("", $"{why} Nothing was saved.")], [], HasWritten: false);
                problems.AddRange(told.SelectMany(record => ProblemsOf(record, isOne: records.Count == 1)));
                if (problems.Count > 0)
                    continue;
                if (
                    told.SelectMany(record => record.WhatWasSet.Keys)
                        .FirstOrDefault(column => IsIdentifying(panel, table, column)) is
                    { } key
                )
                    return new CodeAnswer(
                        records,
                        [
                            new FieldProblem(
                                key,
                                $"The code {code.Name} sets {key}, by which the record is found. Nothing was saved."
                            ),
                        ],
                        [],
                        HasWritten: false
                    );
                afterwards.AddRange(act.AskedAfterwards.Select(content => new AskedAfterwards(code.Name, content)));
                foreach (var (place, record) in some.Zip(told).Where(pair => pair.Second.WhatWasSet.Count > 0))
                {
                    all[place] = await SetAsync(panel, transaction, all[place], record, cancellationToken);
                    hasWritten = true;
                }
            }
        }

        return new CodeAnswer(all, problems, afterwards, hasWritten);
    }

    /// <summary>Calls code after an act.</summary>
    /// <param name="code">The class.</param>
    /// <param name="afterwards">What it is to do.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>Why it did not do it; null where it did.</returns>
    internal Task<string?> AfterAsync(LoadedCode code, Afterwards afterwards, CancellationToken cancellationToken) =>
        CallAsync<IRecordCode>(
            code,
            (one, bound) => one.AfterAsync(afterwards, bound),
            shelf.Place.PatienceAfterwards,
            cancellationToken
        );

    /// <summary>The values that code offers for a field.</summary>
    /// <param name="table">The table.</param>
    /// <param name="column">The column.</param>
    /// <param name="typed">What was typed so far.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>The values; null where no code offers any, or it failed.</returns>
    public async Task<IReadOnlyList<string>?> OfferAsync(
        TableName table,
        string column,
        string typed,
        CancellationToken cancellationToken
    )
    {
        if (shelf.For(table, column) is not { } code)
            return null;
        IReadOnlyList<string> found = [];
        var problem = await CallAsync<IValueCode>(
            code,
            async (one, bound) => found = await one.FindAsync(typed, bound),
            shelf.Place.Patience,
            cancellationToken
        );
        return problem is null ? [.. found.Take(MostOffered)] : null;
    }

    /// <inheritdoc/>
    public IReadOnlyList<string>? ReadsOf(TableName table, string column) => shelf.Computing(table, column)?.ToCompute;

    /// <inheritdoc/>
    public async Task<CodedValues> ComputeAsync(
        TableName table,
        string column,
        IReadOnlyList<IReadOnlyDictionary<string, string?>> records,
        CancellationToken cancellationToken
    )
    {
        if (shelf.Computing(table, column) is not { } code)
            throw new InvalidOperationException($"No code computes {column} of {table}.");
        IReadOnlyList<string?>? found = null;
        var problem = await CallAsync<IColumnCode>(
            code,
            async (one, bound) => found = await one.ComputeAsync(records, bound),
            shelf.Place.Patience,
            cancellationToken
        );
        if (problem is null && found?.Count != records.Count)
            problem = $"The code {code.Name} gave {found?.Count ?? 0} values for {records.Count} records.";
        return new CodedValues(problem is null ? found! : [], problem);
    }

    private IEnumerable<(TableName Table, LoadedCode Code)> WithCode(TableName table) =>
        shelf.Of(table).Select(code => (table, code));

    private Task<string?> BeforeAsync(LoadedCode code, ActInProgress act, CancellationToken cancellationToken) =>
        CallAsync<IRecordCode>(code, (one, bound) => one.BeforeAsync(act, bound), shelf.Place.Patience, cancellationToken);

    private async Task<string?> CallAsync<T>(
        LoadedCode code,
        Func<T, CancellationToken, Task> call,
        TimeSpan patience,
        CancellationToken cancellationToken
    )
        where T : class
    {
        using var bound = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        bound.CancelAfter(patience);
        var calling = Task.Run(
            async () =>
            {
                await using var scope = services.CreateAsyncScope();
                var made = (T)ActivatorUtilities.CreateInstance(scope.ServiceProvider, code.Type);
                try
                {
                    await call(made, bound.Token);
                }
                finally
                {
                    await DisposeAsync(made);
                }
            },
            bound.Token
        );
        try
        {
            // It may not look at its token at all.
            await calling.WaitAsync(bound.Token);
            return null;
        }
        catch (OperationCanceledException) when (bound.IsCancellationRequested)
        {
            cancellationToken.ThrowIfCancellationRequested();
            Late(log, code.Name, patience.TotalSeconds);
            return $"The code {code.Name} took longer than {patience.TotalSeconds:0.#} seconds.";
        }
        catch (Exception failure)
        {
            Failed(log, failure, code.Name);
            return $"The code {code.Name} failed: {failure.Message}";
        }
    }

    private static async ValueTask DisposeAsync(object made)
    {
        if (made is IAsyncDisposable awaited)
            await awaited.DisposeAsync();
        else
            (made as IDisposable)?.Dispose();
    }

    private static async Task<IReadOnlyList<RecordInAct>> TellAsync(
        OpenPanel panel,
        NpgsqlTransaction transaction,
        IReadOnlyList<LoggedRecord> records,
        CancellationToken cancellationToken
    )
    {
        var goes = records.Where(record => record.Act is LogAct.SetAside or LogAct.Erased).ToList();
        // What goes is as it was before: another connection sees it so.
        await using var before = goes.Count == 0 ? null : await panel.Connections.OpenConnectionAsync(cancellationToken);
        var left = await ValuesAsync(panel, before, null, goes, cancellationToken);
        var now = await ValuesAsync(panel, transaction.Connection!, transaction, [.. records.Except(goes)], cancellationToken);
        return
        [
            .. records.Select(record => new RecordInAct(
                ActOf(record.Act),
                record.Key,
                record.Title,
                now.GetValueOrDefault(record) ?? left.GetValueOrDefault(record) ?? new Dictionary<string, string?>(),
                [.. record.Changes.Select(change => new ChangedValue(change.Column, change.From, change.To))]
            )),
        ];
    }

    private static async Task<Dictionary<LoggedRecord, IReadOnlyDictionary<string, string?>>> ValuesAsync(
        OpenPanel panel,
        NpgsqlConnection? connection,
        NpgsqlTransaction? transaction,
        IReadOnlyList<LoggedRecord> records,
        CancellationToken cancellationToken
    )
    {
        var told = new Dictionary<LoggedRecord, IReadOnlyDictionary<string, string?>>(ReferenceEqualityComparer.Instance);
        if (connection is null)
            return told;
        var reader = new SourceReader(panel.Model, connection) { Transaction = transaction };
        foreach (var table in records.GroupBy(record => record.Table))
        {
            if (BoundOver(panel, table.Key) is not { Identity: { Exists: true, ByPlace: false } } bound)
                continue;
            var named = table.Where(record => record.Key is not null).ToLookup(record => record.Key!);
            foreach (var keys in named.Select(record => record.Key).Chunk(RecordSelection.MostOf(bound)))
            {
                IReadOnlyList<string> columns = [.. bound.Table.StoredColumns.Select(column => column.Name)];
                foreach (var row in await KeyedRows.ReadAsync(reader, bound, keys, columns, cancellationToken))
                {
                    foreach (var record in named[row.Key])
                        told[record] = row.Values;
                }
            }
        }

        return told;
    }

    private static async Task<LoggedRecord> SetAsync(
        OpenPanel panel,
        NpgsqlTransaction transaction,
        LoggedRecord logged,
        RecordInAct record,
        CancellationToken cancellationToken
    )
    {
        var bound = BoundOver(panel, logged.Table)!;
        var rows = new SourceRows(transaction.Connection!);
        var key = bound
            .Identity.Columns.Zip(RecordKey.ValuesOf(bound, logged.Key!)!)
            .Select(pair => (string?)ClrValue.InDatabase(bound.Table.Find(pair.First)!.Type, pair.Second))
            .ToArray();
        var found = await rows.FindAsync(logged.Table, bound.Identity.Columns, [key], [], cancellationToken);
        if (found is not [{ } place])
            throw new InvalidOperationException($"{logged.Title} is gone from {logged.Table} within its own act.");
        await rows.SetAsync(
            logged.Table,
            [place.Place],
            [
                .. record.WhatWasSet.Select(pair =>
                    (pair.Key, pair.Value is null ? null : ClrValue.InDatabase(bound.Table.Find(pair.Key)!.Type, pair.Value))
                ),
            ],
            cancellationToken
        );
        var earlier = logged.Changes.ToDictionary(change => change.Column);
        foreach (var (column, value) in record.WhatWasSet)
        {
            var from =
                earlier.TryGetValue(column, out var change) ? change.From
                : logged.Act is LogAct.Added ? null
                : record.Values.GetValueOrDefault(column);
            earlier[column] = ValueChange.Of(panel.Panels, logged.Table, column, from, value);
        }

        return logged with
        {
            Changes = [.. earlier.Values],
        };
    }

    private static bool IsIdentifying(OpenPanel panel, TableName table, string column) =>
        BoundOver(panel, table)?.IsIdentifying(column) == true;

    private static BoundPanel? BoundOver(OpenPanel panel, TableName table) =>
        panel.Bound!.Table.Name == table ? panel.Bound : panel.Panels.BoundOver(table);

    private static IEnumerable<FieldProblem> ProblemsOf(RecordInAct record, bool isOne) =>
        record.Refusals.Select(refusal =>
            isOne
                ? new FieldProblem(refusal.Column ?? "", refusal.Message)
                : new FieldProblem("", $"{record.Title}: {refusal.Message}")
        );

    private static RecordAct ActOf(LogAct act) =>
        act switch
        {
            LogAct.Added => RecordAct.Added,
            LogAct.SetAside => RecordAct.SetAside,
            LogAct.BroughtBack => RecordAct.BroughtBack,
            LogAct.Erased => RecordAct.Erased,
            LogAct.Moved => RecordAct.Moved,
            _ => RecordAct.Changed,
        };

    [LoggerMessage(LogLevel.Error, "Code of one's own failed: {Code}.")]
    private static partial void Failed(ILogger log, Exception failure, string code);

    [LoggerMessage(LogLevel.Error, "Code of one's own took longer than {Seconds} seconds: {Code}.")]
    private static partial void Late(ILogger log, string code, double seconds);
}
