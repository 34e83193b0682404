using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What types and defaults of columns say about whether one can refer to the other.</summary>
internal static class ReferenceTypes
{
    /// <summary>How a value of a column would have to be changed to be found in a key; null where their types do not go together.</summary>
    public static ValueConversion? Fit(Column column, Column key, ColumnValues values)
    {
        if (IsWhole(column.Type) && IsWhole(key.Type))
            return ValueConversion.None;
        if (column.Type.Kind == key.Type.Kind && column.Type.Kind is ValueKind.Text or ValueKind.Uuid or ValueKind.Binary)
            return ValueConversion.None;
        return column.Type.Kind is ValueKind.Text && IsWhole(key.Type) && values.AreDigits ? ValueConversion.TextToInteger : null;
    }

    /// <summary>Whether values of a type are whole numbers, or can be.</summary>
    public static bool IsWhole(ColumnType type) => type.IsInteger || type is { Kind: ValueKind.Decimal, Scale: null or 0 };

    /// <summary>Whether the database numbers a column by a sequence of its own.</summary>
    public static bool IsNumbered(Column column) =>
        column.Identity is not IdentityKind.None
        || (column.DefaultSql is { } sql && sql.Contains("nextval", StringComparison.Ordinal));

    /// <summary>Whether one sequence numbers a column and the key of another table.</summary>
    public static bool IsNumberedBySame(Table table, Column column, KeyValues key) =>
        column.DefaultSql is { } sql
        && sql.Contains("nextval", StringComparison.Ordinal)
        && sql == key.Column.DefaultSql
        && table.Name != key.Table.Name;

    /// <summary>
    /// Whether both are texts of different declared length: whoever lets a text refer to another gives both the same.
    /// </summary>
    public static bool AreTextsOfTwoLengths(Column column, Column key) =>
        column.Type.Kind is ValueKind.Text && key.Type.Kind is ValueKind.Text && column.Type.MaxLength != key.Type.MaxLength;
}
