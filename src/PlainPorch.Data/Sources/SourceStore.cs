using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Sources;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Snapshots;

namespace PlainPorch.Data.Sources;

/// <summary>What a developer says of a source.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Settings">How to reach it; a null password keeps the one that is known.</param>
/// <param name="Schemas">The schemas to read; empty for all but the system's.</param>
/// <param name="IsReadOnly">Whether nothing may be written to it.</param>
public sealed record SourceInput(string Name, SourceSettings Settings, IReadOnlyList<string> Schemas, bool IsReadOnly);

/// <summary>Which database a source is after its settings were changed.</summary>
/// <param name="Identity">The database, as <see cref="SourceRow.Identity"/> knows it.</param>
/// <param name="IsSame">Where it is not the one from before: whether it is the same in another place, as after a restoration;
/// null where nobody has said.</param>
public sealed record DatabaseMove(string Identity, bool? IsSame)
{
    /// <summary>The field that says so.</summary>
    public const string Field = "isSameDatabase";
}

/// <summary>Keeps the sources, each with the porch that is made on it.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="secrets">Encrypts the passwords.</param>
/// <param name="connections">The pools, which have to let go of a removed source.</param>
/// <param name="time">Tells when a source was added.</param>
public sealed class SourceStore(CatalogContext catalog, SourceSecrets secrets, SourceConnections connections, TimeProvider time)
{
    /// <summary>All sources by name.</summary>
    public Task<List<SourceRow>> ListAsync(CancellationToken cancellationToken) =>
        catalog.Sources.AsNoTracking().OrderBy(source => source.Name).ToListAsync(cancellationToken);

    /// <summary>Finds a source.</summary>
    /// <returns>The source; null where there is none of that number.</returns>
    public Task<SourceRow?> FindAsync(int id, CancellationToken cancellationToken) =>
        catalog.Sources.AsNoTracking().FirstOrDefaultAsync(source => source.Id == id, cancellationToken);

    /// <summary>The settings to try: with the known password where none was typed.</summary>
    public SourceSettings WithKnownPassword(SourceSettings settings, SourceRow? known)
    {
        ArgumentNullException.ThrowIfNull(settings);
        // Only for the same account on the same server: else a typed host could be sent somebody's password.
        var same = known is not null && known.Host == settings.Host && known.Port == settings.Port && known.User == settings.User;
        // One that cannot be decrypted here is asked for again, as if there were none.
        return settings.Password is null && same && secrets.CanOpen(known!)
            ? settings with
            {
                Password = secrets.Open(known!).Password,
            }
            : settings;
    }

    /// <summary>
    /// Adds a source, and an empty porch on it. One that was removed while records were set aside is the same again, with these
    /// and its logbook.
    /// </summary>
    /// <param name="input">What was typed.</param>
    /// <param name="identity">Which database it is.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<SaveOutcome<SourceRow>> AddAsync(SourceInput input, string identity, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(input);
        var source = new SourceRow
        {
            Name = input.Name.Trim(),
            Host = "",
            Database = "",
            User = "",
            Schemas = [],
            CreatedAt = time.GetUtcNow(),
            Identity = identity,
        };
        Copy(input, source);
        var before = await catalog
            .Parcels.Where(parcel =>
                parcel.Database == identity
                && !catalog.Set<SourceRow>().Any(row => row.Id == parcel.SourceId)
                && !catalog.Set<PorchRow>().Any(row => row.Id == parcel.PorchId)
            )
            .OrderByDescending(parcel => parcel.Id)
            .Select(parcel => new { parcel.SourceId, parcel.PorchId })
            .FirstOrDefaultAsync(cancellationToken);
        source.Id = before?.SourceId ?? 0;
        var taken = await catalog.Porches.Select(porch => porch.Slug).ToHashSetAsync(cancellationToken);
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        catalog.Sources.Add(source);
        if (await SaveAsync(source, cancellationToken) is not SaveOutcome<SourceRow>.Saved saved)
            return NameTaken(input.Name);
        catalog.Porches.Add(
            new PorchRow
            {
                Id = before?.PorchId ?? 0,
                SourceId = source.Id,
                Slug = Slug.Make(source.Name, taken),
                Name = source.Name,
            }
        );
        await catalog.SaveChangesAsync(cancellationToken);
        await transaction.CommitAsync(cancellationToken);
        return saved;
    }

    /// <summary>Changes a source, if it is still the version that was shown.</summary>
    /// <param name="id">The source.</param>
    /// <param name="version">The version that was shown.</param>
    /// <param name="input">What was typed.</param>
    /// <param name="move">Which database it is now, and what that means for what was set aside.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<SaveOutcome<SourceRow>> UpdateAsync(
        int id,
        uint version,
        SourceInput input,
        DatabaseMove move,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(input);
        ArgumentNullException.ThrowIfNull(move);
        if (await catalog.Sources.FirstOrDefaultAsync(source => source.Id == id, cancellationToken) is not { } source)
            return new SaveOutcome<SourceRow>.Missing();
        if (
            source.Identity is { } before
            && before != move.Identity
            && await WhyNotMovedAsync(source, move, cancellationToken) is { } undecided
        )
            return new SaveOutcome<SourceRow>.Refused([undecided]);
        catalog.Entry(source).Property(row => row.Version).OriginalValue = version;
        var kept = WithKnownPassword(input.Settings, source).Password;
        source.Name = input.Name.Trim();
        var (was, isMoved) = (source.Identity, source.Identity != move.Identity && move.IsSame == true);
        source.Identity = move.Identity;
        Copy(input with { Settings = input.Settings with { Password = kept } }, source);
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        var outcome = await SaveAsync(source, cancellationToken);
        if (outcome is SaveOutcome<SourceRow>.Saved && isMoved)
        {
            await catalog
                .Parcels.Where(parcel => parcel.SourceId == id && parcel.Database == was)
                .ExecuteUpdateAsync(parcel => parcel.SetProperty(row => row.Database, move.Identity), cancellationToken);
        }

        await transaction.CommitAsync(cancellationToken);
        return outcome;
    }

    // What was set aside belongs to one database, and must not come back into another.
    private async Task<FieldProblem?> WhyNotMovedAsync(SourceRow source, DatabaseMove move, CancellationToken cancellationToken)
    {
        if (
            await catalog.LogEntries.AnyAsync(
                entry => entry.SourceId == source.Id && !catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == entry.Id),
                cancellationToken
            )
        )
            return new(
                "database",
                "It is not yet certain whether the last changes in the current database were made. Try again in a minute."
            );
        var parcels = await catalog.Parcels.CountAsync(
            parcel => parcel.SourceId == source.Id && parcel.Database == source.Identity && parcel.State != ParcelState.Returned,
            cancellationToken
        );
        return parcels == 0 || move.IsSame is not null
            ? null
            : new(
                DatabaseMove.Field,
                $"This is a different database, and records are set aside from the previous one ({parcels}). Say whether it is the same database in another place or a different one."
            );
    }

    /// <summary>Removes a source with its porch, panels and snapshots. The database itself is not touched.</summary>
    /// <param name="id">The source.</param>
    /// <param name="erasesSetAside">Whether what is set aside is erased for good; else it stays until the source is added
    /// again.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> RemoveAsync(int id, bool erasesSetAside, CancellationToken cancellationToken)
    {
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        if (erasesSetAside)
            await catalog.Parcels.Where(parcel => parcel.SourceId == id).ExecuteDeleteAsync(cancellationToken);
        await catalog
            .Panels.Where(panel => catalog.Set<PorchRow>().Any(porch => porch.Id == panel.PorchId && porch.SourceId == id))
            .ExecuteDeleteAsync(cancellationToken);
        await catalog.Porches.Where(porch => porch.SourceId == id).ExecuteDeleteAsync(cancellationToken);
        await catalog.Snapshots.Where(snapshot => snapshot.SourceId == id).ExecuteDeleteAsync(cancellationToken);
        var removed = await catalog.Sources.Where(source => source.Id == id).ExecuteDeleteAsync(cancellationToken);
        await transaction.CommitAsync(cancellationToken);
        connections.Forget(id);
        return removed > 0;
    }

    private void Copy(SourceInput input, SourceRow source)
    {
        source.Host = input.Settings.Host;
        source.Port = input.Settings.Port;
        source.Database = input.Settings.Database;
        source.User = input.Settings.User;
        source.ProtectedPassword = secrets.Protect(input.Settings.Password);
        source.Tls = input.Settings.Tls;
        source.Schemas = [.. input.Schemas];
        source.IsReadOnly = input.IsReadOnly;
    }

    private async Task<SaveOutcome<SourceRow>> SaveAsync(SourceRow source, CancellationToken cancellationToken)
    {
        try
        {
            return await catalog.TrySaveAsync(cancellationToken)
                ? new SaveOutcome<SourceRow>.Saved(source)
                : NameTaken(source.Name);
        }
        catch (DbUpdateConcurrencyException)
        {
            return new SaveOutcome<SourceRow>.Stale();
        }
    }

    private static SaveOutcome<SourceRow>.Refused NameTaken(string name) =>
        new([new("name", $"A source named {name} already exists. Choose another name.")]);
}
