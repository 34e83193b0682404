using System.Diagnostics;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using PlainPorch.Core.Sources;

namespace PlainPorch.Bench;

/// <summary>Starts the servers that are measured, and speaks with ours.</summary>
internal static class Servers
{
    /// <summary>Waits until our server answers.</summary>
    private static async Task WaitAsync(HttpClient http, string api)
    {
        for (var attempt = 0; attempt < 100; attempt++)
        {
            try
            {
                await http.GetStringAsync(new Uri($"{api}/health"));
                return;
            }
            catch (HttpRequestException)
            {
                await Task.Delay(200);
            }
        }
    }

    /// <summary>
    /// Waits for our server, makes the measured database a source and a panel over one of its tables, and sets that up.
    /// </summary>
    /// <returns>The panel's address.</returns>
    public static async Task<string> SetUpAsync(
        HttpClient http,
        string api,
        SourceSettings settings,
        string table,
        Action<JsonNode> change
    )
    {
        await WaitAsync(http, api);
        await SignInAsync(http, api);
        var name = $"Measure {Guid.NewGuid():N}"[..20];
        var source = await PostAsync(
            http,
            $"{api}/sources",
            new
            {
                name,
                settings.Host,
                settings.Port,
                settings.Database,
                settings.User,
                settings.Password,
                schemas = new[] { "measure" },
                isReadOnly = false,
                tls = "prefer",
            }
        );
        await http.PostAsync(new Uri($"{api}/sources/{source["id"]}/snapshot"), null);
        var made = await PostAsync(http, $"{api}/sources/{source["id"]}/panels", new { schema = "measure", name = table });
        var panel = $"{api}/porches/{made["porch"]}/panels/{made["panel"]}";
        var setup = (await http.GetFromJsonAsync<JsonNode>(new Uri($"{panel}/setup")))!;
        var definition = setup["definition"]!;
        change(definition);
        using var save = new HttpRequestMessage(HttpMethod.Put, $"{panel}/setup") { Content = JsonContent.Create(definition) };
        save.Headers.TryAddWithoutValidation("If-Match", $"\"{setup["version"]}\"");
        (await http.SendAsync(save)).EnsureSuccessStatusCode();
        return panel;
    }

    /// <summary>By which the first account is made.</summary>
    public const string FirstCode = "CODE-FOR-MEASURES";

    // The account is made where the catalog is new, and else known from before.
    private static async Task SignInAsync(HttpClient http, string api)
    {
        const string Email = "measure@example.com";
        const string Password = "yardstick on a long shelf";
        using var made = await http.PostAsJsonAsync(
            new Uri($"{api}/session/first"),
            new
            {
                code = FirstCode,
                name = "Mara Gauge",
                email = Email,
                password = Password,
            }
        );
        if (!made.IsSuccessStatusCode)
            (
                await http.PostAsJsonAsync(new Uri($"{api}/session"), new { email = Email, password = Password })
            ).EnsureSuccessStatusCode();
    }

    /// <summary>Sends something and gives what is answered; throws where it is refused.</summary>
    public static async Task<JsonNode> PostAsync(HttpClient http, string address, object body)
    {
        using var answer = await http.PostAsJsonAsync(new Uri(address), body);
        if (!answer.IsSuccessStatusCode)
            throw new InvalidOperationException(await answer.Content.ReadAsStringAsync());
        return (await answer.Content.ReadFromJsonAsync<JsonNode>())!;
    }

    public static Process Start(string program, IEnumerable<string> arguments, params (string Name, string Value)[] environment)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add(program);
        foreach (var argument in arguments)
            start.ArgumentList.Add(argument);
        foreach (var (name, value) in environment)
            start.Environment[name] = value;
        var process = Process.Start(start)!;
        // Unread, a full pipe would stop the server.
        process.BeginOutputReadLine();
        process.ErrorDataReceived += (_, line) => Tell(line.Data ?? "");
        process.BeginErrorReadLine();
        return process;
    }

    public static int FreePort()
    {
        using var listener = new TcpListener(System.Net.IPAddress.Loopback, 0);
        listener.Start();
        return ((System.Net.IPEndPoint)listener.LocalEndpoint).Port;
    }

    public static void Tell(string line)
    {
        if (line.Length > 0)
            Console.Error.WriteLine(line);
    }
}
