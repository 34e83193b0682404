using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;

namespace PlainPorch.Data.Survey;

/// <summary>The tables of the catalog that hold what surveys found and what developers decided about it.</summary>
public static class SurveyTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The surveys of sources.</summary>
        public DbSet<SurveyRow> Surveys => catalog.Set<SurveyRow>();

        /// <summary>What developers decided about findings.</summary>
        public DbSet<DecisionRow> Decisions => catalog.Set<DecisionRow>();

        /// <summary>The word lists of sources.</summary>
        public DbSet<WordRow> Words => catalog.Set<WordRow>();
    }
}

internal sealed class SurveyConfiguration : IEntityTypeConfiguration<SurveyRow>
{
    public void Configure(EntityTypeBuilder<SurveyRow> builder)
    {
        builder.ToTable("survey");
        builder.HasIndex(survey => new { survey.SourceId, survey.Id });
        // One survey at a time asks enough of a source, however many instances there are.
        builder
            .HasIndex(survey => survey.SourceId)
            .IsUnique()
            .HasFilter("\"State\" = 'Running'")
            .HasDatabaseName("IX_survey_running");
        builder.Property(survey => survey.State).HasConversion<string>().HasMaxLength(20);
        builder.Property(survey => survey.Content).HasColumnType("jsonb");
        builder.HasOne<SourceRow>().WithMany().HasForeignKey(survey => survey.SourceId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class DecisionConfiguration : IEntityTypeConfiguration<DecisionRow>
{
    public void Configure(EntityTypeBuilder<DecisionRow> builder)
    {
        builder.ToTable("finding_decision");
        builder.HasIndex(decision => new { decision.SourceId, decision.Subject }).IsUnique();
        builder.Property(decision => decision.Content).HasColumnType("jsonb");
        builder.HasOne<SourceRow>().WithMany().HasForeignKey(decision => decision.SourceId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class WordConfiguration : IEntityTypeConfiguration<WordRow>
{
    public void Configure(EntityTypeBuilder<WordRow> builder)
    {
        builder.ToTable("source_word");
        builder.HasKey(word => new { word.SourceId, word.Word });
        builder.Property(word => word.Word).HasMaxLength(CatalogLimits.Name);
        builder.Property(word => word.Means).HasMaxLength(CatalogLimits.Name);
        builder.HasOne<SourceRow>().WithMany().HasForeignKey(word => word.SourceId).OnDelete(DeleteBehavior.Cascade);
    }
}
