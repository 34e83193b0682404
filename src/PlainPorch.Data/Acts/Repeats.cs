using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;

namespace PlainPorch.Data.Acts;

/// <summary>A request that may come again, by a second click or after a lost answer.</summary>
/// <param name="PorchId">The porch that it is sent to.</param>
/// <param name="Key">The key that whoever asks made up; null where it bears none, and each time counts.</param>
/// <param name="Content">What is asked for, as text; the same key with another content is refused.</param>
public sealed record RepeatableRequest(int PorchId, string? Key, string Content);

/// <summary>
/// Carries a request with a key of its own out once, and answers its repeats as the first was answered. What it led to is written
/// with
/// the logbook's entry, before the source's transaction ends, so that it holds whatever breaks off in between.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="caller">Who asks; told the key.</param>
/// <param name="settler">Finds out what became of the first.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class Repeats(CatalogContext catalog, Caller caller, ActSettler settler, TimeProvider time)
{
    /// <summary>The greatest number of characters of a key.</summary>
    public const int MostCharacters = 200;

    /// <summary>For how long answers are kept.</summary>
    public static readonly TimeSpan Kept = TimeSpan.FromDays(7);

    // A second click waits for what the first one is doing.
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan _pause = TimeSpan.FromMilliseconds(150);

    private static readonly TimeSpan _toldEvery = TimeSpan.FromMilliseconds(500);
    private DateTimeOffset _told;

    // What was begun so long ago by an instance that is gone leaves its key free.
    private static readonly TimeSpan _abandoned = TimeSpan.FromMinutes(15);

    /// <summary>Carries a request out, or answers it as its first time was answered.</summary>
    /// <typeparam name="T">All that it can lead to.</typeparam>
    /// <typeparam name="TDone">What it leads to when it comes to pass, as the logbook's entry was told beforehand.</typeparam>
    /// <param name="request">The request.</param>
    /// <param name="work">Carries it out.</param>
    /// <param name="cancellationToken">Stops the waiting.</param>
    /// <exception cref="OutcomeUnknownException">It is not known yet whether the first one came to pass.</exception>
    /// <exception cref="RepeatRefusedException">The key was used for something else, or its first request is still being carried
    /// out.</exception>
    public async Task<T> OnceAsync<T, TDone>(RepeatableRequest request, Func<Task<T>> work, CancellationToken cancellationToken)
        where TDone : class, T
    {
        ArgumentNullException.ThrowIfNull(request);
        ArgumentNullException.ThrowIfNull(work);
        if (request.Key is not { } key)
            return await work();
        if (key.Length > MostCharacters || key.Any(letter => letter is < '!' or > '~'))
            throw new RepeatRefusedException(
                $"An Idempotency-Key has at most {MostCharacters} printable ASCII characters without blanks. A UUID is fine.",
                isInUse: false
            );
        if (await ClaimAsync(key, request, cancellationToken) is { } result)
            return JsonSerializer.Deserialize<TDone>(result, DefinitionJson.Kept)!;
        caller.RequestKey = key;
        T outcome;
        try
        {
            outcome = await work();
        }
        catch (Exception failure) when (failure is not OutcomeUnknownException)
        {
            await ReleaseAsync(key);
            throw;
        }

        if (outcome is not TDone)
            await ReleaseAsync(key);
        return outcome;
    }

    /// <summary>Tells how far the request is that is being carried out, for whoever waits for it.</summary>
    /// <param name="done">How many records are done.</param>
    public async Task TellAsync(int done)
    {
        var now = time.GetUtcNow();
        if (caller.RequestKey is not { } key || now - _told < _toldEvery)
            return;
        _told = now;
        await catalog
            .KeptAnswers.Where(answer => answer.Key == key)
            .ExecuteUpdateAsync(row => row.SetProperty(answer => answer.Done, done), CancellationToken.None);
    }

    /// <summary>How far a request is that is being carried out.</summary>
    /// <param name="key">Its key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>How many records are done; null where nothing is known of it.</returns>
    public Task<int?> HowFarAsync(string key, CancellationToken cancellationToken) =>
        catalog
            .KeptAnswers.Where(answer => answer.Key == key)
            .Select(answer => answer.Done)
            .FirstOrDefaultAsync(cancellationToken);

    /// <summary>Lets go of answers that nobody will ask for again.</summary>
    public Task<int> ForgetAsync(CancellationToken cancellationToken)
    {
        var before = time.GetUtcNow() - Kept;
        return catalog.KeptAnswers.Where(answer => answer.At < before).ExecuteDeleteAsync(cancellationToken);
    }

    // Null where it is ours to carry out; else the first one's answer.
    private async Task<string?> ClaimAsync(string key, RepeatableRequest request, CancellationToken cancellationToken)
    {
        var fingerprint = Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes($"{request.PorchId} {request.Content}")));
        for (var until = time.GetUtcNow() + _patience; ; await Task.Delay(_pause, time, cancellationToken))
        {
            var now = time.GetUtcNow();
            if (
                await catalog.Database.ExecuteSqlAsync(
                    $"""
                    INSERT INTO porch.kept_answer ("Key", "Fingerprint", "At") VALUES ({key}, {fingerprint}, {now}) ON CONFLICT DO NOTHING
                    """,
                    cancellationToken
                ) == 1
            )
            {
                return null;
            }

            if (
                await catalog.KeptAnswers.AsNoTracking().FirstOrDefaultAsync(answer => answer.Key == key, cancellationToken)
                is not { } first
            )
                continue;
            if (first.EntryId is { } entry)
            {
                var happened = (await settler.FindOutAsync(request.PorchId, entry, cancellationToken)).Happened;
                if (happened is true)
                    return first.Fingerprint == fingerprint ? first.Result : throw Used();
                if (happened is false)
                    await TakeOverAsync(key, first, cancellationToken);
                else if (time.GetUtcNow() > until || first.At < now - _patience)
                    throw new OutcomeUnknownException(entry, new TimeoutException("The first request's outcome is not known."));
            }
            else if (first.At < now - _abandoned)
            {
                await TakeOverAsync(key, first, cancellationToken);
            }
            else if (time.GetUtcNow() > until)
            {
                throw new RepeatRefusedException(
                    "The same request is still running. Wait a moment, then check whether it is done.",
                    isInUse: true
                );
            }
        }
    }

    // Nothing came of the first: the key is free again. Of several who see that, one gets it.
    private Task<int> TakeOverAsync(string key, KeptAnswerRow first, CancellationToken cancellationToken) =>
        catalog
            .KeptAnswers.Where(answer => answer.Key == key && answer.At == first.At && answer.EntryId == first.EntryId)
            .ExecuteDeleteAsync(cancellationToken);

    private async Task ReleaseAsync(string key)
    {
        caller.RequestKey = null;
        await catalog
            .KeptAnswers.Where(answer =>
                answer.Key == key
                && !catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == answer.EntryId && outcome.Happened)
            )
            .ExecuteDeleteAsync(CancellationToken.None);
    }

    private static RepeatRefusedException Used() =>
        new(
            "This was sent before with other values and was carried out then. Open the result and change it there.",
            isInUse: true
        );
}

/// <summary>A repeat that cannot be answered as the first was.</summary>
/// <param name="message">Why, with the remedy.</param>
/// <param name="isInUse">Whether the key was given before; else it is none.</param>
public sealed class RepeatRefusedException(string message, bool isInUse) : Exception(message)
{
    /// <summary>Whether the key was given before; else it is none.</summary>
    public bool IsInUse => isInUse;
}
