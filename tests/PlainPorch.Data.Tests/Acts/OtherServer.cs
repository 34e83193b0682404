using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using PlainPorch.Data.Tests.Api;
using PlainPorch.Data.Tests.Removal;

namespace PlainPorch.Data.Tests.Acts;

/// <summary>Another instance of the server over the same catalog, in a process of its own that a test may kill.</summary>
internal static class OtherServer
{
    /// <summary>Starts one.</summary>
    /// <param name="api">Whose catalog it is over.</param>
    /// <param name="address">Where it answers in the clear.</param>
    /// <param name="settings">Settings beside the usual ones.</param>
    public static Process Start(ApiFixture api, out string address, params (string Name, string Value)[] settings)
    {
        var port = FreePort();
        address = $"http://127.0.0.1:{port}";
        var start = new ProcessStartInfo("dotnet", [typeof(PlainPorch.Web.Sources.SourceDto).Assembly.Location])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["PORCH_DATABASE"] = api.Catalog.ConnectionString;
        start.Environment["PORCH_PORT"] = $"{port}";
        start.Environment["PORCH_KEYS"] = api.Keys;
        foreach (var (name, value) in settings)
            start.Environment[name] = value;
        var process = Process.Start(start)!;
        process.OutputDataReceived += (_, _) => { };
        process.ErrorDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        return process;
    }

    /// <summary>Waits until it answers, and signs in.</summary>
    public static async Task UntilReadyAsync(HttpClient http)
    {
        await UntilAnswersAsync(http);
        await ApiFixture.SignInAsync(http);
    }

    /// <summary>Waits until it answers.</summary>
    public static Task UntilAnswersAsync(HttpClient http) =>
        RemovalFixture.UntilAsync(async () =>
        {
            try
            {
                return (await http.GetAsync("/api/health", TestContext.Current.CancellationToken)).IsSuccessStatusCode;
            }
            catch (HttpRequestException)
            {
                return false;
            }
        });

    /// <summary>A port that nobody listens at.</summary>
    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
