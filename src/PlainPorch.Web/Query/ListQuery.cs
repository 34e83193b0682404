using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Query;
using PlainPorch.Core.Values;
using PlainPorch.Data.Query;

namespace PlainPorch.Web.Query;

/// <summary>What an address asks of a list. What of it cannot be understood is left out and named in the answer.</summary>
/// <param name="Search">The text of the search box.</param>
/// <param name="Where">Conditions as JSON.</param>
/// <param name="Narrowed">Values to narrow by: <c>COLUMN:VALUE</c>, <c>COLUMN:FROM..UNTIL</c>, or <c>COLUMN</c> for its empty
/// ones.</param>
/// <param name="Sort">Columns to order by: <c>COLUMN</c>, <c>-COLUMN</c>, with <c>:natural</c> or <c>:emptyfirst</c> after
/// it.</param>
/// <param name="Of">A lookup column, to list only what refers to one record.</param>
/// <param name="Value">The value of that record.</param>
/// <param name="Size">Records on a page.</param>
/// <param name="Page">The page, from 1; beside a place only what the reader takes it for.</param>
/// <param name="At">The place of a page, as an earlier answer gave it; <c>last</c> for the last one.</param>
/// <param name="Columns">The columns to show, in order; none for the panel's own.</param>
/// <param name="Unfit">Columns that are to hold what their readings do not know.</param>
/// <param name="Breaks">An expression that is to come to false.</param>
/// <param name="Stored"><c>true</c> for values as they are stored; else they are told as the panel reads them.</param>
/// <param name="SetAside"><c>true</c> for the records that are marked as set aside, instead of those in use.</param>
public sealed record ListQuery(
    [FromQuery(Name = "q")] string? Search,
    [FromQuery(Name = "where")] string? Where,
    [FromQuery(Name = "in")] string[]? Narrowed,
    [FromQuery(Name = "sort")] string[]? Sort,
    [FromQuery(Name = "of")] string? Of,
    [FromQuery(Name = "value")] string? Value,
    [FromQuery(Name = "size")] string? Size,
    [FromQuery(Name = "page")] string? Page,
    [FromQuery(Name = "at")] string? At,
    [FromQuery(Name = "columns")] string[]? Columns,
    [FromQuery(Name = "aside")] string? SetAside,
    [FromQuery(Name = "unfit")] string[]? Unfit,
    [FromQuery(Name = "breaks")] string? Breaks,
    [FromQuery(Name = "stored")] string? Stored
)
{
    /// <summary>The names that a list knows.</summary>
    private static readonly string[] _names =
    [
        "q",
        "where",
        "in",
        "sort",
        "of",
        "value",
        "size",
        "page",
        "at",
        "columns",
        "aside",
        "unfit",
        "breaks",
        "stored",
    ];

    /// <summary>The names in an address that neither a list nor the endpoint knows.</summary>
    internal static IEnumerable<string> UnknownTo(HttpRequest request, string known)
    {
        foreach (var (name, _) in request.Query)
        {
            if (!_names.Contains(name, StringComparer.OrdinalIgnoreCase) && name != known)
                yield return name;
        }
    }

    /// <summary>Plans the list.</summary>
    /// <param name="lists">The panel's lists.</param>
    /// <param name="unknown">Names in the address that a list does not know.</param>
    internal ListPlan ToPlan(ListStore lists, params IEnumerable<string> unknown)
    {
        var dropped = new List<FieldProblem>();
        foreach (var name in unknown)
            dropped.Add(new(name, $"A list accepts {string.Join(", ", _names)}, not by {name}. It was left out."));
        var plan = lists.Seen.Plan(
            new ListRequest(
                Search,
                Sort,
                ReadNumber("size", Size, dropped),
                ReadNumber("page", Page, dropped),
                Of,
                Value,
                Narrowed,
                Where,
                At
            )
            {
                Columns = Columns ?? [],
                SetAside = SetAside == "true",
                Unfit = Unfit ?? [],
                Breaks = Breaks ?? "",
                IsStored = Stored == "true",
            }
        );
        return dropped.Count == 0 ? plan : plan with { Dropped = [.. dropped, .. plan.Dropped] };
    }

    private static int? ReadNumber(string name, string? text, List<FieldProblem> dropped)
    {
        if (string.IsNullOrEmpty(text))
            return null;
        if (int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
            return number;
        dropped.Add(new(name, $"“{text}” is not a whole number. It was left out."));
        return null;
    }
}
