using System.Globalization;
using System.Text;

namespace PlainPorch.Core.Sources;

/// <summary>
/// Reads a pasted connection string in any of the spellings that PostgreSQL clients use: a
/// <c>postgresql://</c> URL, <c>host=… port=…</c> keywords parted by blanks, or <c>Host=…;Port=…</c> parted by semicolons.
/// </summary>
/// <remarks>URL and keyword rules: PostgreSQL manual, "Connection Strings" (libpq).</remarks>
public static class ConnectionText
{
    /// <summary>Reads a connection string.</summary>
    /// <param name="text">The pasted text.</param>
    /// <param name="settings">What it says; defaults for what it leaves out.</param>
    /// <param name="problem">What is wrong with it, as a sentence with the remedy; null on success.</param>
    /// <returns>Whether it could be read.</returns>
    public static bool TryRead(string text, out SourceSettings settings, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(text);
        settings = new SourceSettings();
        var trimmed = text.Trim();
        if (trimmed.Length == 0)
        {
            problem = "There is nothing to read. Paste a connection string or a postgresql:// URL.";
            return false;
        }

        if (
            trimmed.StartsWith("postgres://", StringComparison.OrdinalIgnoreCase)
            || trimmed.StartsWith("postgresql://", StringComparison.OrdinalIgnoreCase)
        )
            return TryReadUrl(trimmed, ref settings, out problem);
        return TryReadPairs(trimmed, ref settings, out problem);
    }

    private static bool TryReadUrl(string text, ref SourceSettings settings, out string? problem)
    {
        // Not System.Uri: it refuses the passwords with unescaped signs that people paste.
        var rest = text[(text.IndexOf("://", StringComparison.Ordinal) + 3)..];
        var query = "";
        if (rest.IndexOf('?', StringComparison.Ordinal) is var mark and >= 0)
            (rest, query) = (rest[..mark], rest[(mark + 1)..]);

        // The last @ parts user from host, so that a password may hold one.
        if (rest.LastIndexOf('@') is var at and >= 0)
        {
            var user = rest[..at];
            rest = rest[(at + 1)..];
            var colon = user.IndexOf(':', StringComparison.Ordinal);
            settings = settings with
            {
                User = Uri.UnescapeDataString(colon < 0 ? user : user[..colon]),
                Password = colon < 0 ? null : Uri.UnescapeDataString(user[(colon + 1)..]),
            };
        }

        if (rest.IndexOf('/', StringComparison.Ordinal) is var slash and >= 0)
        {
            settings = settings with { Database = Uri.UnescapeDataString(rest[(slash + 1)..]) };
            rest = rest[..slash];
        }

        if (rest.Contains(',', StringComparison.Ordinal))
        {
            problem = "It names several hosts. Keep the one to connect to.";
            return false;
        }

        // An IPv6 address stands in brackets, and its colons part nothing.
        var portColon = rest.LastIndexOf(':');
        if (portColon > rest.LastIndexOf(']'))
        {
            if (!TrySet(ref settings, "port", rest[(portColon + 1)..], out problem))
                return false;
            rest = rest[..portColon];
        }

        settings = settings with { Host = Uri.UnescapeDataString(rest).Trim('[', ']') };
        foreach (var pair in query.Split('&', StringSplitOptions.RemoveEmptyEntries))
        {
            var equals = pair.IndexOf('=', StringComparison.Ordinal);
            var (name, value) = equals < 0 ? (pair, "") : (pair[..equals], pair[(equals + 1)..]);
            if (!TrySet(ref settings, Uri.UnescapeDataString(name), Uri.UnescapeDataString(value), out problem))
                return false;
        }

        return IsComplete(ref settings, out problem);
    }

    private static bool TryReadPairs(string text, ref SourceSettings settings, out string? problem)
    {
        var bySemicolon = text.Contains(';', StringComparison.Ordinal) && !LooksQuotedWithBlanks(text);
        var position = 0;
        while (SkipSeparators(text, ref position, bySemicolon))
        {
            var equals = text.IndexOf('=', position);
            if (equals < 0)
            {
                problem = "It is neither a postgresql:// URL nor a list of name=value. Check what you pasted.";
                return false;
            }

            var name = text[position..equals].Trim();
            position = equals + 1;
            var value = ReadValue(text, ref position, bySemicolon);
            if (value is null)
            {
                problem = $"The value of {name} has an opening quote but no closing one. Add it.";
                return false;
            }

            if (!TrySet(ref settings, name, value, out problem))
                return false;
        }

        return IsComplete(ref settings, out problem);
    }

    // host='a;b' port=1: a semicolon inside a blank-parted string's quotes parts nothing.
    private static bool LooksQuotedWithBlanks(string text) =>
        text.IndexOf('\'', StringComparison.Ordinal) is var quote and >= 0 && quote < text.IndexOf(';', StringComparison.Ordinal);

    private static bool SkipSeparators(string text, ref int position, bool bySemicolon)
    {
        while (position < text.Length && (char.IsWhiteSpace(text[position]) || (bySemicolon && text[position] == ';')))
            position++;
        return position < text.Length;
    }

    private static string? ReadValue(string text, ref int position, bool bySemicolon)
    {
        while (position < text.Length && text[position] == ' ')
            position++;
        if (position < text.Length && (text[position] == '\'' || (bySemicolon && text[position] == '"')))
            return ReadQuoted(text, ref position, backslashEscapes: !bySemicolon);
        var value = new StringBuilder();
        while (position < text.Length && (bySemicolon ? text[position] != ';' : !char.IsWhiteSpace(text[position])))
        {
            if (!bySemicolon && text[position] == '\\' && position + 1 < text.Length)
                position++;
            value.Append(text[position++]);
        }

        return bySemicolon ? value.ToString().Trim() : value.ToString();
    }

    private static string? ReadQuoted(string text, ref int position, bool backslashEscapes)
    {
        var quote = text[position++];
        var value = new StringBuilder();
        while (position < text.Length)
        {
            var c = text[position++];
            if (c == '\\' && backslashEscapes && position < text.Length)
                value.Append(text[position++]);
            else if (c != quote)
                value.Append(c);
            else if (!backslashEscapes && position < text.Length && text[position] == quote)
                value.Append(text[position++]);
            else
                return value.ToString();
        }

        return null;
    }

    private static bool TrySet(ref SourceSettings settings, string name, string value, out string? problem)
    {
        problem = null;
        switch (name.Replace(" ", "", StringComparison.Ordinal).Replace("_", "", StringComparison.Ordinal).ToUpperInvariant())
        {
            case "HOST" or "HOSTADDR" or "SERVER":
                settings = settings with { Host = value };
                return true;
            case "PORT":
                if (!int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var port) || port is < 1 or > 65535)
                {
                    problem = $"The port “{value}” is not a number from 1 to 65535. Correct it.";
                    return false;
                }

                settings = settings with { Port = port };
                return true;
            case "DBNAME" or "DATABASE" or "DB":
                settings = settings with { Database = value };
                return true;
            case "USER" or "USERNAME" or "USERID" or "UID":
                settings = settings with { User = value };
                return true;
            case "PASSWORD" or "PWD":
                settings = settings with { Password = value };
                return true;
            case "SSLMODE":
                if (ReadTls(value) is not { } tls)
                {
                    problem = $"The TLS mode “{value}” is not known. Use disable, prefer, require, verify-ca or verify-full.";
                    return false;
                }

                settings = settings with { Tls = tls };
                return true;
            default:
                // Time-outs, pool sizes, application names: a client's business, not the source's.
                return true;
        }
    }

    private static TlsMode? ReadTls(string value) =>
        value.Replace("-", "", StringComparison.Ordinal).ToUpperInvariant() switch
        {
            "DISABLE" => TlsMode.Disable,
            "ALLOW" or "PREFER" => TlsMode.Prefer,
            "REQUIRE" => TlsMode.Require,
            "VERIFYCA" => TlsMode.VerifyCa,
            "VERIFYFULL" => TlsMode.VerifyFull,
            _ => null,
        };

    private static bool IsComplete(ref SourceSettings settings, out string? problem)
    {
        if (settings.Host.Length == 0)
            settings = settings with { Host = "localhost" };
        // As the manual has it: the database is named like the user unless told otherwise.
        if (settings.Database.Length == 0)
            settings = settings with { Database = settings.User };
        problem = settings.User.Length == 0 ? "It names no user. Add one, such as user=reader." : null;
        return problem is null;
    }
}
