using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Records;
using PlainPorch.Data.Removal;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Imports;

/// <summary>
/// Brings a file into a panel: reads its rows as the panel's form would, plans what becomes of each, and writes them like any other records,
/// in one transaction and one entry of the logbook.
/// </summary>
/// <param name="store">Has the imports.</param>
/// <param name="tables">Reads their files.</param>
/// <param name="acts">Carries it out.</param>
/// <param name="parcels">What is set aside.</param>
/// <param name="logs">Reads the logbook.</param>
/// <param name="returner">Brings back what was set aside.</param>
/// <param name="time">Tells the present moment.</param>
public sealed class PanelImport(
    ImportStore store,
    TableImport tables,
    ActRunner acts,
    ParcelStore parcels,
    LogReader logs,
    Returner returner,
    TimeProvider time
)
{
    /// <summary>So many rows are written through a panel at most; more go into a table of their own, or by the command line.</summary>
    public const int MostRows = 100_000;

    private const int Sampled = 2_000;
    private const string Savepoint = "porch_rows";
    private const int RowsAtOnce = 100;

    /// <summary>Looks at the file of an import, and drafts where its columns go.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="import">The import.</param>
    /// <param name="reading">How the file is read.</param>
    /// <param name="table">Which of its tables; null for the first one.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public async Task<ImportEnd> LookAsync(
        OpenPanel panel,
        Guid import,
        ImportSettings reading,
        string? table,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(report);
        var looks = await tables.LooksAsync(import, reading, report, cancellationToken);
        var told = looks.Select(one => one.Look.Told(one.File)).ToList();
        var chosen = told.Find(one => one.Name == table) ?? told[0];
        var known = await SampleAsync(panel, cancellationToken);
        return new ImportEnd(ImportState.Ready)
        {
            Look = told,
            Settings = FieldMatching.Draft(panel.Bound!, chosen, known) with { Reading = reading },
        };
    }

    private static async Task<Dictionary<string, IReadOnlySet<string>>> SampleAsync(
        OpenPanel panel,
        CancellationToken cancellationToken
    )
    {
        var bound = panel.Bound!;
        var columns = FieldMatching
            .Fillable(bound)
            .Where(column => bound.IsVisible(column))
            .Select(column => column.Name)
            .ToList();
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        var rows = await new SourceReader(panel.Model, connection).ReadAsync(
            bound.Table,
            new RowRequest
            {
                Filter = panel.Seen.Plan(new ListRequest()).Filter,
                Columns = columns,
                Take = Sampled,
            },
            cancellationToken
        );
        var read = rows.Select(row => RowValues.Of(bound.Table, columns, row)).ToList();
        return columns.ToDictionary(
            column => column,
            column =>
                (IReadOnlySet<string>)
                    read.Select(row => row[column])
                        .OfType<string>()
                        .SelectMany(stored => new[] { stored, bound.Find(column)?.Show(stored, panel.Seen.Porch.Notation) })
                        .OfType<string>()
                        .ToHashSet()
        );
    }

    /// <summary>Finds out what an import would do: everything is tried in the database, and taken back.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="import">The import, looked at.</param>
    /// <param name="settings">How it is to be brought in; checked.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public async Task<ImportEnd> PlanAsync(
        OpenPanel panel,
        ImportRow import,
        PanelImportSettings settings,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var work = await new PanelFileReader(tables).ReadAsync(
            panel,
            import.Id,
            settings,
            rejected: null,
            report,
            cancellationToken
        );
        await TryAsync(panel, work, settings, report, cancellationToken);
        return new ImportEnd(ImportState.Ready) { Plan = work.ToPlan(panel) };
    }

    /// <summary>Looks at a file, and brings it in as a recipe says, or finds out what that would do.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="import">The import.</param>
    /// <param name="recipe">What the recipe keeps.</param>
    /// <param name="isOnlyPlanned">Whether nothing is written.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Gives it up; until the transaction ends, nothing is left of it.</param>
    public async Task<ImportEnd> FollowAsync(
        OpenPanel panel,
        Guid import,
        PanelImportSettings recipe,
        bool isOnlyPlanned,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(recipe);
        ArgumentNullException.ThrowIfNull(report);
        var looks = await tables.LooksAsync(import, recipe.Reading, report, cancellationToken);
        var told = looks.Select(one => one.Look.Told(one.File)).ToList();
        // A file is called otherwise each time; of several tables in it, it is the one of that name.
        var table = told is [var only] ? only : told.Find(one => one.Name == recipe.Table);
        if (table is null)
            return new ImportEnd(
                ImportState.Failed,
                $"The file has no table {recipe.Table}. Its tables are: {string.Join(", ", told.Select(one => one.Name))}. Nothing was written."
            )
            {
                Look = told,
            };
        if (RecipeShape.Fit(recipe.Columns, [.. table.Columns.Select(column => column.Name)], out var changed) is not { } columns)
        {
            var drafted = FieldMatching.Draft(panel.Bound!, table, await SampleAsync(panel, cancellationToken));
            return new ImportEnd(ImportState.Failed, changed)
            {
                Look = told,
                Settings = drafted with { Reading = recipe.Reading },
            };
        }

        var settings = recipe with { Table = table.Name, Columns = columns };
        var work = await new PanelFileReader(tables).ReadAsync(
            panel,
            import,
            settings,
            rejected: null,
            report,
            cancellationToken
        );
        await TryAsync(panel, work, settings, report, cancellationToken);
        var plan = work.ToPlan(panel);
        var end =
            isOnlyPlanned ? new ImportEnd(ImportState.Ready)
            : plan.Forbidden is { } why ? new ImportEnd(ImportState.Failed, $"{why} Nothing was written.")
            : settings.IsWhole && plan.Rejected.Count > 0
                ? new ImportEnd(
                    ImportState.Failed,
                    $"{plan.Rejected.Count} rows do not fit, and it is to be all of them or none. Nothing was written."
                )
            : await WriteAsync(panel, import, work, settings, plan, report, cancellationToken);
        return end with { Look = told, Settings = settings, Plan = plan };
    }

    /// <summary>Carries an import out as it was planned; where it would do something else by now, it is planned anew instead.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="import">The import, planned.</param>
    /// <param name="settings">How it is to be brought in; checked.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Gives it up; until the transaction ends, nothing is left of it.</param>
    public async Task<ImportEnd> RunAsync(
        OpenPanel panel,
        ImportRow import,
        PanelImportSettings settings,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(import);
        ArgumentNullException.ThrowIfNull(settings);
        ArgumentNullException.ThrowIfNull(report);
        var planned = PlanOf(import) ?? throw new ImportRefusedException("It has not been planned yet. Look at the plan first.");
        var work = await new PanelFileReader(tables).ReadAsync(
            panel,
            import.Id,
            settings,
            planned.Rejected,
            report,
            cancellationToken
        );
        if (work.ToPlan(panel).Fingerprint != planned.Fingerprint)
        {
            await TryAsync(panel, work, settings, report, cancellationToken);
            return new ImportEnd(ImportState.Ready, "Records have changed since the plan was made. This is what it would do now.")
            {
                Plan = work.ToPlan(panel),
            };
        }

        if (settings.IsWhole && planned.Rejected.Count > 0)
            throw new ImportRefusedException(
                "Rows would be left out, and it was to be all of them or none. Nothing was written."
            );
        return await WriteAsync(panel, import.Id, work, settings, planned, report, cancellationToken);
    }

    /// <summary>Takes an import back.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="import">The import, done.</param>
    /// <param name="cancellationToken">Gives it up; then nothing is taken back.</param>
    /// <returns>How many records were taken back, and how many were left as they are; or why it cannot be.</returns>
    public async Task<ChangeOutcome> TakeBackAsync(OpenPanel panel, ImportRow import, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        if (ResultOf(import) is not { } done)
            return new ChangeOutcome.Refused([new("entry", "It has not been done.")]);
        var outcome = await new RecordWriter(panel.Records(), acts, panel).TakeBackAsync(
            logs.PartsAsync(panel.Porch.Id, panel.Bound!.Table.Name, done.Entry, cancellationToken),
            cancellationToken
        );
        if (outcome is not ChangeOutcome.Done || done.Parcel is not { } parcel)
            return outcome;
        return await returner.ReturnAsync(panel, parcel, wanted: null, choices: [], cancellationToken) is ReturnOutcome.Done
            ? outcome
            : new ChangeOutcome.Refused([
                new(
                    "parcel",
                    "What was added and changed is taken back. What was set aside could not be brought back by itself: look at “Set aside” in the panel, and bring it back there."
                ),
            ]);
    }

    /// <summary>What an import would do; null where that is not known.</summary>
    public static PanelPlan? PlanOf(ImportRow import)
    {
        ArgumentNullException.ThrowIfNull(import);
        return import.Plan is null ? null : JsonSerializer.Deserialize<PanelPlan>(import.Plan, DefinitionJson.Kept);
    }

    /// <summary>What an import did; null where it did nothing.</summary>
    public static PanelImported? ResultOf(ImportRow import)
    {
        ArgumentNullException.ThrowIfNull(import);
        return import is { State: ImportState.Done or ImportState.TakenBack, Result: { } result }
            ? JsonSerializer.Deserialize<PanelImported>(result, DefinitionJson.Kept)
            : null;
    }

    // Everything is written as it would be, to find what the database or a rule refuses; nothing of it stays.
    private async Task TryAsync(
        OpenPanel panel,
        PanelImportWork work,
        PanelImportSettings settings,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var records = panel.Records();
        var writer = new RecordWriter(records, acts, panel);
        if (work.Forbidden is not null)
            return;
        await using var session = await records.WriteAsync(cancellationToken);
        if (await SetAsideAsync(panel, session, work, cancellationToken) is { Problem: { } problem })
        {
            work.Forbidden = problem.Message;
            return;
        }

        var places = work.Places();
        foreach (var some in places.Chunk(RowsAtOnce))
        {
            await TryAsync(some);
            report(new ImportProgress("Trying it in the database", some[^1] + 1, work.Rows.Count));
            if (work.Rejected > RejectedRow.Most)
                break;
        }

        if (work.Rejected > RejectedRow.Most)
            work.Forbidden =
                $"More than {RejectedRow.Most} rows do not fit. It is likely the wrong file, or its columns go to the wrong places.";

        async Task TryAsync(ArraySegment<int> some)
        {
            if (some.Count == 0)
                return;
            cancellationToken.ThrowIfCancellationRequested();
            await session.Transaction.SaveAsync(Savepoint, cancellationToken);
            var logged = new List<LoggedRecord>();
            for (var i = 0; i < some.Count; i++)
            {
                var (written, problems) = await WriteAsync(
                    writer,
                    session,
                    work.Rows[some[i]],
                    new Witnesses(session.Rows),
                    cancellationToken
                );
                logged.AddRange(written);
                if (problems.Count == 0)
                    continue;
                await session.Transaction.RollbackAsync(Savepoint, cancellationToken);
                session.Context.ChangeTracker.Clear();
                work.Reject(some[i], problems[0]);
                await TryAsync(some[..i]);
                await TryAsync(some[(i + 1)..]);
                return;
            }

            var refused = await acts.WhyRefusedAsync(
                panel,
                session.Transaction,
                logged,
                settings.InSpiteOfWarnings,
                cancellationToken
            );
            if (refused.Count == 0)
            {
                await session.Transaction.ReleaseAsync(Savepoint, cancellationToken);
                return;
            }

            await session.Transaction.RollbackAsync(Savepoint, cancellationToken);
            session.Context.ChangeTracker.Clear();
            if (some.Count == 1)
            {
                work.Reject(some[0], refused[0]);
                return;
            }

            await TryAsync(some[..(some.Count / 2)]);
            await TryAsync(some[(some.Count / 2)..]);
        }
    }

    private static Task<(IReadOnlyList<LoggedRecord> Logged, IReadOnlyList<FieldProblem> Problems)> WriteAsync(
        RecordWriter writer,
        WriteSession session,
        PlannedRow row,
        Witnesses witnesses,
        CancellationToken cancellationToken
    ) =>
        writer.WriteRowAsync(
            session,
            row.Fate is RowFate.New ? null : row.Present!.Key,
            row.Present?.Version ?? 0,
            row.Values,
            witnesses,
            cancellationToken
        );

    private async Task<(Removal.Removal? Work, FieldProblem? Problem)> SetAsideAsync(
        OpenPanel panel,
        WriteSession session,
        PanelImportWork work,
        CancellationToken cancellationToken
    )
    {
        if (work.Leaving.Count == 0)
            return (null, null);
        if (!RecordSelection.TryRead(panel.Bound!, [.. work.Leaving], out var chosen, out var problem))
            return (null, problem);
        var planner = new RemovalPlanner(panel, session.Connection, time.GetUtcNow());
        if (await planner.PlanAsync(chosen!, forGood: false, cancellationToken) is not { } plan)
            return (null, new("", "What was to be set aside is gone. Plan it again."));
        if (plan.IsForbidden)
            return (
                null,
                new(
                    "",
                    "Other records refer to what would be set aside, which forbids it. Bring the file in without setting anything aside."
                )
            );
        if (!plan.CanBeUndone)
            return (
                null,
                new(
                    "",
                    "This panel erases for good what is removed. Records are not erased by a file: bring it in without removing any."
                )
            );
        work.AlongWith = plan.Count - work.Leaving.Count;
        var removal = new Removal.Removal(panel, plan, chosen!, session.Connection, acts.Caller.Name, null, cancellationToken);
        return await removal.ReadAsync() ? (removal, null) : (null, new("", "Records have changed meanwhile. Plan it again."));
    }

    private async Task<ImportEnd> WriteAsync(
        OpenPanel panel,
        Guid import,
        PanelImportWork work,
        PanelImportSettings settings,
        PanelPlan planned,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var records = panel.Records();
        var writer = new RecordWriter(records, acts, panel);
        await using var session = await records.WriteAsync(cancellationToken);
        if (settings.InSpiteOfWarnings)
            acts.Caller.Despite = ActRunner.WarningsOf(panel);
        PanelImported Done(ActPlace place) =>
            new(
                place.Entry,
                place.Parcel,
                planned.New,
                planned.Changed,
                planned.Same,
                planned.SetAside,
                planned.Rejected,
                planned.FileColumns
            );
        var transaction = await session.Rows.TransactionAsync(cancellationToken);
        var end = await acts.CarryOutAsync<PanelImported>(
            panel,
            session.Transaction,
            async () =>
            {
                var (removal, problem) = await SetAsideAsync(panel, session, work, cancellationToken);
                if (problem is not null)
                    return (null, problem);
                var witnesses = new Witnesses(session.Rows);
                var logged = new List<LoggedRecord>();
                if (removal is not null)
                {
                    removal.Note(witnesses);
                    logged.AddRange(removal.Logged());
                    if (await removal.CarryOutAsync() is { } held)
                        return (null, held);
                }

                foreach (var place in work.Places())
                {
                    var (written, problems) = await WriteAsync(writer, session, work.Rows[place], witnesses, cancellationToken);
                    if (problems is [var wrong, ..])
                        return (
                            null,
                            wrong with
                            {
                                Message =
                                    $"Row {work.Rows[place].Row.Number}: {wrong.Message} Nothing was written. Plan it again.",
                            }
                        );
                    logged.AddRange(written);
                    if (logged.Count % 100 == 0)
                        report(new ImportProgress("Writing", logged.Count, planned.New + planned.Changed + planned.SetAside));
                }

                await store.PromiseAsync(import, transaction, Done(new ActPlace(0, null)), cancellationToken);
                return (
                    new Act<PanelImported>(LogAct.Imported, logged, Done)
                    {
                        Witnesses = witnesses,
                        Parcel = removal is null
                            ? null
                            : new NewParcel(parcels, panel, removal, acts.Caller.Name, time.GetUtcNow()),
                    },
                    null
                );
            },
            cancellationToken
        );
        return end switch
        {
            ActEnd<PanelImported>.Done(var done) => new ImportEnd(ImportState.Done) { Result = done },
            ActEnd<PanelImported>.Refused(var problems) => new ImportEnd(ImportState.Ready, problems[0].Message)
            {
                ForgetsResult = true,
            },
            _ => new ImportEnd(ImportState.Ready, "Somebody else is at it. Try again.") { ForgetsResult = true },
        };
    }
}
