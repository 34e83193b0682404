using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Query;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;
using PlainPorch.Data.Ordering;
using PlainPorch.Web.Acts;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Ordering;

/// <summary>How a panel's running order stands.</summary>
/// <param name="State">What the position column holds.</param>
/// <param name="IsNumbered">Whether records can be moved.</param>
public sealed record RunningOrderDto(OrderState State, bool IsNumbered);

/// <summary>An order to number records from.</summary>
/// <param name="By">Columns as a list's order has them; empty for the present positions, ties broken by the key.</param>
/// <param name="IsPreview">Whether it is only to be told what it would do.</param>
public sealed record NumberingRequest(IReadOnlyList<string> By, bool IsPreview);

/// <summary>Records to be moved in the running order.</summary>
/// <param name="Keys">Their keys, in the order that they get.</param>
/// <param name="Before">The key of the record that they come before.</param>
/// <param name="After">The key of the record that they come after.</param>
/// <param name="Place">Their place in their group, from 1.</param>
/// <param name="ToEnd">Whether they come last; first where nothing else is given.</param>
public sealed record MoveRequest(
    IReadOnlyList<string> Keys,
    string? Before = null,
    string? After = null,
    int? Place = null,
    bool ToEnd = false
);

internal static class OrderingEndpoints
{
    public static void MapOrdering(this IEndpointRouteBuilder api)
    {
        var order = api.MapGroup("/porches/{porch}/panels/{panel}/order")
            .WithTags("Running order")
            .OpensPanel(OrderKeeper.WhyNot)
            .ForMembers();
        order.MapGet("/", FindAsync).WithName("findOrder").Needs(PanelActs.Reorder);
        order
            .MapPost("/numbering", NumberAsync)
            .WithName("numberOrder")
            .Needs(PanelActs.Reorder)
            .WithMetadata(new LastsLong())
            .MayBePending();
        order.MapPost("/moves", MoveAsync).WithName("move").Needs(PanelActs.Reorder).MayBePending();
        order.MapPost("/undo", UndoAsync).WithName("undoMove").Needs(PanelActs.Reorder).MayBePending();
    }

    private static async Task<Results<Ok<RunningOrderDto>, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        CancellationToken cancellationToken
    )
    {
        var state = await OrderKeeper.StateAsync(here.Opened, cancellationToken);
        return TypedResults.Ok(new RunningOrderDto(state, state.IsNumbered));
    }

    private static async Task<Results<Ok<NumberingResult>, NotFound, ProblemHttpResult, ValidationProblem>> NumberAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        NumberingRequest request,
        OrderKeeper keeper,
        CancellationToken cancellationToken
    )
    {
        var problems = new List<FieldProblem>();
        var by = OrderReader.Read(here.Bound, request.By, problems);
        if (problems.Count > 0)
            return Problems.Of(problems.Select(problem => problem with { Field = "by" }));
        return await once.DoAsync<NumberingOutcome, NumberingResult>(here, request, () =>
            keeper.NumberAsync(here.Opened, by, request.IsPreview, cancellationToken)
        ) switch
        {
            NumberingResult result => TypedResults.Ok(result),
            NumberingRefused(var refusal) => Problems.NotAllowed(refusal),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };
    }

    private static async Task<Results<Ok<MoveOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> MoveAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        MoveRequest request,
        OrderKeeper keeper,
        CancellationToken cancellationToken
    )
    {
        var target = new MoveTarget(request.Before, request.After, request.Place, request.ToEnd);
        return await once.DoAsync<MoveOutcome, MoveOutcome.Done>(here, request, () =>
            keeper.MoveAsync(here.Opened, request.Keys, target, cancellationToken)
        ) switch
        {
            MoveOutcome.Done done => TypedResults.Ok(done),
            MoveOutcome.Refused(var problems) => Problems.Of(problems),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };
    }

    private static async Task<Results<Ok<MoveOutcome.Done>, NotFound, ProblemHttpResult, ValidationProblem>> UndoAsync(
        [AsParameters] PanelHere here,
        [AsParameters] Once once,
        UndoRequest request,
        OrderKeeper keeper,
        LogReader log,
        CancellationToken cancellationToken
    )
    {
        var own = await log.RecordsAsync(here.Opened.Porch.Id, here.Bound.Table.Name, request.Entry, cancellationToken);
        return await once.DoAsync<MoveOutcome, MoveOutcome.Done>(here, request, () =>
            keeper.UndoAsync(here.Opened, own, cancellationToken)
        ) switch
        {
            MoveOutcome.Done done => TypedResults.Ok(done),
            MoveOutcome.Refused(var problems) => Problems.Of(problems),
            var other => throw new InvalidOperationException($"An outcome that is not known here: {other}."),
        };
    }
}
