using System.Text.Json;
using System.Threading.Channels;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Removal;
using PlainPorch.Web.Acts;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;
using PlainPorch.Web.Query;
using PlainPorch.Web.Records;

namespace PlainPorch.Web.Removal;

/// <summary>Records to be removed.</summary>
/// <param name="Keys">Their keys.</param>
/// <param name="ForGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
public sealed record ProposalRequest(IReadOnlyList<string> Keys, bool ForGood = false);

/// <summary>Records of one part of what a removal would do.</summary>
/// <param name="Keys">The keys of the records to be removed.</param>
/// <param name="Part">The part's number, as the plan told it.</param>
/// <param name="ForGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
/// <param name="Skip">How many of them are known already.</param>
public sealed record AffectedRequest(IReadOnlyList<string> Keys, int Part, bool ForGood = false, int Skip = 0);

/// <summary>A removal that was looked at and is wanted.</summary>
/// <param name="Keys">The records' keys.</param>
/// <param name="Fingerprint">The fingerprint of what was shown.</param>
/// <param name="ForGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
/// <param name="Typed">The number that was typed, where it has to be.</param>
public sealed record RemovalRequest(IReadOnlyList<string> Keys, string Fingerprint, bool ForGood = false, int? Typed = null);

/// <summary>A line about a removal at work; of its members one is there.</summary>
/// <param name="Progress">How far it is.</param>
/// <param name="Done">It was carried out.</param>
/// <param name="Stale">Something changed since it was looked at; nothing was done, and this is what it would be now.</param>
/// <param name="Problems">Why it was refused; nothing was done.</param>
/// <param name="Pending">It is not known yet whether it was carried out.</param>
public sealed record RemovalLine(
    RemovalProgress? Progress = null,
    RemovalOutcome.Done? Done = null,
    RemovalProposal? Stale = null,
    IReadOnlyList<FieldProblem>? Problems = null,
    OutcomePending? Pending = null
);

/// <summary>What is wanted back.</summary>
/// <param name="Parts">The parts of the parcel, or null for all.</param>
/// <param name="Choices">What was decided about conflicts.</param>
public sealed record ReturnRequest(IReadOnlyList<WantedPart>? Parts = null, IReadOnlyList<ConflictChoice>? Choices = null);

/// <summary>A parcel to be erased for good.</summary>
/// <param name="Typed">The number of its records.</param>
public sealed record EraseRequest(int Typed);

internal static class RemovalEndpoints
{
    private const string Lines = "application/x-ndjson";

    public static void MapRemovals(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Removal").OpensPanel().ForMembers();
        var removal = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Removal").OpensPanel(WhyNot).ForMembers();
        removal.MapPost("/removal-plan", ProposeAsync).WithName("planRemoval");
        removal.MapPost("/removal-plan/records", ListAffectedAsync).WithName("listAffected");
        removal
            .MapPost("/removals", RemoveAsync)
            .WithName("remove")
            .WithMetadata(new LastsLong())
            .MayBePending()
            .Produces<RemovalLine>(StatusCodes.Status200OK, Lines)
            .WithDescription(
                $"With Accept: {Lines} it reports its progress line by line; aborting the request leaves everything unchanged."
            );
        panel.MapGet("/set-aside", ListAsync).WithName("listSetAside").Needs(PanelActs.SeeSetAside);
        panel.MapGet("/set-aside/count", CountAsync).WithName("countSetAside").Needs(PanelActs.SeeSetAside);
        panel.MapPost("/set-aside/unmark", UnmarkAsync).WithName("unmark").Needs(PanelActs.BringBack).MayBePending();
        panel.MapGet("/set-aside/{parcel:long}", FindAsync).WithName("findParcel").Needs(PanelActs.SeeSetAside);
        panel
            .MapGet("/set-aside/{parcel:long}/parts/{place:int}", ListRecordsAsync)
            .WithName("listParcelRecords")
            .Needs(PanelActs.SeeSetAside);
        panel
            .MapPost("/set-aside/{parcel:long}/return-plan", ProposeReturnAsync)
            .WithName("planReturn")
            .Needs(PanelActs.BringBack);
        panel
            .MapPost("/set-aside/{parcel:long}/return", ReturnAsync)
            .WithName("bringBack")
            .Needs(PanelActs.BringBack)
            .WithMetadata(new LastsLong())
            .MayBePending();
        panel.MapPost("/set-aside/{parcel:long}/erase", EraseAsync).WithName("eraseParcel").Needs(PanelActs.Erase).MayBePending();
        panel.MapGet("/records/{key}/parcel", FindOfRecordAsync).WithName("findParcelOfRecord").Needs(PanelActs.SeeSetAside);
    }

    private static async Task<Results<Ok<RemovalProposal>, NotFound, ProblemHttpResult, ValidationProblem>> ProposeAsync(
        [AsParameters] PanelHere here,
        ProposalRequest request,
        Remover remover,
        CancellationToken cancellationToken
    )
    {
        if (request.ForGood && PanelHereFilter.WhyNot(here.Bound, PanelActs.Erase) is { } kept)
            return Problems.NotAllowed(kept);
        if (!RecordSelection.TryRead(here.Bound, request.Keys, out var chosen, out var problem))
            return Problems.Of([problem!]);
        if (await remover.ProposeAsync(here.Opened, chosen!, request.ForGood, cancellationToken) is { } proposal)
            return TypedResults.Ok(proposal);
        return await Remover.WhyNoneAsync(here.Opened, chosen!, cancellationToken) is { } doubled
            ? Problems.Of([doubled])
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<AffectedPage>, NotFound, ProblemHttpResult, ValidationProblem>> ListAffectedAsync(
        [AsParameters] PanelHere here,
        AffectedRequest request,
        Remover remover,
        CancellationToken cancellationToken
    )
    {
        if (request.Skip < 0)
            return Problems.Of([new FieldProblem("skip", "Give the number already shown: 0 or more.")]);
        if (request.ForGood && PanelHereFilter.WhyNot(here.Bound, PanelActs.Erase) is { } kept)
            return Problems.NotAllowed(kept);
        if (!RecordSelection.TryRead(here.Bound, request.Keys, out var chosen, out var problem))
            return Problems.Of([problem!]);
        return
            await remover.ListAsync(here.Opened, chosen!, request.ForGood, request.Part, request.Skip, cancellationToken)
                is { } page
            ? TypedResults.Ok(page)
            : TypedResults.NotFound();
    }

    private static async Task<
        Results<
            Ok<RemovalOutcome.Done>,
            Conflict<RemovalProposal>,
            EmptyHttpResult,
            NotFound,
            ProblemHttpResult,
            ValidationProblem
        >
    > RemoveAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        RemovalRequest request,
        HttpContext http,
        Remover remover,
        CancellationToken cancellationToken
    )
    {
        if (request.ForGood && PanelHereFilter.WhyNot(here.Bound, PanelActs.Erase) is { } kept)
            return Problems.NotAllowed(kept);
        if (!RecordSelection.TryRead(here.Bound, request.Keys, out var chosen, out var problem))
            return Problems.Of([problem!]);
        Task<RemovalOutcome> Work(IProgress<RemovalProgress>? progress) =>
            once.DoAsync<RemovalOutcome, RemovalOutcome.Done>(here, request, () =>
                remover.RemoveAsync(
                    here.Opened,
                    chosen!,
                    request.ForGood,
                    request.Fingerprint,
                    request.Typed,
                    progress,
                    cancellationToken
                )
            );
        if (http.Request.Headers.Accept.ToString().Contains(Lines, StringComparison.OrdinalIgnoreCase))
        {
            await TellAsync(http, Work, cancellationToken);
            return TypedResults.Empty;
        }

        return await Work(null) switch
        {
            RemovalOutcome.Done done => TypedResults.Ok(done),
            RemovalOutcome.Stale(var now) => TypedResults.Conflict(now),
            RemovalOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task TellAsync(
        HttpContext http,
        Func<IProgress<RemovalProgress>, Task<RemovalOutcome>> work,
        CancellationToken cancellationToken
    )
    {
        var json = http.RequestServices.GetRequiredService<IOptions<JsonOptions>>().Value.SerializerOptions;
        var lines = Channel.CreateUnbounded<RemovalLine>();
        var working = Task.Run(
            async () =>
            {
                try
                {
                    var outcome = await work(new Told(lines.Writer));
                    lines.Writer.TryWrite(
                        outcome switch
                        {
                            RemovalOutcome.Done done => new RemovalLine(Done: done),
                            RemovalOutcome.Stale(var now) => new RemovalLine(Stale: now),
                            RemovalOutcome.Refused(var problems) => new RemovalLine(Problems: problems),
                            _ => new RemovalLine(
                                Problems: [new FieldProblem("", "None of the records exists any more. Reload the list.")]
                            ),
                        }
                    );
                }
                catch (OutcomeUnknownException unknown)
                {
                    lines.Writer.TryWrite(new RemovalLine(Pending: OutcomeHandler.Of(http, unknown)));
                }
                catch (Exception failure) when (OutcomeHandler.Explain(failure) is { } says)
                {
                    lines.Writer.TryWrite(new RemovalLine(Problems: [new FieldProblem("", says)]));
                }
                finally
                {
                    lines.Writer.Complete();
                }
            },
            CancellationToken.None
        );
        http.Response.ContentType = Lines;
        await foreach (var line in lines.Reader.ReadAllAsync(CancellationToken.None))
        {
            // The work notices by itself that nobody waits any more; its end has to be waited for.
            if (cancellationToken.IsCancellationRequested)
                continue;
            await http.Response.WriteAsync(JsonSerializer.Serialize(line, json) + "\n", CancellationToken.None);
            await http.Response.Body.FlushAsync(CancellationToken.None);
        }

        await working;
    }

    private static async Task<Results<Ok<ParcelPage>, NotFound, ProblemHttpResult>> ListAsync(
        [AsParameters] PanelHere here,
        ParcelReader parcels,
        CancellationToken cancellationToken,
        long? before = null,
        string? q = null,
        bool returned = false
    )
    {
        return TypedResults.Ok(await parcels.ListAsync(here.Opened, before, q, returned, cancellationToken));
    }

    private static async Task<Results<Ok<SetAsideCount>, NotFound, ProblemHttpResult>> CountAsync(
        [AsParameters] PanelHere here,
        ParcelReader parcels,
        CancellationToken cancellationToken
    )
    {
        return TypedResults.Ok(await parcels.CountAsync(here.Opened, cancellationToken));
    }

    private static async Task<Results<Ok<ParcelSummary>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        long parcel,
        ParcelReader parcels,
        CancellationToken cancellationToken
    )
    {
        return await parcels.FindAsync(here.Opened, parcel, cancellationToken) is { } found
            ? TypedResults.Ok(found)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<ParcelSummary>, NotFound, ProblemHttpResult>> FindOfRecordAsync(
        [AsParameters] PanelHere here,
        string key,
        ParcelReader parcels,
        CancellationToken cancellationToken
    )
    {
        return await parcels.OfAsync(here.Opened, key, cancellationToken) is { } found
            ? TypedResults.Ok(found)
            : TypedResults.NotFound();
    }

    private static async Task<Results<Ok<IReadOnlyList<ParcelRecordSummary>>, NotFound, ProblemHttpResult>> ListRecordsAsync(
        [AsParameters] PanelHere here,
        long parcel,
        int place,
        ParcelReader parcels,
        CancellationToken cancellationToken
    )
    {
        return TypedResults.Ok(await parcels.RecordsAsync(here.Opened, parcel, place, cancellationToken));
    }

    private static async Task<Results<Ok<ReturnProposal>, NotFound, ProblemHttpResult>> ProposeReturnAsync(
        [AsParameters] PanelHere here,
        long parcel,
        ReturnRequest request,
        Returner returner,
        CancellationToken cancellationToken
    )
    {
        return
            await returner.ProposeAsync(here.Opened, parcel, request.Parts, request.Choices ?? [], cancellationToken)
                is { } proposal
            ? TypedResults.Ok(proposal)
            : TypedResults.NotFound();
    }

    private static async Task<
        Results<Ok<ReturnOutcome.Done>, Conflict<ReturnProposal>, NotFound, ProblemHttpResult, ValidationProblem>
    > ReturnAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        long parcel,
        ReturnRequest request,
        Returner returner,
        CancellationToken cancellationToken
    )
    {
        return await once.DoAsync<ReturnOutcome, ReturnOutcome.Done>(here, request, () =>
            returner.ReturnAsync(here.Opened, parcel, request.Parts, request.Choices ?? [], cancellationToken)
        ) switch
        {
            ReturnOutcome.Done done => TypedResults.Ok(done),
            ReturnOutcome.Undecided(var now) => TypedResults.Conflict(now),
            ReturnOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<Ok<ReturnOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> UnmarkAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        ChosenRecords request,
        Returner returner,
        CancellationToken cancellationToken
    )
    {
        if (!RecordSelection.TryRead(here.Bound, request.Keys, out var chosen, out var problem))
            return Problems.Of([problem!]);
        return await once.DoAsync<ReturnOutcome, ReturnOutcome.Done>(here, request, () =>
            returner.UnmarkAsync(here.Opened, chosen!, cancellationToken)
        ) switch
        {
            ReturnOutcome.Done done => TypedResults.Ok(done),
            ReturnOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<Results<Ok<ReturnOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> EraseAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        long parcel,
        EraseRequest request,
        Returner returner,
        CancellationToken cancellationToken
    )
    {
        return await once.DoAsync<ReturnOutcome, ReturnOutcome.Done>(here, request, () =>
            returner.EraseAsync(here.Opened, parcel, request.Typed, cancellationToken)
        ) switch
        {
            ReturnOutcome.Done done => TypedResults.Ok(done),
            ReturnOutcome.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static Refusal? WhyNot(OpenPanel panel) =>
        panel.Bound! switch
        {
            { CanRemove: true } => null,
            { Manner: RemovalManner.NotAllowed, NotEditableBecause: null } bound => new Refusal(
                $"Records of {bound.Definition.Label} cannot be removed here.",
                "It can be allowed in the panel's set-up."
            ),
            var bound => RecordEndpoints.WhyNot(
                bound,
                bound.Manner is RemovalManner.Erase ? PanelActs.Erase : PanelActs.SetAside,
                "remove records of",
                bound.Manner is RemovalManner.Mark ? "UPDATE" : "DELETE"
            ),
        };

    private sealed class Told(ChannelWriter<RemovalLine> lines) : IProgress<RemovalProgress>
    {
        public void Report(RemovalProgress value) => lines.TryWrite(new RemovalLine(Progress: value));
    }
}
