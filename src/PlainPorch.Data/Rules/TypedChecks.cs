using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Rules;

/// <summary>
/// Looks at a record that is being typed as its panel's checks will once it is saved. What stands in the record itself is reckoned
/// here; other records are asked for in the database.
/// </summary>
/// <param name="opened">The panel; its table must be there.</param>
/// <param name="user">What the person is called who types.</param>
public sealed class TypedChecks(OpenPanel opened, string user)
{
    private readonly PorchPanels _porch = opened.Panels.SeenBy(EverybodySeesEverything.Instance);

    /// <summary>Finds what is wrong so far.</summary>
    /// <param name="key">The record's key; null for a new one.</param>
    /// <param name="typed">Values that were typed, as they would be stored.</param>
    /// <param name="unread">Columns in which something stands that is no value yet.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>What is wrong at which column; "" for the record as a whole. Empty where there is no such record.</returns>
    public async Task<IReadOnlyList<FieldProblem>> FindAsync(
        string? key,
        IReadOnlyDictionary<string, string?> typed,
        IReadOnlySet<string> unread,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(typed);
        ArgumentNullException.ThrowIfNull(unread);
        if (
            _porch.Bind(opened.Definition, sourceIsReadOnly: false) is not { } bound
            || BoundCheck.Of(bound, _porch) is not { Count: > 0 } checks
        )
            return [];
        await using var connection = await opened.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(opened.Model, connection);
        var record = new Dictionary<string, string?>();
        if (key is not null)
        {
            if (await StoredAsync(reader, bound, key, cancellationToken) is not { } stored)
                return [];
            record = stored;
        }

        foreach (var (name, value) in typed)
            record[name] = value;
        var problems = new List<FieldProblem>();
        foreach (var check in checks)
        {
            if (check.Rule is not { } rule)
                continue;
            var columns = rule.Columns().ToHashSet();
            if (!columns.Overlaps(typed.Keys) || columns.Overlaps(unread))
                continue;
            var values = new Values(record, new RuleAsking(_porch.Now.DateTime, user));
            try
            {
                await values.FetchAsync(reader, bound, key, rule, cancellationToken);
                if (new RuleEvaluator(values).Evaluate(rule) is false)
                    problems.Add(check.Says());
            }
            catch (RuleFailedException)
            {
                // Said when it is saved, should it still be so.
            }
        }

        return problems;
    }

    private static async Task<Dictionary<string, string?>?> StoredAsync(
        SourceReader reader,
        BoundPanel bound,
        string key,
        CancellationToken cancellationToken
    )
    {
        if (FilterOf(bound, key) is not { } filter)
            return null;
        var names = bound
            .Columns.Where(column => column.Schema.Type.Kind is not ValueKind.Binary)
            .Select(column => column.Name)
            .ToList();
        var rows = await reader.ReadAsync(
            bound.Table,
            new RowRequest
            {
                Filter = filter,
                Columns = names,
                Take = 1,
            },
            cancellationToken
        );
        return rows is [var row] ? RowValues.Of(bound.Table, names, row) : null;
    }

    private static Filter? FilterOf(BoundPanel bound, string key) =>
        RecordKey.ValuesOf(bound, key) is { } values ? RecordKey.Filter(bound, values) : null;

    // What an expression asks of the record is typed or stored; what it asks of others has been fetched before.
    private sealed class Values(Dictionary<string, string?> record, RuleAsking asking) : IRuleValues
    {
        private readonly Dictionary<string, string?> _fields = [];
        private readonly Dictionary<string, object?> _aggregates = [];

        public RuleAsking Asking => asking;

        public string? Of(Rule.Field field) =>
            field.Of.Way.Count > 0 ? _fields[field.Signature()]
            : field.Column.Read(record.GetValueOrDefault(field.Column.Name)) is { Sort: ReadSort.Value } read ? read.Text
            : null;

        public object? Of(Rule.Aggregate aggregate) => _aggregates[aggregate.Signature()];

        public async Task FetchAsync(
            SourceReader reader,
            BoundPanel own,
            string? key,
            Rule rule,
            CancellationToken cancellationToken
        )
        {
            foreach (var part in rule.All())
            {
                if (part is Rule.Field { Of.Way: [var step, ..] way } field)
                {
                    var there = field with { Of = new RuleRecord(false, [.. way.Skip(1)]) };
                    _fields[field.Signature()] = await AskAsync(reader, step, there, cancellationToken);
                }
                else if (part is Rule.Aggregate aggregate)
                {
                    _aggregates[aggregate.Signature()] = RuleValue.Read(
                        aggregate.Type,
                        await FetchAsync(reader, own, key, aggregate, cancellationToken)
                    ) ?? None(aggregate.How);
                }
            }
        }

        private async Task<string?> FetchAsync(
            SourceReader reader,
            BoundPanel own,
            string? key,
            Rule.Aggregate aggregate,
            CancellationToken cancellationToken
        )
        {
            var outer = RuleFolding.OuterOf(aggregate.Filter).ToList();
            foreach (var one in outer)
                await FetchAsync(reader, own, key, one with { Of = new RuleRecord(false, one.Of.Way) }, cancellationToken);
            var evaluator = new RuleEvaluator(this);
            var there = aggregate with
            {
                Of = new RuleRecord(false, [.. aggregate.Of.Way.Skip(1)]),
                Filter = RuleFolding.WithOuter(aggregate.Filter, field =>
                    evaluator.Evaluate(field with { Of = new RuleRecord(false, field.Of.Way) })
                ),
            };
            if (aggregate.Of.Way is [var step, ..])
                return await AskAsync(reader, step, there, cancellationToken);
            // Nothing can refer to a record that is not there yet.
            return key is not null && FilterOf(own, key) is { } filter
                ? await AskAsync(reader, own.Table, filter, there, cancellationToken)
                : null;
        }

        private Task<string?> AskAsync(SourceReader reader, RuleStep step, Rule there, CancellationToken cancellationToken)
        {
            var (lookup, table) = (step.To.Lookup, step.To.Table);
            if (
                record.GetValueOrDefault(step.Column.Name) is not { } value
                || !ValueText.TryRead(table.Find(lookup.Key)!.Type, step.To.KeyOf(value), out var wanted, out _)
            )
                return Task.FromResult<string?>(null);
            return AskAsync(
                reader,
                table,
                Filter.Join(step.To.OneOf(lookup.Key, [wanted]), step.To.InList)!,
                there,
                cancellationToken
            );
        }

        private async Task<string?> AskAsync(
            SourceReader reader,
            Table table,
            Filter filter,
            Rule there,
            CancellationToken cancellationToken
        )
        {
            var request = new RowRequest
            {
                Filter = filter,
                Columns = [],
                Rules = [new AskedRule(there, asking)],
                Take = 1,
            };
            return (await reader.ReadAsync(table, request, cancellationToken)) is [var row] ? row[0] : null;
        }

        private static object? None(RuleAggregate how) =>
            how switch
            {
                RuleAggregate.Count or RuleAggregate.Sum => 0m,
                RuleAggregate.Exists => false,
                _ => null,
            };
    }
}
