using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace PlainPorch.Data.Catalog;

/// <summary>Gives the migration tools a context; it never connects.</summary>
internal sealed class CatalogContextFactory : IDesignTimeDbContextFactory<CatalogContext>
{
    public CatalogContext CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<CatalogContext>().UseNpgsql("Host=localhost").Options);
}
