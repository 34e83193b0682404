using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Data.Survey;

/// <summary>Counts in the database how many rows begin before an earlier one of the same record has ended.</summary>
/// <param name="source">The database.</param>
/// <param name="names">Quotes identifiers.</param>
public sealed class OverlapCounter(NpgsqlDataSource source, ISqlGenerationHelper names)
{
    private const int StatementSeconds = 4;

    /// <summary>Counts; what takes too long or may not be read is left out.</summary>
    /// <param name="snapshot">The schema.</param>
    /// <param name="spells">What to count.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    public async Task<IReadOnlyList<SurveyedSpells>> CountAsync(
        SchemaSnapshot snapshot,
        IReadOnlyList<SurveyedSpells> spells,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(spells);
        var counted = new List<SurveyedSpells>();
        foreach (var one in spells)
        {
            var sql = Sql(snapshot.Find(one.Table)!, one);
            try
            {
                await using var reading = await BoundedReading.BeginAsync(source, StatementSeconds, cancellationToken);
                await using var command = reading.Command(sql);
                await using var reader = await command.ExecuteReaderAsync(cancellationToken);
                await reader.ReadAsync(cancellationToken);
                counted.Add(one with { Rows = reader.GetInt64(0), Overlapping = reader.GetInt64(1), Sql = sql });
            }
            catch (PostgresException refused)
                when (!cancellationToken.IsCancellationRequested && BoundedReading.IsRefusal(refused))
            {
                // The survey goes on without this figure.
            }
        }

        return counted;
    }

    private string Sql(Table table, SurveyedSpells spells)
    {
        var (begin, end, of) = (
            names.DelimitIdentifier(spells.Begin),
            names.DelimitIdentifier(spells.End),
            names.DelimitIdentifier(spells.Of)
        );
        var filled = string.Join(
            " AND ",
            new[] { spells.Begin, spells.End }
                .Select(column => IsFilled(table.Find(column)!))
                .Append($"btrim({of}::text) NOT IN ('', '0', '-1')")
        );
        return $"""
            SELECT count(*) AS rows, count(*) FILTER (WHERE "begin" < latest) AS overlapping
            FROM (SELECT {begin} AS "begin",
                         max({end}) OVER (PARTITION BY {of} ORDER BY {begin}, {end} ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING) AS latest
                  FROM {names.DelimitIdentifier(table.Name.Name, table.Name.Schema)}
                  WHERE {filled} AND {begin} <= {end}) AS spells
            """;
    }

    // Eight digits compare as texts as the dates do.
    private string IsFilled(Column column)
    {
        var name = names.DelimitIdentifier(column.Name);
        return column.Type.Kind is ValueKind.Text ? $"{name} ~ '^[0-9]{{8}}$' AND {name} <> '00000000'" : $"{name} IS NOT NULL";
    }
}
