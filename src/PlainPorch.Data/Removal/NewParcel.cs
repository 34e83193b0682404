using PlainPorch.Core.History;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Data.Removal;

/// <summary>
/// Work within a transaction of the source by which a parcel is made: its rows have been read, and others cannot write to them.
/// </summary>
internal interface IParcelWork
{
    /// <summary>How the first record is called.</summary>
    string Title { get; }

    /// <summary>How many records were chosen and did not only go along.</summary>
    int Chosen { get; }

    /// <summary>What the logbook is to say.</summary>
    IReadOnlyList<LoggedRecord> Logged();

    /// <summary>Notes rows by which it can be seen later whether it came to pass.</summary>
    void Note(Witnesses witnesses);

    /// <summary>The parts of the parcel.</summary>
    IReadOnlyList<ParcelPartRow> Parts(long parcel);

    /// <summary>The rows of the parcel.</summary>
    IEnumerable<ParcelRecordRow> Records(long parcel);

    /// <summary>Does it.</summary>
    /// <returns>What kept some rows back; null where all is done.</returns>
    Task<FieldProblem?> CarryOutAsync();
}

/// <summary>A parcel that is made of rows which leave their tables, or are marked or changed there.</summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="panel">The panel where it is done.</param>
/// <param name="work">The work.</param>
/// <param name="who">Who does it.</param>
/// <param name="now">The present moment.</param>
internal sealed class NewParcel(ParcelStore parcels, OpenPanel panel, IParcelWork work, string who, DateTimeOffset now)
    : IActParcel
{
    /// <inheritdoc/>
    public async Task<long?> BeginAsync(string transaction, CancellationToken cancellationToken)
    {
        var parcel = new ParcelRow
        {
            SourceId = panel.Source.Id,
            PorchId = panel.Porch.Id,
            Panel = panel.Definition.Slug,
            Title = work.Title,
            Chosen = work.Chosen,
            At = now,
            Who = who,
            EraseAt = panel.Definition.Removal.EraseAfterDays is { } days ? now.AddDays(days) : null,
            State = ParcelState.Leaving,
            Transaction = transaction,
            MadeBy = transaction,
            Database = panel.Source.Identity,
        };
        await parcels.AddAsync(parcel, cancellationToken);
        await parcels.FillAsync(work.Parts(parcel.Id), work.Records(parcel.Id), cancellationToken);
        return parcel.Id;
    }
}

/// <summary>Makes the act of work by which a parcel is made.</summary>
internal static class ParcelActs
{
    /// <summary>Carries the work out, and tells what was done.</summary>
    /// <param name="work">The work.</param>
    /// <param name="kind">What the logbook calls it.</param>
    /// <param name="parcel">The parcel that it makes; null where it cannot be taken back.</param>
    /// <param name="witnesses">Takes note of rows.</param>
    /// <param name="count">How many records go in all.</param>
    /// <returns>The act; or what kept some rows back.</returns>
    public static async Task<(Act<RemovalOutcome.Done>? Act, FieldProblem? Problem)> ToActAsync(
        this IParcelWork work,
        LogAct kind,
        IActParcel? parcel,
        Witnesses witnesses,
        int count
    )
    {
        work.Note(witnesses);
        var logged = work.Logged();
        return await work.CarryOutAsync() is { } heldBack
            ? (null, heldBack)
            : (
                new Act<RemovalOutcome.Done>(kind, logged, place => new RemovalOutcome.Done(
                    count,
                    place.Parcel,
                    work.Title,
                    work.Chosen
                ))
                {
                    Witnesses = witnesses,
                    Parcel = parcel,
                },
                null
            );
    }
}
