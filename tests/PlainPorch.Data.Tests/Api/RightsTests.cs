using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Who gets to which address, and what people of a role see and do there.</summary>
public sealed class RightsTests(RightsTests.Club club) : IClassFixture<RightsTests.Club>
{
    // What anybody gets to: what signing in needs.
    // Where bytes are sent, and nothing else is taken.
    private static readonly string[] _ofBytes = ["/uploads/", "/files", "/runs"];

    private static readonly string[] _anybody =
    [
        "askForLink",
        "findLinkOwner",
        "findSession",
        "goToProvider",
        "health",
        "makeFirstAccount",
        "setPassword",
        "signIn",
        "signOut",
    ];

    // What whoever is signed in gets to: the own account, and the porches into which one is let.
    private static readonly string[] _signedIn =
    [
        "changePassword",
        "connectProvider",
        "disconnectProvider",
        "endOtherSessions",
        "endSession",
        "findAccount",
        "listPorches",
        "offerFactor",
        "removeFactor",
        "renewRecoveryCodes",
        "takeFactor",
    ];

    // What the people of a porch get to; each of them asks for rights of its own.
    private static readonly string[] _members =
    [
        "addRecord",
        "beginPanelImport",
        "bringBack",
        "changePerson",
        "checkTyped",
        "chooseBefore",
        "chooseLookup",
        "countRecords",
        "countSetAside",
        "countValues",
        "eraseParcel",
        "exportChosen",
        "exportLog",
        "exportRecords",
        "findAbove",
        "findAround",
        "findDuplicates",
        "findEarlier",
        "findFields",
        "findFile",
        "findHistory",
        "findOrder",
        "findOutcome",
        "findPanel",
        "findPanelImport",
        "findParcel",
        "findParcelOfRecord",
        "findPicture",
        "findPorch",
        "findRecord",
        "findRecords",
        "findRejectedRowsOfPanel",
        "findRelated",
        "findSpellings",
        "findTidyProgress",
        "findTotals",
        "findUpload",
        "inviteAgain",
        "invitePerson",
        "keepRecipe",
        "keepView",
        "listAffected",
        "listKeptViews",
        "listKeys",
        "listLog",
        "listLogRecords",
        "listPanelImports",
        "listParcelRecords",
        "listPeople",
        "listRecipes",
        "listRecords",
        "listSetAside",
        "listTidyColumns",
        "lookAtPanelImport",
        "makeToken",
        "mergeDuplicates",
        "move",
        "numberOrder",
        "planMerge",
        "planPanelImport",
        "planRemoval",
        "planReturn",
        "proposeNumber",
        "readConditions",
        "remove",
        "removeKeptView",
        "removePanelImport",
        "removePerson",
        "removeRecipe",
        "removeToken",
        "runPanelImport",
        "runRecipe",
        "sendFile",
        "sendPanelImportFile",
        "signOutPerson",
        "stopPanelImport",
        "suggestSearch",
        "takeBackPanelImport",
        "takeRecipe",
        "tellApart",
        "tidyValues",
        "turnUpload",
        "undoChanges",
        "undoMove",
        "unmark",
        "updateRecord",
        "updateRecords",
    ];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task EveryAddress_LetsInWhomItIsFor_AndNobodyElse()
    {
        var all = await AddressesAsync();
        // What is in no table is for developers; what is named in one must be there.
        Assert.Empty(_anybody.Concat(_signedIn).Concat(_members).Except(all.Select(one => one.Name)));
        using var nobody = club.Api.Nobody();
        using var elsewhere = await club.Api.LetInAsync(club.OtherPorch, "all", $"Ela {Guid.NewGuid():N}");
        using var here = await club.Api.LetInAsync(club.Porch, "reader", $"Rea {Guid.NewGuid():N}");
        var faults = new List<string>();
        foreach (var (name, method, address) in all)
        {
            var isOpen = _anybody.Contains(name);
            if (!isOpen && await AskAsync(nobody, method, address) is not HttpStatusCode.Unauthorized and var let)
                faults.Add($"{name} answers nobody with {let}");
            if (isOpen || _signedIn.Contains(name))
                continue;
            var expected = _members.Contains(name) ? HttpStatusCode.NotFound : HttpStatusCode.Forbidden;
            if (await AskAsync(elsewhere, method, address) is var other && other != expected)
                faults.Add($"{name} answers another porch's person with {other}");
            if (!_members.Contains(name) && await AskAsync(here, method, address) is not HttpStatusCode.Forbidden and var own)
                faults.Add($"{name} answers a person of the porch with {own}");
            // Whose the people are is for those who manage them.
            if (
                address.Contains("/people", StringComparison.Ordinal)
                && address.Contains($"{club.Porch}/people", StringComparison.Ordinal)
                && await AskAsync(here, method, address)
                    is not (HttpStatusCode.NotFound or HttpStatusCode.BadRequest)
                        and var managed
            )
                faults.Add($"{name} lets somebody manage people who may not: {managed}");
        }

        Assert.True(faults.Count == 0, string.Join('\n', faults));
    }

    [Fact]
    public async Task APanelThatIsNotSeen_IsNowhere()
    {
        using var person = await club.Api.LetInAsync(club.Porch, "reader", $"Rea {Guid.NewGuid():N}");
        var porch = await person.GetStringAsync($"/api/porches/{club.Porch}", Token);
        Assert.DoesNotContain("\"people\"", porch, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await person.GetAsync(club.People, Token)).StatusCode);
        var told = new List<string>();
        foreach (var (name, method, address) in (await AddressesAsync()).Where(one => one.Method == HttpMethod.Get))
        {
            if (!address.StartsWith("/api/porches/", StringComparison.Ordinal))
                continue;
            var text = await (
                await person.GetAsync(address.Replace(club.People, club.Visits, StringComparison.Ordinal), Token)
            ).Content.ReadAsStringAsync(Token);
            if (Regex.IsMatch(text, "Wrenmouth|PRIVATE|Ann [0-9]"))
                told.Add($"{name}: {text[..Math.Min(300, text.Length)]}");
        }

        Assert.True(told.Count == 0, string.Join('\n', told));
        // What refers to it is told by the number that is stored, and can be searched for nowhere.
        var record = (await person.GetFromJsonAsync<JsonNode>($"{club.Visits}/records/1", Token))!;
        Assert.Equal("1", (string)record["values"]!["person"]!);
        Assert.Equal(
            0,
            (int)(await person.GetFromJsonAsync<JsonNode>($"{club.Visits}/records?q=Ann", Token))!["count"]!["value"]!
        );
        Assert.Equal(HttpStatusCode.NotFound, (await person.GetAsync($"{club.Visits}/lookups/person?q=Ann", Token)).StatusCode);
    }

    [Fact]
    public async Task AMaskedColumn_TellsItsEnd_AndNothingMore()
    {
        using var person = await club.Api.LetInAsync(club.Porch, "front", $"Fay {Guid.NewGuid():N}");
        var page = (await person.GetFromJsonAsync<JsonNode>($"{club.People}/records?q=1", Token))!.ToJsonString();
        Assert.Contains("••••", Unescaped(page), StringComparison.Ordinal);
        Assert.DoesNotMatch(Kept, page);
        var record = (await person.GetFromJsonAsync<JsonNode>($"{club.People}/records/7", Token))!;
        Assert.Equal("••••E 7", (string)record["values"]!["note~"]!);
        Assert.Null(record["values"]!["note"]);
        var exported = await person.GetStringAsync($"{club.People}/export/csv?all=true", Token);
        Assert.Contains("••••E 7", exported, StringComparison.Ordinal);
        foreach (
            var question in new[]
            {
                "?q=PRIVATE",
                "?q=note:PRIVATE",
                "?in=note:PRIVATE%207",
                "?where=%7B%22column%22%3A%22note%22%2C%22is%22%3A%22contains%22%2C%22values%22%3A%5B%22PRIV%22%5D%7D",
                "?where=%7B%22column%22%3A%22note~%22%2C%22is%22%3A%22contains%22%2C%22values%22%3A%5B%22PRIV%22%5D%7D",
                "?all=true&sort=note",
            }
        )
            Assert.DoesNotMatch(
                Kept,
                await (await person.GetAsync($"{club.People}/records{question}", Token)).Content.ReadAsStringAsync(Token)
            );
        foreach (var column in new[] { "note", "note~" })
        {
            var put = await PutAsync(person, $"{club.People}/records/7", record["version"]!, new JsonObject { [column] = "x" });
            Assert.Equal(HttpStatusCode.BadRequest, put.StatusCode);
            Assert.DoesNotMatch(Kept, await put.Content.ReadAsStringAsync(Token));
        }

        var history = await (await person.GetAsync($"{club.People}/records/7/history", Token)).Content.ReadAsStringAsync(Token);
        Assert.DoesNotMatch(Kept, history);
    }

    [Fact]
    public async Task AComputedColumn_TellsNothingThatIsKept()
    {
        foreach (
            var (panel, name, expression) in new[]
            {
                (club.People, "loud", "upper(note)"),
                (club.People, "quiet", "upper(name)"),
                (club.People, "times", "count(visits)"),
                (club.Visits, "said", "person.note"),
            }
        )
            await club.Api.ChangePanelAsync(panel, setup => setup["columns"]!
                    .AsArray()
                    .Add(
                        new JsonObject
                        {
                            ["name"] = name,
                            ["label"] = name,
                            ["expression"] = expression,
                            ["inList"] = true,
                            ["inForm"] = true,
                        }
                    ));
        try
        {
            using var front = await club.Api.LetInAsync(club.Porch, "front", $"Fred {Guid.NewGuid():N}");
            foreach (
                var address in new[]
                {
                    club.People,
                    $"{club.People}/records?all=true",
                    $"{club.People}/records/7",
                    $"{club.People}/records?q=loud:PRIVATE",
                    club.Visits,
                    $"{club.Visits}/records?all=true",
                    $"{club.Visits}/records/12",
                }
            )
            {
                var told = await front.GetStringAsync(address, Token);
                Assert.DoesNotMatch(Kept, told);
                Assert.DoesNotContain("\"loud\"", told, StringComparison.Ordinal);
                Assert.DoesNotContain("\"said\"", told, StringComparison.Ordinal);
                Assert.DoesNotContain("cannot be computed", told, StringComparison.Ordinal);
            }

            var (times, of7) = (await CountAsync(3), await CountAsync(7));
            Assert.NotEqual("0", of7);
            var record = (await front.GetFromJsonAsync<JsonNode>($"{club.People}/records/7", Token))!["values"]!;
            Assert.Equal(("ANN 7", of7), ((string)record["quiet"]!, (string)record["times"]!));
            // What is counted of others is as many as are seen.
            using var friend = await club.Api.LetInAsync(club.Porch, "friend", $"Flo {Guid.NewGuid():N}", "3");
            Assert.Equal((times, "0"), ((string)(await TimesAsync(friend, 3))!, (string)(await TimesAsync(friend, 7))!));
        }
        finally
        {
            foreach (var panel in new[] { club.People, club.Visits })
                await club.Api.ChangePanelAsync(panel, setup =>
                {
                    var columns = setup["columns"]!.AsArray();
                    foreach (var column in columns.Where(column => column!["expression"] is not null).ToList())
                        columns.Remove(column);
                });
        }
    }

    private Task<string> CountAsync(int person) =>
        club.Api.Zoo.AskAsync<string>($"SELECT count(*)::text FROM club.visits WHERE person = {person}");

    private async Task<JsonNode?> TimesAsync(HttpClient person, int no) =>
        (await person.GetFromJsonAsync<JsonNode>($"{club.People}/records/{no}", Token))!["values"]!["times"];

    [Fact]
    public async Task AReadOnlyColumn_IsSeen_AndWrittenByNoDoor()
    {
        using var person = await club.Api.LetInAsync(club.Porch, "front", $"Fay {Guid.NewGuid():N}");
        var record = (await person.GetFromJsonAsync<JsonNode>($"{club.People}/records/8", Token))!;
        Assert.Equal("Wrenmouth", (string)record["values"]!["town"]!);
        foreach (
            var answer in new[]
            {
                await PutAsync(person, $"{club.People}/records/8", record["version"]!, new JsonObject { ["town"] = "Elm" }),
                await person.PostAsJsonAsync(
                    $"{club.People}/changes",
                    new { keys = new[] { "8" }, values = new { town = "Elm" } },
                    Token
                ),
                await person.PostAsJsonAsync(
                    $"{club.People}/records",
                    new
                    {
                        values = new
                        {
                            no = "9008",
                            name = "N",
                            town = "Elm",
                        },
                    },
                    Token
                ),
            }
        )
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal("Wrenmouth", await club.Api.Zoo.AskAsync<string>("SELECT town FROM club.people WHERE no = 8"));
    }

    [Fact]
    public async Task OwnRecords_AreThoseOfTheRecordThatOneIs()
    {
        using var person = await club.Api.LetInAsync(club.Porch, "guest", $"Gus {Guid.NewGuid():N}", record: "3");
        var people = (await person.GetFromJsonAsync<JsonNode>($"{club.People}/records", Token))!;
        Assert.Equal("Ann 3", (string)Assert.Single(people["rows"]!.AsArray())!["title"]!);
        var visits = (await person.GetFromJsonAsync<JsonNode>($"{club.Visits}/records", Token))!;
        Assert.Equal(
            await club.Api.Zoo.AskAsync<long>("SELECT count(*) FROM club.visits WHERE person = 3"),
            (long)visits["count"]!["value"]!
        );
        Assert.Equal(HttpStatusCode.NotFound, (await person.GetAsync($"{club.Visits}/records/1", Token)).StatusCode);

        // A new one is the person's without a word about it, and can be nobody else's.
        var added = await person.PostAsJsonAsync(
            $"{club.Visits}/records",
            new { values = new { no = "7001", day = "2026-03-01" } },
            Token
        );
        Assert.Equal(HttpStatusCode.Created, added.StatusCode);
        Assert.Equal("3", await club.Api.Zoo.AskAsync<string>("SELECT person::text FROM club.visits WHERE no = 7001"));
        var others = await person.PostAsJsonAsync(
            $"{club.Visits}/records",
            new { values = new { no = "7002", person = "4" } },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, others.StatusCode);
        Assert.Contains("that you may see", await others.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        var own = (await person.GetFromJsonAsync<JsonNode>($"{club.Visits}/records/7001", Token))!;
        var away = await PutAsync(person, $"{club.Visits}/records/7001", own["version"]!, new JsonObject { ["person"] = "4" });
        Assert.Equal(HttpStatusCode.BadRequest, away.StatusCode);
        Assert.Equal(
            "3 0",
            await club.Api.Zoo.AskAsync<string>(
                "SELECT concat_ws(' ', (SELECT person FROM club.visits WHERE no = 7001), (SELECT count(*) FROM club.visits WHERE no = 7002))"
            )
        );
        // Whoever is tied to no record has none.
        using var untied = await club.Api.LetInAsync(club.Porch, "guest", $"Una {Guid.NewGuid():N}");
        Assert.Empty((await untied.GetFromJsonAsync<JsonNode>($"{club.Visits}/records", Token))!["rows"]!.AsArray());
    }

    [Fact]
    public async Task WhatAMarkerSetsAside_IsOpenedByThoseAlone_WhoMaySeeIt()
    {
        await club.Api.Zoo.ExecuteAsync("INSERT INTO club.moorings VALUES (1, 'Kept', false), (2, 'Gone', true)");
        using var person = await club.Api.LetInAsync(club.Porch, "front", $"Fern {Guid.NewGuid():N}");
        Assert.Equal(HttpStatusCode.OK, (await person.GetAsync($"{club.Moorings}/records/1", Token)).StatusCode);
        var own = (await club.Api.Client.GetFromJsonAsync<JsonNode>($"{club.Moorings}/records/2", Token))!;
        Assert.True((bool)own["isSetAside"]!);
        Assert.Equal(HttpStatusCode.NotFound, (await person.GetAsync($"{club.Moorings}/records/2", Token)).StatusCode);
        var put = await PutAsync(person, $"{club.Moorings}/records/2", own["version"]!, new JsonObject { ["name"] = "Found" });
        Assert.Equal(HttpStatusCode.NotFound, put.StatusCode);
        Assert.Equal("Gone", await club.Api.Zoo.AskAsync<string>("SELECT name FROM club.moorings WHERE no = 2"));
        // Whoever has just set a record aside may still take that back.
        using var clerk = await club.Api.LetInAsync(club.Porch, "shed", $"Cleo {Guid.NewGuid():N}");
        var keys = new[] { "1" };
        var plan = await (
            await clerk.PostAsJsonAsync($"{club.Moorings}/removal-plan", new { keys }, Token)
        ).Content.ReadFromJsonAsync<JsonNode>(Token);
        var removed = await clerk.PostAsJsonAsync(
            $"{club.Moorings}/removals",
            new { keys, fingerprint = (string)plan!["fingerprint"]! },
            Token
        );
        Assert.Equal(HttpStatusCode.OK, removed.StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await clerk.GetAsync($"{club.Moorings}/records/1", Token)).StatusCode);
        var parcel = (await removed.Content.ReadFromJsonAsync<JsonNode>(Token))!["parcel"]!;
        var back = await clerk.PostAsJsonAsync($"{club.Moorings}/set-aside/{parcel}/return", new { }, Token);
        Assert.True(back.IsSuccessStatusCode, await back.Content.ReadAsStringAsync(Token));
        Assert.Equal(HttpStatusCode.OK, (await clerk.GetAsync($"{club.Moorings}/records/1", Token)).StatusCode);
    }

    [Fact]
    public async Task TheLogbook_NamesThePerson_AndTheToken()
    {
        var name = $"Gus {Guid.NewGuid():N}";
        using var person = await club.Api.LetInAsync(club.Porch, "guest", name, record: "3");
        await person.PostAsJsonAsync($"{club.Visits}/records", new { values = new { no = "7101" } }, Token);
        using var program = club.Api.Nobody();
        var secret = (string)
            (
                await (
                    await club.Api.Client.PostAsJsonAsync(
                        $"/api/porches/{club.Porch}/tokens",
                        new
                        {
                            name = "Gate",
                            role = "front",
                            days = 3,
                        },
                        Token
                    )
                ).Content.ReadFromJsonAsync<JsonNode>(Token)
            )!["secret"]!;
        program.DefaultRequestHeaders.Authorization = new("Bearer", secret);
        await program.PostAsJsonAsync($"{club.People}/records", new { values = new { no = "7102", name = "By gate" } }, Token);
        var log = (await club.Api.Client.GetFromJsonAsync<JsonNode>($"/api/porches/{club.Porch}/log", Token))!["entries"]!;
        Assert.Equal(["Gate (token)", name], log.AsArray().Take(2).Select(entry => (string)entry!["who"]!));

        var tokens = (await club.Api.Client.GetFromJsonAsync<JsonNode>($"/api/porches/{club.Porch}/people", Token))!["tokens"]!;
        Assert.DoesNotContain(secret, tokens.ToJsonString(), StringComparison.Ordinal);
        var id = (int)tokens.AsArray().Single(token => (string)token!["name"]! == "Gate")!["id"]!;
        Assert.Equal(HttpStatusCode.OK, (await program.GetAsync($"{club.People}/records", Token)).StatusCode);
        await club.Api.Client.DeleteAsync($"/api/porches/{club.Porch}/tokens/{id}", Token);
        Assert.Equal(HttpStatusCode.Unauthorized, (await program.GetAsync($"{club.People}/records", Token)).StatusCode);
    }

    [Fact]
    public async Task WhoManagesPeople_InvitesThem_AndKeepsThemOut_AtOnce()
    {
        var name = $"Rea {Guid.NewGuid():N}";
        using var manager = await club.Api.LetInAsync(club.Porch, "manager", $"Max {Guid.NewGuid():N}");
        using var person = await club.Api.LetInAsync(club.Porch, "reader", name);
        var people = $"/api/porches/{club.Porch}/people";
        var row = (await manager.GetFromJsonAsync<JsonNode>(people, Token))!["people"]!
            .AsArray()
            .Single(one => (string)one!["name"]! == name)!;
        Assert.Equal((true, false), ((bool)row["hasCome"]!, (bool)row["isOff"]!));
        Assert.NotNull(row["seenAt"]);
        var id = (int)row["id"]!;
        Assert.Equal(HttpStatusCode.OK, (await person.GetAsync($"{club.Visits}/records", Token)).StatusCode);
        foreach (var isOff in new[] { true, false })
        {
            var changed = await manager.PutAsJsonAsync(
                $"{people}/{id}",
                new
                {
                    role = "reader",
                    isOff,
                    record = (string?)null,
                },
                Token
            );
            Assert.Equal(HttpStatusCode.NoContent, changed.StatusCode);
            Assert.Equal(
                isOff ? HttpStatusCode.NotFound : HttpStatusCode.OK,
                (await person.GetAsync($"{club.Visits}/records", Token)).StatusCode
            );
        }

        foreach (
            var (request, field) in new (object, string)[]
            {
                (
                    new
                    {
                        name = "X",
                        email = "nonsense",
                        role = "reader",
                        record = (string?)null,
                    },
                    "email"
                ),
                (
                    new
                    {
                        name = " ",
                        email = "x@example.org",
                        role = "reader",
                        record = (string?)null,
                    },
                    "name"
                ),
                (
                    new
                    {
                        name = "X",
                        email = "x@example.org",
                        role = "king",
                        record = (string?)null,
                    },
                    "role"
                ),
                (
                    new
                    {
                        name = "X",
                        email = "x@example.org",
                        role = "reader",
                        record = (string?)"1",
                    },
                    "record"
                ),
                (
                    new
                    {
                        name,
                        email = (string)row["email"]!,
                        role = "reader",
                        record = (string?)null,
                    },
                    "email"
                ),
            }
        )
        {
            var refused = await manager.PostAsJsonAsync(people, request, Token);
            Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
            Assert.NotNull((await refused.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]![field]);
        }

        await manager.PostAsync($"{people}/{id}/sign-out", null, Token);
        Assert.Equal(HttpStatusCode.Unauthorized, (await person.GetAsync($"{club.Visits}/records", Token)).StatusCode);
    }

    [Fact]
    public async Task Developers_InviteOthers_KeepAnybodyOut_ButNotThemselves()
    {
        var (name, email) = ("Dev Two", "dev.two@example.org");
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await club.Api.Client.PostAsJsonAsync("/api/people", new { name, email }, Token)).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await club.Api.Client.PostAsJsonAsync("/api/people", new { name, email }, Token)).StatusCode
        );
        using var second = club.Api.Nobody();
        var link = await club.Api.LinkToAsync(email);
        await second.PostAsJsonAsync("/api/session/password", new { link, password = ApiFixture.Password }, Token);
        await second.PostAsJsonAsync("/api/session", new { email, password = ApiFixture.Password }, Token);
        var all = (await second.GetFromJsonAsync<JsonNode>("/api/people", Token))!.AsArray();
        var (own, first) = (Id(name), Id(ApiFixture.Developer));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await second.PutAsJsonAsync($"/api/people/{own}", new { isDeveloper = false, isOff = false }, Token)).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await club.Api.Client.PutAsJsonAsync($"/api/people/{own}", new { isDeveloper = false, isOff = false }, Token)
            ).StatusCode
        );
        Assert.Equal(HttpStatusCode.Forbidden, (await second.GetAsync("/api/people", Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await second.GetAsync(club.People, Token)).StatusCode);
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await club.Api.Client.PutAsJsonAsync($"/api/people/{own}", new { isDeveloper = true, isOff = true }, Token)
            ).StatusCode
        );
        Assert.Equal(HttpStatusCode.Unauthorized, (await second.GetAsync("/api/people", Token)).StatusCode);
        Assert.NotEqual(own, first);

        int Id(string of) => (int)all.Single(one => (string)one!["name"]! == of)!["id"]!;
    }

    [Fact]
    public async Task ADeveloper_SeesAsARole_AndSavesNothingSo()
    {
        using var handler = new HttpClientHandler();
        using var client = new HttpClient(handler) { BaseAddress = club.Api.Client.BaseAddress };
        await ApiFixture.SignInAsync(client);
        handler.CookieContainer.Add(club.Api.Client.BaseAddress!, new Cookie("porch-as", $"{club.Porch}/guest/3"));
        Assert.Single((await client.GetFromJsonAsync<JsonNode>($"{club.People}/records", Token))!["rows"]!.AsArray());
        var refused = await client.PostAsJsonAsync($"{club.Visits}/records", new { values = new { no = "7201" } }, Token);
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        // The back room stays whole.
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync($"{club.People}/setup", Token)).StatusCode);
        // To nobody else the cookie says anything.
        using var own = new HttpClientHandler();
        Assert.Equal(0, await club.Api.Zoo.AskAsync<long>("SELECT count(*) FROM club.visits WHERE no = 7201"));
    }

    [Fact]
    public async Task Roles_ThatAreWrong_AreRefusedByName()
    {
        var known = (await club.Api.Client.GetFromJsonAsync<JsonNode>($"/api/porches/{club.Porch}/roles", Token))!;
        foreach (
            var (role, field) in new (object, string)[]
            {
                (new { slug = "A b", name = "X" }, "roles.0.slug"),
                (new { slug = "x", name = " " }, "roles.0.name"),
                (
                    new
                    {
                        slug = "x",
                        name = "X",
                        person = "ghosts",
                    },
                    "roles.0.person"
                ),
                (
                    new
                    {
                        slug = "x",
                        name = "X",
                        panels = new[] { new { panel = "ghosts" } },
                    },
                    "roles.0.panels.0.panel"
                ),
                (
                    new
                    {
                        slug = "x",
                        name = "X",
                        panels = new[] { new { panel = "visits", rows = "person = current_person" } },
                    },
                    "roles.0.panels.0.rows"
                ),
                (
                    new
                    {
                        slug = "x",
                        name = "X",
                        panels = new[] { new { panel = "visits", rows = "no + 1" } },
                    },
                    "roles.0.panels.0.rows"
                ),
                (
                    new
                    {
                        slug = "x",
                        name = "X",
                        panels = new[] { new { panel = "visits", columns = new[] { new { name = "no", access = "hidden" } } } },
                    },
                    "roles.0.panels.0.columns.0.access"
                ),
            }
        )
        {
            var refused = await club.Api.PutAsync(
                $"/api/porches/{club.Porch}/roles",
                known["version"],
                new { roles = new[] { role } }
            );
            var text = await refused.Content.ReadAsStringAsync(Token);
            Assert.True(
                refused.StatusCode is HttpStatusCode.BadRequest && text.Contains($"\"{field}\"", StringComparison.Ordinal),
                text
            );
        }

        Assert.Equal(
            HttpStatusCode.PreconditionFailed,
            (await club.Api.PutAsync($"/api/porches/{club.Porch}/roles", 1, new { roles = Array.Empty<object>() })).StatusCode
        );
    }

    // What is asked for is said again; what is stored goes on.
    private const string Kept = "PRIVATE [0-9]";

    private static string Unescaped(string json) => Regex.Unescape(json.Replace("\\\"", "\"", StringComparison.Ordinal));

    private static async Task<HttpResponseMessage> PutAsync(
        HttpClient client,
        string address,
        JsonNode version,
        JsonObject values
    )
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, address)
        {
            Content = JsonContent.Create(new JsonObject { ["values"] = values }),
        };
        request.Headers.Add("If-Match", $"\"{version}\"");
        return await client.SendAsync(request, Token);
    }

    private static async Task<HttpStatusCode> AskAsync(HttpClient client, HttpMethod method, string address)
    {
        using var request = new HttpRequestMessage(method, address);
        if (method != HttpMethod.Get)
            request.Content = _ofBytes.Any(end => address.Contains(end, StringComparison.Ordinal))
                ? new ByteArrayContent([1]) { Headers = { ContentType = new("application/octet-stream") } }
                : JsonContent.Create(new { });
        return (await client.SendAsync(request, Token)).StatusCode;
    }

    private async Task<IReadOnlyList<(string Name, HttpMethod Method, string Address)>> AddressesAsync()
    {
        var description = (await club.Api.Client.GetFromJsonAsync<JsonNode>("/api/openapi.json", Token))!;
        return
        [
            .. from path in description["paths"]!.AsObject()
            from method in path.Value!.AsObject()
            where method.Value!["operationId"] is not null
            select (
                (string)method.Value!["operationId"]!,
                new HttpMethod(method.Key.ToUpperInvariant()),
                path.Key.Replace("{porch}", club.Porch, StringComparison.Ordinal)
                    .Replace("{panel}", "people", StringComparison.Ordinal)
                    .Replace("{id}", "1", StringComparison.Ordinal)
                    .Replace("{import}", "3f2504e0-4f89-41d3-9a0c-0305e82c3301", StringComparison.Ordinal)
                    .Replace("{file}", "3f2504e0-4f89-41d3-9a0c-0305e82c3301", StringComparison.Ordinal)
                    .Replace("{place}", "0", StringComparison.Ordinal)
                    .Replace("{recipe}", "1", StringComparison.Ordinal)
                    .Replace("{key}", "1", StringComparison.Ordinal)
                    .Replace("{column}", "town", StringComparison.Ordinal)
                    .Replace("{format}", "csv", StringComparison.Ordinal)
                    .Replace("{restriction}", "0", StringComparison.Ordinal)
                    .Replace("{name}", "x", StringComparison.Ordinal)
                    .Replace("{entry}", "1", StringComparison.Ordinal)
                    .Replace("{parcel}", "1", StringComparison.Ordinal)
                    .Replace("{place}", "0", StringComparison.Ordinal)
                    .Replace("{person}", "1", StringComparison.Ordinal)
                    .Replace("{token}", "1", StringComparison.Ordinal)
                    .Replace("{session}", "1", StringComparison.Ordinal)
            ),
        ];
    }

    /// <summary>A club's people and their visits, in a porch with roles; and another porch on the same database.</summary>
    public sealed class Club : IAsyncLifetime
    {
        public ApiFixture Api { get; } = new();

        public string People { get; private set; } = "";

        public string Visits { get; private set; } = "";

        public string Moorings { get; private set; } = "";

        public string Porch => People.Split('/')[3];

        public string OtherPorch { get; private set; } = "";

        public async ValueTask InitializeAsync()
        {
            await Api.InitializeAsync();
            await Api.Zoo.ExecuteAsync(
                """
                CREATE SCHEMA club;
                CREATE TABLE club.people (no integer PRIMARY KEY, name text, town text, note text);
                CREATE TABLE club.visits (no integer PRIMARY KEY, person integer REFERENCES club.people, day date);
                CREATE TABLE club.moorings (no integer PRIMARY KEY, name text, gone boolean NOT NULL DEFAULT false);
                INSERT INTO club.people SELECT n, 'Ann ' || n, 'Wrenmouth', 'PRIVATE ' || n FROM generate_series(1, 20) n;
                INSERT INTO club.visits SELECT n, 1 + n % 10, date '2026-01-01' + n FROM generate_series(10, 50) n;
                INSERT INTO club.visits VALUES (1, 1, '2026-01-01');
                """
            );
            await Api.Client.PostAsync($"/api/sources/{Api.SourceId}/snapshot", null, Token);
            (People, Visits) = (await Api.MakePanelAsync("club", "people"), await Api.MakePanelAsync("club", "visits"));
            Moorings = await Api.MakePanelAsync("club", "moorings");
            await Api.ChangePanelAsync(Moorings, panel => panel["marker"] = new JsonObject
                {
                    ["column"] = "gone",
                    ["kind"] = "Flag",
                    ["removed"] = "true",
                    ["inUse"] = "false",
                });
            await Api.ChangePanelAsync(People, panel =>
            {
                panel["title"] = "{name}";
                foreach (var column in panel["columns"]!.AsArray())
                {
                    foreach (var decision in new[] { "inList", "inForm", "searched", "narrows" })
                        column![decision] = true;
                }
            });
            await Api.ChangePanelAsync(Visits, panel => panel["columns"]!
                    .AsArray()
                    .Single(column => (string)column!["name"]! == "person")!["lookup"] = new JsonObject
                {
                    ["table"] = new JsonObject { ["schema"] = "club", ["name"] = "people" },
                    ["key"] = "no",
                });
            var front = new[] { "add", "change", "changeMany", "export", "seeHistory" };
            await Api.SetRolesAsync(
                Porch,
                new
                {
                    slug = "reader",
                    name = "Reader",
                    panels = new[] { new { panel = "people", sees = false } },
                },
                new
                {
                    slug = "front",
                    name = "Front desk",
                    may = front,
                    panels = new[]
                    {
                        new
                        {
                            panel = "people",
                            columns = new object[]
                            {
                                new
                                {
                                    name = "note",
                                    access = "masked",
                                    shows = 3,
                                },
                                new { name = "town", access = "readOnly" },
                            },
                        },
                    },
                },
                new
                {
                    slug = "guest",
                    name = "Guest",
                    person = "people",
                    may = new[] { "add", "change" },
                    panels = new[]
                    {
                        new { panel = "people", rows = "no = current_person" },
                        new { panel = "visits", rows = "person = current_person" },
                    },
                },
                new
                {
                    slug = "friend",
                    name = "Friend",
                    person = "people",
                    panels = new[] { new { panel = "visits", rows = "person = current_person" } },
                },
                new
                {
                    slug = "shed",
                    name = "Boat shed",
                    may = new[] { "setAside", "bringBack" },
                },
                new
                {
                    slug = "manager",
                    name = "Manager",
                    managesPeople = true,
                }
            );
            var other = await Api.AddSourceAsync("Elsewhere");
            var answer = await Api.Client.PostAsJsonAsync(
                $"/api/sources/{other.GetProperty("id").GetInt32()}/panels",
                new { schema = "club", name = "visits" }
            );
            OtherPorch = answer.Headers.Location!.ToString().Split('/')[3];
            await Api.SetRolesAsync(
                OtherPorch,
                new
                {
                    slug = "all",
                    name = "All",
                    may = new[] { "all" },
                    managesPeople = true,
                }
            );
        }

        public ValueTask DisposeAsync() => Api.DisposeAsync();
    }
}
