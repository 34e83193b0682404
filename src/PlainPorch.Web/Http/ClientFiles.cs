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
        // The client finds its own way from any address; one under /api that nothing answers stays an error, with its own status.
        app.MapFallbackToFile("{*path:regex(^(?!api(/|$)).*$)}", "index.html", new StaticFileOptions
        {
            OnPrepareResponse = response => response.Context.Response.Headers.CacheControl = "no-cache",
        });
    }
}
