using System.CommandLine;
using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Npgsql;
using PlainPorch.Core.Sources;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Schema;
using PlainPorch.Data.Survey;

namespace PlainPorch.Web.Survey;

/// <summary>The verb <c>survey</c>: what a schema means, without the web and without a catalog.</summary>
internal static class SurveyCommand
{
    private const int WrongUse = 2;

    private static readonly JsonSerializerOptions _json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    public static Task<int> RunAsync(IReadOnlyList<string> arguments)
    {
        var connection = new Argument<string>("CONNECTION") { Description = "A postgresql:// URL, or names and values." };
        var schemas = new Option<string[]>("--schema")
        {
            Description = "A schema to survey; may be given several times. All of them unless given.",
        };
        var json = new Option<bool>("--json") { Description = "Prints JSON." };
        var save = new Option<FileInfo?>("--save") { Description = "Writes the JSON into a file." };
        var command = new RootCommand("Surveys a database: what its tables, columns and references mean. Changes nothing in it.")
        {
            connection,
            schemas,
            json,
            save,
        };
        command.SetAction(
            (parsed, cancellationToken) =>
                SurveyAsync(
                    parsed.GetValue(connection)!,
                    parsed.GetValue(schemas) ?? [],
                    parsed.GetValue(json),
                    parsed.GetValue(save),
                    cancellationToken
                )
        );
        var result = command.Parse(arguments);
        return result.Errors.Count > 0 ? FailAsync(result.Errors[0].Message) : result.InvokeAsync();
    }

    private static async Task<int> SurveyAsync(
        string text,
        string[] schemas,
        bool json,
        FileInfo? save,
        CancellationToken cancellationToken
    )
    {
        if (!ConnectionText.TryRead(text, out var settings, out var problem))
            return await FailAsync(problem!);
        var probe = await SourceProbe.TryAsync(settings, schemas, cancellationToken);
        if (probe.Problem is { } unusable)
            return await FailAsync(unusable.Message);
        await using var source = SourceConnection.Create(settings, isReadOnly: true);
        try
        {
            var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, schemas, cancellationToken);
            var report = await SurveyRun.RunAsync(source, snapshot, new ProgressLines().Tell, cancellationToken);
            if (save is not null)
                await File.WriteAllTextAsync(save.FullName, JsonSerializer.Serialize(report, _json) + "\n", cancellationToken);
            Console.WriteLine(json ? JsonSerializer.Serialize(report, _json) : Describe(report));
            return 0;
        }
        catch (Exception failure) when (failure is NpgsqlException or IOException or UnauthorizedAccessException)
        {
            return await FailAsync(failure.Message);
        }
    }

    private static string Describe(SurveyReport report)
    {
        var lines = new List<string> { "Tables" };
        lines.AddRange(
            report.Tables.Select(table =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  {table.Schema}.{table.Name}: {table.Shape.ToString().ToLowerInvariant()}, {table.Rows:N0} rows, called {table.Title}{Samples(table)}"
                )
            )
        );
        lines.Add("References");
        lines.AddRange(
            report
                .References.Where(reference => reference.Confidence >= ReferenceFinder.Threshold)
                .Select(reference =>
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"  {reference.Confidence:0.00}  {reference.Table}.{string.Join('+', reference.Columns)} -> {reference.RefTable}.{string.Join('+', reference.RefColumns)}"
                            + $"{(reference.Where is null ? "" : $" where {reference.Where}")}: {reference.Evidence}{Counts(reference)}"
                    )
                )
        );
        lines.Add("Columns with a meaning beyond their type");
        lines.AddRange(
            report
                .Columns.Where(column =>
                    column.Kind is not (Core.Survey.Meanings.Meaning.Plain or Core.Survey.Meanings.Meaning.Identifier)
                    && column.Confidence >= 0.7
                )
                .Select(column => $"  {column.Table}.{column.Name}, “{column.Label}”: {column.Kind}, {column.Evidence}")
        );
        if (report.Unread.Count > 0)
            lines.Add($"Not read: {string.Join(", ", report.Unread)}");
        return string.Join('\n', lines);
    }

    private static string Samples(SurveyedTable table) =>
        table.TitleSamples.Count == 0 ? "" : $", such as {string.Join(", ", table.TitleSamples.Select(title => $"“{title}”"))}";

    private static string Counts(SurveyedReference reference) =>
        reference.Matched is null
            ? ""
            : string.Create(
                CultureInfo.InvariantCulture,
                $"; {reference.Matched:N0} rows with a match, {reference.Unmatched:N0} without"
            );

    private static async Task<int> FailAsync(string message)
    {
        await Console.Error.WriteLineAsync($"porch survey: {message}");
        return WrongUse;
    }

    // One line for each step, and one for each quarter of a long one.
    private sealed class ProgressLines
    {
        private readonly Lock _gate = new();
        private string _last = "";

        public void Tell(SurveyProgress progress)
        {
            var quarter = progress.Total < 40 ? 0 : 4 * progress.Done / progress.Total;
            var line = quarter is 0 or 4 ? $"{progress.Step} …" : $"  {25 * quarter} %";
            lock (_gate)
            {
                if (line == _last || (quarter == 4 && _last.StartsWith("  75", StringComparison.Ordinal)))
                    return;
                _last = line;
                Console.Error.WriteLine(line);
            }
        }
    }
}
