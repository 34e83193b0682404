using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Sources;
using PlainPorch.Data.Survey;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Survey;

/// <summary>What to survey.</summary>
/// <param name="ThenDraft">Whether panels for all tables without one are drafted when it is done.</param>
public sealed record SurveyRequest(bool ThenDraft);

/// <summary>How a survey stands.</summary>
/// <param name="State">Running, done, stopped or failed.</param>
/// <param name="Step">What is being done.</param>
/// <param name="Done">How many parts of the step are done.</param>
/// <param name="Total">How many parts the step has.</param>
/// <param name="StartedAt">When it began.</param>
/// <param name="EndedAt">When it ended; null while it runs.</param>
/// <param name="ThenDraft">Whether panels are drafted when it is done.</param>
/// <param name="IsStopping">Whether it was asked to stop and has not yet.</param>
/// <param name="Problem">Why it failed; null where it did not.</param>
public sealed record SurveyStatus(
    SurveyState State,
    string Step,
    int Done,
    int Total,
    DateTimeOffset StartedAt,
    DateTimeOffset? EndedAt,
    bool ThenDraft,
    bool IsStopping,
    string? Problem
);

/// <summary>What the latest survey found, with what was decided about it.</summary>
/// <param name="Porch">The slug of the porch on this source.</param>
/// <param name="Tables">The tables.</param>
/// <param name="Findings">The findings, surest first.</param>
/// <param name="Unread">Tables that could not be read.</param>
public sealed record SurveyDto(
    string Porch,
    IReadOnlyList<SurveyTable> Tables,
    IReadOnlyList<Finding> Findings,
    IReadOnlyList<string> Unread
);

/// <summary>A table as a survey saw it, decisions applied.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
/// <param name="Label">What its records are called taken together.</param>
/// <param name="Rows">How many rows it has.</param>
/// <param name="RowsAreEstimated">Whether that is an estimate.</param>
/// <param name="Shape">What part it plays.</param>
/// <param name="Columns">How many columns it has.</param>
/// <param name="Cluster">The number of the group of tables that it belongs to.</param>
/// <param name="Panel">The slug of a panel over it; null where there is none.</param>
/// <param name="IsProposed">Whether it gets a panel where nobody chose which tables do.</param>
/// <param name="Titles">What a record is called as drafted, for some of the rows that the survey looked at; empty where it looked at
/// none, or where the title holds what is nobody's business.</param>
public sealed record SurveyTable(
    string Schema,
    string Name,
    string Label,
    long Rows,
    bool RowsAreEstimated,
    TableShape Shape,
    int Columns,
    int Cluster,
    string? Panel,
    bool IsProposed,
    IReadOnlyList<string> Titles
);

/// <summary>A decision about a finding.</summary>
/// <param name="Subject">The finding.</param>
/// <param name="Verdict">Whether what it says is right; null to take a decision back.</param>
/// <param name="Value">What it says; of a meaning or a shape also another one, which then holds instead.</param>
public sealed record DecisionRequest(FindingSubject Subject, Verdict? Verdict, string Value);

/// <summary>What a decision did.</summary>
/// <param name="Panels">The drafted panels that changed with it; what was decided by hand in them stays.</param>
public sealed record DecisionDone(IReadOnlyList<FollowedPanel> Panels);

/// <summary>A word of a source's own list.</summary>
/// <param name="Word">The word as it stands in names.</param>
/// <param name="Means">What it means in labels.</param>
public sealed record SourceWord(string Word, string Means);

/// <summary>A source's own word list.</summary>
/// <param name="Words">The words.</param>
public sealed record WordList(IReadOnlyList<SourceWord> Words);

/// <summary>A word list after it was saved.</summary>
/// <param name="Words">The words as they are kept.</param>
/// <param name="Relabelled">How many labels of panels changed with it.</param>
public sealed record SavedWordList(IReadOnlyList<SourceWord> Words, int Relabelled);

/// <summary>Which tables to draft panels for.</summary>
/// <param name="Tables">The tables; null for all that have none.</param>
public sealed record DraftRequest(IReadOnlyList<TableName>? Tables);

internal static class SurveyEndpoints
{
    private const int MaxWords = 2_000;

    public static void MapSurveys(this IEndpointRouteBuilder api)
    {
        var source = api.MapGroup("/sources/{id:int}").WithTags("Survey");
        source.MapPost("/survey", StartAsync).WithName("startSurvey");
        source.MapGet("/survey", FindAsync).WithName("findSurvey");
        source.MapGet("/survey/status", FindStatusAsync).WithName("findSurveyStatus");
        source.MapPost("/survey/stop", StopAsync).WithName("stopSurvey");
        source.MapGet("/survey/columns", FindColumnsAsync).WithName("findSurveyedColumns");
        source.MapPut("/survey/decision", DecideAsync).WithName("decideFinding");
        source.MapGet("/words", FindWordsAsync).WithName("findWords");
        source.MapPut("/words", SaveWordsAsync).WithName("saveWords");
        source.MapPost("/porch", DraftAsync).WithName("draftPorch");
    }

    private static async Task<Results<Accepted<SurveyStatus>, NotFound>> StartAsync(
        int id,
        SurveyRequest request,
        SourceStore sources,
        SurveyStore surveys,
        SurveyWork work,
        CancellationToken cancellationToken
    )
    {
        if (await sources.FindAsync(id, cancellationToken) is null)
            return TypedResults.NotFound();
        var (survey, isNew) = await surveys.StartAsync(id, request.ThenDraft, cancellationToken);
        if (isNew)
            work.Begin(survey);
        return TypedResults.Accepted($"/api/sources/{id}/survey/status", ToStatus(survey));
    }

    private static async Task<Results<Ok<SurveyStatus>, NoContent>> FindStatusAsync(
        int id,
        SurveyStore surveys,
        CancellationToken cancellationToken
    ) =>
        await surveys.LatestAsync(id, cancellationToken) is { } survey
            ? TypedResults.Ok(ToStatus(survey))
            : TypedResults.NoContent();

    private static async Task<NoContent> StopAsync(int id, SurveyStore surveys, CancellationToken cancellationToken)
    {
        await surveys.StopAsync(id, cancellationToken);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<SurveyDto>, NoContent, NotFound>> FindAsync(
        int id,
        SnapshotStore snapshots,
        SurveyStore surveys,
        PanelStore panels,
        CancellationToken cancellationToken
    )
    {
        if (await snapshots.LatestAsync(id, cancellationToken) is not { } model)
            return TypedResults.NotFound();
        if (await surveys.ReportAsync(id, cancellationToken) is not { } report)
            return TypedResults.NoContent();
        var decisions = await surveys.DecisionsAsync(id, cancellationToken);
        var words = await surveys.VocabularyAsync(id, model.Snapshot, cancellationToken);
        var porch = (await panels.ListAsync(cancellationToken)).First(content => content.Porch.SourceId == id);
        return TypedResults.Ok(ToDto(model.Snapshot, report, decisions, words, porch));
    }

    private static async Task<Results<Ok<List<SurveyedColumn>>, NotFound>> FindColumnsAsync(
        int id,
        string schema,
        string table,
        SnapshotStore snapshots,
        SurveyStore surveys,
        CancellationToken cancellationToken
    )
    {
        if (
            await surveys.ReportAsync(id, cancellationToken) is not { } report
            || await snapshots.LatestAsync(id, cancellationToken) is not { } model
        )
            return TypedResults.NotFound();
        var labelled = report.WithLabels(model.Snapshot, await surveys.VocabularyAsync(id, model.Snapshot, cancellationToken));
        return TypedResults.Ok(labelled.Columns.Where(column => column.Schema == schema && column.Table == table).ToList());
    }

    private static async Task<Results<Ok<DecisionDone>, NotFound, ValidationProblem>> DecideAsync(
        int id,
        DecisionRequest request,
        SourceStore sources,
        SnapshotStore snapshots,
        SurveyStore surveys,
        PanelRedrafts redrafts,
        CancellationToken cancellationToken
    )
    {
        if (
            await sources.FindAsync(id, cancellationToken) is null
            || await snapshots.LatestAsync(id, cancellationToken) is not { } model
        )
            return TypedResults.NotFound();
        if (
            model.Snapshot.Find(request.Subject.Table) is not { } table
            || request.Subject.Columns.Any(column => table.Find(column) is null)
        )
            return Problems.Of([
                new FieldProblem("subject", $"The source has no {request.Subject.Table} with these columns. Survey it again."),
            ]);
        if (request.Subject is { Sort: FindingSort.Key, Columns: { Count: > 0 } key })
        {
            var isDecided = AssumedKeys.Of(table)?.Columns.SequenceEqual(key) == true;
            if (request.Verdict is Verdict.Right && AssumedKeys.Problem(table, key) is { } problem)
                return Problems.Of([new FieldProblem("subject", problem)]);
            if (request.Verdict is Verdict.Right != isDecided)
                await snapshots.DecideKeyAsync(id, table.Name, isDecided ? [] : key, cancellationToken);
        }

        await surveys.DecideAsync(id, request.Subject, request.Verdict, request.Value, cancellationToken);
        return TypedResults.Ok(new DecisionDone(await redrafts.FollowAsync(id, cancellationToken)));
    }

    private static async Task<Ok<WordList>> FindWordsAsync(int id, SurveyStore surveys, CancellationToken cancellationToken) =>
        TypedResults.Ok(new WordList(ToWords(await surveys.WordsAsync(id, cancellationToken))));

    private static async Task<Results<Ok<SavedWordList>, NotFound, ValidationProblem>> SaveWordsAsync(
        int id,
        WordList request,
        SourceStore sources,
        SurveyStore surveys,
        PanelStore panels,
        CancellationToken cancellationToken
    )
    {
        if (await sources.FindAsync(id, cancellationToken) is null)
            return TypedResults.NotFound();
        if (request.Words.Count > MaxWords)
            return Problems.Of([new FieldProblem("words", $"A word list has at most {MaxWords} words.")]);
        if (WordListCheck.Run(request.Words.Select(word => (word.Word, word.Means)), out var words) is { Count: > 0 } problems)
            return Problems.Of(problems);
        await surveys.SetWordsAsync(id, words, cancellationToken);
        return TypedResults.Ok(new SavedWordList(ToWords(words), await panels.RelabelAsync(id, cancellationToken)));
    }

    private static async Task<Results<Ok<PorchDrafted>, NotFound, ValidationProblem>> DraftAsync(
        int id,
        DraftRequest request,
        SourceStore sources,
        PanelStore panels,
        CancellationToken cancellationToken
    )
    {
        if (await sources.FindAsync(id, cancellationToken) is not { } source)
            return TypedResults.NotFound();
        return await panels.DraftPorchAsync(source, request.Tables, cancellationToken) switch
        {
            SaveOutcome<PorchDrafted>.Saved(var drafted) => TypedResults.Ok(drafted),
            SaveOutcome<PorchDrafted>.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static SurveyStatus ToStatus(SurveyRow survey) =>
        new(
            survey.State,
            survey.Step,
            survey.Done,
            survey.Total,
            survey.StartedAt,
            survey.EndedAt,
            survey.ThenDraft,
            survey.StopAsked,
            survey.Problem
        );

    private static SurveyDto ToDto(
        SchemaSnapshot snapshot,
        SurveyReport report,
        IReadOnlyList<FindingDecision> decisions,
        Vocabulary words,
        PorchContent porch
    )
    {
        var applied = FindingList.Apply(report, decisions);
        var held = applied
            .References.Where(reference => reference.Confidence >= ReferenceFinder.Threshold)
            .Select(reference => reference.ToReference())
            .ToList();
        var names = applied.Tables.Select(table => new TableName(table.Schema, table.Name)).ToList();
        var clusters = TableClusters
            .Find(
                names,
                applied.Tables.ToDictionary(table => new TableName(table.Schema, table.Name), table => table.Shape),
                held
            )
            .SelectMany((members, number) => members.Select(member => (member, number)))
            .ToDictionary(pair => pair.member, pair => pair.number);
        var proposed = PorchDraft.ByThemselves(snapshot.Tables).ToHashSet();
        var panels = porch.Panels.ToLookup(panel => panel.Table, panel => panel.Slug);
        var here = new PorchPanels(snapshot, porch.Panels);
        return new SurveyDto(
            porch.Porch.Slug,
            [
                .. applied
                    .Tables.Select(table => new TableName(table.Schema, table.Name))
                    .Zip(applied.Tables, (name, table) =>
                        new SurveyTable(
                            table.Schema,
                            table.Name,
                            words.Labels.ForTable(name),
                            table.Rows,
                            table.RowsAreEstimated,
                            table.Shape,
                            snapshot.Find(name)?.Columns.Count ?? 0,
                            clusters[name],
                            panels[name].FirstOrDefault(),
                            proposed.Contains(name),
                            table.TitleSamples
                        )
                    ),
            ],
            [
                .. FindingList
                    .Of(report, decisions)
                    .OrderByDescending(finding => finding.Confidence)
                    .Select(finding => WithCondition(finding, here)),
            ],
            report.Unread
        );
    }

    private static Finding WithCondition(Finding finding, PorchPanels porch) =>
        finding.Check is { } check
        && porch.BoundOver(check.Table) is { } panel
        && CheckDraft.Of(check, panel, porch) is { Condition: var condition }
            ? finding with
            {
                Condition = condition,
            }
            : finding;

    private static List<SourceWord> ToWords(IReadOnlyDictionary<string, string> words) =>
        [.. words.OrderBy(pair => pair.Key, StringComparer.Ordinal).Select(pair => new SourceWord(pair.Key, pair.Value))];
}
