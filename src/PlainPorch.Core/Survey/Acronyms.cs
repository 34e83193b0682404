using System.Collections.Frozen;

namespace PlainPorch.Core.Survey;

/// <summary>Terms that keep their own form in a label: ID, IPv4, SHA1.</summary>
internal static class Acronyms
{
    private const string InCapitals = """
        id uid gid pid iban bic url uri vat isbn issn ean gtin ip pdf html xhtml json xml csv sql uuid guid sku dns mac ssl tls
        ssh http https smtp imap snmp ldap sms mms dhcp ntp tcp udp icmp ipmi jmx oid vpn vlan wifi lan wan usb cpu gpu ram rom
        gps gis utc gmt api sdk faq rss qr otp totp mfa sso kpi hr crm erp bom md sha aes rsa hmac cidr fqdn mx ttl soa ptr
        xmpp jid css js php ascii utf pin ssn tin nif cif nip siret siren gln eori rma po loa db saml idp psk dn gmt ups ssid imei imsi msisdn sim
        dvd cd tv pc os lld lti cms rgb dpi mrz nfc rfid ldif spf dkim dmarc crl ocsp csr pki irc yaml
        """;

    private static readonly FrozenSet<string> _capitals = InCapitals
        .Split([' ', '\n', '\r'], StringSplitOptions.RemoveEmptyEntries)
        .Where(word => word is not ("po" or "loa" or "cd" or "mx" or "wifi"))
        .ToFrozenSet();

    private static readonly FrozenDictionary<string, string> _own = new Dictionary<string, string>
    {
        ["ipv4"] = "IPv4",
        ["ipv6"] = "IPv6",
        ["ids"] = "IDs",
        ["urls"] = "URLs",
        ["ips"] = "IPs",
        ["uuids"] = "UUIDs",
        ["oauth"] = "OAuth",
        ["wifi"] = "Wi-Fi",
        ["javascript"] = "JavaScript",
        ["postgresql"] = "PostgreSQL",
        ["i18n"] = "i18n",
        ["phd"] = "PhD",
    }.ToFrozenDictionary();

    /// <summary>Whether a word, in small letters, is written in a form of its own.</summary>
    public static bool Contains(string word) => _own.ContainsKey(word) || _capitals.Contains(word.TrimEnd(_digits));

    /// <summary>A word as it is written in a label.</summary>
    public static string Written(string word) =>
        _own.TryGetValue(word, out var own) ? own
        : _capitals.Contains(word.TrimEnd(_digits)) ? word.ToUpperInvariant()
        : word;

    /// <summary>Words with the digits that belong to an acronym or a single letter joined to it: "ipv", "4" and "x", "509".</summary>
    public static IReadOnlyList<string> Join(IReadOnlyList<string> words)
    {
        var joined = new List<string>();
        foreach (var word in words)
        {
            var before = joined.Count > 0 ? joined[^1] : "";
            if (word.All(char.IsDigit) && (before.Length == 1 || (_capitals.Contains(before) && before != "id")))
                joined[^1] += word;
            // "ipv" and "4"
            else if (word.All(char.IsDigit) && before.EndsWith('v') && _capitals.Contains(before[..^1]))
                joined[^1] = $"{before[..^1].ToUpperInvariant()}v{word}";
            // "3" and "d"
            else if (word.Length == 1 && before.Length > 0 && before.All(char.IsDigit))
                joined[^1] += word.ToUpperInvariant();
            else
                joined.Add(word);
        }

        return joined;
    }

    private static readonly char[] _digits = [.. "0123456789"];
}
