using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Removal;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Duplicates;

/// <summary>What a merge of duplicates is to do.</summary>
/// <param name="Survivor">The key of the record that stays.</param>
/// <param name="Others">The keys of those that it takes in.</param>
/// <param name="Values">For columns whose value is another record's: the column with that record's key.</param>
public sealed record MergeWish(string Survivor, IReadOnlyList<string> Others, IReadOnlyDictionary<string, string> Values);

/// <summary>What a merge would do.</summary>
/// <param name="Title">How the record is called that stays.</param>
/// <param name="Others">How those are called that it takes in.</param>
/// <param name="Manner">What becomes of these.</param>
/// <param name="Repointed">Records that will refer to the one that stays, by their kind.</param>
/// <param name="Doubles">Records that would be there twice, and are set aside as well.</param>
public sealed record MergeProposal(
    string Title,
    IReadOnlyList<string> Others,
    RemovalManner Manner,
    IReadOnlyList<MergedPart> Repointed,
    IReadOnlyList<MergedPart> Doubles
);

/// <summary>Records of one kind that a merge touches.</summary>
/// <param name="Label">What they are called taken together.</param>
/// <param name="Count">How many.</param>
/// <param name="Titles">How the first ones are called.</param>
public sealed record MergedPart(string Label, int Count, IReadOnlyList<string> Titles);

/// <summary>
/// Finds likely duplicates and merges them: what refers to the others refers to the record that stays, chosen values go over to
/// it, and
/// the others are set aside. All of it is one transaction of the source and one entry of the logbook, and can be brought back.
/// </summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="distinct">Knows which records are not the same.</param>
/// <param name="acts">Carries it out.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class Merger(ParcelStore parcels, DistinctPairs distinct, ActRunner acts, TimeProvider time)
{
    private const int MostTold = 50;

    /// <summary>Finds likely duplicates.</summary>
    /// <returns>The groups, or why none can be found.</returns>
    public async Task<(DuplicateGroups? Groups, Refusal? Refusal)> FindAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var finder = new DuplicateFinder(panel);
        if (finder.WhyNot() is { } refusal)
            return (null, refusal);
        try
        {
            return (await finder.FindAsync(await distinct.OfAsync(panel, cancellationToken), cancellationToken), null);
        }
        catch (PostgresException answer) when (answer.SqlState is PostgresErrorCodes.UndefinedFunction)
        {
            return (
                null,
                new Refusal(
                    "The extension pg_trgm, which compares texts, is not installed.",
                    "Run CREATE EXTENSION pg_trgm in the database, or let the columns be compared exactly."
                )
            );
        }
    }

    /// <summary>Works out what a merge would do. Nothing is changed.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="wish">What is wanted.</param>
    /// <param name="cancellationToken">Stops the work.</param>
    /// <returns>What it would do, or why it cannot be done; neither where one of the records is not there.</returns>
    public async Task<(MergeProposal? Proposal, FieldProblem? Problem)> ProposeAsync(
        OpenPanel panel,
        MergeWish wish,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(wish);
        if (Check(panel.Bound!, wish) is { } problem)
            return (null, problem);
        if (!RecordSelection.TryRead(panel.Bound!, [wish.Survivor, .. wish.Others], out var chosen, out problem))
            return (null, problem);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        // Looking locks rows for a moment; the transaction lets go of them.
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var work = new Merge(panel, wish, connection, acts.Caller.Name, cancellationToken);
        try
        {
            return (await work.ReadAsync(chosen!) ? work.Show() : null, null);
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, panel.Bound!) is { } refused)
        {
            return (null, refused);
        }
    }

    /// <summary>Notes that records which look alike are not the same, once and for all; or takes that back.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="keys">Their keys; each is another record than each other.</param>
    /// <param name="areDistinct">Whether they are.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>What is wrong with the keys; null for nothing.</returns>
    public async Task<FieldProblem?> TellApartAsync(
        OpenPanel panel,
        IReadOnlyList<string> keys,
        bool areDistinct,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(keys);
        if (keys.Distinct().Count() is < 2 or > MostTold)
            return new("keys", $"Give 2 to {MostTold} records.");
        if (!RecordSelection.TryRead(panel.Bound!, keys, out _, out var problem))
            return problem;
        await distinct.SetAsync(panel, keys, areDistinct, acts.Caller.Name, cancellationToken);
        return null;
    }

    /// <summary>Merges records.</summary>
    /// <param name="panel">The panel; its table must be there.</param>
    /// <param name="wish">What is wanted.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<RemovalOutcome> MergeAsync(OpenPanel panel, MergeWish wish, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(wish);
        var bound = panel.Bound!;
        if (Check(bound, wish) is { } problem)
            return new RemovalOutcome.Refused([problem]);
        if (!RecordSelection.TryRead(bound, [wish.Survivor, .. wish.Others], out var chosen, out problem))
            return new RemovalOutcome.Refused([problem!]);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var work = new Merge(panel, wish, connection, acts.Caller.Name, cancellationToken);
        try
        {
            if (!await work.ReadAsync(chosen!))
                return new RemovalOutcome.Gone();
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, bound) is { } refused)
        {
            return new RemovalOutcome.Refused([refused]);
        }

        var parcel = new NewParcel(parcels, panel, work, acts.Caller.Name, time.GetUtcNow());
        return await acts.CarryOutAsync(
            panel,
            transaction,
            () => work.ToActAsync(LogAct.Merged, parcel, new Witnesses(new SourceRows(connection)), work.Count),
            cancellationToken
        ) switch
        {
            ActEnd<RemovalOutcome.Done>.Done(var done) => done,
            ActEnd<RemovalOutcome.Done>.Refused(var held) => new RemovalOutcome.Refused([
                .. held.Select(problem => problem with { Field = "" }),
            ]),
            _ => new RemovalOutcome.Gone(),
        };
    }

    private static FieldProblem? Check(BoundPanel bound, MergeWish wish)
    {
        if (wish.Others.Count == 0 || wish.Others.Contains(wish.Survivor))
            return new("others", "Choose one record that stays, and at least one other.");
        if (!bound.CanEdit || !bound.CanRemove)
            return new("", $"Records of {bound.Definition.Label} cannot be changed and removed here.");
        var all = wish.Others.Append(wish.Survivor).ToHashSet();
        if (
            wish.Values.FirstOrDefault(pair =>
                !all.Contains(pair.Value) || bound.Find(pair.Key) is not { IsWritable: true } || bound.IsIdentifying(pair.Key)
            ) is
            { Key: { } column }
        )
            return new(column, "Its value cannot be copied. Leave it as it is.");
        return null;
    }
}
