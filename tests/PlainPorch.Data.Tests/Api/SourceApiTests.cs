using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace PlainPorch.Data.Tests.Api;

public sealed class SourceApiTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Password_OfASource_IsEncryptedAndNeverSentBack()
    {
        var password = api.Zoo.Settings.Password!;
        foreach (
            var address in new[]
            {
                "/api/sources",
                $"/api/sources/{api.SourceId}",
                $"/api/sources/{api.SourceId}/snapshot",
                "/api/porches",
            }
        )
            Assert.DoesNotContain(password, await api.Client.GetStringAsync(address, Token), StringComparison.Ordinal);
        var kept = await api.Catalog.AskAsync<string>(
            $"""SELECT "ProtectedPassword" FROM porch.source WHERE "Id" = {api.SourceId}"""
        );
        Assert.DoesNotContain(password, kept, StringComparison.Ordinal);
        Assert.True(kept.Length > 60);
    }

    [Fact]
    public async Task Try_KeptPassword_IsUsedForTheSameServerOnly()
    {
        var good = await api.Client.PostAsJsonAsync(
            $"/api/sources/try?known={api.SourceId}",
            Without(api.SourceBody("x")),
            Token
        );
        Assert.Equal(HttpStatusCode.OK, good.StatusCode);
        var elsewhere = await api.Client.PostAsJsonAsync(
            $"/api/sources/try?known={api.SourceId}",
            Without(api.SourceBody("x"), host: "localhost"),
            Token
        );
        Assert.Equal(HttpStatusCode.BadRequest, elsewhere.StatusCode);
    }

    [Fact]
    public async Task Add_NameThatIsTaken_NamesTheFieldAndAddsNothing()
    {
        var before = await api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.porch");
        await AssertFieldAsync(await api.Client.PostAsJsonAsync("/api/sources", api.SourceBody("Zoo"), Token), "name");
        Assert.Equal(before, await api.Catalog.AskAsync<long>("SELECT count(*) FROM porch.porch"));
    }

    [Fact]
    public async Task Add_UnreachableServer_NamesTheFieldAndAddsNothing()
    {
        await AssertFieldAsync(
            await api.Client.PostAsJsonAsync("/api/sources", api.SourceBody("Nowhere", port: 1), Token),
            "port"
        );
        Assert.DoesNotContain("Nowhere", await api.Client.GetStringAsync("/api/sources", Token), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Add_EmptyFields_NamesEach()
    {
        var body = new
        {
            name = " ",
            host = "",
            port = 0,
            database = "",
            user = "",
            password = (string?)null,
            tls = "prefer",
            schemas = Array.Empty<string>(),
            isReadOnly = false,
        };
        await AssertFieldAsync(
            await api.Client.PostAsJsonAsync("/api/sources", body, Token),
            "name",
            "host",
            "port",
            "database",
            "user"
        );
    }

    [Fact]
    public async Task Update_OldVersion_IsRefusedWithTheSourceAsItIs()
    {
        var source = await api.AddSourceAsync("Twice");
        var address = $"/api/sources/{source.GetProperty("id").GetInt32()}";
        var version = source.GetProperty("version").GetUInt32();
        Assert.Equal(HttpStatusCode.OK, (await PutAsync(address, version, api.SourceBody("Renamed"))).StatusCode);
        var late = await PutAsync(address, version, api.SourceBody("Late"));
        Assert.Equal(HttpStatusCode.PreconditionFailed, late.StatusCode);
        Assert.Equal("Renamed", (await late.Content.ReadFromJsonAsync<JsonElement>(Token)).GetProperty("name").GetString());
        Assert.Equal(HttpStatusCode.NoContent, (await api.Client.DeleteAsync(address, Token)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await api.Client.GetAsync(address, Token)).StatusCode);
    }

    [Fact]
    public async Task ReadText_Url_FillsTheFields()
    {
        var answer = await api.Client.PostAsJsonAsync(
            "/api/sources/read-text",
            new { text = "postgresql://ann@db:6543/harbour" },
            Token
        );
        Assert.Equal(6543, (await answer.Content.ReadFromJsonAsync<JsonElement>(Token)).GetProperty("port").GetInt32());
        await AssertFieldAsync(
            await api.Client.PostAsJsonAsync("/api/sources/read-text", new { text = "gibberish" }, Token),
            "text"
        );
    }

    [Fact]
    public async Task MakePanel_UnknownTable_IsRefused() =>
        await AssertFieldAsync(
            await api.Client.PostAsJsonAsync(
                $"/api/sources/{api.SourceId}/panels",
                new { schema = "zoo", name = "gh\"ost" },
                Token
            ),
            "table"
        );

    private async Task<HttpResponseMessage> PutAsync(string address, uint version, object body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, address) { Content = JsonContent.Create(body) };
        request.Headers.Add("If-Match", $"\"{version}\"");
        return await api.Client.SendAsync(request, Token);
    }

    private static JsonElement Without(object body, string? host = null)
    {
        var fields = JsonSerializer
            .SerializeToElement(body)
            .EnumerateObject()
            .ToDictionary(field => field.Name, field => (object?)field.Value);
        fields["password"] = null;
        if (host is not null)
            fields["host"] = host;
        return JsonSerializer.SerializeToElement(fields);
    }

    private static async Task AssertFieldAsync(HttpResponseMessage answer, params string[] fields)
    {
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType!.MediaType);
        var errors = (await answer.Content.ReadFromJsonAsync<JsonElement>(Token)).GetProperty("errors");
        Assert.Equal(fields.Order(), errors.EnumerateObject().Select(error => error.Name).Order());
    }
}
