using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.LooseEnds;
using PlainPorch.Data.LooseEnds;

namespace PlainPorch.Web.LooseEnds;

internal static class LooseEndEndpoints
{
    public static void MapLooseEnds(this IEndpointRouteBuilder api)
    {
        var ends = api.MapGroup("/porches/{porch}/loose-ends").WithTags("Loose ends");
        ends.MapGet("/", ListAsync).WithName("listLooseEnds");
        ends.MapPost("/mend", MendAsync).WithName("mendLooseEnd");
    }

    private static async Task<Results<Ok<IReadOnlyList<LooseEnd>>, NotFound>> ListAsync(
        string porch,
        LooseEndStore store,
        CancellationToken cancellationToken
    ) => await store.FindAsync(porch, cancellationToken) is { } found ? TypedResults.Ok(found) : TypedResults.NotFound();

    private static async Task<Results<NoContent, ProblemHttpResult>> MendAsync(
        string porch,
        LooseEnd end,
        LooseEndStore store,
        CancellationToken cancellationToken
    ) =>
        await store.MendAsync(porch, end, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.Problem(
                "It no longer exists, or somebody changed the panel at the same moment. Reload the list.",
                title: "It was not fixed.",
                statusCode: StatusCodes.Status409Conflict
            );
}
