using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using CsCheck;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Removal;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>Setting aside, bringing back and erasing, over the API and on a real database.</summary>
public sealed class RemovalTests(RemovalFixture yard) : IClassFixture<RemovalFixture>
{
    private static readonly (string, string)[] _along = [("boat.owner_id", "owner"), ("stay.boat_id", "boat")];

    private static readonly (string, string)[] _files =
    [
        ("file.folder", "folder"),
        ("folder.parent", "folder"),
        ("folder.first_file", "file"),
    ];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task SetAside_TakesAlongWhatBelongsToIt_AndBringingBackRestoresEachByte()
    {
        var panels = await yard.MakeAsync(_along);
        var before = await yard.StateAsync();
        var plan = await PlanAsync(panels["owner"], "3");
        Assert.Equal("Boats 3 mark, Stays 12 move", Along(plan));
        Assert.Equal(
            (
                await yard.Api.Zoo.AskAsync<long>("SELECT count(*) FROM yard.boat WHERE owner_id = 3"),
                await yard.Api.Zoo.AskAsync<long>(
                    "SELECT count(*) FROM yard.stay WHERE boat_id IN (SELECT id FROM yard.boat WHERE owner_id = 3)"
                )
            ),
            ((long)plan["along"]![0]!["count"]!, (long)plan["along"]![1]!["count"]!)
        );
        Assert.Equal(
            ("owner 3", true, 16),
            ((string)plan["records"]![0]!["title"]!, (bool)plan["canBeBroughtBack"]!, (int)plan["count"]!)
        );

        var done = await RemoveAsync(panels["owner"], plan, "3");
        Assert.Equal(
            "Y|Dora Tes",
            await yard.Api.Zoo.AskAsync<string>(
                "SELECT gone || '|' || gone_by FROM yard.owner WHERE id = 3 AND gone_on > now() - interval '1 minute'"
            )
        );
        Assert.Equal((3, 228), (await yard.CountAsync("boat WHERE gone = 'Y'"), await yard.CountAsync("stay")));
        Assert.DoesNotContain("3", await KeysAsync(panels["owner"], "records"));
        Assert.Equal(["3"], await KeysAsync(panels["owner"], "records?aside=true"));
        var page = await yard.GetAsync($"{panels["owner"]}/set-aside");
        Assert.Equal(
            ("owner 3", ApiFixture.Developer),
            ((string)page["parcels"]![0]!["title"]!, (string)page["parcels"]![0]!["who"]!)
        );

        var back = await yard.PostAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal((16, 0), ((int)back["count"]!, (int)back["staying"]!));
        Assert.Equal(before, await yard.StateAsync());
        Assert.Empty((await yard.GetAsync($"{panels["owner"]}/set-aside"))["parcels"]!.AsArray());
    }

    [Fact]
    public async Task Plan_EachPart_CanBeLookedThroughToItsEnd()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync("INSERT INTO yard.stay SELECT 1000 + n, 23 FROM generate_series(1, 150) n");
        var plan = await PlanAsync(panels["owner"], "3");
        var stays = plan["along"]![1]!;
        Assert.Equal(("Stays", 162), ((string)stays["label"]!, (int)stays["count"]!));
        var keys = new List<string>();
        for (var hasMore = true; hasMore; )
        {
            var page = await yard.PostAsync(
                $"{panels["owner"]}/removal-plan/records",
                new
                {
                    keys = new[] { "3" },
                    part = (int)stays["part"]!,
                    skip = keys.Count,
                }
            );
            keys.AddRange(page["records"]!.AsArray().Select(record => (string)record!["key"]!));
            hasMore = (bool)page["hasMore"]!;
        }

        Assert.Equal((162, 162), (keys.Count, keys.Distinct().Count()));
        Assert.Equal(
            "100,62",
            await yard.Api.Zoo.AskAsync<string>(
                "SELECT '100,' || count(*) - 100 FROM yard.stay WHERE boat_id IN (SELECT id FROM yard.boat WHERE owner_id = 3)"
            )
        );
        var links = (await PlanAsync((await yard.MakeAsync(_files))["folder"], "2"))["detached"]![0]!;
        var linked = await yard.PostAsync(
            $"{panels["folder"]}/removal-plan/records",
            new { keys = new[] { "2" }, part = (int)links["part"]! }
        );
        Assert.Equal((3, null), (linked["records"]!.AsArray().Count, (string?)linked["records"]![0]!["key"]));
        foreach (
            var (part, skip, status) in new[]
            {
                (99, 0, HttpStatusCode.NotFound),
                (-1, 0, HttpStatusCode.NotFound),
                (0, -1, HttpStatusCode.BadRequest),
            }
        )
            Assert.Equal(
                status,
                (
                    await yard.Api.Client.PostAsJsonAsync(
                        $"{panels["folder"]}/removal-plan/records",
                        new
                        {
                            keys = new[] { "2" },
                            part,
                            skip,
                        },
                        Token
                    )
                ).StatusCode
            );
    }

    [Fact]
    public async Task Keep_WithCirclesCascadesAndAllSortsOfColumns_RestoresEachByte()
    {
        var panels = await yard.MakeAsync(_files);
        var before = await yard.StateAsync();
        var plan = await PlanAsync(panels["folder"], "2");
        // Below it another folder; in it files, marks by the database's cascade; links lose it by the database.
        Assert.Equal("Folders 1 move, Files 3 move, Marks 3 move", Along(plan));
        Assert.Equal("Links 3", Affected(plan, "detached"));
        var done = await RemoveAsync(panels["folder"], plan, "2");
        Assert.Equal((1, 3, 3), (await yard.CountAsync("folder"), await yard.CountAsync("file"), await yard.CountAsync("mark")));
        await yard.PostAsync(
            $"{panels["folder"]}/set-aside/{done["parcel"]}/return",
            new
            {
                choices = new[]
                {
                    new
                    {
                        place = 3,
                        kind = "gone",
                        columns = Array.Empty<string>(),
                        remedy = "leave",
                    },
                },
            }
        );
        // What has no key cannot be found again to get its reference back.
        await yard.Api.Zoo.ExecuteAsync("UPDATE yard.link SET folder = 2");
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Remove_WhatForbidsIt_IsNamed_WithTheWayThere()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.ChangeAsync(panels["stay"], panel => RemovalFixture.Column(panel, "berth")["lookup"] = new JsonObject
            {
                ["table"] = new JsonObject { ["schema"] = "yard", ["name"] = "berth" },
                ["key"] = "code",
            });
        var plan = await PlanAsync(panels["berth"], "B3");
        var way = plan["forbidding"]![0]!;
        Assert.Equal(("Stays", "stays", "berth"), ((string)way["label"]!, (string)way["panel"]!, (string)way["column"]!));
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await TryRemoveAsync(panels["berth"], (string)plan["fingerprint"]!, "B3")).StatusCode
        );
        Assert.Equal(7, await yard.CountAsync("berth"));
    }

    [Fact]
    public async Task Remove_AfterAChange_ShowsItAnewInstead()
    {
        var panels = await yard.MakeAsync(_along);
        var plan = await PlanAsync(panels["owner"], "3");
        await yard.Api.Zoo.ExecuteAsync("UPDATE yard.stay SET berth = 'B0' WHERE boat_id = 23 AND id < 60");
        var answer = await TryRemoveAsync(panels["owner"], (string)plan["fingerprint"]!, "3");
        Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
        var now = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
        Assert.NotEqual((string)plan["fingerprint"]!, (string)now["fingerprint"]!);
        Assert.Equal(0, await yard.CountAsync("owner WHERE gone = 'Y'"));
        await RemoveAsync(panels["owner"], now, "3");
    }

    [Fact]
    public async Task Erase_ManyRecords_WantsTheNumber_AndLeavesNoParcel()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.ChangeAsync(panels["owner"], panel => panel["removal"] = new JsonObject { ["manner"] = "Erase" });
        var plan = await PlanAsync(panels["owner"], "3", "4");
        Assert.Equal((true, false, 32), ((bool)plan["mustBeTyped"]!, (bool)plan["canBeBroughtBack"]!, (int)plan["count"]!));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await TryRemoveAsync(panels["owner"], (string)plan["fingerprint"]!, "3", "4")).StatusCode
        );
        Assert.Equal(20, await yard.CountAsync("owner"));
        var answer = await yard.Api.Client.PostAsJsonAsync(
            $"{panels["owner"]}/removals",
            new
            {
                keys = new[] { "3", "4" },
                fingerprint = (string)plan["fingerprint"]!,
                typed = 32,
            },
            Token
        );
        Assert.Null((await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["parcel"]);
        Assert.Equal(
            (18, 54, 216),
            (await yard.CountAsync("owner"), await yard.CountAsync("boat"), await yard.CountAsync("stay"))
        );
    }

    [Fact]
    public async Task BringBack_WhenItsKeyWasTakenMeanwhile_AsksAndLeavesTheRestAside()
    {
        var panels = await yard.MakeAsync(_along);
        var done = await RemoveAsync(panels["stay"], await PlanAsync(panels["stay"], "5", "6"), "5", "6");
        await yard.Api.Zoo.ExecuteAsync("INSERT INTO yard.stay (id) VALUES (5)");
        var address = $"{panels["stay"]}/set-aside/{done["parcel"]}";
        var shown = await yard.PostAsync($"{address}/return-plan", new { });
        Assert.Equal(
            ("taken", "id", 1),
            (
                (string)shown["conflicts"]![0]!["kind"]!,
                (string)shown["conflicts"]![0]!["columns"]![0]!,
                (int)shown["conflicts"]![0]!["count"]!
            )
        );
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await yard.Api.Client.PostAsJsonAsync($"{address}/return", new { }, Token)).StatusCode
        );
        var back = await yard.PostAsync(
            $"{address}/return",
            new
            {
                choices = new[]
                {
                    new
                    {
                        place = 0,
                        kind = "taken",
                        columns = new[] { "id" },
                        remedy = "leave",
                    },
                },
            }
        );
        Assert.Equal((1, 1), ((int)back["count"]!, (int)back["staying"]!));
        Assert.Equal("5", (string)(await yard.GetAsync($"{address}/parts/0"))[0]!["key"]!);
        await yard.Api.Zoo.ExecuteAsync("DELETE FROM yard.stay WHERE id = 5");
        await yard.PostAsync($"{address}/return", new { });
        Assert.Equal(240, await yard.CountAsync("stay"));
    }

    [Fact]
    public async Task BringBack_UnderANewNumber_TakesAlongWhatRefersToIt_OverSeveralTables()
    {
        var panels = await yard.MakeAsync(_along);
        foreach (var table in (string[])["owner", "boat"])
            await yard.ChangeAsync(panels[table], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var done = await RemoveAsync(panels["owner"], await PlanAsync(panels["owner"], "3"), "3");
        await yard.Api.Zoo.ExecuteAsync(
            "INSERT INTO yard.owner (id, name) VALUES (3, 'a stranger'); INSERT INTO yard.boat (id, name) VALUES (23, 'another boat')"
        );
        var address = $"{panels["owner"]}/set-aside/{done["parcel"]}";
        var choices = new[]
        {
            new
            {
                place = 0,
                kind = "taken",
                columns = new[] { "id" },
                remedy = "newNumber",
            },
            new
            {
                place = 1,
                kind = "taken",
                columns = new[] { "id" },
                remedy = "newNumber",
            },
        };
        var shown = await yard.PostAsync($"{address}/return-plan", new { });
        Assert.Equal(["leave", "newNumber"], shown["conflicts"]![0]!["remedies"]!.AsArray().Select(remedy => (string)remedy!));
        var decided = await yard.PostAsync($"{address}/return-plan", new { choices });
        Assert.Equal(
            (2, 16),
            (decided["conflicts"]!.AsArray().Count, decided["parts"]!.AsArray().Sum(part => (int)part!["count"]!))
        );

        var back = await yard.PostAsync($"{address}/return", new { choices });
        Assert.Equal((16, 0), ((int)back["count"]!, (int)back["staying"]!));
        Assert.Equal(
            ["owner 3: 3 -> 21", "boat 23: 23 -> 61"],
            back["renumbered"]!.AsArray().Select(one => $"{one!["title"]}: {one["before"]} -> {one["after"]}")
        );
        Assert.Equal(
            ("owner 3", "a stranger"),
            (
                await yard.Api.Zoo.AskAsync<string>("SELECT name FROM yard.owner WHERE id = 21"),
                await yard.Api.Zoo.AskAsync<string>("SELECT name FROM yard.owner WHERE id = 3")
            )
        );
        Assert.Equal(
            (3, 0),
            (await yard.CountAsync("boat WHERE owner_id = 21"), await yard.CountAsync("boat WHERE owner_id = 3"))
        );
        Assert.Equal(
            (4, 0),
            (await yard.CountAsync("stay WHERE boat_id = 61"), await yard.CountAsync("stay WHERE boat_id = 23"))
        );
        var step = (await yard.GetAsync($"{panels["boat"]}/records/61/history"))["steps"]![0]!;
        Assert.Equal(
            "broughtBack: id 23 -> 61, owner_id 3 -> 21",
            $"{step["act"]}: {string.Join(", ", step["changes"]!.AsArray().OrderBy(change => (string)change!["column"]!).Select(change => $"{change!["column"]} {change["from"]} -> {change["to"]}"))}"
        );
    }

    [Fact]
    public Task BringBack_WhateverNumbersWereTaken_KeepsWhatBelongsTogether() =>
        Gen.Select(Gen.Bool, Gen.Int[0, 7], Gen.Int[0, 4095])
            .SampleAsync(
                async (isOwnerTaken, boats, stays) =>
                {
                    var panels = await yard.MakeAsync(_along);
                    foreach (var table in (string[])["owner", "boat"])
                        await yard.ChangeAsync(panels[table], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
                    const string Together = """
                        SELECT string_agg(concat_ws(' ', o.name, b.name, s.berth, s.price), ', ' ORDER BY b.name, s.price)
                        FROM yard.owner o JOIN yard.boat b ON b.owner_id = o.id JOIN yard.stay s ON s.boat_id = b.id WHERE o.name = 'owner 3'
                        """;
                    var before = await yard.Api.Zoo.AskAsync<string>(Together);
                    var done = await RemoveAsync(panels["owner"], await PlanAsync(panels["owner"], "3"), "3");
                    var gone = Enumerable.Range(1, 240).Where(n => n % 60 is 3 or 23 or 43).ToList();
                    var taken = new[] { 3, 23, 43 }.Where((_, i) => (boats >> i & 1) == 1).ToList();
                    await yard.Api.Zoo.ExecuteAsync(
                        string.Join(
                            ';',
                            (string[])
                                [
                                    .. isOwnerTaken
                                        ? ["INSERT INTO yard.owner (id, name) VALUES (3, 'stranger')"]
                                        : Array.Empty<string>(),
                                    .. taken.Select(id => $"INSERT INTO yard.boat (id, name) VALUES ({id}, 'stranger')"),
                                    .. gone.Where((_, i) => (stays >> i & 1) == 1)
                                        .Select(id => $"INSERT INTO yard.stay (id) VALUES ({id})"),
                                    "SELECT 1",
                                ]
                        )
                    );
                    var strangers = (
                        await yard.CountAsync("owner"),
                        await yard.CountAsync("boat"),
                        await yard.CountAsync("stay")
                    );
                    var choices = Enumerable
                        .Range(0, 3)
                        .Select(place => new
                        {
                            place,
                            kind = "taken",
                            columns = new[] { "id" },
                            remedy = "newNumber",
                        });
                    var back = await yard.PostAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", new { choices });
                    Assert.Equal((16, 0), ((int)back["count"]!, (int)back["staying"]!));
                    Assert.Equal(before, await yard.Api.Zoo.AskAsync<string>(Together));
                    Assert.Equal(
                        (strangers.Item1 + 1, strangers.Item2 + 3, strangers.Item3 + 12),
                        (await yard.CountAsync("owner"), await yard.CountAsync("boat"), await yard.CountAsync("stay"))
                    );
                    Assert.Equal(
                        0,
                        await yard.CountAsync("stay s JOIN yard.boat b ON b.id = s.boat_id WHERE b.name = 'stranger'")
                    );
                    Assert.Equal(
                        0,
                        await yard.CountAsync("boat b JOIN yard.owner o ON o.id = b.owner_id WHERE o.name = 'stranger'")
                    );
                },
                iter: 10,
                threads: 1
            );

    [Fact]
    public async Task BringBack_UnderANewNumber_FollowsCompositeKeys_IdentitiesAndCircles()
    {
        var panels = await yard.MakeAsync(_files);
        var before = await yard.CountAsync(
            "mark m JOIN yard.file f ON f.id = m.file JOIN yard.folder o ON o.id = f.folder AND o.name = 'below'"
        );
        var done = await RemoveAsync(panels["folder"], await PlanAsync(panels["folder"], "2"), "2");
        // Another program that numbers by itself is ahead of the sequence.
        await yard.Api.Zoo.ExecuteAsync(
            "INSERT INTO yard.folder (id, name) OVERRIDING SYSTEM VALUE VALUES (2, 'newcomer'), (4, 'ahead'); INSERT INTO yard.file (id, folder) VALUES (1, 4)"
        );
        var choices = new[]
        {
            new
            {
                place = 0,
                kind = "taken",
                columns = new[] { "id" },
                remedy = "newNumber",
            },
            new
            {
                place = 1,
                kind = "taken",
                columns = new[] { "id" },
                remedy = "newNumber",
            },
        };
        var back = await yard.PostAsync($"{panels["folder"]}/set-aside/{done["parcel"]}/return", new { choices });
        Assert.Equal(
            "below: 2 -> 5",
            back["renumbered"]!.AsArray().Select(one => $"{one!["title"]}: {one["before"]} -> {one["after"]}").First()
        );
        Assert.Equal(
            "5|10|7|1",
            await yard.Api.Zoo.AskAsync<string>(
                "SELECT concat_ws('|', id, doubled, first_file, parent) FROM yard.folder WHERE name = 'below'"
            )
        );
        Assert.Equal(
            (1, before, 1),
            (
                await yard.CountAsync("folder WHERE name = 'aside' AND parent = 5"),
                await yard.CountAsync("mark m JOIN yard.file f ON f.id = m.file WHERE f.folder = 5"),
                await yard.CountAsync("mark WHERE id = 1 AND file = 7")
            )
        );
    }

    [Fact]
    public async Task BringBack_UnderANewNumber_IsRefused_WhileWhatBelongsToItWouldStay()
    {
        var panels = await yard.MakeAsync(_along);
        foreach (var table in (string[])["owner", "boat"])
            await yard.ChangeAsync(panels[table], panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var done = await RemoveAsync(panels["owner"], await PlanAsync(panels["owner"], "3"), "3");
        await yard.Api.Zoo.ExecuteAsync("INSERT INTO yard.owner (id, name) VALUES (3, 'a stranger')");
        var before = await yard.StateAsync();
        var body = new
        {
            parts = new object[] { new { place = 0 }, new { place = 1, without = new[] { 1 } } },
            choices = new[]
            {
                new
                {
                    place = 0,
                    kind = "taken",
                    columns = new[] { "id" },
                    remedy = "newNumber",
                },
            },
        };
        var refused = await yard.Api.Client.PostAsJsonAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", body, Token);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains(
            "“boat 23” of Boats would stay set aside",
            await refused.Content.ReadAsStringAsync(Token),
            StringComparison.Ordinal
        );
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task BringBack_WhenWhatItRefersToIsGone_CanComeWithoutIt()
    {
        var panels = await yard.MakeAsync(("file.folder", "folder"));
        await yard.Api.Zoo.ExecuteAsync(
            "DELETE FROM yard.link; DELETE FROM yard.mark; UPDATE yard.folder SET first_file = NULL; DELETE FROM yard.file; INSERT INTO yard.link VALUES (NULL, 'x')"
        );
        var done = await RemoveAsync(panels["folder"], await PlanAsync(panels["folder"], "3"), "3");
        await yard.Api.Zoo.ExecuteAsync("DELETE FROM yard.folder WHERE id = 2");
        var choice = new
        {
            place = 0,
            kind = "referredGone",
            columns = new[] { "parent" },
            remedy = "empty",
        };
        await yard.PostAsync($"{panels["folder"]}/set-aside/{done["parcel"]}/return", new { choices = new[] { choice } });
        Assert.Equal(1, await yard.CountAsync("folder WHERE id = 3 AND parent IS NULL"));
    }

    [Fact]
    public async Task BringBack_InPart_LeavesTheRestAside()
    {
        var panels = await yard.MakeAsync(_along);
        var done = await RemoveAsync(panels["owner"], await PlanAsync(panels["owner"], "3"), "3");
        var back = await yard.PostAsync(
            $"{panels["owner"]}/set-aside/{done["parcel"]}/return",
            new { parts = new object[] { new { place = 0 }, new { place = 2, numbers = new[] { 0, 1 } } } }
        );
        Assert.Equal((3, 13), ((int)back["count"]!, (int)back["staying"]!));
        Assert.Equal(
            (0, 3, 230),
            (
                await yard.CountAsync("owner WHERE gone = 'Y'"),
                await yard.CountAsync("boat WHERE gone = 'Y'"),
                await yard.CountAsync("stay")
            )
        );
        // What is left keeps its numbers, so that leaving one out does not mean another.
        var left = await yard.GetAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/parts/2");
        Assert.Equal(Enumerable.Range(2, 10), left.AsArray().Select(record => (int)record!["number"]!));
        back = await yard.PostAsync(
            $"{panels["owner"]}/set-aside/{done["parcel"]}/return",
            new { parts = new object[] { new { place = 2, without = new[] { 2 } } } }
        );
        Assert.Equal((9, 4), ((int)back["count"]!, (int)back["staying"]!));
        Assert.Equal(
            int.Parse((string)left[0]!["key"]!, CultureInfo.InvariantCulture),
            await yard.Api.Zoo.AskAsync<int>(
                "SELECT n FROM generate_series(1, 240) n WHERE NOT EXISTS (SELECT FROM yard.stay WHERE id = n)"
            )
        );
    }

    [Fact]
    public async Task Parcel_ErasedForGood_IsGoneFromTheTableToo()
    {
        var panels = await yard.MakeAsync(_along);
        var done = await RemoveAsync(panels["owner"], await PlanAsync(panels["owner"], "3"), "3");
        var address = $"{panels["owner"]}/set-aside/{done["parcel"]}/erase";
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await yard.Api.Client.PostAsJsonAsync(address, new { typed = 1 }, Token)).StatusCode
        );
        await yard.PostAsync(address, new { typed = 16 });
        Assert.Equal(
            (19, 57, 228),
            (await yard.CountAsync("owner"), await yard.CountAsync("boat"), await yard.CountAsync("stay"))
        );
    }

    [Fact]
    public async Task Parcel_WhoseTimeIsOver_IsErasedWithoutAnybodyAsking_ButForWhatWasBroughtBackElsewhere()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.ChangeAsync(panels["owner"], panel => panel["removal"] = new JsonObject { ["eraseAfterDays"] = 30 });
        var plan = await PlanAsync(panels["owner"], "3");
        Assert.InRange((DateTimeOffset)plan["eraseAt"]!, DateTimeOffset.UtcNow.AddDays(29), DateTimeOffset.UtcNow.AddDays(31));
        var done = await RemoveAsync(panels["owner"], plan, "3");
        await yard.Api.Zoo.ExecuteAsync(
            "UPDATE yard.boat SET gone = NULL WHERE id = (SELECT min(id) FROM yard.boat WHERE owner_id = 3)"
        );
        await yard.WithinAsync(panels["owner"], async (panel, services) =>
            Assert.IsType<ReturnOutcome.Done>(
                await services.GetRequiredService<Returner>().EraseAsync(panel, (long)done["parcel"]!, null, Token)
            )
        );
        Assert.Equal(
            (19, 1, 228),
            (await yard.CountAsync("owner"), await yard.CountAsync("boat WHERE owner_id = 3"), await yard.CountAsync("stay"))
        );
        Assert.Equal("erased", (string)(await yard.GetAsync("/api/porches/zoo/log"))["entries"]![0]!["act"]!);
    }

    [Fact]
    public async Task MarkedByAnotherProgram_CanBeBroughtBack()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync("UPDATE yard.owner SET gone = 'Y', gone_on = now() WHERE id IN (4, 5)");
        Assert.Equal(["4", "5"], await KeysAsync(panels["owner"], "records?aside=true"));
        await yard.PostAsync($"{panels["owner"]}/set-aside/unmark", new { keys = new[] { "4" } });
        Assert.Equal(1, await yard.CountAsync("owner WHERE id = 4 AND gone IS NULL AND gone_on IS NULL"));
        var plan = await yard.PostAsync($"{panels["owner"]}/removal-plan", new { keys = new[] { "5" }, forGood = true });
        Assert.Equal("erase", (string)plan["manner"]!);
    }

    [Fact]
    public async Task References_ToWhatIsSetAside_ShowItsTitleAsSuch()
    {
        var panels = await yard.MakeAsync(("boat.owner_id", "owner"), ("stay.boat_id", "boat"));
        await yard.ChangeAsync(panels["boat"], panel =>
        {
            RemovalFixture.Column(panel, "owner_id")["lookup"]!["onRemoval"] = "Left";
            panel["removal"] = new JsonObject { ["manner"] = "Keep" };
        });
        await yard.ChangeAsync(panels["stay"], panel => RemovalFixture.Column(panel, "boat_id")["lookup"]!["onRemoval"] = "Left");
        await RemoveAsync(panels["owner"], await PlanAsync(panels["owner"], "3"), "3");
        await RemoveAsync(panels["boat"], await PlanAsync(panels["boat"], "5"), "5");
        var boat = await yard.GetAsync($"{panels["boat"]}/records/3");
        Assert.Equal(
            ("owner 3", true),
            ((string)boat["lookups"]!["owner_id"]!["title"]!, (bool)boat["lookups"]!["owner_id"]!["isSetAside"]!)
        );
        var stay = await yard.GetAsync($"{panels["stay"]}/records/5");
        Assert.Equal(
            ("boat 5", true),
            ((string)stay["lookups"]!["boat_id"]!["title"]!, (bool)stay["lookups"]!["boat_id"]!["isSetAside"]!)
        );
        var choices = (await yard.GetAsync($"{panels["boat"]}/lookups/owner_id?q={Uri.EscapeDataString("owner 3")}"))[
            "choices"
        ]!.AsArray();
        Assert.Equal(["owner 13"], choices.Select(choice => (string)choice!["title"]!));
    }

    [Fact]
    public async Task Plan_OfLongTexts_IsShort_AndTheTextsComeBackWhole()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync(
            "UPDATE yard.owner SET name = repeat('long name ', 200000) WHERE id = 3; UPDATE yard.boat SET name = repeat('x', 2000000) WHERE owner_id = 3"
        );
        var before = await yard.StateAsync();
        var plan = await PlanAsync(panels["owner"], "3");
        Assert.InRange(plan.ToJsonString().Length, 500, 20_000);
        Assert.EndsWith("…", (string)plan["records"]![0]!["title"]!, StringComparison.Ordinal);
        var done = await RemoveAsync(panels["owner"], plan, "3");
        await yard.PostAsync($"{panels["owner"]}/set-aside/{done["parcel"]}/return", new { });
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task Trigger_ThatHoldsRecordsBack_LeavesEverything()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync(
            """
            CREATE FUNCTION yard.hold() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN IF OLD.id = 23 THEN RETURN NULL; END IF; RETURN OLD; END $$;
            CREATE TRIGGER hold_back BEFORE DELETE ON yard.stay FOR EACH ROW EXECUTE FUNCTION yard.hold()
            """
        );
        var before = await yard.StateAsync();
        var told = (await yard.GetAsync("/api/porches/zoo/log?q=owner%203"))["entries"]!.AsArray().Count;
        var plan = await PlanAsync(panels["owner"], "3");
        Assert.Equal("hold_back", (string)plan["triggers"]![0]!["name"]!);
        var refused = await TryRemoveAsync(panels["owner"], (string)plan["fingerprint"]!, "3");
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Equal(before, await yard.StateAsync());
        Assert.Empty((await yard.GetAsync($"{panels["owner"]}/set-aside"))["parcels"]!.AsArray());
        Assert.Equal(told, (await yard.GetAsync("/api/porches/zoo/log?q=owner%203"))["entries"]!.AsArray().Count);
    }

    [Fact]
    public async Task TenThousandRecords_GoInOneTransaction_TellHowFarTheyAre_AndCanBeGivenUp()
    {
        var panels = await yard.MakeAsync(_along);
        await yard.Api.Zoo.ExecuteAsync(
            """
            TRUNCATE yard.owner, yard.boat, yard.stay;
            INSERT INTO yard.owner SELECT n, 'owner ' || n FROM generate_series(1, 10000) n;
            INSERT INTO yard.boat SELECT n, 'boat ' || n, n FROM generate_series(1, 10000) n;
            INSERT INTO yard.stay SELECT n, n % 10000 FROM generate_series(1, 30000) n; CREATE INDEX ON yard.stay (boat_id); ANALYZE yard.stay, yard.boat, yard.owner;
            -- Slow enough to be given up in the middle of it.
            CREATE FUNCTION yard.slow() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN PERFORM pg_sleep(1); RETURN NULL; END $$;
            CREATE TRIGGER slow BEFORE DELETE ON yard.stay FOR EACH STATEMENT EXECUTE FUNCTION yard.slow()
            """
        );
        var before = await yard.StateAsync();
        var keys = Enumerable.Range(1, 10_000).Select(n => n.ToString(CultureInfo.InvariantCulture)).ToArray();
        var plan = await PlanAsync(panels["owner"], keys);
        Assert.Equal(49_997, (int)plan["count"]!);
        var lines = new List<JsonNode>();
        using var giveUp = CancellationTokenSource.CreateLinkedTokenSource(Token);
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() =>
            StreamAsync(
                panels["owner"],
                plan,
                keys,
                line =>
                {
                    if (line["progress"]?["step"]?.ToString() == "Setting aside")
                        giveUp.Cancel();
                },
                giveUp.Token
            )
        );
        await RemovalFixture.UntilAsync(async () =>
            await yard.Api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.parcel") == 0
        );
        Assert.Equal(before, await yard.StateAsync());

        await StreamAsync(panels["owner"], plan, keys, lines.Add, Token);
        Assert.Equal(49_997, (int)lines[^1]["done"]!["count"]!);
        Assert.Contains(lines, line => line["progress"]?["step"]?.ToString() == "Reading");
        Assert.Equal((0, 3), (await yard.CountAsync("owner WHERE gone IS NULL"), await yard.CountAsync("stay")));
        await yard.PostAsync($"{panels["owner"]}/set-aside/{lines[^1]["done"]!["parcel"]}/return", new { });
        Assert.Equal(before, await yard.StateAsync());
    }

    [Fact]
    public async Task NotAllowed_IsRefusedWithTheReason()
    {
        var panels = await yard.MakeAsync();
        await yard.ChangeAsync(panels["berth"], panel => panel["removal"] = new JsonObject { ["manner"] = "NotAllowed" });
        var answer = await yard.Api.Client.PostAsJsonAsync(
            $"{panels["berth"]}/removal-plan",
            new { keys = new[] { "B1" } },
            Token
        );
        Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
        Assert.Contains("cannot be removed here", await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    private async Task StreamAsync(
        string panel,
        JsonNode plan,
        string[] keys,
        Action<JsonNode> tell,
        CancellationToken cancellationToken
    )
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, $"{panel}/removals")
        {
            Content = JsonContent.Create(new { keys, fingerprint = (string)plan["fingerprint"]! }),
        };
        request.Headers.Accept.ParseAdd("application/x-ndjson");
        // A browser that goes away does not wait for the rest either.
        using var http = new HttpClient(new SocketsHttpHandler { ResponseDrainTimeout = TimeSpan.Zero })
        {
            BaseAddress = yard.Api.Client.BaseAddress,
        };
        await ApiFixture.SignInAsync(http);
        using var answer = await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancellationToken);
        using var reader = new StreamReader(await answer.Content.ReadAsStreamAsync(cancellationToken));
        while (await reader.ReadLineAsync(cancellationToken) is { } line)
        {
            tell(JsonNode.Parse(line)!);
            cancellationToken.ThrowIfCancellationRequested();
        }
    }

    private async Task<JsonNode> PlanAsync(string panel, params string[] keys) =>
        await yard.PostAsync($"{panel}/removal-plan", new { keys });

    private Task<HttpResponseMessage> TryRemoveAsync(string panel, string fingerprint, params string[] keys) =>
        yard.Api.Client.PostAsJsonAsync($"{panel}/removals", new { keys, fingerprint }, Token);

    private async Task<JsonNode> RemoveAsync(string panel, JsonNode plan, params string[] keys)
    {
        var answer = await TryRemoveAsync(panel, (string)plan["fingerprint"]!, keys);
        Assert.True(answer.StatusCode is HttpStatusCode.OK, await answer.Content.ReadAsStringAsync(Token));
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }

    private async Task<string[]> KeysAsync(string panel, string query) =>
        [.. (await yard.GetAsync($"{panel}/{query}"))["rows"]!.AsArray().Select(row => (string)row!["key"]!)];

    private static string Along(JsonNode plan) =>
        string.Join(", ", plan["along"]!.AsArray().Select(part => $"{part!["label"]} {part["count"]} {part["act"]}"));

    private static string Affected(JsonNode plan, string how) =>
        string.Join(", ", plan[how]!.AsArray().Select(part => $"{part!["label"]} {part["count"]}"));
}
