using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Survey;

/// <summary>Surveys a database from end to end: rows, references, counts, report.</summary>
public static class SurveyRun
{
    /// <summary>Surveys what a snapshot holds.</summary>
    /// <param name="source">The database.</param>
    /// <param name="snapshot">Its schema.</param>
    /// <param name="report">Is told what is being done; null for nobody. May be called from several threads.</param>
    /// <param name="words">The words of the schema with the source's own; null to learn them from the schema.</param>
    /// <param name="cancellationToken">Stops the survey.</param>
    /// <exception cref="NpgsqlException">The database could not be reached.</exception>
    public static async Task<SurveyReport> RunAsync(
        NpgsqlDataSource source,
        SchemaSnapshot snapshot,
        Action<SurveyProgress>? report,
        CancellationToken cancellationToken,
        Vocabulary? words = null
    )
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        words ??= new Vocabulary(snapshot.Tables);
        var tables = snapshot.Tables.Count;
        report?.Invoke(new($"Reading {tables} tables and views", 0, tables));
        var rows = await new SurveyReader(source, SqlNames.Helper).ReadAsync(
            snapshot,
            (table, left) => report?.Invoke(new($"Reading {tables} tables and views", tables - left, tables)),
            cancellationToken
        );
        report?.Invoke(new("Finding references", 0, 1));
        var references = ReferenceFinder.Find(snapshot, rows, words);
        cancellationToken.ThrowIfCancellationRequested();
        var counted = await new ReferenceCounter(source, SqlNames.Helper).CountAsync(
            references,
            left => report?.Invoke(new($"Counting {references.Count} references", references.Count - left, references.Count)),
            cancellationToken
        );
        var held = counted.Where(reference => reference.Confidence >= ReferenceFinder.Threshold).ToList();
        var spells = await new OverlapCounter(source, SqlNames.Helper).CountAsync(
            snapshot,
            Spells.Find(rows.Values, held),
            cancellationToken
        );
        var found = SurveyReport.Make(snapshot, rows, counted, words) with
        {
            Overlaps = [.. spells.Where(one => one.IsSuspicious)],
        };
        var checks = await new CheckCounter(source, RecordModel.Of(snapshot)).CountAsync(
            LikelyChecks.Find(rows, found),
            found.Findings(snapshot, words),
            spells,
            snapshot,
            (done, total) => report?.Invoke(new("Counting what nearly all rows keep to", done, total)),
            cancellationToken
        );
        return found with { Checks = checks };
    }
}

/// <summary>How far a survey is.</summary>
/// <param name="Step">What is being done, for people.</param>
/// <param name="Done">How many parts of this step are done.</param>
/// <param name="Total">How many parts the step has.</param>
public sealed record SurveyProgress(string Step, int Done, int Total);
