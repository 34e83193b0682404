using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Tidying;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Records;
using PlainPorch.Data.Tidying;
using PlainPorch.Web.Acts;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;
using PlainPorch.Web.Records;

namespace PlainPorch.Web.Tidying;

/// <summary>What spellings of a column are to become.</summary>
/// <param name="Changes">Stored spellings with the values that take their place, as a form sends them; null for none.</param>
public sealed record TidyRequest(IReadOnlyList<SpellingChange> Changes);

/// <summary>How far a request is that is being carried out.</summary>
/// <param name="Done">How many records are done; null where that is not known.</param>
public sealed record TidyProgress(int? Done);

internal static class TidyingEndpoints
{
    public static void MapTidying(this IEndpointRouteBuilder api)
    {
        var tidying = api.MapGroup("/porches/{porch}/panels/{panel}/tidying").WithTags("Tidying").OpensPanel().ForMembers();
        tidying.MapGet("/", ListColumns).WithName("listTidyColumns").Needs(PanelActs.ChangeMany);
        tidying
            .MapGet("/{column}", FindAsync)
            .WithName("findSpellings")
            .Needs(PanelActs.ChangeMany)
            .WithMetadata(new LastsLong());
        tidying
            .MapPost("/{column}", TidyAsync)
            .WithName("tidyValues")
            .Needs(PanelActs.ChangeMany)
            .WithMetadata(new LastsLong())
            .MayBePending();
        tidying.MapGet("/{column}/progress/{key}", HowFarAsync).WithName("findTidyProgress").Needs(PanelActs.ChangeMany);
    }

    private static Results<Ok<IReadOnlyList<TidyColumn>>, NotFound, ProblemHttpResult> ListColumns(
        [AsParameters] PanelHere here
    ) => TypedResults.Ok(SpellingReader.ColumnsOf(here.Bound));

    private static async Task<Results<Ok<ColumnSpellings>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        string column,
        CancellationToken cancellationToken
    ) =>
        await new SpellingReader(here.Opened.Seen).ReadAsync(column, cancellationToken) is { } spellings
            ? TypedResults.Ok(spellings)
            : TypedResults.NotFound();

    private static async Task<Results<Ok<ChangeOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> TidyAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        string column,
        TidyRequest request,
        ActRunner acts,
        CancellationToken cancellationToken
    )
    {
        if (SpellingReader.ColumnsOf(here.Bound).All(one => one.Name != column))
            return TypedResults.NotFound();
        if (!here.Bound.CanEdit || !here.Bound.Identity.Exists)
            return Problems.NotAllowed(
                here.Bound.CanEdit
                    ? new(here.Bound.Identity.MissingBecause!, here.Bound.Identity.Remedy!)
                    : RecordEndpoints.WhyNot(here.Bound, PanelActs.Change, "change records of", "UPDATE")
            );
        if (TidyingCheck.Check(here.Bound, column, request.Changes, out var changes) is { Count: > 0 } problems)
            return Problems.Of(problems);
        var outcome = await once.DoAsync<ChangeOutcome, ChangeOutcome.Done>(here, request, () =>
            new RecordWriter(here.Opened.Records(), acts, here.Opened).TidyAsync(
                column,
                changes,
                once.Repeats.TellAsync,
                cancellationToken
            )
        );
        return outcome switch
        {
            ChangeOutcome.Done done => TypedResults.Ok(done),
            ChangeOutcome.Refused(var refused) => Problems.Of(refused),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };
    }

    private static async Task<Ok<TidyProgress>> HowFarAsync(
        [AsParameters] PanelHere here,
        string column,
        string key,
        Repeats repeats,
        CancellationToken cancellationToken
    ) => TypedResults.Ok(new TidyProgress(await repeats.HowFarAsync(key, cancellationToken)));
}
