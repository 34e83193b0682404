using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.History;

/// <summary>The tables of the catalog that hold the logbook.</summary>
public static class LogTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The logbook's entries.</summary>
        public DbSet<LogEntryRow> LogEntries => catalog.Set<LogEntryRow>();

        /// <summary>What the logbook says of each record.</summary>
        public DbSet<LogRecordRow> LogRecords => catalog.Set<LogRecordRow>();

        /// <summary>Whether what the logbook tells came to pass.</summary>
        public DbSet<LogOutcomeRow> LogOutcomes => catalog.Set<LogOutcomeRow>();
    }
}

// Nothing here refers to sources, porches or panels by a key: what was done and what is kept outlives them.
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
        builder.HasIndex(record => new
        {
            record.SourceId,
            record.Schema,
            record.Table,
            record.Key,
            record.EntryId,
        });
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
        builder
            .HasOne<LogEntryRow>()
            .WithOne()
            .HasForeignKey<LogOutcomeRow>(outcome => outcome.EntryId)
            .OnDelete(DeleteBehavior.Restrict);
    }
}
