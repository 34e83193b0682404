using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Records;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Panels;

/// <summary>
/// The panel that an address names. Endpoints of a group that <see cref="PanelHereFilter.OpensPanel"/> get it opened, its table
/// at hand.
/// </summary>
/// <param name="porch">The porch's slug.</param>
/// <param name="panel">The panel's slug.</param>
internal sealed class PanelHere(string porch, string panel)
{
    private OpenPanel? _opened;

    /// <summary>The porch's slug.</summary>
    public string Porch => porch;

    /// <summary>The panel's slug.</summary>
    public string Panel => panel;

    /// <summary>The panel, opened.</summary>
    internal OpenPanel Opened
    {
        get => _opened ?? throw new InvalidOperationException("The group of this endpoint does not open its panel.");
        private set => _opened = value;
    }

    /// <summary>The panel joined with its table.</summary>
    internal BoundPanel Bound => Opened.Bound!;

    /// <summary>Opens the panel's lists.</summary>
    internal ListStore Lists() => Opened.Lists();

    /// <summary>Opens the panel's records.</summary>
    internal RecordStore Records() => Opened.Records();

    /// <summary>Opens the panel.</summary>
    /// <param name="http">The request.</param>
    /// <returns>What is answered instead, where there is no such panel or its table is gone; null where it is open.</returns>
    internal async ValueTask<ProblemHttpResult?> OpenAsync(HttpContext http)
    {
        while (true)
        {
            if (
                await http.RequestServices.GetRequiredService<PanelOpener>().OpenAsync(porch, panel, http.RequestAborted)
                is not { } opened
            )
                return TypedResults.Problem(statusCode: StatusCodes.Status404NotFound);
            if (opened.Bound is null)
                return Problems.TableGone(opened.Definition);
            var use = http.GetEndpoint()?.Metadata.GetMetadata<LastsLong>() is null ? SourceUse.Brief : SourceUse.Long;
            // Null where the source's settings were changed in between: the panel is opened anew.
            if (await opened.Pool.EnterAsync(use, http.RequestAborted) is not { } lease)
                continue;
            http.Response.RegisterForDispose(lease);
            Opened = opened;
            return null;
        }
    }
}

/// <summary>Marks endpoints that use the source for as long as it takes, as an export does.</summary>
internal sealed class LastsLong;

/// <summary>Marks endpoints that only those get to who may do something with the panel's records.</summary>
/// <param name="Act">What they do.</param>
internal sealed record NeedsAct(PanelActs Act);

/// <summary>Opens the panel that an address names before the endpoint runs.</summary>
internal static class PanelHereFilter
{
    /// <summary>
    /// Opens the panels of a group's endpoints: 404 where there is none of that name, 409 where its table is gone, or where what
    /// the
    /// endpoints do cannot be done with it.
    /// </summary>
    /// <param name="group">The group.</param>
    /// <param name="whyNot">Why the endpoints cannot do their work with a panel, null where they can; null to leave that to
    /// them.</param>
    public static RouteGroupBuilder OpensPanel(this RouteGroupBuilder group, Func<OpenPanel, Refusal?>? whyNot = null) =>
        group.AddEndpointFilterFactory(
            (endpoint, next) =>
            {
                var place = Array.FindIndex(endpoint.MethodInfo.GetParameters(), parameter =>
                    parameter.ParameterType == typeof(PanelHere)
                );
                if (place < 0)
                    return next;
                return async context =>
                {
                    var here = context.GetArgument<PanelHere>(place);
                    if (await here.OpenAsync(context.HttpContext) is { } instead)
                        return instead;
                    if (
                        context.HttpContext.GetEndpoint()?.Metadata.GetMetadata<NeedsAct>() is NeedsAct(var act)
                        && WhyNot(here.Bound, act) is { } kept
                    )
                        return Problems.NotAllowed(kept);
                    return whyNot?.Invoke(here.Opened) is { } refusal ? Problems.NotAllowed(refusal) : await next(context);
                };
            }
        );

    /// <summary>Has only those get to an endpoint who may do something with the panel's records.</summary>
    /// <param name="endpoint">The endpoint, of a group that opens its panels.</param>
    /// <param name="act">What it does.</param>
    public static RouteHandlerBuilder Needs(this RouteHandlerBuilder endpoint, PanelActs act) =>
        endpoint.WithMetadata(new NeedsAct(act));

    /// <summary>Why a person may not do something with a panel's records.</summary>
    /// <returns>The reason; null where they may.</returns>
    public static Refusal? WhyNot(BoundPanel panel, PanelActs act) =>
        panel.May(act)
            ? null
            : new Refusal($"You are not allowed to do this with {panel.Definition.Label}.", "Ask whoever manages this porch.");
}
