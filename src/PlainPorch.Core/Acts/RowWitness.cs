using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Acts;

/// <summary>A row as the source has it at a moment.</summary>
/// <param name="Version">The number of the transaction that wrote it (<c>xmin</c>).</param>
/// <param name="Hash">A hash of its values; null where it was not asked for.</param>
public sealed record RowState(string Version, string? Hash);

/// <summary>A row of the source by which it can be seen later whether an act came to pass.</summary>
/// <param name="Table">Its table.</param>
/// <param name="Key">The columns by which it is found; empty where nothing tells the table's rows apart.</param>
/// <param name="Values">The values of these, in the database's own text form.</param>
/// <param name="Place">Where it was before the act, where <paramref name="Key"/> is empty; else null.</param>
/// <param name="Before">The version of the row before the act; null where there was none.</param>
/// <param name="After">The hash of the row after the act; null where there is none.</param>
public sealed record RowWitness(
    TableName Table,
    IReadOnlyList<string> Key,
    IReadOnlyList<string?> Values,
    string? Place,
    string? Before,
    string? After
);
