using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Rules;

/// <summary>What an expression came to that somebody tried.</summary>
/// <param name="Type">What it comes to; null where it cannot be read.</param>
/// <param name="Problem">Why it cannot be used, and where; null where it can.</param>
/// <param name="Sql">The statement by which the examples were read; empty where there is none.</param>
/// <param name="Examples">What it comes to for some records.</param>
/// <param name="Broken">Of how many records it is false, where it comes to true or false; null else.</param>
/// <param name="Failure">What the database could not reckon; null where it could.</param>
public sealed record RuleTrial(
    RuleType? Type,
    RuleProblem? Problem,
    string Sql,
    IReadOnlyList<RuleExample> Examples,
    RowCount? Broken,
    string? Failure
)
{
    /// <summary>Indexes without which a table is read whole for each record.</summary>
    public IReadOnlyList<RuleIndex> Indexes { get; init; } = [];
}

/// <summary>An index that would serve an expression.</summary>
/// <param name="Table">The table, with its schema.</param>
/// <param name="Sql">The statement that makes it.</param>
public sealed record RuleIndex(string Table, string Sql);

/// <summary>What an expression comes to for a record.</summary>
/// <param name="Key">The record's key; null where nothing tells records apart.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Value">What it comes to, as text; null for none.</param>
/// <param name="IsBroken">Whether it is one of those of which it is false.</param>
public sealed record RuleExample(string? Key, string Title, string? Value, bool IsBroken);

/// <summary>Tries expressions of a panel on the records that there are.</summary>
/// <param name="opened">The panel; its table must be there.</param>
public sealed class RuleTrials(OpenPanel opened)
{
    private const int Shown = 3;

    private RuleScope Scope => new(opened.Bound!, opened.Panels);

    /// <summary>What can be named in its expressions.</summary>
    public RuleWords Words() => RuleWords.Of(Scope);

    /// <summary>Tries an expression.</summary>
    /// <param name="text">The text.</param>
    /// <param name="user">What the person is called who asks.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<RuleTrial> TryAsync(string text, string user, CancellationToken cancellationToken)
    {
        if (!RuleReader.TryRead(text, Scope, out var rule, out var problem))
            return new RuleTrial(null, problem, "", [], null, null);
        var table = opened.Bound!.Table;
        var asked = new AskedRule(rule!, new RuleAsking(opened.Panels.Now.DateTime, user));
        await using var connection = await opened.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(opened.Model, connection);
        var titles = new RowTitles(reader, opened.Panels);
        var columns = titles.ColumnsOf(table);
        var request = new RowRequest
        {
            Filter = opened.Bound.Within(opened.Bound.InUse()),
            Order = [.. RecordIdentity.Of(table).Columns.Select(column => new OrderBy(column, Descending: false))],
            Columns = columns,
            Rules = [asked],
            Take = Shown,
        };
        using var command = reader.Command(table, request);
        IReadOnlyList<RuleIndex> indexes = [.. RuleReads.Of(rule!).Where(reads => !reads.IsIndexed).Select(IndexFor)];
        try
        {
            var rows = await reader.ReadAsync(table, request, cancellationToken);
            var (broken, count, why) = rule!.Type is RuleType.Truth ? await BrokenAsync() : ([], null, null);
            var all = broken.Concat(rows).ToList();
            var named = await titles.ReadAsync(table, columns, all, cancellationToken);
            var examples = all.Zip(named, (row, title) =>
                new RuleExample(
                    title.Key,
                    title.Title,
                    RuleValue.ToText(RuleValue.Read(rule.Type, row[columns.Count])),
                    broken.Contains(row)
                )
            );
            return new RuleTrial(
                rule.Type,
                null,
                command.CommandText,
                [.. examples.DistinctBy(one => one.Key ?? one.Title)],
                count,
                why
            )
            {
                Indexes = indexes,
            };
        }
        catch (PostgresException failure) when (RuleFailures.Of(failure) is { } why)
        {
            return new RuleTrial(rule!.Type, null, command.CommandText, [], null, RuleFailedException.Words(why))
            {
                Indexes = indexes,
            };
        }

        async Task<(List<string?[]> Rows, RowCount? Count, string? Why)> BrokenAsync()
        {
            var filter = Filter.Join(request.Filter, new Filter.Fulfils(asked with { Rule = rule!.IsFalse() }));
            try
            {
                var number = await reader.CountAsync(table, filter, ListPlan.CountBound + 1, cancellationToken);
                var count = RowCount.From(number, isFiltered: true, estimatedRows: null);
                return number == 0
                    ? ([], count, null)
                    : (await reader.ReadAsync(table, request with { Filter = filter }, cancellationToken), count, null);
            }
            catch (PostgresException late) when (late.SqlState == PostgresErrorCodes.QueryCanceled)
            {
                return ([], null, "It took too long to look at all records.");
            }
        }
    }

    private static RuleIndex IndexFor(RuleReads reads)
    {
        var names = SqlNames.Helper;
        var (table, column) = (reads.Table.Name, names.DelimitIdentifier(reads.Column));
        return new RuleIndex(
            table.ToString(),
            $"CREATE INDEX CONCURRENTLY ON {names.DelimitIdentifier(table.Name, table.Schema)} ({column});"
        );
    }
}
