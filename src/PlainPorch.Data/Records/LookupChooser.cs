using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Records;

/// <summary>Finds the records that can be chosen in a lookup.</summary>
/// <param name="model">The source's model.</param>
/// <param name="target">What the lookup refers to.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class LookupChooser(RecordModel model, BoundLookup target, PorchPanels porch)
{
    private const int Shown = 20;

    /// <summary>Finds records by what was typed.</summary>
    /// <param name="context">The source.</param>
    /// <param name="text">What was typed; null or empty for the first records.</param>
    /// <param name="example">Some value of the referring column, whose form a chosen one gets; null for none.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<LookupChoices> FindAsync(DbContext context, string? text, string? example, CancellationToken cancellationToken)
    {
        var query = new RecordQuery(target.Table);
        var columns = target.Title.Columns.Append(target.Lookup.Key).Distinct().ToList();
        // By the title where it is the record's own; what it borrows from others cannot order it.
        var order = target.Title.Columns.Where(column => !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.IsOrderable)
            .Append(target.Lookup.Key).Distinct().Select(column => new OrderBy(column, Descending: false));
        var search = SearchText.Read(Words(text), target.Searched(model.Snapshot));
        var read = await query.Read(query.OrderBy(Matching(search), order).Take(Shown + 1), columns, cutAt: null, withVersion: false).ToListAsync(cancellationToken);
        // Whoever types a whole number or code means that one, though others may hold it somewhere too.
        var exact = Key(text) is { } key
            ? await query.Read(Matching(new Filter.EqualTo(target.Lookup.Key, key)).Take(1), columns, cutAt: null, withVersion: false).ToListAsync(cancellationToken)
            : [];
        var records = exact.Concat(await BeginningWithAsync(text)).Concat(read.Take(Shown))
            .DistinctBy(row => row[columns.IndexOf(target.Lookup.Key)])
            .Take(Shown + 1)
            .Select(row => columns.Zip(row, (column, value) => (column, Text: ClrValue.ToText(target.Table.Find(column)!.Type, value))).ToDictionary(pair => pair.column, pair => pair.Text))
            .Where(record => record[target.Lookup.Key] is not null)
            .ToList();
        var titles = await new LookupReader(model, porch).ReadAsync(
            context,
            target.TitleLookups.Select(pair => (pair.Key, pair.Value, records.Select(record => record[pair.Key]))),
            cancellationToken);
        return new LookupChoices([.. records.Select(record => ToChoice(record, titles, example))], HasMore: read.Count > Shown);

        // "west" means West sooner than Westley Rucker.
        async Task<IEnumerable<string?[]>> BeginningWithAsync(string? typed)
        {
            var first = target.Title.Columns.FirstOrDefault(column => !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.Kind is ValueKind.Text);
            var word = Words(typed)?.Split(' ', StringSplitOptions.RemoveEmptyEntries).FirstOrDefault();
            if (first is null || word is null || read.Count == 0)
                return [];
            var beginning = Matching(new Filter.All([new Filter.StartsWith(first, word), search!]));
            return await query.Read(query.OrderBy(beginning, order).Take(Shown), columns, cutAt: null, withVersion: false).ToListAsync(cancellationToken);
        }

        IQueryable<Row> Matching(Filter? filter)
        {
            var parts = new[] { filter, target.Lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null };
            return query.Where(context.Set<Row>(model.EntityName(target.Table.Name)), new Filter.All([.. parts.OfType<Filter>()]));
        }
    }

    // What only joins the parts of a title is not searched for: "WEST, Sid" as it is shown finds Sid West.
    private static string? Words(string? text) => text is null ? null : string.Concat(text.Select(c => c is ',' or ';' or '·' ? ' ' : c));

    private string? Key(string? text) =>
        !string.IsNullOrWhiteSpace(text) && ValueText.TryRead(target.Table.Find(target.Lookup.Key)!.Type, target.KeyOf(text.Trim()), out var key, out _) ? key : null;

    private LookupChoice ToChoice(Dictionary<string, string?> record, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> titles, string? example)
    {
        var key = record[target.Lookup.Key]!;
        var title = target.Title.Render(column => LookupReader.ShownIn(column, record[column], titles), fallback: key);
        return new LookupChoice(target.WrittenAs(key, example), title, title == key ? null : key);
    }
}
