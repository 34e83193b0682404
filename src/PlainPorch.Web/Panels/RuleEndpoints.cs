using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rules;
using PlainPorch.Data.Survey;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Panels;

/// <summary>An expression that somebody tries.</summary>
/// <param name="Text">The text.</param>
public sealed record RuleText(string Text);

/// <summary>A check that nearly all records keep to.</summary>
/// <param name="Check">The check as it would be demanded.</param>
/// <param name="Says">What the records keep to, by the names of the columns.</param>
/// <param name="Records">Of how many records it says something.</param>
/// <param name="Broken">How many of these do not keep to it.</param>
/// <param name="IsCounted">Whether all records were counted, and not only those that the survey looked at.</param>
/// <param name="IndexOn">The column without an index on which it takes the database too long to find them; null for none.</param>
public sealed record ProposedCheck(RecordCheck Check, string Says, long Records, long Broken, bool IsCounted, string? IndexOn);

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
        panel
            .MapPost("/cost", CostAsync)
            .WithName("findRuleCost")
            .WithSummary(
                "What it costs to put the records in order by what an expression comes to, or to find those of which it is true. Nothing is saved."
            );
        panel
            .MapGet("/proposals", ProposeAsync)
            .WithName("findProposedChecks")
            .WithSummary(
                "Checks that nearly all records keep to, as the latest survey found them, without those that the panel has."
            );
    }

    private static async Task<Results<Ok<List<ProposedCheck>>, NotFound, ProblemHttpResult>> ProposeAsync(
        [AsParameters] PanelHere here,
        SurveyStore surveys,
        CancellationToken cancellationToken
    )
    {
        var opened = here.Opened;
        if (await surveys.ReportAsync(opened.Source.Id, cancellationToken) is not { } report)
            return TypedResults.Ok(new List<ProposedCheck>());
        var refused = (await surveys.DecisionsAsync(opened.Source.Id, cancellationToken))
            .Where(decision => decision.Verdict is Verdict.Wrong)
            .Select(decision => (decision.Subject.Id, decision.Value))
            .ToHashSet();
        var wanted = report.Checks.Where(check =>
            !refused.Contains((FindingList.SubjectOf(check).Id, FindingList.ValueOf(check)))
        );
        return TypedResults.Ok(
            CheckDraft
                .NotYetIn(wanted, opened.Bound!, opened.Panels)
                .Select(one => new ProposedCheck(
                    one.Check,
                    FindingList.Says(one.Found),
                    one.Found.Rows,
                    one.Found.Broken,
                    one.Found.IsCounted,
                    one.Found.LacksIndex ? one.Found.Columns[^1] : null
                ))
                .ToList()
        );
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

    private static async Task<Results<Ok<ListCost>, NotFound, ProblemHttpResult, ValidationProblem>> CostAsync(
        [AsParameters] PanelHere here,
        RuleText rule,
        Caller caller,
        CancellationToken cancellationToken
    ) =>
        await new RuleCosts(here.Opened).CostAsync(rule.Text, caller.Name, cancellationToken) is { } cost
            ? TypedResults.Ok(cost)
            : Problems.Of([new FieldProblem("text", "It comes to nothing that has an order. Correct it.")]);
}
