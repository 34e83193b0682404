using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.Sources;

/// <summary>Encrypts the passwords of sources at rest.</summary>
/// <param name="protection">ASP.NET's Data Protection, whose keys are in the catalog.</param>
public sealed class SourceSecrets(IDataProtectionProvider protection)
{
    private readonly IDataProtector _protector = protection.CreateProtector("PlainPorch.Source.Password.v1");

    /// <summary>Encrypts a password.</summary>
    /// <returns>The encrypted text; null for null.</returns>
    public string? Protect(string? password) => password is null ? null : _protector.Protect(password);

    /// <summary>The settings of a source with its password in the clear.</summary>
    /// <exception cref="InvalidOperationException">The keys that it was encrypted with are gone.</exception>
    public SourceSettings Open(SourceRow source)
    {
        ArgumentNullException.ThrowIfNull(source);
        return new SourceSettings
        {
            Host = source.Host,
            Port = source.Port,
            Database = source.Database,
            User = source.User,
            Password = Unprotect(source),
            Tls = source.Tls,
        };
    }

    private string? Unprotect(SourceRow source)
    {
        try
        {
            return source.ProtectedPassword is null ? null : _protector.Unprotect(source.ProtectedPassword);
        }
        catch (CryptographicException lost)
        {
            throw new InvalidOperationException(
                $"The password of source {source.Name} cannot be decrypted: its keys are not in this catalog. Enter it again.", lost);
        }
    }
}
