using System.Globalization;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Records;

/// <summary>Numbers new records where the old program used to: a whole-number key that the database does not supply.</summary>
public static class NextNumber
{
    /// <summary>The column that the server numbers.</summary>
    /// <returns>The single whole-number key column without default; null where there is none.</returns>
    public static BoundColumn? ColumnOf(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return
            panel.Identity.Columns is [var name]
            && panel.Find(name) is { Type.IsInteger: true, Schema.IsSuppliedByDatabase: false } column
            ? column
            : null;
    }

    /// <summary>The column of a key that can be given another number without making the record part of something else.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">One of its keys.</param>
    /// <param name="refers">Whether a column, by its exact name, refers to something.</param>
    /// <returns>The key's only whole-number column that refers to nothing; null where there is none, or several.</returns>
    public static Column? ColumnOf(Table table, Key key, Predicate<string> refers)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(key);
        ArgumentNullException.ThrowIfNull(refers);
        var own = key
            .Columns.Where(name => !refers(name))
            .Select(table.Find)
            .Where(column => column is { Type.IsInteger: true, IsGenerated: false })
            .ToList();
        return own is [var only] ? only : null;
    }

    /// <summary>The next free number.</summary>
    /// <param name="type">The column's type.</param>
    /// <param name="greatest">The greatest number in use; null where the table is empty.</param>
    /// <returns>One more than the greatest; null where the type holds none greater.</returns>
    public static string? After(ColumnType type, long? greatest)
    {
        ArgumentNullException.ThrowIfNull(type);
        var limit = type.Kind switch
        {
            ValueKind.SmallInteger => short.MaxValue,
            ValueKind.Integer => int.MaxValue,
            _ => long.MaxValue,
        };
        return greatest >= limit ? null : Math.Max(1, (greatest ?? 0) + 1).ToString(CultureInfo.InvariantCulture);
    }
}
