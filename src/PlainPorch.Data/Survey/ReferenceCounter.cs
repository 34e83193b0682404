using System.Data;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Data.Survey;

/// <summary>Counts in the database how many rows of a found reference have their match, and gives some that have none.</summary>
/// <param name="source">The database.</param>
/// <param name="names">Quotes identifiers.</param>
public sealed class ReferenceCounter(NpgsqlDataSource source, ISqlGenerationHelper names)
{
    private const string StatementTimeout = "SET TRANSACTION READ ONLY; SET LOCAL statement_timeout = '4s'";

    /// <summary>Counts the rows of references; those that take too long keep what the sample said.</summary>
    public async Task<IReadOnlyList<Reference>> CountAsync(IReadOnlyList<Reference> references, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(references);
        var counted = new Reference[references.Count];
        var options = new ParallelOptions { MaxDegreeOfParallelism = 2, CancellationToken = cancellationToken };
        await Parallel.ForEachAsync(Enumerable.Range(0, references.Count), options, async (i, token) =>
            counted[i] = references[i].Confidence >= ReferenceFinder.Threshold ? await CountAsync(references[i], token) : references[i]);
        return counted;
    }

    private async Task<Reference> CountAsync(Reference reference, CancellationToken cancellationToken)
    {
        try
        {
            await using var connection = await source.OpenConnectionAsync(cancellationToken);
            await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.ReadCommitted, cancellationToken);
            await using (var bound = new NpgsqlCommand(StatementTimeout, connection, transaction))
                await bound.ExecuteNonQueryAsync(cancellationToken);
            await using var command = new NpgsqlCommand(Sql(reference), connection, transaction);
            command.Parameters.AddWithValue("list", (object?)reference.Where?.Value ?? DBNull.Value).NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Text;
            await using var reader = await command.ExecuteReaderAsync(cancellationToken);
            await reader.ReadAsync(cancellationToken);
            return reference with
            {
                Matched = reader.GetInt64(0),
                Unmatched = reader.GetInt64(1),
                UnmatchedExamples = reader.GetFieldValue<string[]>(2),
            };
        }
        catch (PostgresException refused) when (!cancellationToken.IsCancellationRequested
            && refused.SqlState is PostgresErrorCodes.QueryCanceled or PostgresErrorCodes.InsufficientPrivilege or PostgresErrorCodes.UndefinedFunction)
        {
            return reference;
        }
    }

    /// <summary>The question that counts a reference, for a developer to read and run.</summary>
    public string Sql(Reference reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        var matches = string.Join(" AND ", reference.TargetColumns.Select((column, i) => $"t.{names.DelimitIdentifier(column)} = v{i}"));
        if (reference.Where is { } list)
            matches += $" AND t.{names.DelimitIdentifier(list.Column)} = @list";
        var values = string.Join(", ", reference.Columns.Select((column, i) => $"{Value(reference, $"r.{names.DelimitIdentifier(column)}")} AS v{i}"));
        var filled = string.Join(" AND ", reference.Columns.Select(column =>
            $"r.{names.DelimitIdentifier(column)} IS NOT NULL AND btrim(r.{names.DelimitIdentifier(column)}::text) NOT IN ('', '0', '-1')"));
        var grouped = string.Join(", ", reference.Columns.Select((_, i) => (i + 1).ToString(System.Globalization.CultureInfo.InvariantCulture)));
        return $"""
            SELECT coalesce(sum(n) FILTER (WHERE found), 0)::bigint, coalesce(sum(n) FILTER (WHERE NOT found), 0)::bigint,
                   coalesce((array_agg(v0::text) FILTER (WHERE NOT found AND v0 IS NOT NULL))[1:5], ARRAY[]::text[])
            FROM (SELECT g.*, EXISTS (SELECT FROM {Name(reference.Target)} t WHERE {matches}) AS found
                  FROM (SELECT {values}, count(*) AS n FROM {Name(reference.Table)} r WHERE {filled} GROUP BY {grouped}) AS g) AS compared
            WHERE @list::text IS NULL OR true
            """;
    }

    private static string Value(Reference reference, string column) =>
        reference.Conversion == ValueConversion.TextToInteger ? $"(CASE WHEN btrim({column}) ~ '^[0-9]+$' THEN btrim({column})::bigint END)" : column;

    private string Name(TableName table) => names.DelimitIdentifier(table.Name, table.Schema);
}
