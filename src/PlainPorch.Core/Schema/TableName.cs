namespace PlainPorch.Core.Schema;

/// <summary>The name of a table or view, exactly as the database spells it.</summary>
/// <param name="Schema">The schema's name, unquoted.</param>
/// <param name="Name">The table's name, unquoted.</param>
public sealed record TableName(string Schema, string Name)
{
    /// <summary>The name as a person reads it: <c>schema.name</c>, without quoting. Never put into SQL.</summary>
    public override string ToString() => $"{Schema}.{Name}";
}
