using System.Globalization;
using System.Text.Json;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Rows;

namespace PlainPorch.Bench;

/// <summary>Scores the survey on several databases, with rows and without.</summary>
internal static class SurveyBench
{
    public static async Task<int> RunAsync(IReadOnlyList<string> databases, bool tell, bool json)
    {
        var scores = new List<(string Rows, SurveyScore Score)>();
        foreach (var text in databases)
        {
            if (!ConnectionText.TryRead(text, out var settings, out var problem))
            {
                await Console.Error.WriteLineAsync(problem);
                return 2;
            }

            await using var source = SourceConnection.Create(settings, isReadOnly: true);
            foreach (var withRows in new[] { true, false })
            {
                Action<string>? teller = tell
                    ? line => Console.WriteLine($"  {settings.Database}, {(withRows ? "rows" : "empty")}: {line}")
                    : null;
                scores.Add(
                    (
                        withRows ? "with rows" : "empty",
                        await SurveyScore.MeasureAsync(settings.Database, source, SqlNames.Helper, withRows, teller)
                    )
                );
            }
        }

        if (json)
        {
            Console.WriteLine(
                JsonSerializer.Serialize(
                    scores.Select(pair => new
                    {
                        rows = pair.Rows,
                        pair.Score.Schema,
                        pair.Score.True,
                        pair.Score.Found,
                        pair.Score.False,
                        pair.Score.Precision,
                        pair.Score.Recall,
                        pair.Score.F1,
                        pair.Score.Seconds,
                    }),
                    JsonSerializerOptions.Web
                )
            );
            return 0;
        }

        Console.WriteLine(
            $"{"schema", -24}{"rows", -12}{"true", 6}{"found", 7}{"false", 7}{"precision", 11}{"recall", 8}{"F1", 7}{"s", 7}"
        );
        foreach (var (rows, score) in scores)
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{score.Schema, -24}{rows, -12}{score.True, 6}{score.Found, 7}{score.False, 7}{score.Precision, 11:0.000}{score.Recall, 8:0.000}{score.F1, 7:0.000}{score.Seconds, 7:0.0}"
                )
            );
        foreach (var group in scores.GroupBy(pair => pair.Rows))
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{"average F1", -24}{group.Key, -12}{group.Average(pair => pair.Score.F1), 46:0.000}"
                )
            );
        return 0;
    }
}
