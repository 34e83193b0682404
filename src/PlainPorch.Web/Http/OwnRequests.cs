namespace PlainPorch.Web.Http;

/// <summary>
/// Refuses requests that were addressed to another host (a name that some page resolved to this machine), that come in the clear
/// from elsewhere, and writes that another site's page sends.
/// </summary>
internal static class OwnRequests
{
    public static void UseOwnRequestsOnly(this IApplicationBuilder app, Listening listening) =>
        app.Use(
            (context, next) =>
            {
                var host = context.Request.Host.Host;
                if (!listening.AnswersTo(host))
                    return Problems.Write(
                        context,
                        StatusCodes.Status421MisdirectedRequest,
                        listening.IsBeyondLoopback
                            ? $"This server does not answer to {host}. Ask it by one of the names in PORCH_HOSTS."
                            : $"This server answers only to localhost, not to {host}."
                    );
                if (!context.Request.IsHttps && !Listening.IsLoopback(host))
                    return Problems.Write(
                        context,
                        StatusCodes.Status403Forbidden,
                        $"This server is asked over TLS only: https://{context.Request.Host}."
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

    private static bool IsWrite(string method) =>
        !HttpMethods.IsGet(method) && !HttpMethods.IsHead(method) && !HttpMethods.IsOptions(method);

    // Browsers send Origin with every write, and where it comes from beside it (Fetch Metadata). Programs that send neither act for
    // nobody's page.
    private static bool IsForeign(HttpRequest request)
    {
        var origin = request.Headers.Origin.ToString();
        var site = request.Headers["Sec-Fetch-Site"].ToString();
        return (origin.Length > 0 && !origin.Equals($"{request.Scheme}://{request.Host}", StringComparison.OrdinalIgnoreCase))
            || site is not ("" or "same-origin" or "none");
    }
}
