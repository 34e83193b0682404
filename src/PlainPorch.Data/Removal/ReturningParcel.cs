using PlainPorch.Data.Acts;
using PlainPorch.Data.Parcels;

namespace PlainPorch.Data.Removal;

/// <summary>A parcel of which something comes back, or that is erased.</summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="parcel">The parcel.</param>
/// <param name="rows">What comes back, or goes.</param>
internal sealed class ReturningParcel(
    ParcelStore parcels,
    long parcel,
    IReadOnlyList<(ParcelPartRow Part, IReadOnlyList<ParcelRecordRow> Rows)> rows
) : IActParcel
{
    /// <inheritdoc/>
    public async Task<long?> BeginAsync(string transaction, CancellationToken cancellationToken)
    {
        if (!await parcels.BeginReturnAsync(parcel, transaction, cancellationToken))
            return null;
        foreach (var (part, coming) in rows)
            await parcels.MarkReturningAsync(parcel, part.Place, [.. coming.Select(row => row.Number)], cancellationToken);
        return parcel;
    }
}
