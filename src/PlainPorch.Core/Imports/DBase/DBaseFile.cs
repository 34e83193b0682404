using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace PlainPorch.Core.Imports.DBase;

/// <summary>
/// Reads table files of the dBASE family: a head of 32 bytes, a descriptor of 32 bytes for each field, and records of a fixed length, each
/// with a mark that tells whether it was deleted. Versions III, IV and those with currency, moments and numbers in binary form. Source:
/// "Data File Header Structure for the dBASE Version 7 Table File" and its predecessors for III and IV, as the maker published them;
/// the Library of Congress keeps their description as format fdd000325.
/// </summary>
public static class DBaseFile
{
    private const int HeadLength = 32;
    private const byte EndOfFields = 0x0D;
    private static readonly byte[] _versions = [0x02, 0x03, 0x04, 0x30, 0x31, 0x32, 0x43, 0x63, 0x83, 0x8B, 0x8C, 0xCB, 0xF5];
    private const byte Deleted = (byte)'*';

    // The day 0 of the Julian period that DateOnly has no day for, counted back from 0001-01-01.
    private const int JulianOfFirstDay = 1_721_426;

    /// <summary>Reads a table.</summary>
    /// <param name="name">The file's name without its extension.</param>
    /// <param name="open">Opens the file.</param>
    /// <param name="openMemo">Opens the file beside it with the long texts; null where there is none.</param>
    /// <param name="encoding">The encoding; null for what the file says, or its letters.</param>
    /// <exception cref="UnreadableFileException">It is no such file, or its memo file is missing.</exception>
    public static FileTable Read(string name, Func<Stream> open, Func<Stream>? openMemo, Encoding? encoding = null)
    {
        ArgumentNullException.ThrowIfNull(open);
        using var stream = open();
        var head = ReadHead(name, stream);
        var needsMemo = head.Fields.Any(field => field.Type is 'M' or 'G' or 'P' && field.Length is 10 or 4);
        var notes = new List<string>();
        var written = encoding ?? CodePageOf(head.Language) ?? GuessEncoding(name, stream, head, notes);
        if (needsMemo && openMemo is null)
            throw new UnreadableFileException(
                $"{name} keeps long texts in a file beside it ({name}.dbt or {name}.fpt), which is missing. Put it beside it."
            );
        notes.Add($"Read as {written.WebName}; {head.Records} records, those marked as deleted among them.");
        var fields = head.Fields.Where(field => field.Type is not ('0' or 'G' or 'P')).ToList();
        if (fields.Count < head.Fields.Count(field => field.Type != '0'))
            notes.Add("Pictures and embedded documents are left out.");
        return new FileTable(
            name,
            [.. fields.Select(field => new FileColumn(field.Name, field.Type is 'C' or 'M' or 'V'))],
            () => Rows(head, fields, open, openMemo, written),
            notes
        )
        {
            HasPoints = true,
        };
    }

    private static IEnumerable<FileRow> Rows(
        Head head,
        List<Field> fields,
        Func<Stream> open,
        Func<Stream>? openMemo,
        Encoding encoding
    )
    {
        using var stream = new BufferedStream(open(), 64 * 1024);
        using var memo = openMemo is null ? null : new DBaseMemo(openMemo(), head.Version, encoding);
        stream.Position = head.Length;
        var record = new byte[head.RecordLength];
        for (var number = 1L; number <= head.Records; number++)
        {
            if (stream.ReadAtLeast(record, record.Length, throwOnEndOfStream: false) < record.Length)
            {
                yield return new FileRow(number, new string?[fields.Count], "The file ends before this record. Is it cut off?");
                yield break;
            }

            // What was deleted stays in the file until it is packed.
            if (record[0] == Deleted)
                continue;
            yield return new FileRow(number, [.. fields.Select(field => ValueOf(field, record, memo, encoding))]);
        }
    }

    private static string? ValueOf(Field field, byte[] record, DBaseMemo? memo, Encoding encoding)
    {
        var bytes = record.AsSpan(field.Offset, field.Length);
        switch (field.Type)
        {
            case 'I' or '+' when field.Length == 4:
                return BinaryPrimitives.ReadInt32LittleEndian(bytes).ToString(CultureInfo.InvariantCulture);
            case 'B' or 'O' when field.Length == 8:
                return BinaryPrimitives.ReadDoubleLittleEndian(bytes).ToString("R", CultureInfo.InvariantCulture);
            case 'Y' when field.Length == 8:
                return (BinaryPrimitives.ReadInt64LittleEndian(bytes) / 10_000m).ToString(CultureInfo.InvariantCulture);
            case 'T' or '@' when field.Length == 8:
                return MomentOf(bytes);
            case 'M':
                return memo?.Read(bytes);
        }

        var text = encoding.GetString(bytes).TrimEnd(' ', '\0');
        return field.Type switch
        {
            'D' => DayOf(text.Trim()),
            'L' => text.Trim().ToUpperInvariant() switch
            {
                "T" or "Y" => "true",
                "F" or "N" => "false",
                _ => null,
            },
            'N' or 'F' => text.Trim() is { Length: > 0 } number && !number.StartsWith('*') ? Plain(number) : null,
            _ => text.Length == 0 ? null : text,
        };
    }

    private static string Plain(string number) =>
        number is ['+', .. var rest] ? rest
        : number is ['-', '.', .. var behind] ? $"-0.{behind}"
        : number;

    private static string? DayOf(string text) =>
        DateOnly.TryParseExact(text, "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
            ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
        : text.Trim('0', ' ').Length == 0 ? null
        : text;

    private static string? MomentOf(ReadOnlySpan<byte> bytes)
    {
        var (day, milliseconds) = (
            BinaryPrimitives.ReadInt32LittleEndian(bytes),
            BinaryPrimitives.ReadInt32LittleEndian(bytes[4..])
        );
        var since = day - JulianOfFirstDay;
        return since < 0 || since > DateOnly.MaxValue.DayNumber || milliseconds is < 0 or >= 86_400_000
            ? null
            : DateOnly
                .FromDayNumber(since)
                .ToDateTime(TimeOnly.MinValue)
                .AddMilliseconds(milliseconds)
                .ToString("yyyy-MM-ddTHH:mm:ss.FFF", CultureInfo.InvariantCulture);
    }

    private static Head ReadHead(string name, Stream stream)
    {
        var head = new byte[HeadLength];
        var isWhole = stream.ReadAtLeast(head, HeadLength, throwOnEndOfStream: false) == HeadLength;
        var (records, length, recordLength) = (
            BinaryPrimitives.ReadUInt32LittleEndian(head.AsSpan(4)),
            BinaryPrimitives.ReadUInt16LittleEndian(head.AsSpan(8)),
            BinaryPrimitives.ReadUInt16LittleEndian(head.AsSpan(10))
        );
        if (!isWhole || !_versions.Contains(head[0]) || length < HeadLength + 1 || recordLength < 1)
            throw new UnreadableFileException($"{name} is no table file of the dBASE family, or its head is damaged.");
        var fields = new List<Field>();
        var descriptor = new byte[32];
        var offset = 1;
        while (stream.Position + 1 < length && stream.ReadAtLeast(descriptor, 32, throwOnEndOfStream: false) == 32)
        {
            if (descriptor[0] == EndOfFields)
                break;
            var type = char.ToUpperInvariant((char)descriptor[11]);
            // The texts of some programs are longer than a byte can tell: the number of decimals is the second half.
            var size = type == 'C' ? descriptor[16] + (descriptor[17] << 8) : descriptor[16];
            var called = Encoding.Latin1.GetString(descriptor.AsSpan(0, 11)).Split('\0')[0].Trim();
            if (size == 0 || offset + size > recordLength)
                throw new UnreadableFileException(
                    $"{name} has a field {called} beyond the end of its records. Its head is damaged."
                );
            fields.Add(new Field(called, type, offset, size));
            offset += size;
        }

        return fields.Count == 0
            ? throw new UnreadableFileException($"{name} has no fields. It is no table file of the dBASE family.")
            : new Head(head[0], records, length, recordLength, head[29], fields);
    }

    // Without a word in the head it is what its texts look like.
    private static Encoding GuessEncoding(string name, Stream stream, Head head, List<string> notes)
    {
        stream.Position = head.Length;
        var (encoding, isPlain) = FileEncodings.Guess(stream);
        if (!isPlain)
            notes.Add($"{name} does not say in which code page it is written: {encoding.WebName} was guessed by its letters.");
        return isPlain || !encoding.IsSingleByte ? FileEncodings.Find("850")! : encoding;
    }

    // The marks that programs have written; other values are rare.
    private static Encoding? CodePageOf(byte mark) =>
        mark switch
        {
            0x01 or 0x09 or 0x0B or 0x0D or 0x0F or 0x11 or 0x15 or 0x18 or 0x19 or 0x1B => "437",
            0x02 or 0x0A or 0x0E or 0x10 or 0x12 or 0x14 or 0x16 or 0x1A or 0x1D or 0x25 or 0x37 => "850",
            0x03 or 0x57 or 0x58 or 0x59 => "1252",
            0x08 or 0x17 or 0x66 => "865",
            0x13 => "932",
            0x1C or 0x6C => "863",
            0x1F or 0x22 or 0x23 or 0x40 or 0x64 => "852",
            0x24 => "860",
            0x26 or 0x65 => "866",
            0x67 => "861",
            0x6A or 0x86 => "737",
            0x6B or 0x88 => "857",
            0xC8 => "1250",
            0xC9 => "1251",
            0xCA => "1254",
            0xCB => "1253",
            _ => null,
        }
            is { } page
            ? FileEncodings.Find(page)
            : null;

    private sealed record Field(string Name, char Type, int Offset, int Length);

    private sealed record Head(
        byte Version,
        long Records,
        int Length,
        int RecordLength,
        byte Language,
        IReadOnlyList<Field> Fields
    );
}
