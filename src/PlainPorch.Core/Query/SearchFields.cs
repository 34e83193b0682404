using System.Runtime.CompilerServices;
using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Query;

/// <summary>The fields of a panel that a search can name or looks into: worked out once for each panel.</summary>
internal sealed class SearchFields
{
    private const int ShortestWord = 3;

    private static readonly ConditionalWeakTable<BoundPanel, SearchFields> _known = [];

    private SearchFields(BoundPanel panel)
    {
        Searched = [.. panel.Columns.Where(column => column.Decision.Searched)];
        Names =
        [
            .. panel
                .Columns.Where(panel.CanAsk)
                .SelectMany(column =>
                    new[] { (column.Label, column), (WithoutUnit(column.Label), column), (column.Name, column) }
                )
                .Concat(WordsOfOne(panel))
                .Where(pair => pair.Item1.Length > 0)
                .DistinctBy(pair => pair.Item1, StringComparer.OrdinalIgnoreCase)
                .OrderByDescending(pair => pair.Item1.Length),
        ];
    }

    /// <summary>The columns that a word is looked for in.</summary>
    public IReadOnlyList<BoundColumn> Searched { get; }

    /// <summary>
    /// What columns are called, whatever the case; longer names first, so that "Length overall" is not read as "Length".
    /// </summary>
    public IReadOnlyList<(string Name, BoundColumn Column)> Names { get; }

    /// <summary>The fields of a panel.</summary>
    public static SearchFields Of(BoundPanel panel) => _known.GetValue(panel, static one => new SearchFields(one));

    /// <summary>Whether a column is called so.</summary>
    public bool Has(string name) => Names.Any(known => known.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    /// <summary>A label without its unit: whoever types "Length overall > 12" need not type "(m)".</summary>
    public static string WithoutUnit(string label) =>
        label.IndexOf(" (", StringComparison.Ordinal) is > 0 and var at && label.EndsWith(')') ? label[..at] : label;

    // "built" means "Year built", as long as no other label has the word.
    private static IEnumerable<(string Word, BoundColumn Column)> WordsOfOne(BoundPanel panel) =>
        panel
            .Columns.Where(panel.CanAsk)
            .SelectMany(column =>
                WithoutUnit(column.Label)
                    .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(word => (Word: word, Column: column))
            )
            .Where(pair => pair.Word.Length >= ShortestWord)
            .GroupBy(pair => pair.Word, StringComparer.OrdinalIgnoreCase)
            .Where(word => word.Select(pair => pair.Column).Distinct().Count() == 1)
            .Select(word => word.First());
}
