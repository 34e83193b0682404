using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Rules;
using PlainPorch.Data.History;
using PlainPorch.Data.Rules;

namespace PlainPorch.Web.Panels;

/// <summary>An expression that somebody tries.</summary>
/// <param name="Text">The text.</param>
public sealed record RuleText(string Text);

internal static class RuleEndpoints
{
    public static void MapRules(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}/rules").WithTags("Panels").OpensPanel();
        panel
            .MapGet("/words", FindWordsAsync)
            .WithName("findRuleWords")
            .WithSummary("What can be named in the panel's expressions.");
        panel
            .MapPost("/trial", TryAsync)
            .WithName("tryRule")
            .WithSummary("What an expression comes to on the records that there are. Nothing is saved.");
    }

    private static Task<Results<Ok<RuleWords>, NotFound, ProblemHttpResult>> FindWordsAsync([AsParameters] PanelHere here) =>
        Task.FromResult<Results<Ok<RuleWords>, NotFound, ProblemHttpResult>>(
            TypedResults.Ok(new RuleTrials(here.Opened).Words())
        );

    private static async Task<Results<Ok<RuleTrial>, NotFound, ProblemHttpResult>> TryAsync(
        [AsParameters] PanelHere here,
        RuleText rule,
        Caller caller,
        CancellationToken cancellationToken
    ) => TypedResults.Ok(await new RuleTrials(here.Opened).TryAsync(rule.Text, caller.Name, cancellationToken));
}
