using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace PlainPorch.Data.Catalog;

/// <summary>
/// Puts many rows into a table of the catalog in one stream, which takes a tenth of the time of as many statements.
/// </summary>
internal static class CatalogCopy
{
    /// <summary>Copies rows; all of them are there, or none.</summary>
    /// <param name="catalog">Our own tables.</param>
    /// <param name="copy">The COPY statement, with the columns.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="write">Writes a row's values in the order of the columns.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    public static async Task CopyAsync<T>(
        this CatalogContext catalog,
        string copy,
        IEnumerable<T> rows,
        Func<NpgsqlBinaryImporter, T, CancellationToken, Task> write,
        CancellationToken cancellationToken
    )
    {
        await catalog.Database.OpenConnectionAsync(cancellationToken);
        try
        {
            await using var import = await ((NpgsqlConnection)catalog.Database.GetDbConnection()).BeginBinaryImportAsync(
                copy,
                cancellationToken
            );
            foreach (var row in rows)
            {
                await import.StartRowAsync(cancellationToken);
                await write(import, row, cancellationToken);
            }

            await import.CompleteAsync(cancellationToken);
        }
        catch (NpgsqlException failure)
        {
            CatalogFailures.Note(failure);
            throw;
        }
        finally
        {
            await catalog.Database.CloseConnectionAsync();
        }
    }
}
