using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Ordering;

/// <summary>What the query of a view says about the order of its rows.</summary>
public sealed partial class ViewOrder
{
    private readonly HashSet<string> _read;
    private readonly HashSet<string>? _orderedBy;

    private ViewOrder(HashSet<string> read, HashSet<string>? orderedBy) => (_read, _orderedBy) = (read, orderedBy);

    /// <summary>Whether it puts its rows in an order.</summary>
    public bool IsOrdered => _orderedBy is not null;

    /// <summary>Reads a query.</summary>
    /// <param name="sql">The query as the database writes it.</param>
    public static ViewOrder Read(string sql)
    {
        ArgumentNullException.ThrowIfNull(sql);
        var depth = 0;
        var read = new HashSet<string>();
        HashSet<string>? orderedBy = null;
        var before = "";
        foreach (var token in Token().Matches(sql).Select(match => match.Value))
        {
            depth += token switch
            {
                "(" => 1,
                ")" => -1,
                _ => 0,
            };
            if (depth == 0 && before == "order" && token.Equals("by", StringComparison.OrdinalIgnoreCase))
                orderedBy = [];
            if (NameOf(token) is { } name)
            {
                read.Add(name);
                orderedBy?.Add(name);
            }

            before = token.ToLowerInvariant();
        }

        return new ViewOrder(read, orderedBy);
    }

    /// <summary>Whether it reads a table.</summary>
    public bool Reads(TableName table) => _read.Contains(table.Name);

    /// <summary>Whether a column takes part in its order.</summary>
    /// <param name="column">The column's exact name.</param>
    public bool IsBy(string column) => _orderedBy?.Contains(column) == true;

    // What is quoted is exact, and the database writes everything else in small letters.
    private static string? NameOf(string token) =>
        token[0] switch
        {
            '"' => token[1..^1].Replace("\"\"", "\"", StringComparison.Ordinal),
            '_' or (>= 'a' and <= 'z') or (>= 'A' and <= 'Z') or > '\u007f' => token.ToLowerInvariant(),
            _ => null,
        };

    [GeneratedRegex("""'(?:[^']|'')*'|"(?:[^"]|"")+"|[\p{L}_][\p{L}\p{Nd}_$]*|\S""")]
    private static partial Regex Token();
}
