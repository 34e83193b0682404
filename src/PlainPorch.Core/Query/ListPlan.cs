using PlainPorch.Core.Definition;
using PlainPorch.Core.Records;

namespace PlainPorch.Core.Query;

/// <summary>What a list asks of the database: condition, order, page and columns.</summary>
public sealed record ListPlan
{
    /// <summary>The page sizes that people choose among.</summary>
    public static IReadOnlyList<int> PageSizes { get; } = [25, 50, 100];

    /// <summary>The page size unless told otherwise.</summary>
    public const int DefaultPageSize = 50;

    /// <summary>The greatest page number; with it the offset still fits an <see cref="int"/>.</summary>
    public const int MaxPage = 10_000_000;

    /// <summary>Rows are counted exactly up to this bound.</summary>
    public const int CountBound = 10_000;

    /// <summary>What was searched for and whose records are wanted; null for all records.</summary>
    public Filter? Search { get; init; }

    /// <summary>The values that the list is narrowed to, by column.</summary>
    public IReadOnlyList<Narrowing> Narrowings { get; init; } = [];

    /// <summary>The condition; null for all records.</summary>
    public Filter? Filter => FilterBut(null);

    /// <summary>The order, made unambiguous by the identity where there is one.</summary>
    public required IReadOnlyList<OrderBy> Order { get; init; }

    /// <summary>Records on a page.</summary>
    public required int Size { get; init; }

    /// <summary>The page, from 1.</summary>
    public required int Page { get; init; }

    /// <summary>The columns to fetch, in order.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>Rows before the page.</summary>
    public int Offset => (Page - 1) * Size;

    /// <summary>
    /// The condition without the narrowing of one column: what the counts of that column's values follow, so that the others can
    /// still be chosen.
    /// </summary>
    /// <param name="column">The column's exact name; null for the whole condition.</param>
    public Filter? FilterBut(string? column)
    {
        Filter[] parts = [.. Search is null ? Array.Empty<Filter>() : [Search], .. Narrowings.Where(narrowing => narrowing.Column != column).Select(narrowing => narrowing.ToFilter())];
        return parts switch { [] => null, [var only] => only, _ => new Filter.All(parts) };
    }

    /// <summary>Plans a list.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="request">What was asked, unchecked.</param>
    /// <param name="plan">The plan; null where the request cannot be met.</param>
    /// <param name="porch">The porch's panels, among which lookups are resolved; null where the panel stands alone.</param>
    /// <returns>What is wrong with which field of the request; empty on success.</returns>
    public static IReadOnlyList<FieldProblem> TryMake(BoundPanel panel, ListRequest request, out ListPlan? plan, PorchPanels? porch = null)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(request);
        var problems = new List<FieldProblem>();
        if (request.Search?.Length > SearchText.MaxLength)
            problems.Add(new("q", $"A search has at most {SearchText.MaxLength} characters. Shorten it."));
        if (!PageSizes.Contains(request.Size))
            problems.Add(new("size", $"A page has {string.Join(", ", PageSizes)} records, not {request.Size}. Choose one of these."));
        if (request.Page is < 1 or > MaxPage)
            problems.Add(new("page", $"There is no page {request.Page}. Pages count from 1 to {MaxPage}."));
        var order = ReadOrder(panel, request.Sort, problems);
        var of = ReadOf(panel, request, porch, problems);
        var narrowings = Narrowing.Read(panel, request.In ?? [], problems);
        plan = problems.Count > 0 ? null : new ListPlan
        {
            Search = Join(of, SearchText.Read(request.Search, panel)),
            Narrowings = narrowings,
            Order = order,
            Size = request.Size,
            Page = request.Page,
            Columns = [.. panel.FetchedForList().Select(column => column.Name)],
        };
        return problems;
    }

    private static Filter? Join(Filter? first, Filter? second) => (first, second) switch
    {
        (null, _) => second,
        (_, null) => first,
        _ => new Filter.All([first, second]),
    };

    private static Filter? ReadOf(BoundPanel panel, ListRequest request, PorchPanels? porch, List<FieldProblem> problems)
    {
        if (string.IsNullOrEmpty(request.Of))
            return null;
        if (panel.Find(request.Of) is not { Decision.Lookup: { } lookup } column || porch?.Bind(lookup) is not { } bound)
        {
            problems.Add(new("of", $"{request.Of} refers to nothing here. Name a column of the panel that is a lookup."));
            return null;
        }

        var values = bound.ReferringValues(column.Schema, request.Value ?? "")
            .Select(text => ValueText.TryRead(column.Type, text, out var value, out _) ? value : null)
            .OfType<string>()
            .ToList();
        return bound.OneOf(column.Name, values);
    }

    private static List<OrderBy> ReadOrder(BoundPanel panel, string? sort, List<FieldProblem> problems)
    {
        var order = new List<OrderBy>();
        if (!string.IsNullOrEmpty(sort))
        {
            var descending = sort[0] == '-';
            var name = descending ? sort[1..] : sort;
            if (panel.Find(name) is not { } column)
                problems.Add(new("sort", $"The panel has no column {name}. Sort by one that it has."));
            else if (!column.Type.IsOrderable)
                problems.Add(new("sort", $"{column.Label} cannot be put in order. Sort by another column."));
            else
                order.Add(new OrderBy(name, descending));
        }
        else if (panel.Definition.Order is { } running)
        {
            order.AddRange(new[] { running.Group, running.Column }
                .Where(name => name is not null && panel.Table.Find(name) is { Type.IsOrderable: true })
                .Select(name => new OrderBy(name!, Descending: false)));
        }

        // One direction for all parts: mixed ones cannot be read off an index. Without an identity every orderable
        // column takes part; rows that are still equal are then equal to the eye too.
        var direction = order.Count > 0 && order[0].Descending;
        var breakers = panel.Identity.Exists
            ? panel.Identity.Columns
            : [.. panel.Table.Columns.Where(column => column.Type.IsOrderable).Select(column => column.Name)];
        order.AddRange(breakers.Where(name => order.All(part => part.Column != name)).Select(name => new OrderBy(name, direction)));
        return order;
    }
}

/// <summary>One part of an order.</summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Descending">Whether the greatest comes first.</param>
public sealed record OrderBy(string Column, bool Descending);

/// <summary>What a caller asks of a list.</summary>
/// <param name="Search">The text of the search box; null or empty for all records.</param>
/// <param name="Sort">A column's exact name, with a leading hyphen for descending; null or empty for the panel's own order.</param>
/// <param name="Size">Records on a page.</param>
/// <param name="Page">The page, from 1.</param>
/// <param name="Of">A lookup column, to list only the records that refer to one record; null or empty for all.</param>
/// <param name="Value">The value of that record in the column that the lookup points to.</param>
/// <param name="In">The values that the list is narrowed to, as <see cref="Narrowing"/> reads them; null for none.</param>
public sealed record ListRequest(
    string? Search = null, string? Sort = null, int Size = ListPlan.DefaultPageSize, int Page = 1, string? Of = null, string? Value = null,
    IReadOnlyList<string>? In = null);
