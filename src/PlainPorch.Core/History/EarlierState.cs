namespace PlainPorch.Core.History;

/// <summary>Works out how a record was before some changes, from how it is now.</summary>
public static class EarlierState
{
    /// <summary>Takes changes back, the latest first.</summary>
    /// <param name="now">The values now.</param>
    /// <param name="changes">The changes since then, the latest first; those of sensitive values cannot be taken back and are passed over.</param>
    /// <returns>The values then; columns that no longer exist are left out.</returns>
    public static IReadOnlyDictionary<string, string?> Before(IReadOnlyDictionary<string, string?> now, IEnumerable<ValueChange> changes)
    {
        ArgumentNullException.ThrowIfNull(now);
        ArgumentNullException.ThrowIfNull(changes);
        var values = now.ToDictionary();
        foreach (var change in changes.Where(change => !change.IsHidden && values.ContainsKey(change.Column)))
            values[change.Column] = change.From;
        return values;
    }

    /// <summary>The columns whose value is not what the logbook last told: somebody changed them without us.</summary>
    /// <param name="now">The values now.</param>
    /// <param name="changes">All changes of the record, the latest first.</param>
    public static IReadOnlyList<ValueChange> ChangedElsewhere(IReadOnlyDictionary<string, string?> now, IEnumerable<ValueChange> changes)
    {
        ArgumentNullException.ThrowIfNull(now);
        ArgumentNullException.ThrowIfNull(changes);
        return [.. changes.Where(change => !change.IsHidden)
            .DistinctBy(change => change.Column)
            .Where(change => now.TryGetValue(change.Column, out var value) && value != change.To)
            .Select(change => new ValueChange(change.Column, change.To, now[change.Column]))];
    }
}
