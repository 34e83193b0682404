using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Sources;

namespace PlainPorch.Data.Catalog;

/// <summary>What a developer says of a source.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Settings">How to reach it; a null password keeps the one that is known.</param>
/// <param name="Schemas">The schemas to read; empty for all but the system's.</param>
/// <param name="IsReadOnly">Whether nothing may be written to it.</param>
public sealed record SourceInput(string Name, SourceSettings Settings, IReadOnlyList<string> Schemas, bool IsReadOnly);

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
        return settings.Password is null && same ? settings with { Password = secrets.Open(known!).Password } : settings;
    }

    /// <summary>Adds a source, and an empty porch on it.</summary>
    public async Task<SaveOutcome<SourceRow>> AddAsync(SourceInput input, CancellationToken cancellationToken)
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
        };
        Copy(input, source);
        var taken = await catalog.Porches.Select(porch => porch.Slug).ToHashSetAsync(cancellationToken);
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        catalog.Sources.Add(source);
        if (await SaveAsync(source, cancellationToken) is not SaveOutcome<SourceRow>.Saved saved)
            return NameTaken(input.Name);
        catalog.Porches.Add(new PorchRow { SourceId = source.Id, Slug = Slug.Make(source.Name, taken), Name = source.Name });
        await catalog.SaveChangesAsync(cancellationToken);
        await transaction.CommitAsync(cancellationToken);
        return saved;
    }

    /// <summary>Changes a source, if it is still the version that was shown.</summary>
    public async Task<SaveOutcome<SourceRow>> UpdateAsync(int id, uint version, SourceInput input, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(input);
        if (await catalog.Sources.FirstOrDefaultAsync(source => source.Id == id, cancellationToken) is not { } source)
            return new SaveOutcome<SourceRow>.Missing();
        catalog.Entry(source).Property(row => row.Version).OriginalValue = version;
        var kept = WithKnownPassword(input.Settings, source).Password;
        source.Name = input.Name.Trim();
        Copy(input with { Settings = input.Settings with { Password = kept } }, source);
        return await SaveAsync(source, cancellationToken);
    }

    /// <summary>Removes a source with its porch, panels and snapshots. The database itself is not touched.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> RemoveAsync(int id, CancellationToken cancellationToken)
    {
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        await catalog.Panels.Where(panel => catalog.Porches.Any(porch => porch.Id == panel.PorchId && porch.SourceId == id))
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
            await catalog.SaveChangesAsync(cancellationToken);
            return new SaveOutcome<SourceRow>.Saved(source);
        }
        catch (DbUpdateConcurrencyException)
        {
            return new SaveOutcome<SourceRow>.Stale();
        }
        catch (DbUpdateException refused) when (refused.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            return NameTaken(source.Name);
        }
    }

    private static SaveOutcome<SourceRow>.Refused NameTaken(string name) =>
        new([new("name", $"There is a source called {name} already. Choose another name.")]);
}
