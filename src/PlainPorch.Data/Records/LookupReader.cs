using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;


namespace PlainPorch.Data.Records;

/// <summary>Reads the titles of records that others refer to: one query for each lookup column, however many records.</summary>
/// <param name="porch">The porch's panels.</param>
internal sealed class LookupReader(PorchPanels porch)
{
    /// <summary>Reads the titles for the values of some columns.</summary>
    /// <param name="reader">Reads the source.</param>
    /// <param name="lookups">The lookup columns with the values that occur in them.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>For each column, the title of each value that refers to a record; values without one are left out.</returns>
    public async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadAsync(
        SourceReader reader, IEnumerable<(string Column, Lookup Lookup, IEnumerable<string?> Values)> lookups, CancellationToken cancellationToken)
    {
        var titles = new Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>();
        foreach (var (column, lookup, values) in lookups)
            titles[column] = await ReadAsync(reader, lookup, [.. values.OfType<string>().Distinct()], BoundLookup.MaxDepth, cancellationToken);
        return titles;
    }

    private async Task<IReadOnlyDictionary<string, LookupTitle>> ReadAsync(
        SourceReader reader, Lookup lookup, IReadOnlyList<string> values, int depth, CancellationToken cancellationToken)
    {
        var none = new Dictionary<string, LookupTitle>();
        if (values.Count == 0 || porch.Bind(lookup) is not { Table.Rights.Read: true } bound)
            return none;
        var keyType = bound.Table.Find(lookup.Key)!.Type;
        var keys = values.ToDictionary(value => value, value => ValueText.TryRead(keyType, bound.KeyOf(value), out var key, out _) ? key : null);
        var wanted = keys.Values.OfType<string>().Distinct().ToList();
        var shown = porch.BoundOver(bound.Table.Name);
        var columns = Columns(bound).Concat(shown?.Marker is { } marker ? [marker.Column] : []).Distinct().ToList();
        var filter = bound.OneOf(lookup.Key, wanted);
        if (lookup.Where is { } list)
            filter = new Filter.All([filter, new Filter.EqualTo(list.Column, list.Value)]);
        var rows = await reader.ReadAsync(bound.Table, new RowRequest { Filter = filter, Columns = columns, Take = 10 * wanted.Count }, cancellationToken);
        var records = rows.ConvertAll(row => columns.Zip(row, (column, text) => (column, Text: ClrValue.ToText(bound.Table.Find(column)!.Type, text))).ToDictionary(pair => pair.column, pair => pair.Text));
        var nested = await ReadNestedAsync(reader, bound, records, depth, cancellationToken);
        var byKey = records.GroupBy(record => bound.KeyOf(record[lookup.Key] ?? "")).ToDictionary(group => group.Key, group => ToTitle(bound, shown, group.First(), nested));
        return keys.Where(pair => pair.Value is not null && byKey.ContainsKey(pair.Value)).ToDictionary(pair => pair.Key, pair => byKey[pair.Value!]);
    }

    private async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadNestedAsync(
        SourceReader reader, BoundLookup bound, List<Dictionary<string, string?>> records, int depth, CancellationToken cancellationToken)
    {
        var nested = new Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>();
        if (depth <= 1)
            return nested;
        foreach (var (column, lookup) in bound.TitleLookups)
            nested[column] = await ReadAsync(reader, lookup, [.. records.Select(record => record[column]).OfType<string>().Distinct()], depth - 1, cancellationToken);
        return nested;
    }

    private static List<string> Columns(BoundLookup bound) =>
        [.. bound.Title.Columns.Append(bound.Lookup.Key).Concat(RecordIdentity.Of(bound.Table).Columns).Distinct()];

    private static LookupTitle ToTitle(
        BoundLookup bound, BoundPanel? shown, Dictionary<string, string?> record, Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> nested)
    {
        var identity = RecordIdentity.Of(bound.Table);
        var key = bound.Panel is not null && identity.Exists ? RecordKey.Write([.. identity.Columns.Select(column => record[column] ?? "")]) : null;
        var title = bound.Title.Render(column => ShownIn(column, record[column], nested), fallback: record[bound.Lookup.Key] ?? "");
        return new LookupTitle(title, bound.Panel?.Slug, key, shown?.IsSetAside(record.GetValueOrDefault) == true);
    }

    /// <summary>What a title shows of a column: the title of the record that it refers to, where it does.</summary>
    public static string? ShownIn(string column, string? value, IReadOnlyDictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups) =>
        value is not null && lookups.TryGetValue(column, out var titles) && titles.TryGetValue(value, out var title) ? title.Title : value;
}
