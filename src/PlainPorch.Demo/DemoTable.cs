namespace PlainPorch.Demo;

/// <summary>A table of the demo database and the rows that go into it.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
/// <param name="Columns">The columns that the rows fill, in order.</param>
/// <param name="Rows">The rows; the same on every run.</param>
internal sealed record DemoTable(string Schema, string Name, IReadOnlyList<string> Columns, IEnumerable<object?[]> Rows);
