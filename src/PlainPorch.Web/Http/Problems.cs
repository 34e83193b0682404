using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Values;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Web.Http;

/// <summary>Makes problem details (RFC 9457), the one form in which errors leave the server.</summary>
internal static class Problems
{
    public static void AddPorchProblems(this IServiceCollection services)
    {
        services.AddProblemDetails(options => options.CustomizeProblemDetails = AddReason);
        // Else a request that cannot be read gets a bare 400, and the reason goes to the log only.
        services.Configure<RouteHandlerOptions>(options => options.ThrowOnBadRequest = true);
        services.AddExceptionHandler<OutcomeHandler>();
        services.AddExceptionHandler<BadRequestHandler>();
        services.AddExceptionHandler<SourceFailureHandler>();
    }

    private static void AddReason(ProblemDetailsContext context) =>
        context.ProblemDetails.Detail ??= context.ProblemDetails.Status switch
        {
            StatusCodes.Status413PayloadTooLarge => "The request is larger than this server accepts. Send less at a time.",
            StatusCodes.Status415UnsupportedMediaType => "Send JSON, with the header Content-Type: application/json.",
            StatusCodes.Status405MethodNotAllowed => "This address does not accept that method.",
            StatusCodes.Status404NotFound => "There is nothing at this address, or it no longer exists.",
            StatusCodes.Status500InternalServerError => "This is a bug in Plain Porch. Nothing was saved by this request.",
            _ => null,
        };

    /// <summary>Wrong fields: 400 with a message for each.</summary>
    public static ValidationProblem Of(IEnumerable<FieldProblem> problems)
    {
        var all = problems.ToList();
        var errors = all.GroupBy(problem => problem.Field)
            .ToDictionary(group => group.Key, group => group.Select(problem => problem.Message).ToArray());
        var wholly = errors.GetValueOrDefault("");
        return TypedResults.ValidationProblem(
            errors,
            detail: wholly is null ? "Some fields need correcting. Nothing was saved." : string.Join(' ', wholly),
            title: "It could not be saved as it is.",
            // Where nothing but warnings stand against it, it can be sent again with the header Despite.
            extensions: all.Count > 0 && all.TrueForAll(problem => problem.Warning is not null)
                ? new Dictionary<string, object?> { ["warnings"] = all.Select(problem => problem.Warning).Distinct().ToList() }
                : null
        );
    }

    /// <summary>A write came without the version that it is based on.</summary>
    public static ProblemHttpResult VersionMissing() =>
        TypedResults.Problem(
            "Send the ETag you were given in the If-Match header.",
            title: "The version is missing.",
            statusCode: StatusCodes.Status428PreconditionRequired
        );

    /// <summary>The table of a panel is gone.</summary>
    public static ProblemHttpResult TableGone(PanelDefinition panel) =>
        TypedResults.Problem(
            $"The database no longer has the table {panel.Table}. Read the schema again, or remove the panel.",
            title: "The panel's table is gone.",
            statusCode: StatusCodes.Status409Conflict
        );

    /// <summary>Something is not to be done here at all.</summary>
    public static ProblemHttpResult NotAllowed(Refusal refusal) =>
        TypedResults.Problem(
            $"{refusal.Reason} {refusal.Remedy}",
            title: "The records of this panel cannot be changed.",
            statusCode: StatusCodes.Status409Conflict
        );

    /// <summary>Something is set aside from what is to be removed, and nobody has said what becomes of it.</summary>
    public static ProblemHttpResult SetAsideUndecided(SetAsideCount count) =>
        TypedResults.Problem(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{count.Records:N0} records are set aside from it. Bring them back first, or say with setAside=keep or setAside=erase what happens to them."
            ),
            title: "Records are set aside.",
            statusCode: StatusCodes.Status409Conflict
        );

    /// <summary>Writes a problem outside of an endpoint.</summary>
    public static async Task Write(HttpContext context, int status, string detail)
    {
        context.Response.StatusCode = status;
        await context
            .RequestServices.GetRequiredService<IProblemDetailsService>()
            .WriteAsync(
                new ProblemDetailsContext
                {
                    HttpContext = context,
                    ProblemDetails = new ProblemDetails { Status = status, Detail = detail },
                }
            );
    }
}
