using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Values;
using PlainPorch.Data.Connections;
using PlainPorch.Data.History;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Sources;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Imports;

/// <summary>Brings files into new tables of a source.</summary>
internal static class TableImportEndpoints
{
    private const int MostListed = 30;

    public static void MapTableImports(this IEndpointRouteBuilder api)
    {
        api.MapGet("/import-means", (ImportFolder folder) => TypedResults.Ok(ImportFileEndpoints.Means(folder)))
            .WithName("findImportMeans")
            .WithTags("Imports");
        var imports = api.MapGroup("/sources/{id:int}/imports").WithTags("Imports");
        imports.MapGet("/", ListAsync).WithName("listTableImports");
        imports.MapPost("/", BeginAsync).WithName("beginTableImport");
        imports.MapGet("/{import:guid}", FindAsync).WithName("findTableImport");
        imports.MapDelete("/{import:guid}", RemoveAsync).WithName("removeTableImport");
        imports
            .MapPost("/{import:guid}/files", SendAsync)
            .WithName("sendTableImportFile")
            .Accepts<IFormFile>("application/octet-stream")
            .WithMetadata(new DisableRequestSizeLimitAttribute());
        imports.MapPost("/{import:guid}/folder-files", PointAsync).WithName("chooseTableImportFiles");
        imports.MapDelete("/{import:guid}/files/{file:guid}", RemoveFileAsync).WithName("removeTableImportFile");
        imports.MapPost("/{import:guid}/look", LookAsync).WithName("lookAtTableImport");
        imports.MapPut("/{import:guid}/settings", SaveAsync).WithName("saveTableImportSettings");
        imports.MapPost("/{import:guid}/preview/{place:int}", PreviewAsync).WithName("previewTableImport");
        imports.MapPost("/{import:guid}/run", RunAsync).WithName("runTableImport");
        imports.MapPost("/{import:guid}/stop", StopAsync).WithName("stopTableImport");
        imports.MapGet("/{import:guid}/rejected.csv", RejectedAsync).WithName("findRejectedRows");
    }

    private static async Task<Ok<IReadOnlyList<ImportStatus>>> ListAsync(
        int id,
        ImportStore imports,
        CancellationToken cancellationToken
    )
    {
        var listed = new List<ImportStatus>();
        foreach (var import in await imports.ListAsync(id, panelId: null, MostListed, cancellationToken))
            listed.Add(ImportStatus.Of(import, await imports.FilesAsync(import.Id, cancellationToken)));
        return TypedResults.Ok<IReadOnlyList<ImportStatus>>(listed);
    }

    private static async Task<Results<Created<TableImportDto>, NotFound, ValidationProblem>> BeginAsync(
        int id,
        SourceStore sources,
        ImportStore imports,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await sources.FindAsync(id, cancellationToken) is not { } source)
            return TypedResults.NotFound();
        if (source.IsReadOnly)
            return Problems.Of([
                new FieldProblem("source", $"{source.Name} is read-only. Allow writing in its settings to bring files in."),
            ]);
        var begun = await imports.BeginAsync(id, panelId: null, caller.Name, cancellationToken);
        return TypedResults.Created($"/api/sources/{id}/imports/{begun.Id}", TableImportDto.Of(begun, []));
    }

    private static async Task<Results<Ok<TableImportDto>, NotFound>> FindAsync(
        int id,
        Guid import,
        ImportStore imports,
        CancellationToken cancellationToken
    ) =>
        await OfSourceAsync(id, import, imports, cancellationToken) is { } found
            ? TypedResults.Ok(TableImportDto.Of(found, await imports.FilesAsync(import, cancellationToken)))
            : TypedResults.NotFound();

    private static async Task<Results<NoContent, NotFound, Conflict>> RemoveAsync(
        int id,
        Guid import,
        ImportStore imports,
        ImportFolder folder,
        CancellationToken cancellationToken
    )
    {
        if (await OfSourceAsync(id, import, imports, cancellationToken) is null)
            return TypedResults.NotFound();
        if (!await imports.RemoveAsync(import, cancellationToken))
            return TypedResults.Conflict();
        folder.Clear(import);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<ImportFile>, NotFound, ValidationProblem>> SendAsync(
        int id,
        Guid import,
        [FromQuery] string? name,
        HttpRequest request,
        ImportStore imports,
        CancellationToken cancellationToken
    ) =>
        await OfSourceAsync(id, import, imports, cancellationToken) is null
            ? TypedResults.NotFound()
            : (await ImportFileEndpoints.KeepAsync(import, name, request, imports, cancellationToken)).Result switch
            {
                Ok<ImportFile> kept => kept,
                var wrong => (ValidationProblem)wrong,
            };

    private static async Task<Results<Ok<IReadOnlyList<ImportFile>>, NotFound, ValidationProblem>> PointAsync(
        int id,
        Guid import,
        FolderFilesRequest request,
        ImportStore imports,
        ImportFolder folder,
        CancellationToken cancellationToken
    ) =>
        await OfSourceAsync(id, import, imports, cancellationToken) is null
            ? TypedResults.NotFound()
            : (await ImportFileEndpoints.PointAsync(import, request, imports, folder, cancellationToken)).Result switch
            {
                Ok<IReadOnlyList<ImportFile>> taken => taken,
                var wrong => (ValidationProblem)wrong,
            };

    private static async Task<Results<NoContent, NotFound>> RemoveFileAsync(
        int id,
        Guid import,
        Guid file,
        ImportStore imports,
        CancellationToken cancellationToken
    )
    {
        if (await OfSourceAsync(id, import, imports, cancellationToken) is null)
            return TypedResults.NotFound();
        await imports.RemoveFileAsync(import, file, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Accepted, NotFound, ValidationProblem, Conflict>> LookAsync(
        int id,
        Guid import,
        LookRequest request,
        ImportStore imports,
        SourceStore sources,
        ImportWork work,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (
            await OfSourceAsync(id, import, imports, cancellationToken) is null
            || await sources.FindAsync(id, cancellationToken) is not { } source
        )
            return TypedResults.NotFound();
        var settings = request.ToSettings();
        if (WhyNotRead(settings) is { } problem)
            return Problems.Of([problem]);
        var schema = string.IsNullOrWhiteSpace(request.Schema) ? SchemaOf(source) : request.Schema;
        if (
            !await imports.TurnAsync(
                import,
                [ImportState.Ready, ImportState.Stopped, ImportState.Failed],
                ImportState.Looking,
                "Looking at the files",
                cancellationToken
            )
        )
            return TypedResults.Conflict();
        work.Begin(import, caller, (services, report, stop) =>
            services.GetRequiredService<TableImport>().LookAsync(import, source, settings, schema, report, stop)
        );
        return TypedResults.Accepted($"/api/sources/{id}/imports/{import}");
    }

    // What is wrong with how it is to be read; null for nothing.
    internal static FieldProblem? WhyNotRead(ImportSettings settings)
    {
        try
        {
            settings.ToRead();
            return null;
        }
        catch (UnreadableFileException wrong)
        {
            return new FieldProblem(
                wrong.Message.Contains("encoding", StringComparison.Ordinal) ? "encoding" : "delimiter",
                wrong.Message
            );
        }
    }

    private static string SchemaOf(SourceRow source) => source.Schemas is [var first, ..] ? first : "public";

    private static async Task<Results<NoContent, NotFound, Conflict>> SaveAsync(
        int id,
        Guid import,
        ImportSettings settings,
        ImportStore imports,
        CancellationToken cancellationToken
    ) =>
        await OfSourceAsync(id, import, imports, cancellationToken) is null ? TypedResults.NotFound()
        : await imports.SetAsync(import, settings, cancellationToken) ? TypedResults.NoContent()
        : TypedResults.Conflict();

    private static async Task<Results<Ok<TablePreview>, NotFound, ValidationProblem>> PreviewAsync(
        int id,
        Guid import,
        int place,
        ImportSettings settings,
        ImportStore imports,
        TableImport tables,
        CancellationToken cancellationToken
    )
    {
        if (await OfSourceAsync(id, import, imports, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        try
        {
            return await tables.PreviewAsync(found, settings, place, cancellationToken) is { } preview
                ? TypedResults.Ok(preview)
                : TypedResults.NotFound();
        }
        catch (UnreadableFileException wrong)
        {
            return Problems.Of([new FieldProblem("file", wrong.Message)]);
        }
    }

    private static async Task<Results<Accepted, NotFound, ValidationProblem, Conflict>> RunAsync(
        int id,
        Guid import,
        ImportSettings settings,
        ImportStore imports,
        SourceStore sources,
        ImportWork work,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (
            await OfSourceAsync(id, import, imports, cancellationToken) is not { } found
            || await sources.FindAsync(id, cancellationToken) is not { } source
        )
            return TypedResults.NotFound();
        if (TableImport.Check(found, settings) is { Count: > 0 } problems)
            return Problems.Of(problems);
        if (
            !await imports.SetAsync(import, settings, cancellationToken)
            || !await imports.TurnAsync(
                import,
                [ImportState.Ready, ImportState.Stopped, ImportState.Failed],
                ImportState.Running,
                "Starting",
                cancellationToken
            )
        )
            return TypedResults.Conflict();
        work.Begin(import, caller, (services, report, stop) =>
            services.GetRequiredService<TableImport>().RunAsync(found, source, settings, report, stop)
        );
        return TypedResults.Accepted($"/api/sources/{id}/imports/{import}");
    }

    private static async Task<Results<NoContent, NotFound>> StopAsync(
        int id,
        Guid import,
        ImportStore imports,
        CancellationToken cancellationToken
    )
    {
        if (await OfSourceAsync(id, import, imports, cancellationToken) is null)
            return TypedResults.NotFound();
        await imports.StopAsync(import, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<Results<FileContentHttpResult, NotFound>> RejectedAsync(
        int id,
        Guid import,
        ImportStore imports,
        CancellationToken cancellationToken
    ) =>
        await OfSourceAsync(id, import, imports, cancellationToken) is { } found
        && TableImportDto.Read<List<ImportedTable>>(found.Result) is { } tables
            ? TypedResults.File(await RejectedFile.OfAsync(tables), "text/csv", "rejected.csv")
            : TypedResults.NotFound();

    private static async Task<ImportRow?> OfSourceAsync(
        int id,
        Guid import,
        ImportStore imports,
        CancellationToken cancellationToken
    ) => await imports.FindAsync(import, cancellationToken) is { PanelId: null } found && found.SourceId == id ? found : null;
}
