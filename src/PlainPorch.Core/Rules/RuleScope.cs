using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Rules;

/// <summary>What an expression of a panel can name: what the panel gives, and what its lookups lead to.</summary>
/// <param name="panel">The panel, as whoever asks sees it.</param>
/// <param name="porch">The panels of its porch.</param>
public sealed class RuleScope(BoundPanel panel, PorchPanels porch)
{
    // Expressions are read among what tables have: computed columns are put in by what they are computed of.
    private readonly PorchPanels _porch = porch.Stored;

    /// <summary>How many lookups an expression follows one after the other.</summary>
    public const int MostSteps = 3;

    /// <summary>The panel.</summary>
    public BoundPanel Panel => panel;

    /// <summary>The panels of its porch.</summary>
    public PorchPanels Porch => _porch;

    /// <summary>The columns of the table that can be named.</summary>
    public IReadOnlyList<BoundColumn> Columns { get; } = [.. panel.Columns.Where(column => column.Schema.IsStored)];

    /// <summary>The columns that the panel computes, which can be named where it is about one of its own records.</summary>
    public IReadOnlyList<PanelColumn> Computed { get; } =
    [.. panel.Definition.Columns.Where(column => column.Expression is not null && !panel.IsHidden(column.Name))];

    /// <summary>
    /// What the key of the record is that the person is (<c>current_person</c>); null where the person is not known to be one.
    /// </summary>
    public RuleType? Person { get; init; }

    /// <summary>The computed columns whose expressions are being read, each named by the one before: none can name itself.</summary>
    internal IReadOnlyList<(string Panel, PanelColumn Column)> Reading { get; init; } = [];

    /// <summary>The same scope for the expression of one of its computed columns.</summary>
    internal RuleScope Of(PanelColumn column) =>
        new(panel, _porch) { Reading = [.. Reading, (panel.Definition.Slug, column)], Person = Person };

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

    /// <summary>Finds a computed column by its name or its label.</summary>
    /// <param name="name">The name as written.</param>
    /// <returns>The column; null where there is none, or several are labelled so.</returns>
    public PanelColumn? FindComputed(string name) =>
        Computed.FirstOrDefault(column => column.Name == name)
        ?? (
            Computed
                .Where(column =>
                    column.Name.Equals(name, StringComparison.OrdinalIgnoreCase)
                    || column.Label.Equals(name, StringComparison.OrdinalIgnoreCase)
                )
                .ToList()
                is [var only]
                ? only
                : null
        );

    /// <summary>What a lookup column leads to, and what can be named there.</summary>
    /// <returns>
    /// Both; null where the column is no lookup, or what it refers to may not be read, or it refers by more columns than this one.
    /// </returns>
    public (BoundLookup To, RuleScope Scope)? Follow(BoundColumn column) =>
        _porch.Bind(column) is { IsOfSeveral: false } to
            ? (to, new RuleScope(_porch.Searched(to), _porch) { Person = Person })
            : null;

    /// <summary>The kinds of records that refer to the panel's, by what they can be called.</summary>
    public IReadOnlyList<(string Name, RuleRelated Related)> Related => _related ??= ReadRelated();

    private IReadOnlyList<(string Name, RuleRelated Related)>? _related;

    private List<(string Name, RuleRelated Related)> ReadRelated()
    {
        var kinds = (
            from definition in _porch.All
            let other = _porch.Bind(definition, sourceIsReadOnly: true)
            where other is { Table.Rights.Read: true }
            from column in other.Columns
            where column.Decision.Lookup is { } lookup && lookup.Table == panel.Table.Name
            let to = _porch.Bind(column)
            where to is { IsOfSeveral: false }
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
