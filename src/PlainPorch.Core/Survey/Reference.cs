using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>A reference between tables, declared or found.</summary>
public sealed record Reference
{
    /// <summary>The referring table.</summary>
    public required TableName Table { get; init; }

    /// <summary>The referring columns.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>The table referred to.</summary>
    public required TableName Target { get; init; }

    /// <summary>The columns referred to, in the order of <see cref="Columns"/>.</summary>
    public required IReadOnlyList<string> TargetColumns { get; init; }

    /// <summary>How sure it is, from 0 to 1; 1 for a declared one. From 0.5 on it is taken for true.</summary>
    public required double Confidence { get; init; }

    /// <summary>Whether the database declares it.</summary>
    public bool IsDeclared { get; init; }

    /// <summary>How a referring value has to be changed to be found.</summary>
    public ValueConversion Conversion { get; init; }

    /// <summary>Where the target holds several lists, which of them is meant; null where it holds one.</summary>
    public Discriminator? Where { get; init; }

    /// <summary>What speaks for it, for people.</summary>
    public required string Evidence { get; init; }

    /// <summary>What the names say, from 0 to 1.</summary>
    public double NameScore { get; init; }

    /// <summary>Whether its name has the whole name of the table referred to.</summary>
    internal bool NamesTheTable { get; init; }

    /// <summary>How many different referring values were compared.</summary>
    public int Compared { get; init; }

    /// <summary>The share of the compared values that the target has; null where nothing could be compared.</summary>
    public double? Coverage { get; init; }

    /// <summary>Referring rows whose value the target has; null where they were not counted.</summary>
    public long? Matched { get; init; }

    /// <summary>Referring rows whose value the target lacks; null where they were not counted.</summary>
    public long? Unmatched { get; init; }

    /// <summary>Some values that the target lacks.</summary>
    public IReadOnlyList<string> UnmatchedExamples { get; init; } = [];

    /// <summary>The question that counted, for a developer to read and run; null where nothing was counted.</summary>
    public string? Sql { get; init; }

    /// <summary>The reference that a declared foreign key makes.</summary>
    public static Reference Declared(Table table, ForeignKey key)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(key);
        return new Reference
        {
            Table = table.Name,
            Columns = key.Columns,
            Target = key.ReferredTable,
            TargetColumns = key.ReferredColumns,
            Confidence = 1,
            IsDeclared = true,
            Evidence = "declared in the database",
        };
    }
}
