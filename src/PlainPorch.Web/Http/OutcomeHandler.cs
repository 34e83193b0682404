using Microsoft.AspNetCore.Diagnostics;
using PlainPorch.Data.Acts;

namespace PlainPorch.Web.Http;

/// <summary>What was asked for may have been carried out or not; it is being found out.</summary>
/// <param name="Entry">The logbook's entry of it, which tells once it is known.</param>
/// <param name="Outcome">The address that tells.</param>
/// <param name="Says">The same for a person.</param>
public sealed record OutcomePending(long Entry, string Outcome, string Says);

/// <summary>
/// Says so where it is not known whether something was carried out (202), and where a repeated request cannot be answered as the
/// first.
/// </summary>
internal sealed class OutcomeHandler : IExceptionHandler
{
    /// <summary>What a person is told.</summary>
    public const string Says =
        "The database did not answer, so it is not yet known whether this was done. Plain Porch is checking.";

    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        switch (exception)
        {
            case OutcomeUnknownException unknown:
                var pending = Of(httpContext, unknown);
                httpContext.Response.StatusCode = StatusCodes.Status202Accepted;
                httpContext.Response.Headers.Location = pending.Outcome;
                await httpContext.Response.WriteAsJsonAsync(pending, CancellationToken.None);
                return true;
            case RepeatRefusedException { IsInUse: var isInUse } refused:
                await Problems.Write(
                    httpContext,
                    isInUse ? StatusCodes.Status409Conflict : StatusCodes.Status400BadRequest,
                    refused.Message
                );
                return true;
            default:
                return false;
        }
    }

    /// <summary>
    /// Says in words why something was not carried out, where an answer has begun already and can bear no status.
    /// </summary>
    /// <returns>The words; null for a fault of ours, or where nobody waits any more.</returns>
    public static string? Explain(Exception failure) =>
        failure switch
        {
            OperationCanceledException => null,
            RepeatRefusedException refused => refused.Message,
            _ => SourceFailureHandler.Explain(failure) is (not 0, var detail) ? detail : null,
        };

    /// <summary>What is answered to a request of a porch.</summary>
    public static OutcomePending Of(HttpContext http, OutcomeUnknownException unknown) =>
        new(
            unknown.Entry,
            $"/api/porches/{Uri.EscapeDataString((string?)http.GetRouteValue("porch") ?? "")}/log/{unknown.Entry}/outcome",
            Says
        );
}
