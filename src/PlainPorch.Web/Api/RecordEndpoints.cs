using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Records;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Api;

/// <summary>Values given for a record; columns that are left out stay as they are or get their default.</summary>
/// <param name="Values">Column names with texts; null empties a column.</param>
public sealed record RecordRequest(IReadOnlyDictionary<string, string?> Values);

/// <summary>Values for several records.</summary>
/// <param name="Keys">The records' keys.</param>
/// <param name="Values">Column names with texts; null empties a column.</param>
public sealed record ChangeRequest(IReadOnlyList<string> Keys, IReadOnlyDictionary<string, string?> Values);

/// <summary>The number that a new record would get.</summary>
/// <param name="Column">The column; null where the database numbers or the key is typed.</param>
/// <param name="Value">The number; null as for <paramref name="Column"/>.</param>
public sealed record ProposedNumber(string? Column, string? Value);

internal static class RecordEndpoints
{
    public static void MapRecords(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Records");
        panel.MapPost("/records", AddAsync).WithName("addRecord");
        panel.MapGet("/next-number", ProposeNumberAsync).WithName("proposeNumber");
        panel.MapGet("/records/{key}", FindAsync).WithName("findRecord");
        panel.MapPut("/records/{key}", UpdateAsync).WithName("updateRecord");
        panel.MapGet("/records/{key}/related", FindRelatedAsync).WithName("findRelated");
        panel.MapGet("/records/{key}/pictures/{column}", FindPictureAsync).WithName("findPicture");
        panel.MapPost("/changes", UpdateAllAsync).WithName("updateRecords");
        panel.MapGet("/lookups/{column}", ChooseAsync).WithName("chooseLookup");
    }

    private static async Task<Results<Ok<RecordView>, NotFound, ProblemHttpResult>> FindAsync(
        string porch, string panel, string key, HttpResponse response, PanelOpener opener, CancellationToken cancellationToken)
    {
        var (records, missing) = await OpenAsync(opener, porch, panel, cancellationToken);
        if (records is null)
            return missing is null ? TypedResults.NotFound() : missing;
        if (await records.FindAsync(key, cancellationToken) is not { } record)
            return TypedResults.NotFound();
        response.Tell(record.Version);
        return TypedResults.Ok(record);
    }

    private static async Task<Results<Ok<ProposedNumber>, NotFound, ProblemHttpResult>> ProposeNumberAsync(
        string porch, string panel, PanelOpener opener, CancellationToken cancellationToken)
    {
        var (records, missing) = await OpenAsync(opener, porch, panel, cancellationToken);
        if (records is null)
            return missing is null ? TypedResults.NotFound() : missing;
        var number = await records.ProposeNumberAsync(cancellationToken);
        return TypedResults.Ok(new ProposedNumber(number?.Column, number?.Value));
    }

    private static async Task<Results<Created<RecordView>, NoContent, NotFound, ProblemHttpResult, ValidationProblem>> AddAsync(
        string porch, string panel, RecordRequest request, HttpResponse response, PanelOpener opener, Logbook logbook, CancellationToken cancellationToken)
    {
        var (opened, missing) = await OpenPanelAsync(opener, porch, panel, cancellationToken);
        if (opened is null)
            return missing is null ? TypedResults.NotFound() : missing;
        var records = opened.Records();
        if (!records.Panel.CanAdd)
            return Problems.NotAllowed(WhyNot(records.Panel, "add records to", "INSERT"));
        var assigned = NextNumber.ColumnOf(records.Panel) is { } column ? new HashSet<string> { column.Name } : [];
        var input = RecordInput.Check(records.Panel, request.Values, isNew: true, assigned);
        if (input.Problems.Count > 0)
            return Problems.Of(input.Problems);
        switch (await new RecordWriter(records, new PanelLog(logbook, opened)).AddAsync(input.Values, cancellationToken))
        {
            case WriteOutcome.Written({ } record):
                response.Tell(record.Version);
                return TypedResults.Created($"/api/porches/{porch}/panels/{panel}/records/{Uri.EscapeDataString(record.Key)}", record);
            case WriteOutcome.Refused(var problems):
                return Problems.Of(problems);
            default:
                return TypedResults.NoContent();
        }
    }

    private static async Task<Results<Ok<RecordView>, NoContent, NotFound, ProblemHttpResult, ValidationProblem, PreconditionFailed<RecordView>>> UpdateAsync(
        string porch,
        string panel,
        string key,
        RecordRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpResponse response,
        PanelOpener opener,
        Logbook logbook,
        CancellationToken cancellationToken)
    {
        var (opened, missing) = await OpenPanelAsync(opener, porch, panel, cancellationToken);
        if (opened is null)
            return missing is null ? TypedResults.NotFound() : missing;
        var records = opened.Records();
        if (!records.Panel.CanEdit)
            return Problems.NotAllowed(WhyNot(records.Panel, "change records of", "UPDATE"));
        if (Versions.Read(ifMatch) is not { } version)
            return Problems.VersionMissing();
        var input = RecordInput.Check(records.Panel, request.Values, isNew: false, assigned: new HashSet<string>());
        if (input.Problems.Count > 0)
            return Problems.Of(input.Problems);
        switch (await new RecordWriter(records, new PanelLog(logbook, opened)).UpdateAsync(key, version, input.Values, cancellationToken))
        {
            case WriteOutcome.Written({ } record):
                response.Tell(record.Version);
                return TypedResults.Ok(record);
            case WriteOutcome.Written:
                return TypedResults.NoContent();
            case WriteOutcome.Refused(var problems):
                return Problems.Of(problems);
            case WriteOutcome.Conflict(var current):
                return new PreconditionFailed<RecordView>(current, current.Version);
            default:
                return TypedResults.NotFound();
        }
    }

    private static async Task<Results<Ok<ChangeOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> UpdateAllAsync(
        string porch, string panel, ChangeRequest request, PanelOpener opener, Logbook logbook, CancellationToken cancellationToken)
    {
        var (opened, missing) = await OpenPanelAsync(opener, porch, panel, cancellationToken);
        if (opened is null)
            return missing is null ? TypedResults.NotFound() : missing;
        var records = opened.Records();
        if (!records.Panel.CanEdit)
            return Problems.NotAllowed(WhyNot(records.Panel, "change records of", "UPDATE"));
        if (!RecordSelection.TryRead(records.Panel, request.Keys, out var chosen, out var problem))
            return Problems.Of([problem!]);
        if (request.Values.Count == 0)
            return Problems.Of([new FieldProblem("values", "No column is named. Choose one to change.")]);
        if (request.Values.Keys.FirstOrDefault(records.Panel.IsIdentifying) is { } identifying)
            return Problems.Of([new FieldProblem(identifying, "It tells the records apart, so they cannot all have the same. Change them one by one.")]);
        var input = RecordInput.Check(records.Panel, request.Values, isNew: false, assigned: new HashSet<string>());
        if (input.Problems.Count > 0)
            return Problems.Of(input.Problems);
        return await new RecordWriter(records, new PanelLog(logbook, opened)).UpdateAllAsync(chosen!, input.Values, cancellationToken) switch
        {
            ChangeOutcome.Refused(var problems) => Problems.Of(problems),
            ChangeOutcome.Done done => TypedResults.Ok(done),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };
    }

    private static async Task<Results<FileContentHttpResult, StatusCodeHttpResult, NotFound, ProblemHttpResult>> FindPictureAsync(
        string porch,
        string panel,
        string key,
        string column,
        HttpContext http,
        PanelOpener opener,
        Thumbnails thumbnails,
        CancellationToken cancellationToken,
        int? size = null)
    {
        var (records, missing) = await OpenAsync(opener, porch, panel, cancellationToken);
        if (records is null)
            return missing is null ? TypedResults.NotFound() : missing;
        if (records.Panel.Find(column) is not { IsPicture: true } pictured || !records.Panel.IsVisible(pictured))
            return TypedResults.NotFound();
        if (await records.StampAsync(key, pictured, cancellationToken) is not { } stamp)
            return TypedResults.NotFound();
        http.Response.Headers.CacheControl = "private, no-cache";
        http.Response.Headers.ETag = $"\"{stamp}\"";
        if (http.Request.Headers.IfNoneMatch.Contains($"\"{stamp}\""))
            return TypedResults.StatusCode(StatusCodes.Status304NotModified);
        var picture = await thumbnails.FindAsync(
            new PictureName($"{porch}/{panel}/{key}/{column}", stamp, Thumbnails.SizeFor(size)), () => records.BytesAsync(key, pictured, Thumbnails.MaxBytes, cancellationToken));
        return picture is null ? TypedResults.NotFound() : TypedResults.File(picture, Thumbnails.MediaType);
    }

    private static async Task<Results<Ok<IReadOnlyList<RelatedList>>, NotFound, ProblemHttpResult>> FindRelatedAsync(
        string porch, string panel, string key, PanelOpener opener, CancellationToken cancellationToken)
    {
        var (records, missing) = await OpenAsync(opener, porch, panel, cancellationToken);
        if (records is null)
            return missing is null ? TypedResults.NotFound() : missing;
        return await records.RelatedAsync(key, cancellationToken) is { } related ? TypedResults.Ok(related) : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<LookupChoices>, NotFound, ProblemHttpResult, ValidationProblem>> ChooseAsync(
        string porch, string panel, string column, PanelOpener opener, CancellationToken cancellationToken, string? q = null)
    {
        var (records, missing) = await OpenAsync(opener, porch, panel, cancellationToken);
        if (records is null)
            return missing is null ? TypedResults.NotFound() : missing;
        if (q?.Length > SearchText.MaxLength)
            return Problems.Of([new FieldProblem("q", $"A search has at most {SearchText.MaxLength} characters. Shorten it.")]);
        return await records.ChooseAsync(column, q, cancellationToken) is { } choices ? TypedResults.Ok(choices) : TypedResults.NotFound();
    }

    internal static async Task<(RecordStore? Records, ProblemHttpResult? Missing)> OpenAsync(
        PanelOpener opener, string porch, string panel, CancellationToken cancellationToken)
    {
        var (opened, missing) = await OpenPanelAsync(opener, porch, panel, cancellationToken);
        return (opened?.Records(), missing);
    }

    /// <summary>Opens a panel whose table is there; else says what is missing, null where the panel itself is.</summary>
    internal static async Task<(OpenPanel? Panel, ProblemHttpResult? Missing)> OpenPanelAsync(
        PanelOpener opener, string porch, string panel, CancellationToken cancellationToken) =>
        await opener.OpenAsync(porch, panel, cancellationToken) switch
        {
            null => (null, null),
            { Bound: null, Definition: var definition } => (null, Problems.TableGone(definition)),
            var opened => (opened, null),
        };

    internal static Refusal WhyNot(BoundPanel panel, string act, string right) =>
        panel.NotEditableBecause ?? new Refusal($"The database user may not {act} {panel.Table.Name}.", $"Grant it {right} and read the schema again.");
}
