using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.SavedLists;

/// <summary>The table of the catalog that holds saved lists.</summary>
public static class SavedListTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The lists that were kept under a name.</summary>
        public DbSet<KeptViewRow> KeptViews => catalog.Set<KeptViewRow>();
    }
}

internal sealed class KeptViewConfiguration : IEntityTypeConfiguration<KeptViewRow>
{
    public void Configure(EntityTypeBuilder<KeptViewRow> builder)
    {
        builder.ToTable("kept_view");
        builder
            .HasIndex(view => new
            {
                view.PanelId,
                view.Owner,
                view.Name,
            })
            .IsUnique();
        builder.HasIndex(view => view.PanelId).IsUnique().HasFilter("\"IsStart\"").HasDatabaseName("IX_kept_view_start");
        builder.Property(view => view.Owner).HasMaxLength(CatalogLimits.Name);
        builder.Property(view => view.Name).HasMaxLength(CatalogLimits.Name);
        builder.Property(view => view.Content).HasColumnType("jsonb");
        builder.HasOne<PanelRow>().WithMany().HasForeignKey(view => view.PanelId).OnDelete(DeleteBehavior.Cascade);
    }
}
