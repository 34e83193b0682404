using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;

namespace PlainPorch.Data.People;

/// <summary>
/// Secrets that the program itself makes: long enough that nobody guesses them, so that a plain hash of one is enough to know it
/// again by.
/// </summary>
public static class SecretText
{
    private const int Bytes = 32;

    // Without letters and digits that look alike.
    private const string Readable = "ABCDEFGHJKMNPQRSTUVWXYZ23456789";

    /// <summary>A new secret of 256 bits, as it can stand in an address.</summary>
    public static string New() => Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(Bytes));

    /// <summary>A new secret to be typed, in groups of four, of about 79 bits.</summary>
    public static string NewToType()
    {
        var letters = RandomNumberGenerator.GetString(Readable, 16);
        return string.Join('-', letters.Chunk(4).Select(group => new string(group)));
    }

    /// <summary>What a secret is known again by.</summary>
    public static string Hash(string secret) => Convert.ToBase64String(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));

    /// <summary>What a secret that people type is known again by, capitals and marks between its groups left out of account.</summary>
    public static string HashTyped(string typed)
    {
        ArgumentNullException.ThrowIfNull(typed);
        return Hash(string.Concat(typed.ToUpperInvariant().Where(char.IsLetterOrDigit)));
    }

    /// <summary>Whether two secrets are the same; how long it takes tells nothing.</summary>
    public static bool AreSame(string one, string other) =>
        CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(Hash(one)), Encoding.UTF8.GetBytes(Hash(other)));
}
