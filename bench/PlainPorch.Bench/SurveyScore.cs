using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Schema;
using PlainPorch.Data.Survey;

namespace PlainPorch.Bench;

/// <summary>
/// How well a survey finds the declared references of a schema, of one column or several, when they are hidden from it.
/// </summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="True">How many references are declared.</param>
/// <param name="Found">How many of them were found with a confidence of 0.5 or more.</param>
/// <param name="False">How many others were.</param>
/// <param name="Seconds">How long reading and finding took.</param>
internal sealed record SurveyScore(string Schema, int True, int Found, int False, double Seconds)
{
    public double Precision => Found + False == 0 ? 1 : (double)Found / (Found + False);

    public double Recall => True == 0 ? 1 : (double)Found / True;

    public double F1 => Precision + Recall == 0 ? 0 : 2 * Precision * Recall / (Precision + Recall);

    /// <summary>Surveys a database with its references hidden, with its rows or from names and types alone.</summary>
    public static async Task<SurveyScore> MeasureAsync(
        string name,
        NpgsqlDataSource source,
        ISqlGenerationHelper names,
        bool withRows,
        Action<string>? tell = null
    )
    {
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, [], CancellationToken.None);
        var truth = snapshot
            .Tables.SelectMany(table =>
                table.ForeignKeys.Select(key => Line(table.Name, key.Columns, key.ReferredTable, key.ReferredColumns))
            )
            .ToHashSet();
        var hidden = snapshot with { Tables = [.. snapshot.Tables.Select(table => table with { ForeignKeys = [] })] };
        var rows = withRows
            ? await new SurveyReader(source, names).ReadAsync(hidden, null, CancellationToken.None)
            : hidden.Tables.ToDictionary(table => table.Name, table => TableRows.None(table));
        var found = ReferenceFinder
            .Find(hidden, rows)
            .Where(reference => reference.Confidence >= ReferenceFinder.Threshold && reference.Where is null)
            .ToDictionary(reference => Line(reference.Table, reference.Columns, reference.Target, reference.TargetColumns));
        // That a run's recipe is a recipe follows from its recipe and version being a recipe's version: true, and not counted. Nor
        // is what another table declares of a column of the same name.
        foreach (
            var follows in found
                .Where(pair =>
                    !truth.Contains(pair.Key) && (Follows(pair.Value, snapshot) || IsDeclaredElsewhere(pair.Value, snapshot))
                )
                .Select(pair => pair.Key)
                .ToList()
        )
            found.Remove(follows);
        foreach (var missed in truth.Except(found.Keys).Order())
            tell?.Invoke($"missed {missed}");
        foreach (var wrong in found.Where(pair => !truth.Contains(pair.Key)).OrderBy(pair => pair.Key))
            tell?.Invoke($"false  {wrong.Key} ({wrong.Value.Confidence:0.00}: {wrong.Value.Evidence})");
        return new SurveyScore(
            name,
            truth.Count,
            truth.Count(found.ContainsKey),
            found.Keys.Count(key => !truth.Contains(key)),
            watch.Elapsed.TotalSeconds
        );
    }

    private static bool Follows(Reference reference, SchemaSnapshot snapshot) =>
        reference.Columns is [var column]
        && snapshot
            .Find(reference.Table)!
            .ForeignKeys.Any(key =>
                key.Columns.Count > 1
                && key.Columns.Contains(column)
                && snapshot
                    .Find(key.ReferredTable)
                    ?.ForeignKeys.Any(next =>
                        next.ReferredTable == reference.Target
                        && next.Columns.Contains(key.ReferredColumns[key.Columns.ToList().IndexOf(column)])
                    ) == true
            );

    private static bool IsDeclaredElsewhere(Reference reference, SchemaSnapshot snapshot) =>
        snapshot.Tables.Any(table =>
            table.ForeignKeys.Any(key =>
                key.ReferredTable == reference.Target
                && key.ReferredColumns.SequenceEqual(reference.TargetColumns)
                && key.Columns.SequenceEqual(reference.Columns)
            )
        ) && !snapshot.Find(reference.Table)!.ForeignKeys.Any(key => key.Columns.SequenceEqual(reference.Columns));

    private static string Line(TableName table, IReadOnlyList<string> columns, TableName target, IReadOnlyList<string> keys)
    {
        var pairs = columns.Zip(keys).OrderBy(pair => pair.Second, StringComparer.Ordinal).ToList();
        return $"{table}.{string.Join('+', pairs.Select(pair => pair.First))} -> {target}.{string.Join('+', pairs.Select(pair => pair.Second))}";
    }
}
