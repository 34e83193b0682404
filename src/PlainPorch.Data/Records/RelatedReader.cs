using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
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

    private readonly List<Kind> _kinds = [.. KindsOf(seen)];

    /// <summary>The columns of the record whose values are referred to.</summary>
    public IEnumerable<string> Needed => _kinds.SelectMany(kind => kind.Lookup.Keys).Distinct();

    /// <summary>Reads the lists of related records that the panel shows.</summary>
    /// <param name="record">The record's values in <see cref="Needed"/>, at least.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The lists, in order; without those by a value that the record lacks.</returns>
    public async Task<IReadOnlyList<RelatedList>> ReadAsync(
        IReadOnlyDictionary<string, string?> record,
        CancellationToken cancellationToken
    )
    {
        var lists = await reader.TogetherAsync(
            _kinds.Select(kind =>
                (Func<Task<RelatedList?>>)(
                    () =>
                        kind.Lookup.ReferredBy(record.GetValueOrDefault) is { } value
                            ? ReadAsync(kind, record, value, cancellationToken)
                            : Task.FromResult<RelatedList?>(null)
                )
            ),
            cancellationToken
        );
        return [.. lists.OfType<RelatedList>()];
    }

    // Without those whose panel or column is gone.
    private static IEnumerable<Kind> KindsOf(SeenPanel seen) =>
        from related in seen.Panel.Definition.Related
        let other = seen.Other(related.Panel)
        where other is not null
        let bound = other.Panel.Find(related.Column)
        let lookup = bound is null ? null : seen.Porch.Bind(bound)
        where lookup is not null && lookup.Table.Name == seen.Panel.Table.Name
        let isOneOfSeveral = seen.Panel.Definition.Related.Count(one => one.Panel == related.Panel && one.Label == related.Label)
            > 1
        select new Kind(
            related,
            other,
            lookup,
            isOneOfSeveral ? $"{related.Label}, as {char.ToLowerInvariant(bound.Label[0])}{bound.Label[1..]}" : related.Label
        );

    private async Task<RelatedList?> ReadAsync(
        Kind kind,
        IReadOnlyDictionary<string, string?> record,
        string value,
        CancellationToken cancellationToken
    )
    {
        var (related, other, lookup, label) = kind;
        var panel = other.Panel;
        // A column that is gone does not hide the records; where they stand as a list, it says so.
        var sort = related.Sort.Where(part => panel.Find(part.Column) is { Type.IsOrderable: true } c && panel.IsVisible(c));
        var plan = other.Plan(new ListRequest(Of: related.Column, Value: value, Sort: [.. sort.Select(part => part.ToString())]));
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
            Through(related, panel, page, row) ?? new RelatedRecord(row.Title, row.Key, related.Panel)
        );
        return new RelatedList(
            related.Panel,
            related.Column,
            label,
            value,
            page.Count!,
            [.. records],
            related.Through,
            related.AsList,
            related.Columns,
            [.. related.Sort.Select(part => part.ToString())],
            related.PageSize,
            panel.May(PanelActs.Add) && panel.Table.Rights.Insert
        )
        {
            Given = lookup.Lookup.Also.ToDictionary(pair => pair.From, pair => record.GetValueOrDefault(pair.Column)!),
        };
    }

    private static RelatedRecord? Through(RelatedRecords related, BoundPanel other, ListPage page, ListRow row)
    {
        if (related.Through is not { } through)
            return null;
        var places = page.Columns.Select((column, i) => (column, i)).ToDictionary(pair => pair.column, pair => pair.i);
        var value = other.Find(through)?.Decision.Lookup is { } lookup
            ? BoundLookup.Referring(lookup, through, name => places.TryGetValue(name, out var i) ? row.Values[i] : null)
            : null;
        return
            value is not null
            && page.Lookups.TryGetValue(through, out var titles)
            && titles.TryGetValue(value, out var title)
            && title.Panel is not null
            ? new RelatedRecord(title.Title, title.Key, title.Panel)
            : null;
    }

    private sealed record Kind(RelatedRecords Related, SeenPanel Other, BoundLookup Lookup, string Label);
}
