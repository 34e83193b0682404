using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;

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
        var parts = new List<Filter>();
        if (SearchText.Read(text, target.Searched(model.Snapshot)) is { } search)
            parts.Add(search);
        if (target.Lookup.Where is { } list)
            parts.Add(new Filter.EqualTo(list.Column, list.Value));
        var columns = target.Title.Columns.Append(target.Lookup.Key).Distinct().ToList();
        // By the title where it is the record's own; what it borrows from others cannot order it.
        var order = target.Title.Columns.Where(column => !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.IsOrderable)
            .Append(target.Lookup.Key).Distinct().Select(column => new OrderBy(column, Descending: false));
        var rows = query.Where(context.Set<Row>(model.EntityName(target.Table.Name)), new Filter.All(parts));
        var read = await query.Read(query.OrderBy(rows, order).Take(Shown + 1), columns, cutAt: null, withVersion: false).ToListAsync(cancellationToken);
        var records = read.Take(Shown)
            .Select(row => columns.Zip(row, (column, value) => (column, Text: ClrValue.ToText(target.Table.Find(column)!.Type, value))).ToDictionary(pair => pair.column, pair => pair.Text))
            .Where(record => record[target.Lookup.Key] is not null)
            .ToList();
        var titles = await new LookupReader(model, porch).ReadAsync(
            context,
            target.TitleLookups.Select(pair => (pair.Key, pair.Value, records.Select(record => record[pair.Key]))),
            cancellationToken);
        return new LookupChoices([.. records.Select(record => ToChoice(record, titles, example))], HasMore: read.Count > Shown);
    }

    private LookupChoice ToChoice(Dictionary<string, string?> record, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> titles, string? example)
    {
        var key = record[target.Lookup.Key]!;
        var title = target.Title.Render(column => LookupReader.ShownIn(column, record[column], titles), fallback: key);
        return new LookupChoice(target.WrittenAs(key, example), title, title == key ? null : key);
    }
}
