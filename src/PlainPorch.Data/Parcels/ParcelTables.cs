using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Parcels;

/// <summary>The tables of the catalog that hold what was set aside out of its table.</summary>
public static class ParcelTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>What was set aside.</summary>
        public DbSet<ParcelRow> Parcels => catalog.Set<ParcelRow>();

        /// <summary>The tables that parcels hold rows of.</summary>
        public DbSet<ParcelPartRow> ParcelParts => catalog.Set<ParcelPartRow>();

        /// <summary>The rows in parcels.</summary>
        public DbSet<ParcelRecordRow> ParcelRecords => catalog.Set<ParcelRecordRow>();
    }
}

// Nothing here refers to sources, porches or panels by a key: what was done and what is kept outlives them.
internal sealed class ParcelConfiguration : IEntityTypeConfiguration<ParcelRow>
{
    public void Configure(EntityTypeBuilder<ParcelRow> builder)
    {
        builder.ToTable("parcel");
        builder.HasIndex(parcel => new
        {
            parcel.PorchId,
            parcel.Panel,
            parcel.Id,
        });
        builder.HasIndex(parcel => parcel.EraseAt).HasFilter("\"EraseAt\" IS NOT NULL");
        builder.HasIndex(parcel => parcel.State).HasFilter("\"State\" <> 'Kept'");
        builder.Property(parcel => parcel.State).HasConversion<string>().HasMaxLength(20);
    }
}

internal sealed class ParcelPartConfiguration : IEntityTypeConfiguration<ParcelPartRow>
{
    public void Configure(EntityTypeBuilder<ParcelPartRow> builder)
    {
        builder.ToTable("parcel_part");
        builder.HasKey(part => new { part.ParcelId, part.Place });
        builder.Property(part => part.Act).HasConversion<string>().HasMaxLength(20);
        builder.Property(part => part.Columns).HasColumnType("text[]");
        builder.Property(part => part.Identity).HasColumnType("text[]");
        builder.HasOne<ParcelRow>().WithMany().HasForeignKey(part => part.ParcelId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class ParcelRecordConfiguration : IEntityTypeConfiguration<ParcelRecordRow>
{
    public void Configure(EntityTypeBuilder<ParcelRecordRow> builder)
    {
        builder.ToTable("parcel_record");
        builder.HasKey(record => new
        {
            record.ParcelId,
            record.Place,
            record.Number,
        });
        builder.HasIndex(record => new { record.SourceId, record.Key });
        builder.Property(record => record.Values).HasColumnType("text[]");
        builder.Property(record => record.FoundAt).HasColumnType("text[]");
        builder.HasIndex(record => record.ReturnedAt).HasFilter("\"ReturnedAt\" IS NOT NULL");
        builder
            .HasOne<ParcelPartRow>()
            .WithMany()
            .HasForeignKey(record => new { record.ParcelId, record.Place })
            .OnDelete(DeleteBehavior.Cascade);
    }
}
