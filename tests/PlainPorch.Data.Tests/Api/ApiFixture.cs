using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;

namespace PlainPorch.Data.Tests.Api;

/// <summary>The server, listening for real, with a catalog and a source of its own.</summary>
public class ApiFixture : WebApplicationFactory<PlainPorch.Web.Sources.SourceDto>, IAsyncLifetime
{
    public TestDatabase Zoo { get; init; } = new();

    /// <summary>By which port the server reaches the source; null for the source's own.</summary>
    public int? SourcePort { get; init; }

    /// <summary>Services that are others than usual.</summary>
    public Action<IServiceCollection> Replaced { get; init; } = _ => { };

    /// <summary>Settings beside the usual ones.</summary>
    public IReadOnlyDictionary<string, string> Settings { get; set; } = new Dictionary<string, string>();

    /// <summary>Where the server keeps its keys.</summary>
    public string Keys => Path.Combine(_folder, "keys");

    /// <summary>Where the server keeps small pictures.</summary>
    public string Pictures => Path.Combine(_folder, "pictures");

    /// <summary>Where the files lie whose paths columns hold; a test that wants any makes it.</summary>
    public string Files => Path.Combine(_folder, "files");

    private readonly string _folder = Path.Combine(Path.GetTempPath(), $"porch-test-{Guid.NewGuid():N}");

    /// <summary>The catalog; one that another fixture has made stays that one's.</summary>
    public TestDatabase Catalog { get; init; } = new();

    /// <summary>Whether the source is added; not where the catalog has it already.</summary>
    public bool AddsSource { get; init; } = true;

    public HttpClient Client { get; private set; } = null!;

    public int SourceId { get; private set; }

    public virtual async ValueTask InitializeAsync()
    {
        await Zoo.InitializeAsync();
        if (AddsSource)
            await Catalog.InitializeAsync();
        UseKestrel(0);
        StartServer();
        Client = CreateClient();
        await SignInAsync(Client);
        if (AddsSource)
            SourceId = (await AddSourceAsync("Zoo")).GetProperty("id").GetInt32();
    }

    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        await Zoo.DisposeAsync();
        if (AddsSource)
            await Catalog.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
        GC.SuppressFinalize(this);
    }

    /// <summary>By which the first account is made.</summary>
    public const string FirstCode = "CODE-FOR-TESTS-ONLY";

    /// <summary>What the developer is called who the tests act as.</summary>
    public const string Developer = "Dora Tester";

    /// <summary>The developer's mail address.</summary>
    public const string DeveloperEmail = "dora@example.com";

    /// <summary>The developer's password.</summary>
    public const string DeveloperPassword = "tin kettle over plums";

    /// <summary>Signs the developer in, whose account is made where there is none.</summary>
    public static async Task SignInAsync(HttpClient client)
    {
        var made = await client.PostAsJsonAsync(
            "/api/session/first",
            new
            {
                code = FirstCode,
                name = Developer,
                email = DeveloperEmail,
                password = DeveloperPassword,
            }
        );
        if (!made.IsSuccessStatusCode)
            made = await client.PostAsJsonAsync("/api/session", new { email = DeveloperEmail, password = DeveloperPassword });
        Assert.True(made.IsSuccessStatusCode, await made.Content.ReadAsStringAsync());
    }

    /// <summary>Has what is done from now on be done by another client.</summary>
    public void ActAs(HttpClient client) => Client = client;

    /// <summary>A client that nobody is signed in with.</summary>
    public HttpClient Nobody() => new() { BaseAddress = Client.BaseAddress };

    /// <summary>Sets the roles of a porch.</summary>
    public async Task SetRolesAsync(string porch, params object[] roles)
    {
        var known = await Client.GetFromJsonAsync<JsonElement>($"/api/porches/{porch}/roles");
        var answer = await PutAsync($"/api/porches/{porch}/roles", known.GetProperty("version").GetUInt32(), new { roles });
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
    }

    /// <summary>Lets somebody into a porch, as a mail and its link do.</summary>
    /// <returns>A client with which the person is signed in.</returns>
    public async Task<HttpClient> LetInAsync(string porch, string role, string name, string? record = null)
    {
        var email = await InviteAsync(porch, role, name, record);
        var client = Nobody();
        var set = await client.PostAsJsonAsync(
            "/api/session/password",
            new { link = await LinkToAsync(email), password = Password }
        );
        Assert.True(set.IsSuccessStatusCode, await set.Content.ReadAsStringAsync());
        var signed = await client.PostAsJsonAsync("/api/session", new { email, password = Password });
        Assert.True(signed.IsSuccessStatusCode, await signed.Content.ReadAsStringAsync());
        return client;
    }

    /// <summary>Invites somebody into a porch.</summary>
    /// <returns>The mail address that the invitation goes to.</returns>
    public async Task<string> InviteAsync(string porch, string role, string name, string? record = null)
    {
        var email = $"{name.Replace(' ', '.').ToLowerInvariant()}@example.org";
        var invited = await Client.PostAsJsonAsync(
            $"/api/porches/{porch}/people",
            new
            {
                name,
                email,
                role,
                record,
            }
        );
        Assert.True(invited.IsSuccessStatusCode, await invited.Content.ReadAsStringAsync());
        return email;
    }

    /// <summary>The password of whoever <see cref="LetInAsync"/> lets in.</summary>
    public const string Password = "seven wet umbrellas";

    /// <summary>What stands in the link of the latest mail to an address.</summary>
    public async Task<string> LinkToAsync(string email)
    {
        var mails = await Client.GetFromJsonAsync<JsonElement>("/api/mails");
        var text = mails
            .GetProperty("mails")
            .EnumerateArray()
            .First(mail => mail.GetProperty("to").GetString() == email)
            .GetProperty("text")
            .GetString()!;
        return text.Split("/password#")[1].Split('\n')[0].Trim();
    }

    public object SourceBody(string name, string? password = null, int? port = null) =>
        BodyOf(Zoo, name, password, port ?? SourcePort);

    /// <summary>What is sent to make a database a source, or to point one at it.</summary>
    public static object BodyOf(
        TestDatabase database,
        string name,
        string? password = null,
        int? port = null,
        bool? isSame = null
    ) =>
        new
        {
            name,
            host = database.Settings.Host,
            port = port ?? database.Settings.Port,
            database = database.Settings.Database,
            user = database.Settings.User,
            password = password ?? database.Settings.Password,
            tls = "prefer",
            schemas = Array.Empty<string>(),
            isReadOnly = false,
            isSameDatabase = isSame,
        };

    /// <summary>Puts something in place of the version that was read.</summary>
    public async Task<HttpResponseMessage> PutAsync(string address, object? version, object? body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, address) { Content = JsonContent.Create(body) };
        request.Headers.Add("If-Match", $"\"{version}\"");
        return await Client.SendAsync(request);
    }

    public async Task<JsonElement> AddSourceAsync(string name)
    {
        var answer = await Client.PostAsJsonAsync("/api/sources", SourceBody(name));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    /// <summary>Changes a panel's set-up.</summary>
    public async Task ChangePanelAsync(string panel, Action<System.Text.Json.Nodes.JsonNode> change)
    {
        var setup = (await Client.GetFromJsonAsync<System.Text.Json.Nodes.JsonNode>($"{panel}/setup"))!;
        change(setup["definition"]!);
        var answer = await PutAsync($"{panel}/setup", setup["version"], setup["definition"]);
        if (!answer.IsSuccessStatusCode)
            throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
    }

    /// <summary>Makes a panel and gives its address.</summary>
    public async Task<string> MakePanelAsync(string schema, string name)
    {
        var answer = await Client.PostAsJsonAsync($"/api/sources/{SourceId}/panels", new { schema, name });
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return answer.Headers.Location!.ToString();
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        // A user who is called as our schema would find the tables there by chance.
        builder.UseSetting("PORCH_DATABASE", Catalog.ConnectionString + ";Search Path=public");
        builder.UseSetting("PORCH_PORT", "0");
        builder.UseSetting("PORCH_FIRST_CODE", FirstCode);
        builder.UseSetting("PORCH_KEYS", Keys);
        builder.UseSetting("PORCH_KEPT_PICTURES", Pictures);
        builder.UseSetting("PORCH_FILES", Files);
        // Tests ask faster than anybody could.
        builder.UseSetting("PORCH_MOST_REQUESTS", "0");
        foreach (var (name, value) in Settings)
            builder.UseSetting(name, value);
        builder.ConfigureServices(Replaced);
    }
}
