using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.People;

/// <summary>A secret by which a program acts.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Role">As what role it acts, by its slug.</param>
/// <param name="MadeBy">Who made it.</param>
/// <param name="MadeAt">When it was made.</param>
/// <param name="EndsAt">Until when it serves.</param>
public sealed record TokenInfo(int Id, string Name, string Role, string MadeBy, DateTimeOffset MadeAt, DateTimeOffset EndsAt);

/// <summary>Lets programs into a porch, and keeps them out.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="log">Writes down who may do what.</param>
/// <param name="time">Tells the time.</param>
public sealed class TokenStore(CatalogContext catalog, AccessLog log, TimeProvider time)
{
    /// <summary>How long a secret of a program serves at most.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromDays(366);

    /// <summary>The secrets by which programs act in a porch.</summary>
    public async Task<IReadOnlyList<TokenInfo>> ListAsync(PorchRow porch, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        return await catalog
            .Tokens.AsNoTracking()
            .Where(token => token.PorchId == porch.Id)
            .OrderBy(token => token.Name)
            .Select(token => new TokenInfo(token.Id, token.Name, token.Role, token.MadeBy, token.MadeAt, token.EndsAt))
            .ToListAsync(cancellationToken);
    }

    /// <summary>Makes a secret by which a program acts.</summary>
    /// <param name="porch">The porch.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="role">As what role it acts.</param>
    /// <param name="days">For how many days it serves.</param>
    /// <param name="by">Who makes it.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The secret: it can be shown this once.</returns>
    public async Task<SaveOutcome<string>> MakeAsync(
        PorchRow porch,
        string name,
        string role,
        int days,
        string by,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(porch);
        ArgumentNullException.ThrowIfNull(name);
        if (string.IsNullOrWhiteSpace(name) || name.Length > PersonRow.MostOfName)
            return Refused("name", $"Say what it is for, in at most {PersonRow.MostOfName} characters.");
        if (days < 1 || days > Longest.Days)
            return Refused("days", $"It serves for 1 to {Longest.Days} days. Correct the number.");
        if (PeopleStore.ProblemOf(porch, role, record: null) is { } wrong)
            return new SaveOutcome<string>.Refused([wrong]);
        var secret = SecretText.New();
        catalog.Tokens.Add(
            new TokenRow
            {
                PorchId = porch.Id,
                Name = name.Trim(),
                Role = role,
                Hash = SecretText.Hash(secret),
                MadeBy = by,
                MadeAt = time.GetUtcNow(),
                EndsAt = time.GetUtcNow().AddDays(days),
            }
        );
        log.Add(AccessAct.TokenMade, name.Trim(), porch.Slug, $"as {role}, for {days} days");
        return await catalog.TrySaveAsync(cancellationToken)
            ? new SaveOutcome<string>.Saved(secret)
            : Refused("name", $"There is a token {name.Trim()} already. Choose another name.");

        static SaveOutcome<string>.Refused Refused(string field, string message) => new([new FieldProblem(field, message)]);
    }

    /// <summary>Has a secret serve no longer.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> RemoveAsync(PorchRow porch, int token, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(porch);
        if (
            await catalog.Tokens.FirstOrDefaultAsync(one => one.PorchId == porch.Id && one.Id == token, cancellationToken)
            is not { } row
        )
            return false;
        catalog.Tokens.Remove(row);
        log.Add(AccessAct.TokenRemoved, row.Name, porch.Slug);
        await catalog.SaveChangesAsync(cancellationToken);
        return true;
    }
}
