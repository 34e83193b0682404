using System.Security.Cryptography.X509Certificates;
using PlainPorch.Data.Connections;

namespace PlainPorch.Web.Connections;

/// <summary>Reads from the configuration where the keys are by which passwords of sources are encrypted.</summary>
internal static class KeySetUp
{
    private const string Folder = "PORCH_KEYS";
    private const string Certificate = "PORCH_KEYS_CERTIFICATE";
    private const string CertificatePassword = "PORCH_KEYS_CERTIFICATE_PASSWORD";

    /// <summary>Reads it: a folder of the service's user where nothing is said.</summary>
    public static KeyPlace Read(IConfiguration configuration) =>
        new(
            configuration[Folder] is { Length: > 0 } folder ? folder : OwnFolder.Of("keys"),
            configuration[Certificate] is { Length: > 0 } certificate
                ? X509CertificateLoader.LoadPkcs12FromFile(certificate, configuration[CertificatePassword])
                : null
        );
}
