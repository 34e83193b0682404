using System.Collections.Frozen;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>What part a table plays among the others.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<TableShape>))]
public enum TableShape
{
    /// <summary>What an office is about: boats, owners.</summary>
    Main,

    /// <summary>A short table that others choose from.</summary>
    Lookup,

    /// <summary>A table of one or more lists of codes.</summary>
    CodeList,

    /// <summary>Brings the records of two other tables together (many to many).</summary>
    Join,

    /// <summary>Parts of another table's records.</summary>
    Detail,

    /// <summary>More columns for another table's records (one to one).</summary>
    Extension,

    /// <summary>Records under records of their own kind.</summary>
    Hierarchy,

    /// <summary>What happened, line by line.</summary>
    Log,

    /// <summary>A table without rows of which nothing else tells the part that it plays.</summary>
    Empty,

    /// <summary>A copy or backup of another table.</summary>
    Copy,
}

/// <summary>Decides the shapes of tables from their keys, references and rows.</summary>
public static class TableShapes
{
    private const int LookupRows = 1_000;
    private const int LookupColumns = 4;

    private static readonly FrozenSet<string> _copyWords = new[]
    {
        "old",
        "bak",
        "backup",
        "copy",
        "tmp",
        "temp",
        "orig",
        "archive",
        "save",
        "prev",
        "test",
    }.ToFrozenSet();
    private static readonly FrozenSet<string> _logWords = new[]
    {
        "log",
        "logs",
        "history",
        "hist",
        "audit",
        "journal",
        "event",
        "events",
        "trail",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _upWords = new[]
    {
        "parent",
        "super",
        "superior",
        "upper",
        "boss",
        "root",
        "master",
    }.ToFrozenSet();

    /// <summary>Decides the shape of a table.</summary>
    /// <param name="rows">The table with its rows.</param>
    /// <param name="all">All tables.</param>
    /// <param name="references">The references that are taken for true, of all tables.</param>
    public static TableShape Of(TableRows rows, IReadOnlyList<Table> all, IReadOnlyList<Reference> references)
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(all);
        ArgumentNullException.ThrowIfNull(references);
        // That a table joins others, or lists codes, is known without rows.
        var shape = OfStructure(rows.Table, rows.EstimatedRows, all, references);
        return shape is TableShape.Main && rows is { IsComplete: true, Count: 0 } ? TableShape.Empty : shape;
    }

    /// <summary>
    /// Decides what part a table would play with rows in it: <see cref="TableShape.Empty"/> is never the answer.
    /// </summary>
    /// <param name="table">The table.</param>
    /// <param name="rows">How many rows it has, about.</param>
    /// <param name="all">All tables.</param>
    /// <param name="references">The references that are taken for true, of all tables.</param>
    public static TableShape OfStructure(Table table, long rows, IReadOnlyList<Table> all, IReadOnlyList<Reference> references)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(all);
        ArgumentNullException.ThrowIfNull(references);
        var own = references.Where(reference => reference.Table == table.Name).ToList();
        if (IsCopy(table, all))
            return TableShape.Copy;
        if (references.Any(reference => reference.Target == table.Name && reference.Where is not null))
            return TableShape.CodeList;
        if (
            own.Exists(reference =>
                reference.Target == table.Name && IdentifierWords.Split(reference.Columns[0]).Any(_upWords.Contains)
            )
        )
            return TableShape.Hierarchy;
        if (IdentifierWords.Split(table.Name.Name).Any(_logWords.Contains))
            return TableShape.Log;
        var isUsed = references.Any(reference => reference.Target == table.Name && reference.Table != table.Name);
        if (JoinTables.IsOne(table, own) && !isUsed)
            return TableShape.Join;
        return OfKey(table, own) ?? OfUse(table, rows, own, isUsed);
    }

    private static TableShape? OfKey(Table table, List<Reference> own)
    {
        var key = RecordIdentity.Of(table).Columns;
        var referring = own.SelectMany(reference => reference.Columns).ToHashSet();
        var inKey = key.Count(referring.Contains);
        if (key.Count == 1 && inKey == 1)
            return TableShape.Extension;
        if (key.Count >= 2 && inKey > 0)
            return TableShape.Detail;
        return null;
    }

    private static TableShape OfUse(Table table, long rows, List<Reference> own, bool isUsed)
    {
        if (isUsed && own.Count == 0 && table.Columns.Count <= LookupColumns && rows <= LookupRows)
            return TableShape.Lookup;
        var belongs = own.Exists(reference => IsPartOf(table.Name, reference.Target));
        return belongs && !isUsed ? TableShape.Detail : TableShape.Main;
    }

    private static bool IsPartOf(TableName table, TableName whole)
    {
        var (own, other) = (IdentifierWords.Split(table.Name), IdentifierWords.Split(whole.Name));
        return own.Count > other.Count && own.Take(other.Count).SequenceEqual(other);
    }

    private static bool IsCopy(Table table, IReadOnlyList<Table> all)
    {
        var words = IdentifierWords.Split(table.Name.Name);
        if (words.Count < 2 || !(_copyWords.Contains(words[^1]) || words[^1].All(char.IsDigit)))
            return false;
        var stem = words.SkipLast(1).ToList();
        var names = table.Columns.Select(column => column.Name).ToHashSet();
        return all.Any(other =>
            other.Name != table.Name
            && other.Name.Schema == table.Name.Schema
            && IdentifierWords.Split(other.Name.Name).SequenceEqual(stem)
            && other.Columns.Count(column => names.Contains(column.Name)) >= 0.8 * other.Columns.Count
        );
    }
}
