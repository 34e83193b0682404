using PlainPorch.Core.Imports;

namespace PlainPorch.Data.Imports;

/// <summary>What an import did to the records of a panel.</summary>
/// <param name="Entry">The logbook's entry.</param>
/// <param name="Parcel">The parcel of what was set aside; null for none.</param>
/// <param name="New">How many records were added.</param>
/// <param name="Changed">How many were changed.</param>
/// <param name="Same">How many were as the file says already.</param>
/// <param name="SetAside">How many were set aside.</param>
/// <param name="Rejected">The rows that were left out.</param>
/// <param name="FileColumns">What the file calls its columns.</param>
public sealed record PanelImported(
    long Entry,
    long? Parcel,
    long New,
    long Changed,
    long Same,
    long SetAside,
    IReadOnlyList<RejectedRow> Rejected,
    IReadOnlyList<string> FileColumns
);
