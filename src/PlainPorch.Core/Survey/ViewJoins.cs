using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Reads from the queries of views which columns they join: whoever wrote a view knew what refers to what. PostgreSQL writes a
/// view's query in one regular form, so that its conditions can be read without parsing SQL as a whole.
/// </summary>
public static partial class ViewJoins
{
    private const int SearchTime = 200;

    /// <summary>Finds the pairs of columns of different tables that views of a schema set equal.</summary>
    public static IReadOnlySet<(TableName Table, string Column, TableName Other, string OtherColumn)> Find(
        SchemaSnapshot snapshot
    )
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        var found = new HashSet<(TableName, string, TableName, string)>();
        foreach (var view in snapshot.Tables.Where(table => table.ViewSql is not null))
        {
            var aliases = Aliases(view, snapshot);
            foreach (Match match in Equality().Matches(view.ViewSql!))
            {
                var (left, right) = (Read(match, "a", "c", aliases), Read(match, "b", "d", aliases));
                if (left is { } a && right is { } b && a != b)
                    found.UnionWith([(a.Table, a.Column, b.Table, b.Column), (b.Table, b.Column, a.Table, a.Column)]);
            }
        }

        return found;
    }

    private static Dictionary<string, Table> Aliases(Table view, SchemaSnapshot snapshot)
    {
        var aliases = new Dictionary<string, Table>();
        foreach (Match match in Source().Matches(view.ViewSql!))
        {
            var name = Unquote(match.Groups["table"].Value);
            var schema = match.Groups["schema"].Success ? Unquote(match.Groups["schema"].Value) : null;
            var table = snapshot.Tables.FirstOrDefault(table =>
                table.Name.Name == name
                && (
                    schema is null
                        ? table.Name.Schema == view.Name.Schema || table.Name.Schema == "public"
                        : table.Name.Schema == schema
                )
            );
            if (table is not null)
                aliases[match.Groups["alias"].Success ? Unquote(match.Groups["alias"].Value) : name] = table;
        }

        return aliases;
    }

    private static (TableName Table, string Column)? Read(
        Match match,
        string alias,
        string column,
        Dictionary<string, Table> aliases
    ) =>
        aliases.TryGetValue(Unquote(match.Groups[alias].Value), out var table)
        && table.Find(Unquote(match.Groups[column].Value)) is { } found
            ? (table.Name, found.Name)
            : null;

    private static string Unquote(string name) =>
        name.StartsWith('"') ? name[1..^1].Replace("\"\"", "\"", StringComparison.Ordinal) : name;

    [GeneratedRegex(
        """(?<a>\w+|"(?:[^"]|"")+")\.(?<c>\w+|"(?:[^"]|"")+")(?:\)?::\w+)? = \(?(?<b>\w+|"(?:[^"]|"")+")\.(?<d>\w+|"(?:[^"]|"")+")""",
        RegexOptions.None,
        SearchTime
    )]
    private static partial Regex Equality();

    [GeneratedRegex(
        """(?:FROM|JOIN|,)\s+\(*(?:(?<schema>\w+|"(?:[^"]|"")+")\.)?(?<table>\w+|"(?:[^"]|"")+")(?:\s+(?!JOIN|LEFT|RIGHT|FULL|CROSS|ON|WHERE|GROUP|ORDER|UNION|LIMIT)(?<alias>\w+|"(?:[^"]|"")+"))?""",
        RegexOptions.None,
        SearchTime
    )]
    private static partial Regex Source();
}
