using System.Reflection;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Web;

/// <summary>Brings the catalog's tables up to date before the first request.</summary>
internal static class CatalogPreparation
{
    /// <summary>Whether the build runs the program only to describe its API, with no database in reach.</summary>
    public static bool IsDescribing => Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";

    public static async Task PrepareCatalogAsync(this WebApplication app)
    {
        if (IsDescribing)
            return;
        await using var scope = app.Services.CreateAsyncScope();
        await scope.ServiceProvider.GetRequiredService<CatalogContext>().Database.MigrateAsync();
    }
}
