using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Export;
using PlainPorch.Core.History;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Records;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.History;

/// <summary>What an address asks of the logbook.</summary>
/// <param name="Text">What the title or key of a record has to hold.</param>
/// <param name="Panel">The slug of the panel.</param>
/// <param name="Act">What was done.</param>
/// <param name="Who">Who did it.</param>
/// <param name="From">The first day.</param>
/// <param name="Until">The last day.</param>
/// <param name="Before">Only entries before this one.</param>
public sealed record LogQuery(
    [FromQuery(Name = "q")] string? Text,
    [FromQuery(Name = "panel")] string? Panel,
    [FromQuery(Name = "act")] Choice<LogAct>? Act,
    [FromQuery(Name = "who")] string? Who,
    [FromQuery(Name = "from")] DateOnly? From,
    [FromQuery(Name = "until")] DateOnly? Until,
    [FromQuery(Name = "before")] long? Before
)
{
    internal LogQuestion ToQuestion(OpenPorch found) =>
        new(Text, Panel, Act?.Value, Who, From, Until, Before) { Except = NotTold(found) };

    internal static IReadOnlyList<string> NotTold(OpenPorch found) =>
        [.. found.All.Where(panel => !found.Sights.Of(panel).Acts.HasFlag(PanelActs.SeeHistory)).Select(panel => panel.Slug)];
}

/// <summary>Whether what an entry of the logbook tells came to pass.</summary>
/// <param name="Happened">Whether it did; null as long as that is being found out.</param>
public sealed record OutcomeDto(bool? Happened);

internal static class HistoryEndpoints
{
    public static void MapHistory(this IEndpointRouteBuilder api)
    {
        var porch = api.MapGroup("/porches/{porch}").WithTags("Logbook").OpensPanel().ForMembers();
        porch.MapGet("/log", ListAsync).WithName("listLog");
        porch.MapGet("/log.csv", ExportAsync).WithName("exportLog");
        porch.MapGet("/log/{entry:long}", ListRecordsAsync).WithName("listLogRecords");
        porch.MapGet("/log/{entry:long}/outcome", FindOutcomeAsync).WithName("findOutcome");
        porch
            .MapGet("/panels/{panel}/records/{key}/history", FindHistoryAsync)
            .WithName("findHistory")
            .Needs(PanelActs.SeeHistory);
    }

    private static async Task<Results<Ok<LogPage>, NotFound>> ListAsync(
        string porch,
        [AsParameters] LogQuery query,
        PorchOpener porches,
        LogReader log,
        CancellationToken cancellationToken
    ) =>
        await porches.OpenAsync(porch, cancellationToken) is { } found
            ? TypedResults.Ok(await log.ListAsync(found.Porch.Id, query.ToQuestion(found), cancellationToken))
            : TypedResults.NotFound();

    private static async Task<Results<Ok<IReadOnlyList<LogRecord>>, NotFound>> ListRecordsAsync(
        string porch,
        long entry,
        PorchOpener porches,
        LogReader log,
        CancellationToken cancellationToken
    ) =>
        await porches.OpenAsync(porch, cancellationToken) is { } found
            ? TypedResults.Ok(
                await log.ShownRecordsAsync(found.Porch.Id, found.Panels, entry, LogQuery.NotTold(found), cancellationToken)
            )
            : TypedResults.NotFound();

    private static async Task<Results<Ok<OutcomeDto>, NotFound>> FindOutcomeAsync(
        string porch,
        long entry,
        PorchOpener porches,
        ActSettler settler,
        CancellationToken cancellationToken
    ) =>
        await porches.OpenAsync(porch, cancellationToken) is { } found
        && await settler.FindOutAsync(found.Porch.Id, entry, cancellationToken) is (true, var happened)
            ? TypedResults.Ok(new OutcomeDto(happened))
            : TypedResults.NotFound();

    private static async Task<Results<EmptyHttpResult, NotFound>> ExportAsync(
        string porch,
        [AsParameters] LogQuery query,
        HttpContext http,
        PorchOpener porches,
        LogReader log,
        TimeProvider time,
        CancellationToken cancellationToken
    )
    {
        if (await porches.OpenAsync(porch, cancellationToken) is not { } found)
            return TypedResults.NotFound();
        http.Response.ContentType = ExportWriters.MediaType(ExportFormat.Csv);
        http.Response.Headers.ContentDisposition = string.Create(
            CultureInfo.InvariantCulture,
            $"attachment; filename=\"log-{time.GetLocalNow():yyyy-MM-dd}.csv\""
        );
        await using var writer = ExportWriters.For(ExportFormat.Csv, http.Response.Body, "Logbook");
        await LogExport.WriteAsync(
            writer,
            log.StreamAsync(found.Porch.Id, query.ToQuestion(found), cancellationToken),
            cancellationToken
        );
        return TypedResults.Empty;
    }

    private static async Task<Results<Ok<RecordHistory>, NotFound, ProblemHttpResult>> FindHistoryAsync(
        [AsParameters] PanelHere here,
        string key,
        LogReader log,
        CancellationToken cancellationToken
    )
    {
        var record = await here.Opened.Records().FindAsync(key, cancellationToken);
        // One that is not there any more may have been any record: whoever sees some of them only is not told.
        if (record is null && here.Bound.Sight.Rows is not null)
            return TypedResults.NotFound();
        // What is computed comes to something else each day, and nobody wrote it.
        var stored = record
            ?.AllStored.Where(pair => here.Bound.Find(pair.Key) is not { Schema.IsStored: false })
            .ToDictionary(pair => pair.Key, pair => pair.Value);
        return TypedResults.Ok(await log.OfAsync(here.Opened, key, stored, record?.Version ?? 0, cancellationToken));
    }
}
