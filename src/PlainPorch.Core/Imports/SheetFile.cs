using System.Globalization;
using ExcelDataReader;

namespace PlainPorch.Core.Imports;

/// <summary>Reads the sheets of a spreadsheet (XLSX, XLS, ODS): values and what formulas came to, and never a formula itself.</summary>
public static class SheetFile
{
    /// <summary>Reads every sheet that has something in it.</summary>
    /// <param name="name">The file's name without its extension.</param>
    /// <param name="open">Opens the file: a stream that can be set back.</param>
    /// <param name="hasHead">Whether the first row of each table names its columns; null for finding that out.</param>
    /// <param name="isOpen">Whether it has the OpenDocument format.</param>
    /// <exception cref="UnreadableFileException">It is no spreadsheet, or is damaged or locked.</exception>
    public static IReadOnlyList<FileTable> Read(string name, Func<Stream> open, bool? hasHead = null, bool isOpen = false)
    {
        ArgumentNullException.ThrowIfNull(open);
        // Registers the code pages, which old workbooks need.
        FileEncodings.Find("1252");
        var tables = new List<FileTable>();
        var sheets = Guarded(name, () => isOpen ? [.. OpenSheetFile.Names(open)] : Names(open));
        for (var place = 0; place < sheets.Count; place++)
        {
            var sheet = place;
            var sample = Guarded(name, () => RowsOf(sheet).Take(TableFrame.Looked).ToList());
            var rows = sample.ConvertAll(row => row.Values);
            if (TableFrame.Find(rows, hasHead) is not { } frame || frame.Width > FileTable.MostColumns)
                continue;
            tables.Add(
                new FileTable(
                    sheets.Count == 1 ? name : $"{name} {sheets[place]}",
                    [.. frame.NamesIn(rows).Select(column => new FileColumn(column))],
                    () => frame.RowsOf(RowsOf(sheet)),
                    [$"Sheet {sheets[place]}.", .. frame.NotesOn(rows)]
                )
            );
        }

        return tables.Count > 0
            ? tables
            : throw new UnreadableFileException($"{name} has no sheet with rows. Choose another file.");

        IEnumerable<FileRow> RowsOf(int sheet) => isOpen ? OpenSheetFile.Rows(open, sheet) : Rows(open, sheet);
    }

    private static T Guarded<T>(string name, Func<T> read)
    {
        try
        {
            return read();
        }
        catch (Exception failure) when (failure is not (UnreadableFileException or IOException or OutOfMemoryException))
        {
            throw new UnreadableFileException(
                $"{name} cannot be read as a spreadsheet: {failure.Message} Open and save it in the program that it comes from, without a password.",
                failure
            );
        }
    }

    private static List<string> Names(Func<Stream> open)
    {
        using var reader = ExcelReaderFactory.CreateReader(open());
        var names = new List<string>();
        do names.Add(reader.Name);
        while (reader.NextResult());
        return names;
    }

    private static IEnumerable<FileRow> Rows(Func<Stream> open, int sheet)
    {
        using var reader = ExcelReaderFactory.CreateReader(open());
        for (var place = 0; place < sheet; place++)
            reader.NextResult();
        for (var number = 1L; reader.Read(); number++)
        {
            var values = new string?[reader.FieldCount];
            for (var column = 0; column < values.Length; column++)
                values[column] = TextOf(reader, column);
            yield return new FileRow(number, values);
        }
    }

    private static string? TextOf(IExcelDataReader reader, int column) =>
        reader.GetValue(column) switch
        {
            null => null,
            string text => text,
            bool truth => truth ? "true" : "false",
            // A day is a moment at midnight there; whether it was meant so is told by all of its column.
            DateTime { TimeOfDay.Ticks: 0 } day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTime moment => moment.ToString("yyyy-MM-ddTHH:mm:ss.FFF", CultureInfo.InvariantCulture),
            TimeSpan time => time.ToString("c", CultureInfo.InvariantCulture),
            // Fifteen digits are what spreadsheets keep; a number that is shown filled up with zeros is a code.
            double number => Filled(reader.GetNumberFormatString(column), number)
                ?? number.ToString("0.###############", CultureInfo.InvariantCulture),
            IFormattable other => other.ToString(null, CultureInfo.InvariantCulture),
            var other => other.ToString(),
        };

    private static string? Filled(string? format, double number) =>
        format is { Length: > 1 } && format.All(one => one == '0') && number >= 0 && number == Math.Floor(number)
            ? number.ToString(format, CultureInfo.InvariantCulture)
            : null;
}
