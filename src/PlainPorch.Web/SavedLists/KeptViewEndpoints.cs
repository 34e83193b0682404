using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Query;
using PlainPorch.Core.Values;
using PlainPorch.Data.People;
using PlainPorch.Data.SavedLists;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.SavedLists;

/// <summary>A kept list.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="IsForAll">Whether it is for everybody at the porch.</param>
/// <param name="IsStart">Whether the panel opens with it.</param>
/// <param name="View">What it shows.</param>
/// <param name="Uses">The columns that it names, sorted.</param>
/// <param name="Problems">What of it the panel can no longer show.</param>
public sealed record KeptViewDto(
    string Name,
    bool IsForAll,
    bool IsStart,
    ListView View,
    IReadOnlyList<string> Uses,
    IReadOnlyList<FieldProblem> Problems
);

/// <summary>A list to keep.</summary>
/// <param name="IsForAll">Whether it is for everybody at the porch.</param>
/// <param name="IsStart">Whether the panel opens with it.</param>
/// <param name="View">What it shows.</param>
public sealed record KeepRequest(bool IsForAll, bool IsStart, ListView View);

internal static class KeptViewEndpoints
{
    public static void MapKeptViews(this IEndpointRouteBuilder api)
    {
        var views = api.MapGroup("/porches/{porch}/panels/{panel}/views").WithTags("Saved lists").OpensPanel().ForMembers();
        views.MapGet("/", ListAsync).WithName("listKeptViews");
        views.MapPut("/{name}", KeepAsync).WithName("keepView");
        views.MapDelete("/{name}", RemoveAsync).WithName("removeKeptView");
    }

    private static async Task<Results<Ok<IReadOnlyList<KeptViewDto>>, NotFound>> ListAsync(
        [AsParameters] PanelHere here,
        KeptViewStore views,
        Asker asker,
        CancellationToken cancellationToken
    )
    {
        return TypedResults.Ok<IReadOnlyList<KeptViewDto>>([
            .. (await views.ListAsync(here.Opened.Id, OwnerOf(asker), cancellationToken)).Select(view => new KeptViewDto(
                view.Name,
                view.IsForAll,
                view.IsStart,
                view.View,
                [.. view.View.Uses(here.Bound, here.Opened.Panels).Order(StringComparer.Ordinal)],
                view.View.Check(here.Bound, here.Opened.Panels)
            )),
        ]);
    }

    private static async Task<Results<NoContent, NotFound, ValidationProblem>> KeepAsync(
        [AsParameters] PanelHere here,
        string name,
        KeepRequest request,
        KeptViewStore views,
        Asker asker,
        CancellationToken cancellationToken
    )
    {
        var view = new KeptView(name.Trim(), request.IsForAll, request.IsStart, request.View);
        var problems = await views.KeepAsync(here.Opened.Id, request.IsForAll ? "" : OwnerOf(asker), view, cancellationToken);
        return problems.Count > 0 ? Problems.Of(problems) : TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, NotFound>> RemoveAsync(
        [AsParameters] PanelHere here,
        string name,
        KeptViewStore views,
        Asker asker,
        CancellationToken cancellationToken,
        bool isForAll = false
    )
    {
        return await views.RemoveAsync(here.Opened.Id, isForAll ? "" : OwnerOf(asker), name, cancellationToken)
            ? TypedResults.NoContent()
            : TypedResults.NotFound();
    }

    // Programs share what they keep for themselves.
    private static string OwnerOf(Asker asker) =>
        string.Create(CultureInfo.InvariantCulture, $"person {asker.Known?.Person ?? 0}");
}
