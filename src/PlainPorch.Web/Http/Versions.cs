using System.Globalization;
using System.Reflection;
using Microsoft.AspNetCore.Http.Metadata;

namespace PlainPorch.Web.Http;

/// <summary>Versions travel as entity tags: <c>ETag</c> out, <c>If-Match</c> in (RFC 9110).</summary>
internal static class Versions
{
    /// <summary>Tells the version of what is sent.</summary>
    public static void Tell(this HttpResponse response, uint version) =>
        response.Headers.ETag = string.Create(CultureInfo.InvariantCulture, $"\"{version}\"");

    /// <summary>The version that a write is based on.</summary>
    /// <returns>The version; null where the header is missing or none of ours.</returns>
    public static uint? Read(string? ifMatch) =>
        uint.TryParse(ifMatch?.Trim().Trim('"'), NumberStyles.None, CultureInfo.InvariantCulture, out var version)
            ? version
            : null;
}

/// <summary>Somebody else was faster: 412 with what is there now.</summary>
/// <typeparam name="T">What was to be changed.</typeparam>
/// <param name="current">As it is now.</param>
/// <param name="version">Its version.</param>
internal sealed class PreconditionFailed<T>(T current, uint version) : IResult, IEndpointMetadataProvider
{
    public Task ExecuteAsync(HttpContext httpContext)
    {
        httpContext.Response.StatusCode = StatusCodes.Status412PreconditionFailed;
        httpContext.Response.Tell(version);
        return httpContext.Response.WriteAsJsonAsync(current, httpContext.RequestAborted);
    }

    public static void PopulateMetadata(MethodInfo method, EndpointBuilder builder) =>
        builder.Metadata.Add(
            new ProducesResponseTypeMetadata(StatusCodes.Status412PreconditionFailed, typeof(T), ["application/json"])
        );
}
