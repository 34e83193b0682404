using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Uploads;

/// <summary>The table of the catalog that holds files which wait to be saved.</summary>
public static class UploadTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The files.</summary>
        public DbSet<UploadRow> Uploads => catalog.Set<UploadRow>();
    }
}

internal sealed class UploadConfiguration : IEntityTypeConfiguration<UploadRow>
{
    public void Configure(EntityTypeBuilder<UploadRow> builder)
    {
        builder.ToTable("upload");
        builder.Property(upload => upload.Id).ValueGeneratedNever();
        builder.HasIndex(upload => upload.At);
        builder.HasOne<PanelRow>().WithMany().HasForeignKey(upload => upload.PanelId).OnDelete(DeleteBehavior.Cascade);
    }
}
