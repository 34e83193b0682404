using System.Collections.Frozen;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Identity;

namespace PlainPorch.Data.People;

/// <summary>Refuses passwords that many have, or that anybody would try first for this person.</summary>
public sealed class CommonPasswords : IPasswordValidator<PersonRow>
{
    private const int Digits = 10;

    // A part of a name that is shorter says nothing.
    private const int LeastOfName = 4;

    private static readonly Lazy<FrozenSet<string>> _common = new(Read);

    /// <summary>Whether a password is one of those that are used often, or the like of one.</summary>
    public static bool Contains(string password)
    {
        ArgumentNullException.ThrowIfNull(password);
        var small = password.ToLowerInvariant();
        // Digits and marks behind a word of the list make no other word of it.
        var word = small.TrimEnd([.. "0123456789!?.,*#$%&+-_"]);
        return IsListed(small) || (word.Length >= 8 && IsListed(word)) || small.Distinct().Count() < 4;
    }

    /// <inheritdoc/>
    public Task<IdentityResult> ValidateAsync(UserManager<PersonRow> manager, PersonRow user, string? password)
    {
        ArgumentNullException.ThrowIfNull(user);
        var typed = password ?? "";
        var problem =
            Contains(typed)
                ? "Many people use this password, so it is tried first. Choose one that nobody else has, such as four words."
            : Parts(user).Any(part => typed.Contains(part, StringComparison.OrdinalIgnoreCase))
                ? "The password contains your name or mail address. Leave that out."
            : null;
        return Task.FromResult(
            problem is null
                ? IdentityResult.Success
                : IdentityResult.Failed(new IdentityError { Code = "PasswordCommon", Description = problem })
        );
    }

    private static IEnumerable<string> Parts(PersonRow person) =>
        person
            .Name.Split(' ')
            .Concat((person.Email ?? "").Split('@', '.'))
            .Append("plainporch")
            .Append("plain porch")
            .Where(part => part.Length >= LeastOfName);

    private static bool IsListed(string small) =>
        _common.Value.Contains(Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(small)))[..Digits]);

    private static FrozenSet<string> Read()
    {
        using var stream = typeof(CommonPasswords).Assembly.GetManifestResourceStream("common-passwords.txt")!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd().Split('\n').Where(line => line.Length == Digits && line[0] != '#').ToFrozenSet();
    }
}
