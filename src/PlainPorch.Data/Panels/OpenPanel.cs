using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Panels;

/// <summary>A panel with all that work on it needs, as the person sees it whose request it is opened for.</summary>
/// <param name="Id">The catalog's number of it.</param>
/// <param name="Version">The draft's version.</param>
/// <param name="Porch">The porch that it belongs to.</param>
/// <param name="Source">The source that it is on.</param>
/// <param name="Definition">The draft.</param>
/// <param name="Bound">The draft joined with its table; null where the table is gone.</param>
/// <param name="Model">The source's schema and model.</param>
/// <param name="Pool">Connections to the source.</param>
/// <param name="Panels">The porch's panels, among which lookups are resolved.</param>
/// <param name="Origin">How the panel was drafted; null where that was not kept.</param>
/// <param name="Kept">Knows how records in our keep were called.</param>
/// <param name="Coded">Fills in what code of one's own computes.</param>
public sealed record OpenPanel(
    int Id,
    uint Version,
    PorchRow Porch,
    SourceRow Source,
    PanelDefinition Definition,
    BoundPanel? Bound,
    RecordModel Model,
    SourcePool Pool,
    PorchPanels Panels,
    PanelOrigin? Origin,
    IKeptTitles Kept,
    ICodedColumns Coded
)
{
    /// <summary>Its records as this person sees them; its table must be there.</summary>
    public SeenPanel Seen => new(Model, Connections, Bound!, Panels, Kept, Coded);

    /// <summary>The same panel as somebody sees it.</summary>
    /// <param name="sights">What that person may see.</param>
    public OpenPanel SeenBy(IPanelSights sights)
    {
        if (sights is EverybodySeesEverything)
            return this;
        var panels = Panels.SeenBy(sights);
        return this with { Bound = panels.Bind(Definition, Source.IsReadOnly), Panels = panels };
    }

    /// <summary>Connections to the source; to be used under a lease of <see cref="Pool"/>.</summary>
    public NpgsqlDataSource Connections => Pool.Connections;
}
