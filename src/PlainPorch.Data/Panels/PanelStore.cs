using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.People;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Survey;

namespace PlainPorch.Data.Panels;

/// <summary>Keeps porches and the drafts of their panels.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="snapshots">The schemas.</param>
/// <param name="surveys">What surveys found.</param>
/// <param name="connections">Connections to the sources.</param>
/// <param name="cache">The panels that were read lately.</param>
/// <param name="kept">Knows how records in the keep were called.</param>
/// <param name="coded">Fills in what code of one's own computes.</param>
/// <param name="time">Tells what day it is.</param>
public sealed class PanelStore(
    CatalogContext catalog,
    SnapshotStore snapshots,
    SurveyStore surveys,
    SourceConnections connections,
    PanelCache cache,
    KeptTitlesOf kept,
    ICodedColumns coded,
    TimeProvider time
)
{
    /// <summary>All porches by name, each with its panels by slug.</summary>
    public async Task<IReadOnlyList<PorchContent>> ListAsync(CancellationToken cancellationToken)
    {
        var porches = await catalog.Porches.AsNoTracking().OrderBy(porch => porch.Name).ToListAsync(cancellationToken);
        var panels = await catalog.Panels.AsNoTracking().OrderBy(panel => panel.Slug).ToListAsync(cancellationToken);
        return
        [
            .. porches.Select(porch => new PorchContent(
                porch,
                [.. panels.Where(panel => panel.PorchId == porch.Id).Select(TryRead).OfType<PanelDefinition>()]
            )),
        ];
    }

    /// <summary>Finds a porch with its panels by slug.</summary>
    /// <returns>The porch; null where there is none.</returns>
    public async Task<PorchContent?> FindPorchAsync(string slug, CancellationToken cancellationToken)
    {
        var porch = await catalog.Porches.AsNoTracking().FirstOrDefaultAsync(row => row.Slug == slug, cancellationToken);
        if (porch is null)
            return null;
        var panels = await catalog
            .Panels.AsNoTracking()
            .Where(panel => panel.PorchId == porch.Id)
            .OrderBy(panel => panel.Slug)
            .ToListAsync(cancellationToken);
        return new PorchContent(porch, [.. panels.Select(TryRead).OfType<PanelDefinition>()]);
    }

    /// <summary>Says how a porch's people write dates and numbers.</summary>
    /// <returns>Whether there is such a porch.</returns>
    public async Task<bool> SetNotationAsync(string slug, Notation notation, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(notation);
        return await catalog
                .Porches.Where(porch => porch.Slug == slug)
                .ExecuteUpdateAsync(
                    porch =>
                        porch.SetProperty(row => row.Dates, notation.Dates).SetProperty(row => row.Numbers, notation.Numbers),
                    cancellationToken
                ) > 0;
    }

    // By way of the opener, which keeps what was opened.
    internal async Task<OpenPanel?> OpenAnewAsync(string porchSlug, string panelSlug, CancellationToken cancellationToken)
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
                Snapshot = catalog
                    .Set<SnapshotRow>()
                    .Where(snapshot => snapshot.SourceId == source.Id)
                    .Max(snapshot => (int?)snapshot.Id),
            }
        ).FirstOrDefaultAsync(cancellationToken);
        if (found?.Snapshot is not { } snapshotId)
            return null;
        var model = await snapshots.GetAsync(snapshotId, cancellationToken);
        var definition = Read(found.Panel);
        var porchmates = await cache.ReadAsync(catalog, found.Porch.Id, TryRead, cancellationToken);
        var panels = new PorchPanels(
            model.Snapshot,
            porchmates,
            found.Porch.Notation,
            clock: time,
            computed: ComputedColumns.Instance
        );
        return new OpenPanel(
            found.Panel.Id,
            found.Panel.Version,
            found.Porch,
            found.Source,
            definition,
            panels.Bind(definition, found.Source.IsReadOnly),
            model,
            connections.Get(found.Source),
            panels,
            found.Panel.Drafted is null
                ? null
                : JsonSerializer.Deserialize<PanelOrigin>(found.Panel.Drafted, DefinitionJson.Kept),
            kept(found.Source.Id),
            coded
        );
    }

    /// <summary>Drafts a panel over a table and keeps it.</summary>
    /// <returns>Porch and panel; refused where the source has no such table or it cannot be read.</returns>
    public async Task<SaveOutcome<(PorchRow Porch, PanelDefinition Panel)>> MakeAsync(
        SourceRow source,
        TableName tableName,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(source);
        if (await snapshots.LatestAsync(source.Id, cancellationToken) is not { } model)
            return Refused("table", "The schema of this source has not been read yet. Read it first.");
        if (model.Snapshot.Find(tableName) is not { } table)
            return Refused(
                "table",
                $"The source has no table or view {tableName}. Choose one from the list, or read the schema again."
            );
        if (!table.Rights.Read || table.Columns.Count == 0)
            return Refused("table", $"{source.User} may not read {tableName}. Grant it SELECT and read the schema again.");
        var porch = await catalog.Porches.AsNoTracking().FirstAsync(row => row.SourceId == source.Id, cancellationToken);
        var present = (await cache.ReadAsync(catalog, porch.Id, TryRead, cancellationToken)).ToList();
        var drafted = await DraftAsync(source, model, table, present, cancellationToken);
        var definition = drafted.Panel;
        catalog.Panels.Add(RowOf(porch, drafted));
        return await catalog.TrySaveAsync(cancellationToken)
            ? new SaveOutcome<(PorchRow, PanelDefinition)>.Saved((porch, definition))
            : Refused("table", "Another panel with that name was created at the same moment. Try again.");
    }

    /// <summary>Drafts the panels of a whole porch from what the survey found, and keeps them, all or none.</summary>
    /// <param name="source">The source.</param>
    /// <param name="tables">The tables to draft panels for; null for all. Tables that have a panel keep it as it is.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <param name="report">A survey's report that is not kept yet; null for the latest that is.</param>
    /// <returns>How many panels were made; refused where no survey was made yet, or a table is not there.</returns>
    public async Task<SaveOutcome<PorchDrafted>> DraftPorchAsync(
        SourceRow source,
        IReadOnlyList<TableName>? tables,
        CancellationToken cancellationToken,
        SurveyReport? report = null
    )
    {
        ArgumentNullException.ThrowIfNull(source);
        if (await snapshots.LatestAsync(source.Id, cancellationToken) is not { } model)
            return NotDrafted("The schema of this source has not been read yet. Read it first.");
        if (await surveys.FindingsAsync(source.Id, model.Snapshot, cancellationToken, report) is not { } findings)
            return NotDrafted("This source has not been surveyed yet. Survey it first.");
        if (tables?.FirstOrDefault(table => model.Snapshot.Find(table) is null) is { } unknown)
            return NotDrafted($"The source has no table or view {unknown}. Choose from the list, or read the schema again.");
        var porch = await catalog.Porches.AsNoTracking().FirstAsync(row => row.SourceId == source.Id, cancellationToken);
        var present = (await cache.ReadAsync(catalog, porch.Id, TryRead, cancellationToken)).ToList();
        var chosen = (tables ?? PorchDraft.ByThemselves(model.Snapshot.Tables))
            .Except(present.Select(panel => panel.Table))
            .ToHashSet();
        var drafted = PorchDraft.Make(findings, chosen, present);
        catalog.Panels.AddRange(drafted.Select(draft => RowOf(porch, draft)));
        return await catalog.TrySaveAsync(cancellationToken)
            ? new SaveOutcome<PorchDrafted>.Saved(new PorchDrafted(porch.Slug, drafted.Count, present.Count))
            : NotDrafted("Somebody else created panels at the same moment. Check them and try again.");
    }

    /// <summary>Sets a porch up as a definition says, all of it or nothing.</summary>
    /// <param name="slug">The porch's name in addresses; the definition's own does not count.</param>
    /// <param name="definition">
    /// The definition. Its panels take the place of those of the same slugs; panels that it does not have stay.
    /// </param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>How many panels were made and how many changed; refused where one of them is wrong; null where there is no such
    /// porch.</returns>
    public async Task<SaveOutcome<PorchDefined>?> DefineAsync(
        string slug,
        PorchDefinition definition,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(definition);
        if (await catalog.Porches.FirstOrDefaultAsync(row => row.Slug == slug, cancellationToken) is not { } porch)
            return null;
        if (await snapshots.LatestAsync(porch.SourceId, cancellationToken) is not { } model)
            return NotDefined([new("panels", "The schema of this source has not been read yet. Read it first.")]);
        var panels = new PorchPanels(model.Snapshot, definition.Panels, computed: ComputedColumns.Instance);
        var problems = definition.Panels.SelectMany(panel => ProblemsOf(panel, model.Snapshot, panels)).ToList();
        problems.AddRange(
            definition
                .Panels.CountBy(panel => panel.Slug)
                .Where(pair => pair.Value > 1)
                .Select(pair => new FieldProblem(pair.Key, "Two panels have this slug. Give one of them another."))
        );
        if (problems.Count > 0)
            return NotDefined(problems);
        if (
            definition.Roles.Count > 0
            && RoleCheck.Run(definition.Roles, await WithPresentAsync(porch.Id, panels, cancellationToken))
                is { Count: > 0 } wrong
        )
            return NotDefined(wrong);
        var present = await catalog
            .Panels.Where(row => row.PorchId == porch.Id)
            .ToDictionaryAsync(row => row.Slug, cancellationToken);
        var made = 0;
        foreach (var panel in definition.Panels.Select(panel => RuleCheck.WithNames(panel, panels)))
        {
            if (present.TryGetValue(panel.Slug, out var row))
            {
                row.Content = Write(panel);
                continue;
            }

            made++;
            catalog.Panels.Add(
                new PanelRow
                {
                    PorchId = porch.Id,
                    Slug = panel.Slug,
                    Content = Write(panel),
                }
            );
        }

        (porch.Name, porch.Dates, porch.Numbers) = (definition.Name, definition.Dates, definition.Numbers);
        // A definition without roles says nothing about them.
        if (definition.Roles.Count > 0)
            porch.Roles = Write(definition.Roles);
        return await catalog.TrySaveAsync(cancellationToken)
            ? new SaveOutcome<PorchDefined>.Saved(new PorchDefined(made, definition.Panels.Count - made))
            : NotDefined([new("panels", "Somebody else changed panels at the same moment. Try again.")]);
    }

    /// <summary>Says what people of which role may do in a porch.</summary>
    /// <param name="slug">The porch's slug.</param>
    /// <param name="version">The version that the change is based on.</param>
    /// <param name="roles">The roles, in place of those until now.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The new version.</returns>
    public async Task<SaveOutcome<uint>> SaveRolesAsync(
        string slug,
        uint version,
        IReadOnlyList<RoleDefinition> roles,
        CancellationToken cancellationToken
    )
    {
        if (
            await catalog.Porches.FirstOrDefaultAsync(row => row.Slug == slug, cancellationToken) is not { } porch
            || await snapshots.LatestAsync(porch.SourceId, cancellationToken) is not { } model
        )
            return new SaveOutcome<uint>.Missing();
        var panels = await cache.ReadAsync(catalog, porch.Id, TryRead, cancellationToken);
        if (
            RoleCheck.Run(roles, new PorchPanels(model.Snapshot, panels, computed: ComputedColumns.Instance)) is
            { Count: > 0 } wrong
        )
            return new SaveOutcome<uint>.Refused(wrong);
        porch.Roles = Write(roles);
        catalog.Entry(porch).Property(row => row.Version).OriginalValue = version;
        try
        {
            await catalog.SaveChangesAsync(cancellationToken);
        }
        catch (DbUpdateConcurrencyException)
        {
            return new SaveOutcome<uint>.Stale();
        }

        return new SaveOutcome<uint>.Saved(porch.Version);
    }

    private static string Write(IReadOnlyList<RoleDefinition> roles) => JsonSerializer.Serialize(roles, DefinitionJson.Options);

    private static IEnumerable<FieldProblem> ProblemsOf(PanelDefinition panel, SchemaSnapshot snapshot, PorchPanels porch)
    {
        if (Slug.Make(panel.Slug, new HashSet<string>()) != panel.Slug)
            return [new(panel.Slug, "A slug has small letters, digits and hyphens. Correct it.")];
        if (UnknownNames.Of(panel).FirstOrDefault() is { } misspelled)
            return [new($"{panel.Slug}.{misspelled}", $"{misspelled} is not known here. Correct the name, or leave it out.")];
        return snapshot.Find(panel.Table) is not { } table
            ?
            [
                new(
                    $"{panel.Slug}.table",
                    $"The source has no table or view {panel.Table}. Leave the panel out, or read the schema again."
                ),
            ]
            : PanelCheck
                .Run(panel, porch.Bind(panel, sourceIsReadOnly: true)?.Table ?? table, snapshot)
                .Concat(RuleCheck.Run(panel, porch))
                .Select(problem => problem with { Field = $"{panel.Slug}.{problem.Field}" });
    }

    private async Task<PorchPanels> WithPresentAsync(int porch, PorchPanels defined, CancellationToken cancellationToken) =>
        new(
            defined.Snapshot,
            [
                .. defined.All,
                .. (await cache.ReadAsync(catalog, porch, TryRead, cancellationToken)).Where(panel =>
                    defined.Find(panel.Slug) is null
                ),
            ],
            computed: ComputedColumns.Instance
        );

    private static SaveOutcome<PorchDefined>.Refused NotDefined(IReadOnlyList<FieldProblem> problems) => new(problems);

    /// <summary>Gives the labels that nobody edited by hand the words that a source's word list has now.</summary>
    /// <returns>How many labels changed.</returns>
    public async Task<int> RelabelAsync(int sourceId, CancellationToken cancellationToken)
    {
        if (await snapshots.LatestAsync(sourceId, cancellationToken) is not { } model)
            return 0;
        var words = await surveys.VocabularyAsync(sourceId, model.Snapshot, cancellationToken);
        var rows = await catalog
            .Panels.Where(panel =>
                panel.Drafted != null
                && catalog.Set<PorchRow>().Any(porch => porch.Id == panel.PorchId && porch.SourceId == sourceId)
            )
            .ToListAsync(cancellationToken);
        var changed = 0;
        foreach (var row in rows)
        {
            if (TryRead(row) is not { } definition || model.Snapshot.Find(definition.Table) is not { } table)
                continue;
            var origin = JsonSerializer.Deserialize<PanelOrigin>(row.Drafted!, DefinitionJson.Kept)!;
            var relabelled = Relabelling.Apply(definition, origin.Labels, table, words);
            if (relabelled.Changed == 0)
                continue;
            changed += relabelled.Changed;
            row.Content = Write(relabelled.Panel);
            row.Drafted = JsonSerializer.Serialize(
                origin with
                {
                    Labels = relabelled.Labels,
                    Panel = origin.Panel is null ? null : Relabelling.With(origin.Panel, relabelled.Labels),
                },
                DefinitionJson.Options
            );
        }

        await catalog.SaveChangesAsync(cancellationToken);
        return changed;
    }

    /// <summary>Saves a panel's draft, if it is still the version that was shown.</summary>
    /// <param name="panel">The panel as it was opened.</param>
    /// <param name="version">The version that was shown.</param>
    /// <param name="changed">The changed decisions; slug and table stay as they are.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<SaveOutcome<PanelDefinition>> SaveAsync(
        OpenPanel panel,
        uint version,
        PanelDefinition changed,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(changed);
        var definition = changed with
        {
            Slug = panel.Definition.Slug,
            Table = panel.Definition.Table,
            Format = panel.Definition.Format,
        };
        // What a newer Plain Porch wrote comes back as it was read; any other name that nobody knows is misspelled.
        if (UnknownNames.Of(definition).Except(UnknownNames.Of(panel.Definition)).FirstOrDefault() is { } misspelled)
            return new SaveOutcome<PanelDefinition>.Refused([
                new FieldProblem(misspelled, $"There is no panel or table {misspelled}. Correct the name, or leave it out."),
            ]);
        if (panel.Model.Snapshot.Find(definition.Table) is { } table)
        {
            var porch = panel.Panels.With(definition);
            IReadOnlyList<FieldProblem> problems =
            [
                .. PanelCheck.Run(
                    definition,
                    porch.Bind(definition, sourceIsReadOnly: true)?.Table ?? table,
                    panel.Model.Snapshot
                ),
                .. RuleCheck.Run(definition, porch),
            ];
            if (problems.Count > 0)
                return new SaveOutcome<PanelDefinition>.Refused(problems);
            definition = RuleCheck.WithNames(definition, porch);
        }

        var row = new PanelRow
        {
            Id = panel.Id,
            PorchId = panel.Porch.Id,
            Slug = definition.Slug,
            Content = "",
            Version = version,
        };
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

    // With a survey at hand the panel gets its lookups; without one it is drafted from some rows.
    private async Task<DraftedPanel> DraftAsync(
        SourceRow source,
        RecordModel model,
        Table table,
        List<PanelDefinition> present,
        CancellationToken cancellationToken
    )
    {
        var taken = present.Select(panel => panel.Slug).ToHashSet();
        if (await surveys.FindingsAsync(source.Id, model.Snapshot, cancellationToken) is { } findings)
            return PorchDraft.Make(findings, new HashSet<TableName> { table.Name }, present)[0];
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        var sample = await TableSampler.ReadAsync(model, table, pool.Connections, cancellationToken);
        var words = await surveys.VocabularyAsync(source.Id, model.Snapshot, cancellationToken);
        return PanelDraft.Make(TableFindings.Of(TableRows.Of(table, sample), words), taken);
    }

    private static PanelRow RowOf(PorchRow porch, DraftedPanel drafted) =>
        new()
        {
            PorchId = porch.Id,
            Slug = drafted.Panel.Slug,
            Content = Write(drafted.Panel),
            Drafted = JsonSerializer.Serialize(
                new PanelOrigin(drafted.Reasons, Relabelling.LabelsOf(drafted.Panel)) { Panel = drafted.Panel },
                DefinitionJson.Options
            ),
        };

    private static SaveOutcome<PorchDrafted>.Refused NotDrafted(string message) => new([new FieldProblem("tables", message)]);

    private static SaveOutcome<(PorchRow Porch, PanelDefinition Panel)>.Refused Refused(string field, string message) =>
        new([new FieldProblem(field, message)]);

    private static PanelDefinition Read(PanelRow row) => DefinitionJson.ReadPanel(row.Content, row.Slug);

    // One that a newer Plain Porch set up is missing among the others until this one is updated; whoever asks for it is told why.
    internal static PanelDefinition? TryRead(PanelRow row)
    {
        try
        {
            return Read(row);
        }
        catch (DefinitionTooNewException)
        {
            return null;
        }
    }

    internal static string Write(PanelDefinition definition) => JsonSerializer.Serialize(definition, DefinitionJson.Options);
}

/// <summary>A porch with its panels.</summary>
/// <param name="Porch">The porch.</param>
/// <param name="Panels">Its panels by slug.</param>
public sealed record PorchContent(PorchRow Porch, IReadOnlyList<PanelDefinition> Panels)
{
    /// <summary>The porch as a document.</summary>
    public PorchDefinition ToDefinition() =>
        new()
        {
            Name = Porch.Name,
            Slug = Porch.Slug,
            Dates = Porch.Dates,
            Numbers = Porch.Numbers,
            Roles = Porch.ReadRoles(),
            Panels = Panels,
        };
}

/// <summary>What became of drafting a porch.</summary>
/// <param name="Porch">The slug of the porch.</param>
/// <param name="Made">How many panels were made.</param>
/// <param name="Kept">How many there were before, which stayed as they were.</param>
public sealed record PorchDrafted(string Porch, int Made, int Kept);

/// <summary>What became of a porch that was set up by a definition.</summary>
/// <param name="Made">How many panels it did not have before.</param>
/// <param name="Changed">How many it had.</param>
public sealed record PorchDefined(int Made, int Changed);
