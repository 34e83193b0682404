using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>Which columns rows of a table were read with; what is the same for all of the rows is found once.</summary>
internal sealed class RowShape
{
    private readonly (int Place, ColumnType Type)[] _toConvert;

    /// <summary>Prepares for rows.</summary>
    /// <param name="table">Their table.</param>
    /// <param name="columns">The columns that are read, in order, each of them one of the table's.</param>
    public RowShape(Table table, IReadOnlyList<string> columns) =>
        _toConvert = [
            .. columns
                .Select((name, place) => (Place: place, table.Find(name)!.Type))
                .Where(column => ClrValue.HasOtherText(column.Type)),
        ];

    /// <summary>Brings a row's values into the one text form; what was read beside them stays as it is.</summary>
    public void Convert(string?[] row)
    {
        foreach (var (place, type) in _toConvert)
            row[place] = ClrValue.ToText(type, row[place]);
    }
}
