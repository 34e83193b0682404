using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Sources;
using PlainPorch.Data.Survey;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Snapshots;

/// <summary>A source's schema in outline.</summary>
/// <param name="TakenAt">When it was read.</param>
/// <param name="ServerVersion">The server's version.</param>
/// <param name="Porch">The slug of the porch on this source.</param>
/// <param name="Tables">Tables and views.</param>
public sealed record SnapshotDto(DateTimeOffset TakenAt, string ServerVersion, string Porch, IReadOnlyList<TableSummary> Tables);

/// <summary>A table or view in outline.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
/// <param name="Kind">What kind of relation it is.</param>
/// <param name="Label">A readable name.</param>
/// <param name="Comment">The comment in the database.</param>
/// <param name="EstimatedRows">The planner's estimate of its rows; null where there is none.</param>
/// <param name="ColumnCount">How many columns it has.</param>
/// <param name="Identity">The columns that tell its records apart; empty where there are none.</param>
/// <param name="CanRead">Whether the database user may read it.</param>
/// <param name="Panels">The slugs of the panels made from it.</param>
/// <param name="Group">The heading that the first of these stands under; null without one.</param>
/// <param name="Shape">What part the survey found that it plays; null before a survey.</param>
/// <param name="Rows">How many rows the survey found; null before one.</param>
public sealed record TableSummary(
    string Schema,
    string Name,
    TableKind Kind,
    string Label,
    string? Comment,
    long? EstimatedRows,
    int ColumnCount,
    IReadOnlyList<string> Identity,
    bool CanRead,
    IReadOnlyList<string> Panels,
    string? Group,
    TableShape? Shape,
    long? Rows
);

/// <summary>Which table to make a panel from.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
public sealed record MakePanelRequest(string Schema, string Name);

/// <summary>Where a panel is.</summary>
/// <param name="Porch">The slug of its porch.</param>
/// <param name="Panel">Its own slug.</param>
public sealed record PanelAddress(string Porch, string Panel);

/// <summary>What tells the records of a table apart that declares no key.</summary>
/// <param name="Schema">The schema's name.</param>
/// <param name="Name">The table's name.</param>
/// <param name="Columns">The columns; empty for none any more.</param>
public sealed record KeyRequest(string Schema, string Name, IReadOnlyList<string> Columns);

internal static class SnapshotEndpoints
{
    public static void MapSnapshots(this IEndpointRouteBuilder api)
    {
        var source = api.MapGroup("/sources/{id:int}").WithTags("Snapshot");
        source.MapGet("/snapshot", FindAsync).WithName("findSnapshot");
        source.MapPost("/snapshot", TakeAsync).WithName("takeSnapshot");
        source.MapGet("/table", FindTableAsync).WithName("findTable");
        source.MapGet("/table/key", CountKeyAsync).WithName("countKey");
        source.MapPut("/table/key", DecideKeyAsync).WithName("decideKey");
        source.MapPost("/panels", MakePanelAsync).WithName("makePanel");
    }

    private static async Task<Results<Ok<SnapshotDto>, NotFound>> FindAsync(
        int id,
        SnapshotStore snapshots,
        PanelStore panels,
        SurveyStore surveys,
        CancellationToken cancellationToken
    ) =>
        await snapshots.LatestAsync(id, cancellationToken) is { } model
            ? TypedResults.Ok(await ToDtoAsync(id, model.Snapshot, panels, surveys, cancellationToken))
            : TypedResults.NotFound();

    private static async Task<Results<Ok<SnapshotDto>, NotFound>> TakeAsync(
        int id,
        SourceStore sources,
        SnapshotStore snapshots,
        PanelStore panels,
        SurveyStore surveys,
        CancellationToken cancellationToken
    )
    {
        if (await sources.FindAsync(id, cancellationToken) is not { } source)
            return TypedResults.NotFound();
        var snapshot = await snapshots.TakeAsync(source, cancellationToken);
        return TypedResults.Ok(await ToDtoAsync(id, snapshot, panels, surveys, cancellationToken));
    }

    private static async Task<Results<Ok<Table>, NotFound>> FindTableAsync(
        int id,
        string schema,
        string name,
        SnapshotStore snapshots,
        CancellationToken cancellationToken
    ) =>
        (await snapshots.LatestAsync(id, cancellationToken))?.Snapshot.Find(new TableName(schema, name)) is { } table
            ? TypedResults.Ok(table)
            : TypedResults.NotFound();

    private static async Task<Results<Ok<KeyEvidence>, NoContent, NotFound, ValidationProblem>> CountKeyAsync(
        int id,
        string schema,
        string name,
        string[] columns,
        SourceStore sources,
        SnapshotStore snapshots,
        SourceConnections connections,
        CancellationToken cancellationToken
    )
    {
        if (
            await sources.FindAsync(id, cancellationToken) is not { } source
            || (await snapshots.LatestAsync(id, cancellationToken))?.Snapshot.Find(new TableName(schema, name)) is not { } table
        )
            return TypedResults.NotFound();
        if (AssumedKeys.Problem(table, columns) is { } problem)
            return Problems.Of([new FieldProblem("columns", problem)]);
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        return
            await new KeyCounter(pool.Connections, SqlNames.Helper).CountAsync(table.Name, columns, cancellationToken)
                is { } evidence
            ? TypedResults.Ok(evidence)
            : TypedResults.NoContent();
    }

    private static async Task<Results<Ok<Table>, NotFound, ValidationProblem>> DecideKeyAsync(
        int id,
        KeyRequest request,
        SnapshotStore snapshots,
        CancellationToken cancellationToken
    )
    {
        var name = new TableName(request.Schema, request.Name);
        if ((await snapshots.LatestAsync(id, cancellationToken))?.Snapshot.Find(name) is not { } table)
            return TypedResults.NotFound();
        if (request.Columns.Count > 0 && AssumedKeys.Problem(table, request.Columns) is { } problem)
            return Problems.Of([new FieldProblem("columns", problem)]);
        var decided = await snapshots.DecideKeyAsync(id, name, request.Columns, cancellationToken);
        return TypedResults.Ok(decided.Find(name)!);
    }

    private static async Task<Results<Created<PanelAddress>, NotFound, ValidationProblem>> MakePanelAsync(
        int id,
        MakePanelRequest request,
        SourceStore sources,
        PanelStore panels,
        SurveyStore surveys,
        CancellationToken cancellationToken
    )
    {
        if (await sources.FindAsync(id, cancellationToken) is not { } source)
            return TypedResults.NotFound();
        var outcome = await panels.MakeAsync(source, new TableName(request.Schema, request.Name), cancellationToken);
        return outcome switch
        {
            SaveOutcome<(PorchRow Porch, PanelDefinition Panel)>.Saved((var porch, var panel)) => TypedResults.Created(
                $"/api/porches/{porch.Slug}/panels/{panel.Slug}",
                new PanelAddress(porch.Slug, panel.Slug)
            ),
            SaveOutcome<(PorchRow, PanelDefinition)>.Refused(var problems) => Problems.Of(problems),
            _ => TypedResults.NotFound(),
        };
    }

    private static async Task<SnapshotDto> ToDtoAsync(
        int sourceId,
        SchemaSnapshot snapshot,
        PanelStore panels,
        SurveyStore surveys,
        CancellationToken cancellationToken
    )
    {
        var surveyed = await surveys.ReportAsync(sourceId, cancellationToken) is { } report
            ? FindingList
                .Apply(report, await surveys.DecisionsAsync(sourceId, cancellationToken))
                .Tables.ToDictionary(table => new TableName(table.Schema, table.Name))
            : [];
        var labels = (await surveys.VocabularyAsync(sourceId, snapshot, cancellationToken)).Labels;
        var porch = (await panels.ListAsync(cancellationToken)).First(content => content.Porch.SourceId == sourceId);
        var byTable = porch.Panels.ToLookup(panel => panel.Table);
        return new SnapshotDto(
            snapshot.TakenAt,
            snapshot.ServerVersion,
            porch.Porch.Slug,
            [
                .. snapshot.Tables.Select(table => new TableSummary(
                    table.Name.Schema,
                    table.Name.Name,
                    table.Kind,
                    labels.ForTable(table.Name),
                    table.Comment,
                    table.EstimatedRows,
                    table.Columns.Count,
                    RecordIdentity.Of(table).Columns,
                    table.Rights.Read && table.Columns.Count > 0,
                    [.. byTable[table.Name].Select(panel => panel.Slug)],
                    byTable[table.Name].FirstOrDefault()?.Group,
                    surveyed.GetValueOrDefault(table.Name)?.Shape,
                    surveyed.GetValueOrDefault(table.Name)?.Rows
                )),
            ]
        );
    }
}
