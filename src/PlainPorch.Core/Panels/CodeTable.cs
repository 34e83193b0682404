using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Panels;

/// <summary>A table that holds several lists of codes, as old programs keep them.</summary>
/// <param name="Table">The table.</param>
/// <param name="By">The column that parts the lists.</param>
/// <param name="Key">The column of the codes.</param>
/// <param name="Title">How a code is called: by a text beside it, where there is one.</param>
public sealed record CodeTable(Table Table, string By, string Key, string? Title)
{
    // A list that people choose from is short, and so are several.
    private const int MostRows = 20_000;

    /// <summary>The tables of a schema that hold lists: those that a lookup uses as such, and those whose key says so.</summary>
    /// <param name="snapshot">The schema.</param>
    /// <param name="panels">The porch's panels.</param>
    public static IReadOnlyList<CodeTable> In(SchemaSnapshot snapshot, IEnumerable<PanelDefinition> panels)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(panels);
        var used =
            from panel in panels
            from column in panel.Columns
            where column.Lookup is { Where: not null }
            select (column.Lookup!.Table, By: column.Lookup.Where!.Column, column.Lookup.Key);
        var keyed =
            from table in snapshot.Tables
            where !(table.EstimatedRows > MostRows)
            from key in table.Keys
            where key.Columns.Count == 2 && table.ForeignKeys.All(reference => !reference.Columns.Contains(key.Columns[1]))
            select (Table: table.Name, By: key.Columns[0], Key: key.Columns[1]);
        return
        [
            .. from list in used.Concat(keyed).Distinct()
            let table = snapshot.Find(list.Table)
            where table is { Rights.Read: true } && table.Find(list.By) is not null && table.Find(list.Key) is not null
            select new CodeTable(table, list.By, list.Key, TitleOf(table, list.By, list.Key)),
        ];
    }

    private static string? TitleOf(Table table, string by, string key) =>
        table
            .Columns.Where(column => column.Type.Kind is ValueKind.Text && column.Name != by && column.Name != key)
            .Select(column => TitleTemplate.Of(column.Name))
            .FirstOrDefault();
}
