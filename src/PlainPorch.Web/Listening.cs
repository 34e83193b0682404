using System.Net;

namespace PlainPorch.Web;

/// <summary>Decides where the server listens, and how much it takes.</summary>
internal static class Listening
{
    public const int DefaultPort = 5180;

    // Room for a record with long texts; anything larger is a mistake or an attack.
    private const long MaxBodyBytes = 4 * 1024 * 1024;

    /// <summary>Listens on the loopback addresses only: there is no sign-in yet.</summary>
    public static void ConfigureListening(this ConfigureWebHostBuilder host, IConfiguration configuration)
    {
        var port = configuration.GetValue("PORCH_PORT", DefaultPort);
        host.ConfigureKestrel(options =>
        {
            options.AddServerHeader = false;
            options.Limits.MaxRequestBodySize = MaxBodyBytes;
            options.Listen(IPAddress.Loopback, port);
        });
    }
}
