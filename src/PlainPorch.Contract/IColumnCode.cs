namespace PlainPorch.Contract;

/// <summary>
/// Code of one's own that computes a column, such as from a service outside. The panel has to say that code computes a column of that name.
/// It is shown in the list and beside the record and goes into exports; the database knows nothing of it, so that nobody can search it, or put
/// records in order by it. An expression can do that, wherever one can say what is wanted.
/// </summary>
public interface IColumnCode
{
    /// <summary>The table, as <c>schema.table</c>, exactly as the database writes it.</summary>
    string Table { get; }

    /// <summary>The name that the panel gives to the computed column.</summary>
    string Column { get; }

    /// <summary>
    /// The columns of the table whose values it needs. They are read whether whoever asks may see them or not: what is computed of them is
    /// shown.
    /// </summary>
    IReadOnlyList<string> Reads { get; }

    /// <summary>
    /// Computes the column for some records at once: those of a page, or some hundred of an export. Where it throws, or takes longer than the
    /// time that is set, the column stays empty, and the list says why.
    /// </summary>
    /// <param name="records">
    /// Of each record the values of <see cref="Reads"/>, by their columns, as <see cref="RecordInAct.Values"/> has them.
    /// </param>
    /// <param name="cancellationToken">Cancelled where the time is over, or nobody waits any more.</param>
    /// <returns>For each record, in the same order, what is shown; null for nothing.</returns>
    Task<IReadOnlyList<string?>> ComputeAsync(
        IReadOnlyList<IReadOnlyDictionary<string, string?>> records,
        CancellationToken cancellationToken
    );
}
