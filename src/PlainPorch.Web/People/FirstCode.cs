using PlainPorch.Data.People;

namespace PlainPorch.Web.People;

/// <summary>
/// The code by which the first account is made: as long as nobody can sign in, only who sees the console may. It is new at each
/// start, unless the configuration names it (PORCH_FIRST_CODE) for starts that nobody watches.
/// </summary>
internal sealed class FirstCode(IConfiguration configuration)
{
    private readonly string _code = configuration["PORCH_FIRST_CODE"] switch
    {
        null => SecretText.NewToType(),
        { Length: >= Least } given => given,
        _ => throw new WrongSettingException($"PORCH_FIRST_CODE is too short. Give at least {Least} characters."),
    };

    private const int Least = 12;

    /// <summary>Whether a code that was typed is it.</summary>
    public bool Is(string typed) => SecretText.AreSame(Plain(typed), Plain(_code));

    /// <summary>Tells whoever sees the console, as long as nobody can sign in. It is written nowhere else, and to no log.</summary>
    public async Task TellAsync(IServiceProvider services)
    {
        if (configuration["PORCH_FIRST_CODE"] is not null)
            return;
        await using var scope = services.CreateAsyncScope();
        if (!await scope.ServiceProvider.GetRequiredService<Accounts>().HasDeveloperAsync(CancellationToken.None))
            await Console.Out.WriteLineAsync(
                $"Nobody can sign in yet. Open the site and make the first account with this code: {_code}"
            );
    }

    private static string Plain(string code) => string.Concat(code.ToUpperInvariant().Where(char.IsLetterOrDigit));
}
