using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Query;

/// <summary>
/// A column of the record that a lookup refers to, by which a list is put in order: people see the title there, and expect its
/// order.
/// To an order it is a column of the list's own table, under a name that no column has.
/// </summary>
/// <param name="Lookup">The lookup column.</param>
/// <param name="Target">What it refers to.</param>
/// <param name="Of">The column of the record referred to.</param>
public sealed record BorrowedColumn(string Lookup, BoundLookup Target, Column Of)
{
    // Titles that name more columns are told apart by these.
    private const int MostOfTitle = 3;

    // No column can be called so in a list's address.
    private const char Joint = '\u001f';

    /// <summary>Its name in an order.</summary>
    public string Name => $"{Lookup}{Joint}{Of.Name}";

    /// <summary>
    /// The condition on the record referred to that it is of the list that the lookup means; null where its table holds one list.
    /// </summary>
    public Filter? InList => Target.InList;

    /// <summary>As a column of the list's own table; empty where nothing is referred to.</summary>
    public Column AsColumn => Of with { Name = Name, IsNullable = true };

    /// <summary>The columns of a lookup's title, in the title's order; what it borrows from others itself is left out.</summary>
    /// <param name="column">The column.</param>
    /// <param name="porch">The porch's panels.</param>
    /// <returns>
    /// The columns; none where the column is no lookup, refers by several columns, or shows nothing but the value itself.
    /// </returns>
    public static IReadOnlyList<BorrowedColumn> For(BoundColumn column, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(porch);
        return porch.Bind(column) is not { IsOfSeveral: false } target
            ? []
            :
            [
                .. target
                    .Title.Columns.Where(name => name != target.Lookup.Key && !target.TitleLookups.ContainsKey(name))
                    .Select(target.Table.Find)
                    .OfType<Column>()
                    .Where(of => of is { IsStored: true, Type.IsOrderable: true })
                    .Take(MostOfTitle)
                    .Select(of => new BorrowedColumn(column.Name, target, of)),
            ];
    }
}
