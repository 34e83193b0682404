namespace PlainPorch.Web.Connections;

/// <summary>The folders of the service's user, for what belongs into no database.</summary>
internal static class OwnFolder
{
    /// <summary>The folder of a name; it need not be there.</summary>
    public static string Of(string name) =>
        Path.Combine(
            Environment.GetFolderPath(
                Environment.SpecialFolder.LocalApplicationData,
                Environment.SpecialFolderOption.DoNotVerify
            ),
            "plain-porch",
            name
        );
}
