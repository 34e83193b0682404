namespace PlainPorch.Core.Schema;

/// <summary>What kind of relation a <see cref="Table"/> is.</summary>
public enum TableKind
{
    /// <summary>An ordinary table.</summary>
    Table,

    /// <summary>A partitioned table; its partitions are not listed by themselves.</summary>
    PartitionedTable,

    /// <summary>A table that lives in another server.</summary>
    ForeignTable,

    /// <summary>A view.</summary>
    View,

    /// <summary>A materialized view.</summary>
    MaterializedView,
}
