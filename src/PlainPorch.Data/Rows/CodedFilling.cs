using System.Collections.Frozen;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;

namespace PlainPorch.Data.Rows;

/// <summary>A row in which something is to be filled in.</summary>
/// <param name="Value">Gives a value of it in the one text form, by the column; those that identify it are asked for.</param>
/// <param name="Fill">Fills in a value, by the column.</param>
internal readonly record struct CodedRow(Func<string, string?> Value, Action<string, string?> Fill);

/// <summary>Fills in what code of one's own computes, once the other values are read.</summary>
/// <param name="code">Computes it.</param>
/// <param name="panel">The panel.</param>
/// <param name="reader">Reads what the code needs; nothing else may be under way on it.</param>
internal sealed class CodedFilling(ICodedColumns code, BoundPanel panel, SourceReader reader)
{
    /// <summary>Fills in some columns.</summary>
    /// <param name="coded">The columns, as <see cref="BoundPanel.Coded"/> finds them.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>Why columns could not be computed, by their names; empty where all could.</returns>
    public async Task<IReadOnlyDictionary<string, string>> FillAsync(
        IReadOnlyList<BoundColumn> coded,
        IReadOnlyList<CodedRow> rows,
        CancellationToken cancellationToken
    )
    {
        if (rows.Count == 0 || panel.Identity is not { Exists: true, ByPlace: false })
            return FrozenDictionary<string, string>.Empty;
        var byKey = rows.ToLookup(row => RecordKey.Write([.. panel.Identity.Columns.Select(column => row.Value(column) ?? "")]));
        var problems = new Dictionary<string, string>();
        foreach (var column in coded)
        {
            if (await FillAsync(column, byKey, cancellationToken) is { } problem)
                problems[column.Name] = $"{column.Label} cannot be computed: {problem}";
        }

        return problems;
    }

    /// <summary>Fills in some columns of rows that were read.</summary>
    /// <param name="coded">The columns, as <see cref="BoundPanel.Coded"/> finds them.</param>
    /// <param name="columns">The columns of the rows, in order, those that identify a record among them.</param>
    /// <param name="rows">The rows, in the one text form.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>Why columns could not be computed, by their names; empty where all could.</returns>
    public Task<IReadOnlyDictionary<string, string>> FillAsync(
        IReadOnlyList<BoundColumn> coded,
        IReadOnlyList<string> columns,
        IReadOnlyList<string?[]> rows,
        CancellationToken cancellationToken
    )
    {
        var places = columns.Index().ToDictionary(column => column.Item, column => column.Index);
        return FillAsync(
            coded,
            [.. rows.Select(row => new CodedRow(column => row[places[column]], (column, value) => row[places[column]] = value))],
            cancellationToken
        );
    }

    private async Task<string?> FillAsync(
        BoundColumn column,
        ILookup<string, CodedRow> byKey,
        CancellationToken cancellationToken
    )
    {
        var table = panel.Table;
        if (code.ReadsOf(table.Name, column.Name) is not { } reads)
            return $"No code is loaded for the column {column.Name} of {table.Name}. See “Code of your own” in the back room.";
        if (reads.FirstOrDefault(name => table.Find(name) is not { IsStored: true }) is { } gone)
            return $"Its code reads {gone}, which {table.Name} does not have.";
        IReadOnlyList<string> read = [.. panel.Identity.Columns.Union(reads)];
        foreach (var keys in byKey.Select(group => group.Key).Chunk(RecordSelection.MostOf(panel)))
        {
            var found = await KeyedRows.ReadAsync(reader, panel, keys, read, cancellationToken);
            var computed = await code.ComputeAsync(
                table.Name,
                column.Name,
                [.. found.Select(row => reads.ToDictionary(name => name, name => row.Values[name]))],
                cancellationToken
            );
            if (computed.Problem is { } problem)
                return problem;
            foreach (var (row, value) in found.Zip(computed.Values))
            {
                foreach (var one in byKey[row.Key])
                    one.Fill(column.Name, value);
            }
        }

        return null;
    }
}
