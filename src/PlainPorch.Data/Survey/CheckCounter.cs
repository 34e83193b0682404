using Npgsql;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Survey;

/// <summary>
/// Counts in the database how many rows do not keep to what could be checked, by the expression that a panel over the table would
/// have: what is proposed says of the present rows what the check will say.
/// </summary>
/// <param name="source">The database.</param>
/// <param name="model">Its model.</param>
internal sealed class CheckCounter(NpgsqlDataSource source, RecordModel model)
{
    private const int StatementSeconds = 4;

    // What compares rows with each other takes that long only where no index serves it.
    private const int ComparingSeconds = 2;

    /// <summary>Counts; what takes too long is told as it was in the rows looked at, where these tell something.</summary>
    /// <param name="found">What could be checked.</param>
    /// <param name="tables">What was found of the tables.</param>
    /// <param name="spells">How many rows overlap, as that was counted without comparing each with each.</param>
    /// <param name="snapshot">The schema.</param>
    /// <param name="report">Is told how many are done, of how many; null for nobody.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    /// <returns>What nearly all rows keep to.</returns>
    public async Task<IReadOnlyList<SurveyedCheck>> CountAsync(
        IReadOnlyList<SurveyedCheck> found,
        IReadOnlyList<TableFindings> tables,
        IReadOnlyList<SurveyedSpells> spells,
        SchemaSnapshot snapshot,
        Action<int, int>? report,
        CancellationToken cancellationToken
    )
    {
        if (found.Count == 0)
            return [];
        var drafted = PorchDraft.Make(tables, tables.Select(table => table.Table.Name).ToHashSet(), []);
        var porch = new PorchPanels(snapshot, [.. drafted.Select(draft => draft.Panel)]);
        var counted = new List<SurveyedCheck>();
        for (var i = 0; i < found.Count; i++)
        {
            var one = found[i];
            report?.Invoke(i, found.Count);
            if (WithoutAsking(one, spells) is { Sort: LikelyCheckSort.Apart, IsKept: false })
                continue;
            if (
                porch.BoundOver(one.Table) is not { } panel
                || CheckDraft.Of(one, panel, porch) is not { } check
                || !RuleReader.TryRead(check.Condition, new RuleScope(panel, porch), out var rule, out _)
            )
                continue;
            try
            {
                counted.Add(await CountAsync(one, panel, rule!, porch.Now.DateTime, cancellationToken));
            }
            catch (PostgresException refused)
                when (!cancellationToken.IsCancellationRequested && BoundedReading.IsRefusal(refused))
            {
                if (WithoutAsking(one, spells) is { } told)
                    counted.Add(told);
            }
        }

        return [.. counted.Where(one => one.IsKept)];
    }

    private static bool ComparesRows(SurveyedCheck one) => one.Sort is LikelyCheckSort.OneOpen or LikelyCheckSort.Apart;

    // Of what compares rows with each other, some rows tell nothing.
    private static SurveyedCheck? WithoutAsking(SurveyedCheck one, IReadOnlyList<SurveyedSpells> spells) =>
        (one.IsCounted && one.Sort is not LikelyCheckSort.Apart) || !ComparesRows(one) ? one
        : one.Sort is LikelyCheckSort.Apart
        && spells.FirstOrDefault(known =>
            known.Table == one.Table && one.Columns.SequenceEqual([known.Begin, known.End, known.Of])
        )
            is { } counted
            ? one with
            {
                Rows = counted.Rows,
                Broken = counted.Overlapping,
                IsCounted = true,
                LacksIndex = true,
            }
        : null;

    private async Task<SurveyedCheck> CountAsync(
        SurveyedCheck one,
        BoundPanel panel,
        Rule rule,
        DateTime now,
        CancellationToken cancellationToken
    )
    {
        var seconds = ComparesRows(one) ? ComparingSeconds : StatementSeconds;
        await using var reading = await BoundedReading.BeginAsync(source, seconds, cancellationToken);
        var reader = new SourceReader(model, reading.Connection) { Transaction = reading.Transaction };
        var asking = new RuleAsking(now);
        var broken = await CountAsync(rule.IsFalse());
        // Where one of the columns has no value, nothing is said.
        var rows = one.Sort switch
        {
            LikelyCheckSort.OneOpen => await RowsAsync([Empty(0), Filled(1)]),
            LikelyCheckSort.Apart => await RowsAsync([Filled(0), Filled(1), Filled(2)]),
            _ => broken + await CountAsync(rule),
        };
        return one with { Rows = rows, Broken = broken, IsCounted = true };

        Task<long> CountAsync(Rule asked) => RowsAsync([new Filter.Fulfils(new AskedRule(asked, asking))]);

        Task<long> RowsAsync(IEnumerable<Filter> filters) =>
            reader.CountAsync(panel.Table, Filter.Join([panel.InUse(), .. filters]), int.MaxValue, cancellationToken);

        Filter Filled(int column) => new Filter.Not(Empty(column));

        Filter Empty(int column) =>
            panel.Find(one.Columns[column]) is { } bound
                ? ReadFilter.Empty(bound.Schema, bound.Reading)
                : throw new InvalidOperationException($"The drafted panel has no column {one.Columns[column]}.");
    }
}
