using System.Collections.Concurrent;
using System.Globalization;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Survey;

/// <summary>
/// Reads the rows that a survey looks at: in read-only transactions, on two connections at most, each statement bounded in
/// time. What is kept does not grow with the tables.
/// </summary>
/// <param name="source">The database.</param>
/// <param name="names">Quotes identifiers.</param>
public sealed class SurveyReader(NpgsqlDataSource source, ISqlGenerationHelper names)
{
    /// <summary>How many rows of a table are looked at.</summary>
    public const int RowLimit = 3_000;

    /// <summary>Up to how many values a key is read whole, to compare others with it.</summary>
    public const int KeyLimit = 50_000;

    private const int Connections = 2;
    private const int TextLength = 200;

    // A wide table's rows are looked at in smaller number, so that memory depends on neither.
    private const int CellLimit = 120_000;
    private const int StatementSeconds = 5;

    // What everybody may see of the planner's statistics: PostgreSQL leaves out the columns that the user may not read.
    private const string StatisticsSql = """
        SELECT schemaname, tablename, attname, null_frac::float8, n_distinct::float8 FROM pg_catalog.pg_stats
        WHERE schemaname = ANY (@schemas) AND NOT inherited
        """;

    /// <summary>Reads rows of all tables of a snapshot.</summary>
    /// <param name="snapshot">The schema.</param>
    /// <param name="report">Is told of each table that was read, and how many are left.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The rows of each table; none of those that may not be read or take too long.</returns>
    public async Task<IReadOnlyDictionary<TableName, TableRows>> ReadAsync(
        SchemaSnapshot snapshot,
        Action<TableName, int>? report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        var rows = new ConcurrentDictionary<TableName, TableRows>();
        var statistics = await ReadStatisticsAsync(snapshot, cancellationToken);
        var left = snapshot.Tables.Count;
        var options = new ParallelOptions { MaxDegreeOfParallelism = Connections, CancellationToken = cancellationToken };
        await Parallel.ForEachAsync(snapshot.Tables, options, async (table, token) =>
        {
            rows[table.Name] = await ReadTableAsync(table, statistics.GetValueOrDefault(table.Name) ?? [], token);
            report?.Invoke(table.Name, Interlocked.Decrement(ref left));
        });
        return rows;
    }

    private async Task<Dictionary<TableName, Dictionary<string, PlannerStatistics>>> ReadStatisticsAsync(
        SchemaSnapshot snapshot,
        CancellationToken cancellationToken
    )
    {
        await using var reading = await BoundedReading.BeginAsync(source, StatementSeconds, cancellationToken);
        await using var command = reading.Command(StatisticsSql);
        command.Parameters.Add(
            new NpgsqlParameter<string[]>("schemas", [.. snapshot.Tables.Select(table => table.Name.Schema).Distinct()])
        );
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var statistics = new Dictionary<TableName, Dictionary<string, PlannerStatistics>>();
        while (await reader.ReadAsync(cancellationToken))
        {
            var table = new TableName(reader.GetString(0), reader.GetString(1));
            if (!statistics.TryGetValue(table, out var columns))
                statistics[table] = columns = [];
            columns[reader.GetString(2)] = new PlannerStatistics(reader.GetDouble(3), reader.GetDouble(4));
        }

        return statistics;
    }

    private async Task<TableRows> ReadTableAsync(
        Table table,
        IReadOnlyDictionary<string, PlannerStatistics> statistics,
        CancellationToken cancellationToken
    )
    {
        if (!table.Rights.Read || table.Columns.Count == 0)
            return TableRows.None(table);
        try
        {
            await using var reading = await BoundedReading.BeginAsync(source, StatementSeconds, cancellationToken);
            var limit = Math.Clamp(CellLimit / table.Columns.Count, 500, RowLimit);
            var values = await ReadRowsAsync(reading, table, limit, cancellationToken);
            var isComplete = values[0].Count <= limit;
            var rows = new TableRows(
                table,
                values,
                isComplete,
                isComplete ? values[0].Count : Math.Max(table.EstimatedRows ?? 0, values[0].Count)
            );
            return isComplete
                ? rows
                : rows with
                {
                    AllValues = await ReadKeysAsync(reading, table, cancellationToken),
                    Statistics = statistics,
                };
        }
        catch (PostgresException refused) when (BoundedReading.IsRefusal(refused) && !cancellationToken.IsCancellationRequested)
        {
            return TableRows.None(table, refused.MessageText);
        }
    }

    // One row more than wanted tells that there are more.
    private async Task<IReadOnlyList<IReadOnlyList<string?>>> ReadRowsAsync(
        BoundedReading reading,
        Table table,
        int limit,
        CancellationToken cancellationToken
    )
    {
        var columns = string.Join(", ", table.Columns.Select(Expression));
        var sampled = Sampled(table, limit);
        await using var command = reading.Command($"SELECT {columns} FROM {Name(table)}{sampled} LIMIT {limit + 1}");
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var values = table.Columns.Select(_ => new List<string?>()).ToList();
        while (await reader.ReadAsync(cancellationToken))
        {
            for (var i = 0; i < values.Count; i++)
                values[i].Add(reader.IsDBNull(i) ? null : ClrValue.ToText(table.Columns[i].Type, reader.GetString(i)));
        }

        return values;
    }

    // The first rows of a large table are its oldest; pages taken here and there show more of it. A few more than wanted,
    // because the estimate may be off and what comes after the limit is not looked at.
    private static string Sampled(Table table, int limit)
    {
        if (
            table.Kind is not (TableKind.Table or TableKind.MaterializedView)
            || table.EstimatedRows is not { } estimated
            || estimated <= 2L * limit
        )
            return "";
        var percent = Math.Min(100, 130.0 * limit / estimated);
        return string.Create(CultureInfo.InvariantCulture, $" TABLESAMPLE SYSTEM ({percent:0.######}) REPEATABLE (1)");
    }

    private async Task<IReadOnlyDictionary<string, IReadOnlySet<string>>> ReadKeysAsync(
        BoundedReading reading,
        Table table,
        CancellationToken cancellationToken
    )
    {
        var all = new Dictionary<string, IReadOnlySet<string>>();
        if (table.EstimatedRows > KeyLimit)
            return all;
        foreach (var key in table.Keys.Where(key => key.Columns.Count == 1))
        {
            var column = table.Find(key.Columns[0])!;
            await using var command = reading.Command(
                $"SELECT {Expression(column)} FROM {Name(table)} WHERE {names.DelimitIdentifier(column.Name)} IS NOT NULL LIMIT {KeyLimit + 1}"
            );
            await using var reader = await command.ExecuteReaderAsync(cancellationToken);
            var values = new HashSet<string>();
            while (await reader.ReadAsync(cancellationToken))
                values.Add(reader.GetString(0));
            if (values.Count <= KeyLimit)
                all[column.Name] = values;
        }

        return all;
    }

    private string Expression(Column column)
    {
        var name = names.DelimitIdentifier(column.Name);
        return column.Type.Kind is ValueKind.Binary ? $"octet_length({name})::text" : $"left({name}::text, {TextLength})";
    }

    private string Name(Table table) => names.DelimitIdentifier(table.Name.Name, table.Name.Schema);
}
