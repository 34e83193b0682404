using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Survey;

/// <summary>How well some columns tell the rows of a table apart.</summary>
/// <param name="Rows">How many rows the table has.</param>
/// <param name="Repeated">How many rows have the same values as another one.</param>
/// <param name="Empty">How many rows have no value in one of the columns.</param>
public sealed record KeyEvidence(long Rows, long Repeated, long Empty);

/// <summary>Counts in the database whether some columns tell the rows of a table apart.</summary>
/// <param name="source">The database.</param>
/// <param name="names">Quotes identifiers.</param>
public sealed class KeyCounter(NpgsqlDataSource source, ISqlGenerationHelper names)
{
    private const int StatementSeconds = 20;

    /// <summary>Counts.</summary>
    /// <param name="table">The table.</param>
    /// <param name="columns">The columns; at least one, all of them the table's.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    /// <returns>The numbers; null where it takes too long or may not be read.</returns>
    public async Task<KeyEvidence?> CountAsync(
        TableName table,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(columns);
        var quoted = columns.Select(names.DelimitIdentifier).ToList();
        var isEmpty = string.Join(" OR ", quoted.Select(column => $"{column} IS NULL"));
        // As texts, because not every type can be grouped.
        var values = string.Join(", ", quoted.Select(column => $"{column}::text"));
        try
        {
            await using var reading = await BoundedReading.BeginAsync(source, StatementSeconds, cancellationToken);
            await using var command = reading.Command(
                $"""
                SELECT coalesce(sum(n), 0)::bigint,
                       coalesce(sum(n) FILTER (WHERE n > 1 AND NOT is_empty), 0)::bigint,
                       coalesce(sum(n) FILTER (WHERE is_empty), 0)::bigint
                FROM (SELECT count(*) AS n, {isEmpty} AS is_empty
                      FROM {names.DelimitIdentifier(table.Name, table.Schema)} GROUP BY {values}, {isEmpty}) AS alike
                """
            );
            await using var reader = await command.ExecuteReaderAsync(cancellationToken);
            await reader.ReadAsync(cancellationToken);
            return new KeyEvidence(reader.GetInt64(0), reader.GetInt64(1), reader.GetInt64(2));
        }
        catch (PostgresException refused) when (!cancellationToken.IsCancellationRequested && BoundedReading.IsRefusal(refused))
        {
            return null;
        }
    }
}
