using System.Collections.Frozen;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Code;

/// <summary>Fills in the columns that code of one's own computes, once the other values are read.</summary>
/// <param name="runner">Calls the code.</param>
public sealed class CodedColumns(CodeRunner runner)
{
    /// <summary>The columns that code computes, of some.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="columns">The columns' exact names.</param>
    public static IReadOnlyList<BoundColumn> Of(BoundPanel panel, IEnumerable<string> columns) =>
        [.. columns.Select(panel.Find).OfType<BoundColumn>().Where(column => column.Decision.ByCode)];

    /// <summary>Fills in what code computes.</summary>
    /// <param name="seen">The panel.</param>
    /// <param name="reader">Reads what the code needs; nothing else may be under way on it.</param>
    /// <param name="coded">The columns, as <see cref="Of"/> finds them.</param>
    /// <param name="rows">The rows: how to ask for an identifying value in the one text form, and what to do with what was computed.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>Why columns could not be computed, by their names; empty where all could.</returns>
    internal async Task<IReadOnlyDictionary<string, string>> FillAsync(
        SeenPanel seen,
        SourceReader reader,
        IReadOnlyList<BoundColumn> coded,
        IReadOnlyList<CodedRow> rows,
        CancellationToken cancellationToken
    )
    {
        var panel = seen.Panel;
        if (rows.Count == 0 || panel.Identity is not { Exists: true, ByPlace: false })
            return FrozenDictionary<string, string>.Empty;
        var byKey = rows.ToLookup(row => RecordKey.Write([.. panel.Identity.Columns.Select(column => row.Value(column) ?? "")]));
        var problems = new Dictionary<string, string>();
        foreach (var column in coded)
        {
            if (await FillAsync(column) is { } problem)
                problems[column.Name] = $"{column.Label} cannot be computed: {problem}";
        }

        return problems;

        async Task<string?> FillAsync(BoundColumn column)
        {
            if (runner.Computing(panel.Table.Name, column.Name) is not { } code)
                return $"No code is loaded for the column {column.Name} of {panel.Table.Name}. See “Code of your own” in the back room.";
            if (code.Reads.FirstOrDefault(name => panel.Table.Find(name) is not { IsStored: true }) is { } gone)
                return $"The code {code.Name} reads {gone}, which {panel.Table.Name} does not have.";
            foreach (var keys in byKey.Select(group => group.Key).Chunk(RecordSelection.MostOf(panel)))
            {
                var found = await KeyedRows.ReadAsync(
                    reader,
                    panel,
                    keys,
                    [.. panel.Identity.Columns.Union(code.Reads)],
                    cancellationToken
                );
                var (values, problem) = await runner.ComputeAsync(
                    code,
                    [.. found.Select(row => code.Reads.ToDictionary(name => name, name => row.Values[name]))],
                    cancellationToken
                );
                if (problem is not null)
                    return problem;
                foreach (var (row, value) in found.Zip(values))
                {
                    foreach (var one in byKey[row.Key])
                        one.Fill(column.Name, value);
                }
            }

            return null;
        }
    }
}

/// <summary>A row in which something is to be filled in.</summary>
/// <param name="Value">Gives a value of it in the one text form, by the column.</param>
/// <param name="Fill">Fills in a value, by the column.</param>
internal readonly record struct CodedRow(Func<string, string?> Value, Action<string, string?> Fill);

/// <summary>Code of one's own did not compute what was to be written into a file.</summary>
/// <param name="why">Why, as sentences.</param>
public sealed class CodeFailedException(string why) : Exception(why);
