using System.Collections.Frozen;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Tells tables that hold nothing but a program's own workings: numbers that it gives out, the version of its schema, what waits
/// to be done. Nobody keeps records there.
/// </summary>
public static class ProgramTables
{
    private const int FewColumns = 8;

    private static readonly FrozenSet<string> _versioned = new[]
    {
        "schema",
        "db",
        "database",
        "alembic",
        "django",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _versions = new[]
    {
        "version",
        "migration",
        "revision",
        "changelog",
        "info",
        "patch",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _waiting = new[]
    {
        "queue",
        "spool",
        "outbox",
        "lock",
        "cache",
        "heartbeat",
    }.ToFrozenSet();

    private static readonly string[] _next = ["next", "nextid", "nextval", "last", "lastid", "current", "counter", "seq"];

    /// <summary>Whether a table is one, by its name and its columns.</summary>
    public static bool IsOne(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        if (table.IsView)
            return false;
        var words = IdentifierWords.Split(table.Name.Name).Select(word => word.TrimEnd('s')).ToList();
        if (words.Count == 0)
            return false;
        var joined = string.Concat(words);
        return joined is "dbversion" or "schemaversion" or "schemamigration"
            || (table.Columns.Count <= FewColumns && _versions.Contains(words[^1]) && words.Any(_versioned.Contains))
            || _waiting.Contains(words[^1])
            || KeepsNumbers(table, words);
    }

    // For each of other tables, by name, the number that was given out last.
    private static bool KeepsNumbers(Table table, List<string> words) =>
        table.Columns.Count is >= 2 and <= 4
        && words[^1] is "id" or "sequence" or "seq" or "counter" or "generator" or "number"
        && table.Columns.Any(column =>
            (column.Type.IsInteger || column.Type.Kind is ValueKind.Decimal)
            && IdentifierWords.Split(column.Name) is { Count: > 0 } name
            && name.Any(word => Array.Exists(_next, word.StartsWith))
        )
        && table.Columns.Any(column => column.Type.Kind is ValueKind.Text);
}
