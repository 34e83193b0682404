using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Export;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Query;
using PlainPorch.Web.Export;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Query;

/// <summary>Chosen lists.</summary>
/// <param name="Keys">Their keys.</param>
public sealed record ChosenRecords(IReadOnlyList<string> Keys);

/// <summary>How conditions were read.</summary>
/// <param name="Says">What they ask for, in words, one by one.</param>
/// <param name="Problems">What could not be understood.</param>
public sealed record ConditionReading(IReadOnlyList<string> Says, IReadOnlyList<FieldProblem> Problems);

internal static class ListEndpoints
{
    public static void MapLists(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Records").OpensPanel().ForMembers();
        // Asked for more than all else, so without a filter, which copies all arguments: it opens its panel itself.
        api.MapGet("/porches/{porch}/panels/{panel}/records", ListAsync)
            .WithTags("Records")
            .WithName("listRecords")
            .ForMembers();
        panel.MapGet("/count", CountAsync).WithName("countRecords");
        panel.MapGet("/keys", ListKeysAsync).WithName("listKeys");
        panel.MapGet("/records/{key}/around", FindAroundAsync).WithName("findAround");
        panel.MapGet("/totals", FindTotalsAsync).WithName("findTotals");
        panel.MapGet("/explanation", ExplainAsync).WithName("explainList").ForDevelopers();
        panel.MapPost("/explanation/trial", TryIndexAsync).WithName("tryIndex").ForDevelopers();
        panel
            .MapGet("/export/{format}", ExportAsync)
            .WithName("exportRecords")
            .Needs(PanelActs.Export)
            .WithMetadata(new LastsLong());
        panel
            .MapPost("/export/{format}", ExportChosenAsync)
            .WithName("exportChosen")
            .Needs(PanelActs.Export)
            .WithMetadata(new LastsLong());
        panel.MapGet("/fields", FindFieldsAsync).WithName("findFields");
        panel.MapGet("/reading", ReadConditionsAsync).WithName("readConditions");
        panel.MapGet("/suggestions", SuggestAsync).WithName("suggestSearch");
        panel.MapGet("/values/{column}", CountValuesAsync).WithName("countValues");
    }

    private static async Task<Results<WholeOk<ListPage>, NotFound, ProblemHttpResult>> ListAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        HttpContext http,
        CancellationToken cancellationToken,
        bool count = true
    )
    {
        if (await here.OpenAsync(http) is { } instead)
            return instead;
        var lists = here.Lists();
        var plan = query.ToPlan(lists, ListQuery.UnknownTo(http.Request, "count"));
        return new WholeOk<ListPage>(await lists.ListAsync(plan, cancellationToken, count), ListPageJson.Write);
    }

    private static async Task<Results<Ok<RowCount>, NotFound, ProblemHttpResult>> CountAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        CancellationToken cancellationToken,
        bool exact = false
    )
    {
        var lists = here.Lists();
        return TypedResults.Ok(await lists.CountAsync(query.ToPlan(lists), cancellationToken, exact));
    }

    private static async Task<Results<Ok<ListKeys>, NotFound, ProblemHttpResult>> ListKeysAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        CancellationToken cancellationToken
    )
    {
        var lists = here.Lists();
        return TypedResults.Ok(await lists.KeysAsync(query.ToPlan(lists), cancellationToken));
    }

    private static async Task<Results<Ok<ListPlace>, NotFound, ProblemHttpResult>> FindAroundAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        string key,
        CancellationToken cancellationToken
    )
    {
        var lists = here.Lists();
        return await lists.AroundAsync(query.ToPlan(lists), key, cancellationToken) is { } place
            ? TypedResults.Ok(place)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<IReadOnlyList<ColumnTotal>>, NotFound, ProblemHttpResult>> FindTotalsAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        CancellationToken cancellationToken
    )
    {
        var lists = here.Lists();
        var plan = query.ToPlan(lists);
        return TypedResults.Ok(
            await lists.TotalsAsync(plan, plan.Shown.Select(name => lists.Seen.Panel.Find(name)!), cancellationToken)
        );
    }

    private static async Task<Results<Ok<ListExplanation>, NotFound, ProblemHttpResult>> ExplainAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        CancellationToken cancellationToken
    )
    {
        var lists = here.Lists();
        return TypedResults.Ok(await lists.ExplainAsync(query.ToPlan(lists), cancellationToken));
    }

    private static async Task<Results<Ok<IndexTrial>, NotFound, ProblemHttpResult>> TryIndexAsync(
        [AsParameters] PanelHere here,
        [AsParameters] ListQuery query,
        int index,
        CancellationToken cancellationToken
    )
    {
        var lists = here.Lists();
        return await lists.TryIndexAsync(query.ToPlan(lists), index, cancellationToken) switch
        {
            ({ } trial, _) => TypedResults.Ok(trial),
            (_, { } refusal) => Problems.NotAllowed(refusal),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<EmptyHttpResult, NotFound, ProblemHttpResult, ValidationProblem>> ExportAsync(
        [AsParameters] PanelHere here,
        string format,
        [AsParameters] ListQuery query,
        HttpContext http,
        CancellationToken cancellationToken,
        [FromQuery(Name = "all")] bool withAllColumns = false
    )
    {
        var lists = here.Lists();
        if (ExportWriters.Read(format) is not { } form)
            return TypedResults.NotFound();
        var plan = query.ToPlan(lists, ListQuery.UnknownTo(http.Request, "all"));
        // More records than were meant are worse in a file than on the screen, where one sees them.
        if (plan.Dropped.Count > 0)
            return Problems.Of(plan.Dropped);
        await RecordExport.SendAsync(http, lists, plan, withAllColumns, form, cancellationToken);
        return TypedResults.Empty;
    }

    private static async Task<Results<EmptyHttpResult, NotFound, ProblemHttpResult, ValidationProblem>> ExportChosenAsync(
        [AsParameters] PanelHere here,
        string format,
        ChosenRecords chosen,
        [AsParameters] ListQuery query,
        HttpContext http,
        CancellationToken cancellationToken,
        [FromQuery(Name = "all")] bool withAllColumns = false
    )
    {
        var lists = here.Lists();
        if (ExportWriters.Read(format) is not { } form)
            return TypedResults.NotFound();
        if (!RecordSelection.TryRead(lists.Seen.Panel, chosen.Keys, out var selection, out var problem))
            return Problems.Of([problem!]);
        var plan = query.ToPlan(lists).OfChosen(selection!.Filter);
        await RecordExport.SendAsync(http, lists, plan, withAllColumns, form, cancellationToken);
        return TypedResults.Empty;
    }

    private static async Task<Results<Ok<IReadOnlyList<ConditionField>>, NotFound, ProblemHttpResult>> FindFieldsAsync(
        [AsParameters] PanelHere here,
        CancellationToken cancellationToken
    )
    {
        var lists = here.Lists();
        return TypedResults.Ok(ConditionField.For(lists.Seen.Panel, lists.Seen.Porch));
    }

    private static async Task<Results<Ok<ConditionReading>, NotFound, ProblemHttpResult>> ReadConditionsAsync(
        [AsParameters] PanelHere here,
        CancellationToken cancellationToken,
        string? where = null
    )
    {
        var lists = here.Lists();
        var plan = lists.Seen.Plan(new ListRequest(Where: where));
        return TypedResults.Ok(
            new ConditionReading([.. plan.Conditions.OfType<ReadCondition>().Select(condition => condition.Says)], plan.Dropped)
        );
    }

    private static async Task<Results<Ok<IReadOnlyList<SearchSuggestion>>, NotFound, ProblemHttpResult>> SuggestAsync(
        [AsParameters] PanelHere here,
        CancellationToken cancellationToken,
        string? text = null
    )
    {
        return TypedResults.Ok(await here.Lists().SuggestAsync(text ?? "", cancellationToken));
    }

    private static async Task<Results<Ok<NarrowingValues>, NotFound, ProblemHttpResult>> CountValuesAsync(
        [AsParameters] PanelHere here,
        string column,
        [AsParameters] ListQuery query,
        CancellationToken cancellationToken,
        string? text = null,
        bool about = false
    )
    {
        var lists = here.Lists();
        if (lists.Seen.Panel.Find(column) is not { Decision.Narrows: true } counted || !Narrowing.CanBeBy(counted.Type))
            return TypedResults.NotFound();
        return TypedResults.Ok(await lists.CountValuesAsync(query.ToPlan(lists), counted, text, cancellationToken, about));
    }
}
