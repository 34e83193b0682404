using System.Text;
using PlainPorch.Core.Imports;

namespace PlainPorch.Core.Tests.Imports;

/// <summary>Makes files in memory, and reads what is in them.</summary>
internal static class Files
{
    public static Func<Stream> Of(byte[] bytes) => () => new MemoryStream(bytes, writable: false);

    public static Func<Stream> Of(string text, Encoding? encoding = null) =>
        Of((encoding ?? new UTF8Encoding(false)).GetBytes(text));

    public static FileTable Delimited(string text, DelimitedSettings? settings = null) =>
        DelimitedFile.Read("file", Of(text), settings);

    public static IReadOnlyList<string> Names(this FileTable table) => [.. table.Columns.Select(column => column.Name)];

    /// <summary>The rows, their values parted by strokes, where nothing is wrong with them.</summary>
    public static IReadOnlyList<string> Lines(this FileTable table) =>
        [
            .. table
                .Rows()
                .Where(row => row.Problem is null)
                .Select(row => string.Join('|', row.Values.Select(value => value ?? "∅"))),
        ];

    public static IReadOnlyList<ColumnGuess> Guesses(this FileTable table)
    {
        var guesses = new ColumnGuesses(table.Columns);
        foreach (var row in table.Rows())
            guesses.Add(row.Values);
        return guesses.Guess();
    }

    /// <summary>What the values of one column are.</summary>
    public static ColumnGuess Guess(params string?[] values)
    {
        var guesses = new ColumnGuesses([new FileColumn("one")]);
        foreach (var value in values)
            guesses.Add([value]);
        return Assert.Single(guesses.Guess());
    }
}
