using System.Text;

namespace PlainPorch.Core.Imports;

/// <summary>Reads text whose columns stand at the same places of each line, parted by blanks that all lines have there.</summary>
internal static class FixedWidthFile
{
    private const int FewestLines = 3;

    /// <summary>Where the columns begin; null where the lines have none.</summary>
    /// <param name="open">Opens the file.</param>
    /// <param name="encoding">Its encoding.</param>
    public static IReadOnlyList<int>? Columns(Func<Stream> open, Encoding encoding)
    {
        var lines = Lines(open, encoding)
            .Take(TableFrame.Looked)
            .Select(line => line.Text)
            .Where(line => line.Trim().Length > 0)
            .ToList();
        // A title above the table, or a note below it, is shorter than the lines of the table.
        if (lines.Count < FewestLines)
            return null;
        var usual = lines.Select(line => line.TrimEnd().Length).Order().ElementAt(lines.Count / 2);
        var table = lines
            .Where(line => line.Contains(' ', StringComparison.Ordinal) && line.TrimEnd().Length * 2 > usual)
            .ToList();
        if (table.Count < FewestLines || table.Count * 10 < lines.Count * 8)
            return null;
        var width = table.Max(line => line.Length);
        var starts = new List<int>();
        var wasBlank = true;
        for (var place = 0; place < width; place++)
        {
            var at = place;
            // A line of dashes under the head says where columns stand as blanks do.
            var isBlank = table.TrueForAll(line => at >= line.Length || line[at] == ' ');
            if (wasBlank && !isBlank)
                starts.Add(place);
            wasBlank = isBlank;
        }

        return starts.Count > 1 ? starts : null;
    }

    /// <summary>The lines, cut at the columns.</summary>
    public static IEnumerable<FileRow> Rows(Func<Stream> open, Encoding encoding, IReadOnlyList<int> starts)
    {
        foreach (var (number, line) in Lines(open, encoding))
        {
            var values = new string?[starts.Count];
            for (var column = 0; column < starts.Count; column++)
            {
                var (from, to) = (starts[column], column + 1 < starts.Count ? starts[column + 1] : line.Length);
                var value = from < line.Length ? line[from..Math.Min(Math.Max(to, from), line.Length)].Trim() : "";
                values[column] = value.Length == 0 ? null : value;
            }

            // A line of dashes is no row.
            if (
                !values.All(value => value is null || value.All(one => one is '-' or '=' or '_'))
                || values.All(value => value is null)
            )
                yield return new FileRow(number, values);
        }
    }

    private static IEnumerable<(long Number, string Text)> Lines(Func<Stream> open, Encoding encoding)
    {
        using var text = new StreamReader(open(), encoding, detectEncodingFromByteOrderMarks: true, bufferSize: 64 * 1024);
        for (var number = 1L; text.ReadLine() is { } line; number++)
            yield return (number, line);
    }
}
