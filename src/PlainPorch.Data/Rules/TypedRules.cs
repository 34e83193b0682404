using System.Collections.Frozen;
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

/// <summary>What a panel's rules say of a record that is being typed.</summary>
/// <param name="Problems">What is wrong at which column; "" for the record as a whole.</param>
/// <param name="Computed">
/// What the computed columns come to with what was typed, in the one text form; null for nothing, and as long as something that they
/// ask for is no value yet. Those that what was typed does not touch are left out.
/// </param>
/// <param name="Hidden">The columns whose fields are out of sight now.</param>
/// <param name="Required">The columns that must be filled in now, as others have the values that they have.</param>
/// <param name="Starts">
/// What fields of a new record begin with that nobody typed into, in the one text form of what the column means; null for nothing.
/// </param>
public sealed record TypedAnswer(
    IReadOnlyList<FieldProblem> Problems,
    IReadOnlyDictionary<string, string?> Computed,
    IReadOnlyList<string> Hidden,
    IReadOnlyList<string> Required,
    IReadOnlyDictionary<string, string?> Starts
)
{
    /// <summary>Nothing.</summary>
    public static TypedAnswer Nothing { get; } =
        new([], FrozenDictionary<string, string?>.Empty, [], [], FrozenDictionary<string, string?>.Empty);
}

/// <summary>
/// Looks at a record that is being typed as its panel's rules will once it is saved. What stands in the record itself is reckoned
/// here; other records are asked for in the database.
/// </summary>
/// <param name="opened">The panel as the person sees it who types; its table must be there.</param>
/// <param name="user">What the person is called who types.</param>
public sealed class TypedRules(OpenPanel opened, string user)
{
    // Checks hold for whoever types, whatever that one may see.
    private readonly PorchPanels _porch = opened.Panels.SeenBy(EverybodySeesEverything.Instance);

    /// <summary>Whether a panel has anything to say of what is typed.</summary>
    public static bool AreIn(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return BoundCheck.AreIn(panel.Definition) || ComputedIn(panel).Any() || CodedIn(panel).Any() || AreOfFields(panel);
    }

    /// <summary>Whether a panel has something to say of its fields before anything is typed.</summary>
    public static bool AreOfFields(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.Definition.ChangeIf is not null || panel.Columns.Any(column => FieldRules.AreOf(column.Decision));
    }

    /// <summary>Finds what they say so far.</summary>
    /// <param name="key">The record's key; null for a new one.</param>
    /// <param name="typed">Values that were typed, as they would be stored.</param>
    /// <param name="unread">Columns in which something stands that is no value yet.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>What they say; nothing where there is no such record.</returns>
    public async Task<TypedAnswer> FindAsync(
        string? key,
        IReadOnlyDictionary<string, string?> typed,
        IReadOnlySet<string> unread,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(typed);
        ArgumentNullException.ThrowIfNull(unread);
        if (_porch.Bind(opened.Definition, sourceIsReadOnly: false) is not { } bound)
            return TypedAnswer.Nothing;
        var checks = BoundCheck.Of(bound, _porch);
        var computed = ComputedIn(opened.Bound!).ToList();
        var coded = CodedIn(opened.Bound!).ToList();
        var fields = FieldRules.Of(opened.Bound!, opened.Panels);
        var changeIf = key is null ? null : BoundCondition.Of(opened.Definition.ChangeIf, bound, _porch);
        if (checks.Count == 0 && computed.Count + coded.Count + fields.Count == 0 && changeIf is null)
            return TypedAnswer.Nothing;
        await using var connection = await opened.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(opened.Model, connection);
        var record = new Dictionary<string, string?>();
        if (key is not null)
        {
            if (await StoredAsync(reader, bound, key, cancellationToken) is not { } stored)
                return TypedAnswer.Nothing;
            record = stored;
        }

        var asking = new RuleAsking(_porch.Now.DateTime, user);
        var problems = new List<FieldProblem>();
        // Whoever opens the form of a record that cannot be changed is told before typing.
        if (changeIf?.Rule is { } allowed && await ReckonAsync(new Values(record, asking), allowed) is (true, false))
            problems.Add(new FieldProblem("", changeIf.Condition.Message));
        foreach (var (name, value) in typed)
            record[name] = value;
        // What several ask of another record is asked for once.
        var typedNow = new Values(record, asking);
        foreach (var check in checks)
        {
            if (
                check is { Rule: { } rule, IsOfRequired: false }
                && Touches(rule)
                && !rule.Columns().Any(unread.Contains)
                // What fails is said when it is saved, should it still be so.
                && await EvaluateAsync(rule) is (true, false)
            )
                problems.Add(check.Says());
        }

        var values = new Dictionary<string, string?>();
        foreach (var (column, rule) in computed.Where(one => Touches(one.Rule)))
        {
            values[column.Name] =
                !rule.Columns().Any(unread.Contains) && await EvaluateAsync(rule) is (true, { } value)
                    ? ClrValue.ToText(column.Schema.Type, ComputedColumns.ToText(column.Schema.Type, value))
                    : null;
        }

        foreach (var column in coded)
        {
            // What the panel does not have is read once it is saved.
            if (
                opened.Coded.ReadsOf(bound.Table.Name, column.Name) is { } reads
                && reads.Any(IsTouched)
                && reads.All(name => key is null || record.ContainsKey(name))
            )
                values[column.Name] = reads.Any(unread.Contains) ? null : await CodedAsync(column.Name, reads);
        }

        var (hidden, required, starts) = (new List<string>(), new List<string>(), new Dictionary<string, string?>());
        foreach (var (column, shownIf, requiredIf, startsAs) in fields)
        {
            // What is open, or fails, hides nothing.
            if (shownIf is not null && await EvaluateAsync(shownIf) is (true, false))
                hidden.Add(column.Name);
            if (requiredIf is not null && await EvaluateAsync(requiredIf) is (true, true))
                required.Add(column.Name);
            if (startsAs is not null && key is null && !startsAs.Columns().Any(unread.Contains))
                starts[column.Name] = await EvaluateAsync(startsAs) is (true, { } value)
                    ? ClrValue.ToText(column.Type, RuleValue.ToText(value))
                    : null;
        }

        return new TypedAnswer(problems, values, hidden, required, starts);

        async Task<string?> CodedAsync(string column, IReadOnlyList<string> reads)
        {
            var told = reads.ToDictionary(name => name, record.GetValueOrDefault);
            return await opened.Coded.ComputeAsync(bound.Table.Name, column, [told], cancellationToken) is { Values: [var value] }
                ? value
                : null;
        }

        bool IsTouched(string column) => typed.ContainsKey(column) || unread.Contains(column);

        bool Touches(Rule rule) => rule.Columns().Any(IsTouched);

        Task<(bool Succeeded, object? Value)> EvaluateAsync(Rule rule) => ReckonAsync(typedNow, rule);

        async Task<(bool Succeeded, object? Value)> ReckonAsync(Values of, Rule rule)
        {
            try
            {
                await of.FetchAsync(reader, bound, key, rule, cancellationToken);
                return (true, new RuleEvaluator(of).Evaluate(rule));
            }
            catch (Exception failure) when (failure is RuleFailedException || RuleFailures.Of(failure) is not null)
            {
                return (false, null);
            }
        }
    }

    private static IEnumerable<(BoundColumn Column, Rule Rule)> ComputedIn(BoundPanel panel) =>
        from column in panel.Columns
        let expression = column.Schema.Expression as ColumnExpression
        where expression is not null
        select (column, expression.Rule);

    private static IEnumerable<BoundColumn> CodedIn(BoundPanel panel) => panel.Columns.Where(column => column.Decision.ByCode);

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
            .Columns.Where(column => column.Schema is { IsStored: true, Type.Kind: not ValueKind.Binary })
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
                if (part is Rule.Field { Of.Way: [var step, ..] way } field && !_fields.ContainsKey(field.Signature()))
                {
                    var there = field with { Of = new RuleRecord(false, [.. way.Skip(1)]) };
                    _fields[field.Signature()] = await AskAsync(reader, step, there, cancellationToken);
                }
                else if (part is Rule.Aggregate aggregate && !_aggregates.ContainsKey(aggregate.Signature()))
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
