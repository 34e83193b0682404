using System.Globalization;
using System.Text;
using System.Text.Json;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Survey;

namespace PlainPorch.Data.Records;

/// <summary>How the database reads a list.</summary>
/// <param name="Sql">The statement; values are parameters.</param>
/// <param name="Plan">The database's plan for it, line by line. It was not carried out.</param>
/// <param name="Slow">What takes long on a large table, in words.</param>
/// <param name="Advice">The indexes that would serve it, as statements to copy, with the reason.</param>
public sealed record ListExplanation(string Sql, IReadOnlyList<string> Plan, IReadOnlyList<string> Slow, IReadOnlyList<AdvisedStatement> Advice);

/// <summary>An advised index as a statement.</summary>
/// <param name="Purpose">What it is for.</param>
/// <param name="Sql">The statement.</param>
/// <param name="Reason">Why it would help.</param>
public sealed record AdvisedStatement(IndexPurpose Purpose, string Sql, string Reason);

/// <summary>Explains how the database reads a list, without reading it.</summary>
/// <param name="reader">Reads the source.</param>
/// <param name="table">The table.</param>
internal sealed class ListExplainer(SourceReader reader, Table table)
{
    // Up to so many rows are looked at or sorted without anybody noticing.
    private const double ManyRows = 20_000;

    // In the planner's units, of which reading one page in order is one.
    private const double ManyCosts = 1_000;

    /// <summary>Explains a list.</summary>
    public async Task<ListExplanation> ExplainAsync(ListPlan plan, Filter? filter, CancellationToken cancellationToken)
    {
        var stretch = Stretch.Of(table, plan.Order).First();
        var request = new RowRequest { Filter = filter, Stretch = stretch, Order = stretch.Inner, Columns = plan.Columns, Take = plan.Size + 1 };
        await using var command = reader.Command(table, request);
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
        return new ListExplanation(sql, lines, slow, [.. IndexAdvice.For(plan, table).Select(ToStatement)]);
    }

    private static void Look(JsonElement node, List<string> slow)
    {
        var rows = node.GetProperty("Plan Rows").GetDouble();
        var children = node.TryGetProperty("Plans", out var plans) ? plans.EnumerateArray().ToList() : [];
        switch (node.GetProperty("Node Type").GetString())
        {
            case "Seq Scan" when node.GetProperty("Total Cost").GetDouble() > ManyCosts:
                slow.Add($"It looks at every row of {node.GetProperty("Relation Name").GetString()}.");
                break;
            case "Sort" or "Incremental Sort" when children.Any(child => child.GetProperty("Plan Rows").GetDouble() > ManyRows):
                slow.Add(string.Create(CultureInfo.InvariantCulture, $"It sorts about {children.Max(child => child.GetProperty("Plan Rows").GetDouble()):N0} rows to show the first ones."));
                break;
            case "Bitmap Heap Scan" when rows > ManyRows:
                slow.Add(string.Create(CultureInfo.InvariantCulture, $"It collects about {rows:N0} rows before it shows the first one."));
                break;
        }

        foreach (var child in children)
            Look(child, slow);
    }

    private AdvisedStatement ToStatement(AdvisedIndex index)
    {
        var names = SqlNames.Helper;
        var sql = new StringBuilder($"CREATE INDEX CONCURRENTLY ON {names.DelimitIdentifier(table.Name.Name, table.Name.Schema)} ");
        if (index.Purpose is IndexPurpose.Search)
        {
            var together = index.Columns is [var only]
                ? names.DelimitIdentifier(only)
                : $"({string.Join(" || E'\\n' || ", index.Columns.Select(column => $"COALESCE({names.DelimitIdentifier(column)}, '')"))})";
            sql.Append(CultureInfo.InvariantCulture, $"USING gin ({together} gin_trgm_ops)");
        }
        else
        {
            sql.Append(CultureInfo.InvariantCulture, $"({string.Join(", ", index.Columns.Select(column => names.DelimitIdentifier(column)))})");
        }

        return new AdvisedStatement(index.Purpose, sql.ToString(), index.Reason);
    }
}
