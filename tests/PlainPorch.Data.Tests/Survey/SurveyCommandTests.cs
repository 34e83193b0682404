using System.Diagnostics;
using System.Text.Json;

namespace PlainPorch.Data.Tests.Survey;

/// <summary>The survey as a command, without a catalog: what it prints where, and how it ends.</summary>
public sealed class SurveyCommandTests(DemoFixture demo) : IClassFixture<DemoFixture>
{
    [Fact]
    public async Task Survey_AsJson_PrintsTheReportAndKeepsProgressApart()
    {
        var (exit, output, errors) = await RunAsync(demo.Url, "--schema", "register", "--json");
        Assert.Equal(0, exit);
        var report = JsonSerializer.Deserialize<JsonElement>(output);
        var berth = report
            .GetProperty("references")
            .EnumerateArray()
            .First(reference =>
                reference.GetProperty("table").GetString() == "STAYS" && reference.GetProperty("refTable").GetString() == "BERTHS"
            );
        Assert.Equal(["BERTH_CD"], berth.GetProperty("columns").EnumerateArray().Select(column => column.GetString()));
        Assert.Equal("register", berth.GetProperty("refSchema").GetString());
        Assert.False(berth.GetProperty("declared").GetBoolean());
        Assert.Equal(45_000, berth.GetProperty("matched").GetInt64());
        Assert.Equal(JsonValueKind.Null, berth.GetProperty("conversion").ValueKind);
        Assert.Contains(
            "codeList",
            report.GetProperty("tables").EnumerateArray().Select(table => table.GetProperty("shape").GetString())
        );
        Assert.Contains(
            "sensitive",
            report.GetProperty("columns").EnumerateArray().Select(column => column.GetProperty("kind").GetString())
        );
        Assert.Contains("Reading 14 tables", errors, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Survey_WithSave_WritesTheFile()
    {
        var file = Path.Combine(Path.GetTempPath(), $"survey-{Guid.NewGuid():N}.json");
        try
        {
            var (exit, output, _) = await RunAsync(demo.Url, "--schema", "boatyard", "--save", file);
            Assert.Equal(0, exit);
            Assert.Contains("job_line.part_id -> part.id", output, StringComparison.Ordinal);
            Assert.True(
                JsonDocument
                    .Parse(await File.ReadAllTextAsync(file, TestContext.Current.CancellationToken))
                    .RootElement.GetProperty("references")
                    .GetArrayLength() >= 6
            );
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Theory]
    [InlineData("gibberish", "neither")]
    [InlineData("postgresql://nobody:x@127.0.0.1:1/none", "refuses connections")]
    public async Task Survey_WrongConnection_EndsWithTwoAndOneLine(string connection, string fragment)
    {
        var (exit, output, errors) = await RunAsync(connection);
        Assert.Equal(2, exit);
        Assert.Equal("", output);
        Assert.Contains(
            fragment,
            Assert.Single(errors.Split('\n', StringSplitOptions.RemoveEmptyEntries)),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Survey_UnknownSchema_EndsWithTwo()
    {
        var (exit, _, errors) = await RunAsync(demo.Url, "--schema", "regster");
        Assert.Equal(2, exit);
        Assert.Contains("has no schema regster", errors, StringComparison.Ordinal);
    }

    private static async Task<(int Exit, string Output, string Errors)> RunAsync(params string[] arguments)
    {
        var program = Path.Combine(AppContext.BaseDirectory, "PlainPorch.Web.dll");
        var start = new ProcessStartInfo("dotnet", [program, "survey", .. arguments])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        var output = process.StandardOutput.ReadToEndAsync(TestContext.Current.CancellationToken);
        var errors = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
        await process.WaitForExitAsync(TestContext.Current.CancellationToken);
        return (process.ExitCode, await output, await errors);
    }
}
