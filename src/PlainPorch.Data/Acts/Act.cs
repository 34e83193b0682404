using PlainPorch.Core.History;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;

namespace PlainPorch.Data.Acts;

/// <summary>
/// Something that was done within a transaction of the source, and of which the catalog has to know before that ends.
/// </summary>
/// <typeparam name="T">What is answered when it has come to pass.</typeparam>
/// <param name="Kind">What the logbook calls it.</param>
/// <param name="Records">What the logbook says of each record.</param>
/// <param name="Result">The answer, known before the transaction ends, so that it can be given whatever happens
/// afterwards.</param>
internal sealed record Act<T>(LogAct Kind, IReadOnlyList<LoggedRecord> Records, Func<ActPlace, T> Result)
    where T : class
{
    /// <summary>Rows by which it can be seen later whether it came to pass.</summary>
    public Witnesses? Witnesses { get; init; }

    /// <summary>The parcel that it makes or empties; null for none.</summary>
    public IActParcel? Parcel { get; init; }

    /// <summary>
    /// Gives the answer anew, where code of one's own changed values within the act; null where the answer tells no values.
    /// </summary>
    public Func<Task<Func<ActPlace, T>>>? Anew { get; init; }
}

/// <summary>Where the catalog has an act.</summary>
/// <param name="Entry">The logbook's entry.</param>
/// <param name="Parcel">The parcel; null for none.</param>
internal sealed record ActPlace(long Entry, long? Parcel);

/// <summary>
/// A parcel that an act makes or empties: what of it has to stand in the catalog before the source's transaction ends.
/// </summary>
internal interface IActParcel
{
    /// <summary>Puts into the catalog what becomes of the parcel, as something that is about to happen.</summary>
    /// <param name="transaction">The source's number of the transaction.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>The catalog's number of the parcel; null where somebody else is at it.</returns>
    Task<long?> BeginAsync(string transaction, CancellationToken cancellationToken);
}

/// <summary>
/// How an act ended, as far as that is certain. Where it is not, <see cref="OutcomeUnknownException"/> says so.
/// </summary>
/// <typeparam name="T">What is answered when it has come to pass.</typeparam>
internal abstract record ActEnd<T>
    where T : class
{
    private ActEnd() { }

    /// <summary>It has come to pass.</summary>
    /// <param name="Result">The answer.</param>
    public sealed record Done(T Result) : ActEnd<T>;

    /// <summary>Nothing was changed: the database refused, or broke off before the end.</summary>
    /// <param name="Problems">Why; at least one.</param>
    public sealed record Refused(IReadOnlyList<FieldProblem> Problems) : ActEnd<T>
    {
        /// <summary>Nothing was changed, for one reason.</summary>
        public Refused(FieldProblem problem)
            : this([problem]) { }
    }

    /// <summary>Nothing was changed: somebody else is at the parcel.</summary>
    public sealed record Taken : ActEnd<T>;
}

/// <summary>
/// The answer to a COMMIT did not come, and the source cannot be asked now: the act may have come to pass or not. It is found out
/// in the
/// background, and the logbook's entry tells then.
/// </summary>
/// <param name="entry">The logbook's entry.</param>
/// <param name="lost">What kept the answer away.</param>
public sealed class OutcomeUnknownException(long entry, Exception lost)
    : Exception($"The database did not say whether it carried out what entry {entry} of the logbook tells.", lost)
{
    /// <summary>The logbook's entry.</summary>
    public long Entry => entry;
}
