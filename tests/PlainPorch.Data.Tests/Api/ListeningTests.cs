using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using PlainPorch.Data.Tests.Acts;
using PlainPorch.Data.Tests.Removal;

namespace PlainPorch.Data.Tests.Api;

/// <summary>A server that others get to: over TLS only, by the names that it knows, and by the word of nobody but its proxies.</summary>
public sealed class ListeningTests(ApiFixture api) : IClassFixture<ApiFixture>, IDisposable
{
    private const string Name = "porch.example.org";

    private readonly string _folder = Directory.CreateTempSubdirectory("porch-tls").FullName;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task Certificate_HasItSpeakTls_ByItsNamesAlone()
    {
        var (certificate, key) = MakeCertificate();
        using var server = OtherServer.Start(
            api,
            out var address,
            ("PORCH_HOSTS", Name),
            ("PORCH_CERTIFICATE", certificate),
            ("PORCH_CERTIFICATE_KEY", key)
        );
        try
        {
            var port = new Uri(address).Port;
            using var client = Client($"https://{Name}:{port}");
            await OtherServer.UntilAnswersAsync(client);
            var page = await client.GetAsync("/", Token);
            Assert.Equal("max-age=31536000", Assert.Single(page.Headers.GetValues("Strict-Transport-Security")));
            var cookie = await SignInAsync(client);
            Assert.StartsWith("__Host-porch=", cookie, StringComparison.Ordinal);
            Assert.Contains("; secure;", cookie, StringComparison.OrdinalIgnoreCase);

            using var other = Client($"https://elsewhere.example.org:{port}");
            Assert.Equal(HttpStatusCode.MisdirectedRequest, (await other.GetAsync("/api/health", Token)).StatusCode);
            using var clear = Client($"http://{Name}:{port}");
            await Assert.ThrowsAnyAsync<HttpRequestException>(() => clear.GetAsync("/api/health", Token));
        }
        finally
        {
            server.Kill(entireProcessTree: true);
        }
    }

    [Theory]
    [InlineData("127.0.0.1", HttpStatusCode.OK)]
    [InlineData("10.1.2.3", HttpStatusCode.Forbidden)]
    public async Task Word_OfWhoAsks_IsTakenFromTheNamedProxyAlone(string proxy, HttpStatusCode expected)
    {
        using var server = OtherServer.Start(api, out var address, ("PORCH_HOSTS", Name), ("PORCH_PROXIES", proxy));
        try
        {
            var port = new Uri(address).Port;
            using var own = new HttpClient { BaseAddress = new Uri(address) };
            await OtherServer.UntilAnswersAsync(own);
            using var client = Client($"http://{Name}:{port}");
            Assert.Equal(HttpStatusCode.Forbidden, (await client.GetAsync("/api/session", Token)).StatusCode);
            client.DefaultRequestHeaders.Add("X-Forwarded-Proto", "https");
            client.DefaultRequestHeaders.Add("X-Forwarded-For", "192.0.2.7");
            Assert.Equal(expected, (await client.GetAsync("/api/session", Token)).StatusCode);
            if (expected is not HttpStatusCode.OK)
                return;
            // What it does then, it does for the one who asks the proxy.
            Assert.StartsWith("__Host-porch=", await SignInAsync(client), StringComparison.Ordinal);
            Assert.Equal(
                "192.0.2.7",
                await api.Catalog.AskAsync<string>(
                    """SELECT "From" FROM porch.access_log WHERE "Act" = 'SignedIn' ORDER BY "Id" DESC LIMIT 1"""
                )
            );
        }
        finally
        {
            server.Kill(entireProcessTree: true);
        }
    }

    [Theory]
    [InlineData("PORCH_HOSTS", Name, "passwords would travel in the clear")]
    [InlineData("PORCH_PROXIES", "the-proxy", "PORCH_PROXIES has the-proxy, which is no IP address")]
    [InlineData("PORCH_OIDC_ADDRESS", "http://id.example.org", "which begins with https://")]
    [InlineData("PORCH_OIDC_ADDRESS", "https://id.example.org", "PORCH_OIDC_CLIENT is not")]
    [InlineData("PORCH_SMTP_HOST", "mail.example.org", "PORCH_SMTP_FROM is not")]
    [InlineData("PORCH_PORT", "http", "PORCH_PORT is http. Set it to a number.")]
    [InlineData("PORCH_SMTP_TLS", "maybe", "Set it to starttls, tls or none")]
    public async Task Setting_ThatIsWrong_KeepsItFromStarting_AndSaysWhatToDo(string name, string value, string says)
    {
        var start = new ProcessStartInfo("dotnet", [typeof(PlainPorch.Web.Sources.SourceDto).Assembly.Location])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["PORCH_DATABASE"] = api.Catalog.ConnectionString;
        start.Environment["PORCH_PORT"] = $"{OtherServer.FreePort()}";
        start.Environment[name] = value;
        using var process = Process.Start(start)!;
        var (output, error) = (process.StandardOutput.ReadToEndAsync(Token), process.StandardError.ReadToEndAsync(Token));
        await process.WaitForExitAsync(Token);
        Assert.NotEqual(0, process.ExitCode);
        Assert.Contains(says, await error + await output, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", await error + await output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task WhoAsksWithoutEnd_IsToldToWait_AndNobodyElseIs()
    {
        using var server = OtherServer.Start(api, out var address, ("PORCH_MOST_REQUESTS", "60"));
        try
        {
            using var hasty = new HttpClient { BaseAddress = new Uri(address) };
            await OtherServer.UntilAnswersAsync(hasty);
            await SignInAsync(hasty);
            var last = HttpStatusCode.OK;
            for (var i = 0; i < 200 && last is HttpStatusCode.OK; i++)
                last = (await hasty.GetAsync("/api/porches", Token)).StatusCode;
            Assert.Equal(HttpStatusCode.TooManyRequests, last);
            using var other = new HttpClient { BaseAddress = new Uri(address) };
            Assert.Equal(HttpStatusCode.OK, (await other.GetAsync("/api/session", Token)).StatusCode);
            await RemovalFixture.UntilAsync(async () => (await hasty.GetAsync("/api/porches", Token)).IsSuccessStatusCode);
        }
        finally
        {
            server.Kill(entireProcessTree: true);
        }
    }

    private static async Task<string> SignInAsync(HttpClient client)
    {
        var signed = await client.PostAsJsonAsync(
            "/api/session",
            new { email = ApiFixture.DeveloperEmail, password = ApiFixture.DeveloperPassword },
            Token
        );
        Assert.True(signed.IsSuccessStatusCode, await signed.Content.ReadAsStringAsync(Token));
        return Assert.Single(signed.Headers.GetValues("Set-Cookie"));
    }

    // Whatever the name, it is this computer's.
    private static HttpClient Client(string address)
    {
        var handler = new SocketsHttpHandler
        {
            ConnectCallback = async (context, cancellationToken) =>
            {
                var socket = new Socket(SocketType.Stream, ProtocolType.Tcp);
                await socket.ConnectAsync(IPAddress.Loopback, context.DnsEndPoint.Port, cancellationToken);
                return new NetworkStream(socket, ownsSocket: true);
            },
        };
        handler.SslOptions.RemoteCertificateValidationCallback = (_, certificate, _, _) => certificate?.Subject == $"CN={Name}";
        return new HttpClient(handler) { BaseAddress = new Uri(address) };
    }

    private (string Certificate, string Key) MakeCertificate()
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest($"CN={Name}", key, HashAlgorithmName.SHA256);
        using var certificate = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(1));
        var (file, keyFile) = (Path.Combine(_folder, "porch.pem"), Path.Combine(_folder, "porch.key"));
        File.WriteAllText(file, certificate.ExportCertificatePem());
        File.WriteAllText(keyFile, key.ExportPkcs8PrivateKeyPem());
        return (file, keyFile);
    }
}
