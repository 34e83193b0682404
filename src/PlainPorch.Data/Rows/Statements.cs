using System.Collections;
using System.Collections.Concurrent;
using System.Data.Common;
using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Keeps the SQL that EF Core makes of queries, by their shape. Translating the same query again and again is most of what a
/// short one costs; with the SQL at hand only its parameters change.
/// </summary>
/// <param name="model">The source's model.</param>
internal sealed partial class Statements(RecordModel model)
{
    private const int Kept = 2_000;

    private const string Mark = "before_reading";

    // A prepared statement is planned once for all values after a while. For one that looks for a word that plan would be the
    // wrong one for the rare or for the frequent words, and a hundred times slower; for a page after a row it saves half the
    // time.
    private const string PlannedAnew = "SELECT set_config('plan_cache_mode', 'force_custom_plan', true)";

    private static readonly TimeSpan _remembered = TimeSpan.FromMinutes(5);

    // Long enough for the order's way where many rows fulfil the condition, short beside the other way.
    private const string ForAMoment = PlannedAnew + ", set_config('statement_timeout', '80', true)";

    // Compiling pays where a plan is really as costly as one that was forbidden looks.
    private const string CollectingFirst =
        PlannedAnew
        + ", set_config('enable_indexscan', 'off', true), set_config('enable_indexonlyscan', 'off', true), set_config('enable_seqscan', 'off', true), set_config('jit', 'off', true)";

    // A page and the row that tells whether there are more.
    private const int UsualRows = 52;

    private readonly ConcurrentDictionary<string, Statement?> _statements = new();

    // Questions of which few rows were found to fulfil the condition, and since when (Stopwatch).
    private readonly ConcurrentDictionary<string, long> _collected = new(StringComparer.Ordinal);

    /// <summary>Carries out a query of which the database may guess wrongly how best to find its rows.</summary>
    /// <remarks>
    /// Reading rows in their order until enough fulfil the condition takes no time where many do, and looks at the whole table
    /// where few do; collecting them first by an index is the other way round. Which it is shows when the first way is tried for
    /// a moment, and is remembered for a while: the same is asked again for the next page, or after a change.
    /// </remarks>
    /// <param name="connection">An open connection to the source.</param>
    /// <param name="shape">The query's shape and values.</param>
    /// <param name="build">Makes the query, meeting its values in the same order.</param>
    /// <param name="within">The transaction that is open on the connection, in which nothing may stay behind; null for
    /// none.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<List<string?[]>> ReadEitherWayAsync(
        NpgsqlConnection connection,
        QueryShape shape,
        Func<DbContext, IQueryable<List<string?>>> build,
        NpgsqlTransaction? within,
        CancellationToken cancellationToken
    )
    {
        var question = shape.KeyWithValues;
        if (_collected.TryGetValue(question, out var since) && Stopwatch.GetElapsedTime(since) < _remembered)
            return await ReadWithinAsync(CollectingFirst);
        try
        {
            return await ReadWithinAsync(ForAMoment);
        }
        catch (PostgresException tooLong)
            when (tooLong.SqlState == PostgresErrorCodes.QueryCanceled && !cancellationToken.IsCancellationRequested)
        {
            var rows = await ReadWithinAsync(CollectingFirst);
            if (_collected.Count >= Kept)
                _collected.Clear();
            _collected[question] = Stopwatch.GetTimestamp();
            return rows;
        }

        async Task<List<string?[]>> ReadWithinAsync(string setting)
        {
            if (within is null)
                return await ReadAsync(connection, shape, build, setting, cancellationToken);
            await within.SaveAsync(Mark, cancellationToken);
            try
            {
                return await ReadAsync(connection, shape, build, setting, cancellationToken);
            }
            finally
            {
                await within.RollbackAsync(Mark, CancellationToken.None);
            }
        }
    }

    /// <summary>Carries out a query.</summary>
    /// <param name="connection">An open connection to the source.</param>
    /// <param name="shape">The query's shape and values.</param>
    /// <param name="build">Makes the query, meeting its values in the same order.</param>
    /// <param name="isAlone">Whether no transaction is open on the connection.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<List<string?[]>> ReadAsync(
        NpgsqlConnection connection,
        QueryShape shape,
        Func<DbContext, IQueryable<List<string?>>> build,
        bool isAlone,
        CancellationToken cancellationToken
    )
    {
        var setting =
            isAlone ? Planning.Needs(connection, shape.DependsOnValues)
            : shape.DependsOnValues ? PlannedAnew
            : null;
        if (setting is null)
            return await ReadAsync(connection, shape, build, cancellationToken);
        var rows = await ReadAsync(connection, shape, build, setting, cancellationToken);
        if (isAlone)
            Planning.Remember(connection, shape.DependsOnValues);
        return rows;
    }

    /// <summary>Carries out several queries in one round trip.</summary>
    /// <param name="connection">An open connection to the source.</param>
    /// <param name="questions">The queries.</param>
    /// <param name="isAlone">Whether no transaction is open on the connection.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The rows of each.</returns>
    public async Task<IReadOnlyList<List<string?[]>>> ReadTogetherAsync(
        NpgsqlConnection connection,
        IReadOnlyList<Question> questions,
        bool isAlone,
        CancellationToken cancellationToken
    )
    {
        if (questions is [var (shape, build)])
            return [await ReadAsync(connection, shape, build, isAlone, cancellationToken)];
        var anew = questions.Any(question => question.Shape.DependsOnValues);
        var setting =
            isAlone ? Planning.Needs(connection, anew)
            : anew ? PlannedAnew
            : null;
        await using var batch = new NpgsqlBatch(connection);
        if (setting is not null)
            batch.BatchCommands.Add(new NpgsqlBatchCommand(setting));
        foreach (var question in questions)
        {
            using var command = Command(connection, question.Shape, question.Build);
            batch.Timeout = command.CommandTimeout;
            batch.BatchCommands.Add(MovedFrom(command));
        }

        var answers = new List<List<string?[]>>(questions.Count);
        try
        {
            await using var reader = await batch.ExecuteReaderAsync(cancellationToken);
            if (setting is not null)
                await reader.NextResultAsync(cancellationToken);
            do answers.Add(await ReadAllAsync(reader, cancellationToken));
            while (await reader.NextResultAsync(cancellationToken));
        }
        catch (PostgresException failure) when (FailedPreparing.Forget(connection, failure))
        {
            throw;
        }

        if (isAlone)
            Planning.Remember(connection, anew);
        return answers;
    }

    private async Task<List<string?[]>> ReadAsync(
        NpgsqlConnection connection,
        QueryShape shape,
        Func<DbContext, IQueryable<List<string?>>> build,
        CancellationToken cancellationToken
    )
    {
        await using var command = Command(connection, shape, build);
        await using var reader = await ExecuteAsync(connection, command.ExecuteReaderAsync(cancellationToken));
        return await ReadAllAsync(reader, cancellationToken);
    }

    private async Task<List<string?[]>> ReadAsync(
        NpgsqlConnection connection,
        QueryShape shape,
        Func<DbContext, IQueryable<List<string?>>> build,
        string setting,
        CancellationToken cancellationToken
    )
    {
        await using var batch = After(setting, Command(connection, shape, build));
        await using var reader = await ExecuteAsync(connection, batch.ExecuteReaderAsync(cancellationToken));
        await reader.NextResultAsync(cancellationToken);
        return await ReadAllAsync(reader, cancellationToken);
    }

    // Settings before the query, in one round trip and for it alone: without a transaction of their own, both are in one.
    private static NpgsqlBatch After(string setting, NpgsqlCommand command)
    {
        using (command)
        {
            return new NpgsqlBatch(command.Connection)
            {
                Timeout = command.CommandTimeout,
                BatchCommands = { new NpgsqlBatchCommand(setting), MovedFrom(command) },
            };
        }
    }

    /// <summary>A command as part of a batch; it is not of use by itself any more.</summary>
    public static NpgsqlBatchCommand MovedFrom(NpgsqlCommand command)
    {
        var moved = new NpgsqlBatchCommand(command.CommandText);
        foreach (var parameter in command.Parameters.ToList())
        {
            command.Parameters.Remove(parameter);
            moved.Parameters.Add(parameter);
        }

        return moved;
    }

    /// <summary>Carries out a query, giving each row as it comes.</summary>
    public async IAsyncEnumerable<string?[]> StreamAsync(
        NpgsqlConnection connection,
        QueryShape shape,
        Func<DbContext, IQueryable<List<string?>>> build,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancellationToken,
        int? seconds = null
    )
    {
        var command = Command(connection, shape, build);
        command.CommandTimeout = seconds ?? command.CommandTimeout;
        await using var batch = After(PlannedAnew, command);
        await using var reader = await ExecuteAsync(connection, batch.ExecuteReaderAsync(cancellationToken));
        await reader.NextResultAsync(cancellationToken);
        while (await reader.ReadAsync(cancellationToken))
            yield return Read(reader);
    }

    private static async Task<NpgsqlDataReader> ExecuteAsync(NpgsqlConnection connection, Task<NpgsqlDataReader> execution)
    {
        try
        {
            return await execution;
        }
        catch (PostgresException failure) when (FailedPreparing.Forget(connection, failure))
        {
            throw;
        }
    }

    private static async Task<List<string?[]>> ReadAllAsync(NpgsqlDataReader reader, CancellationToken cancellationToken)
    {
        var rows = new List<string?[]>(UsualRows);
        while (await reader.ReadAsync(cancellationToken))
            rows.Add(Read(reader));
        return rows;
    }

    /// <summary>The values of the row that a reader stands at.</summary>
    public static string?[] Read(NpgsqlDataReader reader)
    {
        var row = new string?[reader.FieldCount];
        for (var i = 0; i < row.Length; i++)
            row[i] = reader.IsDBNull(i) ? null : reader.GetString(i);
        return row;
    }

    /// <summary>The command of a query, ready to be carried out.</summary>
    public NpgsqlCommand Command(NpgsqlConnection connection, QueryShape shape, Func<DbContext, IQueryable<List<string?>>> build)
    {
        if (_statements.TryGetValue(shape.Key, out var kept) && kept is not null)
            return kept.ToCommand(connection, shape.Values);
        using var context = model.Open(connection);
        // EF's own command goes with its context; what is carried out is a copy.
        using var made = (NpgsqlCommand)build(context).CreateDbCommand();
        Keep(shape, made);
        var command = new NpgsqlCommand(made.CommandText, connection);
        foreach (NpgsqlParameter parameter in made.Parameters)
            command.Parameters.Add(parameter.Clone());
        return command;
    }

    /// <summary>A command that EF Core makes in another way.</summary>
    /// <param name="connection">An open connection to the source.</param>
    /// <param name="shape">The statement's shape and values.</param>
    /// <param name="make">Makes it, meeting its values in the same order.</param>
    public async Task<NpgsqlCommand> CommandAsync(NpgsqlConnection connection, QueryShape shape, Func<Task<NpgsqlCommand>> make)
    {
        if (_statements.TryGetValue(shape.Key, out var kept) && kept is not null)
            return kept.ToCommand(connection, shape.Values);
        var made = await make();
        Keep(shape, made);
        return made;
    }

    private void Keep(QueryShape shape, NpgsqlCommand made)
    {
        var statement = Statement.Of(made, shape.Values);
        if (_statements.Count >= Kept)
            _statements.Clear();
        _statements.TryAdd(shape.Key, statement);
    }

    private sealed partial record Statement(string Sql, IReadOnlyList<(NpgsqlParameter Template, int Value)> Parameters)
    {
        /// <summary>
        /// Takes over what EF made; null where its parameters are not the shape's values one by one, so that it cannot be reused.
        /// </summary>
        public static Statement? Of(NpgsqlCommand made, IReadOnlyList<object> values)
        {
            // EF names its parameters p, p1, p2 … in the order in which it met their values.
            var parameters = made
                .Parameters.Select(parameter => (Template: parameter.Clone(), Value: NumberOf(parameter)))
                .ToList();
            if (
                parameters.Count != values.Count
                || !parameters.TrueForAll(pair => pair.Value < values.Count && IsSame(pair.Template.Value, values[pair.Value]))
            )
                return null;
            // By their numbers, or the driver would look through the text for names each time.
            var sql = Numbered(made.CommandText, parameters.ConvertAll(pair => pair.Template.ParameterName.TrimStart('@')));
            foreach (var (template, _) in parameters)
                template.ParameterName = "";
            return new Statement(sql, parameters);
        }

        public NpgsqlCommand ToCommand(NpgsqlConnection connection, IReadOnlyList<object> values)
        {
            var command = new NpgsqlCommand(Sql, connection);
            foreach (var (template, value) in Parameters)
            {
                var parameter = template.Clone();
                parameter.Value = values[value];
                command.Parameters.Add(parameter);
            }

            return command;
        }

        // What stands in quotation marks is a name or a text, whatever it looks like.
        private static string Numbered(string sql, List<string> names) =>
            ParameterNames()
                .Replace(sql, match =>
                    match.Groups["name"] is { Success: true, Value: var name }
                        ? $"${(names.IndexOf(name) + 1).ToString(CultureInfo.InvariantCulture)}"
                        : match.Value
                );

        [GeneratedRegex(
            """E'(\\.|[^'\\])*'|'[^']*'|"[^"]*"|@(?<name>p[0-9]*)\b""",
            RegexOptions.CultureInvariant | RegexOptions.Singleline
        )]
        private static partial Regex ParameterNames();

        private static int NumberOf(DbParameter parameter)
        {
            var name = parameter.ParameterName.TrimStart('@');
            return name == "p" ? 0
                : int.TryParse(name.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number
                : int.MaxValue;
        }

        private static bool IsSame(object? one, object other) =>
            one is IEnumerable and not string && other is IEnumerable
                ? StructuralComparisons.StructuralEqualityComparer.Equals(one, other)
                : Equals(one, other);
    }
}
