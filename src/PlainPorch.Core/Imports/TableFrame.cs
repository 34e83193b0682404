using System.Globalization;

namespace PlainPorch.Core.Imports;

/// <summary>Where the table stands among the rows of a file that has other things in it as well.</summary>
/// <param name="Width">The number of its columns.</param>
/// <param name="Before">How many rows stand before it: a title, a date, blank lines.</param>
/// <param name="Heads">How many rows are its head; 0 for none.</param>
/// <param name="IsSure">Whether values below look otherwise than the head, or it was said that there is one or none.</param>
public sealed record TableFrame(int Width, int Before, int Heads, bool IsSure = true)
{
    /// <summary>How many rows are looked at.</summary>
    public const int Looked = 200;

    /// <summary>Finds the table.</summary>
    /// <param name="rows">The file's first rows.</param>
    /// <param name="hasHead">Whether it has a head; null for finding that out.</param>
    /// <returns>The frame; null where there is not one row.</returns>
    public static TableFrame? Find(IReadOnlyList<IReadOnlyList<string?>> rows, bool? hasHead = null)
    {
        ArgumentNullException.ThrowIfNull(rows);
        if (!rows.Any(row => Filled(row) > 0))
            return null;
        // Most rows of a table have as many cells as it has columns; of two numbers as frequent the greater, as cells may be missing.
        var width = rows.Where(row => Filled(row) > 0)
            .GroupBy(Reach)
            .OrderByDescending(group => group.Count())
            .ThenByDescending(group => group.Key)
            .First()
            .Key;
        var full = Enumerable.Range(0, rows.Count).Where(place => Reach(rows[place]) >= width).ToList();
        // A title that stands far to the right is no row of it, unless no row has more cells.
        var first = full.Cast<int?>().FirstOrDefault(place => Filled(rows[place!.Value]) * 2 > width) ?? full[0];
        // Names stand over columns that few rows fill, too.
        if (
            hasHead != false
            && Reach(rows[first]) is var named
            && named > width
            && Filled(rows[first]) == named
            && !rows[first].Any(LooksLikeData)
        )
            width = named;
        var isSure = hasHead is not null || rows.Skip(first + 1).Any(row => row.Any(LooksLikeData));
        // Of one column of words the first may be a name or a word like the others: no row is given up for a guess.
        var isHead =
            IsHead(rows, first, width, CellsOf(rows[first], width))
            // Names that stand over two lines, of which the lower one has none.
            || (
                first > 0
                && !rows[first - 1].Any(LooksLikeData)
                && IsHead(
                    rows,
                    first,
                    width,
                    [
                        .. CellsOf(rows[first], width)
                            .Zip(CellsOf(rows[first - 1], width), (lower, upper) => lower.Length > 0 ? lower : upper),
                    ]
                )
            );
        var heads = hasHead ?? (isHead && (isSure || width > 1)) ? 1 : 0;
        // Two head lines: the upper one names several columns together, or the lower one names columns alike.
        if (
            heads == 1
            && first > 0
            && Filled(rows[first - 1]) is > 0 and var above
            && (HasTwins(rows[first], width) || above > 1)
            && Filled(rows[first - 1]) < width
            && rows[first - 1].Skip(1).Any(cell => !string.IsNullOrWhiteSpace(cell))
            && rows[first - 1].All(cell => !LooksLikeData(cell))
        )
            (first, heads) = (first - 1, 2);
        else if (heads == 1 && hasHead is null && isSure && IsContinued(rows, first, width))
            heads = 2;
        return new TableFrame(width, first, heads, isSure);
    }

    /// <summary>What is to be told of what stands above it, and of its head.</summary>
    /// <param name="rows">The file's first rows.</param>
    public IReadOnlyList<string> NotesOn(IReadOnlyList<IReadOnlyList<string?>> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        var above = rows.Take(Before)
            .Select(row => string.Join(' ', row.Where(cell => !string.IsNullOrWhiteSpace(cell))))
            .Where(line => line.Length > 0)
            .ToList();
        return
        [
            .. above.Count > 0 ? [$"Left out above the table: {string.Join(" / ", above)}"] : Array.Empty<string>(),
            .. NoteOnHead is { } note ? [note] : Array.Empty<string>(),
        ];
    }

    private string? NoteOnHead =>
        Heads == 0 ? "No row names the columns."
        : Heads == 2 ? "Two head lines are one name for each column."
        : IsSure ? null
        : "The first row was taken for names, and nothing below looks otherwise. If it has values, say --no-head.";

    /// <summary>What the columns are called.</summary>
    /// <param name="rows">The file's first rows.</param>
    /// <returns>A name for each column; where the head has none, "column" with its number.</returns>
    public IReadOnlyList<string> NamesIn(IReadOnlyList<IReadOnlyList<string?>> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        var over = "";
        var names = new List<string>();
        for (var place = 0; place < Width; place++)
        {
            var (upper, lower) =
                Heads == 2
                    ? (Cell(rows[Before], place), Cell(rows[Before + 1], place))
                    : ("", Heads == 1 ? Cell(rows[Before], place) : "");
            // What stands over several columns stands in the first of them.
            over = upper.Length > 0 ? upper : over;
            var name = string.Join(' ', new[] { Heads == 2 ? over : "", lower }.Where(part => part.Length > 0));
            names.Add(name.Length > 0 ? name : $"column {place + 1}");
        }

        return names;
    }

    /// <summary>The rows of the table alone, each with as many values as it has columns.</summary>
    /// <param name="rows">All rows of the file.</param>
    public IEnumerable<FileRow> RowsOf(IEnumerable<FileRow> rows)
    {
        foreach (var row in rows.Skip(Before + Heads))
        {
            var filled = row.Values.Count;
            while (filled > 0 && string.IsNullOrEmpty(row.Values[filled - 1]))
                filled--;
            if (filled == 0)
                continue;
            var problem =
                filled > Width
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"The row has {filled} values, and the table {Width} columns. Quote values that hold the delimiter."
                    )
                : filled == 1 && Width > 2
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"The row has one value, and the table {Width} columns. It looks like a note."
                    )
                : null;
            yield return row with
            {
                Values = Fitted(row.Values, Width),
                Problem = problem,
            };
        }
    }

    private static IReadOnlyList<string?> Fitted(IReadOnlyList<string?> values, int width)
    {
        if (values.Count == width)
            return values;
        var fitted = new string?[width];
        for (var place = 0; place < Math.Min(width, values.Count); place++)
            fitted[place] = values[place];
        return fitted;
    }

    private static string Cell(IReadOnlyList<string?> row, int place) => (place < row.Count ? row[place] : null)?.Trim() ?? "";

    // The line below a head names what stands in it over several columns.
    private static bool IsContinued(IReadOnlyList<IReadOnlyList<string?>> rows, int first, int width)
    {
        if (first + 1 >= rows.Count || rows[first + 1].Any(LooksLikeData))
            return false;
        var (upper, lower) = (CellsOf(rows[first], width), CellsOf(rows[first + 1], width));
        return upper.Exists(cell => cell.Length == 0)
            && lower.Exists(cell => cell.Length == 0)
            && upper.Zip(lower).All(cells => cells.First.Length > 0 || cells.Second.Length > 0);
    }

    private static List<string> CellsOf(IReadOnlyList<string?> row, int width) =>
        [.. Enumerable.Range(0, width).Select(place => Cell(row, place))];

    private static bool IsHead(IReadOnlyList<IReadOnlyList<string?>> rows, int first, int width, List<string> cells)
    {
        if (cells.Any(LooksLikeData) || cells.Count(cell => cell.Length == 0) * 4 > width || cells.Any(cell => cell.Length > 100))
            return false;
        // A name is not among the values below it.
        var below = rows.Skip(first + 1).ToList();
        return !Enumerable
            .Range(0, width)
            .Any(place => cells[place].Length > 0 && below.Any(row => Cell(row, place) == cells[place]));
    }

    private static bool HasTwins(IReadOnlyList<string?> row, int width) =>
        Enumerable
            .Range(0, width)
            .Select(place => Cell(row, place))
            .Where(cell => cell.Length > 0)
            .GroupBy(cell => cell, StringComparer.OrdinalIgnoreCase)
            .Any(group => group.Count() > 1);

    // Names hold letters; what has none, or begins like a number or a date, is a value.
    private static bool LooksLikeData(string? cell) =>
        cell?.Trim() is { Length: > 0 } text
        && (!text.Any(char.IsLetter) || (char.IsDigit(text[0]) && text.Count(char.IsDigit) > 3));

    private static int Filled(IReadOnlyList<string?> row) => row.Count(cell => !string.IsNullOrWhiteSpace(cell));

    // The number of its cells up to the last one that has something in it.
    private static int Reach(IReadOnlyList<string?> row)
    {
        for (var place = row.Count; place > 0; place--)
            if (!string.IsNullOrWhiteSpace(row[place - 1]))
                return place;
        return 0;
    }
}
