using PlainPorch.Web.Connections;

namespace PlainPorch.Web.Records;

/// <summary>Reads from the configuration where small pictures are kept.</summary>
internal static class KeptPictures
{
    private const string Folder = "PORCH_KEPT_PICTURES";

    /// <summary>Reads it: a folder of the service's user where nothing is said.</summary>
    public static string Read(IConfiguration configuration) =>
        configuration[Folder] is { Length: > 0 } folder ? folder : OwnFolder.Of("pictures");
}
