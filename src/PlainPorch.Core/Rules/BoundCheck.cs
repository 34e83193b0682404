using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Rules;

/// <summary>A check with its expression read.</summary>
/// <param name="Check">The check.</param>
/// <param name="Rule">Its expression; null where it cannot be read.</param>
/// <param name="Problem">Why it cannot be read; null where it can.</param>
public sealed record BoundCheck(RecordCheck Check, Rule? Rule, RuleProblem? Problem)
{
    /// <summary>Whether it wants a field filled in: the form marks such a field, and says no more until it is saved.</summary>
    public bool IsOfRequired { get; init; }

    /// <summary>What is said where it does not hold.</summary>
    /// <param name="title">How the record is called, where several are spoken of; null where it is the one that is typed.</param>
    public FieldProblem Says(string? title = null) =>
        (
            title is null
                ? new FieldProblem(Check.Column ?? "", Check.Message)
                : new FieldProblem("", $"{title}: {Check.Message}")
        ) with
        {
            Warning = Check.IsWarning ? Check.Name : null,
        };

    /// <summary>Whether anything must hold for a panel's records.</summary>
    public static bool AreIn(PanelDefinition panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.Checks.Count > 0
            || panel.Columns.Any(column =>
                column.RequiredIf is not null
                || column.Lookup is { Also.Count: 0 } lookup && lookup.Within.Any(restriction => restriction.From is not null)
            );
    }

    /// <summary>
    /// What must hold for a panel's records: its checks, and that what a lookup refers to is one of those that it offers, given the
    /// record's other values.
    /// </summary>
    /// <param name="panel">The panel, as somebody who sees everything.</param>
    /// <param name="porch">The panels of its porch, by the same eyes.</param>
    public static IReadOnlyList<BoundCheck> Of(BoundPanel panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        var scope = new RuleScope(panel, porch);
        return
        [
            .. panel.Definition.Checks.Select(check =>
                RuleReader.TryRead(check.Condition, scope, out var rule, out var problem)
                    ? new BoundCheck(check, rule, null)
                    : new BoundCheck(check, null, problem)
            ),
            .. panel.Columns.Where(column => column.Decision.RequiredIf is not null).Select(column => OfRequired(column, scope)),
            .. from column in panel.Columns
            let lookup = column.Decision.Lookup
            where lookup is not null
            from restriction in lookup.Within
            let check = OfRestriction(panel, porch, column, restriction)
            where check is not null
            select check,
        ];
    }

    private static BoundCheck OfRequired(BoundColumn column, RuleScope scope)
    {
        var text = column.Decision.RequiredIf!;
        var check = new RecordCheck
        {
            Name = column.Name,
            Condition = text,
            Message = "Enter a value: it is required here.",
            Column = column.Name,
        };
        return RuleReader.TryRead(text, scope, out var condition, out var problem)
            ? new BoundCheck(check, FieldRules.Kept(column, condition!), null) { IsOfRequired = true }
            : new BoundCheck(check, null, problem) { IsOfRequired = true };
    }

    private static BoundCheck? OfRestriction(
        BoundPanel panel,
        PorchPanels porch,
        BoundColumn column,
        LookupRestriction restriction
    )
    {
        if (
            restriction.From is not { } from
            || panel.Find(from) is not { } source
            // Of several columns the record referred to has what stands in the other ones already.
            || porch.Bind(column) is not { IsOfSeveral: false } to
            || to.Column(restriction.Column) is not { } target
        )
            return null;
        var own = AsText(new Rule.Field(RuleValue.TypeOf(source.Schema.Type), RuleRecord.Own, Stored(source)));
        var there = AsText(
            new Rule.Field(
                RuleValue.TypeOf(target.Schema.Type),
                new RuleRecord(false, [new RuleStep(column, to)]),
                Stored(target)
            )
        );
        if (own is null || there is null)
            return null;
        var rule = new Rule.Apply(
            RuleType.Truth,
            RuleOperation.Or,
            [IsNull(own), IsNull(there), new Rule.Apply(RuleType.Truth, RuleOperation.Equal, [there, own])]
        );
        return new BoundCheck(
            new RecordCheck
            {
                Name = column.Name,
                Condition = "",
                Message = $"This does not go with {source.Label}. Choose another.",
                Column = column.Name,
            },
            rule,
            null
        );
    }

    // Two columns may hold the same in types of their own, as the values by which a lookup refers do.
    private static Rule.Apply? AsText(Rule.Field field) =>
        field.Type switch
        {
            RuleType.Other => null,
            RuleType.Text => new Rule.Apply(RuleType.Text, RuleOperation.Trim, [field]),
            _ => new Rule.Apply(RuleType.Text, RuleOperation.ToText, [field]),
        };

    internal static BoundColumn Stored(BoundColumn column) =>
        new(column.Decision with { Reading = null, Lookup = null }, column.Schema);

    private static Rule.Apply IsNull(Rule rule) => new(RuleType.Truth, RuleOperation.IsNull, [rule]);
}
