using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Rules;

/// <summary>Reads the expressions of computed columns.</summary>
public sealed class ComputedColumns : IComputedColumns
{
    private ComputedColumns() { }

    /// <summary>There is but one.</summary>
    public static ComputedColumns Instance { get; } = new();

    /// <inheritdoc/>
    public IReadOnlyList<ComputedColumn> Of(BoundPanel panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        return
        [
            .. new RuleScope(panel, porch).Computed.Select(column => Read(column, panel, porch)),
            .. panel
                .Definition.Columns.Where(column => column is { ByCode: true, Expression: null } && !panel.IsHidden(column.Name))
                .Select(column => ByCode(column, panel)),
        ];
    }

    /// <summary>What an expression comes to as a computed column has it.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="value">The value, as <see cref="Rule.Literal"/> holds it.</param>
    /// <returns>The value in the one text form.</returns>
    public static string ToText(ColumnType type, object value)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.Scale is { } scale && value is decimal number
            ? number.ToString(string.Create(CultureInfo.InvariantCulture, $"F{scale}"), CultureInfo.InvariantCulture)
            : RuleValue.ToText(value)!;
    }

    private static ComputedColumn Read(PanelColumn column, BoundPanel panel, PorchPanels porch)
    {
        if (Taken(column, panel) is { } taken)
            return Wrong(taken);
        if (!RuleReader.TryRead(column.Expression!, ScopeOf(column, panel, porch), out var rule, out var problem))
            return Wrong(problem!.Message);
        return ColumnOf(column.Name, rule!, porch) is { } made
            ? new ComputedColumn(column.Name, made, null) { Look = RuleUnit.Of(rule!) }
            : Wrong(
                "It comes to nothing that could be shown. Write an expression that is a number, a text, a date or a condition."
            );

        ComputedColumn Wrong(string message) => new(column.Name, null, message);
    }

    // What is masked is hidden from whoever sees the mask.
    private static RuleScope ScopeOf(PanelColumn column, BoundPanel panel, PorchPanels porch)
    {
        if (column.MaskOf is null)
            return new RuleScope(panel, porch).Of(column);
        var all = porch.SeenBy(EverybodySeesEverything.Instance).Stored;
        return new RuleScope(all.Bind(porch.Find(panel.Definition.Slug)!, sourceIsReadOnly: true)!, all);
    }

    /// <summary>A column that an expression computes.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="rule">The expression.</param>
    /// <param name="porch">The panels among which it was read.</param>
    /// <returns>The column; null where it comes to nothing that could be shown.</returns>
    public static Column? ColumnOf(string name, Rule rule, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(rule);
        return TypeOf(rule) is { } type
            ? new Column
            {
                Name = name,
                Type = type,
                Expression = new ColumnExpression(rule, porch),
            }
            : null;
    }

    // The database has nothing of it, and so can do nothing with it.
    private static ComputedColumn ByCode(PanelColumn column, BoundPanel panel) =>
        Taken(column, panel) is { } taken
            ? new ComputedColumn(column.Name, null, taken)
            : new ComputedColumn(
                column.Name,
                new Column
                {
                    Name = column.Name,
                    Type = new ColumnType { StoreType = "text", Kind = ValueKind.Other },
                    Expression = CodeExpression.Instance,
                },
                null
            );

    private static string? Taken(PanelColumn column, BoundPanel panel) =>
        panel.Table.Find(column.Name) is null
            ? null
            : $"{panel.Table.Name} has a column {column.Name} itself. Give the computed one another name.";

    private static ColumnType? TypeOf(Rule rule) =>
        rule.Type switch
        {
            RuleType.Number => NumberOf(RuleScale.Of(rule)),
            RuleType.Text => new() { StoreType = "text", Kind = ValueKind.Text },
            RuleType.Date => new() { StoreType = "date", Kind = ValueKind.Date },
            RuleType.Moment => new() { StoreType = "timestamp without time zone", Kind = ValueKind.DateTime },
            RuleType.Time => new() { StoreType = "time without time zone", Kind = ValueKind.Time },
            RuleType.Truth => new() { StoreType = "boolean", Kind = ValueKind.Boolean },
            _ => null,
        };

    private static ColumnType NumberOf(int? scale) =>
        new()
        {
            StoreType = scale is null
                ? "numeric"
                : string.Create(CultureInfo.InvariantCulture, $"numeric({RuleNumber.PlacesBefore + scale},{scale})"),
            Kind = ValueKind.Decimal,
            Precision = RuleNumber.PlacesBefore + scale,
            Scale = scale,
        };
}

/// <summary>Stands for what code of one's own computes once the records are read; to the database there is nothing.</summary>
public sealed class CodeExpression : IColumnExpression
{
    private CodeExpression() { }

    /// <summary>There is but one.</summary>
    public static CodeExpression Instance { get; } = new();

    /// <inheritdoc/>
    public IEnumerable<string> AskedColumns() => [];
}

/// <summary>The expression of a computed column.</summary>
/// <param name="rule">The expression.</param>
/// <param name="porch">The panels among which it was read: their clock tells what day it is.</param>
public sealed class ColumnExpression(Rule rule, PorchPanels porch) : IColumnExpression
{
    private readonly IReadOnlyList<RuleGiven> _givens = [.. rule.Givens()];
    private string? _signature;

    /// <summary>The expression.</summary>
    public Rule Rule => rule;

    /// <summary>The moment and the person that ask now.</summary>
    public RuleAsking Asking() => new(porch.Now.DateTime);

    /// <summary>A text that tells it from all others, with what is known of the moment and the person.</summary>
    /// <param name="asking">The moment and the person that ask.</param>
    public string Signature(RuleAsking asking)
    {
        ArgumentNullException.ThrowIfNull(asking);
        _signature ??= rule.Signature();
        return _givens.Count == 0
            ? _signature
            : string.Join('\u001f', _givens.Select(what => RuleValue.ToText(asking.Of(what))).Prepend(_signature));
    }

    /// <inheritdoc/>
    public IEnumerable<string> AskedColumns() => rule.Columns();
}
