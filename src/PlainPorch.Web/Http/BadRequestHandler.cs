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
        if (exception is not BadHttpRequestException wrong)
            return false;
        var detail = wrong.InnerException is JsonException json
            ? $"The body is not the JSON expected here (at {json.Path ?? "$"}). /api/openapi.json describes it."
            : wrong.Message;
        await Problems.Write(httpContext, wrong.StatusCode, detail);
        return true;
    }
}
