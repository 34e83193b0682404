using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace PlainPorch.Data.Catalog;

/// <summary>Saves changes of which somebody else may have made the same at the same moment.</summary>
internal static class CatalogSaving
{
    /// <summary>Saves changes.</summary>
    /// <returns>Whether they are saved; not where another row has values already that only one may have.</returns>
    /// <exception cref="DbUpdateConcurrencyException">Somebody changed a row meanwhile.</exception>
    public static async Task<bool> TrySaveAsync(this CatalogContext catalog, CancellationToken cancellationToken)
    {
        try
        {
            await catalog.SaveChangesAsync(cancellationToken);
            return true;
        }
        catch (DbUpdateException refused)
            when (refused.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            return false;
        }
    }
}
