using PlainPorch.Core.History;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.History;

/// <summary>What is to be written about one record.</summary>
/// <param name="Table">Its table.</param>
/// <param name="Key">Its key; null where its table has none.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Act">What is done with it.</param>
/// <param name="Changes">The values that change; empty where none or all do.</param>
public sealed record LoggedRecord(TableName Table, string? Key, string Title, LogAct Act, IReadOnlyList<ValueChange> Changes);
