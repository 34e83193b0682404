using System.Globalization;
using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.History;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Records;
using PlainPorch.Data.Removal;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Imports;

/// <summary>What an import did to the records of a panel.</summary>
/// <param name="Entry">The logbook's entry.</param>
/// <param name="Parcel">The parcel of what was set aside; null for none.</param>
/// <param name="New">How many records were added.</param>
/// <param name="Changed">How many were changed.</param>
/// <param name="Same">How many were as the file says already.</param>
/// <param name="SetAside">How many were set aside.</param>
/// <param name="Rejected">The rows that were left out.</param>
/// <param name="FileColumns">What the file calls its columns.</param>
public sealed record PanelImported(
    long Entry,
    long? Parcel,
    long New,
    long Changed,
    long Same,
    long SetAside,
    IReadOnlyList<RejectedRow> Rejected,
    IReadOnlyList<string> FileColumns
);

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

    // So many texts of a lookup are looked up by what their records are called.
    private const int MostTitles = 3_000;

    // So many records that a lookup refers to are read at once, instead of asking for each text.
    private const int MostTargets = 20_000;
    private const int KeysAtOnce = 500;
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
        var work = await ReadAsync(panel, import.Id, settings, rejected: null, report, cancellationToken);
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
        var work = await ReadAsync(panel, import, settings, rejected: null, report, cancellationToken);
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
        var work = await ReadAsync(panel, import.Id, settings, planned.Rejected, report, cancellationToken);
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

    private async Task<PanelImportWork> ReadAsync(
        OpenPanel panel,
        Guid import,
        PanelImportSettings settings,
        IReadOnlyList<RejectedRow>? rejected,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var bound = panel.Bound!;
        var table = (await tables.TablesAsync(import, settings.Reading, cancellationToken))
            .Select(one => one.Table)
            .FirstOrDefault(one => one.Name == settings.Table)
            ?? throw new ImportRefusedException($"The file has no table {settings.Table} any more. Look at it again.");
        var rows = new List<FileRow>();
        foreach (var row in table.Rows())
        {
            rows.Add(row);
            if (rows.Count > MostRows)
                throw new ImportRefusedException(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"The file has more than {MostRows:N0} rows, which is more than is written through a panel at a time. Ask a developer to bring it in by ./porch import."
                    )
                );
        }

        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(panel.Model, connection);
        var texts = new PanelRows(
            bound,
            table,
            settings,
            new Dictionary<string, IReadOnlyDictionary<string, FoundTarget>>(),
            panel.Seen.Porch.Notation
        ).LookupTexts(rows);
        var targets = new Dictionary<string, IReadOnlyDictionary<string, FoundTarget>>();
        foreach (var (column, all) in texts)
        {
            report(new ImportProgress($"Looking up {bound.Find(column)!.Label}", 0, all.Count));
            targets[column] = await TargetsAsync(panel, reader, bound.Find(column)!, all, report, cancellationToken);
        }

        var reading = new PanelRows(bound, table, settings, targets, panel.Seen.Porch.Notation);
        var read = new List<ReadRow>(rows.Count);
        foreach (var row in rows)
        {
            read.Add(reading.Read(row));
            if (read.Count % 1000 == 0)
            {
                cancellationToken.ThrowIfCancellationRequested();
                report(new ImportProgress("Reading rows", read.Count, rows.Count));
            }
        }

        var present = settings.FindsRecords
            ? await PresentAsync(panel, reader, settings, read, report, cancellationToken)
            : Enumerable.Empty<PresentRecord>().ToLookup(_ => "");
        var titles = await TitlesAsync(panel, reader, targets.Keys, present, cancellationToken);
        var planned = PanelPlan.Decide(bound, read, settings, present, titles, AssignedTo(bound)).ToList();
        if (rejected is not null)
        {
            // What the database refused when it was tried.
            var known = rejected.ToDictionary(row => row.Row);
            for (var place = 0; place < planned.Count; place++)
                if (planned[place].Reason is null && known.TryGetValue(planned[place].Row.Number, out var why))
                    planned[place] = planned[place] with
                    {
                        Fate = RowFate.Rejected,
                        Reason = new FieldProblem(
                            bound.Columns.FirstOrDefault(column => column.Label == why.Column)?.Name ?? "",
                            why.Reason
                        ),
                    };
        }

        return new PanelImportWork(
            [.. table.Columns.Select(column => column.Name)],
            planned,
            await LeavingAsync(panel, reader, settings, present, cancellationToken)
        )
        {
            Forbidden =
                settings.Mode is PanelImportMode.Mirror
                && read.Count(row => settings.Key.Any(column => row.Values.GetValueOrDefault(column) is null))
                    is > 0
                        and var unknown
                    ? $"{unknown} rows do not say which record they are about, so it cannot be told which records the file does not have. Mend them first."
                    : null,
        };
    }

    // Columns of a new record that the server numbers.
    private static HashSet<string> AssignedTo(BoundPanel panel) => NextNumber.ColumnOf(panel) is { } column ? [column.Name] : [];

    private static async Task<Dictionary<string, FoundTarget>> TargetsAsync(
        OpenPanel panel,
        SourceReader reader,
        BoundColumn column,
        IReadOnlySet<string> texts,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var found = new Dictionary<string, FoundTarget>();
        // A number or code means that record, whatever others are called.
        var readable = texts.Where(text => ValueText.TryRead(column.Schema.Type, text, out _, out _)).ToList();
        var known = (
            await new LookupReader(panel.Seen.Porch).ReadAsync(
                reader,
                [(column.Name, column.Decision.Lookup!, readable.Select(text => (string?)Read(column, text)))],
                cancellationToken
            )
        )[column.Name];
        foreach (var text in readable.Where(text => known.ContainsKey(Read(column, text))))
            found[text] = new FoundTarget(Read(column, text), null);
        var byTitle = texts.Where(text => !found.ContainsKey(text)).ToList();
        if (byTitle.Count == 0)
            return found;
        if (await AllTitlesAsync(panel, reader, column, cancellationToken) is { } all)
        {
            foreach (var text in byTitle)
                found[text] = Meant(column, [.. all[PanelPlan.Plain(text)]]);
            return found;
        }

        if (byTitle.Count > MostTitles)
            throw new ImportRefusedException(
                $"{column.Label} has more than {MostTitles} different texts that are no key of what it refers to. Give keys in the file instead of names."
            );
        var records = panel.Records();
        foreach (var text in byTitle)
        {
            if (found.Count % 50 == 0)
                report(new ImportProgress($"Looking up {column.Label}", found.Count, texts.Count));
            found[text] = await ByTitleAsync(records, column, text, cancellationToken);
        }

        return found;
    }

    private static string Read(BoundColumn column, string text) =>
        ValueText.TryRead(column.Schema.Type, text, out var value, out _) ? value : text;

    private static async Task<FoundTarget> ByTitleAsync(
        RecordStore records,
        BoundColumn column,
        string text,
        CancellationToken cancellationToken
    )
    {
        var choices = await records.ChooseAsync(column.Name, new LookupQuestion(text), cancellationToken);
        var called = choices?.Choices.Where(choice => PanelPlan.Plain(choice.Title) == PanelPlan.Plain(text)).ToList() ?? [];
        return Meant(column, [.. called.Select(choice => choice.Value)]);
    }

    private static FoundTarget Meant(BoundColumn column, IReadOnlyList<string> values) =>
        values switch
        {
            [var only] => new FoundTarget(only, null),
            [] => new FoundTarget(
                null,
                $"Nothing that {column.Label} refers to is called so. Add it there, or correct the name.",
                IsMissing: true
            ),
            var several => new FoundTarget(
                null,
                $"{several.Count} records are called so. Give the number of the one that is meant."
            ),
        };

    // All that a lookup offers, by what it is called, where that is few enough; null where it is not.
    private static async Task<ILookup<string, string>?> AllTitlesAsync(
        OpenPanel panel,
        SourceReader reader,
        BoundColumn column,
        CancellationToken cancellationToken
    )
    {
        var porch = panel.Seen.Porch;
        var lookup = column.Decision.Lookup!;
        if (lookup.Conversion is not ValueConversion.None || porch.Bind(lookup) is not { Table.Rights.Read: true } target)
            return null;
        var searched = porch.Searched(target);
        var rows = await reader.ReadAsync(
            target.Table,
            new RowRequest
            {
                Filter = searched.Within(
                    Filter.Join(searched.InUse(), lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null)
                ),
                Columns = [lookup.Key],
                Take = MostTargets + 1,
            },
            cancellationToken
        );
        if (rows.Count > MostTargets)
            return null;
        var keys = rows.Select(row => RowValues.Of(target.Table, [lookup.Key], row)[lookup.Key]);
        var titles = await new LookupReader(porch).ReadAsync(reader, [(column.Name, lookup, keys)], cancellationToken);
        return titles[column.Name].ToLookup(pair => PanelPlan.Plain(pair.Value.Title), pair => pair.Key);
    }

    // What the records are called that present ones refer to by the columns that the file fills.
    private static async Task<Dictionary<string, IReadOnlyDictionary<string, string>>> TitlesAsync(
        OpenPanel panel,
        SourceReader reader,
        IEnumerable<string> columns,
        ILookup<string, PresentRecord> present,
        CancellationToken cancellationToken
    )
    {
        var records = present.SelectMany(alike => alike).ToList();
        var found = await new LookupReader(panel.Seen.Porch).OfPanelAsync(
            reader,
            panel.Bound!,
            columns,
            column => records.Select(record => record.Values.GetValueOrDefault(column)),
            cancellationToken
        );
        return found.ToDictionary(
            pair => pair.Key,
            pair => (IReadOnlyDictionary<string, string>)pair.Value.ToDictionary(one => one.Key, one => one.Value.Title)
        );
    }

    private static async Task<ILookup<string, PresentRecord>> PresentAsync(
        OpenPanel panel,
        SourceReader reader,
        PanelImportSettings settings,
        List<ReadRow> rows,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var bound = panel.Bound!;
        var columns = bound
            .Table.StoredColumns.Where(column => column.Type.Kind is not Core.Schema.ValueKind.Binary)
            .Select(column => column.Name)
            .ToList();
        var found = new List<PresentRecord>();
        // Of a row that is left out, too: its record is in the file.
        var keys = rows.Where(row => settings.Key.All(column => row.Values.GetValueOrDefault(column) is not null))
            .Select(row => settings.Key.Select(column => row.Values[column]!).ToList())
            .DistinctBy(key => string.Join('\u001f', key))
            .ToList();
        foreach (var some in keys.Chunk(KeysAtOnce))
        {
            Filter asked = settings.Key is [var only]
                ? new Filter.OneOf(only, [.. some.Select(key => key[0])])
                : new Filter.Any([
                    .. some.Select(key => new Filter.All([
                        .. settings.Key.Zip(key, (column, value) => (Filter)new Filter.EqualTo(column, value)),
                    ])),
                ]);
            var read = await reader.ReadAsync(
                bound.Table,
                new RowRequest
                {
                    Filter = bound.Within(asked),
                    Columns = columns,
                    WithVersion = bound.Table.HasRowVersion,
                    Take = some.Length * 3,
                },
                cancellationToken
            );
            foreach (var row in read)
            {
                var values = RowValues.Of(bound.Table, columns, row);
                found.Add(
                    new PresentRecord(
                        KeyedRows.KeyOf(bound, values),
                        bound.Table.HasRowVersion && row[^1] is { } version
                            ? uint.Parse(version, CultureInfo.InvariantCulture)
                            : null,
                        values,
                        bound.IsSetAside(values.GetValueOrDefault)
                    )
                );
            }

            report(new ImportProgress("Comparing with what is there", found.Count, keys.Count));
        }

        return found.ToLookup(record =>
            RecordKey.Write([.. settings.Key.Select(column => Compared(bound, column, record.Values[column]))])
        );
    }

    // A stored 3.00 is the 3 of the file.
    private static string Compared(BoundPanel panel, string column, string? stored) =>
        stored is not null && ValueText.TryRead(panel.FindToWrite(column)!.Schema.Type, stored, out var value, out _)
            ? value
            : stored ?? "";

    // The keys of the records that the panel lists and the file does not have.
    private static async Task<IReadOnlyList<string>> LeavingAsync(
        OpenPanel panel,
        SourceReader reader,
        PanelImportSettings settings,
        ILookup<string, PresentRecord> present,
        CancellationToken cancellationToken
    )
    {
        if (settings.Mode is not (PanelImportMode.Mirror or PanelImportMode.Replace))
            return [];
        var bound = panel.Bound!;
        var stays = present.SelectMany(records => records).Select(record => record.Key).ToHashSet();
        var leaving = new List<string>();
        await foreach (
            var row in reader.StreamAsync(
                bound.Table,
                new RowRequest { Filter = panel.Seen.Plan(new ListRequest()).Filter, Columns = bound.Identity.Columns },
                cancellationToken
            )
        )
        {
            var key = KeyedRows.KeyOf(bound, RowValues.Of(bound.Table, bound.Identity.Columns, row));
            if (!stays.Contains(key))
                leaving.Add(key);
            if (leaving.Count > RecordSelection.MostOf(bound))
                throw new ImportRefusedException(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"More than {RecordSelection.MostOf(bound):N0} records would be set aside, which is more than at a time. Is it the right file?"
                    )
                );
        }

        return leaving;
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

/// <summary>Rows on their way into a panel.</summary>
/// <param name="columns">What the file calls its columns.</param>
/// <param name="rows">The rows, with what becomes of each.</param>
/// <param name="leaving">The keys of the records that are set aside.</param>
internal sealed class PanelImportWork(IReadOnlyList<string> columns, List<PlannedRow> rows, IReadOnlyList<string> leaving)
{
    /// <summary>The rows.</summary>
    public IReadOnlyList<PlannedRow> Rows => rows;

    /// <summary>The keys of the records that are set aside.</summary>
    public IReadOnlyList<string> Leaving => leaving;

    /// <summary>How many others go along with those.</summary>
    public long AlongWith { get; set; }

    /// <summary>Why it cannot be done at all; null where it can.</summary>
    public string? Forbidden { get; set; }

    /// <summary>How many rows are left out.</summary>
    public int Rejected => rows.Count(row => row.Fate is RowFate.Rejected);

    /// <summary>The places of the rows that are written.</summary>
    public List<int> Places() =>
        [.. Enumerable.Range(0, rows.Count).Where(place => rows[place].Fate is RowFate.New or RowFate.Changed)];

    /// <summary>Leaves a row out.</summary>
    public void Reject(int place, FieldProblem reason) =>
        rows[place] = rows[place] with { Fate = RowFate.Rejected, Reason = reason };

    /// <summary>What is told of it.</summary>
    public PanelPlan ToPlan(OpenPanel panel) =>
        PanelPlan.Of(panel.Bound!, rows, columns, [.. leaving], AlongWith, panel.Seen.Porch.Notation) with
        {
            Forbidden = Forbidden,
        };
}
