using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Code;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Rules;
using PlainPorch.Data.Uploads;
using PlainPorch.Web.Http;
using PlainPorch.Web.Sources;

namespace PlainPorch.Web.Panels;

internal static class PanelEndpoints
{
    public static void MapPanels(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Panels");
        panel.MapGet("/", FindAsync).WithName("findPanel").ForMembers();
        panel.MapGet("/setup", FindSetupAsync).WithName("findPanelSetup");
        panel.MapPut("/setup", SaveAsync).WithName("savePanelSetup");
        panel.MapDelete("/", RemoveAsync).WithName("removePanel");
        var opened = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Panels").OpensPanel();
        opened.MapGet("/setup/lists", FindListsAsync).WithName("findCodeLists");
        opened.MapPost("/setup/reading", TryReadingAsync).WithName("tryReading");
        opened
            .MapPost("/setup/files", LookAtFilesAsync)
            .WithName("lookAtFiles")
            .WithSummary(
                "Whether the files are there whose paths a column holds, and what its paths begin with. Nothing is changed."
            );
        opened
            .MapGet("/setup/draft", FindDraftAsync)
            .WithName("findPanelDraft")
            .WithSummary("How the panel differs from a new draft of it, made of what the survey and the decisions say now.");
        opened
            .MapPost("/setup/draft", TakeDraftAsync)
            .WithName("takePanelDraft")
            .WithSummary("The panel with some parts as a new draft has them; it is saved by PUT /setup.");
    }

    private static async Task<Results<Ok<PanelDto>, NotFound, ProblemHttpResult>> FindAsync(
        string porch,
        string panel,
        PanelOpener opener,
        CancellationToken cancellationToken
    ) =>
        await opener.OpenAsync(porch, panel, cancellationToken) switch
        {
            null => TypedResults.NotFound(),
            { Bound: null, Definition: var definition } => Problems.TableGone(definition),
            { Bound: var bound, Porch: var row, Panels: var panels } opened => TypedResults.Ok(
                ToDto(row.Name, bound, panels, bound.May(PanelActs.Reorder) && Data.Ordering.OrderKeeper.WhyNot(opened) is null)
            ),
        };

    private static async Task<Results<Ok<PanelSetupDto>, NotFound, ProblemHttpResult>> FindSetupAsync(
        string porch,
        string panel,
        PanelOpener opener,
        CodeShelf shelf,
        CancellationToken cancellationToken
    )
    {
        var opened = await opener.OpenAsync(porch, panel, cancellationToken);
        if (opened is null)
            return TypedResults.NotFound();
        if (opened.Bound is not { } bound)
            return Problems.TableGone(opened.Definition);
        var sample = await TableSampler.ReadAsync(opened.Model, bound.Table, opened.Connections, cancellationToken);
        return TypedResults.Ok(ToSetup(opened, bound, sample, shelf));
    }

    private static async Task<Results<Ok<IReadOnlyList<CodeList>>, NotFound, ProblemHttpResult>> FindListsAsync(
        [AsParameters] PanelHere here,
        CancellationToken cancellationToken
    ) => TypedResults.Ok(await new CodeListReader(here.Opened.Seen).ReadAsync(cancellationToken));

    private static async Task<Results<Ok<ReadingOutcome>, NotFound, ProblemHttpResult, ValidationProblem>> TryReadingAsync(
        [AsParameters] PanelHere here,
        ReadingTrial trial,
        CancellationToken cancellationToken
    )
    {
        if (here.Bound.Find(trial.Column) is not { } column)
            return Problems.Of([new FieldProblem("column", $"The panel has no column {trial.Column}. Name one that it has.")]);
        return TypedResults.Ok(await new ReadingTryer(here.Opened.Seen).TryAsync(column, trial.Reading, cancellationToken));
    }

    private static async Task<Results<Ok<FolderLook>, NotFound, ProblemHttpResult, ValidationProblem>> LookAtFilesAsync(
        [AsParameters] PanelHere here,
        FilesTrial trial,
        FileFolder folder,
        CancellationToken cancellationToken
    )
    {
        if (here.Bound.Find(trial.Column) is not { } column)
            return Problems.Of([new FieldProblem("column", $"The panel has no column {trial.Column}. Name one that it has.")]);
        if (trial.Files.Problem() is { } problem)
            return Problems.Of([new FieldProblem("files", problem)]);
        var opened = here.Opened;
        var sample = await TableSampler.ReadAsync(opened.Model, here.Bound.Table, opened.Connections, cancellationToken);
        var tried = column with { Decision = column.Decision with { Files = trial.Files } };
        return TypedResults.Ok(
            FolderLook.At(
                folder,
                trial.Files,
                [.. sample.Values(column.Name).OfType<string>().SelectMany(value => Paths(tried, value))]
            )
        );

        static IReadOnlyList<string> Paths(BoundColumn column, string value) => column.PathsIn(column.Read(value).Text);
    }

    private static async Task<Results<Ok<PanelRedraft>, NotFound, ProblemHttpResult>> FindDraftAsync(
        [AsParameters] PanelHere here,
        PanelRedrafts redrafts,
        CancellationToken cancellationToken
    ) => TypedResults.Ok(new PanelRedraft(await redrafts.DifferencesAsync(here.Opened, cancellationToken)));

    private static async Task<Results<Ok<PanelDefinition>, NotFound, ProblemHttpResult, ValidationProblem>> TakeDraftAsync(
        [AsParameters] PanelHere here,
        DraftParts parts,
        PanelRedrafts redrafts,
        CancellationToken cancellationToken
    ) =>
        await redrafts.TakeAsync(here.Opened, parts.Parts.ToHashSet(), cancellationToken) is { } taken
            ? TypedResults.Ok(taken)
            : Problems.Of([new FieldProblem("parts", "The source has not been surveyed yet. Survey it first.")]);

    private static async Task<
        Results<Ok<SavedVersion>, NotFound, ProblemHttpResult, ValidationProblem, PreconditionFailed<PanelDefinition>>
    > SaveAsync(
        string porch,
        string panel,
        PanelDefinition definition,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        PanelOpener opener,
        PanelStore store,
        CancellationToken cancellationToken
    )
    {
        if (Versions.Read(ifMatch) is not { } version)
            return Problems.VersionMissing();
        if (await opener.OpenAsync(porch, panel, cancellationToken) is not { } opened)
            return TypedResults.NotFound();
        var outcome = await store.SaveAsync(opened, version, definition, cancellationToken);
        if (outcome is SaveOutcome<PanelDefinition>.Refused(var problems))
            return Problems.Of(problems);
        if (await opener.OpenAsync(porch, panel, cancellationToken) is not { } now)
            return TypedResults.NotFound();
        return outcome is SaveOutcome<PanelDefinition>.Stale
            ? new PreconditionFailed<PanelDefinition>(now.Definition, now.Version)
            : TypedResults.Ok(new SavedVersion(now.Version));
    }

    private static async Task<Results<NoContent, NotFound, ProblemHttpResult>> RemoveAsync(
        string porch,
        string panel,
        PanelOpener opener,
        PanelStore store,
        ParcelReader parcels,
        ParcelStore kept,
        CancellationToken cancellationToken,
        Choice<LeftAside>? setAside = null
    )
    {
        if (await opener.OpenAsync(porch, panel, cancellationToken) is not { } opened)
            return TypedResults.NotFound();
        if (setAside is null && await parcels.CountAsync(opened, cancellationToken) is { Parcels: > 0 } count)
            return Problems.SetAsideUndecided(count);
        if (setAside?.Value is LeftAside.Erase)
            await kept.EraseAllAsync(opened, cancellationToken);
        await store.RemoveAsync(opened, cancellationToken);
        return TypedResults.NoContent();
    }

    private static PanelDto ToDto(string porch, BoundPanel panel, PorchPanels panels, bool hasOrder) =>
        new(
            porch,
            panel.Definition.Label,
            panel.Definition.RecordLabel,
            panel.Table.Name.ToString(),
            panel.Identity.Columns,
            panel.CanAdd,
            panel.CanEdit,
            panel.CanRemove,
            panel.Manner,
            panel.Marker is not null,
            hasOrder,
            hasOrder && panel.Definition.Sort.Count == 0,
            panel.Definition.Duplicates.Count > 0 && panel.May(PanelActs.Merge) && panel.CanEdit && panel.CanRemove,
            panel.CanEdit
                && panel.May(PanelActs.ChangeMany)
                && panel.Identity.Exists
                && Data.Tidying.SpellingReader.ColumnsOf(panel).Count > 0,
            panel.NotEditableBecause,
            [
                .. panel
                    .Columns.Where(column => column.Decision.InList || column.Decision.InForm || column.Decision.Narrows)
                    .Select(column => ToDto(column, panels, panel.Sight.Fills)),
            ],
            [.. panel.Secrets.Where(column => column.IsWritable).Select(column => ToDto(column, panels, panel.Sight.Fills))],
            Core.Query.ListPlan.PageSizes,
            panel.Above is not null && panel.Identity is { Exists: true, ByPlace: false },
            panel.Definition.SavesWhileTyping,
            [
                .. panel
                    .Definition.Related.Where(related =>
                        panels.Find(related.Panel) is { } other
                        && panels.Bind(other, sourceIsReadOnly: true) is null or { Sight.Sees: true }
                    )
                    .Select(related => new RelatedKindDto(related.Panel, related.Column, related.Label)),
            ],
            panel.Definition.RelatedAsTabs,
            TypedRules.AreOfFields(panel),
            TypedRules.AreIn(panel),
            panel.EditsInList,
            panel.Identity.Exists && HasUseForChosen(panel, hasOrder) ? Core.Records.RecordSelection.MostOf(panel) : 0,
            panel.Identity.ByPlace,
            panel.Identity.IsAssumed,
            panel.Definition.FormIn,
            panel.Definition.Folded,
            [.. TypedWith(panel, panels)],
            [.. Enum.GetValues<PanelActs>().Where(act => act is not (PanelActs.None or PanelActs.All) && panel.May(act))]
        );

    // Nothing is chosen where nothing can be done with it.
    private static bool HasUseForChosen(BoundPanel panel, bool hasOrder) =>
        hasOrder || panel.CanRemove || panel.May(PanelActs.Export) || (panel.CanEdit && panel.May(PanelActs.ChangeMany));

    private static IEnumerable<TypedDto> TypedWith(BoundPanel panel, PorchPanels panels) =>
        from related in panel.Definition.Related
        where related.InForm && panel.NotEditableBecause is null
        let definition = panels.Find(related.Panel)
        let other = definition is null ? null : panels.Bind(definition, sourceIsReadOnly: false)
        where other is { CanAdd: true }
        let lookup = other.Find(related.Column)?.Decision.Lookup
        // What refers by several columns is added on a page of its own.
        where lookup is { Also.Count: 0 } && lookup.Table == panel.Table.Name
        let isOne = other.Table.Keys.Any(key => key.Columns is [var only] && only == related.Column)
        let one = other.Definition.RecordLabel
        select new TypedDto(
            related.Panel,
            related.Column,
            lookup.Key,
            isOne && one.Length > 0 ? char.ToUpperInvariant(one[0]) + one[1..] : related.Label,
            isOne
        );

    private static ColumnDto ToDto(BoundColumn column, PorchPanels panels, IReadOnlyDictionary<string, string> fills) =>
        new(
            column.Name,
            column.Label,
            column.Type.Kind,
            column.Type.Element,
            column.Decision.InList,
            column.Decision.Searched,
            column.Decision.InForm,
            column.IsWritable,
            column.MustBeGiven,
            column.Schema.IsNullable,
            column.Type.IsOrderable,
            column.Schema.IsSuppliedByDatabase,
            column.Type.MaxLength,
            column.Type.Scale,
            column.Type.EnumValues,
            column.Decision.Section,
            column.Decision.Narrows && Core.Query.Narrowing.CanBeBy(column.Type),
            panels.Bind(column) is not null,
            column.IsPicture,
            column.Decision.Stamp,
            column.Look,
            column.Reading is { LeavesValues: false },
            column.Decision.IsSecret,
            column.Decision.Hint,
            fills.GetValueOrDefault(column.Name) ?? StartValue.At(column, panels.Now),
            column.Decision.Width,
            column.Decision.StartsRow,
            column.Decision.ShownWhen,
            column.Decision.Input,
            column.OffersEarlier,
            panels.Bind(column) is { } lookup ? [.. Restrictions(lookup)] : [],
            panels.Bind(column)?.Lookup.Also ?? [],
            column.TakesFile ? column.MostBytes : null,
            column.Files is not null,
            column.Files?.Endings ?? []
        );

    // By several columns, where the table has columns that are called so, or refer so by what the database declares.
    private static IEnumerable<LookupTarget> TargetsTogether(Table own, SchemaSnapshot snapshot) =>
        from table in snapshot.Tables
        where table.Rights.Read && !(table.Name == own.Name)
        from key in table.Keys
        where
            key.Columns.Count is > 1 and <= FormField.MostRestrictions + 1
            && key.Columns.All(name => table.Find(name) is not null)
        from shown in key.Columns
        let also = key
            .Columns.Where(name => name != shown)
            .Select(name => (Column: name, From: FromFor(own, table, name)))
            .ToList()
        where also.TrueForAll(pair => pair.From is not null)
        select new LookupTarget(
            table.Name,
            shown,
            table.Find(shown)!.Type.IsInteger,
            [.. also.Select(pair => new LookupPair(pair.Column, pair.From!))]
        );

    private static string? FromFor(Table own, Table target, string column) =>
        own.ForeignKeys.Where(key => key.ReferredTable == target.Name && key.ReferredColumns.Contains(column))
            .Select(key => key.Columns[key.ReferredColumns.ToList().IndexOf(column)])
            .FirstOrDefault()
        ?? own.Columns.FirstOrDefault(one => one.Name.Equals(column, StringComparison.OrdinalIgnoreCase))?.Name;

    private static IEnumerable<RestrictionDto> Restrictions(BoundLookup lookup) =>
        from restriction in lookup.Lookup.Within
        let column = lookup.Column(restriction.Column)
        where column is not null
        select new RestrictionDto(restriction.Column, column.Label, restriction.From);

    private static PanelSetupDto ToSetup(OpenPanel opened, BoundPanel panel, TableSample sample, CodeShelf shelf) =>
        new(
            opened.Version,
            opened.Source.Id,
            opened.Definition,
            [
                .. panel.Table.Columns.Select(column => new SetupColumn(
                    column.Name,
                    column.Type.Domain ?? column.Type.StoreType,
                    panel.IsIdentifying(column.Name),
                    column.IsNullable,
                    column.IsComputed,
                    Core.Query.Narrowing.CanBeBy(column.Type),
                    Core.Query.SearchText.CanLookInto(column.Type),
                    column.Type.IsOrderable,
                    (panel.Find(column.Name)?.Type ?? column.Type) is { Kind: ValueKind.Boolean } or { EnumValues.Count: > 0 },
                    column.Comment,
                    sample.Show(column.Name),
                    [
                        .. ReadingKinds
                            .All.Select((kind, place) => (kind, place))
                            .Where(one => one.kind.Start.Suits(column.Type))
                            .Select(one => one.place),
                    ]
                )),
            ],
            opened.Origin?.Reasons ?? [],
            [
                .. opened
                    .Panels.All.OrderBy(other => other.Place)
                    .Select(other => other.Group)
                    .Where(group => group.Length > 0)
                    .Distinct(),
            ],
            PorchDraft.RelatedOf(opened.Definition, opened.Panels.All),
            [
                .. from table in opened.Model.Snapshot.Tables
                where table.Rights.Read
                from key in table
                    .Keys.Where(key => key.Columns.Count == 1 && table.Find(key.Columns[0]) is not null)
                    .Select(key => key.Columns[0])
                    .Distinct()
                select new LookupTarget(table.Name, key, table.Find(key)!.Type.IsInteger, []),
                .. TargetsTogether(panel.Table, opened.Model.Snapshot),
            ],
            opened.Panels.Notation.Dates,
            opened.Panels.Notation.Numbers,
            ReadingKinds.All,
            [.. shelf.ComputingFor(panel.Table.Name).Select(code => new CodeColumn(code.Column!, code.Name))]
        );
}
