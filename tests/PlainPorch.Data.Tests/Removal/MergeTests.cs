using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>Finding likely duplicates and making them one.</summary>
public sealed class MergeTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static readonly (string, string)[] _along = [("boat.owner_id", "owner"), ("stay.boat_id", "boat")];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Duplicates_AreFoundByTheNamedColumns_ExactOrAlike()
    {
        var panels = await MakeAsync(alike: false);
        Assert.Equal("5+21", Groups(await yard.GetAsync($"{panels["owner"]}/duplicates")));
        await yard.Api.Zoo.ExecuteAsync("CREATE EXTENSION IF NOT EXISTS pg_trgm");
        await NameAsync(panels["owner"], alike: true);
        Assert.Contains(
            "21+22",
            Groups(await yard.GetAsync($"{panels["owner"]}/duplicates")).Replace("5+", "", StringComparison.Ordinal),
            StringComparison.Ordinal
        );
        await NameAsync(panels["owner"], alike: false, column: null);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await yard.Api.Client.GetAsync($"{panels["owner"]}/duplicates", Token)).StatusCode
        );
    }

    [Fact]
    public async Task Merge_RepointsReferences_TakesValuesOver_SetsTheRestAside_AndComesBackWhole()
    {
        var panels = await MakeAsync(alike: false);
        var before = await yard.StateAsync();
        var boats = await yard.CountAsync("boat WHERE owner_id = 21");
        Assert.True(boats > 0);
        var done = await yard.PostAsync(
            $"{panels["owner"]}/duplicates/merge",
            new
            {
                survivor = "5",
                others = new[] { "21" },
                values = new Dictionary<string, string> { ["name"] = "21" },
            }
        );
        Assert.Equal(
            (0, 1),
            (await yard.CountAsync("boat WHERE owner_id = 21"), await yard.CountAsync("owner WHERE id = 21 AND gone = 'Y'"))
        );
        Assert.Equal("OWNER 5 ", await yard.Api.Zoo.AskAsync<string>("SELECT name FROM yard.owner WHERE id = 5"));
        var entry = (await yard.GetAsync("/api/porches/zoo/log?act=Merged"))["entries"]![0]!;
        Assert.Equal(boats + 2, (int)entry["count"]!);
        var history = await yard.GetAsync($"{panels["owner"]}/records/5/history");
        Assert.Equal(
            ("merged", "owner 5", "OWNER 5 "),
            (
                (string)history["steps"]![0]!["act"]!,
                (string)history["steps"]![0]!["changes"]![0]!["from"]!,
                (string)history["steps"]![0]!["changes"]![0]!["to"]!
            )
        );
        var back = await yard.PostAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal(1, (int)back["count"]!);
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Merge_OfRecordsThatLeaveTheTable_MovesUniqueValues_AndLeavesWhatWasChangedSince()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync(
            "CREATE UNIQUE INDEX ON yard.boat (photo); UPDATE yard.boat SET name = 'Twin' WHERE id IN (7, 9)"
        );
        await yard.ChangeAsync(panels["boat"], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var of9 = await yard.CountAsync("stay WHERE boat_id = 9");
        var done = await yard.PostAsync(
            $"{panels["boat"]}/duplicates/merge",
            new
            {
                survivor = "7",
                others = new[] { "9" },
                values = new Dictionary<string, string> { ["owner_id"] = "9" },
            }
        );
        Assert.Equal((0, 0), (await yard.CountAsync("boat WHERE id = 9"), await yard.CountAsync("stay WHERE boat_id = 9")));
        var moved = await yard.Api.Zoo.AskAsync<int>(
            "UPDATE yard.stay SET berth = 'B0', boat_id = 8 WHERE id = (SELECT min(id) FROM yard.stay WHERE id % 60 = 9) RETURNING id"
        );
        var shown = await yard.PostAsync($"{panels["boat"]}/set-aside/{done["parcel"]}/return-plan", new { });
        Assert.Equal(("changed", 1), ((string)shown["conflicts"]![0]!["kind"]!, (int)shown["conflicts"]![0]!["count"]!));
        await yard.PostAsync($"{panels["boat"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal(
            (1, of9 - 1, 1),
            (
                await yard.CountAsync("boat WHERE id = 9"),
                await yard.CountAsync("stay WHERE boat_id = 9"),
                await yard.CountAsync($"stay WHERE id = {moved} AND boat_id = 8")
            )
        );
    }

    [Fact]
    public async Task Merge_ByWhichRowsOfAJoiningTableBecomeTheSame_MakesThoseOneToo_AndComesBackWhole()
    {
        var panels = await MakeAsync(alike: false);
        await yard.Api.Zoo.ExecuteAsync(
            """
            CREATE TABLE yard.crew (owner int REFERENCES yard.owner, boat int, since date, PRIMARY KEY (owner, boat));
            CREATE TABLE yard.watch (id int PRIMARY KEY, owner int, boat int, note text, FOREIGN KEY (owner, boat) REFERENCES yard.crew);
            INSERT INTO yard.crew VALUES (5, 1, '2020-01-01'), (21, 1, '2021-01-01'), (21, 2, '2021-02-01'), (22, 2, '2022-01-01'), (22, 3, '2022-02-01');
            INSERT INTO yard.watch VALUES (1, 5, 1, 'a'), (2, 21, 1, 'b'), (3, 22, 2, 'c')
            """
        );
        await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
        const string Joined =
            "SELECT (SELECT string_agg(t::text, ' ' ORDER BY owner, boat) FROM yard.crew t) || ' and ' || (SELECT string_agg(t::text, ' ' ORDER BY id) FROM yard.watch t)";
        var (before, joined) = (await yard.StateAsync(), await yard.Api.Zoo.AskAsync<string>(Joined));
        var done = await yard.PostAsync(
            $"{panels["owner"]}/duplicates/merge",
            new
            {
                survivor = "5",
                others = new[] { "21", "22" },
                values = new Dictionary<string, string>(),
            }
        );
        // Of two that become the same, the one that was there stays, and else the first; watches go over to it.
        Assert.Equal(
            "(5,1,2020-01-01) (5,2,2021-02-01) (5,3,2022-02-01) and (1,5,1,a) (2,5,1,b) (3,5,2,c)",
            await yard.Api.Zoo.AskAsync<string>(Joined)
        );

        var back = await yard.PostAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal(4, (int)back["count"]!);
        Assert.Equal((before, joined), (await yard.StateAsync(), await yard.Api.Zoo.AskAsync<string>(Joined)));
        await yard.Api.Zoo.ExecuteAsync("DROP TABLE yard.watch, yard.crew");
    }

    [Fact]
    public async Task Merge_ThatTookAValueOfWhichThereMayBeOne_GivesItBack()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync("CREATE UNIQUE INDEX ON yard.boat (name)");
        await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
        await yard.ChangeAsync(panels["boat"], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var before = await yard.StateAsync();
        var done = await yard.PostAsync(
            $"{panels["boat"]}/duplicates/merge",
            new
            {
                survivor = "7",
                others = new[] { "9" },
                values = new Dictionary<string, string> { ["name"] = "9" },
            }
        );
        Assert.Equal("boat 9", await yard.Api.Zoo.AskAsync<string>("SELECT name FROM yard.boat WHERE id = 7"));
        var shown = await yard.PostAsync($"{panels["boat"]}/set-aside/{done["parcel"]}/return-plan", new { });
        Assert.Empty(shown["conflicts"]!.AsArray());
        await yard.PostAsync($"{panels["boat"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Merge_WhoseBringingBackWasRefusedOnce_StillComesBackWhole()
    {
        var panels = await MakeAsync(alike: false);
        await yard.ChangeAsync(panels["owner"], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var before = await yard.StateAsync();
        var done = await yard.PostAsync(
            $"{panels["owner"]}/duplicates/merge",
            new
            {
                survivor = "5",
                others = new[] { "21" },
                values = new Dictionary<string, string>(),
            }
        );
        var address = $"{panels["owner"]}/set-aside/{done["parcel"]}/return";
        await yard.Api.Zoo.ExecuteAsync("ALTER TABLE yard.owner ADD CONSTRAINT small CHECK (id < 21 OR id = 22)");
        Assert.Equal(HttpStatusCode.BadRequest, (await yard.Api.Client.PostAsJsonAsync(address, new { }, Token)).StatusCode);
        await yard.Api.Zoo.ExecuteAsync("ALTER TABLE yard.owner DROP CONSTRAINT small");
        await yard.PostAsync(address, new { });
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Merge_WithItself_OrWithWhatIsNotThere_IsRefused()
    {
        var panels = await MakeAsync(alike: false);
        var before = await yard.StateAsync();
        foreach (
            var (body, status) in new (object, HttpStatusCode)[]
            {
                (
                    new
                    {
                        survivor = "5",
                        others = new[] { "5" },
                        values = new Dictionary<string, string>(),
                    },
                    HttpStatusCode.BadRequest
                ),
                (
                    new
                    {
                        survivor = "5",
                        others = Array.Empty<string>(),
                        values = new Dictionary<string, string>(),
                    },
                    HttpStatusCode.BadRequest
                ),
                (
                    new
                    {
                        survivor = "5",
                        others = new[] { "9999" },
                        values = new Dictionary<string, string>(),
                    },
                    HttpStatusCode.NotFound
                ),
                (
                    new
                    {
                        survivor = "5",
                        others = new[] { "21" },
                        values = new Dictionary<string, string> { ["id"] = "21" },
                    },
                    HttpStatusCode.BadRequest
                ),
                (
                    new
                    {
                        survivor = "5",
                        others = new[] { "21" },
                        values = new Dictionary<string, string> { ["name"] = "6" },
                    },
                    HttpStatusCode.BadRequest
                ),
            }
        )
        {
            Assert.Equal(
                status,
                (await yard.Api.Client.PostAsJsonAsync($"{panels["owner"]}/duplicates/merge", body, Token)).StatusCode
            );
        }

        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Merge_ThatATriggerHoldsBack_LeavesEverything()
    {
        var panels = await MakeAsync(alike: false);
        await yard.ChangeAsync(panels["owner"], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        await yard.Api.Zoo.ExecuteAsync(
            """
            CREATE FUNCTION yard.hold() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RETURN NULL; END $$;
            CREATE TRIGGER hold_back BEFORE DELETE ON yard.owner FOR EACH ROW EXECUTE FUNCTION yard.hold()
            """
        );
        var before = await yard.StateAsync();
        var refused = await yard.Api.Client.PostAsJsonAsync(
            $"{panels["owner"]}/duplicates/merge",
            new
            {
                survivor = "5",
                others = new[] { "21" },
                values = new Dictionary<string, string>(),
            },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains("a trigger or rule", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal(before, await yard.StateAsync());
        Assert.Empty((await yard.GetAsync($"{panels["owner"]}/set-aside"))["parcels"]!.AsArray());
    }

    [Fact]
    public async Task Merge_OfASensitiveReference_TellsOnlyThatItChanged()
    {
        var panels = await MakeAsync(alike: false);
        await yard.ChangeAsync(panels["boat"], panel => RemovalFixture.Column(panel, "owner_id")["isSensitive"] = true);
        var boat = await yard.Api.Zoo.AskAsync<int>("SELECT min(id) FROM yard.boat WHERE owner_id = 21");
        await yard.PostAsync(
            $"{panels["owner"]}/duplicates/merge",
            new
            {
                survivor = "5",
                others = new[] { "21" },
                values = new Dictionary<string, string>(),
            }
        );
        var change = (await yard.GetAsync($"{panels["boat"]}/records/{boat}/history"))["steps"]![0]!["changes"]![0]!;
        Assert.Equal(("owner_id", true, null), ((string)change["column"]!, (bool)change["isHidden"]!, (string?)change["to"]));
    }

    private async Task<Dictionary<string, string>> MakeAsync(bool alike)
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync(
            "INSERT INTO yard.owner (id, name) VALUES (21, 'OWNER 5 '), (22, 'owner 5b'); UPDATE yard.boat SET owner_id = 21 WHERE owner_id = 6"
        );
        await NameAsync(panels["owner"], alike);
        return panels;
    }

    private Task NameAsync(string panel, bool alike, string? column = "name") =>
        yard.ChangeAsync(panel, definition =>
            definition["duplicates"] = column is null
                ? new JsonArray()
                : new JsonArray(new JsonObject { ["name"] = column, ["alike"] = alike })
        );

    private static string Groups(JsonNode found) =>
        string.Join(
            ", ",
            found["groups"]!
                .AsArray()
                .Select(group =>
                    string.Join('+', group!["records"]!.AsArray().Select(record => (string)record!["key"]!).OrderBy(int.Parse))
                )
        );
}
