using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Makes values with names of rows as the database gave them.</summary>
internal static class RowValues
{
    /// <summary>A row's values in the one text form, by column.</summary>
    /// <param name="table">The row's table.</param>
    /// <param name="columns">The columns that were read, each of them one of the table's.</param>
    /// <param name="row">Their values in the database's text form; what was read beside them, behind them, is left out.</param>
    public static Dictionary<string, string?> Of(Table table, IReadOnlyList<string> columns, IReadOnlyList<string?> row)
    {
        var values = new Dictionary<string, string?>(columns.Count);
        for (var i = 0; i < columns.Count; i++)
            values[columns[i]] = ClrValue.ToText(table.Find(columns[i])!.Type, row[i]);
        return values;
    }
}
