using System.Globalization;
using System.Numerics;

namespace PlainPorch.Demo;

/// <summary>Check digits, so that made-up numbers look real to a program that checks them.</summary>
internal static class Checksums
{
    /// <summary>An IBAN for a made-up account of a made-up bank (ISO 13616: check digits by ISO 7064 mod 97-10).</summary>
    public static string Iban(string country, string account)
    {
        var digits = string.Concat(
            (account + country + "00").Select(c =>
                char.IsDigit(c) ? c.ToString() : (c - 'A' + 10).ToString(CultureInfo.InvariantCulture)
            )
        );
        var check = 98 - (int)(BigInteger.Parse(digits, CultureInfo.InvariantCulture) % 97);
        return $"{country}{check:00}{account}";
    }
}
