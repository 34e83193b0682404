using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using PlainPorch.Core.Sources;

namespace PlainPorch.Data.Connections;

/// <summary>Encrypts the passwords of sources at rest.</summary>
/// <param name="protection">ASP.NET's Data Protection, whose keys are outside of the catalog.</param>
public sealed class SourceSecrets(IDataProtectionProvider protection)
{
    private readonly IDataProtector _protector = protection.CreateProtector("PlainPorch.Source.Password.v1");

    /// <summary>Encrypts a password.</summary>
    /// <returns>The encrypted text; null for null.</returns>
    public string? Protect(string? password) => password is null ? null : _protector.Protect(password);

    /// <summary>The settings of a source with its password in the clear.</summary>
    /// <exception cref="SecretLostException">The keys that it was encrypted with are not on this server.</exception>
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

    /// <summary>Whether there is a password that can be decrypted here.</summary>
    public bool CanOpen(SourceRow source)
    {
        ArgumentNullException.ThrowIfNull(source);
        try
        {
            return Unprotect(source) is not null;
        }
        catch (SecretLostException)
        {
            return false;
        }
    }

    private string? Unprotect(SourceRow source)
    {
        try
        {
            return source.ProtectedPassword is null ? null : _protector.Unprotect(source.ProtectedPassword);
        }
        catch (CryptographicException lost)
        {
            throw new SecretLostException(source.Name, lost);
        }
    }
}

/// <summary>The password of a source cannot be decrypted here: the catalog was brought to this server without its keys.</summary>
/// <param name="source">The source's name.</param>
/// <param name="lost">What failed.</param>
public sealed class SecretLostException(string source, Exception lost)
    : Exception(
        $"The password of the source {source} cannot be decrypted on this server, because the keys are missing. Enter it again in the source's settings.",
        lost
    );
