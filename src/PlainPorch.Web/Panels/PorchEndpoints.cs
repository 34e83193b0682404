using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.People;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;
using PlainPorch.Data.People;
using PlainPorch.Data.Query;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Panels;

/// <summary>A porch in outline.</summary>
/// <param name="Slug">Its name in addresses.</param>
/// <param name="Name">What it is called.</param>
/// <param name="SourceId">The number of the source that it is on.</param>
/// <param name="Dates">In which order its people write dates.</param>
/// <param name="Numbers">With which marks its people write numbers.</param>
/// <param name="Panels">Its panels in the order of the menu, those that whoever asks sees.</param>
/// <param name="Role">What whoever asks is there; null for a developer.</param>
/// <param name="ManagesPeople">Whether they invite and administer its people.</param>
/// <param name="HasLog">Whether the logbook tells them anything.</param>
public sealed record PorchDto(
    string Slug,
    string Name,
    int SourceId,
    DateOrder Dates,
    NumberMarks Numbers,
    IReadOnlyList<PanelSummary> Panels,
    string? Role,
    bool ManagesPeople,
    bool HasLog
);

/// <summary>How a porch's people write dates and numbers.</summary>
/// <param name="Dates">The order of day, month and year in figures.</param>
/// <param name="Numbers">The marks between thousands and before the fraction.</param>
public sealed record NotationRequest(DateOrder Dates, NumberMarks Numbers);

/// <summary>A panel in outline.</summary>
/// <param name="Slug">Its name in addresses.</param>
/// <param name="Label">What its records are called taken together.</param>
/// <param name="Table">The table that it shows, as a person reads it.</param>
/// <param name="Group">The heading that it stands under in the menu; empty for none.</param>
/// <param name="IsHidden">Whether the menu leaves it out.</param>
public sealed record PanelSummary(string Slug, string Label, string Table, string Group, bool IsHidden);

internal static class PorchEndpoints
{
    public static void MapPorches(this IEndpointRouteBuilder api)
    {
        var porches = api.MapGroup("/porches").WithTags("Porches");
        porches.MapGet("/", ListAsync).WithName("listPorches").ForSignedIn();
        porches.MapGet("/{porch}", FindAsync).WithName("findPorch").ForMembers();
        porches.MapGet("/{porch}/find", SearchAsync).WithName("findRecords").ForMembers();
        porches.MapPut("/{porch}/notation", SetNotationAsync).WithName("setPorchNotation");
        porches.MapGet("/{porch}/definition", ExportAsync).WithName("exportDefinition");
        porches.MapPut("/{porch}/definition", DefineAsync).WithName("importDefinition");
        api.MapGet("/definition-schema", () =>
                TypedResults.Text(DefinitionJson.Schema().ToJsonString(DefinitionJson.Options), "application/schema+json")
            )
            .WithTags("Porches")
            .WithName("definitionSchema");
    }

    private static async Task<Ok<List<PorchDto>>> ListAsync(
        PorchOpener porches,
        Asker asker,
        CancellationToken cancellationToken
    ) => TypedResults.Ok((await porches.ListAsync(cancellationToken)).Select(found => ToDto(found, asker)).ToList());

    private static async Task<Results<Ok<PorchDto>, NotFound>> FindAsync(
        string porch,
        PorchOpener porches,
        Asker asker,
        CancellationToken cancellationToken
    ) =>
        await porches.FindAsync(porch, cancellationToken) is { } found
            ? TypedResults.Ok(ToDto(found, asker))
            : TypedResults.NotFound();

    private static async Task<Results<Ok<PorchFindings>, NotFound, ProblemHttpResult>> SearchAsync(
        string porch,
        HttpContext http,
        PorchOpener porches,
        CancellationToken cancellationToken,
        string? q = null
    )
    {
        if (await porches.FindAsync(porch, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        foreach (var panel in found.Panels)
        {
            // Any panel whose table is there leads to the porch's source.
            var here = new PanelHere(porch, panel.Slug);
            if (await here.OpenAsync(http) is null)
                return TypedResults.Ok(await new PorchFinder(here.Opened.Seen).FindAsync(q ?? "", cancellationToken));
        }

        return TypedResults.Ok(new PorchFindings([], []));
    }

    private static async Task<Results<NoContent, NotFound>> SetNotationAsync(
        string porch,
        NotationRequest request,
        PanelStore panels,
        CancellationToken cancellationToken
    ) =>
        await panels.SetNotationAsync(porch, new Notation(request.Dates, request.Numbers), cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();

    private static async Task<Results<ContentHttpResult, NotFound>> ExportAsync(
        string porch,
        PanelStore panels,
        CancellationToken cancellationToken
    ) =>
        await panels.FindPorchAsync(porch, cancellationToken) is { } found
            ? TypedResults.Text(DefinitionJson.Write(found.ToDefinition()), "application/json")
            : TypedResults.NotFound();

    private static async Task<Results<Ok<PorchDefined>, NotFound, ValidationProblem>> DefineAsync(
        string porch,
        PorchDefinition definition,
        PanelStore panels,
        CancellationToken cancellationToken
    ) =>
        await panels.DefineAsync(porch, definition, cancellationToken) switch
        {
            SaveOutcome<PorchDefined>.Saved(var done) => TypedResults.Ok(done),
            SaveOutcome<PorchDefined>.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };

    private static PorchDto ToDto(PorchContent content, Asker asker) =>
        new(
            content.Porch.Slug,
            content.Porch.Name,
            content.Porch.SourceId,
            content.Porch.Dates,
            content.Porch.Numbers,
            [
                .. content
                    .Panels.GroupBy(panel => panel.Group)
                    .OrderBy(group => group.Min(panel => panel.Place))
                    .SelectMany(group =>
                        group.OrderBy(panel => panel.Place).ThenBy(panel => panel.Label, StringComparer.OrdinalIgnoreCase)
                    )
                    .Select(panel => new PanelSummary(
                        panel.Slug,
                        panel.Label,
                        panel.Table.ToString(),
                        panel.Group,
                        panel.IsHidden
                    )),
            ],
            asker.MemberOf(content.Porch)?.Role.Name,
            asker.ManagesPeopleOf(content.Porch),
            asker.MemberOf(content.Porch)?.Role is not { } role
                || content.Panels.Any(panel => role.MayOn(panel.Slug).HasFlag(PanelActs.SeeHistory))
        );
}
