using System.Security.Cryptography.X509Certificates;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Connections;

/// <summary>
/// Where the keys are by which passwords of sources are encrypted: in files that only the service's user may read, never in the
/// catalog,
/// so that a dump of that gives no password away. A catalog that is moved without them asks for the passwords again.
/// </summary>
/// <param name="Folder">The folder; all instances need the same one. Made where it is missing.</param>
/// <param name="Certificate">The certificate by which the keys themselves are encrypted; null where the file system's rights have
/// to do.</param>
public sealed record KeyPlace(string Folder, X509Certificate2? Certificate = null)
{
    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    internal void Protect(IDataProtectionBuilder protection)
    {
        protection.PersistKeysToFileSystem(Make());
        if (Certificate is not null)
            protection.ProtectKeysWithCertificate(Certificate);
    }

    /// <summary>
    /// Takes keys that an older version kept in the catalog out of it, into the folder. The catalog's update removes their table.
    /// </summary>
    public async Task TakeOutOfAsync(CatalogContext catalog)
    {
        ArgumentNullException.ThrowIfNull(catalog);
        // A database that is yet to be made holds none.
        if (!await catalog.Database.CanConnectAsync())
            return;
        await catalog.Database.OpenConnectionAsync();
        try
        {
            var connection = (NpgsqlConnection)catalog.Database.GetDbConnection();
            await using var known = new NpgsqlCommand("SELECT to_regclass('porch.data_protection_key') IS NOT NULL", connection);
            if (!(bool)(await known.ExecuteScalarAsync())!)
                return;
            await using var command = new NpgsqlCommand(
                """SELECT "FriendlyName", "Xml" FROM porch.data_protection_key WHERE "Xml" IS NOT NULL""",
                connection
            );
            await using var reader = await command.ExecuteReaderAsync();
            while (await reader.ReadAsync())
                Write(
                    Path.GetFileName(await reader.IsDBNullAsync(0) ? Guid.NewGuid().ToString() : reader.GetString(0)),
                    reader.GetString(1)
                );
        }
        finally
        {
            await catalog.Database.CloseConnectionAsync();
        }
    }

    private void Write(string name, string xml)
    {
        var file = Path.Combine(Make().FullName, name + ".xml");
        if (File.Exists(file))
            return;
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = OwnerOnly;
        using var stream = new FileStream(file, options);
        using var writer = new StreamWriter(stream);
        writer.Write(xml);
    }

    private DirectoryInfo Make() =>
        OperatingSystem.IsWindows()
            ? Directory.CreateDirectory(Folder)
            : Directory.CreateDirectory(Folder, OwnerOnly | UnixFileMode.UserExecute);
}
