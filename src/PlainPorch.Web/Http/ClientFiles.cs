using System.Diagnostics.CodeAnalysis;
using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Extensions.FileProviders;
using Microsoft.Net.Http.Headers;

namespace PlainPorch.Web.Http;

/// <summary>Serves the built client.</summary>
internal static class ClientFiles
{
    private const string BuiltFiles = "/assets";

    private static readonly (string Encoding, string Ending)[] _forms = [("br", ".br"), ("gzip", ".gz")];

    public static void MapClient(this WebApplication app)
    {
        app.UseWhen(
            context => !context.Request.Path.StartsWithSegments("/api"),
            pages =>
            {
                pages.UseDefaultFiles();
                pages.Use(
                    (context, next) =>
                    {
                        PreferCompressed(context, app.Environment.WebRootFileProvider);
                        return next(context);
                    }
                );
                pages.UseStaticFiles(
                    new StaticFileOptions
                    {
                        ContentTypeProvider = new TypesOfCompressed(),
                        OnPrepareResponse = response => Prepare(response.Context),
                    }
                );
            }
        );
        // The client finds its own way from any address, also one with a dot in a record's key. Under /api what nothing answers
        // stays an error with its own status, and the client's files are left to the middleware above.
        app.MapFallbackToFile(
                @"{*path:regex(^(?!(api|assets)(/|$)|porch\.svg$).*$)}",
                "index.html",
                new StaticFileOptions
                {
                    OnPrepareResponse = response => response.Context.Response.Headers.CacheControl = "no-cache",
                }
            )
            .ForAnybody();
    }

    // The build lays compressed forms beside the files that are worth it.
    private static void PreferCompressed(HttpContext context, IFileProvider files)
    {
        if (!context.Request.Path.StartsWithSegments(BuiltFiles))
            return;
        context.Response.Headers.Vary = HeaderNames.AcceptEncoding;
        var accepted = context.Request.GetTypedHeaders().AcceptEncoding;
        foreach (var (encoding, ending) in _forms)
        {
            if (
                !accepted.Any(one => one.Value.Equals(encoding, StringComparison.OrdinalIgnoreCase) && one.Quality is not 0)
                || !files.GetFileInfo(context.Request.Path + ending).Exists
            )
                continue;
            context.Request.Path += ending;
            return;
        }
    }

    private static void Prepare(HttpContext context)
    {
        var path = context.Request.Path;
        // The names of built files hold their contents' hash, so they never change; the page that names them does.
        context.Response.Headers.CacheControl = path.StartsWithSegments(BuiltFiles)
            ? "public, max-age=31536000, immutable"
            : "no-cache";
        if (_forms.FirstOrDefault(form => path.Value!.EndsWith(form.Ending, StringComparison.Ordinal)).Encoding is { } encoding)
            context.Response.Headers.ContentEncoding = encoding;
    }

    // A compressed script is still a script.
    private sealed class TypesOfCompressed : IContentTypeProvider
    {
        private readonly FileExtensionContentTypeProvider _types = new();

        public bool TryGetContentType(string subpath, [MaybeNullWhen(false)] out string contentType) =>
            _types.TryGetContentType(
                _forms.Aggregate(subpath, (path, form) =>
                    path.EndsWith(form.Ending, StringComparison.Ordinal) ? path[..^form.Ending.Length] : path
                ),
                out contentType
            );
    }
}
