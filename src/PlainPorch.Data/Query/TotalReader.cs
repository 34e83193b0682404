using System.Globalization;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>Adds up the numbers of a list's records, all columns in one statement.</summary>
/// <param name="reader">Reads the source.</param>
/// <param name="table">The table.</param>
internal sealed class TotalReader(SourceReader reader, Table table)
{
    // Of a measure (a double) no number of digits is known.
    private const int DigitsOfMeasure = 4;

    /// <summary>Adds up.</summary>
    public async Task<IReadOnlyList<ColumnTotal>> ReadAsync(
        Filter? filter,
        IReadOnlyList<BoundColumn> columns,
        CancellationToken cancellationToken
    )
    {
        var numbers = columns.Where(column => column.Type.IsNumber && column.Decision.Lookup is null).ToList();
        if (numbers.Count == 0)
            return [];
        List<string> names = [.. numbers.Select(column => column.Name)];
        var rows = await reader.AskAsync(
            table,
            filter,
            $"totals {string.Join('\u001f', names)}",
            (query, all) => query.Totals(all, names),
            cancellationToken,
            numbers
                .Where(column => column.Reading is { LeavesValues: false })
                .ToDictionary(column => column.Name, column => column.Reading!)
        );
        var row = rows is [var only] ? only : null;
        return
        [
            .. numbers.Select(
                (column, i) =>
                    row is null
                        ? new ColumnTotal(column.Name, 0, null, null)
                        : new ColumnTotal(
                            column.Name,
                            long.Parse(row[3 * i]!, CultureInfo.InvariantCulture),
                            row[(3 * i) + 1],
                            Round(row[(3 * i) + 2], column.Type)
                        )
            ),
        ];
    }

    private static string? Round(string? text, ColumnType type)
    {
        var digits =
            type.IsInteger ? 2
            : type.Scale is { } scale ? scale + 2
            : DigitsOfMeasure;
        return decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            ? decimal.Round(number, Math.Min(digits, 28), MidpointRounding.AwayFromZero).ToString(CultureInfo.InvariantCulture)
            : text;
    }
}
