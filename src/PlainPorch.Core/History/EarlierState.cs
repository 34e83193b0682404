using PlainPorch.Core.Records;

namespace PlainPorch.Core.History;

/// <summary>Works out how a record was before some changes, from how it is now.</summary>
public static class EarlierState
{
    /// <summary>Takes changes back, the latest first.</summary>
    /// <param name="now">The values now.</param>
    /// <param name="changes">The changes since then, the latest first; those of sensitive values cannot be taken back and are
    /// passed over.</param>
    /// <returns>The values then; columns that no longer exist are left out.</returns>
    public static IReadOnlyDictionary<string, string?> Before(
        IReadOnlyDictionary<string, string?> now,
        IEnumerable<ValueChange> changes
    )
    {
        ArgumentNullException.ThrowIfNull(now);
        ArgumentNullException.ThrowIfNull(changes);
        var values = now.ToDictionary();
        foreach (var change in changes.Where(change => !change.IsHidden && values.ContainsKey(change.Column)))
            values[change.Column] = change.From;
        return values;
    }

    /// <summary>The key that a record had before a step that gave it the one it has.</summary>
    /// <param name="identity">The columns that tell records apart.</param>
    /// <param name="key">The key since the step, as <see cref="RecordKey"/> writes it.</param>
    /// <param name="changes">What the step changed.</param>
    /// <returns>The key before; null where it was the same, the record was not there, or it is not told.</returns>
    public static string? KeyBefore(IReadOnlyList<string> identity, string key, IReadOnlyList<ValueChange> changes)
    {
        ArgumentNullException.ThrowIfNull(identity);
        ArgumentNullException.ThrowIfNull(changes);
        if (!RecordKey.TryRead(key, identity.Count, out var values))
            return null;
        var before = identity
            .Zip(values, (column, value) =>
                changes.FirstOrDefault(change => change.Column == column && !change.IsHidden && change.To == value) is { } change
                    ? change.From
                    : value
            )
            .ToList();
        return before.Contains(null) || before.SequenceEqual(values) ? null : RecordKey.Write(before!);
    }

    /// <summary>The columns whose value is not what the logbook last told: somebody changed them without us.</summary>
    /// <param name="now">The values now.</param>
    /// <param name="changes">All changes of the record, the latest first.</param>
    public static IReadOnlyList<ValueChange> ChangedElsewhere(
        IReadOnlyDictionary<string, string?> now,
        IEnumerable<ValueChange> changes
    )
    {
        ArgumentNullException.ThrowIfNull(now);
        ArgumentNullException.ThrowIfNull(changes);
        return
        [
            .. changes
                .Where(change => !change.IsHidden)
                .DistinctBy(change => change.Column)
                .Where(change => now.TryGetValue(change.Column, out var value) && value != change.To)
                .Select(change => new ValueChange(change.Column, change.To, now[change.Column])),
        ];
    }
}
