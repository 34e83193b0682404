using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>A column with its words and the values that were seen in it.</summary>
internal sealed class ColumnFacts
{
    public ColumnFacts(Table table, Column column, IReadOnlyList<string?> values)
    {
        Table = table;
        Column = column;
        Words = IdentifierWords.Split(column.Name);
        Rows = values.Count;
        Filled = [.. values.Where(value => !string.IsNullOrWhiteSpace(value)).Select(value => value!.Trim())];
        Distinct = [.. Filled.Distinct()];
        Texts = [.. values.OfType<string>()];
    }

    public Table Table { get; }

    public Column Column { get; }

    public IReadOnlyList<string> Words { get; }

    public int Rows { get; }

    public IReadOnlyList<string> Filled { get; }

    public IReadOnlyList<string> Distinct { get; }

    // With the blanks around them.
    public IReadOnlyList<string> Texts { get; }

    public ValueKind Kind => Column.Type.Kind;

    public bool IsText => Kind is ValueKind.Text;

    public bool IsKey => Table.Keys.Any(key => key.Columns is [var only] && only == Column.Name);

    public double AverageLength => Filled.Count == 0 ? 0 : Filled.Average(value => value.Length);

    public bool Says(params ReadOnlySpan<string> words)
    {
        foreach (var word in words)
        {
            if (Words.Contains(word))
                return true;
        }

        return false;
    }

    /// <summary>The share of the filled values that are of a sort; 0 without values.</summary>
    public double Share(Func<string, bool> isOfSort) => Filled.Count == 0 ? 0 : (double)Filled.Count(isOfSort) / Filled.Count;

    public static string Percent(double share) => share.ToString("P1", CultureInfo.InvariantCulture);
}
