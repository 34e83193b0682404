using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Data.Survey;

/// <summary>Surveys a database from end to end: rows, references, counts, report.</summary>
public static class SurveyRun
{
    /// <summary>Surveys what a snapshot holds.</summary>
    /// <param name="source">The database.</param>
    /// <param name="snapshot">Its schema.</param>
    /// <param name="report">Is told what is being done; null for nobody.</param>
    /// <param name="cancellationToken">Stops the survey.</param>
    /// <exception cref="NpgsqlException">The database could not be reached.</exception>
    public static async Task<SurveyReport> RunAsync(
        NpgsqlDataSource source, SchemaSnapshot snapshot, Action<string>? report, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        report?.Invoke($"Reading {snapshot.Tables.Count} tables and views …");
        var rows = await new SurveyReader(source, SqlNames.Helper).ReadAsync(snapshot, (table, left) => TellNowAndThen(report, table, left), cancellationToken);
        report?.Invoke("Finding references …");
        var references = ReferenceFinder.Find(snapshot, rows);
        report?.Invoke($"Counting {references.Count} references …");
        return SurveyReport.Make(snapshot, rows, await new ReferenceCounter(source, SqlNames.Helper).CountAsync(references, cancellationToken));
    }

    private static void TellNowAndThen(Action<string>? report, TableName table, int left)
    {
        if (left % 25 == 0)
            report?.Invoke($"  {table} read, {left} left");
    }
}
