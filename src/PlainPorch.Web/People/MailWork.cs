using System.Globalization;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;
using PlainPorch.Data.People;

namespace PlainPorch.Web.People;

/// <summary>The mail server that mails are handed over to, by configuration.</summary>
/// <param name="Host">Its name; null where there is none, and mails stay in the outbox to be read.</param>
/// <param name="Port">Its port.</param>
/// <param name="User">The name to sign in by; null for without.</param>
/// <param name="Password">The password to sign in by.</param>
/// <param name="From">From which address mails are.</param>
/// <param name="Tls">How the connection is encrypted.</param>
/// <param name="Retry">How long to wait after a mail could not be handed over.</param>
/// <param name="Folder">Where each mail is written as a file as well, as long as no server is named; null for nowhere.</param>
internal sealed record MailSettings(
    string? Host,
    int Port,
    string? User,
    string? Password,
    string From,
    SecureSocketOptions Tls,
    TimeSpan Retry,
    string? Folder
)
{
    private const int SubmissionPort = 587;
    private const int UsualRetrySeconds = 60;

    /// <summary>Reads them from the configuration.</summary>
    /// <exception cref="WrongSettingException">Something is missing or wrong; the message says what.</exception>
    public static MailSettings Read(IConfiguration configuration)
    {
        var host = configuration["PORCH_SMTP_HOST"];
        var tls = configuration["PORCH_SMTP_TLS"] ?? "starttls";
        if (host is not null && configuration["PORCH_SMTP_FROM"] is null)
            throw new WrongSettingException(
                "PORCH_SMTP_HOST is set, and PORCH_SMTP_FROM is not: name the address that mails are from."
            );
        return new MailSettings(
            host,
            configuration.ReadNumber("PORCH_SMTP_PORT", SubmissionPort),
            configuration["PORCH_SMTP_USER"],
            configuration["PORCH_SMTP_PASSWORD"],
            configuration["PORCH_SMTP_FROM"] ?? "",
            tls switch
            {
                "starttls" => SecureSocketOptions.StartTls,
                "tls" => SecureSocketOptions.SslOnConnect,
                "none" => SecureSocketOptions.None,
                _ => throw new WrongSettingException($"PORCH_SMTP_TLS is {tls}. Set it to starttls, tls or none."),
            },
            TimeSpan.FromSeconds(configuration.ReadNumber("PORCH_SMTP_RETRY_SECONDS", UsualRetrySeconds)),
            configuration["PORCH_MAILS"]
        );
    }
}

/// <summary>Hands mails over to the mail server, as long as it takes, or writes them into a folder.</summary>
internal sealed partial class MailWork(IServiceScopeFactory scopes, MailSettings settings, ILogger<MailWork> log)
    : BackgroundService
{
    private const int AtOnce = 20;
    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (settings.Host is null && settings.Folder is null)
            return;
        while (!stoppingToken.IsCancellationRequested)
        {
            var isWell = false;
            try
            {
                isWell = settings.Host is null ? await WriteAsync(stoppingToken) : await SendAsync(stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception failure)
            {
                Failed(log, failure);
            }

            await Task.Delay(isWell ? _pause : settings.Retry, stoppingToken)
                .ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private async Task<bool> SendAsync(CancellationToken cancellationToken)
    {
        await using var scope = scopes.CreateAsyncScope();
        var outbox = scope.ServiceProvider.GetRequiredService<Outbox>();
        var waiting = await outbox.WaitingAsync(AtOnce, cancellationToken);
        if (waiting.Count == 0)
            return true;
        using var client = new SmtpClient();
        foreach (var mail in waiting)
        {
            try
            {
                if (!client.IsConnected)
                    await ConnectAsync(client, cancellationToken);
                using var message = MessageOf(mail);
                await client.SendAsync(message, cancellationToken);
                await outbox.SentAsync(mail, cancellationToken);
            }
            catch (Exception failure) when (!cancellationToken.IsCancellationRequested)
            {
                // What the server says names at most the address that the mail goes to.
                await outbox.FailedAsync(mail, failure.Message, cancellationToken);
                Failed(log, failure);
                return false;
            }
        }

        await client.DisconnectAsync(quit: true, cancellationToken);
        return true;
    }

    // For whoever has no mail server and wants to open the mails with a program for mails. They stay in the outbox.
    private async Task<bool> WriteAsync(CancellationToken cancellationToken)
    {
        await using var scope = scopes.CreateAsyncScope();
        Directory.CreateDirectory(settings.Folder!);
        foreach (var mail in await scope.ServiceProvider.GetRequiredService<Outbox>().ListAsync(AtOnce, cancellationToken))
        {
            var file = Path.Combine(settings.Folder!, string.Create(CultureInfo.InvariantCulture, $"{mail.Id:000000}.eml"));
            if (File.Exists(file))
                continue;
            // Not to be read before it is whole, and by nobody else: a link in it lets somebody in.
            var part = $"{file}.part";
            var options = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
            if (!OperatingSystem.IsWindows())
                options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
            await using (var stream = new FileStream(part, options))
            {
                using var message = MessageOf(mail);
                await message.WriteToAsync(stream, cancellationToken);
            }

            File.Move(part, file, overwrite: true);
        }

        return true;
    }

    private MimeMessage MessageOf(MailRow mail)
    {
        var message = new MimeMessage { Date = mail.At };
        message.From.Add(MailboxAddress.Parse(settings.From.Length > 0 ? settings.From : "porch@localhost"));
        message.To.Add(MailboxAddress.Parse(mail.To));
        message.Subject = mail.Subject;
        message.Body = new TextPart("plain") { Text = mail.Text };
        return message;
    }

    private async Task ConnectAsync(SmtpClient client, CancellationToken cancellationToken)
    {
        await client.ConnectAsync(settings.Host!, settings.Port, settings.Tls, cancellationToken);
        if (settings.User is { } user)
            await client.AuthenticateAsync(user, settings.Password ?? "", cancellationToken);
    }

    [LoggerMessage(LogLevel.Warning, "A mail could not be handed over to the mail server. It is tried again.")]
    private static partial void Failed(ILogger log, Exception failure);
}
