using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json;
using System.Text.Json.Nodes;
using Npgsql;
using OpenQA.Selenium.Chrome;
using PlainPorch.Browser.Tests;
using PlainPorch.Data.Tests.Api;

[assembly: AssemblyFixture(typeof(PorchFixture))]
[assembly: CollectionBehavior(DisableTestParallelization = true)]

namespace PlainPorch.Browser.Tests;

/// <summary>The whole product, running: demo database, server, and a browser. Made once for all tests.</summary>
public sealed class PorchFixture : IAsyncLifetime
{
    // In the pictures it bears the name that a newcomer sees.
    private Task<(int Source, string Porch)>? _surveyed;
    private readonly string _demoName = Environment.GetEnvironmentVariable("PORCH_PICTURES") is null
        ? $"browser_demo_{Guid.NewGuid():N}"[..30]
        : "wrenmouth";
    private readonly string _catalogName = $"browser_catalog_{Guid.NewGuid():N}"[..30];
    private Process? _server;

    /// <summary>The connection string of the test server, as its master.</summary>
    public static string TestServer =>
        Environment.GetEnvironmentVariable("PORCH_TEST_SERVER")
        ?? throw new InvalidOperationException("PORCH_TEST_SERVER names no server. Run the tests by ./porch test.");

    /// <summary>By which the first account is made.</summary>
    private const string FirstCode = "CODE-FOR-TESTS-ONLY";

    /// <summary>What the developer is called who the tests act as.</summary>
    public const string Developer = "Dora Tester";

    /// <summary>The developer's mail address.</summary>
    public const string DeveloperEmail = "dora@example.com";

    /// <summary>The developer's password.</summary>
    public const string DeveloperPassword = "tin kettle over plums";

    private Task<string>? _defined;

    public string Address { get; private set; } = "";

    /// <summary>Stands in for a provider of sign-ins that the server knows.</summary>
    public ProviderStandIn Provider { get; private set; } = null!;

    public ChromeDriver Driver { get; private set; } = null!;

    public HttpClient Api { get; private set; } = null!;

    public NpgsqlDataSource Demo { get; private set; } = null!;

    /// <summary>The demo database as a URL, as a person would paste it.</summary>
    public string DemoUrl { get; private set; } = "";

    public static string Root { get; } = FindRoot();

    /// <summary>The folder below which the files lie whose paths columns hold.</summary>
    public string Files { get; } = Directory.CreateTempSubdirectory("porch-files").FullName;

    public async ValueTask InitializeAsync()
    {
        await RunAsync("PlainPorch.Demo", "--connection", TestServer, "--database", _demoName);
        var demo = new NpgsqlConnectionStringBuilder(TestServer) { Database = _demoName };
        Demo = NpgsqlDataSource.Create(demo.ConnectionString);
        DemoUrl = $"postgresql://{demo.Username}:{demo.Password}@{demo.Host}:{demo.Port}/{_demoName}";
        Provider = await ProviderStandIn.StartAsync();
        await StartServerAsync();
        Driver = StartBrowser();
        await SignInAsync();
    }

    public async ValueTask DisposeAsync()
    {
        Driver?.Quit();
        _server?.Kill();
        Directory.Delete(Files, recursive: true);
        if (Provider is not null)
            await Provider.DisposeAsync();
        Api?.Dispose();
        if (Demo is not null)
            await Demo.DisposeAsync();
        await using var server = NpgsqlDataSource.Create(TestServer);
        foreach (var name in new[] { _demoName, _catalogName })
        {
            await using var command = server.CreateCommand($"DROP DATABASE IF EXISTS \"{name}\" WITH (FORCE)");
            await command.ExecuteNonQueryAsync();
        }
    }

    /// <summary>Asks the demo database for one value.</summary>
    public async Task<T?> AskAsync<T>(string sql)
    {
        await using var command = Demo.CreateCommand(sql);
        return await command.ExecuteScalarAsync() is T value ? value : default;
    }

    /// <summary>Makes the demo database a source by the API, and panels from tables of it.</summary>
    /// <returns>The source's number and the porch's slug.</returns>
    public async Task<(int Source, string Porch)> MakeSourceAsync(string name, params (string Schema, string Name)[] tables)
    {
        var demo = new NpgsqlConnectionStringBuilder(TestServer);
        var answer = await Api.PostAsJsonAsync(
            "/api/sources",
            new
            {
                name,
                host = demo.Host,
                port = demo.Port,
                database = _demoName,
                user = demo.Username,
                password = demo.Password,
                tls = "prefer",
                schemas = Array.Empty<string>(),
                isReadOnly = false,
            }
        );
        answer.EnsureSuccessStatusCode();
        var id = (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetInt32();
        foreach (var (schema, table) in tables)
            (await Api.PostAsJsonAsync($"/api/sources/{id}/panels", new { schema, name = table })).EnsureSuccessStatusCode();
        var snapshot = await Api.GetFromJsonAsync<JsonElement>($"/api/sources/{id}/snapshot");
        return (id, snapshot.GetProperty("porch").GetString()!);
    }

    /// <summary>The demo database as a source with panels from some tables; made once for all who name it so, and not to be changed.</summary>
    public Task<(int Source, string Porch)> SharedAsync(string name, params (string Schema, string Name)[] tables) =>
        _shared.TryGetValue(name, out var made) ? made : _shared[name] = MakeSourceAsync(name, tables);

    private readonly Dictionary<string, Task<(int Source, string Porch)>> _shared = [];

    /// <summary>A source over the demo database that was surveyed and drafted whole; made once, and not to be changed.</summary>
    public Task<(int Source, string Porch)> SurveyedAsync() => _surveyed ??= SurveyAsync("Surveyed", thenDraft: true);

    /// <summary>A porch over the demo database as the demo's definition sets it up; made once, and not to be changed.</summary>
    public Task<string> DefinedAsync() => _defined ??= DefineAsync();

    private async Task<string> DefineAsync()
    {
        var (_, slug) = await MakeSourceAsync("Defined");
        var definition = JsonNode.Parse(
            await File.ReadAllTextAsync(Path.Combine(Root, "src", "PlainPorch.Demo", "wrenmouth.json"))
        )!;
        definition["slug"] = slug;
        (await Api.PutAsJsonAsync($"/api/porches/{slug}/definition", definition)).EnsureSuccessStatusCode();
        return slug;
    }

    /// <summary>A source of its own with panels for some tables of the register, drafted from a survey.</summary>
    public Task<(int Source, string Porch)> DraftAsync(string name, params string[] tables) =>
        DraftOfAsync(name, "register", tables);

    /// <summary>A source of its own with panels for some tables of a schema, drafted from a survey.</summary>
    public async Task<(int Source, string Porch)> DraftOfAsync(string name, string schema, params string[] tables)
    {
        var made = await SurveyAsync(name, thenDraft: false);
        var body = new { tables = tables.Select(table => new { schema, name = table }) };
        (await Api.PostAsJsonAsync($"/api/sources/{made.Source}/porch", body)).EnsureSuccessStatusCode();
        return made;
    }

    /// <summary>Makes the demo database a source and surveys it.</summary>
    public async Task<(int Source, string Porch)> SurveyAsync(string name, bool thenDraft)
    {
        var made = await MakeSourceAsync(name);
        (await Api.PostAsJsonAsync($"/api/sources/{made.Source}/survey", new { thenDraft })).EnsureSuccessStatusCode();
        await Waiting.UntilAsync(
            async () =>
                (await Api.GetFromJsonAsync<JsonElement>($"/api/sources/{made.Source}/survey/status"))
                    .GetProperty("state")
                    .GetString() == "done",
            "the survey to end"
        );
        return made;
    }

    private async Task StartServerAsync()
    {
        var port = FreePort();
        Address = $"http://localhost:{port}";
        Api = new HttpClient { BaseAddress = new Uri(Address) };
        var catalog = new NpgsqlConnectionStringBuilder(TestServer) { Database = _catalogName };
        var start = new ProcessStartInfo(
            "dotnet",
            [Binary("PlainPorch.Web"), "--contentRoot", Path.Combine(Root, "src/PlainPorch.Web")]
        );
        start.Environment["PORCH_DATABASE"] = catalog.ConnectionString;
        start.Environment["PORCH_FIRST_CODE"] = FirstCode;
        start.Environment["PORCH_FILES"] = Files;
        start.Environment["PORCH_OIDC_ADDRESS"] = Provider.Address.AbsoluteUri;
        start.Environment["PORCH_OIDC_CLIENT"] = ProviderStandIn.Client;
        start.Environment["PORCH_OIDC_SECRET"] = ProviderStandIn.Secret;
        start.Environment["PORCH_OIDC_NAME"] = "the harbour office";
        start.Environment["PORCH_PORT"] = port.ToString(System.Globalization.CultureInfo.InvariantCulture);
        _server = Process.Start(start)!;
        await Waiting.UntilAsync(
            async () =>
            {
                try
                {
                    return (await Api.GetAsync(new Uri("/api/health", UriKind.Relative))).IsSuccessStatusCode;
                }
                catch (HttpRequestException)
                {
                    return false;
                }
            },
            "the server to answer"
        );
        (
            await Api.PostAsJsonAsync(
                "/api/session/first",
                new
                {
                    code = FirstCode,
                    name = Developer,
                    email = DeveloperEmail,
                    password = DeveloperPassword,
                }
            )
        ).EnsureSuccessStatusCode();
    }

    /// <summary>Signs the developer in with the browser, as signing in there would.</summary>
    public async Task SignInAsync()
    {
        using var handler = new HttpClientHandler();
        using var client = new HttpClient(handler) { BaseAddress = Api.BaseAddress };
        (
            await client.PostAsJsonAsync("/api/session", new { email = DeveloperEmail, password = DeveloperPassword })
        ).EnsureSuccessStatusCode();
        var secret = handler.CookieContainer.GetCookies(Api.BaseAddress!)["porch"]!.Value;
        Driver.Navigate().GoToUrl($"{Address}/porch.svg");
        Driver.Manage().Cookies.AddCookie(new OpenQA.Selenium.Cookie("porch", secret, "localhost", "/", null));
    }

    private static ChromeDriver StartBrowser()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--window-size=1280,800",
            "--lang=en-GB",
            "--force-prefers-reduced-motion",
            $"--user-data-dir={Directory.CreateTempSubdirectory("porch-browser").FullName}"
        );
        options.UnhandledPromptBehavior = OpenQA.Selenium.UnhandledPromptBehavior.Accept;
        var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        service.SuppressInitialDiagnosticInformation = true;
        return new ChromeDriver(service, options);
    }

    private static async Task RunAsync(string project, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo("dotnet", [Binary(project), .. arguments]) { RedirectStandardOutput = true }
        )!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.True(process.ExitCode == 0, $"{project} ended with {process.ExitCode}: {output}");
    }

    // The same build as the tests': bin/CONFIGURATION/FRAMEWORK.
    private static string Binary(string project)
    {
        var here = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/'));
        return Path.Combine(Root, "src", project, "bin", here.Parent!.Name, here.Name, $"{project}.dll");
    }

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "PlainPorch.slnx")))
            folder = folder.Parent ?? throw new InvalidOperationException("The tests do not lie within the project.");
        return folder.FullName;
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
