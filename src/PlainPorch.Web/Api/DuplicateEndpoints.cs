using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Data.Duplicates;
using PlainPorch.Data.Removal;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Api;

internal static class DuplicateEndpoints
{
    public static void MapDuplicates(this IEndpointRouteBuilder api)
    {
        var duplicates = api.MapGroup("/porches/{porch}/panels/{panel}/duplicates").WithTags("Duplicates").OpensPanel();
        duplicates.MapGet("/", FindAsync).WithName("findDuplicates");
        duplicates.MapPost("/merge", MergeAsync).WithName("mergeDuplicates");
    }

    private static async Task<Results<Ok<DuplicateGroups>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here, CancellationToken cancellationToken)
    {
        return await Merger.FindAsync(here.Opened, cancellationToken) switch
        {
            ({ } groups, _) => TypedResults.Ok(groups),
            (_, { } refusal) => Problems.NotAllowed(refusal),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<Ok<RemovalOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> MergeAsync(
        [AsParameters] PanelHere here, MergeWish request, Merger merger, CancellationToken cancellationToken)
    {
        return await merger.MergeAsync(here.Opened, request, cancellationToken) switch
        {
            RemovalOutcome.Done done => TypedResults.Ok(done),
            RemovalOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }
}
