namespace PlainPorch.Core.Schema;

/// <summary>What a value is to the rules of the job: decides how it is checked, shown and typed.</summary>
public enum ValueKind
{
    /// <summary>Characters of any length.</summary>
    Text,

    /// <summary>A whole number of 16 bits.</summary>
    SmallInteger,

    /// <summary>A whole number of 32 bits.</summary>
    Integer,

    /// <summary>A whole number of 64 bits.</summary>
    BigInteger,

    /// <summary>An exact number with a fixed or free number of digits.</summary>
    Decimal,

    /// <summary>A binary floating-point number of 32 bits.</summary>
    Real,

    /// <summary>A binary floating-point number of 64 bits.</summary>
    Double,

    /// <summary>True or false.</summary>
    Boolean,

    /// <summary>A calendar date.</summary>
    Date,

    /// <summary>A time of day without a zone.</summary>
    Time,

    /// <summary>A date and time of day without a zone.</summary>
    DateTime,

    /// <summary>A moment in time (date and time with a zone).</summary>
    Instant,

    /// <summary>How long something takes; only a reading makes one, the database's own <c>interval</c> is of another kind.</summary>
    Duration,

    /// <summary>Several of a list of words, or several texts, none of them twice or in order; only a reading makes one.</summary>
    Several,

    /// <summary>A universally unique identifier.</summary>
    Uuid,

    /// <summary>A JSON document.</summary>
    Json,

    /// <summary>One of a list of labels defined in the database.</summary>
    Enum,

    /// <summary>A one-dimensional array; the kind of its elements is <see cref="ColumnType.Element"/>.</summary>
    Array,

    /// <summary>Bytes: shown as a size, not typed.</summary>
    Binary,

    /// <summary>Any other type; read and written in the database's own text form, and checked by the database.</summary>
    Other,
}
