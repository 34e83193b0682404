using System.Collections.Concurrent;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Sources;
using PlainPorch.Data.Survey;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Survey;

/// <summary>
/// Runs surveys off the request that asked for them. How far one is, and whether it is to stop, stands in the catalog, so that
/// every instance can tell and stop it; one whose instance dies falls silent there and counts as broken off.
/// </summary>
/// <param name="scopes">Makes services for each survey.</param>
/// <param name="lifetime">Stops the surveys with the program.</param>
/// <param name="logger">Gets what nobody can be told otherwise.</param>
internal sealed partial class SurveyWork(
    IServiceScopeFactory scopes,
    IHostApplicationLifetime lifetime,
    ILogger<SurveyWork> logger
)
{
    private readonly ConcurrentDictionary<int, Task> _running = new();

    /// <summary>Begins a survey that was entered in the catalog.</summary>
    public void Begin(SurveyRow survey) =>
        _running[survey.Id] = Task.Run(async () =>
        {
            await RunAsync(survey);
            _running.TryRemove(survey.Id, out _);
        });

    private async Task RunAsync(SurveyRow survey)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(lifetime.ApplicationStopping);
        var progress = new SurveyProgress("Starting", 0, 1);
        var beating = Beats.GiveAsync(
            scopes,
            (services, cancellationToken) =>
                services.GetRequiredService<SurveyStore>().BeatAsync(survey.Id, Volatile.Read(ref progress), cancellationToken),
            stop,
            failure => Failed(failure, survey.SourceId)
        );
        var (state, problem, report) = await TryAsync(survey, told => Volatile.Write(ref progress, told), stop.Token);
        await stop.CancelAsync();
        await beating;
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            await scope
                .ServiceProvider.GetRequiredService<SurveyStore>()
                .EndAsync(survey.Id, state, problem, report, CancellationToken.None);
        }
        catch (Exception failure)
        {
            Failed(failure, survey.SourceId);
        }
    }

    private async Task<(SurveyState State, string? Problem, SurveyReport? Report)> TryAsync(
        SurveyRow survey,
        Action<SurveyProgress> report,
        CancellationToken cancellationToken
    )
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var services = scope.ServiceProvider;
            if (await services.GetRequiredService<SourceStore>().FindAsync(survey.SourceId, cancellationToken) is not { } source)
                return (SurveyState.Failed, "The source was removed.", null);
            // What is surveyed is the schema as it is now, not as it was read once.
            var snapshot = await services.GetRequiredService<SnapshotStore>().TakeAsync(source, cancellationToken);
            var surveys = services.GetRequiredService<SurveyStore>();
            var words = await surveys.VocabularyAsync(source.Id, snapshot, cancellationToken);
            var pool = services.GetRequiredService<SourceConnections>().Get(source);
            using var lease = pool.Lease();
            var found = await SurveyRun.RunAsync(pool.Connections, snapshot, report, cancellationToken, words);
            if (!survey.ThenDraft)
                return (SurveyState.Done, null, found);
            report(new SurveyProgress("Drafting panels", 0, 1));
            var drafted = await services
                .GetRequiredService<PanelStore>()
                .DraftPorchAsync(source, tables: null, cancellationToken, found);
            return (
                SurveyState.Done,
                drafted is SaveOutcome<PorchDrafted>.Refused(var problems) ? problems[0].Message : null,
                found
            );
        }
        catch (OperationCanceledException)
        {
            return (SurveyState.Stopped, null, null);
        }
        catch (Exception failure)
        {
            Failed(failure, survey.SourceId);
            return (
                SurveyState.Failed,
                SourceFailureHandler.Explain(failure) is (not 0, var detail)
                    ? detail
                    : "This is a bug in Plain Porch; see its log.",
                null
            );
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "A survey of source {SourceId} failed.")]
    private partial void Failed(Exception failure, int sourceId);
}
