using System.Globalization;
using System.Text;
using nietras.SeparatedValues;
using PlainPorch.Core.Export;

namespace PlainPorch.Core.Imports;

/// <summary>How a delimited text is to be read where it is not to be found out.</summary>
public sealed record DelimitedSettings
{
    /// <summary>The encoding; null for finding it out.</summary>
    public Encoding? Encoding { get; init; }

    /// <summary>What parts the values of a row; null for finding it out.</summary>
    public char? Delimiter { get; init; }

    /// <summary>Whether columns stand at the same places of each line; null for finding it out.</summary>
    public bool? IsFixedWidth { get; init; }

    /// <summary>Whether the first row of the table names its columns; null for finding it out.</summary>
    public bool? HasHead { get; init; }
}

/// <summary>
/// Reads delimited text: values parted by a character, quoted where they hold it, a quote, or the end of a line (RFC 4180, with any
/// delimiter and any ends of lines). What stands above the table is left out and told; short rows are filled up with nothing.
/// </summary>
public static class DelimitedFile
{
    // Likely ones first: of two that fit alike the first is taken.
    private const string Likely = ",;\t|";
    private const string Unlikely = "\u001f:~^*!&¦§";

    // Stands for a delimiter that the parser does not take.
    private const char Stand = '\u001f';

    /// <summary>Reads a table.</summary>
    /// <param name="name">The file's name without its extension.</param>
    /// <param name="open">Opens the file: a stream from its beginning that can be set back.</param>
    /// <param name="settings">How to read it.</param>
    /// <exception cref="UnreadableFileException">There is no table in it.</exception>
    public static FileTable Read(string name, Func<Stream> open, DelimitedSettings? settings = null)
    {
        ArgumentNullException.ThrowIfNull(open);
        settings ??= new DelimitedSettings();
        var (encoding, isPlain) = settings.Encoding is { } given ? (given, false) : GuessEncoding(open);
        if (encoding.IsSingleByte || encoding is UTF8Encoding)
            RefuseBytes(name, open);
        var guessed = settings.Delimiter ?? (settings.IsFixedWidth == true ? null : GuessDelimiter(open, encoding));
        if (
            (guessed is not { } likely || (settings.Delimiter is null && !Likely.Contains(likely)))
            && settings.IsFixedWidth != false
            && FixedWidthFile.Columns(open, encoding) is { } starts
        )
            return TableOf(
                name,
                () => FixedWidthFile.Rows(open, encoding, starts),
                $"Read as {encoding.WebName}, columns at the places {string.Join(", ", starts.Select(start => start + 1))} of each line.",
                settings.HasHead
            );
        var delimiter = guessed ?? Likely[0];
        if (delimiter is '"' or '\n' or '\r')
            throw new UnreadableFileException(
                $"Values that are parted by {NameOf(delimiter)} cannot be read. Write the file with commas, semicolons or tabs."
            );
        var isGuarded = IsForSpreadsheets(open, delimiter);
        return TableOf(
            name,
            () => isGuarded ? Parse(open, encoding, delimiter).Select(Unguarded) : Parse(open, encoding, delimiter),
            $"Read as {encoding.WebName}{(isPlain ? " (plain letters only)" : "")}, parted by {NameOf(delimiter)}.",
            settings.HasHead
        );
    }

    private static FileTable TableOf(string name, Func<IEnumerable<FileRow>> parse, string note, bool? hasHead)
    {
        var rows = parse().Take(TableFrame.Looked).Select(row => row.Values).ToList();
        if (TableFrame.Find(rows, hasHead) is not { } frame)
            throw new UnreadableFileException($"{name} has no rows. Choose another file.");
        if (frame.Width > FileTable.MostColumns)
            throw new UnreadableFileException(
                $"{name} has {frame.Width} columns, and a table has at most {FileTable.MostColumns}. Is it parted by another character?"
            );
        return new FileTable(
            name,
            [.. frame.NamesIn(rows).Select(column => new FileColumn(column))],
            () => frame.RowsOf(parse()),
            [note, .. frame.NotesOn(rows)]
        );
    }

    // No text of letters of a byte has a null in it, and what is no text would become a table of nonsense.
    private static void RefuseBytes(string name, Func<Stream> open)
    {
        using var stream = open();
        var start = new byte[4096];
        var read = stream.ReadAtLeast(start, start.Length, throwOnEndOfStream: false);
        if (start.AsSpan(0, read).Contains((byte)0))
            throw new UnreadableFileException(
                $"{name} is no text. Save it as delimited text (.csv) or as a spreadsheet (.xlsx)."
            );
    }

    private static (Encoding, bool) GuessEncoding(Func<Stream> open)
    {
        using var stream = open();
        return FileEncodings.Guess(stream);
    }

    // The one by which most rows have the same number of values, and more than one; null for none.
    private static char? GuessDelimiter(Func<Stream> open, Encoding encoding)
    {
        var best = (Delimiter: (char?)null, Score: 0.0);
        foreach (var delimiter in Likely + Unlikely)
        {
            List<int> counts;
            try
            {
                counts =
                [
                    .. Parse(open, encoding, delimiter)
                        .Take(TableFrame.Looked)
                        .Where(row => row.Values is not [null or ""])
                        .Select(row => row.Values.Count),
                ];
            }
            catch (UnreadableFileException)
            {
                continue;
            }

            if (counts.Count == 0)
                continue;
            var usual = counts
                .GroupBy(count => count)
                .OrderByDescending(group => group.Count())
                .ThenByDescending(g => g.Key)
                .First();
            if (usual.Key < 2)
                continue;
            var score =
                usual.Count() / (double)counts.Count * (Likely.Contains(delimiter) ? 1 : 0.6) + Math.Min(usual.Key, 20) / 1000.0;
            if (score > best.Score)
                best = (delimiter, score);
        }

        return best.Delimiter;
    }

    private static IEnumerable<FileRow> Parse(Func<Stream> open, Encoding encoding, char delimiter)
    {
        using var plain = new StreamReader(open(), encoding, detectEncodingFromByteOrderMarks: true, bufferSize: 64 * 1024);
        // The parser takes only some characters.
        var isTaken = delimiter is '\t' or (>= '\u001f' and <= '~' and not '#');
        using TextReader text = isTaken ? plain : new SwappingReader(plain, delimiter, Stand);
        using var reader = Sep.New(isTaken ? delimiter : Stand)
            .Reader(options =>
                options with
                {
                    HasHeader = false,
                    DisableColCountCheck = true,
                    Unescape = true,
                    CultureInfo = CultureInfo.InvariantCulture,
                }
            )
            .From(text);
        while (true)
        {
            FileRow row;
            try
            {
                if (!reader.MoveNext())
                    yield break;
                row = RowOf(reader.Current, isTaken ? null : delimiter);
            }
            // It holds a row in memory, and no more than that.
            catch (NotSupportedException failure)
            {
                throw new UnreadableFileException(
                    "A row is longer than 16 MB. A quote in it is never closed, or something else parts the rows: close the quote.",
                    failure
                );
            }

            yield return row;
        }
    }

    private static FileRow RowOf(SepReader.Row row, char? swapped)
    {
        var values = new string?[row.ColCount];
        for (var place = 0; place < values.Length; place++)
            values[place] = swapped is { } one ? SwappingReader.Swap(row[place].ToString(), one, Stand) : row[place].ToString();
        return new FileRow(row.LineNumberFrom, values);
    }

    // As spreadsheets want their text, and as our own exports are written.
    private static bool IsForSpreadsheets(Func<Stream> open, char delimiter)
    {
        using var stream = open();
        return delimiter == ',' && stream.ReadByte() == 0xEF && stream.ReadByte() == 0xBB && stream.ReadByte() == 0xBF;
    }

    // An apostrophe before what looks like a formula was put there so that no spreadsheet runs it.
    private static FileRow Unguarded(FileRow row) =>
        row.Values.Any(IsGuarded)
            ? row with
            {
                Values = [.. row.Values.Select(value => IsGuarded(value) ? value![1..] : value)],
            }
            : row;

    private static bool IsGuarded(string? value) => value is ['\'', ..] && CsvExportWriter.IsLikeFormula(value);

    private static string NameOf(char delimiter) =>
        delimiter switch
        {
            ',' => "commas",
            ';' => "semicolons",
            '\t' => "tabs",
            '|' => "upright strokes",
            var other when char.IsControl(other) => $"the character {(int)other}",
            var other => $"“{other}”",
        };
}
