namespace PlainPorch.Web.Http;

/// <summary>Headers that make browsers strict with our pages.</summary>
internal static class SecurityHeaders
{
    // The component library sets its positions by style elements; scripts come from our own files only.
    private const string Policy =
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'";

    private const string DataPolicy = "default-src 'none'; frame-ancestors 'none'";

    public static void UseSecurityHeaders(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                var headers = context.Response.Headers;
                headers.XContentTypeOptions = "nosniff";
                if (context.Request.IsHttps)
                    headers.StrictTransportSecurity = "max-age=31536000";
                if (context.Request.Path.StartsWithSegments("/api"))
                {
                    // Data and files to save: nothing in them is carried out, whatever it says.
                    headers.CacheControl = "no-store";
                    headers.ContentSecurityPolicy = DataPolicy;
                }
                else
                {
                    headers.ContentSecurityPolicy = Policy;
                    headers["Referrer-Policy"] = "same-origin";
                }

                return next(context);
            }
        );
}
