using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using SkiaSharp;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Files wait at the server until the record that they are for is saved.</summary>
public sealed class UploadApiTests(ApiFixture api) : IClassFixture<ApiFixture>, IAsyncLifetime
{
    private string _panel = "";
    private string _table = "";

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        _table = $"paper_{Guid.NewGuid():N}";
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE TABLE zoo.{_table} (id int PRIMARY KEY, name text, photo bytea, scan bytea NOT NULL DEFAULT 'none', sealed bytea);
            INSERT INTO zoo.{_table} VALUES (1, 'first', NULL, 'old', 'old')
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        _panel = await api.MakePanelAsync("zoo", _table);
        await api.ChangePanelAsync(_panel, definition =>
        {
            foreach (var column in definition["columns"]!.AsArray())
            {
                column!["readOnly"] = (string)column["name"]! == "sealed";
                column["isPicture"] = (string)column["name"]! == "photo";
                column["mostMegabytes"] = (string)column["name"]! == "scan" ? 1 : null;
            }
        });
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Picture_IsSeenBeforeItIsSaved_AndIsStoredAnew()
    {
        var sent = Picture(30, 20, [.. "taken at home"u8]);
        var upload = await SendAsync("photo", sent);
        using (var shown = await DrawnAsync($"{_panel}/uploads/photo/{upload}"))
            Assert.Equal((30, 20), (shown.Width, shown.Height));
        Assert.Equal("0", await StoredAsync("count(photo)"));
        Assert.Equal(HttpStatusCode.OK, (await SaveAsync(new { photo = upload })).StatusCode);
        var stored = Convert.FromHexString(await StoredAsync("encode(photo, 'hex')"));
        Assert.Equal("PNG"u8, stored.AsSpan(1, 3));
        Assert.DoesNotContain("taken at home", System.Text.Encoding.Latin1.GetString(stored), StringComparison.Ordinal);
        using var small = await DrawnAsync($"{_panel}/records/1/pictures/photo?size=400");
        Assert.Equal((30, 20), (small.Width, small.Height));
    }

    [Fact]
    public async Task Picture_CanBeTurned_BeforeItIsSaved()
    {
        var upload = await SendAsync("photo", Picture(30, 20));
        var turned = await (
            await api.Client.PostAsync($"{_panel}/uploads/photo/{upload}/turn", null, Token)
        ).Content.ReadFromJsonAsync<JsonNode>(Token);
        await SaveAsync(new { photo = (string)turned!["id"]! });
        using var shown = await DrawnAsync($"{_panel}/records/1/pictures/photo?size=400");
        Assert.Equal((20, 30), (shown.Width, shown.Height));
    }

    [Fact]
    public async Task File_IsStoredByteForByte_WithANewRecord_AndGivenOutAsAFile()
    {
        byte[] content = [.. Enumerable.Range(0, 700_000).Select(number => (byte)(number * 31))];
        var upload = await SendAsync("scan", content);
        var added = await api.Client.PostAsJsonAsync(
            $"{_panel}/records",
            new { values = new { id = "2", scan = upload } },
            Token
        );
        Assert.Equal(HttpStatusCode.Created, added.StatusCode);
        using var answer = await api.Client.GetAsync($"{_panel}/records/2/files/scan", Token);
        Assert.Equal(content, await answer.Content.ReadAsByteArrayAsync(Token));
        Assert.Equal("attachment", answer.Content.Headers.ContentDisposition?.DispositionType);
        Assert.Equal("application/octet-stream", answer.Content.Headers.ContentType?.MediaType);
        Assert.Equal("nosniff", answer.Headers.GetValues("X-Content-Type-Options").Single());
        var log = (await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/2/history", Token))!.ToJsonString();
        Assert.DoesNotContain(Convert.ToHexStringLower(content.AsSpan(0, 8)), log, StringComparison.Ordinal);
    }

    [Fact]
    public async Task WhatIsNoPicture_OrTooLarge_OrEmpty_IsRefusedAtItsField()
    {
        Assert.Contains("no picture", await RefusedAsync("photo", [.. "<svg onload=alert(1)>"u8]), StringComparison.Ordinal);
        Assert.Contains("empty", await RefusedAsync("photo", []), StringComparison.Ordinal);
        Assert.Contains("larger than 1 MB", await RefusedAsync("scan", new byte[1_000_001]), StringComparison.Ordinal);
        Assert.Equal("old", await StoredAsync("convert_from(scan, 'UTF8')"));
    }

    [Theory]
    [InlineData(null)]
    [InlineData("text/plain")]
    [InlineData("multipart/form-data")]
    public async Task WhatAnotherSitesPageCouldSend_IsNotTaken(string? type)
    {
        using var body = new ByteArrayContent(Picture(3, 2));
        body.Headers.ContentType = type is null ? null : new MediaTypeHeaderValue(type);
        var answer = await api.Client.PostAsync($"{_panel}/uploads/photo", body, Token);
        Assert.InRange((int)answer.StatusCode, 400, 415);
    }

    [Theory]
    [InlineData("photo", "5")]
    [InlineData("photo", "ghost")]
    [InlineData("photo", "00000000-0000-0000-0000-000000000000")]
    [InlineData("sealed", "00000000-0000-0000-0000-000000000000")]
    [InlineData("scan", null)]
    public async Task WhatIsNoUploadOfTheColumn_IsRefused_AndNothingIsSaved(string column, string? value)
    {
        var answer = await SaveAsync(new Dictionary<string, string?> { ["name"] = "changed", [column] = value });
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var errors = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]!.AsObject();
        Assert.Equal([column], errors.Select(error => error.Key));
        Assert.Equal("first", await StoredAsync("name"));
    }

    [Fact]
    public async Task AnUpload_IsOfItsColumnAlone_AndOfNoChangeOfMany()
    {
        var upload = await SendAsync("photo", Picture(3, 2));
        Assert.Equal(HttpStatusCode.BadRequest, (await SaveAsync(new { scan = upload })).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await PostAsync("sealed", [1])).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await PostAsync("name", [1])).StatusCode);
        var changes = await api.Client.PostAsJsonAsync(
            $"{_panel}/changes",
            new { keys = (string[])["1"], values = new { photo = upload } },
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, changes.StatusCode);
    }

    [Fact]
    public async Task AStoredFile_IsRemoved_WhereTheColumnMayBeEmpty()
    {
        await SaveAsync(new { photo = await SendAsync("photo", Picture(3, 2)) });
        Assert.Equal("1", await StoredAsync("count(photo)"));
        Assert.Equal(HttpStatusCode.OK, (await SaveAsync(new { photo = (string?)null })).StatusCode);
        Assert.Equal("0", await StoredAsync("count(photo)"));
    }

    private static byte[] Picture(int width, int height, byte[]? comment = null)
    {
        using var bitmap = new SKBitmap(width, height);
        bitmap.Erase(SKColors.SeaGreen);
        using var png = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        // A file may hold anything behind its picture.
        return [.. png.ToArray(), .. comment ?? []];
    }

    private Task<HttpResponseMessage> PostAsync(string column, byte[] content)
    {
        var body = new ByteArrayContent(content);
        body.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        return api.Client.PostAsync($"{_panel}/uploads/{column}", body, Token);
    }

    private async Task<string> SendAsync(string column, byte[] content)
    {
        var answer = await PostAsync(column, content);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Token));
        return (string)(await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["id"]!;
    }

    private async Task<string> RefusedAsync(string column, byte[] content)
    {
        var answer = await PostAsync(column, content);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        return (string)(await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]![column]![0]!;
    }

    private async Task<SKBitmap> DrawnAsync(string address)
    {
        using var answer = await api.Client.GetAsync(address, Token);
        Assert.Equal("image/webp", answer.Content.Headers.ContentType?.MediaType);
        return SKBitmap.Decode(await answer.Content.ReadAsByteArrayAsync(Token));
    }

    private async Task<HttpResponseMessage> SaveAsync(object values)
    {
        var record = await api.Client.GetFromJsonAsync<JsonNode>($"{_panel}/records/1", Token);
        return await api.PutAsync($"{_panel}/records/1", record!["version"], new { values });
    }

    private Task<string> StoredAsync(string expression) =>
        api.Zoo.AskAsync<string>($"SELECT ({expression})::text FROM zoo.{_table} WHERE id = 1");
}
