using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Which rows of a table are read, in which order, and what of them.</summary>
internal sealed record RowRequest
{
    /// <summary>The condition; null for all rows.</summary>
    public Filter? Filter { get; init; }

    /// <summary>The stretch of an order; null for all of it.</summary>
    public Stretch? Stretch { get; init; }

    /// <summary>The order; empty for any.</summary>
    public IReadOnlyList<OrderBy> Order { get; init; } = [];

    /// <summary>The columns of other records that order, stretch and columns name.</summary>
    public IReadOnlyList<BorrowedColumn> Borrowed { get; init; } = [];

    /// <summary>How columns of the order are read whose stored values do not order by themselves; null for none.</summary>
    public IReadOnlyDictionary<string, Reading>? Readings { get; init; }

    /// <summary>The columns to read.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>
    /// At which length texts of these columns are cut, a character more telling that there is more; null for not at all.
    /// </summary>
    public int? CutAt { get; init; }

    /// <summary>Further columns, which are read whole.</summary>
    public IReadOnlyList<string> Whole { get; init; } = [];

    /// <summary>Expressions whose values come after the columns, as texts.</summary>
    public IReadOnlyList<AskedRule> Rules { get; init; } = [];

    /// <summary>Whether the row version comes last.</summary>
    public bool WithVersion { get; init; }

    /// <summary>
    /// Whether partition, place and version come last, which tell a row without a key as well; of a foreign table they cannot.
    /// </summary>
    public bool WithPlace { get; init; }

    /// <summary>How many rows come before the first one that is read.</summary>
    public int Skip { get; init; }

    /// <summary>The greatest number of rows; null for all.</summary>
    public int? Take { get; init; }
}

/// <summary>
/// Reads rows of a source over one connection, by queries of which only the parameters change from time to time.
/// </summary>
/// <param name="model">The source's model.</param>
/// <param name="connection">The connection; it stays open.</param>
internal sealed class SourceReader(RecordModel model, NpgsqlConnection connection)
{
    // Smaller tables are looked through whole in no time.
    private const long ManyRows = 100_000;

    private readonly OtherTables _others = new(model);
    private Gathering? _gathering;

    /// <summary>The connection.</summary>
    public NpgsqlConnection Connection => connection;

    /// <summary>The transaction that is open on the connection; null for none.</summary>
    public NpgsqlTransaction? Transaction { get; set; }

    /// <summary>
    /// Whether no transaction is ever open on the connection while it reads, so that what is set for the session stays set.
    /// </summary>
    public bool IsAlone
    {
        get => field && Transaction is null;
        init;
    }

    /// <summary>How many in a hundred of a table's pages are looked at, chosen at random; null for all of them.</summary>
    public int? SamplePercent { get; init; }

    /// <summary>Lets several readers use this one at the same time: what they ask at once goes to the database at once.</summary>
    /// <param name="work">What each does.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task TogetherAsync(IReadOnlyList<Func<Task>> work, CancellationToken cancellationToken)
    {
        if (_gathering is not null)
        {
            await Task.WhenAll(work.Select(one => one()));
            return;
        }

        _gathering = work.Count > 1 ? new Gathering(model.Statements, connection, IsAlone) : null;
        try
        {
            await (_gathering?.RunAsync(work, cancellationToken) ?? Task.WhenAll(work.Select(one => one())));
        }
        finally
        {
            _gathering = null;
        }
    }

    /// <inheritdoc cref="TogetherAsync(IReadOnlyList{Func{Task}}, CancellationToken)"/>
    /// <returns>What each comes to, in order.</returns>
    public async Task<T[]> TogetherAsync<T>(IEnumerable<Func<Task<T>>> work, CancellationToken cancellationToken)
    {
        var begun = new List<Task<T>>();
        await TogetherAsync([.. work.Select(one => (Func<Task>)(() => Begin(one())))], cancellationToken);
        return await Task.WhenAll(begun);

        Task<T> Begin(Task<T> task)
        {
            begun.Add(task);
            return task;
        }
    }

    /// <summary>Does work on the connection itself, while no other reader uses it.</summary>
    public Task<T> AloneAsync<T>(Func<Task<T>> work) => _gathering is { } gathering ? gathering.AloneAsync(work) : work();

    /// <summary>Reads rows.</summary>
    public Task<List<string?[]>> ReadAsync(Table table, RowRequest request, CancellationToken cancellationToken) =>
        ReadAsync(table, request.Filter, QuestionFor(table, request), cancellationToken);

    /// <summary>Reads rows one by one, as they come.</summary>
    /// <param name="table">The table.</param>
    /// <param name="request">Which rows.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <param name="seconds">After how many seconds the statement is given up; null for the usual number.</param>
    public IAsyncEnumerable<string?[]> StreamAsync(
        Table table,
        RowRequest request,
        CancellationToken cancellationToken,
        int? seconds = null
    )
    {
        var (shape, build) = QuestionFor(table, request);
        return model.Statements.StreamAsync(connection, shape, build, cancellationToken, seconds);
    }

    /// <inheritdoc cref="Statements.CommandAsync"/>
    public Task<NpgsqlCommand> CommandAsync(QueryShape shape, Func<Task<NpgsqlCommand>> make) =>
        model.Statements.CommandAsync(connection, shape, make);

    /// <summary>The command that reads rows.</summary>
    public NpgsqlCommand Command(Table table, RowRequest request)
    {
        var (shape, build) = QuestionFor(table, request);
        return model.Statements.Command(connection, shape, build);
    }

    /// <summary>Counts rows up to a bound.</summary>
    public async Task<long> CountAsync(
        Table table,
        Filter? filter,
        int bound,
        CancellationToken cancellationToken,
        Stretch? stretch = null,
        IReadOnlyList<BorrowedColumn>? borrowed = null,
        IReadOnlyDictionary<string, Reading>? readings = null
    )
    {
        var query = Query(table, borrowed, readings);
        var (test, within) = (query.Test(filter), query.Test(stretch));
        var shape = Shape("count", query, test, within).Add(bound);
        var rows = await ReadAsync(
            table,
            filter,
            new Question(shape, context => RecordQuery.Count(Matching(context, query, test, within), bound)),
            cancellationToken
        );
        return rows is [[{ } count]] ? long.Parse(count, System.Globalization.CultureInfo.InvariantCulture) : 0;
    }

    /// <summary>Carries out another question about the rows that a filter leaves.</summary>
    /// <param name="table">The table.</param>
    /// <param name="filter">The filter.</param>
    /// <param name="name">What tells the question apart from others.</param>
    /// <param name="ask">The question.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <param name="readings">How columns are read that the question reckons with; null for as they are stored.</param>
    public Task<List<string?[]>> AskAsync(
        Table table,
        Filter? filter,
        string name,
        Func<RecordQuery, IQueryable<Row>, IQueryable<List<string?>>> ask,
        CancellationToken cancellationToken,
        IReadOnlyDictionary<string, Reading>? readings = null
    )
    {
        var query = Query(table, borrowed: null, readings);
        var test = query.Test(filter);
        return RunAsync(new(Shape(name, query, test), context => ask(query, Matching(context, query, test))), cancellationToken);
    }

    /// <summary>Counts the rows that a filter leaves by the first of some others that is true of them.</summary>
    /// <param name="table">The table.</param>
    /// <param name="filter">The filter.</param>
    /// <param name="ranges">The others.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>Number, from 0, and count of each that is true of some row, as texts; the number -1 where none is.</returns>
    public Task<List<string?[]>> CountByAsync(
        Table table,
        Filter? filter,
        IEnumerable<Filter> ranges,
        CancellationToken cancellationToken
    )
    {
        var query = Query(table);
        var test = query.Test(filter);
        var tests = ranges.Select(range => query.Test(range)!).ToList();
        var shape = Shape("by", query, test);
        tests.ForEach(one => one.Describe(shape));
        return RunAsync(new(shape, context => query.CountRanges(Matching(context, query, test), tests)), cancellationToken);
    }

    /// <summary>Tells one question about the rows that a filter leaves from others, its values included.</summary>
    public string NameOf(Table table, Filter? filter, string name)
    {
        var query = Query(table);
        return Shape(name, query, query.Test(filter)).KeyWithValues;
    }

    /// <summary>Tells one state of a table's rows from the next, as far as the database's statistics do.</summary>
    public async Task<string> StampAsync(TableName table, CancellationToken cancellationToken)
    {
        const string Question = """
            SELECT concat_ws(' ', s.n_mod_since_analyze, s.last_analyze, s.last_autoanalyze, s.n_tup_ins, s.n_tup_upd, s.n_tup_del)
            FROM pg_catalog.pg_stat_all_tables s WHERE s.schemaname = $1 AND s.relname = $2
            """;
        await using var command = new NpgsqlCommand(Question, connection)
        {
            Parameters =
            {
                new NpgsqlParameter<string> { TypedValue = table.Schema },
                new NpgsqlParameter<string> { TypedValue = table.Name },
            },
        };
        return await command.ExecuteScalarAsync(cancellationToken) as string ?? "";
    }

    private QueryShape Shape(string name, RecordQuery query, params IEnumerable<RowTest?> tests)
    {
        var shape = new QueryShape().Add(name).Add(SamplePercent ?? 0);
        query.Describe(shape);
        foreach (var test in tests)
        {
            if (test is null)
                shape.Add("all");
            else
                test.Describe(shape);
        }

        return shape;
    }

    /// <summary>
    /// Reads rows that refer to others: so many of each, which an index over the reference and the order holds together.
    /// </summary>
    /// <param name="table">The table, with the columns that it borrows.</param>
    /// <param name="request">Which of its rows, and in which order all of them come.</param>
    /// <param name="of">How they refer to the others.</param>
    /// <param name="keys">The keys of the others.</param>
    /// <param name="inner">The reference, and the order among those that refer to the same.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public Task<List<string?[]>> ReadAcrossAsync(
        Table table,
        RowRequest request,
        BorrowedColumn of,
        IReadOnlyList<string> keys,
        IReadOnlyList<OrderBy> inner,
        CancellationToken cancellationToken
    )
    {
        var (query, others) = (Query(table, request.Borrowed, request.Readings), Query(of.Target.Table));
        var lookup = of.Target.Lookup;
        var (theirs, test) = (
            others.Test(Filter.Join(of.InList, new Filter.OneOf(lookup.Key, keys))),
            query.Test(request.Filter)
        );
        var count = request.Take ?? throw new ArgumentException("So many rows of each have to be told.", nameof(request));
        var shape = Shape($"across {of.Lookup}", query, theirs, test).Add(count);
        Describe(shape, request);
        return RunAsync(new(shape, Build), cancellationToken);

        IQueryable<List<string?>> Build(DbContext context)
        {
            var ofAll = query.Across(
                Matching(context, query, test),
                of.Lookup,
                Matching(context, others, theirs),
                others,
                lookup,
                inner,
                count
            );
            return SourceReader.Build(query, ofAll, request);
        }
    }

    private Question QuestionFor(Table table, RowRequest request)
    {
        var query = Query(table, request.Borrowed, request.Readings);
        var (test, within) = (query.Test(request.Filter), query.Test(request.Stretch, request.Filter));
        var shape = Shape("rows", query, test, within);
        if (AreBoundsOfOrder(request))
            shape.NoteThatOnePlanServes();
        Describe(shape, request);
        var values = request.Rules.Select(query.Value).ToList();
        values.ForEach(value => value.Describe(shape.Add("rule")));
        return new(shape, context => Build(query, Matching(context, query, test, within), request, values));
    }

    // Where nothing is asked but bounds of what the rows are put in order by, its index is the way to them, be they few or many.
    private static bool AreBoundsOfOrder(RowRequest request) =>
        request is { Filter: { } filter, Order: [{ Column: var first }, ..] }
        && filter.Conjuncts().All(part => part is Filter.Fits || part is Filter.Compared bound && bound.Column == first);

    private static void Describe(QueryShape shape, RowRequest request)
    {
        shape.Add("order");
        foreach (var part in request.Order)
            shape.Add(part.ToString());
        if (request.Skip > 0)
            shape.AddValue(request.Skip);
        if (request.Take is { } take)
            _ = IsOfPage(take) ? shape.Add(take) : shape.AddValue(take);
        shape
            .Add("columns")
            .Add(request.CutAt ?? 0)
            .Add(
                request.WithVersion ? "v"
                : request.WithPlace ? "p"
                : "-"
            );
        foreach (var column in request.Columns)
            shape.Add(column);
        shape.Add("whole");
        foreach (var column in request.Whole)
            shape.Add(column);
    }

    private static IQueryable<List<string?>> Build(
        RecordQuery query,
        IQueryable<Row> matching,
        RowRequest request,
        IReadOnlyList<RowTest>? values = null
    )
    {
        var rows = query.OrderBy(matching, request.Order);
        if (request.Skip > 0)
            rows = RecordQuery.Skip(rows, request.Skip);
        if (request.Take is { } take)
            rows = IsOfPage(take) ? RecordQuery.TakeFixed(rows, take) : RecordQuery.Take(rows, take);
        // Ordered once more, the rows come out of a query within the query; else the texts of all that are skipped would be made,
        // too.
        if (request.Skip > 0 && request.Order.Count > 0)
            rows = query.OrderBy(rows, request.Order);
        IReadOnlyList<string> system =
            request.WithPlace ? [RecordModel.Partition, RecordModel.Place, RecordModel.RowVersion]
            : request.WithVersion ? [RecordModel.RowVersion]
            : [];
        return query.Read(rows, request.Columns, request.CutAt, system, request.Whole, values);
    }

    private Task<List<string?[]>> ReadAsync(
        Table table,
        Filter? filter,
        Question question,
        CancellationToken cancellationToken
    ) =>
        table.EstimatedRows > ManyRows && filter?.IsHardToGuess() == true
            ? AloneAsync(() =>
                model.Statements.ReadEitherWayAsync(connection, question.Shape, question.Build, Transaction, cancellationToken)
            )
            : RunAsync(question, cancellationToken);

    private Task<List<string?[]>> RunAsync(Question question, CancellationToken cancellationToken) =>
        _gathering is { } gathering
            ? gathering.AskAsync(question)
            : model.Statements.ReadAsync(connection, question.Shape, question.Build, IsAlone, cancellationToken);

    // A page and the row after it; of other numbers there are many, and each would be a statement of its own.
    private static bool IsOfPage(int take) => take == 1 || ListPlan.PageSizes.Contains(take - 1);

    private IQueryable<Row> Matching(DbContext context, RecordQuery query, params IEnumerable<RowTest?> tests)
    {
        _others.At(context);
        var all = SamplePercent is { } percent ? Sampled(context, query.Table, percent) : _others.RowsOf(query.Table.Name);
        return tests.Aggregate(all, query.Where);
    }

    // The name is quoted by EF Core, and the number is ours.
    private IQueryable<Row> Sampled(DbContext context, Table table, int percent) =>
        context
            .Set<Row>(model.EntityName(table.Name))
            .FromSqlRaw(
                string.Create(
                    System.Globalization.CultureInfo.InvariantCulture,
                    $"SELECT * FROM {SqlNames.Helper.DelimitIdentifier(table.Name.Name, table.Name.Schema)} TABLESAMPLE SYSTEM ({percent})"
                )
            );

    private RecordQuery Query(
        Table table,
        IReadOnlyList<BorrowedColumn>? borrowed = null,
        IReadOnlyDictionary<string, Reading>? readings = null
    ) => new(table, _others, borrowed, readings);
}
