using System.Globalization;
using Npgsql;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Removal;

/// <summary>
/// Removes records as their panel's manner says, after what was shown: all of it in one transaction of the source, or nothing.
/// </summary>
/// <remarks>
/// The keep and the logbook may be in another database than the source: <see cref="ActRunner"/> carries it out across both.
/// </remarks>
/// <param name="parcels">What was set aside.</param>
/// <param name="acts">Carries it out.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class Remover(ParcelStore parcels, ActRunner acts, TimeProvider time)
{
    /// <summary>Works out what a removal would do.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="chosen">The records.</param>
    /// <param name="forGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    /// <returns>What it would do; null where none of the records is there.</returns>
    public async Task<RemovalProposal?> ProposeAsync(
        OpenPanel panel,
        RecordSelection chosen,
        bool forGood,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        var planner = new RemovalPlanner(panel, connection, time.GetUtcNow());
        return await planner.PlanAsync(chosen, forGood, cancellationToken) is { } plan
            ? await planner.ShowAsync(plan, chosen, cancellationToken)
            : null;
    }

    /// <summary>Why none of some records can be removed though they are there; null where they are gone.</summary>
    public static async Task<FieldProblem?> WhyNoneAsync(
        OpenPanel panel,
        RecordSelection chosen,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        var records = panel.Records();
        await using var context = records.Open();
        return await records.AreDoubledAsync(context, chosen.Filter, cancellationToken)
            ? new FieldProblem("keys", DoubledKey.Says(panel.Bound!))
            : null;
    }

    /// <summary>Names the records of one part of what a removal would do.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="chosen">The records.</param>
    /// <param name="forGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
    /// <param name="part">The part's number, as <see cref="AffectedRecords.Part"/> tells it.</param>
    /// <param name="skip">How many of them are known already.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    /// <returns>A page of them; null where none of the records is there, or there is no such part.</returns>
    public async Task<AffectedPage?> ListAsync(
        OpenPanel panel,
        RecordSelection chosen,
        bool forGood,
        int part,
        int skip,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        // Where rows are holds only as long as nobody writes to them.
        await using var transaction = await connection.BeginTransactionAsync(
            System.Data.IsolationLevel.RepeatableRead,
            cancellationToken
        );
        var planner = new RemovalPlanner(panel, connection, time.GetUtcNow());
        return await planner.PlanAsync(chosen, forGood, cancellationToken) is { } plan
            ? await planner.ListAsync(plan, chosen, part, skip, cancellationToken)
            : null;
    }

    /// <summary>Carries a removal out, if it would still do what was shown.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="chosen">The records.</param>
    /// <param name="forGood">Whether records that are set aside are to be erased, instead of records in use removed.</param>
    /// <param name="fingerprint">The fingerprint of what was shown.</param>
    /// <param name="typed">The number that was typed; null for none.</param>
    /// <param name="progress">Is told how far it is; null for nobody.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<RemovalOutcome> RemoveAsync(
        OpenPanel panel,
        RecordSelection chosen,
        bool forGood,
        string fingerprint,
        int? typed,
        IProgress<RemovalProgress>? progress,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(chosen);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        var planner = new RemovalPlanner(panel, connection, time.GetUtcNow());
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        progress?.Report(new RemovalProgress("Working out what is affected", 0, chosen.Count));
        if (await planner.PlanAsync(chosen, forGood, cancellationToken) is not { } plan)
            return await WhyNoneAsync(panel, chosen, cancellationToken) is { } doubled
                ? new RemovalOutcome.Refused([doubled])
                : new RemovalOutcome.Gone();
        if (plan.Fingerprint != fingerprint || plan.IsForbidden)
            return new RemovalOutcome.Stale(await planner.ShowAsync(plan, chosen, cancellationToken));
        if (plan.MustBeTyped && typed != plan.Count)
            return Refused(
                "typed",
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{plan.Count:N0} records would be erased for good. Type this number."
                )
            );
        var work = new Removal(panel, plan, chosen, connection, acts.Caller.Name, progress, cancellationToken);
        try
        {
            if (!await work.ReadAsync())
                return new RemovalOutcome.Stale(await planner.ShowAsync(plan, chosen, cancellationToken));
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, panel.Bound!) is { } problem)
        {
            return new RemovalOutcome.Refused([problem]);
        }

        var parcel = plan.CanBeUndone ? new NewParcel(parcels, panel, work, acts.Caller.Name, time.GetUtcNow()) : null;
        return await acts.CarryOutAsync(
            panel,
            transaction,
            () =>
                work.ToActAsync(
                    plan.CanBeUndone ? LogAct.SetAside : LogAct.Erased,
                    parcel,
                    new Witnesses(new SourceRows(connection)),
                    plan.Count
                ),
            cancellationToken
        ) switch
        {
            ActEnd<RemovalOutcome.Done>.Done(var done) => done,
            ActEnd<RemovalOutcome.Done>.Refused(var problems) => new RemovalOutcome.Refused(problems),
            _ => new RemovalOutcome.Gone(),
        };
    }

    private static RemovalOutcome.Refused Refused(string field, string message) => new([new FieldProblem(field, message)]);
}
