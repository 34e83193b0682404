using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>How rows are written to, by a key or by their place, and that a key which nobody declared is not given twice.</summary>
public sealed partial class RecordWriter
{
    // The key of the new row; null where the database took the request but no row.
    private async Task<IReadOnlyList<string>?> PutAsync(
        DbContext context,
        Row row,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        if (Panel.Identity.ByPlace)
            return (await RowsOf(context).AddAsync(Panel.Table.Name, Stored(values), cancellationToken))?.Parts;
        store.Rows(context).Add(row);
        await context.SaveChangesAsync(cancellationToken);
        // Whether a further row has the same key is for the database to say.
        context.ChangeTracker.Clear();
        return
        [
            .. Panel.Identity.Columns.Select(name =>
                values.GetValueOrDefault(name) ?? ClrValue.Format(row[RecordModel.Property(name)]!)
            ),
        ];
    }

    // The key that the row has then; null where it is not there in this version, or is not the only one that is meant.
    private async Task<IReadOnlyList<string>?> RewriteAsync(
        DbContext context,
        IReadOnlyList<string> keyValues,
        uint version,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        if (Panel.Identity.ByPlace)
            return
                RowPlace.TryRead(keyValues) is { } place
                && place.Version == version
                && await store.Matching(context, RecordKey.Filter(Panel, keyValues)).AnyAsync(cancellationToken)
                ? (await RowsOf(context).RewriteAsync(Panel.Table.Name, place, Stored(values), cancellationToken))?.Parts
                : null;
        return
            await Target(context, keyValues, version).ExecuteUpdateAsync(setters => Set(setters, values), cancellationToken) > 0
            ? [.. Panel.Identity.Columns.Zip(keyValues, (name, old) => values.GetValueOrDefault(name) ?? old)]
            : null;
    }

    private List<(string Column, string? Value)> Stored(IReadOnlyDictionary<string, string?> values) =>
        [
            .. values.Select(pair =>
                (pair.Key, pair.Value is { } text ? ClrValue.InDatabase(Panel.Table.Find(pair.Key)!.Type, text) : null)
            ),
        ];

    // Where the database does not see to it that a key stays the only one.
    private Task<bool> IsDoubledAsync(DbContext context, IReadOnlyList<string> keyValues, CancellationToken cancellationToken) =>
        Panel.Identity.IsAssumed
            ? store.AreDoubledAsync(context, RecordKey.Filter(Panel.Identity.Columns, keyValues), cancellationToken)
            : Task.FromResult(false);

    private WriteOutcome.Refused Taken() => Refused(new(Panel.Identity.Columns[^1], DoubledKey.Taken(Panel)));
}
