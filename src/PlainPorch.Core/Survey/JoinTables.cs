using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Tells tables that only bring the records of two others together: two references and nothing else but a number of their own, the
/// time and author of an entry, or a place in an order.
/// </summary>
internal static class JoinTables
{
    /// <summary>Whether a table is one.</summary>
    /// <param name="table">The table.</param>
    /// <param name="own">Its references that are taken for true.</param>
    /// <param name="customs">How names are made in the schema; null where names are not to tell.</param>
    public static bool IsOne(Table table, IReadOnlyList<Reference> own, SchemaCustoms? customs = null)
    {
        if (table.IsView)
            return false;
        // Called by both, with room for both and no more.
        if (
            customs?.SidesByName(table.Name).Count == 2
            && table.Columns.Count(column => !IsSurrogate(table, column.Name) && !IsStamp(column.Name)) == 2
        )
            return true;
        var sides = own.Where(reference => reference.Where is null && !IsStamp(reference.Columns[0]))
            .SelectMany(reference => reference.Columns.Select(column => (column, reference.Target)))
            .DistinctBy(side => side.column)
            .ToList();
        if (sides.Count != 2)
            return IsKeyOfSeveral(table, own);
        var rest = table
            .Columns.Select(column => column.Name)
            .Except(sides.Select(side => side.column))
            .Where(column => !IsSurrogate(table, column) && !IsStamp(column))
            .ToList();
        if (rest.Count > 0)
            return IsKeyOfSeveral(table, own);
        return sides[0].Target != sides[1].Target
            || HasPair(table, [.. sides.Select(side => side.column)])
            || !HasSurrogate(table);
    }

    // Its whole key is made of references to two tables or more.
    private static bool IsKeyOfSeveral(Table table, IReadOnlyList<Reference> own)
    {
        var key = RecordIdentity.Of(table).Columns;
        var referring = own.SelectMany(reference => reference.Columns).ToHashSet();
        return key.Count >= 2
            && key.All(referring.Contains)
            && own.Where(reference => reference.Columns.Any(key.Contains))
                .Select(reference => reference.Target)
                .Distinct()
                .Count() >= 2;
    }

    private static bool HasPair(Table table, string[] sides) =>
        table.Keys.Any(key => key.Columns.Count == 2 && sides.All(key.Columns.Contains));

    private static bool HasSurrogate(Table table) => table.Columns.Any(column => IsSurrogate(table, column.Name));

    private static bool IsSurrogate(Table table, string column) =>
        table.Keys.Any(key => key is { IsPrimary: true, Columns: [var only] } && only == column);

    private static bool IsStamp(string column) => StampDetectors.IsNamedLikeAStamp(column);
}
