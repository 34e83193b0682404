using System.Globalization;
using PlainPorch.Data.Code;

namespace PlainPorch.Web.Code;

/// <summary>Reads where code of one's own is.</summary>
internal static class CodeSetUp
{
    /// <summary>The setting for the folder.</summary>
    public const string Folder = "PORCH_CODE";

    /// <summary>The setting for the seconds that a call within an act may take.</summary>
    public const string Seconds = "PORCH_CODE_SECONDS";

    /// <summary>Adds the code and what it needs.</summary>
    public static void AddCode(this IServiceCollection services, IConfiguration configuration)
    {
        var folder = configuration[Folder];
        var usual = CodePlace.None;
        var patience = double.TryParse(configuration[Seconds], NumberStyles.Float, CultureInfo.InvariantCulture, out var seconds)
            ? TimeSpan.FromSeconds(Math.Clamp(seconds, 0.1, 60))
            : usual.Patience;
        services.AddSingleton(
            usual with
            {
                Folder = string.IsNullOrWhiteSpace(folder) ? null : Path.GetFullPath(folder),
                Patience = patience,
            }
        );
        services.AddHttpClient();
        services.AddSingleton<CodeWork>();
    }
}
