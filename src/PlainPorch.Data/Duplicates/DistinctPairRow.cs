using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Duplicates;

/// <summary>Two records that look alike, of which somebody has said that they are not the same.</summary>
public sealed class DistinctPairRow
{
    /// <summary>The source.</summary>
    public int SourceId { get; set; }

    /// <summary>The table's schema.</summary>
    public required string Schema { get; set; }

    /// <summary>The table's name.</summary>
    public required string Table { get; set; }

    /// <summary>The key of the one that comes first in the order of texts.</summary>
    public required string FirstKey { get; set; }

    /// <summary>The key of the other.</summary>
    public required string SecondKey { get; set; }

    /// <summary>Who said so.</summary>
    public required string Who { get; set; }

    /// <summary>When.</summary>
    public DateTimeOffset At { get; set; }
}

internal sealed class DistinctPairConfiguration : IEntityTypeConfiguration<DistinctPairRow>
{
    public void Configure(EntityTypeBuilder<DistinctPairRow> builder)
    {
        builder.ToTable("distinct_pair");
        builder.HasKey(pair => new
        {
            pair.SourceId,
            pair.Schema,
            pair.Table,
            pair.FirstKey,
            pair.SecondKey,
        });
    }
}

/// <summary>The table of the catalog that holds who was said to be two.</summary>
public static class DuplicateTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>Pairs of records that somebody has said are not the same.</summary>
        public DbSet<DistinctPairRow> DistinctPairs => catalog.Set<DistinctPairRow>();
    }
}
