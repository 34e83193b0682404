using Npgsql;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Removal;

/// <summary>
/// What happens to rows that a database's own triggers and rules may act on; the bits of <c>pg_trigger.tgtype</c>.
/// </summary>
[Flags]
internal enum RowEvent
{
    /// <summary>Rows come.</summary>
    Insert = 4,

    /// <summary>Rows go.</summary>
    Delete = 8,

    /// <summary>Rows are changed.</summary>
    Update = 16,
}

/// <summary>A trigger or rule of the database that acts when rows come, go or change.</summary>
/// <param name="Table">The table.</param>
/// <param name="Name">Its name.</param>
/// <param name="Function">What a trigger calls; empty for a rule.</param>
public sealed record TableTrigger(TableName Table, string Name, string Function);

/// <summary>Finds what a database does by itself when rows are written.</summary>
/// <param name="connection">An open connection to the source.</param>
internal sealed class TableTriggers(NpgsqlConnection connection)
{
    private const string Question = """
        SELECT t.tgname::text, p.proname::text FROM pg_catalog.pg_trigger t
        JOIN pg_catalog.pg_class c ON c.oid = t.tgrelid JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace JOIN pg_catalog.pg_proc p ON p.oid = t.tgfoid
        WHERE n.nspname = $1 AND c.relname = $2 AND NOT t.tgisinternal AND t.tgenabled <> 'D' AND t.tgtype & $3 <> 0
        UNION ALL
        SELECT r.rulename::text, '' FROM pg_catalog.pg_rewrite r
        JOIN pg_catalog.pg_class c ON c.oid = r.ev_class JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace
        WHERE n.nspname = $1 AND c.relname = $2 AND r.ev_enabled <> 'D'
            AND CASE r.ev_type WHEN '2' THEN 16 WHEN '3' THEN 4 WHEN '4' THEN 8 ELSE 0 END & $3 <> 0
        ORDER BY 1
        """;

    /// <summary>Finds the triggers and rules of tables.</summary>
    /// <param name="tables">The tables, each with what happens to its rows.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<IReadOnlyList<TableTrigger>> FindAsync(
        IEnumerable<(TableName Table, RowEvent Event)> tables,
        CancellationToken cancellationToken
    )
    {
        var triggers = new List<TableTrigger>();
        foreach (var (table, happening) in tables.Distinct())
        {
            await using var command = new NpgsqlCommand(Question, connection)
            {
                Parameters =
                {
                    new NpgsqlParameter<string> { TypedValue = table.Schema },
                    new NpgsqlParameter<string> { TypedValue = table.Name },
                    new NpgsqlParameter<int> { TypedValue = (int)happening },
                },
            };
            await using var reader = await command.ExecuteReaderAsync(cancellationToken);
            while (await reader.ReadAsync(cancellationToken))
                triggers.Add(new TableTrigger(table, reader.GetString(0), reader.GetString(1)));
        }

        return [.. triggers.Distinct()];
    }
}
