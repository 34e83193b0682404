using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Tests.Catalog;

public sealed class MigrationTests
{
    [Fact]
    public void Model_OfTheCatalog_HasAMigrationForAllOfIt()
    {
        using var catalog = new CatalogContextFactory().CreateDbContext([]);
        Assert.False(
            catalog.Database.HasPendingModelChanges(),
            "Something of the catalog's model has no migration yet. Add one."
        );
    }
}
