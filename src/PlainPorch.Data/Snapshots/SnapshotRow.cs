namespace PlainPorch.Data.Snapshots;

/// <summary>A schema snapshot, as the catalog keeps it. Never changed once written.</summary>
public sealed class SnapshotRow
{
    /// <summary>The catalog's number of it; a later one is greater.</summary>
    public int Id { get; set; }

    /// <summary>The source that was read.</summary>
    public int SourceId { get; set; }

    /// <summary>When it was read.</summary>
    public DateTimeOffset TakenAt { get; set; }

    /// <summary>The <see cref="Core.Schema.SchemaSnapshot"/> as JSON.</summary>
    public required string Content { get; set; }
}
