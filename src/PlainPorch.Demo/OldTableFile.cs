using System.Buffers.Binary;
using System.Text;

namespace PlainPorch.Demo;

/// <summary>
/// Writes a table file of the dBASE family, version III with long texts beside it: a head, a descriptor for each field, and records of a
/// fixed length that a mark can tell as deleted.
/// </summary>
/// <param name="fields">The fields: name, type (C, N, D, L or M) and length.</param>
internal sealed class OldTableFile(params (string Name, char Type, int Length)[] fields)
{
    private const byte VersionWithMemo = 0x83;
    private const byte CodePage850 = 0x02;
    private const int Block = 512;

    private readonly Encoding _dos = CodePagesEncodingProvider.Instance.GetEncoding(850)!;
    private readonly List<byte> _records = [];
    private readonly List<byte[]> _texts = [];
    private int _count;

    /// <summary>Adds a record.</summary>
    /// <param name="isDeleted">Whether it is marked as deleted.</param>
    /// <param name="values">Its values, as the fields have them; of a long text the text itself.</param>
    public void Add(bool isDeleted, params string[] values)
    {
        _records.Add((byte)(isDeleted ? '*' : ' '));
        foreach (var (field, value) in fields.Zip(values))
        {
            var text = field.Type == 'M' ? Remember(value) : value;
            var padded = field.Type is 'N' or 'M' ? text.PadLeft(field.Length) : text.PadRight(field.Length);
            _records.AddRange(_dos.GetBytes(padded[..field.Length]));
        }

        _count++;
    }

    /// <summary>Writes the file, and the one with the long texts beside it.</summary>
    /// <param name="path">The path without extension.</param>
    public void Write(string path)
    {
        var head = new byte[32 + 32 * fields.Length + 1];
        (head[0], head[1], head[2], head[3], head[29]) = (VersionWithMemo, 98, 11, 3, CodePage850);
        BinaryPrimitives.WriteInt32LittleEndian(head.AsSpan(4), _count);
        BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(8), (ushort)head.Length);
        BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(10), (ushort)(1 + fields.Sum(field => field.Length)));
        for (var place = 0; place < fields.Length; place++)
        {
            var at = 32 + 32 * place;
            Encoding.ASCII.GetBytes(fields[place].Name).CopyTo(head, at);
            (head[at + 11], head[at + 16]) = ((byte)fields[place].Type, (byte)fields[place].Length);
        }

        head[^1] = 0x0D;
        File.WriteAllBytes($"{path}.DBF", [.. head, .. _records, 0x1A]);
        File.WriteAllBytes($"{path}.DBT", [.. new byte[Block], .. _texts.SelectMany(text => text)]);
    }

    // The number of the block where a text begins; the first block is the file's head.
    private string Remember(string text)
    {
        if (text.Length == 0)
            return "";
        var bytes = _dos.GetBytes(text);
        var padded = new byte[(bytes.Length + 2 + Block - 1) / Block * Block];
        bytes.CopyTo(padded, 0);
        (padded[bytes.Length], padded[bytes.Length + 1]) = (0x1A, 0x1A);
        var block = 1 + _texts.Sum(one => one.Length) / Block;
        _texts.Add(padded);
        return block.ToString(System.Globalization.CultureInfo.InvariantCulture);
    }
}
