using System.Collections.Frozen;
using System.Data.Common;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace PlainPorch.Data.Catalog;

/// <summary>
/// Tells whether what was read from the catalog still holds. What this process writes counts at once; what other instances
/// write is told by the database (LISTEN). While nobody listens, nothing that was kept is used.
/// </summary>
public sealed class CatalogChanges
{
    /// <summary>The channel on which the catalog's triggers tell of changes.</summary>
    public const string Channel = "porch_changed";

    private long _epoch;
    private volatile bool _isFollowed;

    /// <summary>Grows with each change; what was read under an older one may be out of date.</summary>
    public long Epoch => Interlocked.Read(ref _epoch);

    /// <summary>Whether changes by other instances are heard of.</summary>
    public bool IsFollowed
    {
        get => _isFollowed;
        set
        {
            // What happened while nobody listened is not known.
            Tell();
            _isFollowed = value;
        }
    }

    /// <summary>Something was changed.</summary>
    public void Tell() => Interlocked.Increment(ref _epoch);
}

/// <summary>
/// Notices what this process itself writes to those tables of the catalog by which panels change, as the database's triggers do.
/// </summary>
/// <param name="changes">Is told.</param>
internal sealed partial class CatalogWriteWatch(CatalogChanges changes) : DbCommandInterceptor, ISaveChangesInterceptor
{
    private const string Tables = "source|snapshot|porch|panel|person|membership|api_token";

    private static readonly FrozenSet<string?> _tables = Tables.Split('|').ToFrozenSet<string?>();

    public ValueTask<int> SavedChangesAsync(
        SaveChangesCompletedEventData eventData,
        int result,
        CancellationToken cancellationToken = default
    )
    {
        TellOf(eventData);
        return ValueTask.FromResult(result);
    }

    public int SavedChanges(SaveChangesCompletedEventData eventData, int result)
    {
        TellOf(eventData);
        return result;
    }

    public override ValueTask<int> NonQueryExecutedAsync(
        DbCommand command,
        CommandExecutedEventData eventData,
        int result,
        CancellationToken cancellationToken = default
    )
    {
        TellOf(command, eventData);
        return ValueTask.FromResult(result);
    }

    public override int NonQueryExecuted(DbCommand command, CommandExecutedEventData eventData, int result)
    {
        TellOf(command, eventData);
        return result;
    }

    private void TellOf(DbContextEventData eventData)
    {
        if (eventData.Context?.ChangeTracker.Entries().Any(entry => _tables.Contains(entry.Metadata.GetTableName())) == true)
            changes.Tell();
    }

    private void TellOf(DbCommand command, CommandExecutedEventData eventData)
    {
        // What is saved is told of when all of it is.
        if (eventData.CommandSource is not CommandSource.SaveChanges && Writing().IsMatch(command.CommandText))
            changes.Tell();
    }

    [GeneratedRegex(@"\b(?:UPDATE|DELETE FROM|INSERT INTO) porch\.(?:" + Tables + @")\b", RegexOptions.CultureInvariant)]
    private static partial Regex Writing();
}
