using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Schema;

/// <summary>The types of a database; resolves a column's type to what it rests on.</summary>
/// <param name="types">The types by object identifier.</param>
internal sealed class TypeCatalog(IReadOnlyDictionary<uint, DatabaseType> types)
{
    // Length and precision modifiers count from here (PostgreSQL's VARHDRSZ).
    private const int ModifierBase = 4;

    /// <summary>Whether the type, being a domain, takes no null.</summary>
    public bool ForbidsNull(uint oid) =>
        types.TryGetValue(oid, out var type) && type.IsDomain && (type.NotNull || ForbidsNull(type.BaseType));

    /// <summary>Resolves a type.</summary>
    public ColumnType Resolve(uint oid, int modifier)
    {
        if (!types.TryGetValue(oid, out var type))
            return new ColumnType { StoreType = "unknown", Kind = ValueKind.Other };
        if (type.IsDomain)
        {
            var inner = Resolve(type.BaseType, type.BaseModifier);
            return inner with { Domain = inner.Domain is null ? type.QualifiedName : $"{type.QualifiedName} ({inner.Domain})" };
        }

        return type.IsArray ? ResolveArray(type, modifier) : ResolveScalar(type, modifier);
    }

    private ColumnType ResolveArray(DatabaseType type, int modifier)
    {
        var element = Resolve(type.Element, modifier);
        return element with { StoreType = element.StoreType + "[]", Kind = ValueKind.Array, Element = element.Kind };
    }

    private static ColumnType ResolveScalar(DatabaseType type, int modifier)
    {
        if (type.EnumLabels is { } labels)
            return new ColumnType
            {
                StoreType = type.QualifiedName,
                Kind = ValueKind.Enum,
                EnumValues = labels,
            };
        if (type.Schema != "pg_catalog")
            return new ColumnType
            {
                StoreType = type.QualifiedName,
                Kind = type.Name == "citext" ? ValueKind.Text : ValueKind.Other,
            };
        return type.Name switch
        {
            "text" => Of("text", ValueKind.Text),
            "varchar" => WithLength("character varying", modifier),
            "bpchar" => WithLength("character", modifier),
            "int2" => Of("smallint", ValueKind.SmallInteger),
            "int4" => Of("integer", ValueKind.Integer),
            "int8" => Of("bigint", ValueKind.BigInteger),
            "numeric" => Numeric(modifier),
            "float4" => Of("real", ValueKind.Real),
            "float8" => Of("double precision", ValueKind.Double),
            "bool" => Of("boolean", ValueKind.Boolean),
            "date" => Of("date", ValueKind.Date),
            "time" => Of("time without time zone", ValueKind.Time),
            "timestamp" => Of("timestamp without time zone", ValueKind.DateTime),
            "timestamptz" => Of("timestamp with time zone", ValueKind.Instant),
            "uuid" => Of("uuid", ValueKind.Uuid),
            "json" => Of("json", ValueKind.Json),
            "jsonb" => Of("jsonb", ValueKind.Json),
            "bytea" => Of("bytea", ValueKind.Binary),
            "char" => Of("\"char\"", ValueKind.Other),
            _ => Of(type.Name, ValueKind.Other),
        };
    }

    private static ColumnType Of(string storeType, ValueKind kind) => new() { StoreType = storeType, Kind = kind };

    private static ColumnType WithLength(string name, int modifier)
    {
        var length = modifier >= ModifierBase ? modifier - ModifierBase : (int?)null;
        return new ColumnType
        {
            StoreType = length is null ? name : $"{name}({length})",
            Kind = ValueKind.Text,
            MaxLength = length,
        };
    }

    // Precision sits in the upper half of the modifier, scale in its lower eleven bits, two's complement.
    private static ColumnType Numeric(int modifier)
    {
        if (modifier < ModifierBase)
            return Of("numeric", ValueKind.Decimal);
        var packed = modifier - ModifierBase;
        var precision = (packed >> 16) & 0xffff;
        var scale = ((packed & 0x7ff) ^ 0x400) - 0x400;
        return new ColumnType
        {
            StoreType = $"numeric({precision},{scale})",
            Kind = ValueKind.Decimal,
            Precision = precision,
            Scale = scale,
        };
    }
}

/// <summary>A row of PostgreSQL's catalog of types.</summary>
internal sealed record DatabaseType(
    string Schema,
    string Name,
    bool IsDomain,
    uint BaseType,
    int BaseModifier,
    uint Element,
    bool IsArray,
    bool NotNull,
    IReadOnlyList<string>? EnumLabels
)
{
    public string QualifiedName => Schema is "pg_catalog" or "public" ? Name : $"{Schema}.{Name}";
}
