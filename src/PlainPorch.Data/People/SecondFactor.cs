using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using OtpNet;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.People;

/// <summary>A key for an app that shows codes, to be confirmed by one of them.</summary>
/// <param name="Key">The key, in Base32, for typing.</param>
/// <param name="Address">The same as an <c>otpauth</c> address, for a picture to be scanned.</param>
public sealed record FactorOffer(string Key, string Address);

/// <summary>Codes that change with time (TOTP, RFC 6238) as a second factor, and codes that stand in for it once.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="protection">Encrypts the keys.</param>
/// <param name="time">Tells the time.</param>
public sealed class SecondFactor(CatalogContext catalog, IDataProtectionProvider protection, TimeProvider time)
{
    private const int RecoveryCodes = 10;
    private const int KeyBytes = 20;

    private readonly IDataProtector _protector = protection.CreateProtector("PlainPorch.SecondFactor.v1");

    /// <summary>Makes a key; it counts once a code of it was confirmed.</summary>
    /// <param name="person">For whom; tracked, to be saved.</param>
    public FactorOffer Offer(PersonRow person)
    {
        ArgumentNullException.ThrowIfNull(person);
        var key = Base32Encoding.ToString(RandomNumberGenerator.GetBytes(KeyBytes));
        (person.ProtectedFactor, person.FactorStep) = (_protector.Protect(key), null);
        return new FactorOffer(key, new OtpUri(OtpType.Totp, key, person.Email!, "Plain Porch").ToString());
    }

    /// <summary>Whether a code of a person's app is right at the moment; each serves once.</summary>
    /// <param name="person">The person.</param>
    /// <param name="code">The code.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task<bool> TakesAsync(PersonRow person, string code, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(person);
        ArgumentNullException.ThrowIfNull(code);
        if (person.ProtectedFactor is not { } kept)
            return false;
        var typed = string.Concat(code.Where(char.IsAsciiDigit));
        var totp = new Totp(Base32Encoding.ToBytes(_protector.Unprotect(kept)));
        // A clock that is half a minute off is no mistake of the person's.
        if (
            !totp.VerifyTotp(time.GetUtcNow().UtcDateTime, typed, out var step, new VerificationWindow(previous: 1, future: 1))
            // Of two at once with the same code one comes first.
            || await catalog
                .People.Where(one => one.Id == person.Id && (one.FactorStep == null || one.FactorStep < step))
                .ExecuteUpdateAsync(one => one.SetProperty(row => row.FactorStep, step), cancellationToken) == 0
        )
            return false;
        person.FactorStep = step;
        return true;
    }

    /// <summary>Makes new codes that stand in for a person's second factor; older ones serve no longer.</summary>
    /// <returns>The codes: they can be shown this once.</returns>
    public async Task<IReadOnlyList<string>> RenewCodesAsync(int person, CancellationToken cancellationToken)
    {
        var codes = Enumerable.Range(0, RecoveryCodes).Select(_ => SecretText.NewToType()).ToList();
        await catalog.RecoveryCodes.Where(code => code.PersonId == person).ExecuteDeleteAsync(cancellationToken);
        catalog.RecoveryCodes.AddRange(
            codes.Select(code => new RecoveryCodeRow { PersonId = person, Hash = SecretText.HashTyped(code) })
        );
        await catalog.SaveChangesAsync(cancellationToken);
        return codes;
    }

    /// <summary>Uses one of the codes that stand in up.</summary>
    /// <returns>Whether there was such a code.</returns>
    public async Task<bool> UseUpAsync(int person, string code, CancellationToken cancellationToken)
    {
        var hash = SecretText.HashTyped(code);
        return await catalog
                .RecoveryCodes.Where(one => one.PersonId == person && one.Hash == hash)
                .ExecuteDeleteAsync(cancellationToken) > 0;
    }

    /// <summary>How many of the codes that stand in are left.</summary>
    public Task<int> CountCodesAsync(int person, CancellationToken cancellationToken) =>
        catalog.RecoveryCodes.CountAsync(code => code.PersonId == person, cancellationToken);

    /// <summary>Takes the second factor away.</summary>
    /// <param name="person">From whom; tracked, to be saved.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task RemoveAsync(PersonRow person, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(person);
        (person.ProtectedFactor, person.FactorStep, person.TwoFactorEnabled) = (null, null, false);
        await catalog.RecoveryCodes.Where(code => code.PersonId == person.Id).ExecuteDeleteAsync(cancellationToken);
    }
}
