using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;

namespace PlainPorch.Data.Panels;

/// <summary>The tables of the catalog that hold porches and panels.</summary>
public static class PanelTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The porches.</summary>
        public DbSet<PorchRow> Porches => catalog.Set<PorchRow>();

        /// <summary>The panels' drafts.</summary>
        public DbSet<PanelRow> Panels => catalog.Set<PanelRow>();
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
        builder
            .Property(porch => porch.Dates)
            .HasConversion<string>()
            .HasMaxLength(20)
            .HasDefaultValue(Core.Values.DateOrder.DayMonthYear);
        builder
            .Property(porch => porch.Numbers)
            .HasConversion<string>()
            .HasMaxLength(20)
            .HasDefaultValue(Core.Values.NumberMarks.CommaPoint);
        builder.Property(porch => porch.Roles).HasColumnType("jsonb").HasDefaultValue("[]");
        builder.Property(porch => porch.Version).IsRowVersion();
        builder.Ignore(porch => porch.Notation);
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
        builder.Property(panel => panel.Drafted).HasColumnType("jsonb");
        builder.Property(panel => panel.Version).IsRowVersion();
        builder.HasOne<PorchRow>().WithMany().HasForeignKey(panel => panel.PorchId);
    }
}
