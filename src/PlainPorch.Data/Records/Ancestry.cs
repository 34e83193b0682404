using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>The records that stand above one, from the topmost down.</summary>
/// <param name="Records">The records; without the one itself.</param>
/// <param name="IsCircle">Whether they stand above each other in a circle, in which each is told once.</param>
/// <param name="HasMore">Whether there are others above the topmost one that is told.</param>
public sealed record RecordsAbove(IReadOnlyList<LookupTitle> Records, bool IsCircle, bool HasMore);

/// <summary>Follows a table's records upwards, from each to the one that stands above it.</summary>
/// <param name="seen">The panel as somebody sees it.</param>
/// <param name="above">The column that says which one that is, as <see cref="BoundPanel.Above"/> gives it.</param>
internal sealed class Ancestry(SeenPanel seen, BoundColumn above)
{
    // So far the way is told: nobody reads a longer one.
    private const int MostTold = 50;

    private readonly BoundLookup? _lookup = seen.Porch.Bind(above);

    /// <summary>Follows a value of the column upwards.</summary>
    /// <param name="reader">Reads the source.</param>
    /// <param name="value">The value; null for none.</param>
    /// <param name="most">So many values are met at most.</param>
    /// <param name="isEnd">Whether the way ends at a record, given what tells it apart.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The way.</returns>
    public async Task<Way> FollowAsync(
        SourceReader reader,
        string? value,
        int most,
        Func<IReadOnlyList<string>, bool> isEnd,
        CancellationToken cancellationToken
    )
    {
        var values = new List<string>();
        var keys = new HashSet<string>();
        if (_lookup is not { Table.Rights.Read: true } lookup)
            return new Way(values);
        List<string> columns = [.. seen.Panel.Identity.Columns.Append(above.Name).Distinct()];
        while (value is not null)
        {
            if (values.Count == most)
                return new Way(values) { HasMore = true };
            var request = new RowRequest
            {
                Filter = lookup.OneOf(lookup.Lookup.Key, [lookup.KeyOf(value)]),
                Columns = columns,
                Take = 1,
            };
            if (await reader.ReadAsync(lookup.Table, request, cancellationToken) is not [var row])
                break;
            var found = RowValues.Of(lookup.Table, columns, row);
            List<string> key = [.. seen.Panel.Identity.Columns.Select(column => found[column] ?? "")];
            if (isEnd(key))
                return new Way(values) { MeetsEnd = true };
            if (!keys.Add(RecordKey.Write(key)))
                return new Way(values) { IsCircle = true };
            values.Add(value);
            value = found[above.Name];
        }

        return new Way(values);
    }

    /// <summary>Reads what stands above a record.</summary>
    /// <param name="reader">Reads the source.</param>
    /// <param name="key">The record's key.</param>
    /// <param name="value">What the record has in the column; null for nothing.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<RecordsAbove> ReadAsync(SourceReader reader, string key, string? value, CancellationToken cancellationToken)
    {
        var way = await FollowAsync(reader, value, MostTold, one => RecordKey.Write(one) == key, cancellationToken);
        var titles = await new LookupReader(seen.Porch, seen.Kept).OfPanelAsync(
            reader,
            seen.Panel,
            [above.Name],
            (_, _) => way.Values,
            cancellationToken
        );
        var known = titles.GetValueOrDefault(above.Name);
        return new RecordsAbove(
            [.. way.Values.Reverse().Select(one => known?.GetValueOrDefault(one) ?? new LookupTitle(one, null, null))],
            way.MeetsEnd || way.IsCircle,
            way.HasMore
        );
    }

    /// <summary>The way upwards.</summary>
    /// <param name="Values">The column's values that were met, the first one first.</param>
    public sealed record Way(IReadOnlyList<string> Values)
    {
        /// <summary>Whether it came to where it was to end.</summary>
        public bool MeetsEnd { get; init; }

        /// <summary>Whether it came to where it had been, further up.</summary>
        public bool IsCircle { get; init; }

        /// <summary>Whether it goes on.</summary>
        public bool HasMore { get; init; }
    }
}
