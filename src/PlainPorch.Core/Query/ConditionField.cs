using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Query;

/// <summary>Something that a condition can be about, with what can be asked of it.</summary>
/// <param name="Column">The panel's column, by its exact name.</param>
/// <param name="Of">The column of the record that it refers to; null for the column itself.</param>
/// <param name="Label">What people read.</param>
/// <param name="Kind">What its values are.</param>
/// <param name="Choices">The only values that it can have, as they are typed; empty where there are many.</param>
/// <param name="Sorts">What can be asked of it.</param>
/// <param name="Others">The columns that it can be compared with, by their exact names.</param>
public sealed record ConditionField(
    string Column,
    string? Of,
    string Label,
    ValueKind Kind,
    IReadOnlyList<string> Choices,
    IReadOnlyList<ConditionSort> Sorts,
    IReadOnlyList<string> Others
)
{
    private static readonly ConditionSort[] _bounds =
    [
        ConditionSort.Less,
        ConditionSort.AtMost,
        ConditionSort.More,
        ConditionSort.AtLeast,
        ConditionSort.Between,
    ];

    /// <summary>
    /// All that conditions on a panel's list can be about: its columns, and after each lookup the columns of the record referred
    /// to.
    /// </summary>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The porch's panels, among which lookups are resolved.</param>
    public static IReadOnlyList<ConditionField> For(BoundPanel panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(porch);
        var visible = panel.Columns.Where(panel.CanAsk).ToList();
        return
        [
            .. visible.SelectMany(column =>
                OfRecord(column, porch).Prepend(Own(column, visible, isLookup: porch.Bind(column) is not null))
            ),
        ];
    }

    // Of a record that is referred to people know how it is called, not whether its number is greater than another.
    private static ConditionField Own(BoundColumn column, List<BoundColumn> visible, bool isLookup) =>
        new(
            column.Name,
            null,
            column.Label,
            column.Type.Kind,
            ChoicesOf(column.Type),
            isLookup
                ? [ConditionSort.Is, ConditionSort.Contains, ConditionSort.Empty, ConditionSort.Filled]
                : SortsOf(column.Type),
            [
                .. visible
                    .Where(other => other.Name != column.Name && ConditionReader.AreComparable(column.Type, other.Type))
                    .Select(other => other.Name),
            ]
        );

    private static IEnumerable<ConditionField> OfRecord(BoundColumn column, PorchPanels porch)
    {
        if (porch.Bind(column) is not { Table.Rights.Read: true } bound)
            return [];
        var other = porch.Searched(bound);
        return other
            .Columns.Where(other.CanAsk)
            .Select(referred => new ConditionField(
                column.Name,
                referred.Name,
                $"{column.Label}: {referred.Label}",
                referred.Type.Kind,
                ChoicesOf(referred.Type),
                SortsOf(referred.Type),
                []
            ));
    }

    private static IReadOnlyList<string> ChoicesOf(ColumnType type) =>
        type.Kind switch
        {
            ValueKind.Boolean => ["yes", "no"],
            ValueKind.Enum or ValueKind.Several => type.EnumValues,
            _ => [],
        };

    private static ConditionSort[] SortsOf(ColumnType type)
    {
        ConditionSort[] always = [ConditionSort.Empty, ConditionSort.Filled];
        return type.Kind switch
        {
            ValueKind.Text => [ConditionSort.Contains, ConditionSort.StartsWith, ConditionSort.Is, .. always],
            ValueKind.Date or ValueKind.DateTime or ValueKind.Instant =>
            [
                ConditionSort.Is,
                .. _bounds,
                ConditionSort.InLast,
                ConditionSort.InNext,
                ConditionSort.InThis,
                .. always,
            ],
            ValueKind.Boolean or ValueKind.Enum or ValueKind.Several or ValueKind.Uuid => [ConditionSort.Is, .. always],
            ValueKind.Time => [ConditionSort.Is, .. _bounds, .. always],
            _ when type.IsNumber => [ConditionSort.Is, .. _bounds, .. always],
            _ => always,
        };
    }
}
