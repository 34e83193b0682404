using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Survey;

/// <summary>Keeps surveys while they run and what they found, with the developer's decisions and words.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="reports">The reports that were read lately.</param>
/// <param name="time">Tells the time.</param>
public sealed class SurveyStore(CatalogContext catalog, SurveyReports reports, TimeProvider time)
{
    /// <summary>After how long without a sign of life a survey counts as broken off.</summary>
    public static readonly TimeSpan Silence = TimeSpan.FromSeconds(20);

    private const int KeptSurveys = 3;

    // Learning the words of a large schema takes longer than answering with them, and no snapshot changes.
    private static readonly ConditionalWeakTable<SchemaSnapshot, Vocabulary> _vocabularies = [];

    /// <summary>Enters a new survey, to be run by the caller.</summary>
    /// <param name="sourceId">The source.</param>
    /// <param name="thenDraft">Whether panels are drafted when it is done.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The new survey, or the one that runs already; whether it is new.</returns>
    public async Task<(SurveyRow Survey, bool IsNew)> StartAsync(
        int sourceId,
        bool thenDraft,
        CancellationToken cancellationToken
    )
    {
        var now = time.GetUtcNow();
        await catalog
            .Surveys.Where(survey =>
                survey.SourceId == sourceId && survey.State == SurveyState.Running && survey.BeatAt < now - Silence
            )
            .ExecuteUpdateAsync(
                set =>
                    set.SetProperty(survey => survey.State, SurveyState.Failed)
                        .SetProperty(survey => survey.EndedAt, now)
                        .SetProperty(survey => survey.Problem, "The program that ran it was stopped. Survey again."),
                cancellationToken
            );
        var row = new SurveyRow
        {
            SourceId = sourceId,
            State = SurveyState.Running,
            Step = "Starting",
            StartedAt = now,
            BeatAt = now,
            ThenDraft = thenDraft,
        };
        catalog.Surveys.Add(row);
        if (await catalog.TrySaveAsync(cancellationToken))
            return (row, true);
        catalog.Entry(row).State = EntityState.Detached;
        return (
            await catalog
                .Surveys.AsNoTracking()
                .FirstAsync(survey => survey.SourceId == sourceId && survey.State == SurveyState.Running, cancellationToken),
            false
        );
    }

    /// <summary>How the latest survey of a source stands, without what it found.</summary>
    /// <returns>The survey; null where none was made.</returns>
    public async Task<SurveyRow?> LatestAsync(int sourceId, CancellationToken cancellationToken)
    {
        var survey = await catalog
            .Surveys.AsNoTracking()
            .Where(survey => survey.SourceId == sourceId)
            .OrderByDescending(survey => survey.Id)
            .Select(survey => new SurveyRow
            {
                Id = survey.Id,
                SourceId = survey.SourceId,
                State = survey.State,
                Step = survey.Step,
                Done = survey.Done,
                Total = survey.Total,
                StartedAt = survey.StartedAt,
                BeatAt = survey.BeatAt,
                EndedAt = survey.EndedAt,
                StopAsked = survey.StopAsked,
                ThenDraft = survey.ThenDraft,
                Problem = survey.Problem,
            })
            .FirstOrDefaultAsync(cancellationToken);
        if (survey is { State: SurveyState.Running } && survey.BeatAt < time.GetUtcNow() - Silence)
            (survey.State, survey.Problem) = (SurveyState.Failed, "The program that ran it was stopped. Survey again.");
        return survey;
    }

    /// <summary>Tells that a survey is still being run, and how far it is.</summary>
    /// <returns>Whether it is to go on.</returns>
    public async Task<bool> BeatAsync(int surveyId, SurveyProgress progress, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(progress);
        var now = time.GetUtcNow();
        return await catalog
                .Surveys.Where(survey => survey.Id == surveyId && survey.State == SurveyState.Running && !survey.StopAsked)
                .ExecuteUpdateAsync(
                    set =>
                        set.SetProperty(survey => survey.BeatAt, now)
                            .SetProperty(survey => survey.Step, progress.Step)
                            .SetProperty(survey => survey.Done, progress.Done)
                            .SetProperty(survey => survey.Total, progress.Total),
                    cancellationToken
                ) > 0;
    }

    /// <summary>Asks whoever runs a source's survey to stop.</summary>
    public Task StopAsync(int sourceId, CancellationToken cancellationToken) =>
        catalog
            .Surveys.Where(survey => survey.SourceId == sourceId && survey.State == SurveyState.Running)
            .ExecuteUpdateAsync(set => set.SetProperty(survey => survey.StopAsked, true), cancellationToken);

    /// <summary>Ends a survey.</summary>
    /// <param name="surveyId">The survey.</param>
    /// <param name="state">How it ended.</param>
    /// <param name="problem">Why it failed; null where it did not.</param>
    /// <param name="report">What it found; null where it did not come to an end.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task EndAsync(
        int surveyId,
        SurveyState state,
        string? problem,
        SurveyReport? report,
        CancellationToken cancellationToken
    )
    {
        var now = time.GetUtcNow();
        var content = report is null ? null : JsonSerializer.Serialize(report, DefinitionJson.Options);
        await catalog
            .Surveys.Where(survey => survey.Id == surveyId)
            .ExecuteUpdateAsync(
                set =>
                    set.SetProperty(survey => survey.State, state)
                        .SetProperty(survey => survey.Problem, problem)
                        .SetProperty(survey => survey.EndedAt, now)
                        .SetProperty(survey => survey.Content, content),
                cancellationToken
            );
        await catalog
            .Surveys.Where(survey =>
                survey.Id <= surveyId - KeptSurveys
                && catalog
                    .Set<SurveyRow>()
                    .Any(latest =>
                        latest.SourceId == survey.SourceId && latest.Id > survey.Id && latest.State == SurveyState.Done
                    )
            )
            .ExecuteDeleteAsync(cancellationToken);
    }

    /// <summary>What the latest finished survey of a source found, before any decision.</summary>
    /// <returns>The report; null where no survey was finished.</returns>
    public async Task<SurveyReport?> ReportAsync(int sourceId, CancellationToken cancellationToken)
    {
        var done = catalog
            .Surveys.AsNoTracking()
            .Where(survey => survey.SourceId == sourceId && survey.State == SurveyState.Done && survey.Content != null);
        return await done.MaxAsync(survey => (int?)survey.Id, cancellationToken) is { } id
            ? await reports.GetAsync(id, async () =>
                await done.Where(survey => survey.Id == id).Select(survey => survey.Content!).FirstAsync(cancellationToken)
            )
            : null;
    }

    /// <summary>What holds of each table after the survey and the decisions, with the labels of the source's words.</summary>
    /// <param name="sourceId">The source.</param>
    /// <param name="snapshot">Its schema.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <param name="report">A report that is not kept yet; null for the latest that is.</param>
    /// <returns>The findings; null where no survey was finished.</returns>
    public async Task<IReadOnlyList<TableFindings>?> FindingsAsync(
        int sourceId,
        SchemaSnapshot snapshot,
        CancellationToken cancellationToken,
        SurveyReport? report = null
    )
    {
        if ((report ?? await ReportAsync(sourceId, cancellationToken)) is not { } latest)
            return null;
        var decided = FindingList.Apply(latest, await DecisionsAsync(sourceId, cancellationToken));
        return decided.Findings(snapshot, await VocabularyAsync(sourceId, snapshot, cancellationToken));
    }

    /// <summary>What developers decided about a source.</summary>
    public async Task<IReadOnlyList<FindingDecision>> DecisionsAsync(int sourceId, CancellationToken cancellationToken)
    {
        var contents = await catalog
            .Decisions.AsNoTracking()
            .Where(decision => decision.SourceId == sourceId)
            .OrderBy(decision => decision.Id)
            .Select(decision => decision.Content)
            .ToListAsync(cancellationToken);
        return [.. contents.Select(content => JsonSerializer.Deserialize<FindingDecision>(content, DefinitionJson.Kept)!)];
    }

    /// <summary>Decides about a finding; what was decided before about the same is replaced.</summary>
    /// <param name="sourceId">The source.</param>
    /// <param name="subject">The finding.</param>
    /// <param name="verdict">The decision; null to take an earlier one back.</param>
    /// <param name="value">What was decided about.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    public async Task DecideAsync(
        int sourceId,
        FindingSubject subject,
        Verdict? verdict,
        string value,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(subject);
        var report = await ReportAsync(sourceId, cancellationToken);
        var kept = await catalog.Decisions.FirstOrDefaultAsync(
            decision => decision.SourceId == sourceId && decision.Subject == subject.Id,
            cancellationToken
        );
        if (verdict is not { } given)
        {
            if (kept is not null)
                catalog.Decisions.Remove(kept);
        }
        else
        {
            var reference = report?.References.FirstOrDefault(found =>
                FindingList.SubjectOf(found).Id == subject.Id && FindingList.ValueOf(found) == value
            )
                ?? (
                    kept is null
                        ? null
                        : JsonSerializer.Deserialize<FindingDecision>(kept.Content, DefinitionJson.Kept)!.Reference
                );
            var content = JsonSerializer.Serialize(
                new FindingDecision(subject, given, value, reference, time.GetUtcNow()),
                DefinitionJson.Options
            );
            if (kept is null)
                catalog.Decisions.Add(
                    new DecisionRow
                    {
                        SourceId = sourceId,
                        Subject = subject.Id,
                        Content = content,
                    }
                );
            else
                kept.Content = content;
        }

        await catalog.SaveChangesAsync(cancellationToken);
    }

    /// <summary>The words of a schema with the source's own.</summary>
    public async Task<Vocabulary> VocabularyAsync(int sourceId, SchemaSnapshot snapshot, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        var own = await WordsAsync(sourceId, cancellationToken);
        if (_vocabularies.TryGetValue(snapshot, out var known) && IsMadeWith(known, own))
            return known;
        var made = new Vocabulary(snapshot.Tables, own);
        _vocabularies.AddOrUpdate(snapshot, made);
        return made;
    }

    private static bool IsMadeWith(Vocabulary words, Dictionary<string, string> own) =>
        words.Own.Count == own.Count && own.All(pair => words.Own.TryGetValue(pair.Key, out var means) && means == pair.Value);

    /// <summary>A source's own word list, by word.</summary>
    public Task<Dictionary<string, string>> WordsAsync(int sourceId, CancellationToken cancellationToken) =>
        catalog
            .Words.AsNoTracking()
            .Where(word => word.SourceId == sourceId)
            .ToDictionaryAsync(word => word.Word, word => word.Means, cancellationToken);

    /// <summary>Replaces a source's word list.</summary>
    public async Task SetWordsAsync(int sourceId, IReadOnlyDictionary<string, string> words, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(words);
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        await catalog.Words.Where(word => word.SourceId == sourceId).ExecuteDeleteAsync(cancellationToken);
        catalog.Words.AddRange(
            words.Select(pair => new WordRow
            {
                SourceId = sourceId,
                Word = pair.Key,
                Means = pair.Value,
            })
        );
        await catalog.SaveChangesAsync(cancellationToken);
        await transaction.CommitAsync(cancellationToken);
    }
}

/// <summary>
/// Keeps the reports of surveys that are in use, which never change. Another instance would read the same ones.
/// </summary>
public sealed class SurveyReports
{
    private const int Kept = 8;

    private readonly RecentlyUsed<int, SurveyReport> _reports = new(Kept);

    /// <summary>The report of a survey.</summary>
    /// <param name="surveyId">The survey's number.</param>
    /// <param name="load">Loads its JSON where it is not kept.</param>
    public async Task<SurveyReport> GetAsync(int surveyId, Func<Task<string>> load)
    {
        ArgumentNullException.ThrowIfNull(load);
        return _reports.TryGet(surveyId, out var kept)
            ? kept!
            : _reports.GetOrAdd(surveyId, JsonSerializer.Deserialize<SurveyReport>(await load(), DefinitionJson.Kept)!);
    }
}
