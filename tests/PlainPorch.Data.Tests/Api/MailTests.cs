using System.Buffers;
using System.Collections.Concurrent;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using PlainPorch.Data.Tests.Acts;
using PlainPorch.Data.Tests.Removal;
using SmtpServer;
using SmtpServer.ComponentModel;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Mails are handed over to a mail server, also one that was away, and what was handed over is kept no longer.</summary>
public sealed class MailTests : IAsyncLifetime
{
    private readonly int _port = OtherServer.FreePort();
    private ApiFixture _api = null!;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        _api = new ApiFixture
        {
            Settings = new Dictionary<string, string>
            {
                ["PORCH_SMTP_HOST"] = "127.0.0.1",
                ["PORCH_SMTP_PORT"] = _port.ToString(System.Globalization.CultureInfo.InvariantCulture),
                ["PORCH_SMTP_FROM"] = "porch@example.org",
                ["PORCH_SMTP_TLS"] = "none",
                ["PORCH_SMTP_RETRY_SECONDS"] = "1",
            },
        };
        await _api.InitializeAsync();
        await _api.SetRolesAsync("zoo", new { slug = "clerk", name = "Clerk" });
    }

    public ValueTask DisposeAsync() => _api.DisposeAsync();

    [Fact]
    public async Task Invitation_IsHandedOver_OnceTheServerIsThere_AndItsLinkLetsIn()
    {
        var email = await _api.InviteAsync("zoo", "clerk", "Orla Ferry");
        // Nobody listens yet: it is said, and the mail waits.
        var waiting = await MailAsync(email, mail => mail["failure"] is not null);
        Assert.Null(waiting["sentAt"]);
        Assert.Equal("", (string)waiting["text"]!);

        var (received, stopping) = (new Received(), new CancellationTokenSource());
        var services = new ServiceProvider();
        services.Add(received);
        var server = new SmtpServer.SmtpServer(
            new SmtpServerOptionsBuilder()
                .ServerName("localhost")
                .Endpoint(listen => listen.Endpoint(new IPEndPoint(IPAddress.Loopback, _port)))
                .Build(),
            services
        );
        var running = server.StartAsync(stopping.Token);
        try
        {
            var handedOver = await MailAsync(email, mail => mail["sentAt"] is not null);
            Assert.Null(handedOver["failure"]);
            var text = Assert.Single(received.Mails);
            Assert.Contains("From: porch@example.org", text, StringComparison.Ordinal);
            Assert.Contains($"To: {email}", text, StringComparison.Ordinal);
            Assert.Contains("Subject: You are invited to Zoo", text, StringComparison.Ordinal);
            // What it said is a secret that is kept no longer.
            Assert.Equal("", await _api.Catalog.AskAsync<string>($"""SELECT "Text" FROM porch.mail WHERE "To" = '{email}'"""));
            using var client = _api.Nobody();
            var link = text.Split("/password#")[1].Split('\n')[0].Trim();
            var set = await client.PostAsJsonAsync("/api/session/password", new { link, password = ApiFixture.Password }, Token);
            Assert.Equal(HttpStatusCode.NoContent, set.StatusCode);
            var signed = await client.PostAsJsonAsync("/api/session", new { email, password = ApiFixture.Password }, Token);
            Assert.Equal(HttpStatusCode.NoContent, signed.StatusCode);
        }
        finally
        {
            await stopping.CancelAsync();
            await running;
        }
    }

    [Fact]
    public async Task WithoutAServer_MailsAreFiles_ForNobodyElseToRead()
    {
        var folder = Path.Combine(Path.GetTempPath(), $"porch-mails-{Guid.NewGuid():N}");
        using var server = OtherServer.Start(_api, out var address, ("PORCH_MAILS", folder));
        try
        {
            using var client = new HttpClient { BaseAddress = new Uri(address) };
            await OtherServer.UntilReadyAsync(client);
            var email = await _api.InviteAsync("zoo", "clerk", "Odo Ferry");
            var file = "";
            await RemovalFixture.UntilAsync(() =>
            {
                file = Directory.Exists(folder) ? Directory.EnumerateFiles(folder, "*.eml").FirstOrDefault() ?? "" : "";
                return Task.FromResult(file.Length > 0);
            });
            var text = await File.ReadAllTextAsync(file, Token);
            Assert.Contains($"To: {email}", text, StringComparison.Ordinal);
            Assert.Contains("/password#", text, StringComparison.Ordinal);
            if (!OperatingSystem.IsWindows())
                Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(file));
        }
        finally
        {
            server.Kill(entireProcessTree: true);
            await server.WaitForExitAsync(Token);
            if (Directory.Exists(folder))
                Directory.Delete(folder, recursive: true);
        }
    }

    private async Task<JsonNode> MailAsync(string to, Func<JsonNode, bool> isSo)
    {
        var until = DateTime.UtcNow.AddSeconds(60);
        while (true)
        {
            var mails = (await _api.Client.GetFromJsonAsync<JsonNode>("/api/mails", Token))!["mails"]!.AsArray();
            var mail = mails.First(one => (string)one!["to"]! == to)!;
            if (isSo(mail))
                return mail;
            Assert.True(DateTime.UtcNow < until, $"Waited in vain; the mail is still {mail}.");
            await Task.Delay(100, Token);
        }
    }

    private sealed class Received : MessageStore
    {
        private readonly ConcurrentQueue<string> _mails = new();

        public IReadOnlyCollection<string> Mails => _mails;

        public override Task<SmtpResponse> SaveAsync(
            ISessionContext context,
            IMessageTransaction transaction,
            ReadOnlySequence<byte> buffer,
            CancellationToken cancellationToken
        )
        {
            _mails.Enqueue(Encoding.UTF8.GetString(buffer));
            return Task.FromResult(SmtpResponse.Ok);
        }
    }
}
