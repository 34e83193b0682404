using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using SkiaSharp;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Columns that hold where files lie: the files are shown, and put into their folder with the record.</summary>
public sealed class FilePathApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private const string Semicolons = """{"kind": "list", "sign": ";"}""";

    private string _panel = "";
    private string _table = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private string Letters => Path.Combine(api.Files, "letters");

    public async ValueTask InitializeAsync()
    {
        _table = $"kept_{Guid.NewGuid():N}";
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_table} (
                id int PRIMARY KEY, name text, photo varchar(90), letters text[], notes text, needed text NOT NULL DEFAULT 'x'
            );
            INSERT INTO zoo.{_table} VALUES
                (1, 'first', 'C:\HARBOUR\PHOTOS\Old\ONE.PNG', NULL, 'a.txt;B.txt; gone.txt', 'x'),
                (2, 'second', NULL, ARRAY['secret.pdf'], NULL, 'x'),
                (3, 'third', 'C:\HARBOUR\PHOTOS\..\..\etc\passwd', ARRAY['../outside.txt', '/etc/passwd', 'link.txt'], NULL, 'x')
            """
        );
        Directory.CreateDirectory(Path.Combine(api.Files, "photos", "old"));
        Directory.CreateDirectory(Letters);
        await File.WriteAllBytesAsync(Path.Combine(api.Files, "photos", "old", "one.png"), Picture(30, 20), Token);
        await File.WriteAllTextAsync(Path.Combine(Letters, "a.txt"), "letter a", Token);
        await File.WriteAllTextAsync(Path.Combine(Letters, "b.txt"), "letter b", Token);
        await File.WriteAllTextAsync(Path.Combine(Letters, "secret.pdf"), "nobody's", Token);
        await File.WriteAllTextAsync(Path.Combine(api.Files, "outside.txt"), "outside", Token);
        var link = Path.Combine(Letters, "link.txt");
        if (!Path.Exists(link))
            File.CreateSymbolicLink(link, Path.Combine(api.Files, "outside.txt"));
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        _panel = await api.MakePanelAsync("zoo", _table);
        await api.ChangePanelAsync(_panel, definition =>
        {
            Of(definition, "photo")["files"] = JsonNode.Parse("""{"folder": "photos", "before": "C:\\HARBOUR\\PHOTOS\\"}""");
            Of(definition, "photo")["isPicture"] = true;
            Of(definition, "letters")["files"] = JsonNode.Parse("""{"folder": "letters", "endings": ["pdf", "txt"]}""");
            Of(definition, "notes")["files"] = JsonNode.Parse("""{"folder": "letters"}""");
            Of(definition, "notes")["reading"] = JsonNode.Parse(Semicolons);
        });
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task APathOfAnOldProgram_LeadsToItsFile_WhateverItsCapitalsAndStrokes()
    {
        using var picture = await api.Client.GetAsync($"{_panel}/records/1/pictures/photo?size=400", Token);
        Assert.Equal("image/webp", picture.Content.Headers.ContentType?.MediaType);
        using var drawn = SKBitmap.Decode(await picture.Content.ReadAsByteArrayAsync(Token));
        Assert.Equal((30, 20), (drawn.Width, drawn.Height));
        Assert.Equal("letter a", await api.Client.GetStringAsync($"{_panel}/records/1/files/notes", Token));
        using var second = await api.Client.GetAsync($"{_panel}/records/1/files/notes?place=1", Token);
        Assert.Equal("letter b", await second.Content.ReadAsStringAsync(Token));
        Assert.Equal("b.txt", second.Content.Headers.ContentDisposition?.FileName);
        Assert.Equal("attachment", second.Content.Headers.ContentDisposition?.DispositionType);
        Assert.Equal("application/octet-stream", second.Content.Headers.ContentType?.MediaType);
        var files = (await RecordAsync(1))["files"]!["notes"]!.AsArray();
        Assert.Equal(["a.txt 8", "B.txt 8", "gone.txt "], files.Select(file => $"{file!["name"]} {file["bytes"]}"));
        Assert.Equal(HttpStatusCode.NotFound, await StatusAsync("records/1/files/notes?place=2"));
        Assert.Equal(HttpStatusCode.NotFound, await StatusAsync("records/1/files/notes?place=-1"));
    }

    [Fact]
    public async Task NoPath_LeadsOutOfItsFolder()
    {
        Assert.Equal(HttpStatusCode.NotFound, await StatusAsync("records/3/pictures/photo"));
        Assert.Equal(HttpStatusCode.NotFound, await StatusAsync("records/3/files/photo"));
        foreach (var place in Enumerable.Range(0, 3))
            Assert.Equal(HttpStatusCode.NotFound, await StatusAsync($"records/3/files/letters?place={place}"));
        Assert.All((await RecordAsync(3))["files"]!["letters"]!.AsArray(), file => Assert.Null(file!["bytes"]));
    }

    [Fact]
    public async Task SeveralFiles_AreAddedAndTakenOut_AndThePathsAreStored()
    {
        var one = await SendAsync("letters", "Dear Sir.PDF", [1, 2, 3]);
        var two = await SendAsync("letters", "../../etc/cron d/Äx.txt", [4, 5]);
        var saved = await SaveAsync(1, new { letters = $$"""["upload:{{one}}", "upload:{{two}}"]""" });
        Assert.True(saved.IsSuccessStatusCode, await saved.Content.ReadAsStringAsync(Token));
        var paths = await api.Zoo.AskAsync<string[]>($"SELECT letters FROM zoo.{_table} WHERE id = 1");
        Assert.Matches("^Dear-Sir-[0-9a-f]{10}\\.pdf$", paths[0]);
        Assert.Matches("^Äx-[0-9a-f]{10}\\.txt$", paths[1]);
        Assert.Equal([1, 2, 3], await File.ReadAllBytesAsync(Path.Combine(Letters, paths[0]), Token));
        Assert.Equal([4, 5], await api.Client.GetByteArrayAsync($"{_panel}/records/1/files/letters?place=1", Token));
        // What is taken out of the record stays in the folder: who else refers to it is not known.
        Assert.Equal(HttpStatusCode.OK, (await SaveAsync(1, new { letters = $$"""["{{paths[1]}}"]""" })).StatusCode);
        Assert.Equal([4, 5], await api.Client.GetByteArrayAsync($"{_panel}/records/1/files/letters", Token));
        Assert.True(File.Exists(Path.Combine(Letters, paths[0])));
    }

    [Fact]
    public async Task APictureForAPath_IsDrawnAnew_AndStoredAsTheOldProgramFindsIt()
    {
        var upload = await SendAsync("photo", "Hull.JPG", [.. Picture(30, 20), .. "taken at home"u8]);
        await SaveAsync(2, new { photo = $"upload:{upload}" });
        var path = await api.Zoo.AskAsync<string>($"SELECT photo FROM zoo.{_table} WHERE id = 2");
        Assert.Matches(@"^C:\\HARBOUR\\PHOTOS\\Hull-[0-9a-f]{10}\.png$", path);
        var stored = await File.ReadAllBytesAsync(Path.Combine(api.Files, "photos", path.Split('\\')[^1]), Token);
        Assert.Equal("PNG"u8, stored.AsSpan(1, 3));
        Assert.DoesNotContain("taken at home", System.Text.Encoding.Latin1.GetString(stored), StringComparison.Ordinal);
        Assert.Contains(
            path,
            (await api.Client.GetStringAsync($"{_panel}/records?q=hull", Token)).Replace(@"\\", @"\", StringComparison.Ordinal),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("letters", """["secret.pdf"]""", "secret.pdf is not a file of this record")]
    [InlineData("letters", """["upload:00000000-0000-0000-0000-000000000000"]""", "not kept any more")]
    [InlineData("photo", "upload:5", "not a file of this record")]
    [InlineData("photo", @"C:\HARBOUR\PHOTOS\old\two.png", "two.png is not a file of this record")]
    [InlineData("needed", null, "must not be empty")]
    public async Task APathThatTheRecordDoesNotHave_IsRefusedAtItsField(string column, string? value, string says)
    {
        await api.ChangePanelAsync(_panel, definition => Of(definition, "needed")["files"] = new JsonObject());
        var answer = await SaveAsync(1, new Dictionary<string, string?> { ["name"] = "changed", [column] = value });
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var errors = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]!;
        Assert.Contains(says, (string)errors[column]![0]!, StringComparison.Ordinal);
        Assert.Equal("first", await api.Zoo.AskAsync<string>($"SELECT name FROM zoo.{_table} WHERE id = 1"));
    }

    [Fact]
    public async Task WhatIsNotSaved_LeavesNoFile()
    {
        var before = Directory.GetFiles(api.Files, "*", SearchOption.AllDirectories).Order();
        var upload = await SendAsync("letters", "late.txt", [1]);
        // The record has changed since.
        var record = await RecordAsync(2);
        await SaveAsync(2, new { name = "changed" });
        var late = await api.PutAsync(
            $"{_panel}/records/2",
            record["version"],
            new { values = new { letters = $$"""["upload:{{upload}}"]""" } }
        );
        Assert.Equal(HttpStatusCode.PreconditionFailed, late.StatusCode);
        // The path is longer than the column.
        var tooLong = await SendAsync("photo", $"{new string('x', 80)}.png", Picture(3, 2));
        var refused = await SaveAsync(2, new { photo = $"upload:{tooLong}" });
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        Assert.Equal(before, Directory.GetFiles(api.Files, "*", SearchOption.AllDirectories).Order());
        // It still waits, and can be saved then.
        Assert.Equal(HttpStatusCode.OK, (await SaveAsync(2, new { letters = $$"""["upload:{{upload}}"]""" })).StatusCode);
    }

    [Fact]
    public async Task AnAdditionThatIsSentTwice_LaysItsFileOnce()
    {
        var upload = await SendAsync("letters", "once.txt", [7]);
        foreach (var _ in Enumerable.Range(0, 2))
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"{_panel}/records");
            request.Headers.Add("Idempotency-Key", $"files-{upload}");
            request.Content = JsonContent.Create(
                new
                {
                    values = new
                    {
                        id = "9",
                        letters = $$"""["upload:{{upload}}"]""",
                        needed = "n",
                    },
                }
            );
            var answer = await api.Client.SendAsync(request, Token);
            Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        }

        Assert.Single(Directory.GetFiles(Letters, "once-*"));
        Assert.Equal([7], await api.Client.GetByteArrayAsync($"{_panel}/records/9/files/letters", Token));
    }

    [Fact]
    public async Task OnlyNamedEndings_AreTaken_AndPathsAreTypedNowhere()
    {
        var answer = await PostAsync("letters", "run.exe", [1]);
        Assert.Contains("Only pdf, txt are taken", await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
        var changes = await api.Client.PostAsJsonAsync(
            $"{_panel}/changes",
            new { keys = (string[])["1"], values = new { photo = "secret.png" } },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, changes.StatusCode);
    }

    [Fact]
    public async Task SetUp_FindsOutWhatThePathsBeginWith_AndSaysHowManyFilesAreThere()
    {
        var look = await LookAsync("""{"column": "photo", "files": {"folder": "photos"}}""");
        Assert.Equal((2, 0), ((int)look["looked"]!, (int)look["found"]!));
        Assert.Equal(@"C:\HARBOUR\PHOTOS\", (string?)look["before"]);
        look = await LookAsync("""{"column": "photo", "files": {"folder": "photos", "before": "C:\\HARBOUR\\PHOTOS\\"}}""");
        Assert.Equal((1, null), ((int)look["found"]!, (string?)look["before"]));
        Assert.Null((int?)(await LookAsync("""{"column": "photo", "files": {"folder": "nowhere"}}"""))["files"]);
        var wrong = await api.Client.PostAsync(
            $"{_panel}/setup/files",
            Json("""{"column": "photo", "files": {"folder": "../elsewhere"}}"""),
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, wrong.StatusCode);
        await Assert.ThrowsAsync<InvalidOperationException>(() =>
            api.ChangePanelAsync(_panel, definition => Of(definition, "id")["files"] = new JsonObject())
        );
    }

    private static JsonNode Of(JsonNode definition, string name) =>
        definition["columns"]!.AsArray().Single(column => (string)column!["name"]! == name)!;

    private static byte[] Picture(int width, int height)
    {
        using var bitmap = new SKBitmap(width, height);
        bitmap.Erase(SKColors.SeaGreen);
        using var png = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        return png.ToArray();
    }

    private static StringContent Json(string body) => new(body, new MediaTypeHeaderValue("application/json"));

    private async Task<JsonNode> LookAsync(string trial) =>
        (
            await (await api.Client.PostAsync($"{_panel}/setup/files", Json(trial), Token)).Content.ReadFromJsonAsync<JsonNode>(
                Token
            )
        )!;

    private async Task<HttpStatusCode> StatusAsync(string address) =>
        (await api.Client.GetAsync($"{_panel}/{address}", Token)).StatusCode;

    private async Task<JsonNode> RecordAsync(int id) =>
        (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/{id}", Token))!;

    private Task<HttpResponseMessage> PostAsync(string column, string name, byte[] content)
    {
        var body = new ByteArrayContent(content);
        body.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        return api.Client.PostAsync($"{_panel}/uploads/{column}?name={Uri.EscapeDataString(name)}", body, Token);
    }

    private async Task<string> SendAsync(string column, string name, byte[] content)
    {
        var answer = await PostAsync(column, name, content);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return (string)(await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["id"]!;
    }

    private async Task<HttpResponseMessage> SaveAsync(int id, object values) =>
        await api.PutAsync($"{_panel}/records/{id}", (await RecordAsync(id))["version"], new { values });
}
