using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace PlainPorch.Data.Tests.Api;

/// <summary>What the server does whatever is asked of it.</summary>
public sealed class ServerTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Answers_OfEverySort_BearTheSecurityHeaders()
    {
        foreach (var address in new[] { "/api/health", "/api/nothing", "/" })
        {
            var answer = await api.Client.GetAsync(address, Token);
            Assert.Contains(
                "frame-ancestors 'none'",
                Assert.Single(answer.Headers.GetValues("Content-Security-Policy")),
                StringComparison.Ordinal
            );
            Assert.Equal("nosniff", Assert.Single(answer.Headers.GetValues("X-Content-Type-Options")));
            Assert.False(answer.Headers.Contains("Server"));
        }
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/porch/zoo/legacy?q=a")]
    [InlineData("/apiary")]
    [InlineData("/porch/zoo/legacy/record/a.b")]
    public async Task Address_OfTheClient_GivesItsPage(string address) =>
        Assert.Contains("id=\"root\"", await api.Client.GetStringAsync(address, Token), StringComparison.Ordinal);

    [Fact]
    public async Task Files_OfTheClient_AreSentAsWhatTheyAre()
    {
        var page = await api.Client.GetStringAsync("/", Token);
        var script = page.Split('"')
            .First(part =>
                part.StartsWith("/assets/", StringComparison.Ordinal) && part.EndsWith(".js", StringComparison.Ordinal)
            );
        Assert.Equal("text/javascript", (await api.Client.GetAsync(script, Token)).Content.Headers.ContentType!.MediaType);
        Assert.Equal("image/svg+xml", (await api.Client.GetAsync("/porch.svg", Token)).Content.Headers.ContentType!.MediaType);
        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync("/assets/ghost.js", Token)).StatusCode);
    }

    [Theory]
    [InlineData("br")]
    [InlineData("gzip")]
    public async Task Files_OfTheClient_AreSentCompressed_AndAreTheSame(string encoding)
    {
        foreach (var file in await NamedFilesAsync())
        {
            using var answer = await GetAsync(file, $"{encoding}, deflate;q=0.5");
            Assert.Equal(
                (encoding, "Accept-Encoding"),
                (Assert.Single(answer.Content.Headers.ContentEncoding), Assert.Single(answer.Headers.Vary))
            );
            Assert.Contains(answer.Content.Headers.ContentType!.MediaType, (string[])["text/javascript", "text/css"]);
            Assert.Equal(TimeSpan.FromDays(365), answer.Headers.CacheControl!.MaxAge);
            Assert.Equal(await api.Client.GetByteArrayAsync(file, Token), await UnpackAsync(answer));
            using var refused = await GetAsync(file, $"{encoding};q=0");
            Assert.Empty(refused.Content.Headers.ContentEncoding);
        }
    }

    [Fact]
    public async Task ListPage_IsFewBytes()
    {
        var bytes = 0L;
        foreach (var file in await NamedFilesAsync())
        {
            using var answer = await GetAsync(file, "br");
            bytes += (await answer.Content.ReadAsByteArrayAsync(Token)).Length;
        }

        Assert.InRange(bytes, 50_000, 170_000);
    }

    [Fact]
    public async Task Answers_OfTheApi_AreSentCompressed_AndAreTheSame()
    {
        using var answer = await GetAsync("/api/openapi.json", "br");
        Assert.Equal("br", Assert.Single(answer.Content.Headers.ContentEncoding));
        Assert.Equal(await api.Client.GetByteArrayAsync("/api/openapi.json", Token), await UnpackAsync(answer));
    }

    // The scripts and style sheets that the page names, all of which it needs before it shows a list.
    private async Task<List<string>> NamedFilesAsync()
    {
        var page = await api.Client.GetStringAsync("/", Token);
        var named = page.Split('"')
            .Where(part =>
                part.StartsWith("/assets/", StringComparison.Ordinal)
                && (part.EndsWith(".js", StringComparison.Ordinal) || part.EndsWith(".css", StringComparison.Ordinal))
            )
            .ToList();
        Assert.InRange(named.Count, 2, 10);
        return named;
    }

    private async Task<HttpResponseMessage> GetAsync(string address, string accepted)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, address);
        request.Headers.TryAddWithoutValidation("Accept-Encoding", accepted);
        return await api.Client.SendAsync(request, Token);
    }

    private static async Task<byte[]> UnpackAsync(HttpResponseMessage answer)
    {
        var packed = await answer.Content.ReadAsStreamAsync(Token);
        await using Stream unpacking = answer.Content.Headers.ContentEncoding.Contains("br")
            ? new BrotliStream(packed, CompressionMode.Decompress)
            : new GZipStream(packed, CompressionMode.Decompress);
        using var whole = new MemoryStream();
        await unpacking.CopyToAsync(whole, Token);
        return whole.ToArray();
    }

    [Fact]
    public async Task Answers_OfTheApi_AreKeptByNobody() =>
        Assert.True((await api.Client.GetAsync("/api/sources", Token)).Headers.CacheControl!.NoStore);

    [Fact]
    public async Task OpenApi_DescribesEveryAddressAndThatItemsMayBeNull()
    {
        var document = await api.Client.GetFromJsonAsync<JsonElement>("/api/openapi.json", Token);
        Assert.StartsWith("3.1", document.GetProperty("openapi").GetString(), StringComparison.Ordinal);
        var paths = document.GetProperty("paths").EnumerateObject().Select(path => path.Name).ToList();
        Assert.Contains("/api/porches/{porch}/panels/{panel}/records/{key}", paths);
        Assert.Contains("/api/sources/{id}/survey", paths);
        var update = document
            .GetProperty("paths")
            .GetProperty("/api/porches/{porch}/panels/{panel}/records/{key}")
            .GetProperty("put")
            .GetProperty("responses");
        Assert.Superset(
            new HashSet<string> { "200", "400", "404", "412" },
            update.EnumerateObject().Select(response => response.Name).ToHashSet()
        );
        var items = document
            .GetProperty("components")
            .GetProperty("schemas")
            .GetProperty("ListRow")
            .GetProperty("properties")
            .GetProperty("values")
            .GetProperty("items");
        Assert.Equal(["null", "string"], items.GetProperty("type").EnumerateArray().Select(type => type.GetString()).Order());
    }

    [Fact]
    public async Task Schema_OfTheDefinition_IsServed()
    {
        var schema = await api.Client.GetFromJsonAsync<JsonElement>("/api/definition-schema", Token);
        Assert.Equal("https://json-schema.org/draft/2020-12/schema", schema.GetProperty("$schema").GetString());
    }

    [Fact]
    public async Task Table_OfASnapshot_IsToldWhole()
    {
        var table = await api.Client.GetFromJsonAsync<JsonElement>(
            $"/api/sources/{api.SourceId}/table?schema=Other%20Place&name=parent",
            Token
        );
        Assert.Equal("What the children belong to", table.GetProperty("comment").GetString());
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await api.Client.GetAsync($"/api/sources/{api.SourceId}/table?schema=zoo&name=ghost", Token)).StatusCode
        );
    }

    [Theory]
    [InlineData("/api/sources/read-text", "text/plain", HttpStatusCode.UnsupportedMediaType)]
    [InlineData("/api/health", "application/json", HttpStatusCode.MethodNotAllowed)]
    public async Task Post_OfTheWrongSort_IsAProblemWithAReason(string address, string type, HttpStatusCode status)
    {
        using var content = new StringContent("{}", System.Text.Encoding.UTF8, type);
        var answer = await api.Client.PostAsync(address, content, Token);
        Assert.Equal(status, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
    }
}
