using System.Text;
using System.Text.Unicode;
using UtfUnknown;

namespace PlainPorch.Core.Imports;

/// <summary>Finds out how the characters of a file are written.</summary>
public static class FileEncodings
{
    // Enough to tell old code pages apart by the letters that are frequent in a language.
    private const int Looked = 256 * 1024;

    static FileEncodings() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>Finds an encoding by its name, as IANA has it, or by the number of its code page.</summary>
    /// <param name="name">Such as <c>windows-1252</c>, <c>cp850</c>, <c>850</c> or <c>utf-8</c>.</param>
    /// <returns>The encoding; null where there is none of that name.</returns>
    public static Encoding? Find(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        var number = name.StartsWith("cp", StringComparison.OrdinalIgnoreCase) ? name[2..] : name;
        try
        {
            return int.TryParse(number, out var page) ? Encoding.GetEncoding(page) : Encoding.GetEncoding(name);
        }
        catch (Exception unknown) when (unknown is ArgumentException or NotSupportedException)
        {
            return null;
        }
    }

    /// <summary>
    /// Guesses the encoding by the file's mark, else by its content: what is valid UTF-8 is UTF-8, as other encodings hardly ever are
    /// by chance (RFC 3629, 1); else the code page whose letters fit best.
    /// </summary>
    /// <param name="start">The file's first bytes; it is left where it was.</param>
    /// <returns>The encoding, and whether nothing but plain letters was seen, so that any would do.</returns>
    public static (Encoding Encoding, bool IsPlain) Guess(Stream start)
    {
        ArgumentNullException.ThrowIfNull(start);
        var from = start.Position;
        var bytes = new byte[Looked];
        var read = start.ReadAtLeast(bytes, Looked, throwOnEndOfStream: false);
        start.Position = from;
        var seen = bytes.AsSpan(0, read);
        if (seen is [0xEF, 0xBB, 0xBF, ..])
            return (Encoding.UTF8, false);
        if (seen is [0xFF, 0xFE, ..])
            return (Encoding.Unicode, false);
        if (seen is [0xFE, 0xFF, ..])
            return (Encoding.BigEndianUnicode, false);
        // Without a mark, every other byte of a text in a western language is zero.
        if (read >= 8 && ShareOfZeros(seen, 1) > 0.4)
            return (Encoding.Unicode, false);
        if (read >= 8 && ShareOfZeros(seen, 0) > 0.4)
            return (Encoding.BigEndianUnicode, false);
        if (!seen.ContainsAnyExceptInRange((byte)0, (byte)0x7F))
            return (Encoding.UTF8, true);
        if (Utf8.IsValid(WithoutCutCharacter(seen, read == Looked)))
            return (Encoding.UTF8, false);
        return (ByLetters(seen), false);
    }

    // The detector does not know the code pages of DOS, in which letters stand where windows-1252 has no letters, or rare ones.
    private static Encoding ByLetters(ReadOnlySpan<byte> seen)
    {
        var (dos, windows) = (0, 0);
        foreach (var one in seen)
        {
            // ü é â ä à å ç ê ë è ï î ì Ä Å É æ ô ö ò û ù Ö Ü á í ó ú ñ Ñ and ß of code pages 437 and 850.
            if (one is >= 0x81 and <= 0x9A or >= 0xA0 and <= 0xA5 or 0xE1)
                dos++;
            // ä ö ü é è à and the others of windows-1252 and ISO 8859-1, and its quotation marks.
            if (one is >= 0xC0 and not 0xE1 or 0x93 or 0x94 or 0x96)
                windows++;
        }

        if (dos > 2 * windows)
            return Encoding.GetEncoding(850);
        var found = CharsetDetector.DetectFromBytes(seen.ToArray()).Detected;
        return found is { Encoding: { IsSingleByte: true, WebName: not "iso-8859-1" } likely, Confidence: > 0.5f }
            ? likely
            // Which has all of ISO 8859-1 and more (WHATWG Encoding Standard, 4.2).
            : Encoding.GetEncoding(1252);
    }

    private static double ShareOfZeros(ReadOnlySpan<byte> seen, int parity)
    {
        var zeros = 0;
        for (var i = parity; i < seen.Length; i += 2)
            zeros += seen[i] == 0 ? 1 : 0;
        return zeros / (seen.Length / 2.0);
    }

    private static ReadOnlySpan<byte> WithoutCutCharacter(ReadOnlySpan<byte> seen, bool isCut)
    {
        if (!isCut)
            return seen;
        var end = seen.Length;
        while (end > seen.Length - 4 && (seen[end - 1] & 0xC0) == 0x80)
            end--;
        return seen[..(end - 1)];
    }
}
