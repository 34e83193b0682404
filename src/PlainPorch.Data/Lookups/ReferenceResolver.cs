using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Lookups;

/// <summary>
/// Looks up beforehand which records a condition on a lookup means. Few keys make a condition on the list's own column, which an
/// index serves; only of many do both tables have to be compared.
/// </summary>
/// <param name="reader">Reads the source.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class ReferenceResolver(SourceReader reader, PorchPanels porch)
{
    private const int FewKeys = 500;

    /// <summary>A filter in which conditions on few records referred to are conditions on the column itself.</summary>
    /// <param name="table">The table that the filter is about.</param>
    /// <param name="filter">The filter; null for none.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<Filter?> ResolveAsync(Table table, Filter? filter, CancellationToken cancellationToken)
    {
        switch (filter)
        {
            case Filter.All(var parts):
                return new Filter.All(await ResolveAllAsync(table, parts, cancellationToken));
            case Filter.Any(var parts):
                // A branch that nothing fulfils would cost the others their index.
                return new Filter.Any([
                    .. (await ResolveAllAsync(table, parts, cancellationToken)).Where(part =>
                        part is not Filter.Any { Parts.Count: 0 }
                    ),
                ]);
            case Filter.Not(var part):
                return new Filter.Not((await ResolveAsync(table, part, cancellationToken))!);
            case Filter.Refers refers:
                return await ResolveAsync(table, refers, cancellationToken);
            default:
                return filter;
        }
    }

    private async Task<List<Filter>> ResolveAllAsync(
        Table table,
        IReadOnlyList<Filter> parts,
        CancellationToken cancellationToken
    )
    {
        var resolved = new List<Filter>();
        foreach (var part in parts)
            resolved.Add((await ResolveAsync(table, part, cancellationToken))!);
        return resolved;
    }

    private async Task<Filter> ResolveAsync(Table table, Filter.Refers refers, CancellationToken cancellationToken)
    {
        if (porch.Bind(refers.Lookup) is not { Table.Rights.Read: true } bound)
            return new Filter.Any([]);
        var of = (await ResolveAsync(bound.Table, refers.Of, cancellationToken))!;
        // Combinations of values make no condition that an index would serve better than the other table's.
        if (bound.IsOfSeveral)
            return refers with { Of = of };
        var filter = refers.Lookup.Where is { } list ? new Filter.All([of, new Filter.EqualTo(list.Column, list.Value)]) : of;
        var request = new RowRequest
        {
            Filter = filter,
            Columns = [refers.Lookup.Key],
            Take = FewKeys + 1,
        };
        var keyType = bound.Table.Find(refers.Lookup.Key)!.Type;
        var keys = (await reader.ReadAsync(bound.Table, request, cancellationToken))
            .Select(row => ClrValue.ToText(keyType, row[0]))
            .OfType<string>()
            .Distinct()
            .ToList();
        if (keys.Count > FewKeys)
            return refers with { Of = of };
        var column = table.Find(refers.Column)!;
        var values = keys.SelectMany(key => bound.ReferringValues(column, key))
            .Select(text => ValueText.TryRead(column.Type, text, out var value, out _) ? value : null)
            .OfType<string>()
            .Distinct()
            .ToList();
        return values.Count == 0 ? new Filter.Any([]) : bound.OneOf(column.Name, values);
    }
}
