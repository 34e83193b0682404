namespace PlainPorch.Core.Schema;

/// <summary>A column of a table or view.</summary>
public sealed record Column
{
    /// <summary>The name, exactly as the database spells it.</summary>
    public required string Name { get; init; }

    /// <summary>The type.</summary>
    public required ColumnType Type { get; init; }

    /// <summary>Whether the database takes null.</summary>
    public bool IsNullable { get; init; } = true;

    /// <summary>The default's SQL expression; null where there is none.</summary>
    public string? DefaultSql { get; init; }

    /// <summary>How the database numbers it by itself.</summary>
    public IdentityKind Identity { get; init; }

    /// <summary>Whether the database computes it from other columns.</summary>
    public bool IsGenerated { get; init; }

    /// <summary>The comment in the database; null where there is none.</summary>
    public string? Comment { get; init; }

    /// <summary>Whether nobody can write it: computed by the database, numbered always, or bytes.</summary>
    public bool IsWrittenByDatabaseOnly => IsComputed || Type.Kind == ValueKind.Binary;

    /// <summary>Whether the database alone decides about its values.</summary>
    public bool IsComputed => IsGenerated || Identity == IdentityKind.Always;

    /// <summary>Whether the database fills it in when a new record leaves it out.</summary>
    public bool IsSuppliedByDatabase => IsGenerated || Identity != IdentityKind.None || DefaultSql is not null;
}

/// <summary>How the database numbers an identity column.</summary>
public enum IdentityKind
{
    /// <summary>Not an identity column.</summary>
    None,

    /// <summary>Numbered unless a value is given.</summary>
    ByDefault,

    /// <summary>Always numbered; a given value is refused.</summary>
    Always,
}
