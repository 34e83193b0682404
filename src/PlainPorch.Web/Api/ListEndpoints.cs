using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Export;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Records;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Api;

/// <summary>Chosen records.</summary>
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
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Records").OpensPanel();
        // Asked for more than all else, so without a filter, which copies all arguments: it opens its panel itself.
        api.MapGet("/porches/{porch}/panels/{panel}/records", ListAsync).WithTags("Records").WithName("listRecords");
        panel.MapGet("/count", CountAsync).WithName("countRecords");
        panel.MapGet("/keys", ListKeysAsync).WithName("listKeys");
        panel.MapGet("/totals", FindTotalsAsync).WithName("findTotals");
        panel.MapGet("/explanation", ExplainAsync).WithName("explainList");
        panel.MapPost("/explanation/trial", TryIndexAsync).WithName("tryIndex");
        panel.MapGet("/export/{format}", ExportAsync).WithName("exportRecords").WithMetadata(new LastsLong());
        panel.MapPost("/export/{format}", ExportChosenAsync).WithName("exportChosen").WithMetadata(new LastsLong());
        panel.MapGet("/fields", FindFieldsAsync).WithName("findFields");
        panel.MapGet("/reading", ReadConditionsAsync).WithName("readConditions");
        panel.MapGet("/suggestions", SuggestAsync).WithName("suggestSearch");
        panel.MapGet("/values/{column}", CountValuesAsync).WithName("countValues");
    }

    private static async Task<Results<WholeOk<ListPage>, NotFound, ProblemHttpResult>> ListAsync(
        [AsParameters] PanelHere here, [AsParameters] ListQuery query, HttpContext http, CancellationToken cancellationToken, bool count = true)
    {
        if (await here.OpenAsync(http) is { } instead)
            return instead;
        var records = here.Records();
        var plan = query.ToPlan(records, http.Request.Query.Keys.Except(ListQuery.Names).Except(["count"]));
        return new WholeOk<ListPage>(await records.ListAsync(plan, cancellationToken, count), ListPageJson.Write);
    }

    private static async Task<Results<Ok<RowCount>, NotFound, ProblemHttpResult>> CountAsync(
        [AsParameters] PanelHere here, [AsParameters] ListQuery query, CancellationToken cancellationToken)
    {
        var records = here.Records();
        return TypedResults.Ok(await records.CountAsync(query.ToPlan(records), cancellationToken));
    }

    private static async Task<Results<Ok<ListKeys>, NotFound, ProblemHttpResult>> ListKeysAsync(
        [AsParameters] PanelHere here, [AsParameters] ListQuery query, CancellationToken cancellationToken)
    {
        var records = here.Records();
        return TypedResults.Ok(await records.KeysAsync(query.ToPlan(records), cancellationToken));
    }

    private static async Task<Results<Ok<IReadOnlyList<ColumnTotal>>, NotFound, ProblemHttpResult>> FindTotalsAsync(
        [AsParameters] PanelHere here, [AsParameters] ListQuery query, CancellationToken cancellationToken)
    {
        var records = here.Records();
        var plan = query.ToPlan(records);
        return TypedResults.Ok(await records.TotalsAsync(plan, plan.Shown.Select(name => records.Panel.Find(name)!), cancellationToken));
    }

    private static async Task<Results<Ok<ListExplanation>, NotFound, ProblemHttpResult>> ExplainAsync(
        [AsParameters] PanelHere here, [AsParameters] ListQuery query, CancellationToken cancellationToken)
    {
        var records = here.Records();
        return TypedResults.Ok(await records.ExplainAsync(query.ToPlan(records), cancellationToken));
    }

    private static async Task<Results<Ok<IndexTrial>, NotFound, ProblemHttpResult>> TryIndexAsync(
        [AsParameters] PanelHere here, [AsParameters] ListQuery query, int index, CancellationToken cancellationToken)
    {
        var records = here.Records();
        return await records.TryIndexAsync(query.ToPlan(records), index, cancellationToken) switch
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
        [FromQuery(Name = "all")] bool withAllColumns = false)
    {
        var records = here.Records();
        if (ExportWriters.Read(format) is not { } form)
            return TypedResults.NotFound();
        var plan = query.ToPlan(records, http.Request.Query.Keys.Except(ListQuery.Names).Except(["all"]));
        // More records than were meant are worse in a file than on the screen, where one sees them.
        if (plan.Dropped.Count > 0)
            return Problems.Of(plan.Dropped);
        await RecordExport.SendAsync(http, records, plan, withAllColumns, form, cancellationToken);
        return TypedResults.Empty;
    }

    private static async Task<Results<EmptyHttpResult, NotFound, ProblemHttpResult, ValidationProblem>> ExportChosenAsync(
        [AsParameters] PanelHere here,
        string format,
        ChosenRecords chosen,
        [AsParameters] ListQuery query,
        HttpContext http,
        CancellationToken cancellationToken,
        [FromQuery(Name = "all")] bool withAllColumns = false)
    {
        var records = here.Records();
        if (ExportWriters.Read(format) is not { } form)
            return TypedResults.NotFound();
        if (!RecordSelection.TryRead(records.Panel, chosen.Keys, out var selection, out var problem))
            return Problems.Of([problem!]);
        var plan = query.ToPlan(records).OfChosen(selection!.Filter);
        await RecordExport.SendAsync(http, records, plan, withAllColumns, form, cancellationToken);
        return TypedResults.Empty;
    }

    private static async Task<Results<Ok<IReadOnlyList<ConditionField>>, NotFound, ProblemHttpResult>> FindFieldsAsync(
        [AsParameters] PanelHere here, CancellationToken cancellationToken)
    {
        var records = here.Records();
        return TypedResults.Ok(ConditionField.For(records.Panel, records.Porch));
    }

    private static async Task<Results<Ok<ConditionReading>, NotFound, ProblemHttpResult>> ReadConditionsAsync(
        [AsParameters] PanelHere here, CancellationToken cancellationToken, string? where = null)
    {
        var records = here.Records();
        var plan = ListPlan.Make(records.Panel, new ListRequest(Where: where), records.Porch);
        return TypedResults.Ok(new ConditionReading([.. plan.Conditions.OfType<ReadCondition>().Select(condition => condition.Says)], plan.Dropped));
    }

    private static async Task<Results<Ok<IReadOnlyList<SearchSuggestion>>, NotFound, ProblemHttpResult>> SuggestAsync(
        [AsParameters] PanelHere here, CancellationToken cancellationToken, string? text = null)
    {
        return TypedResults.Ok(await here.Records().SuggestAsync(text ?? "", cancellationToken));
    }

    private static async Task<Results<Ok<NarrowingValues>, NotFound, ProblemHttpResult>> CountValuesAsync(
        [AsParameters] PanelHere here, string column, [AsParameters] ListQuery query, CancellationToken cancellationToken, string? text = null)
    {
        var records = here.Records();
        if (records.Panel.Find(column) is not { Decision.Narrows: true } counted || !Narrowing.CanBeBy(counted.Type))
            return TypedResults.NotFound();
        return TypedResults.Ok(await records.CountValuesAsync(query.ToPlan(records), counted, text, cancellationToken));
    }
}
