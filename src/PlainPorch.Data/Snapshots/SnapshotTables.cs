using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;

namespace PlainPorch.Data.Snapshots;

/// <summary>The table of the catalog that holds schema snapshots.</summary>
public static class SnapshotTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The schema snapshots.</summary>
        public DbSet<SnapshotRow> Snapshots => catalog.Set<SnapshotRow>();
    }
}

internal sealed class SnapshotConfiguration : IEntityTypeConfiguration<SnapshotRow>
{
    public void Configure(EntityTypeBuilder<SnapshotRow> builder)
    {
        builder.ToTable("snapshot");
        builder.HasIndex(snapshot => new { snapshot.SourceId, snapshot.Id });
        builder.Property(snapshot => snapshot.Content).HasColumnType("jsonb");
        builder.HasOne<SourceRow>().WithMany().HasForeignKey(snapshot => snapshot.SourceId);
    }
}
