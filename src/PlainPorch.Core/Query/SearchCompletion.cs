using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>A way to go on with a search that is being typed.</summary>
/// <param name="Text">The whole search as it would stand in the box.</param>
/// <param name="Label">What is added, as people read it.</param>
/// <param name="IsField">Whether a field is named, whose value comes next.</param>
public sealed record SearchSuggestion(string Text, string Label, bool IsField);

/// <summary>What is being typed at the end of a search.</summary>
/// <param name="Text">The whole text.</param>
/// <param name="Start">Where the unfinished part begins.</param>
/// <param name="Column">The column whose value is being typed; null where that is a word of its own.</param>
public sealed record SearchCompletion(string Text, int Start, BoundColumn? Column)
{
    /// <summary>How many suggestions are worth reading.</summary>
    public const int Most = 6;

    // So many words may the label of a field have of which the beginning was typed.
    private const int LongestLabel = 4;

    /// <summary>The unfinished part.</summary>
    public string Typed => Text[Start..].Trim('"');

    /// <summary>Finds what is being typed at the end of a search.</summary>
    /// <param name="text">The text.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The porch's panels; null where the panel stands alone.</param>
    /// <returns>What could be completed; null at the beginning of a word, or in a text that is too long.</returns>
    public static SearchCompletion? At(string text, BoundPanel panel, PorchPanels? porch)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(panel);
        if (text.Length is 0 or > SearchText.MaxLength)
            return null;
        var notation = porch?.Notation ?? Notation.Usual;
        if (new SearchReader(text, panel, new FieldFilter(porch, notation), notation).ReadOpenField() is var (column, start))
            return new SearchCompletion(text, start, column);
        return char.IsWhiteSpace(text[^1]) ? null : new SearchCompletion(text, LastWord(text), null);
    }

    /// <summary>The fields whose label or name begins with what is typed, or has a word that does.</summary>
    public IReadOnlyList<SearchSuggestion> Fields(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (Column is not null)
            return [];
        var named = panel
            .Columns.Where(panel.CanAsk)
            .Select(column => (Column: column, Label: SearchFields.WithoutUnit(column.Label)))
            .ToList();
        // "year b" means the field "Year built" rather than the word "year" and a field with b.
        return
        [
            .. Starts()
                .SelectMany(start =>
                    named
                        .Where(pair => Names(pair.Label, pair.Column.Name, Text[start..]))
                        .OrderBy(pair => pair.Label.StartsWith(Text[start..], StringComparison.OrdinalIgnoreCase) ? 0 : 1)
                        .Select(pair => new SearchSuggestion($"{Text[..start]}{pair.Label}: ", $"{pair.Label}:", IsField: true))
                )
                .DistinctBy(suggestion => suggestion.Label)
                .Take(Most),
        ];
    }

    /// <summary>The suggestion of a value for <see cref="Column"/>.</summary>
    /// <param name="value">The value, as it is typed.</param>
    public SearchSuggestion Value(string value)
    {
        ArgumentNullException.ThrowIfNull(value);
        var isPlain =
            value.All(c => char.IsLetterOrDigit(c) || c is '.' or '-' or '/' or '_')
            && !value.Equals(SearchReader.EmptyWord, StringComparison.OrdinalIgnoreCase)
            && !value.Equals(SearchReader.FilledWord, StringComparison.OrdinalIgnoreCase)
            && !value.Contains("..", StringComparison.Ordinal);
        var written = isPlain ? value : $"\"{value.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
        return new SearchSuggestion($"{Text[..Start]}{written} ", value, IsField: false);
    }

    private static bool Names(string label, string name, string typed) =>
        label.StartsWith(typed, StringComparison.OrdinalIgnoreCase)
        || name.StartsWith(typed, StringComparison.OrdinalIgnoreCase)
        || label.Contains(" " + typed, StringComparison.OrdinalIgnoreCase);

    private IEnumerable<int> Starts()
    {
        var starts = new List<int> { Start };
        for (var at = Start; starts.Count < LongestLabel && at > 1; starts.Add(at))
        {
            at = LastWord(Text[..at].TrimEnd());
            if (at == starts[^1])
                break;
        }

        return starts.AsEnumerable().Reverse();
    }

    private static int LastWord(string text)
    {
        var at = text.Length;
        while (at > 0 && !char.IsWhiteSpace(text[at - 1]))
            at--;
        return at + 1 < text.Length && text[at] is '-' ? at + 1 : at;
    }
}
