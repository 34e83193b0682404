using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;

namespace PlainPorch.Data.Acts;

/// <summary>Rows by which it can be seen whether an act came to pass; kept until that is certain.</summary>
public sealed class ActWitnessRow
{
    /// <summary>The logbook's entry of the act.</summary>
    public long EntryId { get; set; }

    /// <summary>The <see cref="Core.Acts.RowWitness"/>es as JSON.</summary>
    public required string Content { get; set; }
}

/// <summary>A request that bore a key of its own, with what it led to, so that a repeat is answered as the first was.</summary>
public sealed class KeptAnswerRow
{
    /// <summary>The key that whoever asks made up (Idempotency-Key).</summary>
    public required string Key { get; set; }

    /// <summary>A hash of what was asked for.</summary>
    public required string Fingerprint { get; set; }

    /// <summary>The logbook's entry of what was done; null as long as nothing is.</summary>
    public long? EntryId { get; set; }

    /// <summary>The answer as JSON, which holds once the entry has come to pass; null as long as nothing is done.</summary>
    public string? Result { get; set; }

    /// <summary>When the request came.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>How many records are done so far; null where that is not told.</summary>
    public int? Done { get; set; }
}

internal sealed class ActWitnessConfiguration : IEntityTypeConfiguration<ActWitnessRow>
{
    public void Configure(EntityTypeBuilder<ActWitnessRow> builder)
    {
        builder.ToTable("act_witness");
        builder.HasKey(witness => witness.EntryId);
        builder.Property(witness => witness.EntryId).ValueGeneratedNever();
        builder.Property(witness => witness.Content).HasColumnType("jsonb");
        builder
            .HasOne<LogEntryRow>()
            .WithOne()
            .HasForeignKey<ActWitnessRow>(witness => witness.EntryId)
            .OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class KeptAnswerConfiguration : IEntityTypeConfiguration<KeptAnswerRow>
{
    public void Configure(EntityTypeBuilder<KeptAnswerRow> builder)
    {
        builder.ToTable("kept_answer");
        builder.HasKey(answer => answer.Key);
        builder.Property(answer => answer.Key).HasMaxLength(Repeats.MostCharacters);
        builder.Property(answer => answer.Result).HasColumnType("jsonb");
        builder.HasIndex(answer => answer.At);
    }
}

/// <summary>The tables of the catalog by which acts are settled and repeated requests answered.</summary>
public static class ActTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>Rows by which it can be seen whether an act came to pass.</summary>
        public DbSet<ActWitnessRow> ActWitnesses => catalog.Set<ActWitnessRow>();

        /// <summary>Requests that bore a key of their own, with their answers.</summary>
        public DbSet<KeptAnswerRow> KeptAnswers => catalog.Set<KeptAnswerRow>();
    }
}
