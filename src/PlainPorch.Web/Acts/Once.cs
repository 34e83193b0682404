using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Acts;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Acts;

/// <summary>
/// Carries what is asked for out once, however often the request comes: each bears a key of its own where it may come again.
/// </summary>
/// <param name="Key">A text that whoever asks makes up for this one request, such as a UUID. A repeat with the same key is
/// answered as the first was.</param>
/// <param name="Repeats">Knows what came before.</param>
/// <param name="Http">The request.</param>
internal sealed record Once([FromHeader(Name = Once.Header)] string? Key, Repeats Repeats, HttpContext Http)
{
    /// <summary>The header that bears the key (the IETF's draft for idempotent requests).</summary>
    public const string Header = "Idempotency-Key";

    /// <summary>Carries it out, or answers as the first time.</summary>
    /// <typeparam name="T">All that it can lead to.</typeparam>
    /// <typeparam name="TDone">What it leads to when it comes to pass.</typeparam>
    /// <param name="here">The panel.</param>
    /// <param name="request">What is asked for.</param>
    /// <param name="work">Carries it out.</param>
    internal Task<T> DoAsync<T, TDone>(PanelHere here, object request, Func<Task<T>> work)
        where TDone : class, T =>
        Repeats.OnceAsync<T, TDone>(
            new RepeatableRequest(
                here.Opened.Porch.Id,
                Key,
                $"{Http.User.Identity?.Name} {Http.Request.Method} {Http.Request.Path} {JsonSerializer.Serialize(request, DefinitionJson.Options)}"
            ),
            work,
            Http.RequestAborted
        );
}

/// <summary>Describes answers that whatever writes may give.</summary>
internal static class OnceAnswers
{
    /// <summary>Whether it was carried out may not be known yet: 202 with where that will be told.</summary>
    public static RouteHandlerBuilder MayBePending(this RouteHandlerBuilder endpoint) =>
        endpoint.Produces<OutcomePending>(StatusCodes.Status202Accepted);
}
