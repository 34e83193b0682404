using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Duplicates;
using PlainPorch.Data.Removal;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Api;

internal static class DuplicateEndpoints
{
    public static void MapDuplicates(this IEndpointRouteBuilder api)
    {
        var duplicates = api.MapGroup("/porches/{porch}/panels/{panel}/duplicates").WithTags("Duplicates");
        duplicates.MapGet("/", FindAsync).WithName("findDuplicates");
        duplicates.MapPost("/merge", MergeAsync).WithName("mergeDuplicates");
    }

    private static async Task<Results<Ok<DuplicateGroups>, NotFound, ProblemHttpResult>> FindAsync(
        string porch, string panel, PanelOpener opener, CancellationToken cancellationToken)
    {
        var (opened, missing) = await RecordEndpoints.OpenPanelAsync(opener, porch, panel, cancellationToken);
        if (opened is null)
            return missing is null ? TypedResults.NotFound() : missing;
        return await Merger.FindAsync(opened, cancellationToken) switch
        {
            ({ } groups, _) => TypedResults.Ok(groups),
            (_, { } refusal) => Problems.NotAllowed(refusal),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<Ok<RemovalOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> MergeAsync(
        string porch, string panel, MergeWish request, PanelOpener opener, Merger merger, CancellationToken cancellationToken)
    {
        var (opened, missing) = await RecordEndpoints.OpenPanelAsync(opener, porch, panel, cancellationToken);
        if (opened is null)
            return missing is null ? TypedResults.NotFound() : missing;
        return await merger.MergeAsync(opened, request, cancellationToken) switch
        {
            RemovalOutcome.Done done => TypedResults.Ok(done),
            RemovalOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }
}
