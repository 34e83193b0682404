using System.Globalization;
using Npgsql;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Duplicates;

/// <summary>Records that are likely the same.</summary>
/// <param name="Records">The records.</param>
public sealed record DuplicateGroup(IReadOnlyList<RecordView> Records);

/// <summary>Groups of likely duplicates.</summary>
/// <param name="Groups">The groups.</param>
/// <param name="HasMore">Whether there are others.</param>
public sealed record DuplicateGroups(IReadOnlyList<DuplicateGroup> Groups, bool HasMore);

/// <summary>Finds records that are likely the same by the columns that the panel names.</summary>
/// <param name="panel">The panel; its table must be there.</param>
internal sealed class DuplicateFinder(OpenPanel panel)
{
    // So many groups a person looks through before asking for others.
    private const int MostGroups = 20;
    private const int MostPairs = 400;
    private const int Seconds = 30;

    // Without anything that has to be the same, each record is compared with each other.
    private const long MostCompared = 10_000;
    private const string Likeness = "0.6";

    /// <summary>Why nothing can be found; null where something can.</summary>
    public Refusal? WhyNot()
    {
        var bound = panel.Bound!;
        var columns = bound.Definition.Duplicates.Where(column => bound.Table.Find(column.Name) is not null).ToList();
        if (columns.Count == 0)
            return new("The panel has no columns set for finding duplicates.", "Choose some in its set-up.");
        if (!bound.Identity.Exists)
            return new(bound.Identity.MissingBecause!, bound.Identity.Remedy!);
        return columns.TrueForAll(column => column.Alike) && bound.Table.EstimatedRows > MostCompared
            ? new(
                "There are too many records to compare each with every other.",
                "Add a column that has to be equal, such as the first name or the town, besides those that only have to be similar."
            )
            : null;
    }

    /// <summary>Finds groups of likely duplicates among the records in use.</summary>
    /// <param name="distinct">Pairs of which somebody has said that they are not the same.</param>
    /// <param name="cancellationToken">Stops the search.</param>
    public async Task<DuplicateGroups> FindAsync(IReadOnlySet<(string, string)> distinct, CancellationToken cancellationToken)
    {
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        var groups = Join(await PairsAsync(connection, distinct, cancellationToken));
        var reader = new SourceReader(panel.Model, connection);
        var found = new List<DuplicateGroup>();
        foreach (var keys in groups)
        {
            if (found.Count == MostGroups)
                return new DuplicateGroups(found, HasMore: true);
            var records = new List<RecordView>();
            foreach (var key in keys)
            {
                if (await panel.Records().FindAsync(reader, key, cancellationToken) is { IsSetAside: false } record)
                    records.Add(record);
            }

            if (records.Count > 1)
                found.Add(new DuplicateGroup(records));
        }

        return new DuplicateGroups(found, HasMore: false);
    }

    private async Task<List<(string, string)>> PairsAsync(
        NpgsqlConnection connection,
        IReadOnlySet<(string, string)> distinct,
        CancellationToken cancellationToken
    )
    {
        var (bound, names) = (panel.Bound!, SqlNames.Helper);
        var columns = bound.Definition.Duplicates.Where(column => bound.Table.Find(column.Name) is not null).ToList();
        string Text(string alias, string column) => $"lower(btrim({alias}.{names.DelimitIdentifier(column)}::text))";
        var same = columns.Select(column =>
            column.Alike
                ? $"similarity({Text("a", column.Name)}, {Text("b", column.Name)}) >= {Likeness}"
                : $"{Text("a", column.Name)} = {Text("b", column.Name)} AND {Text("a", column.Name)} <> ''"
        );
        var identity = bound.Identity.Columns.Select(names.DelimitIdentifier).ToList();
        var table = names.DelimitIdentifier(bound.Table.Name.Name, bound.Table.Name.Schema);
        var before =
            $"({string.Join(", ", identity.Select(column => $"a.{column}"))}) < ({string.Join(", ", identity.Select(column => $"b.{column}"))})";
        var inUse = bound.InUse() is { } filter
            ? $" AND ({ListExplainer.Condition(filter, "a")}) AND ({ListExplainer.Condition(filter, "b")})"
            : "";
        var read = string.Join(
            ", ",
            identity.Select(column => $"a.{column}::text").Concat(identity.Select(column => $"b.{column}::text"))
        );
        await using var command = new NpgsqlCommand(
            $"SELECT {read} FROM {table} a JOIN {table} b ON {string.Join(" AND ", same)} AND {before}{inUse} LIMIT {(MostPairs + distinct.Count).ToString(CultureInfo.InvariantCulture)}",
            connection
        )
        {
            CommandTimeout = Seconds,
        };
        var pairs = new List<(string, string)>();
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        while (await reader.ReadAsync(cancellationToken))
        {
            var values = bound
                .Identity.Columns.Concat(bound.Identity.Columns)
                .Select((column, i) => ClrValue.ToText(bound.Table.Find(column)!.Type, reader.GetString(i)) ?? "")
                .ToList();
            var pair = (RecordKey.Write(values[..identity.Count]), RecordKey.Write(values[identity.Count..]));
            if (!distinct.Contains(DistinctPairs.InOrder(pair)))
                pairs.Add(pair);
        }

        return pairs;
    }

    // What is like a record that is like another makes one group with both.
    private static List<List<string>> Join(List<(string One, string Other)> pairs)
    {
        var groups = new Dictionary<string, List<string>>();
        foreach (var (one, other) in pairs)
        {
            var first = groups.TryGetValue(one, out var known) ? known : groups[one] = [one];
            var second = groups.TryGetValue(other, out known) ? known : groups[other] = [other];
            if (first == second)
                continue;
            first.AddRange(second);
            foreach (var key in second)
                groups[key] = first;
        }

        return [.. groups.Values.Distinct()];
    }
}
