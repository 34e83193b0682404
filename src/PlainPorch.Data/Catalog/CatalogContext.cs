using Microsoft.EntityFrameworkCore;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Duplicates;
using PlainPorch.Data.History;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.Catalog;

/// <summary>Our own tables, in the schema <c>porch</c> of the catalog's database.</summary>
/// <param name="options">The context's options.</param>
public sealed class CatalogContext(DbContextOptions<CatalogContext> options) : DbContext(options)
{
    /// <summary>The database schema of all our tables.</summary>
    public const string SchemaName = "porch";

    /// <summary>The connected databases.</summary>
    public DbSet<SourceRow> Sources => Set<SourceRow>();

    /// <summary>The schema snapshots.</summary>
    public DbSet<SnapshotRow> Snapshots => Set<SnapshotRow>();

    /// <summary>The porches.</summary>
    public DbSet<PorchRow> Porches => Set<PorchRow>();

    /// <summary>The panels' drafts.</summary>
    public DbSet<PanelRow> Panels => Set<PanelRow>();

    /// <summary>The surveys of sources.</summary>
    public DbSet<SurveyRow> Surveys => Set<SurveyRow>();

    /// <summary>What developers decided about findings.</summary>
    public DbSet<DecisionRow> Decisions => Set<DecisionRow>();

    /// <summary>The word lists of sources.</summary>
    public DbSet<WordRow> Words => Set<WordRow>();

    /// <summary>The lists that were kept under a name.</summary>
    public DbSet<KeptViewRow> KeptViews => Set<KeptViewRow>();

    /// <summary>What was set aside.</summary>
    public DbSet<ParcelRow> Parcels => Set<ParcelRow>();

    /// <summary>The tables that parcels hold rows of.</summary>
    public DbSet<ParcelPartRow> ParcelParts => Set<ParcelPartRow>();

    /// <summary>The rows in parcels.</summary>
    public DbSet<ParcelRecordRow> ParcelRecords => Set<ParcelRecordRow>();

    /// <summary>The logbook's entries.</summary>
    public DbSet<LogEntryRow> LogEntries => Set<LogEntryRow>();

    /// <summary>What the logbook says of each record.</summary>
    public DbSet<LogRecordRow> LogRecords => Set<LogRecordRow>();

    /// <summary>Whether what the logbook tells came to pass.</summary>
    public DbSet<LogOutcomeRow> LogOutcomes => Set<LogOutcomeRow>();

    /// <summary>Rows by which it can be seen whether an act came to pass.</summary>
    public DbSet<ActWitnessRow> ActWitnesses => Set<ActWitnessRow>();

    /// <summary>Requests that bore a key of their own, with their answers.</summary>
    public DbSet<KeptAnswerRow> KeptAnswers => Set<KeptAnswerRow>();

    /// <summary>Pairs of records that somebody has said are not the same.</summary>
    public DbSet<DistinctPairRow> DistinctPairs => Set<DistinctPairRow>();

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        ArgumentNullException.ThrowIfNull(modelBuilder);
        modelBuilder.HasDefaultSchema(SchemaName);
        modelBuilder.ApplyConfigurationsFromAssembly(typeof(CatalogContext).Assembly);
    }
}
