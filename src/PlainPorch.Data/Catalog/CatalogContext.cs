using Microsoft.EntityFrameworkCore;

namespace PlainPorch.Data.Catalog;

/// <summary>
/// Our own tables, in the schema <c>porch</c> of the catalog's database. Each capability says itself which it has, beside the
/// rows.
/// </summary>
/// <param name="options">The context's options.</param>
public sealed class CatalogContext(DbContextOptions<CatalogContext> options) : DbContext(options)
{
    /// <summary>The database schema of all our tables.</summary>
    public const string SchemaName = "porch";

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        ArgumentNullException.ThrowIfNull(modelBuilder);
        modelBuilder.HasDefaultSchema(SchemaName);
        modelBuilder.ApplyConfigurationsFromAssembly(typeof(CatalogContext).Assembly);
    }
}
