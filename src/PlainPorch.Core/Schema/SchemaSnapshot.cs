namespace PlainPorch.Core.Schema;

/// <summary>What a database holds (tables, views, columns, keys, references), as read at a moment.</summary>
public sealed record SchemaSnapshot
{
    /// <summary>When it was read.</summary>
    public required DateTimeOffset TakenAt { get; init; }

    /// <summary>The server's version, such as <c>15.18</c>.</summary>
    public required string ServerVersion { get; init; }

    /// <summary>Tables and views, by schema and name.</summary>
    public required IReadOnlyList<Table> Tables { get; init; }

    /// <summary>Finds a table by its exact name.</summary>
    /// <returns>The table, or null where there is none of that name.</returns>
    public Table? Find(TableName name) => Tables.FirstOrDefault(t => t.Name == name);

    /// <summary>The declared references of all tables that point at a table.</summary>
    public IEnumerable<(Table Table, ForeignKey Reference)> ReferencesTo(TableName name) =>
        from table in Tables
        from reference in table.ForeignKeys
        where reference.ReferredTable == name
        select (table, reference);
}
