using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Microsoft.AspNetCore.HttpOverrides;

namespace PlainPorch.Web;

/// <summary>Decides where the server listens, by which names it is asked, and how much it takes.</summary>
/// <param name="Port">The port.</param>
/// <param name="Hosts">The names by which others ask it; empty where only its own computer does.</param>
/// <param name="Certificate">The file of the certificate (PEM), by which it speaks TLS itself; null for none.</param>
/// <param name="CertificateKey">The file of the certificate's key (PEM); null where the certificate's file has it.</param>
/// <param name="Proxies">The addresses of proxies in front of it, whose word about who asks is taken.</param>
internal sealed record Listening(
    int Port,
    IReadOnlyList<string> Hosts,
    string? Certificate,
    string? CertificateKey,
    IReadOnlyList<IPAddress> Proxies
)
{
    public const int DefaultPort = 5180;

    // Room for a record with long texts; anything larger is a mistake or an attack.
    private const long MaxBodyBytes = 4 * 1024 * 1024;

    /// <summary>Whether others than its own computer may ask it.</summary>
    public bool IsBeyondLoopback => Hosts.Count > 0;

    /// <summary>Reads it from the configuration.</summary>
    /// <exception cref="WrongSettingException">It would let others in without TLS, or something is wrong; the message says
    /// what.</exception>
    public static Listening Read(IConfiguration configuration)
    {
        var read = new Listening(
            configuration.ReadNumber("PORCH_PORT", DefaultPort),
            Split(configuration["PORCH_HOSTS"]),
            configuration["PORCH_CERTIFICATE"],
            configuration["PORCH_CERTIFICATE_KEY"],
            [
                .. Split(configuration["PORCH_PROXIES"])
                    .Select(text =>
                        IPAddress.TryParse(text, out var address)
                            ? address
                            : throw new WrongSettingException($"PORCH_PROXIES has {text}, which is no IP address. Correct it.")
                    ),
            ]
        );
        return read is { IsBeyondLoopback: true, Certificate: null, Proxies: [] }
            ? throw new WrongSettingException(
                "PORCH_HOSTS lets others in, and passwords would travel in the clear. Name a certificate in PORCH_CERTIFICATE, or the proxy that speaks TLS in PORCH_PROXIES."
            )
            : read;
    }

    private static string[] Split(string? text) =>
        (text ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    /// <summary>Has the server listen so.</summary>
    public void Configure(ConfigureWebHostBuilder host) =>
        host.ConfigureKestrel(options =>
        {
            options.AddServerHeader = false;
            options.Limits.MaxRequestBodySize = MaxBodyBytes;
            if (!IsBeyondLoopback)
            {
                options.Listen(IPAddress.Loopback, Port);
                return;
            }

            options.ListenAnyIP(Port, listen =>
            {
                if (Certificate is not null)
                    listen.UseHttps(ReadCertificate(Certificate));
            });
        });

    private X509Certificate2 ReadCertificate(string file)
    {
        try
        {
            return X509Certificate2.CreateFromPemFile(file, CertificateKey);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException or CryptographicException)
        {
            throw new WrongSettingException(
                $"The certificate in PORCH_CERTIFICATE cannot be read: {failure.Message} Name a file in PEM format that the server may read, and its key in PORCH_CERTIFICATE_KEY."
            );
        }
    }

    /// <summary>Takes the word of the proxies about who asks, and of nobody else.</summary>
    public void UseProxies(IApplicationBuilder app)
    {
        if (Proxies.Count == 0)
            return;
        var options = new ForwardedHeadersOptions
        {
            ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto,
            ForwardLimit = 1,
        };
        options.KnownIPNetworks.Clear();
        options.KnownProxies.Clear();
        foreach (var proxy in Proxies)
            options.KnownProxies.Add(proxy);
        app.UseForwardedHeaders(options);
    }

    /// <summary>Whether it answers to a name.</summary>
    public bool AnswersTo(string host) => IsLoopback(host) || Hosts.Contains(host, StringComparer.OrdinalIgnoreCase);

    /// <summary>Whether a name is its own computer's.</summary>
    public static bool IsLoopback(string host) =>
        host.Equals("localhost", StringComparison.OrdinalIgnoreCase)
        || (IPAddress.TryParse(host.Trim('[', ']'), out var address) && IPAddress.IsLoopback(address));
}
