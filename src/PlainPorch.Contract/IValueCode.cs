namespace PlainPorch.Contract;

/// <summary>
/// Code of one's own that offers values for a field, such as from a service outside. The field's panel has to say that it offers what other
/// records have there; then these are offered instead. What people type is never replaced by it.
/// </summary>
public interface IValueCode
{
    /// <summary>The table, as <c>schema.table</c>, exactly as the database writes it.</summary>
    string Table { get; }

    /// <summary>The column of text whose field it is.</summary>
    string Column { get; }

    /// <summary>
    /// Finds values. Where it throws, or takes longer than the time that is set, what other records have is offered.
    /// </summary>
    /// <param name="typed">What was typed so far; empty for nothing.</param>
    /// <param name="cancellationToken">Cancelled where the time is over, or nobody waits any more.</param>
    /// <returns>The values, likely ones first; those after the fiftieth are left out.</returns>
    Task<IReadOnlyList<string>> FindAsync(string typed, CancellationToken cancellationToken);
}
