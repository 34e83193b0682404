using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>What a list asks of the database: condition, order, page and columns.</summary>
public sealed record ListPlan
{
    /// <summary>The page sizes that people choose among.</summary>
    public static IReadOnlyList<int> PageSizes => PanelDefinition.PageSizes;

    /// <summary>The page size unless told otherwise.</summary>
    public const int DefaultPageSize = 50;

    /// <summary>The greatest page number; with it the offset still fits an <see cref="int"/>.</summary>
    public const int MaxPage = 10_000_000;

    /// <summary>Rows are counted exactly up to this bound.</summary>
    public const int CountBound = 10_000;

    private const int MostNamed = 12;

    /// <summary>How the search box was read.</summary>
    public IReadOnlyList<SearchPart> Search { get; init; } = [];

    /// <summary>How the conditions were read; null for those that could not be.</summary>
    public IReadOnlyList<ReadCondition?> Conditions { get; init; } = [];

    /// <summary>The values that the list is narrowed to, by column.</summary>
    public IReadOnlyList<Narrowing> Narrowings { get; init; } = [];

    /// <summary>Whose records are wanted; null for everybody's.</summary>
    public Filter? Of { get; init; }

    /// <summary>Which records whoever asks may see; null for all.</summary>
    public Filter? Seen { get; init; }

    /// <summary>That records are in use, or set aside; null where nothing in the table tells.</summary>
    public Filter? Standing { get; init; }

    /// <summary>
    /// The condition that the record does not belong to one that is set aside, where it is hidden as long as that is; null for
    /// none.
    /// </summary>
    public Filter? NotHidden { get; init; }

    /// <summary>The condition of the panel itself, such as that jobs are open; null for none.</summary>
    public Filter? Only { get; init; }

    /// <summary>The condition; null for all records.</summary>
    public Filter? Filter => FilterBut(null);

    /// <summary>The order, made unambiguous by the identity where there is one.</summary>
    public required IReadOnlyList<OrderBy> Order { get; init; }

    /// <summary>The columns of other records that the order names.</summary>
    public IReadOnlyList<BorrowedColumn> Borrowed { get; init; } = [];

    /// <summary>A table with the columns that the order borrows.</summary>
    public Table WithBorrowed(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        var whole = With(table, Borrowed);
        // What does not fit a reading stands where what is empty does, whatever the database says of nulls.
        return Readings.Count == 0
            ? whole
            : whole with
            {
                Columns =
                [
                    .. whole.Columns.Select(column =>
                        Readings.ContainsKey(column.Name) ? column with { IsNullable = true } : column
                    ),
                ],
            };
    }

    /// <summary>How columns of the order are read whose stored values do not order by themselves; empty for none.</summary>
    public IReadOnlyDictionary<string, Reading> Readings { get; init; } = FrozenDictionary<string, Reading>.Empty;

    /// <summary>The columns that are to hold what their readings do not know; empty for none.</summary>
    public IReadOnlyList<BoundColumn> Unfit { get; init; } = [];

    /// <summary>An expression that is to come to false; null for none.</summary>
    public BrokenRule? Breaks { get; init; }

    /// <summary>Whether values are told as they are stored, not as they are read.</summary>
    public bool IsStored { get; init; }

    private static Table With(Table table, IReadOnlyList<BorrowedColumn> borrowed) =>
        borrowed.Count == 0 ? table : table with { Columns = [.. table.Columns, .. borrowed.Select(column => column.AsColumn)] };

    /// <summary>The part of the order that the reader or the panel chose.</summary>
    public IReadOnlyList<OrderBy> Chosen { get; init; } = [];

    /// <summary>Records on a page.</summary>
    public required int Size { get; init; }

    /// <summary>
    /// The page, from 1. Beside a <see cref="Mark"/> it is what the reader takes it for, and nothing is counted from it.
    /// </summary>
    public required int Page { get; init; }

    /// <summary>Where the page begins or ends; null to count rows up to <see cref="Page"/>.</summary>
    public PageMark? Mark { get; init; }

    /// <summary>The columns to fetch, in order.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>The columns that the list shows, in order; others are fetched only for its titles.</summary>
    public required IReadOnlyList<string> Shown { get; init; }

    /// <summary>What was asked and could not be understood, and so was left out.</summary>
    public IReadOnlyList<FieldProblem> Dropped { get; init; } = [];

    /// <summary>Rows before the page.</summary>
    public int Offset => (Page - 1) * Size;

    /// <summary>
    /// The condition without the narrowing of one column: what the counts of that column's values follow, so that the others can
    /// still be chosen.
    /// </summary>
    /// <param name="column">The column's exact name; null for the whole condition.</param>
    public Filter? FilterBut(string? column) =>
        Filters.Filter.Join([
            Seen,
            Standing,
            NotHidden,
            Only,
            Of,
            SearchText.ToFilter(Search),
            .. Conditions.Select(condition => condition?.Filter),
            .. Narrowings.Where(narrowing => narrowing.Column != column).Select(narrowing => narrowing.ToFilter()),
            .. Unfit.Select(unfit => ReadFilter.Misfit(unfit.Schema, unfit.Reading!)),
            Breaks?.Filter,
        ]);

    /// <summary>
    /// Plans a list. What cannot be understood is left out and named in <see cref="Dropped"/>: a list that somebody sent still
    /// opens.
    /// </summary>
    /// <param name="panel">The panel.</param>
    /// <param name="request">What was asked, unchecked.</param>
    /// <param name="porch">The porch's panels, among which lookups are resolved; it says what day "today" is, too.</param>
    public static ListPlan Make(BoundPanel panel, ListRequest request, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(request);
        var dropped = new List<FieldProblem>();
        ArgumentNullException.ThrowIfNull(porch);
        var sorted = OrderReader.Read(panel, request.Sort ?? [], dropped);
        var chosen = sorted.Count > 0 ? sorted : DefaultOrder(panel);
        // What people set by hand is an order of values, whatever a lookup shows.
        IReadOnlyList<BorrowedColumn> borrowed =
            sorted.Count > 0 || panel.Definition.Sort.Count > 0
                ?
                [
                    .. chosen
                        .Select(part => panel.Find(part.Column))
                        .OfType<BoundColumn>()
                        .SelectMany(column => BorrowedColumn.For(column, porch)),
                ]
                : [];
        var order = WithTieBreak(panel, ByTitle(chosen, borrowed));
        var search = SearchText.Read(ReadSearch(request.Search, dropped), panel, porch, porch.Notation);
        dropped.AddRange(
            search
                .Select(part => part.UnknownField)
                .OfType<string>()
                .Select(name => new FieldProblem(
                    "q",
                    $"No field is called “{name}”, so it was searched as a word. The fields are: {FieldsOf(panel)}."
                ))
        );
        dropped.AddRange(
            panel.NotComputed.Select(column => new FieldProblem(
                "columns",
                $"{panel.Definition.Columns.First(decision => decision.Name == column.Name).Label} cannot be computed any more: {column.Problem} Correct it in the panel's set-up."
            ))
        );
        var shown = ReadColumns(panel, request.Columns, dropped);
        var ofSetAside = request.SetAside && panel.May(PanelActs.SeeSetAside);
        return new ListPlan
        {
            Seen = panel.Sight.Rows,
            Standing = ofSetAside ? panel.SetAside() : panel.InUse(),
            NotHidden = ofSetAside ? null : porch.NotHidden(panel),
            Only = PanelRestriction.Of(panel, porch, dropped),
            Of = ReadOf(panel, request, porch, dropped),
            Search = search,
            Conditions = string.IsNullOrWhiteSpace(request.Where)
                ? []
                : new ConditionReader(panel, porch, porch.Notation, porch.Today).Read(request.Where, dropped),
            Narrowings = Narrowing.Read(panel, request.In ?? [], dropped),
            Order = order,
            Chosen = chosen,
            Borrowed = borrowed,
            Readings = ReadingsOf(panel, order),
            Unfit = ReadUnfit(panel, request.Unfit, dropped),
            Breaks = BrokenRule.Read(request.Breaks, panel, porch, dropped),
            IsStored = request.IsStored,
            Size = ReadSize(request.Size, dropped),
            Page = ReadPage(request.Page, dropped),
            Mark = ReadMark(panel, request.At, order, borrowed, dropped),
            Shown = shown,
            // The title is told whatever the columns are.
            Columns =
                request.Columns.Count == 0
                    ? panel.FetchedForList
                    :
                    [
                        .. shown
                            .Concat(panel.Columns.Select(column => column.Name).Where(panel.Title.Columns.Contains))
                            .Distinct(),
                    ],
            Dropped = dropped,
        };
    }

    /// <summary>The list with just the columns that it shows.</summary>
    public ListPlan WithShownColumns() => this with { Columns = Shown };

    /// <summary>The list without its computed columns, where they cannot be reckoned for some record.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="why">What went wrong, as a sentence.</param>
    /// <returns>The list, which says so; null where it shows none.</returns>
    public ListPlan? WithoutComputed(BoundPanel panel, string why)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var computed = Columns.Select(panel.Find).OfType<BoundColumn>().Where(column => !column.Schema.IsStored).ToList();
        return computed.Count == 0
            ? null
            : this with
            {
                Columns = [.. Columns.Except(computed.Select(column => column.Name))],
                Shown = [.. Shown.Except(computed.Select(column => column.Name))],
                Dropped =
                [
                    .. Dropped,
                    new(
                        "columns",
                        $"{string.Join(", ", computed.Select(column => column.Label))} cannot be computed for some of these records: {why} Correct it in the panel's set-up, such as by nullif(…, 0) under a division."
                    ),
                ],
            };
    }

    /// <summary>The list with all columns that people get to see somewhere.</summary>
    public ListPlan WithAllColumns(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return this with { Columns = [.. panel.Columns.Where(panel.IsVisible).Select(column => column.Name)] };
    }

    /// <summary>
    /// A list of chosen records in this one's order and columns, whether its conditions let them through or not.
    /// </summary>
    public ListPlan OfChosen(Filter chosen) =>
        this with
        {
            Of = chosen,
            Search = [],
            Conditions = [],
            Narrowings = [],
            Unfit = [],
            Breaks = null,
        };

    private static IReadOnlyList<string> ReadColumns(BoundPanel panel, IReadOnlyList<string> asked, List<FieldProblem> dropped)
    {
        if (asked.Count == 0)
            return panel.InList;
        foreach (var name in asked.Where(name => panel.Find(name) is not { } column || !panel.IsVisible(column)))
            dropped.Add(new("columns", $"The panel has no column {name} to show. It was left out."));
        var chosen = asked.Where(name => panel.Find(name) is { } column && panel.IsVisible(column)).Distinct().ToList();
        return chosen.Count > 0 ? chosen : panel.InList;
    }

    private static string FieldsOf(BoundPanel panel)
    {
        var labels = panel
            .Columns.Where(panel.IsVisible)
            .Select(column => SearchFields.WithoutUnit(column.Label))
            .Distinct()
            .ToList();
        return string.Join(", ", labels.Take(MostNamed)) + (labels.Count > MostNamed ? ", and others" : "");
    }

    private static string? ReadSearch(string? text, List<FieldProblem> dropped)
    {
        if (!(text?.Length > SearchText.MaxLength))
            return text;
        dropped.Add(new("q", $"A search has at most {SearchText.MaxLength} characters. The rest was left out."));
        return text[..SearchText.MaxLength];
    }

    private static IReadOnlyDictionary<string, Reading> ReadingsOf(BoundPanel panel, IReadOnlyList<OrderBy> order)
    {
        var read = order
            .Select(part => panel.Find(part.Column))
            .Where(column => column?.Reading is { LeavesValues: false })
            .DistinctBy(column => column!.Name)
            .ToDictionary(column => column!.Name, column => column!.Reading!);
        return read.Count == 0 ? FrozenDictionary<string, Reading>.Empty : read;
    }

    private static IReadOnlyList<BoundColumn> ReadUnfit(BoundPanel panel, IReadOnlyList<string> asked, List<FieldProblem> dropped)
    {
        if (asked.Count == 0)
            return [];
        foreach (var name in asked.Where(name => panel.Find(name)?.Reading is null))
            dropped.Add(
                new("unfit", $"Nothing is said of how {name} is read, so that nothing can be a misfit. It was left out.")
            );
        return
        [
            .. asked
                .Select(panel.Find)
                .OfType<BoundColumn>()
                .Where(column => column.Reading is not null && panel.IsVisible(column)),
        ];
    }

    private static int ReadSize(int? size, List<FieldProblem> dropped)
    {
        if (size is null || PageSizes.Contains(size.Value))
            return size ?? DefaultPageSize;
        dropped.Add(new("size", $"A page can have {string.Join(", ", PageSizes)} records, not {size}. Choose one of these."));
        return DefaultPageSize;
    }

    private static int ReadPage(int? page, List<FieldProblem> dropped)
    {
        if (page is null or >= 1 and <= MaxPage)
            return page ?? 1;
        dropped.Add(new("page", $"There is no page {page}. Pages count from 1 to {MaxPage}."));
        return 1;
    }

    private static PageMark? ReadMark(
        BoundPanel panel,
        string? text,
        IReadOnlyList<OrderBy> order,
        IReadOnlyList<BorrowedColumn> borrowed,
        List<FieldProblem> dropped
    )
    {
        if (string.IsNullOrEmpty(text))
            return null;
        if (panel.Identity.Exists && PageMark.Read(text, With(panel.Table, borrowed), order) is { } mark)
            return mark;
        dropped.Add(
            new(
                "at",
                "The position in the list cannot be read, or belongs to another sort order. The list starts at the page number in the address."
            )
        );
        return null;
    }

    private static Filter? ReadOf(BoundPanel panel, ListRequest request, PorchPanels porch, List<FieldProblem> dropped)
    {
        if (string.IsNullOrEmpty(request.Of))
            return null;
        if (panel.Find(request.Of) is not { Decision.Lookup: { } lookup } column || porch.Bind(lookup) is not { } bound)
        {
            dropped.Add(new("of", $"{request.Of} refers to nothing here. Name a column of the panel that is a lookup."));
            return null;
        }

        if (bound.IsOfSeveral)
            return bound.ValuesOf(request.Value ?? "") is { } parts && bound.OwnColumns(column.Name).Zip(parts).All(Holds)
                ? new Filter.All([.. bound.OwnColumns(column.Name).Zip(parts, (own, value) => new Filter.EqualTo(own, value))])
                : new Filter.Any([]);
        var values = bound
            .ReferringValues(column.Schema, request.Value ?? "")
            .Select(text => ValueText.TryRead(column.Type, text, out var value, out _) ? value : null)
            .OfType<string>()
            .ToList();
        return bound.OneOf(column.Name, values);

        // What a column cannot hold nothing refers by.
        bool Holds((string Own, string Value) one) =>
            panel.Table.Find(one.Own) is { } own && ValueText.TryRead(own.Type, one.Value, out _, out _);
    }

    private static IReadOnlyList<OrderBy> DefaultOrder(BoundPanel panel)
    {
        var own = panel.Definition.Sort.Where(part => panel.Table.Find(part.Column) is { Type.IsOrderable: true }).ToList();
        return own.Count > 0 ? own : panel.RunningOrder;
    }

    // The record's title first, its value only to tell namesakes apart. A title that ends early comes before one that goes on.
    private static List<OrderBy> ByTitle(IReadOnlyList<OrderBy> chosen, IReadOnlyList<BorrowedColumn> borrowed) =>
        [
            .. chosen.SelectMany(part =>
                borrowed
                    .Where(column => column.Lookup == part.Column)
                    .Select(
                        (column, i) =>
                            part with
                            {
                                Column = column.Name,
                                EmptyFirst = i == 0 ? part.EmptyFirst : !part.Descending,
                                Natural = part.Natural && column.Of.Type.Kind is ValueKind.Text,
                            }
                    )
                    .Append(part)
            ),
        ];

    // One direction for all parts: mixed ones cannot be read off an index. Without an identity every orderable
    // column takes part; rows that are still equal are then equal to the eye too.
    private static List<OrderBy> WithTieBreak(BoundPanel panel, List<OrderBy> chosen)
    {
        var direction = chosen.Count > 0 && chosen[^1].Descending;
        var breakers = panel.Identity.Exists
            ? panel.Identity.Columns
            : [.. panel.Table.StoredColumns.Where(column => column.Type.IsOrderable).Select(column => column.Name)];
        return
        [
            .. chosen,
            .. breakers
                .Where(name => chosen.All(part => part.Column != name || part.Natural))
                .Select(name => new OrderBy(name, direction)),
        ];
    }
}

/// <summary>What a caller asks of a list.</summary>
/// <param name="Search">The text of the search box; null or empty for all records.</param>
/// <param name="Sort">The order as <see cref="OrderBy"/> reads it; null or empty for the panel's own.</param>
/// <param name="Size">Records on a page; null for the usual number.</param>
/// <param name="Page">The page, from 1; null for the first.</param>
/// <param name="Of">A lookup column, to list only the records that refer to one record; null or empty for all.</param>
/// <param name="Value">The value of that record in the column that the lookup points to.</param>
/// <param name="In">The values that the list is narrowed to, as <see cref="Narrowing"/> reads them; null for none.</param>
/// <param name="Where">A <see cref="Condition"/> as JSON; null or empty for none.</param>
/// <param name="At">A <see cref="PageMark"/> as it travels; null or empty to count from <paramref name="Page"/>.</param>
public sealed record ListRequest(
    string? Search = null,
    IReadOnlyList<string>? Sort = null,
    int? Size = null,
    int? Page = null,
    string? Of = null,
    string? Value = null,
    IReadOnlyList<string>? In = null,
    string? Where = null,
    string? At = null
)
{
    /// <summary>The columns to show, in order; empty for the panel's own.</summary>
    public IReadOnlyList<string> Columns { get; init; } = [];

    /// <summary>The columns that are to hold what their readings do not know; empty for none.</summary>
    public IReadOnlyList<string> Unfit { get; init; } = [];

    /// <summary>An expression that is to come to false, such as what a check demands; empty for none.</summary>
    public string Breaks { get; init; } = "";

    /// <summary>Whether values are told as they are stored, not as they are read.</summary>
    public bool IsStored { get; init; }

    /// <summary>Whether the records are wanted that a marker in the table says are set aside, and not those in use.</summary>
    public bool SetAside { get; init; }
}
