using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Lookups;

/// <summary>Reads the titles of records that others refer to: one query for each lookup column, however many records.</summary>
/// <param name="porch">The porch's panels.</param>
/// <param name="kept">Knows how records in our keep were called; null to leave those unnamed.</param>
internal sealed class LookupReader(PorchPanels porch, IKeptTitles? kept = null)
{
    // However many combinations there could be of what several columns have.
    private const int MostRead = 10_000;

    /// <summary>Reads the titles for the values of some columns.</summary>
    /// <param name="reader">Reads the source.</param>
    /// <param name="lookups">The lookup columns with what occurs in them, as <see cref="BoundLookup.Referring"/> gives it.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>For each column, the title of each value that refers to a record; values without one are left out.</returns>
    public async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadAsync(
        SourceReader reader,
        IEnumerable<(string Column, Lookup Lookup, IEnumerable<string?> Values)> lookups,
        CancellationToken cancellationToken
    )
    {
        var several = lookups.Select(one => (one.Column, one.Lookup, Values: one.Values.OfType<string>().Distinct().ToList()));
        return await ReadAsync(reader, several, BoundLookup.MaxDepth, cancellationToken);
    }

    private async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadAsync(
        SourceReader reader,
        IEnumerable<(string Column, Lookup Lookup, List<string> Values)> lookups,
        int depth,
        CancellationToken cancellationToken
    )
    {
        var all = lookups.ToList();
        var titles = await reader.TogetherAsync(
            all.Select(one =>
                (Func<Task<IReadOnlyDictionary<string, LookupTitle>>>)(
                    () => ReadAsync(reader, one.Lookup, one.Values, depth, cancellationToken)
                )
            ),
            cancellationToken
        );
        return all.Zip(titles).ToDictionary(pair => pair.First.Column, pair => pair.Second);
    }

    /// <summary>Reads the titles of the records that some records of a panel refer to, of those in our keep as well.</summary>
    /// <param name="reader">Reads the source.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="columns">Its columns that are shown; those that are no lookups are left out.</param>
    /// <param name="referring">Gives what occurs in a lookup column, as <see cref="BoundLookup.Referring"/> does.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>For each lookup column, the title of each value that refers to a record; values without one are left
    /// out.</returns>
    public async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> OfPanelAsync(
        SourceReader reader,
        BoundPanel panel,
        IEnumerable<string> columns,
        Func<string, Lookup, IEnumerable<string?>> referring,
        CancellationToken cancellationToken
    )
    {
        var lookups = (
            from name in columns
            let lookup = panel.Find(name)?.Decision.Lookup
            where lookup is not null
            select (Name: name, Lookup: lookup, Values: referring(name, lookup))
        ).ToList();
        var titles = await ReadAsync(reader, lookups, cancellationToken);
        if (kept is null)
            return titles;
        foreach (var (name, lookup, all) in lookups)
        {
            // What is not there may be in our keep.
            var missing = all.OfType<string>().Where(value => !titles[name].ContainsKey(value)).Distinct().ToList();
            if (
                missing.Count > 0
                && porch.Bind(lookup) is { } bound
                && await kept.FindAsync(bound, missing, cancellationToken) is { Count: > 0 } found
            )
                titles[name] = titles[name].Concat(found).ToDictionary(pair => pair.Key, pair => pair.Value);
        }

        return titles;
    }

    private async Task<IReadOnlyDictionary<string, LookupTitle>> ReadAsync(
        SourceReader reader,
        Lookup lookup,
        List<string> values,
        int depth,
        CancellationToken cancellationToken
    )
    {
        var none = new Dictionary<string, LookupTitle>();
        if (values.Count == 0 || porch.Bind(lookup) is not { Table.Rights.Read: true } bound)
            return none;
        var keys = values.ToDictionary(value => value, bound.ValuesOf);
        var found = keys.Values.OfType<IReadOnlyList<string>>().ToList();
        if (found.Count == 0)
            return none;
        // Of several columns the values of each: what has them in another combination is left aside then.
        var wanted = bound.Keys.Select((_, place) => found.Select(one => one[place]).Distinct().ToList()).ToList();
        var shown = porch.BoundOver(bound.Table.Name);
        var columns = Columns(bound).Concat(shown?.Marker is { } marker ? [marker.Column] : []).Distinct().ToList();
        var inList = lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null;
        var asked = Filter.Join([.. bound.Keys.Zip(wanted, bound.OneOf), inList]);
        var filter = shown is null ? asked : shown.Within(asked);
        var rows = await reader.ReadAsync(
            bound.Table,
            new RowRequest
            {
                Filter = filter,
                Columns = columns,
                Take = Math.Min(MostRead, 10 * wanted.Aggregate(1, (product, one) => Math.Min(MostRead, product * one.Count))),
            },
            cancellationToken
        );
        var records = rows.ConvertAll(row => RowValues.Of(bound.Table, columns, row));
        var nested = await ReadNestedAsync(reader, bound, records, depth, cancellationToken);
        var byKey = records
            .GroupBy(record => KeyIn(bound, record))
            .ToDictionary(group => group.Key, group => ToTitle(bound, shown, group.First(), nested, porch.Notation));
        return keys.Where(pair => pair.Value is not null && byKey.ContainsKey(Joined(pair.Value)))
            .ToDictionary(pair => pair.Key, pair => byKey[Joined(pair.Value!)]);
    }

    private static string KeyIn(BoundLookup bound, Dictionary<string, string?> record) =>
        Joined(bound.Keys.Select(column => bound.KeyOf(record[column] ?? "")));

    private static string Joined(IEnumerable<string> values) => string.Join('\u001f', values);

    private async Task<Dictionary<string, IReadOnlyDictionary<string, LookupTitle>>> ReadNestedAsync(
        SourceReader reader,
        BoundLookup bound,
        List<Dictionary<string, string?>> records,
        int depth,
        CancellationToken cancellationToken
    )
    {
        if (depth <= 1)
            return [];
        var nested = bound.TitleLookups.Select(pair =>
            (
                pair.Key,
                pair.Value,
                Values: records
                    .Select(record => BoundLookup.Referring(pair.Value, pair.Key, record.GetValueOrDefault))
                    .OfType<string>()
                    .Distinct()
                    .ToList()
            )
        );
        return await ReadAsync(reader, nested, depth - 1, cancellationToken);
    }

    private static List<string> Columns(BoundLookup bound) =>
        [
            .. bound
                .Title.Columns.Concat(bound.Keys)
                .Concat(bound.TitleLookups.Values.SelectMany(lookup => lookup.Also.Select(pair => pair.From)))
                .Concat(RecordIdentity.Of(bound.Table).Columns)
                .Distinct(),
        ];

    private static LookupTitle ToTitle(
        BoundLookup bound,
        BoundPanel? shown,
        Dictionary<string, string?> record,
        Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> nested,
        Notation notation
    )
    {
        var identity = RecordIdentity.Of(bound.Table);
        var key =
            bound.Panel is not null && identity.Exists
                ? RecordKey.Write([.. identity.Columns.Select(column => record[column] ?? "")])
                : null;
        var title = bound.Title.Render(
            column => Shown(bound.Table, bound.Column(column), column, record.GetValueOrDefault, nested, notation),
            fallback: record[bound.Lookup.Key] ?? ""
        );
        return new LookupTitle(title, bound.Panel?.Slug, key, shown?.IsSetAside(record.GetValueOrDefault) == true);
    }

    /// <summary>
    /// What a title shows of a column, as its panel reads it: the title of the record that it refers to, where it does, or its value as people read it.
    /// </summary>
    /// <param name="table">The record's table.</param>
    /// <param name="known">The column as its panel has it; null where there is none.</param>
    /// <param name="column">The column's exact name.</param>
    /// <param name="value">Gives the record's stored values.</param>
    /// <param name="lookups">The titles of what is referred to.</param>
    /// <param name="notation">How people write dates and numbers.</param>
    public static string? Shown(
        Table table,
        BoundColumn? known,
        string column,
        Func<string, string?> value,
        IReadOnlyDictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups,
        Notation notation
    )
    {
        ArgumentNullException.ThrowIfNull(value);
        return value(column) is { } text ? Shown(table, known, column, text, value, lookups, notation) : null;
    }

    private static string? Shown(
        Table table,
        BoundColumn? known,
        string column,
        string value,
        Func<string, string?> record,
        IReadOnlyDictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups,
        Notation notation
    )
    {
        if (
            lookups.TryGetValue(column, out var titles)
            && (known?.Decision.Lookup is { Also.Count: > 0 } lookup ? BoundLookup.Referring(lookup, column, record) : value)
                is { } referring
            && titles.TryGetValue(referring, out var title)
        )
            return title.Title;
        if (known is not null)
            return known.Show(value, notation);
        return table.Find(column) is { } stored ? ShownText.Of(stored.Type, value, notation) : value;
    }
}
