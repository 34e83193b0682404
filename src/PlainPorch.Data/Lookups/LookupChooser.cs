using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Lookups;

/// <summary>Finds the records that can be chosen in a lookup.</summary>
/// <param name="reader">Reads the source.</param>
/// <param name="target">What the lookup refers to.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class LookupChooser(SourceReader reader, BoundLookup target, PorchPanels porch)
{
    private const int Shown = 20;

    private readonly BoundPanel _searched = porch.Searched(target);
    private readonly List<string> _columns = [.. target.Title.Columns.Append(target.Lookup.Key).Distinct()];

    /// <summary>Finds records by what was typed.</summary>
    /// <param name="text">What was typed; null or empty for the first records.</param>
    /// <param name="example">Some value of the referring column, whose form a chosen one gets; null for none.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<LookupChoices> FindAsync(string? text, string? example, CancellationToken cancellationToken)
    {
        var search = SearchText.ToFilter(SearchText.Read(Words(text), _searched, porch, porch.Notation));
        var found = await ReadAsync(search, Shown + 1, cancellationToken);
        // Whoever types a whole number or code means that one, though others may hold it somewhere too.
        var exact = Key(text) is { } key ? await ReadAsync(new Filter.EqualTo(target.Lookup.Key, key), 1, cancellationToken) : [];
        var beginning = found.Count > 0 ? await BeginningWithAsync(text, search, cancellationToken) : [];
        var records = exact
            .Concat(beginning)
            .Concat(found.Take(Shown))
            .DistinctBy(row => row[_columns.IndexOf(target.Lookup.Key)])
            .Take(Shown + 1)
            .Select(row => RowValues.Of(target.Table, _columns, row))
            .Where(record => record[target.Lookup.Key] is not null)
            .ToList();
        var titles = await new LookupReader(porch).ReadAsync(
            reader,
            target.TitleLookups.Select(pair => (pair.Key, pair.Value, records.Select(record => record[pair.Key]))),
            cancellationToken
        );
        return new LookupChoices([.. records.Select(record => ToChoice(record, titles, example))], HasMore: found.Count > Shown);
    }

    // "west" means West sooner than Westley Rucker.
    private async Task<List<string?[]>> BeginningWithAsync(string? typed, Filter? search, CancellationToken cancellationToken)
    {
        var first = target.Title.Columns.FirstOrDefault(column =>
            !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.Kind is ValueKind.Text
        );
        var word = Words(typed)?.Split(' ', StringSplitOptions.RemoveEmptyEntries).FirstOrDefault();
        return first is null || word is null
            ? []
            : await ReadAsync(
                Filter.Join(new Filter.Matches(first, word, new TextMatch(TextPlace.StartsWith)), search),
                Shown,
                cancellationToken
            );
    }

    private async Task<List<string?[]>> ReadAsync(Filter? filter, int count, CancellationToken cancellationToken)
    {
        var inList = target.Lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null;
        var resolved = await new ReferenceResolver(reader, porch).ResolveAsync(
            target.Table,
            _searched.Within(Filter.Join(filter, inList, _searched.InUse())),
            cancellationToken
        );
        return await reader.ReadAsync(
            target.Table,
            new RowRequest
            {
                Filter = resolved,
                Order = Order(),
                Columns = _columns,
                Take = count,
            },
            cancellationToken
        );
    }

    // By the order that people gave to the records, where their own list has it, too; then by the title where it is the record's
    // own:
    // what it borrows from others cannot order it.
    private List<OrderBy> Order()
    {
        var running = _searched.Definition.Sort.Count == 0 ? _searched.RunningOrder : [];
        var own = target.Title.Columns.Where(column =>
            !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.IsOrderable
        );
        return
        [
            .. running
                .Concat(own.Append(target.Lookup.Key).Select(column => new OrderBy(column, Descending: false)))
                .DistinctBy(part => part.Column),
        ];
    }

    // What only joins the parts of a title is not searched for: "WEST, Sid" as it is shown finds Sid West.
    private static string? Words(string? text) =>
        text is null ? null : string.Concat(text.Select(c => c is ',' or ';' or '·' ? ' ' : c));

    private string? Key(string? text) =>
        !string.IsNullOrWhiteSpace(text)
        && ValueText.TryRead(target.Table.Find(target.Lookup.Key)!.Type, target.KeyOf(text.Trim()), out var key, out _)
            ? key
            : null;

    private LookupChoice ToChoice(
        Dictionary<string, string?> record,
        Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> titles,
        string? example
    )
    {
        var key = record[target.Lookup.Key]!;
        var title = target.Title.Render(
            column => LookupReader.Shown(target.Table, target.Column(column), column, record[column], titles, porch.Notation),
            fallback: key
        );
        return new LookupChoice(target.WrittenAs(key, example), title, title == key ? null : key);
    }
}
