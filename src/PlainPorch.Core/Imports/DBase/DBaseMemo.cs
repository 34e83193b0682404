using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace PlainPorch.Core.Imports.DBase;

/// <summary>
/// The file with the long texts beside a table file of the dBASE family, in blocks that the records name by number. Version III ends a text
/// by a mark, version IV tells its length before it, and files with the extension fpt tell it with the greatest byte first.
/// </summary>
/// <param name="stream">The file; it is closed with this.</param>
/// <param name="version">The first byte of the table's file.</param>
/// <param name="encoding">How its letters are written.</param>
internal sealed class DBaseMemo(Stream stream, byte version, Encoding encoding) : IDisposable
{
    private const byte End = 0x1A;
    private const byte FourWithMemo = 0x8B;

    // What is longer is a damaged number.
    private const int MostBytes = 64 * 1024 * 1024;

    private readonly BinaryReader _file = new(stream);
    private int? _block;

    // Those whose table's first byte says neither III nor IV.
    private bool IsFpt => version is 0x30 or 0x31 or 0x32 or 0xF5;

    /// <summary>Reads a text.</summary>
    /// <param name="pointer">The record's field: the block's number, in digits or in binary form.</param>
    /// <returns>The text; null for none.</returns>
    public string? Read(ReadOnlySpan<byte> pointer)
    {
        long block =
            pointer.Length == 4 ? BinaryPrimitives.ReadUInt32LittleEndian(pointer)
            : long.TryParse(Encoding.ASCII.GetString(pointer).Trim(' ', '\0'), CultureInfo.InvariantCulture, out var number)
                ? number
            : 0;
        if (block <= 0)
            return null;
        var at = block * BlockSize();
        if (at >= stream.Length)
            return null;
        stream.Position = at;
        return Text(
            IsFpt ? Counted(isBigEndian: true)
            : version == FourWithMemo ? Counted(isBigEndian: false)
            : UntilEnd()
        );
    }

    public void Dispose() => _file.Dispose();

    private int BlockSize()
    {
        if (_block is { } known)
            return known;
        var head = new byte[24];
        stream.Position = 0;
        stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        var size =
            IsFpt ? BinaryPrimitives.ReadUInt16BigEndian(head.AsSpan(6))
            : version == FourWithMemo ? BinaryPrimitives.ReadUInt16LittleEndian(head.AsSpan(20))
            : 512;
        _block = size == 0 ? 512 : size;
        return _block.Value;
    }

    private byte[] Counted(bool isBigEndian)
    {
        var head = _file.ReadBytes(8);
        if (head.Length < 8)
            return [];
        // In version IV the eight bytes of this head are counted.
        var length = isBigEndian
            ? BinaryPrimitives.ReadUInt32BigEndian(head.AsSpan(4))
            : BinaryPrimitives.ReadUInt32LittleEndian(head.AsSpan(4)) - 8L;
        return length is < 0 or > MostBytes ? [] : _file.ReadBytes((int)Math.Min(length, stream.Length - stream.Position));
    }

    private byte[] UntilEnd()
    {
        using var text = new MemoryStream();
        var block = new byte[512];
        while (text.Length < MostBytes)
        {
            var read = stream.Read(block);
            var end = block.AsSpan(0, read).IndexOf(End);
            text.Write(block, 0, end >= 0 ? end : read);
            if (end >= 0 || read < block.Length)
                break;
        }

        return text.ToArray();
    }

    // Lines that a program has wrapped by itself are marked by a soft return.
    private string? Text(byte[] bytes)
    {
        var text = encoding.GetString(bytes).TrimEnd('\0', (char)End);
        if (bytes.Contains((byte)0x8D))
            text = encoding.GetString([.. WithoutSoftReturns(bytes)]).TrimEnd('\0', (char)End);
        return text.Length == 0 ? null : text.Replace("\r\n", "\n", StringComparison.Ordinal);
    }

    private static IEnumerable<byte> WithoutSoftReturns(byte[] bytes)
    {
        for (var place = 0; place < bytes.Length; place++)
        {
            if (bytes[place] == 0x8D && place + 1 < bytes.Length && bytes[place + 1] == 0x0A)
            {
                yield return (byte)' ';
                place++;
            }
            else
                yield return bytes[place];
        }
    }
}
