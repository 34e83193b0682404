using Npgsql;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Panels;

/// <summary>
/// The records of a panel as somebody sees them: what readers and writers are given, and their only way to a panel. Which
/// columns,
/// records and acts it lets through is said by <paramref name="Panel"/>.
/// </summary>
/// <param name="Model">The source's schema and model.</param>
/// <param name="Connections">Connections to the source.</param>
/// <param name="Panel">The panel as this person sees it.</param>
/// <param name="Porch">The porch's panels as this person sees them, among which lookups are resolved.</param>
/// <param name="Kept">Knows how records in our keep were called; null where nothing is kept.</param>
/// <param name="Coded">Fills in what code of one's own computes; null where there is no such code.</param>
public sealed record SeenPanel(
    RecordModel Model,
    NpgsqlDataSource Connections,
    BoundPanel Panel,
    PorchPanels Porch,
    IKeptTitles? Kept = null,
    ICodedColumns? Coded = null
)
{
    /// <summary>Plans a list.</summary>
    /// <inheritdoc cref="ListPlan.Make"/>
    public ListPlan Plan(ListRequest request) => ListPlan.Make(Panel, request, Porch);

    /// <summary>Another panel of the porch, by the same person's eyes.</summary>
    /// <param name="panel">The slug of the panel.</param>
    /// <returns>The panel; null where there is none, or its table is gone or cannot be read.</returns>
    public SeenPanel? Other(string panel) =>
        Porch.Find(panel) is { } definition
        && Porch.Bind(definition, sourceIsReadOnly: true) is { Table.Rights.Read: true, Sight.Sees: true } bound
            ? this with
            {
                Panel = bound,
            }
            : null;

    /// <summary>Another panel of the porch, as the same person may write to it.</summary>
    /// <param name="panel">The slug of the panel.</param>
    /// <returns>The panel; null where there is none, its table is gone, or nothing can be written in this one.</returns>
    public SeenPanel? OtherToWrite(string panel) =>
        Panel.NotEditableBecause is null
        && Porch.Find(panel) is { } definition
        && Porch.Bind(definition, sourceIsReadOnly: false) is { Sight.Sees: true } bound
            ? this with
            {
                Panel = bound,
            }
            : null;
}
