using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace PlainPorch.Data.Catalog;

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

internal sealed class PorchConfiguration : IEntityTypeConfiguration<PorchRow>
{
    public void Configure(EntityTypeBuilder<PorchRow> builder)
    {
        builder.ToTable("porch");
        builder.HasIndex(porch => porch.Slug).IsUnique();
        builder.Property(porch => porch.Slug).HasMaxLength(CatalogLimits.Slug);
        builder.Property(porch => porch.Name).HasMaxLength(CatalogLimits.Name);
        builder.HasOne<SourceRow>().WithMany().HasForeignKey(porch => porch.SourceId);
    }
}

internal sealed class PanelConfiguration : IEntityTypeConfiguration<PanelRow>
{
    public void Configure(EntityTypeBuilder<PanelRow> builder)
    {
        builder.ToTable("panel");
        builder.HasIndex(panel => new { panel.PorchId, panel.Slug }).IsUnique();
        builder.Property(panel => panel.Slug).HasMaxLength(CatalogLimits.Slug);
        builder.Property(panel => panel.Content).HasColumnType("jsonb");
        builder.Property(panel => panel.Version).IsRowVersion();
        builder.HasOne<PorchRow>().WithMany().HasForeignKey(panel => panel.PorchId);
    }
}

/// <summary>Lengths that the catalog's columns hold.</summary>
public static class CatalogLimits
{
    /// <summary>Characters of a name given by a developer.</summary>
    public const int Name = 100;

    /// <summary>Characters of a slug, with room for the number of a namesake.</summary>
    public const int Slug = 80;
}
