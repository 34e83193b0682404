using System.Collections.Frozen;
using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>How the database reads a list.</summary>
/// <param name="Sql">The statement; values are parameters.</param>
/// <param name="Plan">The database's plan for it, line by line. It was not carried out.</param>
/// <param name="Slow">What takes long on a large table, in words.</param>
/// <param name="Advice">The indexes that would serve it, as statements to copy, with the reason.</param>
public sealed record ListExplanation(
    string Sql,
    IReadOnlyList<string> Plan,
    IReadOnlyList<string> Slow,
    IReadOnlyList<AdvisedStatement> Advice
);

/// <summary>An advised index as a statement.</summary>
/// <param name="Purpose">What it is for.</param>
/// <param name="Sql">The statement.</param>
/// <param name="Reason">Why it would help.</param>
/// <param name="Bytes">About how large it would be; null where the database keeps no statistics of the columns.</param>
/// <param name="Place">Its place among all that are advised for the list, by which it can be tried.</param>
public sealed record AdvisedStatement(IndexPurpose Purpose, string Sql, string Reason, long? Bytes, int Place);

/// <summary>What the first page of a list costs.</summary>
/// <param name="Milliseconds">How long it took; null where it was given up after three seconds.</param>
/// <param name="Slow">What takes long on a large table, in words.</param>
/// <param name="Indexes">The indexes that the database reads.</param>
/// <param name="Advice">The indexes that would serve it, as statements to copy, with the reason.</param>
public sealed record ListCost(
    double? Milliseconds,
    IReadOnlyList<string> Slow,
    IReadOnlyList<string> Indexes,
    IReadOnlyList<AdvisedStatement> Advice
);

/// <summary>What an advised index did when it was tried.</summary>
/// <param name="Before">How long the first page took without it, in milliseconds; null where it was given up.</param>
/// <param name="After">How long it took with it, in milliseconds; null where it was given up.</param>
/// <param name="Building">How long it took to make the index, in seconds.</param>
/// <param name="Bytes">How large it became.</param>
public sealed record IndexTrial(double? Before, double? After, double Building, long Bytes);

/// <summary>Explains how the database reads a list, without reading it.</summary>
/// <param name="reader">Reads the source.</param>
/// <param name="table">The table.</param>
internal sealed partial class ListExplainer(SourceReader reader, Table table)
{
    // Up to so many rows are looked at or sorted without anybody noticing.
    private const double ManyRows = 20_000;

    private const int Times = 3;
    private const int LockSeconds = 2;
    private const int BuildSeconds = 600;
    private const int CostSeconds = 3;

    // In the planner's units, of which reading one page in order is one.
    private const double ManyCosts = 1_000;

    /// <summary>Explains a list.</summary>
    public async Task<ListExplanation> ExplainAsync(ListPlan plan, Filter? filter, CancellationToken cancellationToken)
    {
        await using var command = reader.Command(plan.WithBorrowed(table), FirstPage(plan, filter));
        var sql = command.CommandText;
        command.CommandText = $"EXPLAIN {sql}";
        var lines = new List<string>();
        await using (var rows = await command.ExecuteReaderAsync(cancellationToken))
        {
            while (await rows.ReadAsync(cancellationToken))
                lines.Add(rows.GetString(0));
        }

        command.CommandText = $"EXPLAIN (FORMAT JSON) {sql}";
        using var json = JsonDocument.Parse((string)(await command.ExecuteScalarAsync(cancellationToken))!);
        var slow = new List<string>();
        Look(json.RootElement[0].GetProperty("Plan"), slow);
        var advice = IndexAdvice.For(plan, table);
        var widths = advice.Count == 0 ? [] : await WidthsAsync(cancellationToken);
        return new ListExplanation(
            sql,
            lines,
            slow,
            [
                .. advice
                    .Select(
                        (index, place) =>
                            new AdvisedStatement(
                                index.Purpose,
                                ToStatement(index, "CONCURRENTLY "),
                                index.Reason,
                                SizeOf(index, widths),
                                place
                            )
                    )
                    .Where(index =>
                        advice[index.Place] is { Reading: null, IsComputed: false } || !IsServed(index.Purpose, lines, slow)
                    ),
            ]
        );
    }

    /// <summary>
    /// Makes an advised index, measures the list with it, and takes it back. Nobody can write to the table while it is made.
    /// </summary>
    /// <param name="plan">The list.</param>
    /// <param name="filter">Its condition, references resolved.</param>
    /// <param name="index">The index.</param>
    /// <param name="cancellationToken">Gives it up; the index goes, too.</param>
    /// <exception cref="PostgresException">The database refused to make it.</exception>
    public async Task<IndexTrial> TryAsync(ListPlan plan, Filter? filter, AdvisedIndex index, CancellationToken cancellationToken)
    {
        var before = await TimeAsync(plan, filter, cancellationToken);
        await using var transaction = await reader.Connection.BeginTransactionAsync(cancellationToken);
        await using var command = new NpgsqlCommand($"SET LOCAL lock_timeout = '{LockSeconds}s'", reader.Connection)
        {
            CommandTimeout = BuildSeconds,
        };
        await command.ExecuteNonQueryAsync(cancellationToken);
        var name = $"plain_porch_trial_{Guid.NewGuid():N}";
        var watch = Stopwatch.StartNew();
        command.CommandText = ToStatement(index, $"{SqlNames.Helper.DelimitIdentifier(name)} ");
        await command.ExecuteNonQueryAsync(cancellationToken);
        var building = watch.Elapsed.TotalSeconds;
        // Of an index over an expression the database knows nothing until it has looked.
        command.CommandText = $"ANALYZE {SqlNames.Helper.DelimitIdentifier(table.Name.Name, table.Name.Schema)}";
        await command.ExecuteNonQueryAsync(cancellationToken);
        command.CommandText = "SELECT pg_catalog.pg_relation_size(c.oid) FROM pg_catalog.pg_class c WHERE c.relname = $1";
        command.Parameters.Add(new NpgsqlParameter<string> { TypedValue = name });
        var bytes = (long)(await command.ExecuteScalarAsync(cancellationToken))!;
        reader.Transaction = transaction;
        var after = await TimeAsync(plan, filter, cancellationToken);
        reader.Transaction = null;
        await transaction.RollbackAsync(CancellationToken.None);
        return new IndexTrial(before, after, building, bytes);
    }

    /// <summary>Measures the first page of a list, and explains it.</summary>
    /// <param name="plan">The list.</param>
    /// <param name="filter">Its condition, references resolved.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <exception cref="PostgresException">The database cannot reckon it.</exception>
    public async Task<ListCost> MeasureAsync(ListPlan plan, Filter? filter, CancellationToken cancellationToken)
    {
        var explained = await ExplainAsync(plan, filter, cancellationToken);
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        patience.CancelAfter(TimeSpan.FromSeconds(CostSeconds));
        double? took = null;
        try
        {
            var watch = Stopwatch.StartNew();
            await reader.ReadAsync(plan.WithBorrowed(table), FirstPage(plan, filter), patience.Token);
            took = watch.Elapsed.TotalMilliseconds;
        }
        catch (Exception) when (patience.IsCancellationRequested && !cancellationToken.IsCancellationRequested) { }

        var advice = IndexAdvice.For(plan, table);
        var possible = new List<AdvisedStatement>();
        foreach (var statement in explained.Advice)
        {
            if (await CanBeMadeAsync(advice[statement.Place], cancellationToken))
                possible.Add(statement);
        }

        return new ListCost(
            took,
            explained.Slow,
            [
                .. explained
                    .Plan.Select(line => ByIndex().Match(line).Groups["index"].Value.Trim('"'))
                    .Where(name => name.Length > 0)
                    .Distinct(),
            ],
            possible
        );
    }

    // An index over an expression is made on an empty table like this one: the database may refuse it, whatever it says elsewhere.
    private async Task<bool> CanBeMadeAsync(AdvisedIndex index, CancellationToken cancellationToken)
    {
        if (!index.IsComputed)
            return true;
        var names = SqlNames.Helper;
        var name = $"plain_porch_trial_{Guid.NewGuid():N}";
        var like = names.DelimitIdentifier(table.Name.Name, table.Name.Schema);
        await using var transaction = await reader.Connection.BeginTransactionAsync(cancellationToken);
        await using var command = new NpgsqlCommand($"CREATE TEMPORARY TABLE {name} (LIKE {like})", reader.Connection);
        try
        {
            await command.ExecuteNonQueryAsync(cancellationToken);
            command.CommandText = ToStatement(index, "", $"pg_temp.{name}");
            await command.ExecuteNonQueryAsync(cancellationToken);
            return true;
        }
        catch (PostgresException refused)
        {
            // Who may make no table at all is told of an index that was not tried.
            return refused.SqlState is PostgresErrorCodes.InsufficientPrivilege or PostgresErrorCodes.ReadOnlySqlTransaction;
        }
        finally
        {
            await transaction.RollbackAsync(CancellationToken.None);
        }
    }

    [GeneratedRegex(@"Index (?:Only )?Scan (?:Backward )?(?:using|on) (?<index>""[^""]+""|\S+)")]
    private static partial Regex ByIndex();

    private RowRequest FirstPage(ListPlan plan, Filter? filter)
    {
        var stretch = Stretch.Of(plan.WithBorrowed(table), plan.Order).First();
        return new RowRequest
        {
            Filter = filter,
            Stretch = stretch,
            Order = stretch.Inner,
            Borrowed = plan.Borrowed,
            Readings = plan.Readings,
            Columns = plan.Columns,
            Take = plan.Size + 1,
        };
    }

    private async Task<double?> TimeAsync(ListPlan plan, Filter? filter, CancellationToken cancellationToken)
    {
        var request = FirstPage(plan, filter);
        double? best = null;
        try
        {
            for (var time = 0; time < Times; time++)
            {
                var watch = Stopwatch.StartNew();
                await reader.ReadAsync(plan.WithBorrowed(table), request, cancellationToken);
                best = Math.Min(best ?? double.MaxValue, watch.Elapsed.TotalMilliseconds);
            }
        }
        catch (NpgsqlException slow) when (slow.InnerException is TimeoutException && !cancellationToken.IsCancellationRequested)
        { }

        return best;
    }

    private async Task<Dictionary<string, int>> WidthsAsync(CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(
            "SELECT attname::text, avg_width FROM pg_catalog.pg_stats WHERE schemaname = $1 AND tablename = $2 AND NOT inherited",
            reader.Connection
        )
        {
            Parameters =
            {
                new NpgsqlParameter<string> { TypedValue = table.Name.Schema },
                new NpgsqlParameter<string> { TypedValue = table.Name.Name },
            },
        };
        var widths = new Dictionary<string, int>();
        await using var rows = await command.ExecuteReaderAsync(cancellationToken);
        while (await rows.ReadAsync(cancellationToken))
            widths[rows.GetString(0)] = rows.GetInt32(1);
        return widths;
    }

    // A B-tree keeps a head of 8 bytes, a pointer of 4 and the values, rounded up to 8, in pages that are nine tenths full. What
    // an
    // index of trigrams takes was measured on five million rows: 1.3 bytes for each byte of text.
    private long? SizeOf(AdvisedIndex index, Dictionary<string, int> widths)
    {
        if (table.EstimatedRows is not { } rows || !index.Columns.All(widths.ContainsKey))
            return null;
        var width = index.Columns.Sum(column => widths[column]);
        return (long)(rows * (index.Purpose is IndexPurpose.Search ? 1.3 * width : (8 + 4 + ((width + 7) / 8 * 8)) / 0.9));
    }

    private static void Look(JsonElement node, List<string> slow)
    {
        var rows = node.GetProperty("Plan Rows").GetDouble();
        var children = node.TryGetProperty("Plans", out var plans) ? plans.EnumerateArray().ToList() : [];
        switch (node.GetProperty("Node Type").GetString())
        {
            case "Seq Scan" when node.GetProperty("Total Cost").GetDouble() > ManyCosts:
                slow.Add($"It reads every row of {node.GetProperty("Relation Name").GetString()}.");
                break;
            case "Sort" or "Incremental Sort" when children.Any(child => child.GetProperty("Plan Rows").GetDouble() > ManyRows):
                slow.Add(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"It sorts about {children.Max(child => child.GetProperty("Plan Rows").GetDouble()):N0} rows to show the first ones."
                    )
                );
                break;
            case "Bitmap Heap Scan" when rows > ManyRows:
                slow.Add(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"It collects about {rows:N0} rows before it shows the first one."
                    )
                );
                break;
        }

        foreach (var child in children)
            Look(child, slow);
    }

    private string ToStatement(AdvisedIndex index, string how, string? on = null)
    {
        var names = SqlNames.Helper;
        var sql = new StringBuilder($"CREATE INDEX {how}ON {on ?? names.DelimitIdentifier(table.Name.Name, table.Name.Schema)} ");
        if (index.Purpose is IndexPurpose.Search)
        {
            var together = index.Columns is [var only]
                ? names.DelimitIdentifier(only)
                : $"({string.Join(" || E'\\n' || ", index.Columns.Select(column => $"COALESCE({names.DelimitIdentifier(column)}, '')"))})";
            sql.Append(CultureInfo.InvariantCulture, $"USING gin ({together} gin_trgm_ops)");
        }
        else
        {
            sql.Append(
                CultureInfo.InvariantCulture,
                $"({string.Join(", ", index.Columns.Select((column, place) => place == 0 && (index.IsComputed || index.Reading is not null) ? $"({Computed(column, index.Reading)})" : names.DelimitIdentifier(column)))})"
            );
        }

        if (index.Only is { } held)
            sql.Append(CultureInfo.InvariantCulture, $" WHERE {Condition(held)}");
        return sql.ToString();
    }

    // Which expressions are indexed is told by the plan alone: what a reading makes is a case expression.
    private static bool IsServed(IndexPurpose purpose, List<string> plan, List<string> slow) =>
        purpose is IndexPurpose.Order
            ? slow.Count == 0
            : plan.Exists(line =>
                line.Contains("Index Cond:", StringComparison.Ordinal) && line.Contains("CASE", StringComparison.Ordinal)
            );

    // Just as a list's statement has it, or the database would not see that the index serves it: between the words that come
    // before and after, and without the table's name there, which is none of what stands between apostrophes.
    private string Computed(string column, Reading? reading)
    {
        using var command = reader.Command(
            table,
            new RowRequest
            {
                Order = [new OrderBy(column, Descending: false)],
                Readings = reading is null
                    ? FrozenDictionary<string, Reading>.Empty
                    : new Dictionary<string, Reading> { [column] = reading },
                Columns = [column],
            }
        );
        var parts = ByOneColumn().Match(command.CommandText);
        var alias = parts.Groups["alias"].Value;
        return NamesAndTexts().Replace(parts.Groups["order"].Value, found => found.Value == $"{alias}." ? "" : found.Value);
    }

    [GeneratedRegex(@"\sFROM\s.*\sAS\s(?<alias>\w+)\s+ORDER BY\s(?<order>.*)$", RegexOptions.Singleline)]
    private static partial Regex ByOneColumn();

    // What stands between apostrophes or quotation marks is read over as a whole.
    [GeneratedRegex(
        """
            '(?:[^']|'')*'|"(?:[^"]|"")*"|\b\w+\.
            """,
        RegexOptions.IgnorePatternWhitespace
    )]
    private static partial Regex NamesAndTexts();

    /// <summary>
    /// The condition of a panel's marker, just as a list's statement has it, or the database would not see that an index serves
    /// it.
    /// </summary>
    /// <param name="only">The condition.</param>
    /// <param name="alias">What the table is called in the statement; null for nothing.</param>
    internal static string Condition(Filter only, string? alias = null)
    {
        return only switch
        {
            Filter.Empty(var column) => $"{Name(column)} IS NULL",
            Filter.Not(Filter.Marked(var column, var value)) =>
                $"{Name(column)} <> {SqlNames.Literal(value)} OR {Name(column)} IS NULL",
            Filter.Marked(var column, var value) => $"{Name(column)} = {SqlNames.Literal(value)}",
            _ => throw new ArgumentOutOfRangeException(nameof(only), only, "No condition of a marker."),
        };

        string Name(string column) => (alias is null ? "" : alias + ".") + SqlNames.Helper.DelimitIdentifier(column);
    }
}
