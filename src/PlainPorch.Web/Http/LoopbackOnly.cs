using System.Net;

namespace PlainPorch.Web.Http;

/// <summary>
/// Until there is sign-in, refuses requests that were addressed to another host (a name that some page resolved to
/// this machine) and writes that another site's page sends.
/// </summary>
internal static class LoopbackOnly
{
    public static void UseLoopbackOnly(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                if (!IsLoopback(context.Request.Host.Host))
                    return Problems.Write(
                        context,
                        StatusCodes.Status421MisdirectedRequest,
                        $"This server answers only to localhost, not to {context.Request.Host.Host}."
                    );
                if (IsWrite(context.Request.Method) && IsForeign(context.Request))
                    return Problems.Write(
                        context,
                        StatusCodes.Status403Forbidden,
                        "This change was sent by a page of another site. It was not made."
                    );
                if (HasZeroCharacter(context.Request))
                    return Problems.Write(
                        context,
                        StatusCodes.Status400BadRequest,
                        "The address contains a null character, which no database can store. Remove it."
                    );
                return next(context);
            }
        );

    private static bool HasZeroCharacter(HttpRequest request) =>
        request.QueryString.Value?.Contains("%00", StringComparison.Ordinal) == true
        || request.Path.Value?.Contains('\0', StringComparison.Ordinal) == true;

    private static bool IsLoopback(string host) =>
        host.Equals("localhost", StringComparison.OrdinalIgnoreCase)
        || (IPAddress.TryParse(host.Trim('[', ']'), out var address) && IPAddress.IsLoopback(address));

    private static bool IsWrite(string method) =>
        !HttpMethods.IsGet(method) && !HttpMethods.IsHead(method) && !HttpMethods.IsOptions(method);

    // Browsers send Origin with every write. Programs that send none act for nobody's page.
    private static bool IsForeign(HttpRequest request)
    {
        var origin = request.Headers.Origin.ToString();
        return origin.Length > 0 && !origin.Equals($"{request.Scheme}://{request.Host}", StringComparison.OrdinalIgnoreCase);
    }
}
