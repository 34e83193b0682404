using System.Text.Json;
using Microsoft.AspNetCore.Diagnostics;

namespace PlainPorch.Web.Http;

/// <summary>
/// Answers requests that could not be read (bad JSON, too large a body, a letter for a number) with the reason.
/// </summary>
internal sealed class BadRequestHandler : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        // What has several kinds and does not say which of them it is; the reader does not take that for bad JSON.
        if (exception is NotSupportedException { Source: "System.Text.Json" })
        {
            await Problems.Write(
                httpContext,
                StatusCodes.Status400BadRequest,
                "A part of the body does not say of what kind it is. Give its “kind”; /api/openapi.json describes it."
            );
            return true;
        }

        if (exception is not BadHttpRequestException wrong)
            return false;
        var detail = wrong.InnerException is JsonException json
            ? $"The body is not the JSON expected here (at {json.Path ?? "$"}). /api/openapi.json describes it."
            : wrong.Message;
        await Problems.Write(httpContext, wrong.StatusCode, detail);
        return true;
    }
}
