using PlainPorch.Core.Panels;

namespace PlainPorch.Data.Lookups;

/// <summary>Knows how records in our keep were called, to which others still refer.</summary>
public interface IKeptTitles
{
    /// <summary>Finds the titles of records that are not in their table any more.</summary>
    /// <param name="lookup">What refers to them.</param>
    /// <param name="values">The referring values.</param>
    /// <param name="cancellationToken">Stops the search.</param>
    /// <returns>The titles by referring value; values without one are left out.</returns>
    Task<IReadOnlyDictionary<string, LookupTitle>> FindAsync(
        BoundLookup lookup,
        IReadOnlyList<string> values,
        CancellationToken cancellationToken
    );
}

/// <summary>Gives what knows how the kept records of a source were called.</summary>
/// <param name="source">The catalog's number of the source.</param>
public delegate IKeptTitles KeptTitlesOf(int source);
