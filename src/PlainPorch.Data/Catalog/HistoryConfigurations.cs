using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.History;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.Catalog;

// Nothing here refers to sources, porches or panels by a key: what was done and what is kept outlives them.
internal sealed class ParcelConfiguration : IEntityTypeConfiguration<ParcelRow>
{
    public void Configure(EntityTypeBuilder<ParcelRow> builder)
    {
        builder.ToTable("parcel");
        builder.HasIndex(parcel => new { parcel.PorchId, parcel.Panel, parcel.Id });
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
        builder.HasKey(record => new { record.ParcelId, record.Place, record.Number });
        builder.HasIndex(record => new { record.SourceId, record.Key });
        builder.Property(record => record.Values).HasColumnType("text[]");
        builder.Property(record => record.FoundAt).HasColumnType("text[]");
        builder.HasIndex(record => record.ReturnedAt).HasFilter("\"ReturnedAt\" IS NOT NULL");
        builder.HasOne<ParcelPartRow>().WithMany().HasForeignKey(record => new { record.ParcelId, record.Place }).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class LogEntryConfiguration : IEntityTypeConfiguration<LogEntryRow>
{
    public void Configure(EntityTypeBuilder<LogEntryRow> builder)
    {
        builder.ToTable("log_entry");
        builder.HasIndex(entry => new { entry.PorchId, entry.Id });
        builder.HasIndex(entry => entry.ParcelId).HasFilter("\"ParcelId\" IS NOT NULL");
        builder.Property(entry => entry.Act).HasConversion<string>().HasMaxLength(20);
    }
}

internal sealed class LogRecordConfiguration : IEntityTypeConfiguration<LogRecordRow>
{
    public void Configure(EntityTypeBuilder<LogRecordRow> builder)
    {
        builder.ToTable("log_record");
        builder.HasKey(record => new { record.EntryId, record.Number });
        builder.HasIndex(record => new { record.SourceId, record.Schema, record.Table, record.Key, record.EntryId });
        builder.Property(record => record.Act).HasConversion<string>().HasMaxLength(20);
        builder.Property(record => record.Changes).HasColumnType("jsonb");
        builder.HasOne<LogEntryRow>().WithMany().HasForeignKey(record => record.EntryId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class LogOutcomeConfiguration : IEntityTypeConfiguration<LogOutcomeRow>
{
    public void Configure(EntityTypeBuilder<LogOutcomeRow> builder)
    {
        builder.ToTable("log_outcome");
        builder.HasKey(outcome => outcome.EntryId);
        builder.Property(outcome => outcome.EntryId).ValueGeneratedNever();
        builder.HasOne<LogEntryRow>().WithOne().HasForeignKey<LogOutcomeRow>(outcome => outcome.EntryId).OnDelete(DeleteBehavior.Restrict);
    }
}
