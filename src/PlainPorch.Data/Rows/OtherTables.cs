using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>
/// The tables that a query asks besides its own: how they are built is known from the start, their rows once it is made.
/// </summary>
/// <param name="model">The source's model.</param>
internal sealed class OtherTables(RecordModel model)
{
    private DbContext? _context;

    /// <summary>A table.</summary>
    public Table Find(TableName table) => model.Snapshot.Find(table)!;

    /// <summary>The rows of a table.</summary>
    public IQueryable<Row> RowsOf(TableName table) =>
        (_context ?? throw new InvalidOperationException("This query was not told where rows are.")).Set<Row>(
            model.EntityName(table)
        );

    /// <summary>Tells where the rows are.</summary>
    public void At(DbContext context) => _context = context;
}
