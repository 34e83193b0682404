using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Data.Survey;

/// <summary>Counts in the database how many rows of a found reference have their match, and gives some that have none.</summary>
/// <param name="source">The database.</param>
/// <param name="names">Quotes identifiers.</param>
public sealed class ReferenceCounter(NpgsqlDataSource source, ISqlGenerationHelper names)
{
    private const int StatementSeconds = 4;

    /// <summary>Counts the rows of references; those that take too long keep what the sample said.</summary>
    /// <param name="references">The references; only those that are taken for true are counted.</param>
    /// <param name="report">Is told after each one how many are left.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    public async Task<IReadOnlyList<Reference>> CountAsync(
        IReadOnlyList<Reference> references,
        Action<int>? report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(references);
        var counted = new Reference[references.Count];
        var left = references.Count;
        var options = new ParallelOptions { MaxDegreeOfParallelism = 2, CancellationToken = cancellationToken };
        await Parallel.ForEachAsync(Enumerable.Range(0, references.Count), options, async (i, token) =>
        {
            counted[i] =
                references[i].Confidence >= ReferenceFinder.Threshold ? await CountAsync(references[i], token) : references[i];
            report?.Invoke(Interlocked.Decrement(ref left));
        });
        return counted;
    }

    private async Task<Reference> CountAsync(Reference reference, CancellationToken cancellationToken)
    {
        try
        {
            await using var reading = await BoundedReading.BeginAsync(source, StatementSeconds, cancellationToken);
            await using var command = reading.Command(Sql(reference, list: "@list"));
            if (reference.Where is { } chosen)
                command.Parameters.Add(new NpgsqlParameter<string>("list", chosen.Value));
            await using var reader = await command.ExecuteReaderAsync(cancellationToken);
            await reader.ReadAsync(cancellationToken);
            return reference with
            {
                Matched = reader.GetInt64(0),
                Unmatched = reader.GetInt64(1),
                UnmatchedExamples = reader.GetFieldValue<string[]>(2),
                Sql = Sql(reference, reference.Where is { } list ? Literal(list.Value) : ""),
            };
        }
        catch (PostgresException refused) when (!cancellationToken.IsCancellationRequested && BoundedReading.IsRefusal(refused))
        {
            return reference;
        }
    }

    // The list's value is a parameter where we ask, and a literal where a developer reads and runs the question.
    private string Sql(Reference reference, string list)
    {
        var matches = string.Join(
            " AND ",
            reference.TargetColumns.Select(
                (column, i) =>
                    reference.Conversion == ValueConversion.TrimmedAnyCase
                        ? $"upper(btrim(t.{names.DelimitIdentifier(column)})) = v{i}"
                        : $"t.{names.DelimitIdentifier(column)} = v{i}"
            )
        );
        if (reference.Where is { } chosen)
            matches += $" AND t.{names.DelimitIdentifier(chosen.Column)} = {list}";
        var raw = string.Join(", ", reference.Columns.Select((column, i) => $"r.{names.DelimitIdentifier(column)} AS r{i}"));
        var values = string.Join(", ", reference.Columns.Select((_, i) => $"{Value(reference, $"r{i}")} AS v{i}"));
        var filled = string.Join(
            " AND ",
            reference.Columns.Select((_, i) => $"r{i} IS NOT NULL AND btrim(r{i}::text) NOT IN ('', '0', '-1')")
        );
        var grouped = string.Join(
            ", ",
            reference.Columns.Select((_, i) => (i + 1).ToString(System.Globalization.CultureInfo.InvariantCulture))
        );
        // Each row is only grouped; what costs is done once for each different value.
        return $"""
            SELECT coalesce(sum(n) FILTER (WHERE found), 0)::bigint AS matched, coalesce(sum(n) FILTER (WHERE NOT found), 0)::bigint AS unmatched,
                   coalesce((array_agg(v0::text) FILTER (WHERE NOT found AND v0 IS NOT NULL))[1:5], ARRAY[]::text[]) AS examples
            FROM (SELECT g.*, EXISTS (SELECT FROM {Name(reference.Target)} t WHERE {matches}) AS found
                  FROM (SELECT {values}, n
                        FROM (SELECT {raw}, count(*) AS n FROM {Name(reference.Table)} r GROUP BY {grouped}) AS a
                        WHERE {filled}) AS g) AS compared
            """;
    }

    private static string Literal(string value) => $"'{value.Replace("'", "''", StringComparison.Ordinal)}'";

    private static string Value(Reference reference, string column) =>
        reference.Conversion switch
        {
            ValueConversion.TextToInteger => $"(CASE WHEN btrim({column}) ~ '^[0-9]+$' THEN btrim({column})::bigint END)",
            ValueConversion.TrimmedAnyCase => $"upper(btrim({column}))",
            _ => column,
        };

    private string Name(TableName table) => names.DelimitIdentifier(table.Name, table.Schema);
}
