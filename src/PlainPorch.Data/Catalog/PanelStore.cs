using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Records;
using PlainPorch.Data.Sources;

namespace PlainPorch.Data.Catalog;

/// <summary>Keeps porches and the drafts of their panels.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="snapshots">The schemas.</param>
/// <param name="connections">Connections to the sources.</param>
public sealed class PanelStore(CatalogContext catalog, SnapshotStore snapshots, SourceConnections connections)
{
    /// <summary>All porches by name, each with its panels by slug.</summary>
    public async Task<IReadOnlyList<PorchContent>> ListAsync(CancellationToken cancellationToken)
    {
        var porches = await catalog.Porches.AsNoTracking().OrderBy(porch => porch.Name).ToListAsync(cancellationToken);
        var panels = await catalog.Panels.AsNoTracking().OrderBy(panel => panel.Slug).ToListAsync(cancellationToken);
        return [.. porches.Select(porch => new PorchContent(porch, [.. panels.Where(panel => panel.PorchId == porch.Id).Select(Read)]))];
    }

    /// <summary>Finds a porch with its panels by slug.</summary>
    /// <returns>The porch; null where there is none.</returns>
    public async Task<PorchContent?> FindPorchAsync(string slug, CancellationToken cancellationToken)
    {
        var porch = await catalog.Porches.AsNoTracking().FirstOrDefaultAsync(row => row.Slug == slug, cancellationToken);
        if (porch is null)
            return null;
        var panels = await catalog.Panels.AsNoTracking().Where(panel => panel.PorchId == porch.Id)
            .OrderBy(panel => panel.Slug)
            .ToListAsync(cancellationToken);
        return new PorchContent(porch, [.. panels.Select(Read)]);
    }

    /// <summary>Opens a panel for work on its records or its set-up.</summary>
    /// <returns>The panel; null where there is none, or its source was never read.</returns>
    public async Task<OpenPanel?> OpenAsync(string porchSlug, string panelSlug, CancellationToken cancellationToken)
    {
        var found = await (
            from panel in catalog.Panels.AsNoTracking()
            join porch in catalog.Porches on panel.PorchId equals porch.Id
            join source in catalog.Sources on porch.SourceId equals source.Id
            where porch.Slug == porchSlug && panel.Slug == panelSlug
            select new
            {
                Panel = panel,
                Porch = porch,
                Source = source,
                Snapshot = catalog.Snapshots.Where(snapshot => snapshot.SourceId == source.Id).Max(snapshot => (int?)snapshot.Id),
            }).FirstOrDefaultAsync(cancellationToken);
        if (found?.Snapshot is not { } snapshotId)
            return null;
        var model = await snapshots.GetAsync(snapshotId, cancellationToken);
        var definition = Read(found.Panel);
        return new OpenPanel(
            found.Panel.Id,
            found.Panel.Version,
            found.Porch,
            found.Source,
            definition,
            BoundPanel.Bind(definition, model.Snapshot, found.Source.IsReadOnly),
            model,
            connections.Get(found.Source));
    }

    /// <summary>Drafts a panel over a table and keeps it.</summary>
    /// <returns>Porch and panel; refused where the source has no such table or it cannot be read.</returns>
    public async Task<SaveOutcome<(PorchRow Porch, PanelDefinition Panel)>> MakeAsync(
        SourceRow source, TableName tableName, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(source);
        if (await snapshots.LatestAsync(source.Id, cancellationToken) is not { } model)
            return Refused("table", "The schema of this source was not read yet. Read it first.");
        if (model.Snapshot.Find(tableName) is not { } table)
            return Refused("table", $"The source has no table or view {tableName}. Choose one from the list, or read the schema again.");
        if (!table.Rights.Read || table.Columns.Count == 0)
            return Refused("table", $"{source.User} may not read {tableName}. Grant it SELECT and read the schema again.");
        var porch = await catalog.Porches.AsNoTracking().FirstAsync(row => row.SourceId == source.Id, cancellationToken);
        var sample = await TableSampler.ReadAsync(model, table, connections.Get(source), cancellationToken);
        var taken = await catalog.Panels.Where(panel => panel.PorchId == porch.Id).Select(panel => panel.Slug).ToHashSetAsync(cancellationToken);
        var definition = PanelDraft.Make(table, sample, taken, new Vocabulary(model.Snapshot.Tables));
        catalog.Panels.Add(new PanelRow { PorchId = porch.Id, Slug = definition.Slug, Content = Write(definition) });
        try
        {
            await catalog.SaveChangesAsync(cancellationToken);
        }
        catch (DbUpdateException refused) when (refused.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            return Refused("table", "Another panel of that name was made at the same moment. Try again.");
        }

        return new SaveOutcome<(PorchRow, PanelDefinition)>.Saved((porch, definition));
    }

    /// <summary>Saves a panel's draft, if it is still the version that was shown.</summary>
    /// <param name="panel">The panel as it was opened.</param>
    /// <param name="version">The version that was shown.</param>
    /// <param name="changed">The changed decisions; slug and table stay as they are.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<SaveOutcome<PanelDefinition>> SaveAsync(
        OpenPanel panel, uint version, PanelDefinition changed, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(changed);
        var definition = changed with { Slug = panel.Definition.Slug, Table = panel.Definition.Table };
        if (panel.Model.Snapshot.Find(definition.Table) is { } table && PanelCheck.Run(definition, table) is { Count: > 0 } problems)
            return new SaveOutcome<PanelDefinition>.Refused(problems);
        var row = new PanelRow { Id = panel.Id, PorchId = panel.Porch.Id, Slug = definition.Slug, Content = "", Version = version };
        catalog.Attach(row);
        row.Content = Write(definition);
        try
        {
            await catalog.SaveChangesAsync(cancellationToken);
            return new SaveOutcome<PanelDefinition>.Saved(definition);
        }
        catch (DbUpdateConcurrencyException)
        {
            return new SaveOutcome<PanelDefinition>.Stale();
        }
    }

    /// <summary>Removes a panel. The table's records are not touched.</summary>
    public Task RemoveAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return catalog.Panels.Where(row => row.Id == panel.Id).ExecuteDeleteAsync(cancellationToken);
    }

    private static SaveOutcome<(PorchRow Porch, PanelDefinition Panel)>.Refused Refused(string field, string message) =>
        new([new FieldProblem(field, message)]);

    private static PanelDefinition Read(PanelRow row) => JsonSerializer.Deserialize<PanelDefinition>(row.Content, DefinitionJson.Options)!;

    private static string Write(PanelDefinition definition) => JsonSerializer.Serialize(definition, DefinitionJson.Options);
}

/// <summary>A porch with its panels.</summary>
/// <param name="Porch">The porch.</param>
/// <param name="Panels">Its panels by slug.</param>
public sealed record PorchContent(PorchRow Porch, IReadOnlyList<PanelDefinition> Panels)
{
    /// <summary>The porch as a document.</summary>
    public PorchDefinition ToDefinition() => new() { Name = Porch.Name, Slug = Porch.Slug, Panels = Panels };
}

/// <summary>A panel with all that work on it needs.</summary>
/// <param name="Id">The catalog's number of it.</param>
/// <param name="Version">The draft's version.</param>
/// <param name="Porch">The porch that it belongs to.</param>
/// <param name="Source">The source that it is on.</param>
/// <param name="Definition">The draft.</param>
/// <param name="Bound">The draft joined with its table; null where the table is gone.</param>
/// <param name="Model">The source's schema and model.</param>
/// <param name="Connections">Connections to the source.</param>
public sealed record OpenPanel(
    int Id,
    uint Version,
    PorchRow Porch,
    SourceRow Source,
    PanelDefinition Definition,
    BoundPanel? Bound,
    RecordModel Model,
    NpgsqlDataSource Connections);
