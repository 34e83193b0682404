using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using CsCheck;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>The running order: numbering, moves, and people who move at once.</summary>
public sealed class OrderingTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Order_ThatWasNeverNumbered_SaysSo_AndIsNumberedByOneStep()
    {
        var panel = await MakeAsync("integer", "1");
        var state = await yard.GetAsync($"{panel}/order");
        Assert.Equal(
            (20, 18, false),
            ((int)state["state"]!["records"]!, (int)state["state"]!["tied"]!, (bool)state["isNumbered"]!)
        );
        Assert.Contains(
            "Number them first",
            await RefusedAsync(panel, new { keys = new[] { "3" }, toEnd = true }),
            StringComparison.Ordinal
        );
        var shown = await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "-name" }, isPreview = true });
        Assert.Equal((20, 20, "slot 9"), ((int)shown["records"]!, (int)shown["changed"]!, (string)shown["first"]![0]!));
        Assert.Equal(1, await yard.Api.Zoo.AskAsync<long>("SELECT count(DISTINCT pos) FROM yard.slot"));
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "-name" }, isPreview = false });
        Assert.True((bool)(await yard.GetAsync($"{panel}/order"))["isNumbered"]!);
        Assert.Equal("9,8,7,6,5,4,3,2,10,1", await OrderAsync("a"));
        Assert.Equal(
            0,
            (int)
                (await yard.PostAsync($"{panel}/order/numbering", new { by = Array.Empty<string>(), isPreview = true }))[
                    "changed"
                ]!
        );
    }

    [Theory]
    [InlineData("integer", false)]
    [InlineData("smallint", false)]
    [InlineData("numeric(8,2)", false)]
    [InlineData("varchar(6)", false)]
    [InlineData("bigint", true)]
    public async Task Move_ByEveryWay_PutsRecordsThere_AndCanBeUndone(string type, bool isDense)
    {
        var panel = await MakeAsync(type, "1", isDense);
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        Assert.Equal("1,2,3,4,5,6,7,8,9,10", await OrderAsync("a"));
        await MoveAsync(panel, new { keys = new[] { "9" }, before = "3" });
        Assert.Equal("1,2,9,3,4,5,6,7,8,10", await OrderAsync("a"));
        await MoveAsync(panel, new { keys = new[] { "1", "8" }, after = "10" });
        Assert.Equal("2,9,3,4,5,6,7,10,1,8", await OrderAsync("a"));
        await MoveAsync(panel, new { keys = new[] { "10" } });
        await MoveAsync(panel, new { keys = new[] { "2" }, toEnd = true });
        Assert.Equal("10,9,3,4,5,6,7,1,8,2", await OrderAsync("a"));
        var last = await MoveAsync(panel, new { keys = new[] { "2" }, place = 3 });
        Assert.Equal("10,9,2,3,4,5,6,7,1,8", await OrderAsync("a"));
        await yard.PostAsync($"{panel}/order/undo", new { entry = (long)last["entry"]! });
        Assert.Equal("10,9,3,4,5,6,7,1,8,2", await OrderAsync("a"));
        Assert.Equal("11,12,13,14,15,16,17,18,19,20", await OrderAsync("b"));
        if (isDense)
            Assert.Equal(0, (int)(await yard.GetAsync($"{panel}/order"))["state"]!["gaps"]!);
        else
            Assert.Equal(1, (int)last["written"]!);
        Assert.True((bool)(await yard.GetAsync($"{panel}/order"))["isNumbered"]!);
    }

    [Fact]
    public async Task Move_ToAnotherGroup_OrUndoneTooLate_IsRefused()
    {
        var panel = await MakeAsync("integer", "1");
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        Assert.Contains(
            "another group",
            await RefusedAsync(panel, new { keys = new[] { "3" }, after = "15" }),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "different groups",
            await RefusedAsync(panel, new { keys = new[] { "3", "15" } }),
            StringComparison.Ordinal
        );
        var first = await MoveAsync(panel, new { keys = new[] { "3" }, toEnd = true });
        await MoveAsync(panel, new { keys = new[] { "3" } });
        var answer = await yard.Api.Client.PostAsJsonAsync($"{panel}/order/undo", new { entry = (long)first["entry"]! }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("moved records there since", await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Moves_IntoTheSameGap_MakeRoomAgainAndAgain()
    {
        var panel = await MakeAsync("smallint", "1");
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        var written = 0;
        for (var n = 0; n < 60; n++)
            written += (int)(await MoveAsync(panel, new { keys = new[] { n % 2 == 0 ? "7" : "8" }, after = "1" }))["written"]!;
        Assert.Equal("1,8,7,2,3,4,5,6,9,10", await OrderAsync("a"));
        Assert.InRange(written, 60, 180);
    }

    [Fact]
    public async Task Moves_AtOnceAndAtRandom_LoseNothing_AndKeepGroups()
    {
        var panel = await MakeAsync("integer", "1");
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        await Gen.Select(Gen.Int[1, 20], Gen.Int[1, 20], Gen.Bool)
            .List[12, 12]
            .SampleAsync(
                async moves =>
                {
                    var answers = await Task.WhenAll(
                        moves.Select(async move =>
                        {
                            var (key, other, isBefore) = move;
                            var answer = await yard.Api.Client.PostAsJsonAsync(
                                $"{panel}/order/moves",
                                isBefore
                                    ? new
                                    {
                                        keys = new[] { $"{key}" },
                                        before = (string?)$"{other}",
                                        after = (string?)null,
                                    }
                                    : new
                                    {
                                        keys = new[] { $"{key}" },
                                        before = (string?)null,
                                        after = (string?)$"{other}",
                                    },
                                Token
                            );
                            return (move, answer.StatusCode);
                        })
                    );
                    // Only what would leave its group is refused.
                    Assert.All(answers, answer =>
                        Assert.Equal(
                            ((answer.move.Item1 - 1) / 10) == ((answer.move.Item2 - 1) / 10),
                            answer.StatusCode is HttpStatusCode.OK
                        )
                    );
                    Assert.Equal(20, await yard.Api.Zoo.AskAsync<long>("SELECT count(DISTINCT (side, pos)) FROM yard.slot"));
                    Assert.Equal(
                        "1,10,2,3,4,5,6,7,8,9",
                        string.Join(',', (await OrderAsync("a")).Split(',').Order(StringComparer.Ordinal))
                    );
                },
                iter: 12,
                threads: 1
            );
    }

    [Theory]
    [InlineData(false, "1,2,3,4,5,6,7,8,9,10,99")]
    [InlineData(true, "99,1,2,3,4,5,6,7,8,9,10")]
    public async Task NewRecord_StandsLastOrFirst(bool comesFirst, string order)
    {
        var panel = await MakeAsync("integer", "1");
        await yard.ChangeAsync(panel, definition => definition["order"]!["newComesFirst"] = comesFirst);
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        await yard.Api.Zoo.ExecuteAsync("UPDATE yard.slot SET pos = pos + 5000");
        var answer = await yard.Api.Client.PostAsJsonAsync(
            $"{panel}/records",
            new
            {
                values = new Dictionary<string, string>
                {
                    ["id"] = "99",
                    ["name"] = "new",
                    ["side"] = "a",
                },
            },
            Token
        );
        Assert.Equal(HttpStatusCode.Created, answer.StatusCode);
        Assert.Equal(order, await OrderAsync("a"));
    }

    [Theory]
    [InlineData("integer", true, "1,2,3,4,5,6,7,8,9,10,11,12")]
    [InlineData("varchar(4)", true, "1,2,3,4,5,6,7,8,9,10,11,12")]
    [InlineData("integer", false, "")]
    public async Task NewRecord_ThatComesFirst_MovesTheOthersOn_WhereThereIsNoRoom(string type, bool isDense, string positions)
    {
        foreach (var unique in (string[])["", "CREATE UNIQUE INDEX ON yard.slot (side, pos)"])
        {
            var panel = await MakeAsync(type, "1", isDense);
            await yard.ChangeAsync(panel, definition => definition["order"]!["newComesFirst"] = true);
            await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
            await yard.Api.Zoo.ExecuteAsync($"UPDATE yard.slot SET pos = {(isDense ? "pos" : "id")}; {unique}");
            await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
            foreach (var id in (string[])["98", "99"])
            {
                var answer = await yard.Api.Client.PostAsJsonAsync(
                    $"{panel}/records",
                    new
                    {
                        values = new Dictionary<string, string>
                        {
                            ["id"] = id,
                            ["name"] = "new",
                            ["side"] = "a",
                        },
                    },
                    Token
                );
                Assert.True(answer.StatusCode is HttpStatusCode.Created, await answer.Content.ReadAsStringAsync(Token));
            }

            Assert.Equal("99,98,1,2,3,4,5,6,7,8,9,10", await OrderAsync("a"));
            Assert.Equal("11,12,13,14,15,16,17,18,19,20", await OrderAsync("b"));
            if (isDense)
                Assert.Equal(
                    positions,
                    await yard.Api.Zoo.AskAsync<string>(
                        "SELECT string_agg(pos::int::text, ',' ORDER BY pos::int) FROM yard.slot WHERE side = 'a'"
                    )
                );
            var steps = (await yard.GetAsync($"{panel}/records/98/history"))["steps"]!.AsArray();
            Assert.Equal("added", (string)steps[^1]!["act"]!);
        }
    }

    [Theory]
    [InlineData("integer", false)]
    [InlineData("integer", true)]
    [InlineData("varchar(6)", true)]
    public async Task Moves_WhereEachPositionMayBeThereOnce_ChangePlacesAllTheSame(string type, bool isDense)
    {
        var panel = await MakeAsync(type, "1", isDense);
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "id" }, isPreview = false });
        await yard.Api.Zoo.ExecuteAsync("CREATE UNIQUE INDEX ON yard.slot (side, pos)");
        await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
        await MoveAsync(panel, new { keys = new[] { "9" }, before = "3" });
        await MoveAsync(panel, new { keys = new[] { "1", "8" }, after = "10" });
        Assert.Equal("2,9,3,4,5,6,7,10,1,8", await OrderAsync("a"));
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "-id" }, isPreview = false });
        Assert.Equal("10,9,8,7,6,5,4,3,2,1", await OrderAsync("a"));
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "name" }, isPreview = false });
        Assert.Equal("1,10,2,3,4,5,6,7,8,9", await OrderAsync("a"));
    }

    [Fact]
    public async Task Move_InALargeTable_ReadsItsNeighboursOnly()
    {
        var panel = await MakeAsync("integer", "1");
        await yard.Api.Zoo.ExecuteAsync(
            """
            INSERT INTO yard.slot SELECT n, 'slot ' || n, 'a', 1 FROM generate_series(21, 30000) n; UPDATE yard.slot SET side = 'a', pos = id * 1000;
            CREATE INDEX ON yard.slot (side, pos)
            """
        );
        await yard.Api.Zoo.ExecuteAsync("VACUUM ANALYZE yard.slot");
        const string Read = "SELECT seq_tup_read + idx_tup_fetch FROM pg_stat_user_tables WHERE relid = 'yard.slot'::regclass";
        await yard.Api.Zoo.AskAsync<string>("SELECT pg_stat_force_next_flush()::text");
        var before = await yard.Api.Zoo.AskAsync<long>(Read);
        await MoveAsync(panel, new { keys = new[] { "29000" }, after = "15000" });
        await MoveAsync(panel, new { keys = new[] { "29001" }, toEnd = true });
        // Sessions tell what they have read after a while.
        await RemovalFixture.UntilAsync(async () => await yard.Api.Zoo.AskAsync<long>(Read) > before);
        await Task.Delay(1500, Token);
        Assert.InRange(await yard.Api.Zoo.AskAsync<long>(Read) - before, 1, 2_000);
    }

    [Fact]
    public async Task LooseEnds_WhereItSortsOtherwise_AreFoundAndMended()
    {
        var panel = await MakeAsync("integer", "1");
        await yard.Api.Zoo.ExecuteAsync("CREATE VIEW yard.shown AS SELECT id, name FROM yard.slot ORDER BY name");
        await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
        await yard.ChangeAsync(panel, definition =>
            definition["sort"] = new JsonArray(new JsonObject { ["column"] = "name", ["descending"] = false })
        );
        foreach (var (name, isForAll) in new[] { ("By name", true), ("Mine", false) })
        {
            var kept = await yard.Api.Client.PutAsJsonAsync(
                $"{panel}/views/{name}",
                new
                {
                    isForAll,
                    isStart = false,
                    view = new { search = "slot", sort = new[] { "name" } },
                },
                Token
            );
            Assert.True(kept.IsSuccessStatusCode, await kept.Content.ReadAsStringAsync(Token));
        }

        var ends = (await yard.GetAsync("/api/porches/zoo/loose-ends")).AsArray();
        Assert.Equal(
            ["listSortsOtherwise ", "keptListSortsOtherwise By name", "viewSortsOtherwise yard.shown"],
            ends.Select(end => $"{end!["kind"]} {end["subject"]}")
        );
        foreach (var end in ends)
        {
            var answer = await yard.Api.Client.PostAsJsonAsync("/api/porches/zoo/loose-ends/mend", end, Token);
            Assert.Equal((bool)end!["canBeMended"]! ? HttpStatusCode.NoContent : HttpStatusCode.Conflict, answer.StatusCode);
        }

        Assert.Equal(
            HttpStatusCode.Conflict,
            (await yard.Api.Client.PostAsJsonAsync("/api/porches/zoo/loose-ends/mend", ends[0], Token)).StatusCode
        );
        Assert.Equal(
            "yard.shown",
            (string)Assert.Single((await yard.GetAsync("/api/porches/zoo/loose-ends")).AsArray())!["subject"]!
        );
        var views = (await yard.GetAsync($"{panel}/views"))
            .AsArray()
            .ToDictionary(view => (string)view!["name"]!, view => view!["view"]!);
        Assert.Equal(
            ("slot", 0, 1),
            (
                (string)views["By name"]["search"]!,
                views["By name"]["sort"]!.AsArray().Count,
                views["Mine"]["sort"]!.AsArray().Count
            )
        );
        Assert.Equal(HttpStatusCode.NotFound, (await yard.Api.Client.GetAsync("/api/porches/none/loose-ends", Token)).StatusCode);
    }

    [Fact]
    public async Task NewOrder_IsTheListsOwn()
    {
        var panel = await MakeAsync("integer", "1");
        await yard.PostAsync($"{panel}/order/numbering", new { by = new[] { "-id" }, isPreview = false });
        var rows = (await yard.GetAsync($"{panel}/records"))["rows"]!.AsArray();
        Assert.Equal(["10", "9", "8"], rows.Take(3).Select(row => (string)row!["key"]!));
    }

    private async Task<string> MakeAsync(string type, string position, bool isDense = false)
    {
        await yard.MakeAsync();
        await yard.Api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE yard.slot (id int PRIMARY KEY, name text NOT NULL, side text, pos {type});
            INSERT INTO yard.slot SELECT n, 'slot ' || n, CASE WHEN n <= 10 THEN 'a' ELSE 'b' END, '{position}' FROM generate_series(1, 20) n
            """
        );
        await yard.Api.Client.PostAsync($"/api/sources/{yard.Api.SourceId}/snapshot", null, Token);
        var panel = await yard.Api.MakePanelAsync("yard", "slot");
        await yard.ChangeAsync(panel, definition =>
        {
            definition["order"] = new JsonObject
            {
                ["column"] = "pos",
                ["group"] = "side",
                ["isDense"] = isDense,
            };
            definition["title"] = "{name}";
        });
        return panel;
    }

    private Task<string> OrderAsync(string side) =>
        yard.Api.Zoo.AskAsync<string>($"SELECT string_agg(id::text, ',' ORDER BY pos, id) FROM yard.slot WHERE side = '{side}'");

    private Task<JsonNode> MoveAsync(string panel, object move) => yard.PostAsync($"{panel}/order/moves", move);

    private async Task<string> RefusedAsync(string panel, object move)
    {
        var answer = await yard.Api.Client.PostAsJsonAsync($"{panel}/order/moves", move, Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        return await answer.Content.ReadAsStringAsync(Token);
    }
}
