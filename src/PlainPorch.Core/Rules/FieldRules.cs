using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Rules;

/// <summary>The expressions that say of a field whether it is shown, whether it must be filled in, and what it begins with.</summary>
/// <param name="Column">The field's column.</param>
/// <param name="ShownIf">Under which condition it is shown; null for always, and where that cannot be read.</param>
/// <param name="RequiredIf">Under which condition it must be filled in; null for none.</param>
/// <param name="StartsAs">What a new record's begins with; null for nothing.</param>
public sealed record FieldRules(BoundColumn Column, Rule? ShownIf, Rule? RequiredIf, Rule? StartsAs)
{
    /// <summary>Whether a column has any.</summary>
    public static bool AreOf(PanelColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return column is { ShownIf: not null } or { RequiredIf: not null } or { StartsAs: not null };
    }

    /// <summary>Those of a panel's fields, where there are any.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The panels of its porch, by the same eyes.</param>
    public static IReadOnlyList<FieldRules> Of(BoundPanel panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        var scope = new RuleScope(panel, porch);
        return
        [
            .. from column in panel.Columns
            let decision = column.Decision
            where AreOf(decision)
            select new FieldRules(
                column,
                Read(decision.ShownIf, scope),
                Read(decision.RequiredIf, scope),
                Read(decision.StartsAs, scope)
            ),
        ];
    }

    /// <summary>That a column is filled in where it must be, as something that holds for a record.</summary>
    /// <param name="column">The column.</param>
    /// <param name="condition">Under which condition it must be.</param>
    internal static Rule Kept(BoundColumn column, Rule condition)
    {
        var type = RuleValue.TypeOf(column.Schema.Type);
        Rule stored = new Rule.Field(type, RuleRecord.Own, BoundCheck.Stored(column));
        // A text of blanks is none.
        var value =
            type is RuleType.Text
                ? new Rule.Apply(
                    type,
                    RuleOperation.NullIf,
                    [new Rule.Apply(type, RuleOperation.Trim, [stored]), new Rule.Literal(type, "")]
                )
                : stored;
        return new Rule.Apply(
            RuleType.Truth,
            RuleOperation.Or,
            [
                new Rule.Apply(RuleType.Truth, RuleOperation.Distinct, [condition, new Rule.Literal(RuleType.Truth, true)]),
                new Rule.Apply(
                    RuleType.Truth,
                    RuleOperation.Not,
                    [new Rule.Apply(RuleType.Truth, RuleOperation.IsNull, [value])]
                ),
            ]
        );
    }

    private static Rule? Read(string? text, RuleScope scope) =>
        text is not null && RuleReader.TryRead(text, scope, out var rule, out _) ? rule : null;
}
