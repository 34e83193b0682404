using System.Buffers.Binary;
using System.Text;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Imports.DBase;

namespace PlainPorch.Core.Tests.Imports;

public sealed class DBaseFileTests
{
    private static readonly (string Name, char Type, int Length)[] _fields =
    [
        ("BOAT_NO", 'C', 6),
        ("NAME", 'C', 20),
        ("LOA", 'N', 8),
        ("BUILT", 'D', 8),
        ("INSURED", 'L', 1),
        ("NOTES", 'M', 10),
    ];

    private static readonly Encoding _dos = FileEncodings.Find("850")!;

    [Theory]
    [InlineData(0x83)]
    [InlineData(0x8B)]
    public void Records_AreReadAsTheyWereMeant(byte version)
    {
        var memo = Memo(version, "Gut erhalten,\r\nneue Persenning für Käthe", "zwei");
        var file = Table(
            version,
            (false, ["007", "Möwe", "    6.25", "19980201", "T", "         1"]),
            (true, ["008", "Gelöscht", "    1.00", "19980201", "F", "          "]),
            (false, ["009", "Südwind", "********", "        ", "?", $"{(version == 0x83 ? 2 : 2), 10}"])
        );
        var table = DBaseFile.Read("boats", Files.Of(file), Files.Of(memo));
        Assert.Equal(_fields.Select(field => field.Name), table.Names());
        Assert.Equal(
            ["007|Möwe|6.25|1998-02-01|true|Gut erhalten,\nneue Persenning für Käthe", "009|Südwind|∅|∅|∅|zwei"],
            table.Lines()
        );
        // The number of a record counts those that were deleted.
        Assert.Equal([1L, 3L], table.Rows().Select(row => row.Number));
        // What the file calls a text stays one.
        Assert.Equal(["text", "text", "numeric", "date"], table.Guesses().Take(4).Select(guess => guess.Form.StoreType));
    }

    [Fact]
    public void ACutFile_SaysSo_AndGivesWhatIsThere()
    {
        var file = Table(0x03, (false, ["1", "One", "1", "", "T", ""]), (false, ["2", "Two", "2", "", "F", ""]));
        var table = DBaseFile.Read("boats", Files.Of(file[..^10]), Files.Of(Memo(0x83)));
        Assert.Equal("1|One|1|∅|true|∅", Assert.Single(table.Lines()));
        Assert.Contains("cut off", table.Rows().Last().Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void WhatIsNone_IsRefused()
    {
        Assert.Throws<UnreadableFileException>(() =>
            DBaseFile.Read("x", Files.Of("Just some text that is long enough to be a head."), null)
        );
        Assert.Throws<UnreadableFileException>(() => DBaseFile.Read("x", Files.Of(new byte[3]), null));
        var missing = Assert.Throws<UnreadableFileException>(() => DBaseFile.Read("boats", Files.Of(Table(0x83)), null));
        Assert.Contains("boats.dbt", missing.Message, StringComparison.Ordinal);
        var damaged = Table(0x03);
        damaged[32 + 16] = 255;
        Assert.Throws<UnreadableFileException>(() => DBaseFile.Read("x", Files.Of(damaged), Files.Of(Memo(0x83))));
    }

    [Fact]
    public void AMemoThatPointsNowhere_IsNothing()
    {
        var file = Table(
            0x83,
            (false, ["1", "One", "1", "", "T", "       999"]),
            (false, ["2", "Two", "2", "", "F", "        -1"])
        );
        Assert.Equal(
            ["1|One|1|∅|true|∅", "2|Two|2|∅|false|∅"],
            DBaseFile.Read("boats", Files.Of(file), Files.Of(Memo(0x83, "a"))).Lines()
        );
    }

    private static byte[] Table(byte version, params (bool IsDeleted, string[] Values)[] records)
    {
        var width = 1 + _fields.Sum(field => field.Length);
        var length = 32 + 32 * _fields.Length + 1;
        using var file = new MemoryStream();
        var head = new byte[32];
        head[0] = version;
        BinaryPrimitives.WriteUInt32LittleEndian(head.AsSpan(4), (uint)records.Length);
        BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(8), (ushort)length);
        BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(10), (ushort)width);
        head[29] = 0x02;
        file.Write(head);
        foreach (var (name, type, size) in _fields)
        {
            var field = new byte[32];
            Encoding.ASCII.GetBytes(name).CopyTo(field, 0);
            (field[11], field[16]) = ((byte)type, (byte)size);
            file.Write(field);
        }

        file.WriteByte(0x0D);
        foreach (var (isDeleted, values) in records)
        {
            file.WriteByte((byte)(isDeleted ? '*' : ' '));
            foreach (var (value, field) in values.Zip(_fields))
                file.Write(_dos.GetBytes(value.PadRight(field.Length)));
        }

        file.WriteByte(0x1A);
        return file.ToArray();
    }

    private static byte[] Memo(byte version, params string[] texts)
    {
        using var file = new MemoryStream();
        var head = new byte[512];
        if (version == 0x8B)
            BinaryPrimitives.WriteUInt16LittleEndian(head.AsSpan(20), 512);
        file.Write(head);
        foreach (var text in texts)
        {
            var bytes = _dos.GetBytes(text);
            var block = new byte[512];
            if (version == 0x8B)
            {
                byte[] mark = [0xFF, 0xFF, 0x08, 0x00];
                mark.CopyTo(block, 0);
                BinaryPrimitives.WriteUInt32LittleEndian(block.AsSpan(4), (uint)(bytes.Length + 8));
                bytes.CopyTo(block, 8);
            }
            else
            {
                bytes.CopyTo(block, 0);
                (block[bytes.Length], block[bytes.Length + 1]) = (0x1A, 0x1A);
            }

            file.Write(block);
        }

        return file.ToArray();
    }
}
