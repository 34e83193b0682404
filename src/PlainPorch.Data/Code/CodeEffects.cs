using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Contract;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;

namespace PlainPorch.Data.Code;

/// <summary>Something that code of one's own is to do after an act.</summary>
public sealed class CodeEffectRow
{
    /// <summary>Its number.</summary>
    public long Id { get; set; }

    /// <summary>The logbook's entry of the act; it is due once that has come to pass.</summary>
    public long EntryId { get; set; }

    /// <summary>The class that is to do it.</summary>
    public required string Code { get; set; }

    /// <summary>What it needs to know.</summary>
    public required string Content { get; set; }

    /// <summary>How often it was tried.</summary>
    public int Attempts { get; set; }

    /// <summary>When it is tried next; null once it is done, or given up.</summary>
    public DateTimeOffset? DueAt { get; set; }

    /// <summary>When it was done; null as long as it is not.</summary>
    public DateTimeOffset? DoneAt { get; set; }

    /// <summary>Why the last attempt failed; null where none did.</summary>
    public string? Problem { get; set; }
}

internal sealed class CodeEffectConfiguration : IEntityTypeConfiguration<CodeEffectRow>
{
    public void Configure(EntityTypeBuilder<CodeEffectRow> builder)
    {
        builder.ToTable("code_effect");
        builder.HasIndex(effect => effect.DueAt);
        builder.HasIndex(effect => effect.EntryId);
        builder.HasOne<LogEntryRow>().WithMany().HasForeignKey(effect => effect.EntryId).OnDelete(DeleteBehavior.Cascade);
    }
}

/// <summary>Something outstanding.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Code">The class that is to do it.</param>
/// <param name="Content">What it needs to know.</param>
/// <param name="At">When the act was done.</param>
/// <param name="Title">What the act's first record is called.</param>
/// <param name="Panel">The slug of the panel where it was done.</param>
/// <param name="Attempts">How often it was tried.</param>
/// <param name="DueAt">When it is tried next; null where it was given up.</param>
/// <param name="Problem">Why the last attempt failed; null where none was made.</param>
public sealed record OutstandingEffect(
    long Id,
    string Code,
    string Content,
    DateTimeOffset At,
    string Title,
    string? Panel,
    int Attempts,
    DateTimeOffset? DueAt,
    string? Problem
);

/// <summary>
/// Does what code of one's own is to do after acts: at least once. It stands in the catalog before the act comes to pass, and is due once
/// that is certain; an attempt that breaks off is made again.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="shelf">The code.</param>
/// <param name="runner">Calls it.</param>
/// <param name="time">Tells when.</param>
public sealed class CodeEffects(CatalogContext catalog, CodeShelf shelf, CodeRunner runner, TimeProvider time)
{
    /// <summary>After so many attempts it is given up until somebody asks for it: after two days.</summary>
    public const int MostAttempts = 20;

    private const int MostTold = 200;
    private const int MostOfProblem = 1_000;

    // An attempt that breaks off with the program is made again after this.
    private static readonly TimeSpan _lease = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan _first = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan _longest = TimeSpan.FromHours(6);
    private static readonly TimeSpan _kept = TimeSpan.FromDays(7);

    private DbSet<CodeEffectRow> Effects => catalog.Set<CodeEffectRow>();

    /// <summary>Does one thing that is due.</summary>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Whether anything was due.</returns>
    public async Task<bool> DoNextAsync(CancellationToken cancellationToken)
    {
        var now = time.GetUtcNow();
        var until = now + shelf.Place.PatienceAfterwards + _lease;
        // Another instance takes another one.
        var taken = await Effects
            .FromSql(
                $"""
                UPDATE porch.code_effect SET "DueAt" = {until}, "Attempts" = "Attempts" + 1
                WHERE "Id" = (
                    SELECT e."Id" FROM porch.code_effect e JOIN porch.log_outcome o ON o."EntryId" = e."EntryId" AND o."Happened"
                    WHERE e."DueAt" <= {now} ORDER BY e."DueAt", e."Id" LIMIT 1 FOR UPDATE OF e SKIP LOCKED
                )
                RETURNING *
                """
            )
            .AsNoTracking()
            .ToListAsync(cancellationToken);
        if (taken is not [var effect])
            return false;
        var at = await catalog
            .LogEntries.Where(entry => entry.Id == effect.EntryId)
            .Select(entry => entry.At)
            .FirstAsync(cancellationToken);
        var problem = shelf.Find(effect.Code) is { } code
            ? await runner.AfterAsync(code, new Afterwards(effect.Id, effect.Content, effect.Attempts, at), cancellationToken)
            : $"The code {effect.Code} is not loaded.";
        await EndAsync(effect, problem);
        return true;
    }

    /// <summary>What is outstanding, what was given up first.</summary>
    public async Task<IReadOnlyList<OutstandingEffect>> OutstandingAsync(CancellationToken cancellationToken)
    {
        var (entries, outcomes) = (catalog.LogEntries, catalog.LogOutcomes);
        return await (
            from effect in Effects.AsNoTracking()
            join entry in entries on effect.EntryId equals entry.Id
            where effect.DoneAt == null && outcomes.Any(outcome => outcome.EntryId == entry.Id && outcome.Happened)
            orderby effect.DueAt != null, effect.DueAt, effect.Id
            select new OutstandingEffect(
                effect.Id,
                effect.Code,
                effect.Content,
                entry.At,
                entry.Title,
                entry.Panel,
                effect.Attempts,
                effect.DueAt,
                effect.Problem
            )
        )
            .Take(MostTold)
            .ToListAsync(cancellationToken);
    }

    /// <summary>Has something tried again now.</summary>
    /// <returns>Whether it is outstanding.</returns>
    public async Task<bool> TryAgainAsync(long id, CancellationToken cancellationToken)
    {
        var now = time.GetUtcNow();
        return await Effects
                .Where(effect => effect.Id == id && effect.DoneAt == null)
                .ExecuteUpdateAsync(
                    set => set.SetProperty(effect => effect.DueAt, now).SetProperty(effect => effect.Attempts, 0),
                    cancellationToken
                ) > 0;
    }

    /// <summary>Lets go of what was done long ago, and of what belonged to acts that did not come to pass.</summary>
    public async Task ForgetAsync(CancellationToken cancellationToken)
    {
        var before = time.GetUtcNow() - _kept;
        var outcomes = catalog.LogOutcomes;
        await Effects
            .Where(effect =>
                effect.DoneAt < before || outcomes.Any(outcome => outcome.EntryId == effect.EntryId && !outcome.Happened)
            )
            .ExecuteDeleteAsync(cancellationToken);
    }

    private async Task EndAsync(CodeEffectRow effect, string? problem)
    {
        var now = time.GetUtcNow();
        DateTimeOffset? done = problem is null ? now : null;
        DateTimeOffset? due = problem is null || effect.Attempts >= MostAttempts ? null : now + PauseAfter(effect.Attempts);
        var told = problem is { Length: > MostOfProblem } ? problem[..MostOfProblem] : problem;
        await Effects
            .Where(row => row.Id == effect.Id)
            .ExecuteUpdateAsync(
                set =>
                    set.SetProperty(row => row.DoneAt, done)
                        .SetProperty(row => row.DueAt, due)
                        .SetProperty(row => row.Problem, told),
                CancellationToken.None
            );
    }

    // Twice as long each time.
    private static TimeSpan PauseAfter(int attempts) =>
        TimeSpan.FromSeconds(Math.Min(_longest.TotalSeconds, _first.TotalSeconds * Math.Pow(2, attempts - 1)));
}
