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
        builder.Property(porch => porch.Dates).HasConversion<string>().HasMaxLength(20).HasDefaultValue(Core.Values.DateOrder.DayMonthYear);
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

internal sealed class KeptViewConfiguration : IEntityTypeConfiguration<KeptViewRow>
{
    public void Configure(EntityTypeBuilder<KeptViewRow> builder)
    {
        builder.ToTable("kept_view");
        builder.HasIndex(view => new { view.PanelId, view.Owner, view.Name }).IsUnique();
        builder.HasIndex(view => view.PanelId).IsUnique().HasFilter("\"IsStart\"").HasDatabaseName("IX_kept_view_start");
        builder.Property(view => view.Owner).HasMaxLength(CatalogLimits.Name);
        builder.Property(view => view.Name).HasMaxLength(CatalogLimits.Name);
        builder.Property(view => view.Content).HasColumnType("jsonb");
        builder.HasOne<PanelRow>().WithMany().HasForeignKey(view => view.PanelId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class SurveyConfiguration : IEntityTypeConfiguration<SurveyRow>
{
    public void Configure(EntityTypeBuilder<SurveyRow> builder)
    {
        builder.ToTable("survey");
        builder.HasIndex(survey => new { survey.SourceId, survey.Id });
        // One survey at a time asks enough of a source, however many instances there are.
        builder.HasIndex(survey => survey.SourceId).IsUnique().HasFilter("\"State\" = 'Running'").HasDatabaseName("IX_survey_running");
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

/// <summary>Lengths that the catalog's columns hold.</summary>
public static class CatalogLimits
{
    /// <summary>Characters of a name given by a developer.</summary>
    public const int Name = 100;

    /// <summary>Characters of a slug, with room for the number of a namesake.</summary>
    public const int Slug = 80;
}
