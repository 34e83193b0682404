using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Connections;

/// <summary>The table of the catalog that holds the connected databases.</summary>
public static class SourceTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The connected databases.</summary>
        public DbSet<SourceRow> Sources => catalog.Set<SourceRow>();
    }
}

internal sealed class SourceConfiguration : IEntityTypeConfiguration<SourceRow>
{
    public void Configure(EntityTypeBuilder<SourceRow> builder)
    {
        builder.ToTable("source");
        builder.HasIndex(source => source.Name).IsUnique();
        builder.Property(source => source.Name).HasMaxLength(CatalogLimits.Name);
        builder.Property(source => source.Tls).HasConversion<string>().HasMaxLength(20);
        builder.Property(source => source.Version).IsRowVersion();
    }
}
