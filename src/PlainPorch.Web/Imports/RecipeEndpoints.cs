using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Imports;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Imports;

/// <summary>A recipe: an import into a panel with its settings, kept to be run again on the next files.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Mode">What it does with the panel's records.</param>
/// <param name="Watches">Which files of the server's folder it is run on when they arrive; null for none.</param>
/// <param name="Who">Who kept it.</param>
/// <param name="At">When.</param>
public sealed record RecipeDto(int Id, string Name, PanelImportMode Mode, string? Watches, string Who, DateTimeOffset At)
{
    internal static RecipeDto Of(RecipeRow row) =>
        new(row.Id, row.Name, RecipeStore.SettingsOf(row).Mode, row.Watches, row.Who, row.At);
}

/// <summary>What a recipe is to be called.</summary>
/// <param name="Name">Its name.</param>
public sealed record RecipeRequest(string Name);

/// <summary>Which files a recipe is run on when they arrive.</summary>
/// <param name="Pattern">What they are called, with * for anything; null for none.</param>
public sealed record WatchRequest(string? Pattern);

/// <summary>Keeps recipes, and runs them.</summary>
internal static class RecipeEndpoints
{
    public static void MapRecipes(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Imports").OpensPanel().ForMembers();
        panel.MapPost("/imports/{import:guid}/recipe", KeepAsync).WithName("keepRecipe").Needs(PanelActs.Add);
        panel.MapGet("/recipes", ListAsync).WithName("listRecipes").Needs(PanelActs.Add);
        panel.MapDelete("/recipes/{recipe:int}", RemoveAsync).WithName("removeRecipe").Needs(PanelActs.Add);
        panel.MapGet("/recipes/{recipe:int}/file", TakeAsync).WithName("takeRecipe").Needs(PanelActs.Add);
        panel
            .MapPost("/recipes/{recipe:int}/runs", RunAsync)
            .WithName("runRecipe")
            .WithSummary("Brings a file in as a recipe says. With planOnly it is only found out what that would do.")
            .Needs(PanelActs.Add)
            .Accepts<IFormFile>("application/octet-stream")
            .WithMetadata(new DisableRequestSizeLimitAttribute());
        // Files in the folder come from anybody who can put them there: who has them brought in is a developer.
        var watching = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Imports").OpensPanel();
        watching.MapPut("/setup/recipes/{recipe:int}/watch", WatchAsync).WithName("watchForRecipe");
    }

    private static async Task<Results<Ok<RecipeDto>, NotFound, ValidationProblem, ProblemHttpResult>> KeepAsync(
        [AsParameters] PanelHere here,
        Guid import,
        RecipeRequest request,
        ImportStore imports,
        RecipeStore recipes,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        if (await PanelImportEndpoints.OfPanelAsync(here, import, imports, caller, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        if (string.IsNullOrWhiteSpace(request.Name) || request.Name.Length > CatalogLimits.Name)
            return Problems.Of([new FieldProblem("name", $"Give the recipe a name of at most {CatalogLimits.Name} characters.")]);
        if (TableImportDto.Read<PanelImportSettings>(found.Settings) is not { } settings)
            return Problems.Of([new FieldProblem("import", "It has not been looked at yet.")]);
        return TypedResults.Ok(
            RecipeDto.Of(await recipes.KeepAsync(here.Opened.Id, request.Name.Trim(), settings, caller.Name, cancellationToken))
        );
    }

    private static async Task<Results<Ok<IReadOnlyList<RecipeDto>>, ProblemHttpResult>> ListAsync(
        [AsParameters] PanelHere here,
        RecipeStore recipes,
        CancellationToken cancellationToken
    ) =>
        TypedResults.Ok<IReadOnlyList<RecipeDto>>([
            .. (await recipes.ListAsync(here.Opened.Id, cancellationToken)).Select(RecipeDto.Of),
        ]);

    private static async Task<Results<NoContent, NotFound, ProblemHttpResult>> RemoveAsync(
        [AsParameters] PanelHere here,
        int recipe,
        RecipeStore recipes,
        CancellationToken cancellationToken
    ) =>
        await recipes.RemoveAsync(here.Opened.Id, recipe, cancellationToken) ? TypedResults.NoContent() : TypedResults.NotFound();

    private static async Task<Results<FileContentHttpResult, NotFound, ProblemHttpResult>> TakeAsync(
        [AsParameters] PanelHere here,
        int recipe,
        RecipeStore recipes,
        CancellationToken cancellationToken
    )
    {
        if (await recipes.FindAsync(here.Opened.Id, recipe, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        var table = here.Bound.Table.Name;
        var file = RecipeFile.Of(RecipeStore.SettingsOf(found), table.Schema, table.Name);
        return TypedResults.File(
            Encoding.UTF8.GetBytes(JsonSerializer.Serialize(file, DefinitionJson.Options)),
            "application/json",
            "recipe.json"
        );
    }

    private static async Task<Results<Accepted<ImportStatus>, NotFound, ValidationProblem, ProblemHttpResult>> RunAsync(
        [AsParameters] PanelHere here,
        int recipe,
        [FromQuery] string? name,
        HttpRequest request,
        ImportStore imports,
        RecipeStore recipes,
        ImportWork work,
        Caller caller,
        CancellationToken cancellationToken,
        [FromQuery] bool planOnly = false
    )
    {
        if (await recipes.FindAsync(here.Opened.Id, recipe, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        var settings = RecipeStore.SettingsOf(found);
        if (!PanelImportEndpoints.ModesOf(here.Bound).Contains(settings.Mode))
            return Problems.Of([
                new FieldProblem("mode", $"You are not allowed to do what this recipe does with {here.Bound.Definition.Label}."),
            ]);
        var begun = await imports.BeginAsync(here.Opened.Source.Id, here.Opened.Id, caller.Name, cancellationToken, found.Name);
        if (
            (await ImportFileEndpoints.KeepAsync(begun.Id, name, request, imports, cancellationToken)).Result
            is ValidationProblem wrong
        )
        {
            await imports.RemoveAsync(begun.Id, cancellationToken);
            return wrong;
        }

        var to = planOnly ? ImportState.Planning : ImportState.Running;
        await imports.TurnAsync(begun.Id, [ImportState.Ready], to, "Looking at the file", cancellationToken);
        var opened = here.Opened;
        work.Begin(begun.Id, caller, (services, report, stop) =>
            services.GetRequiredService<PanelImport>().FollowAsync(opened, begun.Id, settings, planOnly, report, stop)
        );
        var now = await imports.FindAsync(begun.Id, cancellationToken);
        return TypedResults.Accepted(
            $"/api/porches/{here.Porch}/panels/{here.Panel}/imports/{begun.Id}",
            ImportStatus.Of(now ?? begun, await imports.FilesAsync(begun.Id, cancellationToken))
        );
    }

    private static async Task<Results<NoContent, NotFound, ValidationProblem, ProblemHttpResult>> WatchAsync(
        [AsParameters] PanelHere here,
        int recipe,
        WatchRequest request,
        RecipeStore recipes,
        ImportFolder folder,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        var pattern = string.IsNullOrWhiteSpace(request.Pattern) ? null : request.Pattern.Trim();
        if (pattern is not null && !folder.IsShared)
            return Problems.Of([
                new FieldProblem("pattern", "The server has no folder for files. Name one by the setting PORCH_IMPORTS."),
            ]);
        if (pattern is { Length: > CatalogLimits.Name } || pattern?.Trim('*', '.') == "")
            return Problems.Of([
                new FieldProblem("pattern", "Say what the files are called, with * for anything, such as readings-*.csv."),
            ]);
        return await recipes.WatchAsync(here.Opened.Id, recipe, pattern, caller.Name, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();
    }
}
