using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Panels;

/// <summary>A column that a panel computes.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Column">As a column of the panel's table; null where its expression cannot be read.</param>
/// <param name="Problem">Why it cannot be read; null where it can.</param>
public sealed record ComputedColumn(string Name, Column? Column, string? Problem)
{
    /// <summary>How its values are shown, such as with a unit; null for as they are.</summary>
    public ValueLook? Look { get; init; }
}

/// <summary>Reads the expressions by which panels compute columns.</summary>
public interface IComputedColumns
{
    /// <summary>The columns that a panel computes, in its order.</summary>
    /// <param name="panel">The panel with the columns that its table has.</param>
    /// <param name="porch">The panels of its porch, by the same eyes.</param>
    IReadOnlyList<ComputedColumn> Of(BoundPanel panel, PorchPanels porch);
}
