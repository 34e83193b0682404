using System.Security.Claims;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using OpenIddict.Abstractions;
using static OpenIddict.Abstractions.OpenIddictConstants;
using static OpenIddict.Server.OpenIddictServerEvents;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Stands in for a provider of sign-ins (OpenID Connect). Whoever comes is who the test says, without being asked.</summary>
public sealed class ProviderStandIn : IAsyncDisposable
{
    /// <summary>What it calls the program.</summary>
    public const string Client = "the-porch";

    /// <summary>By which it knows the program.</summary>
    public const string Secret = "known to both of them";

    private readonly WebApplication _app;

    /// <summary>Who comes; null for somebody who gives up.</summary>
    public (string Subject, string Email, bool IsVerified)? Who { get; set; }

    /// <summary>The client that codes are given out to; another one than is asked for where the program is to be refused.</summary>
    public string KnownSecret { get; set; } = Secret;

    /// <summary>Where it is.</summary>
    public Uri Address => new(_app.Urls.First());

    private ProviderStandIn()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        builder.Services.AddAuthentication();
        builder
            .Services.AddOpenIddict()
            .AddServer(options =>
            {
                options
                    .SetAuthorizationEndpointUris("authorize")
                    .SetTokenEndpointUris("token")
                    .SetUserInfoEndpointUris("userinfo")
                    .AllowAuthorizationCodeFlow()
                    .RequireProofKeyForCodeExchange()
                    .RegisterScopes(Scopes.Email)
                    .EnableDegradedMode()
                    .AddEphemeralEncryptionKey()
                    .AddEphemeralSigningKey()
                    .DisableAccessTokenEncryption();
                options.UseAspNetCore().DisableTransportSecurityRequirement();
                options.AddEventHandler<ValidateAuthorizationRequestContext>(handler =>
                    handler.UseInlineHandler(context =>
                    {
                        if (context.ClientId != Client)
                            context.Reject(Errors.InvalidClient);
                        return default;
                    })
                );
                options.AddEventHandler<ValidateTokenRequestContext>(handler =>
                    handler.UseInlineHandler(context =>
                    {
                        if (context.ClientId != Client || context.ClientSecret != KnownSecret)
                            context.Reject(Errors.InvalidClient);
                        return default;
                    })
                );
                options.AddEventHandler<HandleAuthorizationRequestContext>(handler =>
                    handler.UseInlineHandler(context =>
                    {
                        if (Who is not var (subject, email, isVerified))
                        {
                            context.Reject(Errors.AccessDenied);
                            return default;
                        }

                        var identity = new ClaimsIdentity("stand-in", Claims.Name, Claims.Role);
                        identity.SetClaim(Claims.Subject, subject);
                        identity.SetClaim(Claims.Email, email);
                        identity.SetClaim(Claims.EmailVerified, isVerified);
                        identity.SetScopes(context.Request.GetScopes());
                        identity.SetDestinations(_ => [Destinations.IdentityToken, Destinations.AccessToken]);
                        context.SignIn(new ClaimsPrincipal(identity));
                        return default;
                    })
                );
            });
        _app = builder.Build();
        _app.UseAuthentication();
    }

    /// <summary>Starts one.</summary>
    public static async Task<ProviderStandIn> StartAsync()
    {
        var standIn = new ProviderStandIn();
        await standIn._app.StartAsync();
        return standIn;
    }

    public ValueTask DisposeAsync() => _app.DisposeAsync();
}
