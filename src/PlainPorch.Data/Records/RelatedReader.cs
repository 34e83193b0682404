using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>Reads the records of other panels that refer to a record.</summary>
/// <param name="seen">The record's panel, as somebody sees it.</param>
/// <param name="reader">Reads the source, over the one connection that the request has.</param>
internal sealed class RelatedReader(SeenPanel seen, SourceReader reader)
{
    // What a record page shows; the rest is a list of its own.
    private const int Shown = 10;

    /// <summary>Reads one list of related records.</summary>
    /// <param name="table">The record's table.</param>
    /// <param name="related">Which records.</param>
    /// <param name="record">All values of the record.</param>
    /// <param name="isOneOfSeveral">Whether others of the panel refer to the record by another column, so that this one has to be
    /// named.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The list; null where the panel or column is gone, or the record lacks the value that is referred to.</returns>
    public async Task<RelatedList?> ReadAsync(
        TableName table,
        RelatedRecords related,
        IReadOnlyDictionary<string, string?> record,
        bool isOneOfSeveral,
        CancellationToken cancellationToken
    )
    {
        if (seen.Other(related.Panel) is not { Panel: var panel } other)
            return null;
        if (
            panel.Find(related.Column) is not { Decision.Lookup: { } lookup } bound
            || lookup.Table != table
            || record.GetValueOrDefault(lookup.Key) is not { } value
        )
            return null;
        var plan = other.Plan(new ListRequest(Of: related.Column, Value: value));
        if (plan.Dropped.Count > 0)
            return null;
        var columns = plan
            .Columns.Concat(panel.Title.Columns)
            .Append(related.Through)
            .OfType<string>()
            .Where(name => panel.Find(name) is not null)
            .Distinct()
            .ToList();
        var page = await new ListStore(other).ListAsync(reader, plan with { Size = Shown, Columns = columns }, cancellationToken);
        var records = page.Rows.Select(row =>
            Through(related, page, row) ?? new RelatedRecord(row.Title, row.Key, related.Panel)
        );
        var label = isOneOfSeveral
            ? $"{related.Label}, as {char.ToLowerInvariant(bound.Label[0])}{bound.Label[1..]}"
            : related.Label;
        return new RelatedList(related.Panel, related.Column, label, value, page.Count!, [.. records], related.Through);
    }

    private static RelatedRecord? Through(RelatedRecords related, ListPage page, ListRow row)
    {
        if (related.Through is not { } through)
            return null;
        var value = row.Values[page.Columns.Select((column, i) => (column, i)).First(pair => pair.column == through).i];
        return
            value is not null
            && page.Lookups.TryGetValue(through, out var titles)
            && titles.TryGetValue(value, out var title)
            && title.Panel is not null
            ? new RelatedRecord(title.Title, title.Key, title.Panel)
            : null;
    }
}
