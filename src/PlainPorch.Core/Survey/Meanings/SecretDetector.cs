using System.Collections.Frozen;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>
/// Finds what nobody is to read: passwords and their hashes, tokens, keys, codes that stand for a password. Only where there is text
/// or bytes to hide: when a password was changed, or how many there are, is no secret. The evidence never tells a value.
/// </summary>
internal static partial class SecretDetector
{
    // What these stand in the end of is about a secret, and none itself.
    private static readonly FrozenSet<string> _aboutSecrets = new[]
    {
        "id",
        "ids",
        "no",
        "type",
        "typ",
        "kind",
        "name",
        "label",
        "title",
        "description",
        "desc",
        "count",
        "length",
        "len",
        "min",
        "max",
        "date",
        "at",
        "on",
        "by",
        "time",
        "expires",
        "expiry",
        "expiration",
        "changed",
        "policy",
        "required",
        "enabled",
        "yn",
        "algorithm",
        "alg",
        "algo",
        "format",
        "url",
        "uri",
        "path",
        "file",
        "field",
        "status",
        "state",
        "scope",
        "format",
        "version",
    }.ToFrozenSet();

    private static readonly string[] _secrets =
    [
        "password",
        "passwords",
        "passwd",
        "pwd",
        "pw",
        "passphrase",
        "passcode",
        "passhash",
        "pwhash",
        "secret",
        "secrets",
        "salt",
        "apikey",
        "psk",
        "otp",
        "totp",
        "privkey",
        "credential",
        "credentials",
        "token",
        "tokens",
        "pin",
    ];

    // Before "key" or "code", these make a secret of it.
    private static readonly string[] _ofKeys =
    [
        "private",
        "priv",
        "secret",
        "session",
        "api",
        "encryption",
        "signing",
        "shared",
        "preshared",
        "auth",
        "recovery",
        "backup",
        "activation",
        "confirmation",
        "verification",
        "reset",
        "wep",
        "wpa",
        "ssh",
    ];

    private static readonly string[] _ofPasses =
    [
        "auth",
        "user",
        "usr",
        "login",
        "db",
        "smtp",
        "imap",
        "ftp",
        "proxy",
        "mail",
        "admin",
        "root",
        "ldap",
        "hash",
        "enc",
        "crypt",
    ];

    /// <summary>A secret, by its name or by the shape of its values.</summary>
    public static ColumnMeaning? Find(ColumnFacts column)
    {
        if (!column.IsText && column.Kind is not (ValueKind.Binary or ValueKind.Json))
            return null;
        if (IsNamedSecret(column.Words))
            return new(Meaning.Secret, 0.95, "its name suggests a secret");
        if (!column.IsText)
            return null;
        var hashes = column.Share(text => Hash().IsMatch(text));
        if (hashes > 0.8)
            return new(Meaning.Secret, 0.95, $"{ColumnFacts.Percent(hashes)} of the values look like password hashes");
        var keys = column.Share(text => PrivateKey().IsMatch(text) || SignedToken().IsMatch(text));
        return keys > 0.5
            ? new(Meaning.Secret, 0.96, $"{ColumnFacts.Percent(keys)} of the values look like private keys or signed tokens")
            : null;
    }

    private static bool IsNamedSecret(IReadOnlyList<string> words)
    {
        if (words.Count == 0 || _aboutSecrets.Contains(words[^1]))
            return false;
        // A public key is there to be read.
        if (words.Contains("public") || words.Contains("pub") || words.Contains("pubkey"))
            return false;
        if (words.Any(word => _secrets.Contains(word) || RunTogether().IsMatch(word)))
            return true;
        // "auth_pass", and "pass" alone; a boarding pass is none.
        if (words.Contains("pass") && (words.Count == 1 || words.Any(_ofPasses.Contains)))
            return true;
        return words[^1] is "key" or "keys" or "code" or "codes" or "hash" or "cookie" && words.Any(_ofKeys.Contains);
    }

    [GeneratedRegex(
        "^(?:[a-z]*(?:password|passwd|passphrase)|(?:private|secret|session|api|auth|preshared|encryption)key|(?:auth|access|refresh|reset|session|api|csrf|remember|bearer)token|(?:recovery|backup)codes?)(?:hash|enc|crypt|s)?$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex RunTogether();

    // Crypt's modular form, that of LDAP (RFC 2307), and what frameworks write in the like of them.
    [GeneratedRegex(
        @"^(?:\$(?:1|2[abxy]?|5|6|y|7|argon2[a-z]*|pbkdf2[\w-]*|scrypt)\$|\{(?:S?SHA(?:256|512)?|S?MD5|CRYPT)\}|(?:pbkdf2|scrypt|argon2|bcrypt)[\w:-]*[$:])",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Hash();

    // RFC 7468.
    [GeneratedRegex("-----BEGIN [A-Z0-9 ]*PRIVATE KEY-----", RegexOptions.CultureInvariant)]
    private static partial Regex PrivateKey();

    // A JSON Web Token in its compact form (RFC 7519).
    [GeneratedRegex(@"^eyJ[\w-]{8,}\.eyJ[\w-]{8,}\.[\w-]*$", RegexOptions.CultureInvariant)]
    private static partial Regex SignedToken();
}
