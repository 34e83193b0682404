using System.Reflection;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Data.Catalog;
using PlainPorch.Web.Connections;

namespace PlainPorch.Web.Catalog;

/// <summary>Brings the catalog's tables up to date before the first request.</summary>
internal static class CatalogPreparation
{
    /// <summary>Whether the build runs the program only to describe its API, with no database in reach.</summary>
    public static bool IsDescribing => Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";

    /// <summary>Makes or updates the catalog's tables.</summary>
    /// <returns>Whether the catalog can be used; where not, the reason was printed.</returns>
    public static async Task<bool> PrepareCatalogAsync(this WebApplication app)
    {
        if (IsDescribing)
            return true;
        await using var scope = app.Services.CreateAsyncScope();
        try
        {
            var catalog = scope.ServiceProvider.GetRequiredService<CatalogContext>();
            // Older versions kept the keys beside what they encrypt.
            await KeySetUp.Read(app.Configuration).TakeOutOfAsync(catalog);
            await catalog.Database.MigrateAsync();
            return true;
        }
        catch (NpgsqlException unusable)
        {
            await Console.Error.WriteLineAsync(
                $"Plain Porch cannot use its own database: {unusable.Message.TrimEnd('.')}. Check PORCH_DATABASE."
            );
            return false;
        }
    }
}
