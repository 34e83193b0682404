using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>Finds tables that hold several code lists at once: a key of two texts, the first of which parts the lists.</summary>
internal static class CodeLists
{
    private const int MaxLists = 200;

    // In one list each code occurs once, and a table of lists has several codes to a list.
    private const double CodesToAList = 2;

    public static IEnumerable<KeyValues> Of(TableRows rows)
    {
        var key = rows.Table.Keys.FirstOrDefault(candidate =>
            candidate.Columns.Count == 2 && candidate.Columns.All(column => rows.Table.Find(column) is not null)
        );
        if (key is null || !rows.IsComplete || rows.Count == 0)
            return [];
        var columns = key
            .Columns.Select(name => rows.Table.Columns.Select((column, i) => (column, i)).First(pair => pair.column.Name == name))
            .ToList();
        if (columns.Exists(pair => pair.column.Type.Kind is not ValueKind.Text))
            return [];
        var (parting, code) = (columns[0], columns[1]);
        var lists = rows.Of(parting.i)
            .Zip(rows.Of(code.i))
            .Where(pair => pair.First is not null && pair.Second is not null)
            .GroupBy(pair => pair.First!, pair => pair.Second!)
            .ToList();
        if (lists.Count is < 2 or > MaxLists || rows.Count < CodesToAList * lists.Count)
            return [];
        return lists.Select(list => new KeyValues
        {
            Table = rows.Table,
            Column = code.column,
            IsPrimary = true,
            Values = list.ToFrozenSet(),
            IsComplete = true,
            Where = new Discriminator(parting.column.Name, list.Key),
        });
    }
}
