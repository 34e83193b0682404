using System.Text.Json.Serialization;

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

    /// <summary>The expression by which a panel computes it; null for a column that the table has.</summary>
    [JsonIgnore]
    public IColumnExpression? Expression { get; init; }

    /// <summary>Whether the table has it.</summary>
    [JsonIgnore]
    public bool IsStored => Expression is null;

    /// <summary>Whether nobody can write it: computed, numbered always, or bytes.</summary>
    public bool IsWrittenByDatabaseOnly => IsComputed || Type.Kind == ValueKind.Binary;

    /// <summary>Whether the database alone decides about its values, or a panel computes them.</summary>
    public bool IsComputed => IsGenerated || Identity == IdentityKind.Always || Expression is not null;

    /// <summary>Whether the database fills it in when a new record leaves it out.</summary>
    public bool IsSuppliedByDatabase => IsGenerated || Identity != IdentityKind.None || DefaultSql is not null;
}

/// <summary>An expression by which a panel computes a column.</summary>
public interface IColumnExpression
{
    /// <summary>The columns of the table that it asks for, by their exact names.</summary>
    IEnumerable<string> AskedColumns();
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
