using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.People;

/// <summary>Registers what knows people.</summary>
public static class PeopleServices
{
    /// <summary>The least number of characters of a password. What stands in it is for its owner to say; what many have is refused.</summary>
    public const int LeastOfPassword = 10;

    // As OWASP's Password Storage Cheat Sheet wants of PBKDF2 with HMAC-SHA-512.
    private const int HashRounds = 210_000;

    /// <summary>Adds accounts, sessions and rights.</summary>
    public static IServiceCollection AddPeople(this IServiceCollection services)
    {
        services
            .AddIdentityCore<PersonRow>(options =>
            {
                options.User.RequireUniqueEmail = true;
                options.User.AllowedUserNameCharacters = "";
                options.Password.RequiredLength = LeastOfPassword;
                options.Password.RequireDigit = false;
                options.Password.RequireLowercase = false;
                options.Password.RequireUppercase = false;
                options.Password.RequireNonAlphanumeric = false;
            })
            .AddEntityFrameworkStores<CatalogContext>()
            .AddPasswordValidator<CommonPasswords>();
        services.Configure<PasswordHasherOptions>(options => options.IterationCount = HashRounds);
        services.AddSingleton<KnownAskers>();
        services.AddSingleton<SignInSlowing>();
        services.AddScoped<Asker>();
        services.AddScoped<Panels.IWhoSees>(provider => provider.GetRequiredService<Asker>());
        services.AddScoped<AccessLog>();
        services.AddScoped<Sessions>();
        services.AddScoped<SecondFactor>();
        services.AddScoped<Outbox>();
        services.AddScoped<Accounts>();
        services.AddScoped<ProviderAccounts>();
        services.AddScoped<PeopleStore>();
        services.AddScoped<TokenStore>();
        services.AddScoped<EverybodyStore>();
        return services;
    }
}
