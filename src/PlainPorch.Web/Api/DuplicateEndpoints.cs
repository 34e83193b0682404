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
        duplicates.MapPost("/merge", MergeAsync).WithName("mergeDuplicates").MayBePending();
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
        [AsParameters] PanelHere here, [AsParameters] Once once, MergeWish request, Merger merger, CancellationToken cancellationToken)
    {
        return await once.DoAsync<RemovalOutcome, RemovalOutcome.Done>(here, request, () => merger.MergeAsync(here.Opened, request, cancellationToken)) switch
        {
            RemovalOutcome.Done done => TypedResults.Ok(done),
            RemovalOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }
}
