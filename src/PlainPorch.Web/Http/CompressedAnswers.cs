using System.IO.Compression;
using Microsoft.AspNetCore.ResponseCompression;

namespace PlainPorch.Web.Http;

/// <summary>
/// Compresses what the API answers as JSON. Compressing tells something about a secret that stands beside what an attacker can
/// choose (BREACH), and no answer bears one: passwords and keys are never sent.
/// </summary>
internal static class CompressedAnswers
{
    public static void AddCompressedAnswers(this IServiceCollection services)
    {
        services.AddResponseCompression(options =>
        {
            options.EnableForHttps = true;
            options.MimeTypes = ["application/json", "application/problem+json"];
            options.Providers.Add<BrotliCompressionProvider>();
            options.Providers.Add<GzipCompressionProvider>();
        });
        services.Configure<BrotliCompressionProviderOptions>(options => options.Level = CompressionLevel.Fastest);
        services.Configure<GzipCompressionProviderOptions>(options => options.Level = CompressionLevel.Fastest);
    }

    public static void UseCompressedAnswers(this WebApplication app) =>
        app.UseWhen(context => context.Request.Path.StartsWithSegments("/api"), api => api.UseResponseCompression());
}
