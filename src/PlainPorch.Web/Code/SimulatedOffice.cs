using System.Collections.Concurrent;
using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Code;

/// <summary>A notice that an outside service was sent.</summary>
/// <param name="Id">By which the service tells that it has it already.</param>
/// <param name="Text">What it says.</param>
public sealed record SimulatedNotice(string Id, string Text);

/// <summary>Whether the simulated service answers.</summary>
/// <param name="IsDown">Whether it refuses everything.</param>
public sealed record SimulatedState(bool IsDown);

/// <summary>
/// Plays a service outside, for trying out code of one's own without one: it takes notices, each once, and can be told to be down. It is
/// there only where PORCH_SIMULATE is set, and forgets everything with the program.
/// </summary>
internal sealed class SimulatedOffice
{
    /// <summary>The setting by which it is there.</summary>
    public const string Setting = "PORCH_SIMULATE";

    private const int Most = 1_000;

    private readonly ConcurrentDictionary<string, SimulatedNotice> _notices = new();
    private volatile bool _isDown;

    /// <summary>Maps it, where it is wanted.</summary>
    public static void Map(IEndpointRouteBuilder app, IConfiguration configuration)
    {
        if (string.IsNullOrEmpty(configuration[Setting]))
            return;
        var office = new SimulatedOffice();
        var outside = app.MapGroup("/simulated").ExcludeFromDescription().ForAnybody();
        outside.MapGet("/notices", () =>
            TypedResults.Ok(office._notices.Values.OrderBy(notice => notice.Id, StringComparer.Ordinal))
        );
        outside.MapPost("/notices", office.Take);
        outside.MapPut("/state", (SimulatedState state) =>
        {
            office._isDown = state.IsDown;
            return TypedResults.NoContent();
        });
    }

    private Results<NoContent, StatusCodeHttpResult> Take(SimulatedNotice notice)
    {
        if (_isDown || _notices.Count >= Most)
            return TypedResults.StatusCode(StatusCodes.Status503ServiceUnavailable);
        _notices.TryAdd(notice.Id, notice);
        return TypedResults.NoContent();
    }
}
