using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Imports;

/// <summary>A recipe runs on files that arrive in the server's folder, once each, in the name of whoever had it do so.</summary>
public sealed class RecipeWatchTests(ImportFixture api) : IClassFixture<ImportFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task AFileThatArrives_IsBroughtInOnce_AndOneThatWasThereBeforeIsNot()
    {
        await api.Zoo.ExecuteAsync(
            "CREATE TABLE zoo.gauge (no integer PRIMARY KEY, level numeric(5,2)); INSERT INTO zoo.gauge VALUES (1, 1)"
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var panel = await api.MakePanelAsync("zoo", "gauge");
        var recipe = await RecipeAsync(panel);
        var before = Path.Combine(api.Folder, "gauge-before.csv");
        await File.WriteAllTextAsync(before, "no;level\n5;5,55\n", Token);
        File.SetLastWriteTimeUtc(before, DateTime.UtcNow.AddMinutes(-5));

        var all = await api.Client.PutAsJsonAsync($"{panel}/setup/recipes/{recipe}/watch", new { pattern = "*" }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, all.StatusCode);
        var watched = await api.Client.PutAsJsonAsync(
            $"{panel}/setup/recipes/{recipe}/watch",
            new { pattern = "gauge-*.csv" },
            Token
        );
        Assert.Equal(HttpStatusCode.NoContent, watched.StatusCode);
        await File.WriteAllTextAsync(Path.Combine(api.Folder, "gauge-new.csv"), "no;level\n1;2,25\n2;3,50\n", Token);
        await File.WriteAllTextAsync(Path.Combine(api.Folder, "other.csv"), "no;level\n9;9\n", Token);
        for (var i = 0; i < 200 && await LevelsAsync() != "1:2.25 2:3.50"; i++)
            await Task.Delay(100, Token);
        Assert.Equal("1:2.25 2:3.50", await LevelsAsync());

        // Looked at several times more, it is brought in no more.
        await Task.Delay(7_000, Token);
        var imports = (await api.Client.GetFromJsonAsync<JsonNode>($"{panel}/imports", Token))!.AsArray();
        var done = Assert.Single(imports, import => (string?)import!["recipe"] == "Gauge")!;
        Assert.Equal(("done", "gauge-new.csv"), ((string)done["state"]!, (string)done["files"]![0]!["name"]!));
        var log = (
            await api.Client.GetFromJsonAsync<JsonNode>(
                $"{panel[..panel.IndexOf("/panels", StringComparison.Ordinal)]}/log",
                Token
            )
        )!;
        Assert.Equal(
            ("imported", "watched folder", Api.ApiFixture.Developer),
            ((string)log["entries"]![0]!["act"]!, (string)log["entries"]![0]!["from"]!, (string)log["entries"]![0]!["who"]!)
        );
    }

    private Task<string> LevelsAsync() =>
        api.Zoo.AskAsync<string>("SELECT string_agg(no || ':' || level, ' ' ORDER BY no) FROM zoo.gauge")!;

    private async Task<int> RecipeAsync(string panel)
    {
        var begun = await JsonAsync(await api.Client.PostAsync($"{panel}/imports", null, Token));
        var address = $"{panel}/imports/{begun["status"]!["id"]}";
        var body = new ByteArrayContent(Encoding.UTF8.GetBytes("no;level\n1;1,00\n2;1,50\n"));
        body.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        await JsonAsync(await api.Client.PostAsync($"{address}/files?name=gauge.csv", body, Token));
        await api.Client.PostAsJsonAsync($"{address}/look", new { }, Token);
        for (var i = 0; i < 100; i++)
        {
            if ((string)(await JsonAsync(await api.Client.GetAsync(address, Token)))["status"]!["state"]! == "ready")
                break;
            await Task.Delay(100, Token);
        }

        return (int)
            (await JsonAsync(await api.Client.PostAsJsonAsync($"{address}/recipe", new { name = "Gauge" }, Token)))["id"]!;
    }

    private static async Task<JsonNode> JsonAsync(HttpResponseMessage answer)
    {
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, text);
        return JsonNode.Parse(text)!;
    }
}
