using System.Net;
using System.Text;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>Requests that make no sense: each gets an answer that says so, and leaves everything as it was.</summary>
public sealed class WrongRequestTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Removals_ThatMakeNoSense_AreRefusedInWords_AndChangeNothing()
    {
        var panels = await yard.MakeAsync(("boat.owner_id", "owner"));
        var (owner, stay) = (panels["owner"], panels["stay"]);
        var parcel = await yard.SetAsideAsync(stay, "5", "6");
        var before = await yard.StateAsync();
        var many = $$"""{"keys": [{{string.Join(',', Enumerable.Range(1, 10_001).Select(n => $"\"{n}\""))}}]}""";
        foreach (
            var (path, body, status) in new (string, string, HttpStatusCode)[]
            {
                ($"{owner}/removal-plan", """{"keys": []}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{"keys": null}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{"keys": ["x"]}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{"keys": ["3,4"]}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{"keys": ["3); DROP TABLE yard.owner; --"]}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{"keys": ["99999999999999999999"]}""", HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", """{"keys": ["9999"]}""", HttpStatusCode.NotFound),
                ($"{owner}/removal-plan", many, HttpStatusCode.BadRequest),
                ($"{owner}/removal-plan", "not json", HttpStatusCode.BadRequest),
                ($"{owner}/removals", """{"keys": ["3"]}""", HttpStatusCode.BadRequest),
                ($"{owner}/removals", """{"keys": ["3"], "fingerprint": null}""", HttpStatusCode.BadRequest),
                ($"{owner}/removals", """{"keys": ["3"], "fingerprint": "made up"}""", HttpStatusCode.Conflict),
                ($"{owner}/removal-plan/records", """{"keys": ["3"], "part": 2147483647}""", HttpStatusCode.NotFound),
                ($"{owner}/removal-plan/records", """{"keys": ["3"], "part": 0, "skip": -1}""", HttpStatusCode.BadRequest),
                ($"{stay}/set-aside/{parcel}/erase", """{"typed": -2}""", HttpStatusCode.BadRequest),
                ($"{stay}/set-aside/{parcel}/erase", """{}""", HttpStatusCode.BadRequest),
                ($"{stay}/set-aside/999999999999/erase", """{"typed": 2}""", HttpStatusCode.NotFound),
                ($"{stay}/set-aside/{parcel}/return", """{"parts": []}""", HttpStatusCode.Conflict),
                ($"{stay}/set-aside/{parcel}/return", """{"parts": [{"place": 7}]}""", HttpStatusCode.Conflict),
                (
                    $"{stay}/set-aside/{parcel}/return",
                    """{"parts": [{"place": 0, "numbers": [-1, 99]}]}""",
                    HttpStatusCode.Conflict
                ),
                (
                    $"{stay}/set-aside/{parcel}/return",
                    """{"parts": [{"place": 0, "without": [0, 1]}]}""",
                    HttpStatusCode.Conflict
                ),
                (
                    $"{stay}/set-aside/{parcel}/return",
                    """{"choices": [{"place": 0, "kind": "taken", "columns": ["gone"], "remedy": "bend"}]}""",
                    HttpStatusCode.BadRequest
                ),
                ($"{stay}/set-aside/999999999999/return-plan", """{}""", HttpStatusCode.NotFound),
                ($"{stay}/set-aside/unmark", """{"keys": ["5"]}""", HttpStatusCode.BadRequest),
                (
                    $"{owner}/duplicates/merge",
                    """{"survivor": "3", "others": ["4"], "values": {"nowhere": "4"}}""",
                    HttpStatusCode.BadRequest
                ),
                (
                    $"{owner}/duplicates/merge",
                    """{"survivor": "3", "others": ["4"], "values": null}""",
                    HttpStatusCode.BadRequest
                ),
                ($"{owner}/duplicates/merge", """{"survivor": "", "others": ["4"], "values": {}}""", HttpStatusCode.BadRequest),
            }
        )
        {
            await ExpectAsync(path, body, status);
        }

        foreach (
            var path in (string[])
                ["set-aside/999999999999", "set-aside/999999999999/parts/0x", "records/x/parcel", "records/9999/parcel"]
        )
            Assert.Equal(HttpStatusCode.NotFound, (await yard.Api.Client.GetAsync($"{stay}/{path}", Token)).StatusCode);
        Assert.Equal(before, await yard.StateAsync());
        Assert.Equal(1, await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel"));
    }

    [Fact]
    public async Task Moves_ThatMakeNoSense_AreRefusedInWords_AndChangeNothing()
    {
        await yard.MakeAsync();
        await yard.Api.Zoo.ExecuteAsync(
            "CREATE TABLE yard.slot (id int PRIMARY KEY, name text, pos int); INSERT INTO yard.slot SELECT n, 'slot ' || n, n * 1000 FROM generate_series(1, 5) n"
        );
        await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
        var panel = await yard.Api.MakePanelAsync("yard", "slot");
        await yard.ChangeAsync(panel, definition => definition["order"] = null);
        await ExpectAsync($"{panel}/order/moves", """{"keys": ["1"], "toEnd": true}""", HttpStatusCode.Conflict);
        await yard.ChangeAsync(panel, definition => definition["order"] = new JsonObject { ["column"] = "pos" });
        foreach (
            var (path, body, status) in new (string, string, HttpStatusCode)[]
            {
                ("moves", """{"keys": []}""", HttpStatusCode.BadRequest),
                ("moves", """{"keys": ["x"], "toEnd": true}""", HttpStatusCode.BadRequest),
                ("moves", """{"keys": ["77"], "toEnd": true}""", HttpStatusCode.BadRequest),
                ("moves", """{"keys": ["1"], "before": "77"}""", HttpStatusCode.BadRequest),
                ("moves", """{"keys": ["1"], "before": "x,y"}""", HttpStatusCode.BadRequest),
                ("moves", """{"keys": null}""", HttpStatusCode.BadRequest),
                ("numbering", """{"by": ["gone"], "isPreview": false}""", HttpStatusCode.BadRequest),
                ("numbering", """{"by": null, "isPreview": false}""", HttpStatusCode.BadRequest),
                ("undo", """{"entry": 999999999}""", HttpStatusCode.BadRequest),
                ("undo", """{"entry": -1}""", HttpStatusCode.BadRequest),
            }
        )
        {
            await ExpectAsync($"{panel}/order/{path}", body, status);
        }

        // Places that are out of all bounds are the first and the last.
        await ExpectAsync($"{panel}/order/moves", """{"keys": ["3"], "place": -2147483648}""", HttpStatusCode.OK);
        await ExpectAsync($"{panel}/order/moves", """{"keys": ["1"], "place": 2147483647}""", HttpStatusCode.OK);
        // Beside itself a record stays where it is.
        await ExpectAsync($"{panel}/order/moves", """{"keys": ["2"], "before": "2"}""", HttpStatusCode.OK);
        Assert.Equal(
            "3,2,4,5,1",
            await yard.Api.Zoo.AskAsync<string>("SELECT string_agg(id::text, ',' ORDER BY pos) FROM yard.slot")
        );
    }

    private async Task ExpectAsync(string path, string body, HttpStatusCode status)
    {
        using var content = new StringContent(body, Encoding.UTF8, "application/json");
        var answer = await yard.Api.Client.PostAsync(path, content, Token);
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(
            answer.StatusCode == status,
            $"{path} {body[..Math.Min(body.Length, 200)]}: {(int)answer.StatusCode}, not {(int)status}. {text}"
        );
        if (status is HttpStatusCode.BadRequest)
            Assert.False(
                string.IsNullOrWhiteSpace((string?)JsonNode.Parse(text)!["detail"]),
                $"{path} {body} is refused without words."
            );
    }
}
