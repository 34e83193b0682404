using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Web.Http;

internal static class HealthEndpoints
{
    public static void MapHealth(this IEndpointRouteBuilder api) =>
        api.MapGet("/health", CheckAsync).WithTags("Health").WithName("health").ForAnybody();

    private static async Task<Results<Ok, StatusCodeHttpResult>> CheckAsync(
        CatalogContext catalog,
        CancellationToken cancellationToken
    ) =>
        await catalog.Database.CanConnectAsync(cancellationToken)
            ? TypedResults.Ok()
            : TypedResults.StatusCode(StatusCodes.Status503ServiceUnavailable);
}
