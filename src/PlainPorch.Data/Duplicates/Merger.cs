using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Records;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Records;
using PlainPorch.Data.Removal;

namespace PlainPorch.Data.Duplicates;

/// <summary>What a merge of duplicates is to do.</summary>
/// <param name="Survivor">The key of the record that stays.</param>
/// <param name="Others">The keys of those that it takes in.</param>
/// <param name="Values">For columns whose value is another record's: the column with that record's key.</param>
public sealed record MergeWish(string Survivor, IReadOnlyList<string> Others, IReadOnlyDictionary<string, string> Values);

/// <summary>
/// Finds likely duplicates and merges them: what refers to the others refers to the record that stays, chosen values go over to it, and
/// the others are set aside. All of it is one transaction of the source and one entry of the logbook, and can be brought back.
/// </summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="acts">Carries it out.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class Merger(ParcelStore parcels, ActRunner acts, TimeProvider time)
{
    /// <summary>Finds likely duplicates.</summary>
    /// <returns>The groups, or why none can be found.</returns>
    public static async Task<(DuplicateGroups? Groups, Refusal? Refusal)> FindAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var finder = new DuplicateFinder(panel);
        if (finder.WhyNot() is { } refusal)
            return (null, refusal);
        try
        {
            return (await finder.FindAsync(cancellationToken), null);
        }
        catch (PostgresException answer) when (answer.SqlState is PostgresErrorCodes.UndefinedFunction)
        {
            return (null, new Refusal("The extension pg_trgm is missing, by which texts are compared.", "Run CREATE EXTENSION pg_trgm in the database, or let the columns be compared exactly."));
        }
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
        return await acts.CarryOutAsync(panel, transaction, () => work.ToActAsync(LogAct.Merged, parcel, new Witnesses(new SourceRows(connection)), work.Count), cancellationToken) switch
        {
            ActEnd<RemovalOutcome.Done>.Done(var done) => done,
            ActEnd<RemovalOutcome.Done>.Refused(var held) => new RemovalOutcome.Refused([held with { Field = "" }]),
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
        if (wish.Values.FirstOrDefault(pair => !all.Contains(pair.Value) || bound.Find(pair.Key) is not { IsWritable: true } || bound.IsIdentifying(pair.Key)) is { Key: { } column })
            return new(column, "Its value cannot be taken over. Leave it as it is.");
        return null;
    }
}
