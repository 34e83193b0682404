using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Code;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Code of one's own, loaded from a folder: within acts, and after them.</summary>
public sealed class OwnCodeTests(OwnCodeFixture api) : IClassFixture<OwnCodeFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Folder_IsLoaded_AndWhatCannotBeUsedIsNamed()
    {
        var code = await GetAsync("/api/code");
        var assemblies = code["assemblies"]!.AsArray().ToDictionary(one => (string)one!["file"]!, one => one!);
        Assert.Equal("2.3.4", (string?)assemblies["PlainPorch.TestCode.dll"]["version"]);
        var codes = assemblies["PlainPorch.TestCode.dll"]["codes"]!.AsArray();
        Assert.All(codes, one => Assert.Equal("zoo.hooked", (string?)one!["table"]));
        Assert.Equal(["doubled", null, "name"], codes.Select(one => (string?)one!["column"]));
        Assert.Equal(["name", "size"], codes[0]!["reads"]!.AsArray().Select(column => (string?)column));
        Assert.Equal("register.STAYS", (string?)assemblies["PlainPorch.Samples.Notices.dll"]["codes"]![0]!["table"]);
        Assert.NotNull(assemblies["junk.dll"]["problem"]);
        // What others bring along is nobody's code.
        Assert.DoesNotContain("PlainPorch.Contract.dll", assemblies.Keys);
    }

    [Fact]
    public async Task Refusal_IsSaidAtItsField_AndNothingIsWritten()
    {
        var answer = await AddAsync(1, "refuse");
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var problem = JsonNode.Parse(await answer.Content.ReadAsStringAsync(Token))!;
        Assert.Equal("Not this one.", (string?)problem["errors"]!["name"]![0]);
        Assert.Equal(0, await CountAsync(1));
    }

    [Theory]
    [InlineData(2, "throw", "Out of order.")]
    [InlineData(3, "hang", "took longer than 1 seconds")]
    public async Task CodeThatThrowsOrHangs_IsNamed_UndoesTheWrite_AndNothingElse(int id, string name, string says)
    {
        var answer = await AddAsync(id, name);
        var problem = await answer.Content.ReadAsStringAsync(Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("PlainPorch.TestCode.Hooked", problem, StringComparison.Ordinal);
        Assert.Contains(says, problem, StringComparison.Ordinal);
        Assert.Equal(0, await CountAsync(id));
        Assert.Equal(HttpStatusCode.Created, (await AddAsync(id + 100, "fine")).StatusCode);
    }

    [Theory]
    [InlineData("wrong", "integer")]
    [InlineData("rekey", "by which the record is found")]
    public async Task ValueThatCannotBeSet_RefusesTheAct(string name, string says)
    {
        var answer = await AddAsync(4, name);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains(says, await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal(0, await CountAsync(4));
    }

    [Fact]
    public async Task ChangedValues_AreStored_Answered_AndTold()
    {
        var answer = await AddAsync(5, " blank ");
        Assert.Equal(HttpStatusCode.Created, answer.StatusCode);
        var record = JsonNode.Parse(await answer.Content.ReadAsStringAsync(Token))!;
        Assert.Equal("blank", (string?)record["values"]!["name"]);
        Assert.Equal("7", (string?)record["values"]!["size"]);
        Assert.Equal("blank|7", await api.Zoo.AskAsync<string>("SELECT name || '|' || size FROM zoo.hooked WHERE id = 5"));
        var told = await api.Catalog.AskAsync<string>(
            """SELECT "Changes"::text FROM porch.log_record WHERE "Table" = 'hooked' AND "Key" = '5' ORDER BY "EntryId" DESC LIMIT 1"""
        );
        Assert.Contains("\"7\"", told, StringComparison.Ordinal);
        // The version that was answered is the one to go on with.
        var changed = await api.PutAsync($"{api.Panel}/records/5", record["version"], new { values = new { name = "later" } });
        Assert.True(changed.IsSuccessStatusCode, await changed.Content.ReadAsStringAsync(Token));
    }

    [Fact]
    public async Task EachSortOfAct_IsTold_WithTheRecordAsItWas_AndDoneAfterwards()
    {
        await AddAsync(6, "told");
        var record = await GetAsync($"{api.Panel}/records/6");
        await api.PutAsync($"{api.Panel}/records/6", record["version"], new { values = new { size = "3" } });
        var keys = new[] { "6" };
        var plan = await PostAsync("removal-plan", new { keys });
        var removed = await PostAsync("removals", new { keys, fingerprint = (string)plan["fingerprint"]! });
        await PostAsync($"set-aside/{(long)removed["parcel"]!}/return", new { });
        await api.ChangePanelAsync(api.Panel, panel => panel["removal"] = new JsonObject { ["manner"] = "Erase" });
        plan = await PostAsync("removal-plan", new { keys });
        await PostAsync(
            "removals",
            new
            {
                keys,
                fingerprint = (string)plan["fingerprint"]!,
                typed = 1,
            }
        );
        await api.ChangePanelAsync(api.Panel, panel => panel["removal"] = new JsonObject { ["manner"] = "Keep" });
        var told = await NotesAsync(lines => lines.Count(line => line.Contains(" 6 told", StringComparison.Ordinal)) >= 5);
        Assert.Equal(
            ["Added 6 told id,name", "BroughtBack 6 told ", "Changed 6 told size", "Erased 6 told ", "SetAside 6 told "],
            told.Where(line => line.Contains(" 6 told", StringComparison.Ordinal)).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public async Task ManyTogether_AreToldEach_AndOneThatIsRefusedKeepsAll()
    {
        foreach (var id in new[] { 20, 21, 22 })
            await AddAsync(id, $"many {id}");
        var refused = await api.Client.PostAsJsonAsync(
            $"{api.Panel}/changes",
            new { keys = new[] { "20", "21", "22" }, values = new { name = "refuse" } },
            Token
        );
        Assert.Contains("Not this one.", await refused.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        Assert.Equal(
            3,
            await api.Zoo.AskAsync<long>("SELECT count(*) FROM zoo.hooked WHERE id BETWEEN 20 AND 22 AND name LIKE 'many%'")
        );
    }

    [Fact]
    public async Task Field_OffersWhatCodeFinds_AndWhatOtherRecordsHaveWhereItFails()
    {
        await AddAsync(9, "failing");
        var none = await api.Client.GetAsync($"{api.Panel}/earlier/name?q=pen", Token);
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
        await api.ChangePanelAsync(api.Panel, panel =>
            panel["columns"]!.AsArray().Single(column => (string?)column!["name"] == "name")!["suggests"] = true
        );
        var offered = (await GetAsync($"{api.Panel}/earlier/name?q=pen")).AsArray().Select(value => (string?)value).ToList();
        Assert.Equal(["pen 1", "pen 2"], offered.Take(2));
        Assert.Equal(50, offered.Count);
        Assert.Equal(["failing"], (await GetAsync($"{api.Panel}/earlier/name?q=fail")).AsArray().Select(value => (string?)value));
    }

    [Fact]
    public async Task ColumnOfCode_IsShown_AndWritten_AndNotAskedAbout()
    {
        await AddAsync(30, "big", size: "21");
        await AddAsync(31, "none");
        await using var column = await WithDoubledAsync();
        var list = await GetAsync($"{api.Panel}/records?{Of(30, 31)}");
        Assert.Equal(["42", null], ColumnOf(list, "doubled"));
        var record = await GetAsync($"{api.Panel}/records/30");
        Assert.Equal("42", (string?)record["values"]!["doubled"]);
        Assert.Empty(record["notComputed"]!.AsObject());
        Assert.Contains(
            "42",
            await api.Client.GetStringAsync($"{api.Panel}/export/csv?{Of(30, 31)}", Token),
            StringComparison.Ordinal
        );
        // Saving answers with it, too.
        var saved = await api.PutAsync($"{api.Panel}/records/30", record["version"], new { values = new { size = "5" } });
        Assert.Contains("\"doubled\":\"10\"", await saved.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        foreach (var asked in new[] { "sort=doubled", "where=" + Uri.EscapeDataString("""{"column":"doubled","is":"Empty"}""") })
        {
            var dropped = (await GetAsync($"{api.Panel}/records?{asked}"))["dropped"]!.AsArray();
            Assert.NotEmpty(dropped);
        }
    }

    [Fact]
    public async Task ColumnOfCode_FollowsWhatIsTyped_WithoutBeingSaved()
    {
        await AddAsync(32, "typed", size: "4");
        await using var column = await WithDoubledAsync();
        Assert.True((bool)(await GetAsync(api.Panel))["hasRules"]!);
        var typed = await PostAsync("records/checking", new { key = "32", values = new { size = "8" } });
        Assert.Equal("16", (string?)typed["computed"]!["doubled"]);
        // What it does not read touches nothing, and what is no number yet comes to nothing.
        var other = await PostAsync("records/checking", new { key = "32", values = new { id = "32" } });
        Assert.Empty(other["computed"]!.AsObject());
        var unread = await PostAsync("records/checking", new { key = "32", values = new { size = "8x" } });
        Assert.True(unread["computed"]!.AsObject().ContainsKey("doubled"));
        Assert.Null(unread["computed"]!["doubled"]);
        var anew = await PostAsync("records/checking", new { key = (string?)null, values = new { size = "3" } });
        Assert.Equal("6", (string?)anew["computed"]!["doubled"]);
        Assert.Equal(4, await api.Zoo.AskAsync<int>("SELECT size FROM zoo.hooked WHERE id = 32"));
    }

    [Theory]
    [InlineData(33, "uncomputable", "No doubles today.")]
    [InlineData(34, "endless", "took longer than 1 seconds")]
    [InlineData(35, "short", "0 values for 1 records")]
    public async Task ColumnOfCodeThatFails_IsEmpty_WithTheReason_AndNothingElseIs(int id, string name, string says)
    {
        await AddAsync(id, name);
        await using var column = await WithDoubledAsync();
        var list = await GetAsync($"{api.Panel}/records?{Of(id)}");
        Assert.Equal([name], ColumnOf(list, "name"));
        Assert.Equal([null], ColumnOf(list, "doubled"));
        Assert.Contains(says, list["dropped"]!.ToJsonString(), StringComparison.Ordinal);
        var record = await GetAsync($"{api.Panel}/records/{id}");
        Assert.Contains("PlainPorch.TestCode.Doubled", (string?)record["notComputed"]!["doubled"], StringComparison.Ordinal);
        // A file would say that there is nothing.
        using var export = await api.Client.GetAsync($"{api.Panel}/export/csv?{Of(id)}", Token);
        Assert.Equal(HttpStatusCode.Conflict, export.StatusCode);
        Assert.Contains(says, await export.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("searched", "neither searched nor narrowed")]
    [InlineData("narrows", "neither searched nor narrowed")]
    [InlineData("required", "is not written")]
    public async Task ColumnOfCode_CannotBeWhatTheDatabaseWouldHaveToKnow(string what, string says)
    {
        var failure = await Assert.ThrowsAsync<InvalidOperationException>(() => WithDoubledAsync(column => column[what] = true));
        Assert.Contains(says, failure.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task WhatFailsAfterwards_IsOutstanding_IsTriedAgain_AndDoneOnce()
    {
        File.Delete(api.Notes + ".up");
        await AddAsync(7, "unheard");
        var outstanding = await OutstandingAsync(effect => effect["problem"] is not null);
        Assert.Contains("Nobody answers.", (string?)outstanding["problem"], StringComparison.Ordinal);
        Assert.Equal("PlainPorch.TestCode.Hooked", (string?)outstanding["code"]);
        await File.WriteAllTextAsync(api.Notes + ".up", "", Token);
        var again = await api.Client.PostAsync($"/api/code/effects/{(long)outstanding["id"]!}/again", null, Token);
        Assert.Equal(HttpStatusCode.NoContent, again.StatusCode);
        var told = await NotesAsync(lines => lines.Exists(line => line.Contains("unheard", StringComparison.Ordinal)));
        Assert.Single(told, line => line.Contains("unheard", StringComparison.Ordinal));
        Assert.Empty((await GetAsync("/api/code"))["outstanding"]!.AsArray());
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await api.Client.PostAsync("/api/code/effects/99999/again", null, Token)).StatusCode
        );
    }

    // An attempt that broke off with its program: its time is over, and another instance makes it again.
    [Fact]
    public async Task AttemptThatBrokeOff_IsMadeAgain_AndWhatDidNotComeToPassIsNever()
    {
        await AddAsync(8, "broken off");
        await NotesAsync(lines => lines.Exists(line => line.Contains("broken off", StringComparison.Ordinal)));
        await api.Catalog.ExecuteAsync(
            """
            UPDATE porch.code_effect SET "DoneAt" = NULL, "DueAt" = now() - interval '1 second' WHERE "Content" LIKE '%broken off%';
            INSERT INTO porch.code_effect ("EntryId", "Code", "Content", "Attempts", "DueAt")
            SELECT "EntryId", "Code", 'never', 0, now() - interval '1 hour' FROM porch.code_effect WHERE "Content" LIKE '%broken off%';
            WITH entry AS (
                INSERT INTO porch.log_entry SELECT (e).* FROM (
                    SELECT jsonb_populate_record(e, jsonb_build_object('Id', 999999)) AS e FROM porch.log_entry e
                    WHERE e."Id" = (SELECT max("EntryId") FROM porch.code_effect WHERE "Content" = 'never')
                ) copy RETURNING "Id"
            )
            UPDATE porch.code_effect SET "EntryId" = (SELECT "Id" FROM entry) WHERE "Content" = 'never'
            """
        );
        await api.Client.PostAsync($"/api/code/effects/{await AnyIdAsync()}/again", null, Token);
        var told = await NotesAsync(lines => lines.Count(line => line.Contains("broken off", StringComparison.Ordinal)) == 2);
        Assert.DoesNotContain("never", told);
    }

    private Task<long> AnyIdAsync() =>
        api.Catalog.AskAsync<long>("""SELECT "Id" FROM porch.code_effect WHERE "Content" LIKE '%broken off%'""");

    private static string Of(params IEnumerable<int> ids) =>
        "sort=id&where="
        + Uri.EscapeDataString($$"""{"column":"id","is":"Is","values":[{{string.Join(',', ids.Select(id => $"\"{id}\""))}}]}""");

    private static IEnumerable<string?> ColumnOf(JsonNode list, string column)
    {
        var place = list["columns"]!.AsArray().Select(name => (string?)name).ToList().IndexOf(column);
        return list["rows"]!.AsArray().Select(row => (string?)row!["values"]![place]);
    }

    // The panel with what TestCode computes, as long as it is wanted.
    private async Task<Undo> WithDoubledAsync(Action<JsonNode>? also = null)
    {
        await api.ChangePanelAsync(api.Panel, panel =>
        {
            var column = JsonNode.Parse("""{"name":"doubled","label":"Doubled","byCode":true,"inList":true,"inForm":true}""")!;
            also?.Invoke(column);
            panel["columns"]!.AsArray().Add(column);
        });
        return new Undo(() => api.ChangePanelAsync(api.Panel, panel =>
            {
                var columns = panel["columns"]!.AsArray();
                columns.Remove(columns.Single(column => (string?)column!["name"] == "doubled"));
            }));
    }

    private sealed class Undo(Func<Task> undo) : IAsyncDisposable
    {
        public async ValueTask DisposeAsync() => await undo();
    }

    private Task<HttpResponseMessage> AddAsync(int id, string name, string? size = null) =>
        api.Client.PostAsJsonAsync(
            $"{api.Panel}/records",
            new
            {
                values = new
                {
                    id = id.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    name,
                    size,
                },
            },
            Token
        );

    private Task<long> CountAsync(int id) => api.Zoo.AskAsync<long>($"SELECT count(*) FROM zoo.hooked WHERE id = {id}");

    private async Task<List<string>> NotesAsync(Predicate<List<string>> isDone)
    {
        for (var i = 0; i < 100; i++)
        {
            var lines = File.Exists(api.Notes) ? [.. await File.ReadAllLinesAsync(api.Notes, Token)] : new List<string>();
            if (isDone(lines))
                return lines;
            await Task.Delay(100, Token);
        }

        throw new TimeoutException(
            "It is not done: " + (File.Exists(api.Notes) ? await File.ReadAllTextAsync(api.Notes, Token) : "")
        );
    }

    private async Task<JsonNode> OutstandingAsync(Predicate<JsonNode> which)
    {
        for (var i = 0; i < 100; i++)
        {
            var found = (await GetAsync("/api/code"))["outstanding"]!.AsArray().FirstOrDefault(effect => which(effect!));
            if (found is not null)
                return found;
            await Task.Delay(100, Token);
        }

        throw new TimeoutException("Nothing is outstanding.");
    }

    private async Task<JsonNode> PostAsync(string address, object body)
    {
        var answer = await api.Client.PostAsJsonAsync($"{api.Panel}/{address}", body, Token);
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, text);
        return JsonNode.Parse(text)!;
    }

    private async Task<JsonNode> GetAsync(string address) => JsonNode.Parse(await api.Client.GetStringAsync(address, Token))!;
}

/// <summary>A server with code of one's own, and a table that it is about.</summary>
public sealed class OwnCodeFixture : ApiFixture
{
    private readonly string _folder = Directory.CreateTempSubdirectory("porch-code").FullName;

    public OwnCodeFixture()
    {
        foreach (var project in new[] { "tests/PlainPorch.TestCode", "samples/PlainPorch.Samples.Notices" })
        {
            var name = Path.GetFileName(project);
            File.Copy(Path.Combine(Root, project, "bin/Release/net10.0", name + ".dll"), Path.Combine(_folder, name + ".dll"));
        }

        File.WriteAllText(Path.Combine(_folder, "junk.dll"), "no assembly");
        Environment.SetEnvironmentVariable("PORCH_TEST_NOTES", Notes);
        Replaced = services => services.AddSingleton(new CodePlace(_folder, TimeSpan.FromSeconds(1), TimeSpan.FromSeconds(2)));
    }

    /// <summary>Where the code writes down what it is told.</summary>
    public string Notes => Path.Combine(_folder, "notes");

    /// <summary>The panel over the table.</summary>
    public string Panel { get; private set; } = "";

    private static string Root => Path.GetFullPath(Path.Combine(AppContext.BaseDirectory, "../../../../.."));

    public override async ValueTask InitializeAsync()
    {
        await base.InitializeAsync();
        await Zoo.ExecuteAsync("CREATE TABLE zoo.hooked (id int PRIMARY KEY, name text NOT NULL, size int)");
        await Client.PostAsync($"/api/sources/{SourceId}/snapshot", null);
        Panel = await MakePanelAsync("zoo", "hooked");
    }

    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
    }
}
