using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using SkiaSharp;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Chosen records, sums, pictures and suggestions.</summary>
public sealed class SelectionApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await api.Zoo.ExecuteAsync(
            """
            DROP TABLE IF EXISTS zoo.crate, zoo.crate_part;
            CREATE TABLE zoo.crate (id int PRIMARY KEY, label text NOT NULL, weight numeric(8,2) CHECK (weight < 1000), pieces int, ratio double precision, picture bytea, code text UNIQUE);
            INSERT INTO zoo.crate SELECT n, 'crate ' || n, n + 0.5, CASE WHEN n % 2 = 0 THEN 2000000000 END, n / 8.0, NULL, 'c' || n FROM generate_series(1, 40) n;
            CREATE TABLE zoo.crate_part (crate int NOT NULL, part text NOT NULL, note text, PRIMARY KEY (crate, part));
            INSERT INTO zoo.crate_part SELECT n, 'p,' || n, NULL FROM generate_series(1, 30) n
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Keys_AreAllOfTheListInItsOrder()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var keys = await GetAsync($"{panel}/keys?q={Uri.EscapeDataString("weight < 20")}&sort=-weight&size=25");
        Assert.Equal(Enumerable.Range(1, 19).Reverse().Select(n => $"{n}"), keys["keys"]!.AsArray().Select(key => (string)key!));
        Assert.False((bool)keys["hasMore"]!);
    }

    [Fact]
    public async Task Totals_AreOfTheWholeList_AndHoldMoreThanTheColumnsType()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var totals = await GetAsync(
            $"{panel}/totals?columns=weight&columns=pieces&columns=ratio&columns=label&q={Uri.EscapeDataString("weight < 20")}"
        );
        Assert.Equal(["weight", "pieces", "ratio"], totals.AsArray().Select(total => (string)total!["column"]!));
        Assert.Equal(("199.50", "10.5000"), ((string)totals[0]!["sum"]!, (string)totals[0]!["average"]!));
        Assert.Equal(("18000000000", 9), ((string)totals[1]!["sum"]!, (int)totals[1]!["count"]!));
        Assert.Equal("23.75", (string)totals[2]!["sum"]!);
        var none = await GetAsync($"{panel}/totals?columns=weight&q=nowhere");
        Assert.Equal((0, null), ((int)none[0]!["count"]!, (string?)none[0]!["sum"]));
    }

    [Fact]
    public async Task Changes_ReachTheChosenRecordsOnly_AndTellWhatIsGone()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var done = await ChangeAsync(panel, ["3", "7", "999"], new { label = "same", pieces = "5" });
        Assert.Equal(HttpStatusCode.OK, done.StatusCode);
        var told = (await done.Content.ReadFromJsonAsync<JsonNode>(Token))!;
        Assert.Equal((2, 1), ((int)told["changed"]!, (int)told["notFound"]!));
        Assert.Equal(
            "3,7",
            await api.Zoo.AskAsync<string>(
                "SELECT string_agg(id::text, ',' ORDER BY id) FROM zoo.crate WHERE label = 'same' AND pieces = 5"
            )
        );
    }

    [Theory]
    [InlineData("""{"weight":"1000"}""", "")]
    [InlineData("""{"code":"twice"}""", "code")]
    [InlineData("""{"weight":"heavy"}""", "weight")]
    [InlineData("""{"label":null}""", "label")]
    [InlineData("""{"id":"5"}""", "id")]
    [InlineData("""{"ghost":"5"}""", "ghost")]
    [InlineData("{}", "values")]
    public async Task Changes_OfWhichOneIsRefused_AreAllRefused(string values, string field)
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var before = await api.Zoo.AskAsync<string>("SELECT md5(string_agg(c::text, '|' ORDER BY id)) FROM zoo.crate c");
        var refused = await ChangeAsync(panel, ["1", "2", "3"], JsonNode.Parse(values)!);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        var problem = (await refused.Content.ReadFromJsonAsync<JsonNode>(Token))!;
        Assert.Contains(problem["errors"]!.AsObject(), error => error.Key == field || field.Length == 0);
        Assert.Equal(before, await api.Zoo.AskAsync<string>("SELECT md5(string_agg(c::text, '|' ORDER BY id)) FROM zoo.crate c"));
    }

    [Fact]
    public async Task Changes_TakenBack_GiveEachRecordWhatItHad_AndLeaveThoseChangedSince()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        const string State =
            "SELECT string_agg(concat_ws(':', id, label, pieces, xmin IS NULL), ',' ORDER BY id) FROM zoo.crate WHERE id BETWEEN 1 AND 6";
        var before = await api.Zoo.AskAsync<string>(State);
        var done = await ReadAsync(await ChangeAsync(panel, ["1", "2", "3", "4"], new { pieces = "5", label = "same" }));
        Assert.NotEqual(before, await api.Zoo.AskAsync<string>(State));

        var undone = await ReadAsync(await UndoAsync(panel, (long)done["entry"]!));
        Assert.Equal((4, 0), ((int)undone["changed"]!, (int)undone["notFound"]!));
        Assert.Equal(before, await api.Zoo.AskAsync<string>(State));

        done = await ReadAsync(await ChangeAsync(panel, ["1", "2", "3", "4"], new { pieces = "5" }));
        await api.Zoo.ExecuteAsync("UPDATE zoo.crate SET pieces = 6 WHERE id = 2; DELETE FROM zoo.crate WHERE id = 3");
        undone = await ReadAsync(await UndoAsync(panel, (long)done["entry"]!));
        Assert.Equal((2, 2), ((int)undone["changed"]!, (int)undone["notFound"]!));
        Assert.Equal(
            "1:,2:6,4:2000000000",
            await api.Zoo.AskAsync<string>(
                "SELECT string_agg(id || ':' || coalesce(pieces::text, ''), ',' ORDER BY id) FROM zoo.crate WHERE id <= 4"
            )
        );

        // The taking back is a change like others, and can be taken back itself.
        undone = await ReadAsync(await UndoAsync(panel, (long)undone["entry"]!));
        Assert.Equal(2, (int)undone["changed"]!);
        Assert.Equal(
            "5,6,5",
            await api.Zoo.AskAsync<string>("SELECT string_agg(pieces::text, ',' ORDER BY id) FROM zoo.crate WHERE id <= 4")
        );
    }

    [Fact]
    public async Task Changes_OfWhichTheLogbookKeepsNothing_CannotBeTakenBack()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        await api.ChangePanelAsync(panel, definition =>
            definition["columns"]!.AsArray().First(column => (string)column!["name"]! == "label")!["isSensitive"] = true
        );
        var done = await ReadAsync(await ChangeAsync(panel, ["1", "2"], new { label = "secret" }));
        var refused = await UndoAsync(panel, (long)done["entry"]!);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Contains(
            "is not recorded in the logbook",
            await refused.Content.ReadAsStringAsync(Token),
            StringComparison.Ordinal
        );
        Assert.Equal(2, await api.Zoo.AskAsync<long>("SELECT count(*) FROM zoo.crate WHERE label = 'secret'"));
        Assert.Equal(HttpStatusCode.BadRequest, (await UndoAsync(panel, 1_000_000)).StatusCode);
    }

    [Fact]
    public async Task Count_IsExact_WhereThatIsWanted()
    {
        await api.Zoo.ExecuteAsync(
            "DROP TABLE IF EXISTS zoo.many; CREATE TABLE zoo.many (id int PRIMARY KEY); INSERT INTO zoo.many SELECT generate_series(1, 25011); ANALYZE zoo.many"
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var panel = await api.MakePanelAsync("zoo", "many");
        Assert.NotEqual("exact", (string)(await GetAsync($"{panel}/count"))["certainty"]!);
        var exact = await GetAsync($"{panel}/count?exact=true");
        Assert.Equal((25_011, "exact"), ((int)exact["value"]!, (string)exact["certainty"]!));
    }

    [Fact]
    public async Task Changes_ByKeysOfSeveralParts_ReachThoseRecords()
    {
        var panel = await api.MakePanelAsync("zoo", "crate_part");
        var keys = (await GetAsync($"{panel}/keys"))["keys"]!
            .AsArray()
            .Select(key => (string)key!)
            .Where((_, i) => i % 3 == 0)
            .ToArray();
        Assert.Equal(HttpStatusCode.OK, (await ChangeAsync(panel, keys, new { note = "seen" })).StatusCode);
        Assert.Equal(
            keys.Length,
            await api.Zoo.AskAsync<long>("SELECT count(*) FROM zoo.crate_part WHERE note = 'seen' AND (crate - 1) % 3 = 0")
        );
        Assert.Equal(keys.Length, await api.Zoo.AskAsync<long>("SELECT count(*) FROM zoo.crate_part WHERE note = 'seen'"));
    }

    [Fact]
    public async Task Changes_HeldBackByATrigger_AreToldAsNotDone()
    {
        await api.Zoo.ExecuteAsync("INSERT INTO zoo.guarded VALUES (501, 'quiet'), (502, 'quiet') ON CONFLICT DO NOTHING");
        var panel = await api.MakePanelAsync("zoo", "guarded");
        var told = (
            await (await ChangeAsync(panel, ["501", "502"], new { note = "lost" })).Content.ReadFromJsonAsync<JsonNode>(Token)
        )!;
        Assert.Equal((0, 2), ((int)told["changed"]!, (int)told["notFound"]!));
        Assert.Equal(HttpStatusCode.BadRequest, (await ChangeAsync(panel, ["501", "502"], new { note = "loud" })).StatusCode);
    }

    [Fact]
    public async Task ExportOfChosen_HoldsThemInTheListsOrderAndColumns()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        using var answer = await api.Client.PostAsJsonAsync(
            $"{panel}/export/csv?sort=-weight&columns=code&columns=id&q=nothing",
            new { keys = new[] { "4", "12", "9" } },
            Token
        );
        Assert.Equal(
            ["Code,ID", "c12,12", "c9,9", "c4,4"],
            (await answer.Content.ReadAsStringAsync(Token))
                .TrimStart('\uFEFF')
                .Split("\r\n", StringSplitOptions.RemoveEmptyEntries)
        );
        using var none = await api.Client.PostAsJsonAsync($"{panel}/export/csv", new { keys = Array.Empty<string>() }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, none.StatusCode);
    }

    [Fact]
    public async Task List_OfChosenColumns_BringsThemAndTheTitle_AndSaysWhichAreUnknown()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var list = await GetAsync($"{panel}/records?columns=code&columns=ghost&columns=weight&size=25");
        Assert.Equal(["code", "weight"], list["columns"]!.AsArray().Select(name => (string)name!).Take(2));
        Assert.Equal("The panel has no column ghost to show. It was left out.", (string)list["dropped"]![0]!["message"]!);
        Assert.NotEqual("(untitled)", (string)list["rows"]![0]!["title"]!);
    }

    [Fact]
    public async Task List_WhoseCellsCanBeChanged_BringsTheVersionThatAChangeNeeds()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var row = (await GetAsync($"{panel}/records?q=crate"))["rows"]![0]!;
        using var change = new HttpRequestMessage(HttpMethod.Put, $"{panel}/records/{row["key"]}")
        {
            Content = JsonContent.Create(new { values = new { code = "changed" } }),
        };
        change.Headers.TryAddWithoutValidation("If-Match", $"\"{row["version"]}\"");
        Assert.Equal(HttpStatusCode.OK, (await api.Client.SendAsync(change, Token)).StatusCode);
    }

    [Fact]
    public async Task Picture_IsDrawnSmall_AndKnownAgainByItsStamp()
    {
        using (var bitmap = new SKBitmap(900, 300))
        {
            using var png = bitmap.Encode(SKEncodedImageFormat.Png, 90);
            await api.Zoo.ExecuteAsync(
                $"UPDATE zoo.crate SET picture = decode('{Convert.ToHexString(png.ToArray())}', 'hex') WHERE id = 1; UPDATE zoo.crate SET picture = 'no picture' WHERE id = 2"
            );
        }

        var panel = await api.MakePanelAsync("zoo", "crate");
        using var answer = await api.Client.GetAsync($"{panel}/records/1/pictures/picture", Token);
        Assert.Equal((HttpStatusCode.OK, "image/webp"), (answer.StatusCode, answer.Content.Headers.ContentType?.MediaType));
        using var small = SKBitmap.Decode(await answer.Content.ReadAsByteArrayAsync(Token));
        Assert.Equal((96, 32), (small.Width, small.Height));
        using var again = new HttpRequestMessage(HttpMethod.Get, $"{panel}/records/1/pictures/picture");
        again.Headers.TryAddWithoutValidation("If-None-Match", answer.Headers.ETag!.ToString());
        Assert.Equal(HttpStatusCode.NotModified, (await api.Client.SendAsync(again, Token)).StatusCode);
        await api.Zoo.ExecuteAsync("UPDATE zoo.crate SET picture = picture || '\\x00' WHERE id = 1");
        Assert.NotEqual(
            answer.Headers.ETag,
            (await api.Client.GetAsync($"{panel}/records/1/pictures/picture", Token)).Headers.ETag
        );
        foreach (
            var none in (string[])
                ["2/pictures/picture", "3/pictures/picture", "1/pictures/code", "1/pictures/ghost", "x/pictures/picture"]
        )
            Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync($"{panel}/records/{none}", Token)).StatusCode);
    }

    [Fact]
    public async Task Picture_TakenWithATurnedCamera_StandsUpright()
    {
        using var bitmap = new SKBitmap(40, 20);
        bitmap.Erase(SKColors.White);
        using var jpeg = bitmap.Encode(SKEncodedImageFormat.Jpeg, 90);
        await SetPictureAsync([.. jpeg.ToArray()[..2], .. TurnedByAQuarter, .. jpeg.ToArray()[2..]]);
        using var answer = await api.Client.GetAsync(
            $"{await api.MakePanelAsync("zoo", "crate")}/records/1/pictures/picture?size=400",
            Token
        );
        using var upright = SKBitmap.Decode(await answer.Content.ReadAsByteArrayAsync(Token));
        Assert.Equal((20, 40), (upright.Width, upright.Height));
    }

    [Fact]
    public async Task Picture_ThatClaimsToBeVast_IsNotUnpacked()
    {
        var bitmap = new byte[1_000];
        "BM"u8.CopyTo(bitmap);
        foreach (var (place, value) in ((int, int)[])[(2, bitmap.Length), (10, 54), (14, 40), (18, 30_000), (22, 30_000)])
            BitConverter.TryWriteBytes(bitmap.AsSpan(place), value);
        (bitmap[26], bitmap[28]) = (1, 24);
        await SetPictureAsync(bitmap);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (
                await api.Client.GetAsync($"{await api.MakePanelAsync("zoo", "crate")}/records/1/pictures/picture", Token)
            ).StatusCode
        );
    }

    [Theory]
    [InlineData("lab", "Label: ")]
    [InlineData("code: c1", "code: c1")]
    [InlineData("label: \"crate 1", "label: \"crate 1")]
    public async Task Suggestions_AreFieldsOrValues(string typed, string first)
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var suggestions = (await GetAsync($"{panel}/suggestions?text={Uri.EscapeDataString(typed)}")).AsArray();
        Assert.InRange(suggestions.Count, 1, 6);
        Assert.Contains(suggestions, one => ((string)one!["text"]!).StartsWith(first, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Reading_SaysConditionsInWords_OrWhatIsWrong()
    {
        var panel = await api.MakePanelAsync("zoo", "crate");
        var read = await GetAsync(
            $"{panel}/reading?where={Uri.EscapeDataString("""{"all":[{"column":"weight","is":"more","values":["3"]},{"column":"pieces","is":"more","values":["many"]}]}""")}"
        );
        Assert.Equal(["Weight over 3"], read["says"]!.AsArray().Select(says => (string)says!));
        Assert.StartsWith(
            "Pieces cannot be compared with “many”.",
            (string)read["problems"]![0]!["message"]!,
            StringComparison.Ordinal
        );
        Assert.Contains(
            await GetAsync($"{panel}/fields") is JsonArray fields ? fields.Select(field => (string)field!["label"]!) : [],
            label => label == "Weight"
        );
    }

    // An Exif segment that says nothing but "orientation: 6": APP1, its length, "Exif", a big-endian TIFF head, one entry.
    private static byte[] TurnedByAQuarter =>
        [
            0xFF,
            0xE1,
            0,
            34,
            .. "Exif\0\0"u8,
            .. "MM"u8,
            0,
            42,
            0,
            0,
            0,
            8,
            0,
            1,
            0x01,
            0x12,
            0,
            3,
            0,
            0,
            0,
            1,
            0,
            6,
            0,
            0,
            0,
            0,
            0,
            0,
        ];

    private Task SetPictureAsync(byte[] bytes) =>
        api.Zoo.ExecuteAsync($"UPDATE zoo.crate SET picture = decode('{Convert.ToHexString(bytes)}', 'hex') WHERE id = 1");

    private static async Task<JsonNode> ReadAsync(HttpResponseMessage answer)
    {
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }

    private Task<HttpResponseMessage> UndoAsync(string panel, long entry) =>
        api.Client.PostAsJsonAsync($"{panel}/changes/undo", new { entry }, Token);

    private async Task<JsonNode> GetAsync(string address) => (await api.Client.GetFromJsonAsync<JsonNode>(address, Token))!;

    private Task<HttpResponseMessage> ChangeAsync(string panel, string[] keys, object values) =>
        api.Client.PostAsJsonAsync($"{panel}/changes", new { keys, values }, Token);
}
