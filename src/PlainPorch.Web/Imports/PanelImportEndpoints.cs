using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Records;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Imports;

/// <summary>A column of a panel that a file can fill.</summary>
/// <param name="Name">Its exact name.</param>
/// <param name="Label">What people call it.</param>
/// <param name="Kind">What its values are.</param>
/// <param name="IsNeeded">Whether a new record has to have one.</param>
/// <param name="IsLookup">Whether it refers to other records, which the file may give by what they are called or by their number.</param>
public sealed record FillableColumn(string Name, string Label, ValueKind Kind, bool IsNeeded, bool IsLookup);

/// <summary>An import into a panel, with all that is known of it.</summary>
/// <param name="Status">How it stands.</param>
/// <param name="Settings">Where its columns go; null before it was looked at.</param>
/// <param name="Tables">What was found in its file; empty before.</param>
/// <param name="Plan">What it would do; null where that is not known.</param>
/// <param name="Result">What it did; null before.</param>
/// <param name="Fillable">The panel's columns that it can fill.</param>
/// <param name="Modes">What whoever asks may do.</param>
public sealed record PanelImportDto(
    ImportStatus Status,
    PanelImportSettings? Settings,
    IReadOnlyList<LookedTable> Tables,
    PanelPlan? Plan,
    PanelImported? Result,
    IReadOnlyList<FillableColumn> Fillable,
    IReadOnlyList<PanelImportMode> Modes
);

/// <summary>How the file of a panel's import is to be read.</summary>
/// <param name="Delimiter">What parts the values of delimited text; null or empty for finding it out.</param>
/// <param name="Encoding">The encoding; null or empty for finding it out.</param>
/// <param name="HasHead">Whether the first row names the columns; null for finding it out.</param>
/// <param name="Table">Which of the file's tables; null for the first one.</param>
public sealed record PanelLookRequest(
    string? Delimiter = null,
    string? Encoding = null,
    bool? HasHead = null,
    string? Table = null
);

/// <summary>What became of taking an import back.</summary>
/// <param name="Done">How many records are as they were before.</param>
/// <param name="Left">How many were left as they are, because somebody has changed them since.</param>
public sealed record ImportTakenBack(int Done, int Left);

/// <summary>Brings files into a panel.</summary>
internal static class PanelImportEndpoints
{
    private const int MostListed = 20;

    private static readonly ImportState[] _open = [ImportState.Ready, ImportState.Stopped, ImportState.Failed];

    // What is begun goes on by itself, and is asked for at the import: 202 means another thing here, an act of which nobody knows yet.
    public static void MapPanelImports(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}/imports").WithTags("Imports").OpensPanel().ForMembers();
        panel.MapGet("/", ListAsync).WithName("listPanelImports").Needs(PanelActs.Add);
        panel.MapPost("/", BeginAsync).WithName("beginPanelImport").Needs(PanelActs.Add);
        panel.MapGet("/{import:guid}", FindAsync).WithName("findPanelImport").Needs(PanelActs.Add);
        panel.MapDelete("/{import:guid}", RemoveAsync).WithName("removePanelImport").Needs(PanelActs.Add);
        panel
            .MapPost("/{import:guid}/files", SendAsync)
            .WithName("sendPanelImportFile")
            .Needs(PanelActs.Add)
            .Accepts<IFormFile>("application/octet-stream")
            .WithMetadata(new DisableRequestSizeLimitAttribute());
        panel.MapPost("/{import:guid}/look", LookAsync).WithName("lookAtPanelImport").Needs(PanelActs.Add);
        panel.MapPost("/{import:guid}/plan", PlanAsync).WithName("planPanelImport").Needs(PanelActs.Add);
        panel.MapPost("/{import:guid}/run", RunAsync).WithName("runPanelImport").Needs(PanelActs.Add);
        panel.MapPost("/{import:guid}/stop", StopAsync).WithName("stopPanelImport").Needs(PanelActs.Add);
        panel.MapPost("/{import:guid}/undo", TakeBackAsync).WithName("takeBackPanelImport").Needs(PanelActs.Add);
        panel.MapGet("/{import:guid}/rejected.csv", RejectedAsync).WithName("findRejectedRowsOfPanel").Needs(PanelActs.Add);
    }

    private static async Task<Results<Ok<IReadOnlyList<ImportStatus>>, ProblemHttpResult>> ListAsync(
        [AsParameters] PanelHere here,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        var listed = new List<ImportStatus>();
        foreach (var import in await imports.ListAsync(here.Opened.Source.Id, here.Opened.Id, MostListed, cancellationToken))
            if (import.Who == caller.Name)
                listed.Add(ImportStatus.Of(import, await imports.FilesAsync(import.Id, cancellationToken)));
        return TypedResults.Ok<IReadOnlyList<ImportStatus>>(listed);
    }

    private static async Task<Results<Created<PanelImportDto>, ProblemHttpResult>> BeginAsync(
        [AsParameters] PanelHere here,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (!here.Bound.CanAdd && !here.Bound.CanEdit)
            return Problems.NotAllowed(
                here.Bound.NotEditableBecause
                    ?? PanelHereFilter.WhyNot(here.Bound, PanelActs.Add)
                    ?? new Refusal("The database takes no new records here.", "Ask whoever manages it.")
            );
        var begun = await imports.BeginAsync(here.Opened.Source.Id, here.Opened.Id, caller.Name, cancellationToken);
        return TypedResults.Created(
            $"/api/porches/{here.Porch}/panels/{here.Panel}/imports/{begun.Id}",
            ToDto(here.Bound, begun, [])
        );
    }

    private static async Task<Results<Ok<PanelImportDto>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        Guid import,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    ) =>
        await OfPanelAsync(here, import, imports, caller, cancellationToken) is { } found
            ? TypedResults.Ok(ToDto(here.Bound, found, await imports.FilesAsync(import, cancellationToken)))
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound, Conflict, ProblemHttpResult>> RemoveAsync(
        [AsParameters] PanelHere here,
        Guid import,
        ImportStore imports,
        Caller caller,
        ImportFolder folder,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is null)
            return TypedResults.NotFound();
        if (!await imports.RemoveAsync(import, cancellationToken))
            return TypedResults.Conflict();
        folder.Clear(import);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<ImportFile>, NotFound, ValidationProblem, ProblemHttpResult>> SendAsync(
        [AsParameters] PanelHere here,
        Guid import,
        [FromQuery] string? name,
        HttpRequest request,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    ) =>
        await OfPanelAsync(here, import, imports, caller, cancellationToken) is null
            ? TypedResults.NotFound()
            : (await ImportFileEndpoints.KeepAsync(import, name, request, imports, cancellationToken)).Result switch
            {
                Ok<ImportFile> kept => kept,
                var wrong => (ValidationProblem)wrong,
            };

    private static async Task<Results<NoContent, NotFound, ValidationProblem, Conflict, ProblemHttpResult>> LookAsync(
        [AsParameters] PanelHere here,
        Guid import,
        PanelLookRequest request,
        ImportStore imports,
        ImportWork work,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is null)
            return TypedResults.NotFound();
        var reading = new LookRequest(request.Delimiter, request.Encoding, request.HasHead).ToSettings();
        if (TableImportEndpoints.WhyNotRead(reading) is { } problem)
            return Problems.Of([problem]);
        if (!await imports.TurnAsync(import, _open, ImportState.Looking, "Looking at the file", cancellationToken))
            return TypedResults.Conflict();
        var opened = here.Opened;
        work.Begin(import, caller, (services, report, stop) =>
            services.GetRequiredService<PanelImport>().LookAsync(opened, import, reading, request.Table, report, stop)
        );
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, NotFound, ValidationProblem, Conflict, ProblemHttpResult>> PlanAsync(
        [AsParameters] PanelHere here,
        Guid import,
        PanelImportSettings settings,
        ImportStore imports,
        ImportWork work,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        if (WhyNot(here.Bound, found, settings) is { Count: > 0 } problems)
            return Problems.Of(problems);
        if (
            !await imports.SetAsync(import, settings, cancellationToken)
            || !await imports.TurnAsync(import, _open, ImportState.Planning, "Reading rows", cancellationToken)
        )
            return TypedResults.Conflict();
        var opened = here.Opened;
        work.Begin(import, caller, (services, report, stop) =>
            services.GetRequiredService<PanelImport>().PlanAsync(opened, found, settings, report, stop)
        );
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, NotFound, ValidationProblem, Conflict, ProblemHttpResult>> RunAsync(
        [AsParameters] PanelHere here,
        Guid import,
        ImportStore imports,
        ImportWork work,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        if (
            TableImportDto.Read<PanelImportSettings>(found.Settings) is not { } settings
            || PanelImport.PlanOf(found) is not { } plan
        )
            return Problems.Of([new FieldProblem("plan", "It has not been planned yet. Look at the plan first.")]);
        if (plan.Forbidden is { } forbidden)
            return Problems.Of([new FieldProblem("plan", forbidden)]);
        if (WhyNot(here.Bound, found, settings) is { Count: > 0 } problems)
            return Problems.Of(problems);
        if (!await imports.TurnAsync(import, _open, ImportState.Running, "Reading rows", cancellationToken))
            return TypedResults.Conflict();
        var opened = here.Opened;
        work.Begin(import, caller, (services, report, stop) =>
            services.GetRequiredService<PanelImport>().RunAsync(opened, found, settings, report, stop)
        );
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, NotFound, ProblemHttpResult>> StopAsync(
        [AsParameters] PanelHere here,
        Guid import,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is null)
            return TypedResults.NotFound();
        await imports.StopAsync(import, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<
        Results<Ok<ImportTakenBack>, NotFound, ValidationProblem, Conflict, ProblemHttpResult>
    > TakeBackAsync(
        [AsParameters] PanelHere here,
        Guid import,
        ImportStore imports,
        Caller caller,
        PanelImport panels,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        if (!await imports.TurnAsync(import, [ImportState.Done], ImportState.TakenBack, "Taken back", cancellationToken))
            return TypedResults.Conflict();
        ChangeOutcome? outcome = null;
        try
        {
            outcome = await panels.TakeBackAsync(here.Opened, found, cancellationToken);
        }
        finally
        {
            if (outcome is not ChangeOutcome.Done)
                await imports.TurnAsync(import, [ImportState.TakenBack], ImportState.Done, "", CancellationToken.None);
        }

        return outcome switch
        {
            ChangeOutcome.Done(var changed, var left, _) => TypedResults.Ok(new ImportTakenBack(changed, left)),
            ChangeOutcome.Refused(var problems) => Problems.Of(problems),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };
    }

    private static async Task<Results<FileContentHttpResult, NotFound, ProblemHttpResult>> RejectedAsync(
        [AsParameters] PanelHere here,
        Guid import,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await OfPanelAsync(here, import, imports, caller, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        var (columns, rows) =
            PanelImport.ResultOf(found) is { } done ? (done.FileColumns, done.Rejected)
            : PanelImport.PlanOf(found) is { } plan ? (plan.FileColumns, plan.Rejected)
            : ([], []);
        return TypedResults.File(await RejectedFile.OfAsync(columns, rows), "text/csv", "rejected.csv");
    }

    // What is wrong with what was chosen, or not allowed.
    private static IReadOnlyList<FieldProblem> WhyNot(BoundPanel panel, ImportRow import, PanelImportSettings settings)
    {
        var tables = TableImportDto.Read<List<LookedTable>>(import.Look) ?? [];
        return tables.Find(table => table.Name == settings.Table) is not { } table
                ? [new("table", $"The file has no table {settings.Table}. Look at it again.")]
            : !ModesOf(panel).Contains(settings.Mode)
                ? [new("mode", $"You are not allowed to do this with {panel.Definition.Label}. Choose something else.")]
            : PanelRows.Check(panel, table, settings);
    }

    // What whoever asks may do with the panel's records.
    internal static IReadOnlyList<PanelImportMode> ModesOf(BoundPanel panel)
    {
        var changes = panel.CanEdit && panel.May(PanelActs.ChangeMany) && panel.Identity.Exists && panel.Table.HasRowVersion;
        var removes = panel.CanRemove && panel.May(PanelActs.SetAside) && panel.Identity.Exists;
        return
        [
            .. Enum.GetValues<PanelImportMode>()
                .Where(mode =>
                    mode switch
                    {
                        PanelImportMode.Add => panel.CanAdd,
                        PanelImportMode.Replace => panel.CanAdd && removes,
                        PanelImportMode.Update => changes,
                        PanelImportMode.Upsert => panel.CanAdd && changes,
                        _ => panel.CanAdd && changes && removes,
                    }
                ),
        ];
    }

    private static PanelImportDto ToDto(BoundPanel panel, ImportRow row, IReadOnlyList<ImportFileRow> files) =>
        new(
            ImportStatus.Of(row, files),
            TableImportDto.Read<PanelImportSettings>(row.Settings),
            TableImportDto.Read<List<LookedTable>>(row.Look) ?? [],
            row.State is ImportState.Done or ImportState.TakenBack ? null : PanelImport.PlanOf(row),
            PanelImport.ResultOf(row),
            [
                .. FieldMatching
                    .Fillable(panel)
                    .Select(column => new FillableColumn(
                        column.Name,
                        column.Label,
                        column.Type.Kind,
                        column.MustBeGiven,
                        column.Decision.Lookup is not null
                    )),
            ],
            ModesOf(panel)
        );

    // A file may hold what others are not shown: it is seen by whoever sent it.
    internal static async Task<ImportRow?> OfPanelAsync(
        PanelHere here,
        Guid import,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    ) =>
        await imports.FindAsync(import, cancellationToken) is { } found
        && found.PanelId == here.Opened.Id
        && found.Who == caller.Name
            ? found
            : null;
}
