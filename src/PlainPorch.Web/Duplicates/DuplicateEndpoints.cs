using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Duplicates;
using PlainPorch.Data.Removal;
using PlainPorch.Web.Acts;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Duplicates;

/// <summary>Records that look alike and are not the same.</summary>
/// <param name="Keys">Their keys: each is another record than each other.</param>
/// <param name="AreDistinct">Whether they are; false takes it back.</param>
public sealed record DistinctRequest(IReadOnlyList<string> Keys, bool AreDistinct = true);

internal static class DuplicateEndpoints
{
    public static void MapDuplicates(this IEndpointRouteBuilder api)
    {
        var duplicates = api.MapGroup("/porches/{porch}/panels/{panel}/duplicates")
            .WithTags("Duplicates")
            .OpensPanel()
            .ForMembers();
        duplicates.MapGet("/", FindAsync).WithName("findDuplicates").Needs(PanelActs.Merge);
        duplicates.MapPost("/merge-plan", ProposeAsync).WithName("planMerge").Needs(PanelActs.Merge);
        duplicates.MapPost("/distinct", TellApartAsync).WithName("tellApart").Needs(PanelActs.Merge);
        duplicates.MapPost("/merge", MergeAsync).WithName("mergeDuplicates").Needs(PanelActs.Merge).MayBePending();
    }

    private static async Task<Results<Ok<DuplicateGroups>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        Merger merger,
        CancellationToken cancellationToken
    )
    {
        return await merger.FindAsync(here.Opened, cancellationToken) switch
        {
            ({ } groups, _) => TypedResults.Ok(groups),
            (_, { } refusal) => Problems.NotAllowed(refusal),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<Ok<MergeProposal>, NotFound, ProblemHttpResult, ValidationProblem>> ProposeAsync(
        [AsParameters] PanelHere here,
        MergeWish request,
        Merger merger,
        CancellationToken cancellationToken
    )
    {
        return await merger.ProposeAsync(here.Opened, request, cancellationToken) switch
        {
            ({ } proposal, _) => TypedResults.Ok(proposal),
            (_, { } problem) => Problems.Of([problem]),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<NoContent, NotFound, ProblemHttpResult, ValidationProblem>> TellApartAsync(
        [AsParameters] PanelHere here,
        DistinctRequest request,
        Merger merger,
        CancellationToken cancellationToken
    )
    {
        return await merger.TellApartAsync(here.Opened, request.Keys, request.AreDistinct, cancellationToken) is { } problem
            ? Problems.Of([problem])
            : TypedResults.NoContent();
    }

    private static async Task<Results<Ok<RemovalOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> MergeAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        MergeWish request,
        Merger merger,
        CancellationToken cancellationToken
    )
    {
        return await once.DoAsync<RemovalOutcome, RemovalOutcome.Done>(here, request, () =>
            merger.MergeAsync(here.Opened, request, cancellationToken)
        ) switch
        {
            RemovalOutcome.Done done => TypedResults.Ok(done),
            RemovalOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }
}
