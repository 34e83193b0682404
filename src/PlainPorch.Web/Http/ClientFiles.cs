namespace PlainPorch.Web.Http;

/// <summary>Serves the built client.</summary>
internal static class ClientFiles
{
    public static void MapClient(this WebApplication app)
    {
        app.UseDefaultFiles();
        app.UseStaticFiles(new StaticFileOptions
        {
            // The names of built files hold their contents' hash, so they never change; the page that names them does.
            OnPrepareResponse = response => response.Context.Response.Headers.CacheControl =
                response.Context.Request.Path.StartsWithSegments("/assets") ? "public, max-age=31536000, immutable" : "no-cache",
        });
        // The client finds its own way from any address, also one with a dot in a record's key. Under /api what nothing answers
        // stays an error with its own status, and the client's files are left to the middleware above.
        app.MapFallbackToFile(@"{*path:regex(^(?!(api|assets)(/|$)|porch\.svg$).*$)}", "index.html", new StaticFileOptions
        {
            OnPrepareResponse = response => response.Context.Response.Headers.CacheControl = "no-cache",
        });
    }
}
