using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Rules;

/// <summary>What an expression of a panel can name: what the panel gives, and what its lookups lead to.</summary>
/// <param name="panel">The panel, as whoever asks sees it.</param>
/// <param name="porch">The panels of its porch.</param>
public sealed class RuleScope(BoundPanel panel, PorchPanels porch)
{
    /// <summary>How many lookups an expression follows one after the other.</summary>
    public const int MostSteps = 3;

    /// <summary>The panel.</summary>
    public BoundPanel Panel => panel;

    /// <summary>The panels of its porch.</summary>
    public PorchPanels Porch => porch;

    /// <summary>The columns that can be named.</summary>
    public IReadOnlyList<BoundColumn> Columns => panel.Columns;

    /// <summary>Finds a column by its name or its label.</summary>
    /// <param name="name">The name as written; a label in other capitals serves, too.</param>
    /// <param name="isQuoted">Whether it stood in quotation marks.</param>
    /// <returns>The columns that can be meant: those of that name, or else those of that label.</returns>
    public IReadOnlyList<BoundColumn> Find(string name, bool isQuoted)
    {
        var exact = Columns.Where(column => column.Name == name).ToList();
        if (exact.Count > 0)
            return exact;
        var alike = Columns.Where(column => !isQuoted && column.Name.Equals(name, StringComparison.OrdinalIgnoreCase)).ToList();
        return alike.Count > 0
            ? alike
            : [.. Columns.Where(column => column.Label.Equals(name, StringComparison.OrdinalIgnoreCase))];
    }

    /// <summary>What a lookup column leads to, and what can be named there.</summary>
    /// <returns>Both; null where the column is no lookup, or what it refers to may not be read.</returns>
    public (BoundLookup To, RuleScope Scope)? Follow(BoundColumn column) =>
        porch.Bind(column) is { } to ? (to, new RuleScope(porch.Searched(to), porch)) : null;

    /// <summary>The kinds of records that refer to the panel's, by what they can be called.</summary>
    public IReadOnlyList<(string Name, RuleRelated Related)> Related => _related ??= ReadRelated();

    private IReadOnlyList<(string Name, RuleRelated Related)>? _related;

    private List<(string Name, RuleRelated Related)> ReadRelated()
    {
        var kinds = (
            from definition in porch.All
            let other = porch.Bind(definition, sourceIsReadOnly: true)
            where other is { Table.Rights.Read: true }
            from column in other.Columns
            where column.Decision.Lookup is { } lookup && lookup.Table == panel.Table.Name
            let to = porch.Bind(column)
            where to is not null
            select new RuleRelated(other, column, to)
        ).ToList();
        return
        [
            .. kinds.Select(kind =>
            {
                var slug = Word(kind.Panel.Definition.Slug);
                var isOne = kinds.Count(other => other.Panel.Definition.Slug == kind.Panel.Definition.Slug) == 1;
                return (isOne ? slug : $"{slug}_by_{Word(kind.Column.Name)}", kind);
            }),
        ];
    }

    private static string Word(string name) =>
        string.Concat(name.Select(c => char.IsLetterOrDigit(c) ? char.ToLowerInvariant(c) : '_'));
}
