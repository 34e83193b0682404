using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Code;
using PlainPorch.Data.History;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rules;
using PlainPorch.Data.Uploads;
using PlainPorch.Web.Acts;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Records;

/// <summary>Values given for a record; columns that are left out stay as they are or get their default.</summary>
/// <param name="Values">Column names with texts, in a column of bytes the number of an upload; null empties a column.</param>
/// <param name="Belonging">Records of other panels that refer to it and are written with it, or nothing is; null for none.</param>
public sealed record RecordRequest(
    IReadOnlyDictionary<string, string?> Values,
    IReadOnlyList<BelongingRequest>? Belonging = null
);

/// <summary>Values for several records.</summary>
/// <param name="Keys">The records' keys.</param>
/// <param name="Values">Column names with texts; null empties a column.</param>
public sealed record ChangeRequest(IReadOnlyList<string> Keys, IReadOnlyDictionary<string, string?> Values);

/// <summary>The number that a new record would get.</summary>
/// <param name="Column">The column; null where the database numbers or the key is typed.</param>
/// <param name="Value">The number; null as for <paramref name="Column"/>.</param>
public sealed record ProposedNumber(string? Column, string? Value);

/// <summary>A record that is being typed.</summary>
/// <param name="Key">Its key; null for a new one.</param>
/// <param name="Values">What was typed, by column; null empties one.</param>
public sealed record TypedRecord(string? Key, IReadOnlyDictionary<string, string?> Values);

internal static class RecordEndpoints
{
    private const int MostFirst = 5;

    // More than a value may have, so that it is told which one is too long.
    private const long MaxBodyBytes = 12 * 1024 * 1024;

    public static void MapRecords(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Records").OpensPanel().ForMembers();
        panel
            .MapPost("/records", AddAsync)
            .WithName("addRecord")
            .MayBePending()
            .WithMetadata(new RequestSizeLimitAttribute(MaxBodyBytes));
        panel.MapGet("/next-number", ProposeNumberAsync).WithName("proposeNumber");
        panel.MapGet("/records/{key}", FindAsync).WithName("findRecord");
        panel
            .MapPut("/records/{key}", UpdateAsync)
            .WithName("updateRecord")
            .MayBePending()
            .WithMetadata(new RequestSizeLimitAttribute(MaxBodyBytes));
        panel
            .MapPost("/records/checking", CheckTypedAsync)
            .WithName("checkTyped")
            .WithSummary(
                "What the panel's rules say of a record that is being typed: checks, computed columns, fields. Nothing is saved."
            );
        panel.MapGet("/records/{key}/related", FindRelatedAsync).WithName("findRelated");
        panel
            .MapGet("/records/{key}/above", FindAboveAsync)
            .WithName("findAbove")
            .WithSummary("The records of the same table that stand above a record, from the topmost down.");
        panel.MapGet("/records/{key}/pictures/{column}", FindPictureAsync).WithName("findPicture");
        panel
            .MapPost("/changes", UpdateAllAsync)
            .WithName("updateRecords")
            .Needs(PanelActs.ChangeMany)
            .MayBePending()
            .WithMetadata(new RequestSizeLimitAttribute(MaxBodyBytes));
        panel.MapPost("/changes/undo", UndoAllAsync).WithName("undoChanges").Needs(PanelActs.ChangeMany).MayBePending();
        panel.MapGet("/lookups/{column}", ChooseAsync).WithName("chooseLookup");
        panel
            .MapGet("/lookups/{column}/before/{restriction}", ChooseBeforeAsync)
            .WithName("chooseBefore")
            .WithSummary("The values among which one is chosen before a lookup's record is, so that fewer are offered.");
        panel
            .MapGet("/earlier/{column}", SuggestAsync)
            .WithName("findEarlier")
            .WithSummary("Values that other records have in a column, for a field that offers them.");
    }

    private static async Task<Results<Ok<RecordView>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        string key,
        HttpResponse response,
        FileFolder folder,
        CancellationToken cancellationToken
    )
    {
        var records = here.Records();
        if (await records.FindAsync(key, cancellationToken) is not { } record)
            return TypedResults.NotFound();
        response.Tell(record.Version);
        return TypedResults.Ok(record.WithFiles(records.Seen.Panel, folder));
    }

    private static async Task<Results<Ok<ProposedNumber>, NotFound, ProblemHttpResult>> ProposeNumberAsync(
        [AsParameters] PanelHere here,
        CancellationToken cancellationToken
    )
    {
        var number = await here.Records().ProposeNumberAsync(cancellationToken);
        return TypedResults.Ok(new ProposedNumber(number?.Column, number?.Value));
    }

    private static async Task<Results<Created<RecordView>, NoContent, NotFound, ProblemHttpResult, ValidationProblem>> AddAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        RecordRequest request,
        HttpResponse response,
        ActRunner acts,
        UploadStore uploads,
        FileFolder folder,
        CancellationToken cancellationToken
    )
    {
        var records = here.Opened.Records();
        if (!records.Seen.Panel.CanAdd)
            return Problems.NotAllowed(WhyNot(records.Seen.Panel, PanelActs.Add, "add records to", "INSERT"));
        if (RecordInput.TooLong(records.Seen.Panel, request.Values) is { Count: > 0 } tooLong)
            return Problems.Of(tooLong);
        var assigned = NextNumber.ColumnOf(records.Seen.Panel) is { } column ? new HashSet<string> { column.Name } : [];
        var input = RecordInput.Check(records.Seen.Panel, request.Values, isNew: true, assigned, withFiles: true);
        var belonging = await BelongingInput.CheckAsync(here, request.Belonging ?? [], acts, cancellationToken);
        var filled = await uploads.FillAsync(
            here.Opened.Id,
            records.Seen.Panel,
            input.With(belonging.Problems),
            _ => Task.FromResult<IReadOnlyList<string>>([]),
            cancellationToken
        );
        if (filled.Input.Problems.Count > 0)
            return Problems.Of(filled.Input.Problems);
        var outcome = await once.DoAsync<WriteOutcome, WriteOutcome.Written>(here, request, () =>
            new RecordWriter(records, acts, here.Opened).AddAsync(filled.Input.Values, cancellationToken, belonging.Parts)
        );
        if (outcome is not WriteOutcome.Written)
            filled.TakeBack();
        switch (outcome)
        {
            case WriteOutcome.Written({ } written):
                var record = (await records.WithComputedAsync(written, cancellationToken)).WithFiles(records.Seen.Panel, folder);
                response.Tell(record.Version);
                return TypedResults.Created(
                    $"/api/porches/{here.Porch}/panels/{here.Panel}/records/{Uri.EscapeDataString(record.Key)}",
                    record
                );
            case WriteOutcome.Refused(var problems):
                return Problems.Of(problems);
            default:
                return TypedResults.NoContent();
        }
    }

    private static async Task<
        Results<Ok<RecordView>, NoContent, NotFound, ProblemHttpResult, ValidationProblem, PreconditionFailed<RecordView>>
    > UpdateAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        string key,
        RecordRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpResponse response,
        ActRunner acts,
        UploadStore uploads,
        FileFolder folder,
        CancellationToken cancellationToken
    )
    {
        var records = here.Opened.Records();
        if (!records.Seen.Panel.CanEdit)
            return Problems.NotAllowed(WhyNot(records.Seen.Panel, PanelActs.Change, "change records of", "UPDATE"));
        if (Versions.Read(ifMatch) is not { } version)
            return Problems.VersionMissing();
        if (RecordInput.TooLong(records.Seen.Panel, request.Values) is { Count: > 0 } tooLong)
            return Problems.Of(tooLong);
        var given = await records.ChangesAsync(key, request.Values, cancellationToken);
        var input = RecordInput.Check(records.Seen.Panel, given, isNew: false, assigned: new HashSet<string>(), withFiles: true);
        var belonging = await BelongingInput.CheckAsync(here, request.Belonging ?? [], acts, cancellationToken);
        var filled = await uploads.FillAsync(
            here.Opened.Id,
            records.Seen.Panel,
            input.With(belonging.Problems),
            column => records.PathsAsync(key, column, cancellationToken),
            cancellationToken
        );
        if (filled.Input.Problems.Count > 0)
            return Problems.Of(filled.Input.Problems);
        var outcome = await once.DoAsync<WriteOutcome, WriteOutcome.Written>(here, new { request, version }, () =>
            new RecordWriter(records, acts, here.Opened).UpdateAsync(
                key,
                version,
                filled.Input.Values,
                cancellationToken,
                belonging.Parts
            )
        );
        if (outcome is not WriteOutcome.Written)
            filled.TakeBack();
        switch (outcome)
        {
            case WriteOutcome.Written({ } written):
                var record = (await records.WithComputedAsync(written, cancellationToken)).WithFiles(records.Seen.Panel, folder);
                response.Tell(record.Version);
                return TypedResults.Ok(record);
            case WriteOutcome.Written:
                return TypedResults.NoContent();
            case WriteOutcome.Refused(var problems):
                return Problems.Of(problems);
            case WriteOutcome.Conflict(var current):
                return new PreconditionFailed<RecordView>(current, current.Version);
            // Without a key nobody can tell where a row went that somebody has written to.
            case WriteOutcome.Gone when here.Bound.Identity.ByPlace:
                return Problems.Of([
                    new FieldProblem(
                        "",
                        "Somebody has changed or removed this record since it was shown. Nothing was saved. Look for it in the list."
                    ),
                ]);
            default:
                return TypedResults.NotFound();
        }
    }

    private static async Task<Results<Ok<ChangeOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> UpdateAllAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        ChangeRequest request,
        ActRunner acts,
        CancellationToken cancellationToken
    )
    {
        var records = here.Opened.Records();
        if (!records.Seen.Panel.CanEdit)
            return Problems.NotAllowed(WhyNot(records.Seen.Panel, PanelActs.Change, "change records of", "UPDATE"));
        if (RecordInput.TooLong(records.Seen.Panel, request.Values) is { Count: > 0 } tooLong)
            return Problems.Of(tooLong);
        if (!RecordSelection.TryRead(records.Seen.Panel, request.Keys, out var chosen, out var problem))
            return Problems.Of([problem!]);
        if (!records.Seen.Panel.Identity.Exists)
            return Problems.Of([
                new FieldProblem(
                    "keys",
                    "The records of this panel have no key, so several cannot be changed at once. Change them one by one."
                ),
            ]);
        if (request.Values.Count == 0)
            return Problems.Of([new FieldProblem("values", "No column was given. Choose one to change.")]);
        if (request.Values.Keys.FirstOrDefault(records.Seen.Panel.IsIdentifying) is { } identifying)
            return Problems.Of([
                new FieldProblem(
                    identifying,
                    "It identifies the records, so they cannot all have the same value. Change them one by one."
                ),
            ]);
        var input = RecordInput.Check(records.Seen.Panel, request.Values, isNew: false, assigned: new HashSet<string>());
        if (input.Problems.Count > 0)
            return Problems.Of(input.Problems);
        var outcome = await once.DoAsync<ChangeOutcome, ChangeOutcome.Done>(here, request, () =>
            new RecordWriter(records, acts, here.Opened).UpdateAllAsync(chosen!, input.Values, cancellationToken)
        );
        return Answer(outcome);
    }

    private static Results<Ok<ChangeOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem> Answer(
        ChangeOutcome outcome
    ) =>
        outcome switch
        {
            ChangeOutcome.Refused(var problems) => Problems.Of(problems),
            ChangeOutcome.Done done => TypedResults.Ok(done),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };

    private static async Task<Results<Ok<ChangeOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> UndoAllAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        UndoRequest request,
        ActRunner acts,
        LogReader log,
        CancellationToken cancellationToken
    )
    {
        var records = here.Opened.Records();
        if (!records.Seen.Panel.CanEdit)
            return Problems.NotAllowed(WhyNot(records.Seen.Panel, PanelActs.Change, "change records of", "UPDATE"));
        var own = log.PartsAsync(here.Opened.Porch.Id, here.Bound.Table.Name, request.Entry, cancellationToken);
        var outcome = await once.DoAsync<ChangeOutcome, ChangeOutcome.Done>(here, request, () =>
            new RecordWriter(records, acts, here.Opened).UndoAllAsync(own, cancellationToken)
        );
        return Answer(outcome);
    }

    private static async Task<Results<FileContentHttpResult, StatusCodeHttpResult, NotFound, ProblemHttpResult>> FindPictureAsync(
        [AsParameters] PanelHere here,
        string key,
        string column,
        HttpContext http,
        Thumbnails thumbnails,
        FileFolder folder,
        CancellationToken cancellationToken,
        int? size = null,
        int place = 0
    )
    {
        var records = here.Records();
        if (records.Seen.Panel.Find(column) is not { IsPicture: true } pictured || !records.Seen.Panel.IsVisible(pictured))
            return TypedResults.NotFound();
        FileInfo? file = null;
        if (
            pictured.Files is { } files
            && (file = await records.FileAsync(key, pictured, files, place, folder, cancellationToken)) is null
        )
            return TypedResults.NotFound();
        var stamp = file is null
            ? await records.StampAsync(key, pictured, cancellationToken)
            : string.Create(CultureInfo.InvariantCulture, $"{file.LastWriteTimeUtc.Ticks}-{file.Length}");
        if (stamp is null)
            return TypedResults.NotFound();
        http.Response.Headers.CacheControl = "private, no-cache";
        http.Response.Headers.ETag = $"\"{stamp}\"";
        if (http.Request.Headers.IfNoneMatch.Contains($"\"{stamp}\""))
            return TypedResults.StatusCode(StatusCodes.Status304NotModified);
        var picture = await thumbnails.FindAsync(
            new PictureName(
                file?.FullName ?? $"{here.Opened.Source.Id}/{here.Opened.Definition.Table}/{key}/{column}",
                stamp,
                Thumbnails.SizeFor(size)
            ),
            async () =>
                file is null ? await records.BytesAsync(key, pictured, Thumbnails.MaxBytes, cancellationToken)
                : file.Length > Thumbnails.MaxBytes ? null
                : await File.ReadAllBytesAsync(file.FullName, cancellationToken),
            cancellationToken
        );
        return picture is null ? TypedResults.NotFound() : TypedResults.File(picture, Thumbnails.MediaType);
    }

    private static async Task<Results<Ok<TypedAnswer>, NotFound, ProblemHttpResult>> CheckTypedAsync(
        [AsParameters] PanelHere here,
        TypedRecord typed,
        Caller caller,
        CancellationToken cancellationToken
    )
    {
        var input = RecordInput.Check(here.Bound, typed.Values, isNew: false, assigned: new HashSet<string>());
        return TypedResults.Ok(
            await new TypedRules(here.Opened, caller.Name).FindAsync(
                typed.Key,
                input.Values,
                input.Problems.Select(problem => problem.Field).ToHashSet(),
                cancellationToken
            )
        );
    }

    private static async Task<Results<Ok<IReadOnlyList<RelatedList>>, NotFound, ProblemHttpResult>> FindRelatedAsync(
        [AsParameters] PanelHere here,
        string key,
        CancellationToken cancellationToken
    )
    {
        return await here.Records().RelatedAsync(key, cancellationToken) is { } related
            ? TypedResults.Ok(related)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<RecordsAbove>, NotFound, ProblemHttpResult>> FindAboveAsync(
        [AsParameters] PanelHere here,
        string key,
        CancellationToken cancellationToken
    )
    {
        return await here.Records().AboveAsync(key, cancellationToken) is { } above
            ? TypedResults.Ok(above)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<LookupChoices>, NotFound, ProblemHttpResult, ValidationProblem>> ChooseAsync(
        [AsParameters] PanelHere here,
        string column,
        CancellationToken cancellationToken,
        string? q = null,
        string[]? within = null,
        string[]? value = null,
        string[]? first = null
    )
    {
        if (TooLong(q) is { } problem)
            return Problems.Of([problem]);
        if (within?.Length != value?.Length)
            return Problems.Of([new FieldProblem("value", "Each “within” needs a “value” of its own. Give as many of both.")]);
        if (first?.Length > MostFirst)
            return Problems.Of([new FieldProblem("first", $"At most {MostFirst} values can stand first. Leave some out.")]);
        var question = new LookupQuestion(q)
        {
            Within = (within ?? [])
                .Zip(value ?? [])
                .DistinctBy(pair => pair.First)
                .ToDictionary(pair => pair.First, string? (pair) => pair.Second),
            First = first ?? [],
        };
        return await here.Records().ChooseAsync(column, question, cancellationToken) is { } choices
            ? TypedResults.Ok(choices)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<LookupChoices>, NotFound, ProblemHttpResult, ValidationProblem>> ChooseBeforeAsync(
        [AsParameters] PanelHere here,
        string column,
        string restriction,
        CancellationToken cancellationToken,
        string? q = null
    )
    {
        if (TooLong(q) is { } problem)
            return Problems.Of([problem]);
        return await here.Records().ChooseBeforeAsync(column, restriction, q, cancellationToken) is { } choices
            ? TypedResults.Ok(choices)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<IReadOnlyList<string>>, NotFound, ProblemHttpResult, ValidationProblem>> SuggestAsync(
        [AsParameters] PanelHere here,
        string column,
        CodeRunner code,
        CancellationToken cancellationToken,
        string? q = null
    )
    {
        if (TooLong(q) is { } problem)
            return Problems.Of([problem]);
        var bound = here.Opened.Bound!;
        if (
            bound.Find(column) is { OffersEarlier: true }
            && await code.OfferAsync(bound.Table.Name, column, q ?? "", cancellationToken) is { } offered
        )
            return TypedResults.Ok(offered);
        return await here.Records().SuggestAsync(column, q ?? "", cancellationToken) is { } values
            ? TypedResults.Ok(values)
            : TypedResults.NotFound();
    }

    private static FieldProblem? TooLong(string? q) =>
        q?.Length > SearchText.MaxLength
            ? new FieldProblem("q", $"A search has at most {SearchText.MaxLength} characters. Shorten it.")
            : null;

    internal static Refusal WhyNot(BoundPanel panel, PanelActs act, string words, string right) =>
        panel.NotEditableBecause
        ?? PanelHereFilter.WhyNot(panel, act)
        ?? new Refusal(
            $"The database user is not allowed to {words} {panel.Table.Name}.",
            $"Grant it {right} and read the schema again."
        );
}
