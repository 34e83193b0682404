namespace PlainPorch.Core.Schema;

/// <summary>The type of a column, domains resolved to the type that they rest on.</summary>
public sealed record ColumnType
{
    /// <summary>The type as the database writes it, such as <c>numeric(8,2)</c>; of a domain the type that it rests on.</summary>
    public required string StoreType { get; init; }

    /// <summary>The domain's name; null where the column's type is none.</summary>
    public string? Domain { get; init; }

    /// <summary>What a value of it is.</summary>
    public required ValueKind Kind { get; init; }

    /// <summary>What an element of an array is; null for anything but an array.</summary>
    public ValueKind? Element { get; init; }

    /// <summary>The greatest number of characters; null where there is no limit.</summary>
    public int? MaxLength { get; init; }

    /// <summary>The greatest number of digits of a <see cref="ValueKind.Decimal"/>; null where there is no limit.</summary>
    public int? Precision { get; init; }

    /// <summary>The digits after the point of a <see cref="ValueKind.Decimal"/>; null where there is no limit.</summary>
    public int? Scale { get; init; }

    /// <summary>
    /// The labels of an <see cref="ValueKind.Enum"/>, or of the elements of an array or of <see cref="ValueKind.Several"/>, in their
    /// order; else empty.
    /// </summary>
    public IReadOnlyList<string> EnumValues { get; init; } = [];

    /// <summary>Whether values are whole numbers.</summary>
    public bool IsInteger => Kind is ValueKind.SmallInteger or ValueKind.Integer or ValueKind.BigInteger;

    /// <summary>Whether values are numbers of any sort.</summary>
    public bool IsNumber => IsInteger || Kind is ValueKind.Decimal or ValueKind.Real or ValueKind.Double;

    /// <summary>Whether the database can put values in an order that means something to a person.</summary>
    public bool IsOrderable =>
        Kind is not (ValueKind.Json or ValueKind.Binary or ValueKind.Array or ValueKind.Several or ValueKind.Other)
        || StoreType is "interval" or "inet" or "cidr" or "macaddr" or "money" or "name" or "\"char\"";
}
