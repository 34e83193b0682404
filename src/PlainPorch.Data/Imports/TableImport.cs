using System.Diagnostics;
using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Survey;

namespace PlainPorch.Data.Imports;

/// <summary>Brings files into new tables of a source: looks at them, shows what would become of them, makes tables and panels.</summary>
/// <param name="store">Has the imports.</param>
/// <param name="folder">Where their files are laid out.</param>
/// <param name="snapshots">Has the schemas.</param>
/// <param name="surveys">Has the surveys.</param>
/// <param name="panels">Drafts panels.</param>
/// <param name="connections">Connections to the sources.</param>
public sealed class TableImport(
    ImportStore store,
    ImportFolder folder,
    SnapshotStore snapshots,
    SurveyStore surveys,
    PanelStore panels,
    SourceConnections connections
)
{
    // What is not counted by then is told of as many rows as were.
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(4);

    /// <summary>Looks at the files of an import, and drafts what becomes of them.</summary>
    /// <param name="import">The import.</param>
    /// <param name="source">The source into which it goes.</param>
    /// <param name="settings">How files are to be read; what it says of tables does not count.</param>
    /// <param name="schema">The schema into which new tables go.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <exception cref="UnreadableFileException">A file cannot be read.</exception>
    public async Task<ImportEnd> LookAsync(
        Guid import,
        SourceRow source,
        ImportSettings settings,
        string schema,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(source);
        ArgumentNullException.ThrowIfNull(settings);
        ArgumentNullException.ThrowIfNull(report);
        var looks = await LooksAsync(import, settings, report, cancellationToken);
        report(new ImportProgress("Looking for what it refers to", 0, 0));
        var known = await snapshots.TakeAsync(source, cancellationToken);
        var pool = connections.Get(source);
        using var lease = pool.Lease();
        var rows = await new SurveyReader(pool.Connections, SqlNames.Helper).ReadAsync(
            known,
            (_, left) =>
                report(new ImportProgress("Looking for what it refers to", known.Tables.Count - left, known.Tables.Count)),
            cancellationToken
        );
        var (tables, drafted) = FileSurvey.Draft(looks, schema, known, rows);
        return new ImportEnd(ImportState.Ready) { Look = tables, Settings = settings with { Tables = drafted } };
    }

    /// <summary>Looks at the files of an import.</summary>
    internal async Task<IReadOnlyList<(string File, TableLook Look)>> LooksAsync(
        Guid import,
        ImportSettings settings,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var looks = new List<(string, TableLook)>();
        foreach (var (file, table) in await TablesAsync(import, settings, cancellationToken))
            looks.Add(
                (
                    file,
                    TableLook.At(
                        table,
                        rows => report(new ImportProgress($"Looking at {table.Name}", rows, 0)),
                        cancellationToken
                    )
                )
            );
        return looks;
    }

    /// <summary>The tables of an import's files.</summary>
    internal async Task<IReadOnlyList<(string File, FileTable Table)>> TablesAsync(
        Guid import,
        ImportSettings settings,
        CancellationToken cancellationToken
    )
    {
        var files = await store.FilesAsync(import, cancellationToken);
        if (files.Count == 0)
            throw new UnreadableFileException("There is no file yet. Choose one.");
        return FilesToRead.TablesOf(await folder.LayOutAsync(import, files, store, cancellationToken), settings.ToRead());
    }

    /// <summary>Shows what would become of a table of a file.</summary>
    /// <param name="import">The import, looked at.</param>
    /// <param name="settings">How it is to be brought in.</param>
    /// <param name="place">The place of the table among those of the files.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>It; null where there is no such table.</returns>
    public async Task<TablePreview?> PreviewAsync(
        ImportRow import,
        ImportSettings settings,
        int place,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(import);
        ArgumentNullException.ThrowIfNull(settings);
        var looked = LookOf(import);
        if (place < 0 || place >= looked.Count || place >= settings.Tables.Count)
            return null;
        var problems = new List<FieldProblem>();
        var planned = PlannedTable.Make(settings.Tables[place], looked[place], problems);
        var file = (await TablesAsync(import.Id, settings, cancellationToken)).ElementAtOrDefault(place).Table;
        if (file is null || file.Columns.Count != looked[place].Columns.Count)
            return null;
        var (rows, misfits, counted) = Read(file, planned, cancellationToken);
        return new TablePreview(
            [.. planned.Columns.Select((column, at) => new PreviewColumn(column.Name, column.Form.StoreType, misfits[at]))],
            rows,
            counted < looked[place].Rows ? counted : null,
            string.Join(
                "\n\n",
                planned.References.Select(reference => NewReferences.Sql(planned, reference)).Prepend(NewTable.Sql(planned))
            ),
            problems
        );
    }

    private static (List<IReadOnlyList<PreviewCell>> Rows, long[] Misfits, long Counted) Read(
        FileTable file,
        PlannedTable planned,
        CancellationToken cancellationToken
    )
    {
        var rows = new List<IReadOnlyList<PreviewCell>>();
        var misfits = new long[planned.Columns.Count];
        var counted = 0L;
        var begun = Stopwatch.GetTimestamp();
        foreach (var row in file.Rows())
        {
            if (++counted % 1000 == 0)
            {
                cancellationToken.ThrowIfCancellationRequested();
                if (Stopwatch.GetElapsedTime(begun) > _patience)
                    break;
            }

            if (row.Problem is not null)
                continue;
            var cells = rows.Count < LookedTable.Shown ? new PreviewCell[planned.Columns.Count] : null;
            for (var place = 0; place < planned.Columns.Count; place++)
            {
                var column = planned.Columns[place];
                var text = row.Values[column.Place];
                var value = string.IsNullOrWhiteSpace(text) ? null : column.Form.Read(text.Trim());
                var isMisfit = value is null && !string.IsNullOrWhiteSpace(text);
                if (isMisfit)
                    misfits[place]++;
                if (cells is not null)
                    cells[place] = new PreviewCell(LookedTable.Cut(isMisfit ? text : value), isMisfit);
            }

            if (cells is not null)
                rows.Add(cells);
        }

        return (rows, misfits, counted);
    }

    /// <summary>What is wrong with the settings of an import; empty where it can be done.</summary>
    /// <param name="import">The import, looked at.</param>
    /// <param name="settings">How it is to be brought in.</param>
    public static IReadOnlyList<FieldProblem> Check(ImportRow import, ImportSettings settings)
    {
        ArgumentNullException.ThrowIfNull(settings);
        var looked = LookOf(import);
        var problems = new List<FieldProblem>();
        if (settings.Tables.Count != looked.Count)
            return [new("tables", "The files have other tables than these settings. Look at them again.")];
        if (settings.Tables.All(table => table.IsLeftOut))
            return [new("tables", "All tables are left out. Take at least one.")];
        for (var place = 0; place < looked.Count; place++)
        {
            if (settings.Tables[place].IsLeftOut)
                continue;
            var own = new List<FieldProblem>();
            var name = (settings.Tables[place].Schema, settings.Tables[place].Name);
            PlannedTable.Make(settings.Tables[place], looked[place], own);
            if (settings.Tables.Take(place).Any(other => !other.IsLeftOut && (other.Schema, other.Name) == name))
                own.Add(new("name", $"Two tables are called {name.Name}. Give one another name."));
            problems.AddRange(own.Select(problem => problem with { Field = $"tables.{place}.{problem.Field}" }));
        }

        return problems;
    }

    /// <summary>Makes the tables and fills them, in one transaction; then surveys, and drafts panels for them.</summary>
    /// <param name="import">The import, looked at.</param>
    /// <param name="source">The source into which it goes.</param>
    /// <param name="settings">How it is to be brought in; checked.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Gives it up; until the transaction ends, nothing is left of it.</param>
    /// <exception cref="ImportRefusedException">It cannot be done.</exception>
    public async Task<ImportEnd> RunAsync(
        ImportRow import,
        SourceRow source,
        ImportSettings settings,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(import);
        ArgumentNullException.ThrowIfNull(source);
        ArgumentNullException.ThrowIfNull(settings);
        ArgumentNullException.ThrowIfNull(report);
        var looked = LookOf(import);
        var files = await TablesAsync(import.Id, settings, cancellationToken);
        var wanted = Enumerable
            .Range(0, looked.Count)
            .Where(place => !settings.Tables[place].IsLeftOut)
            .Select(place =>
                (
                    File: files[place].Table,
                    Planned: PlannedTable.Make(settings.Tables[place], looked[place], []),
                    looked[place].Rows
                )
            )
            .ToList();
        IReadOnlyList<ImportedTable> made;
        await using (var unbounded = connections.MakeUnbounded(source))
        {
            await using var connection = await unbounded.OpenConnectionAsync(cancellationToken);
            await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
            made = await MakeAsync(connection, wanted, report, cancellationToken);
            await store.PromiseAsync(
                import.Id,
                await new SourceRows(connection).TransactionAsync(cancellationToken),
                made,
                cancellationToken
            );
            cancellationToken.ThrowIfCancellationRequested();
            // From here on it comes to its end, whoever gives it up.
            await transaction.CommitAsync(CancellationToken.None);
        }

        return new ImportEnd(ImportState.Done, await DraftAsync(source, wanted.ConvertAll(one => one.Planned), report))
        {
            Result = made,
        };
    }

    private static async Task<IReadOnlyList<ImportedTable>> MakeAsync(
        Npgsql.NpgsqlConnection connection,
        IReadOnlyList<(FileTable File, PlannedTable Planned, long Rows)> wanted,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var made = new List<ImportedTable>();
        foreach (var (file, planned, rows) in wanted)
        {
            report(new ImportProgress($"Writing {planned.Name}", 0, rows));
            made.Add(
                await new NewTable(connection).MakeAsync(
                    file,
                    planned,
                    written => report(new ImportProgress($"Writing {planned.Name}", written, rows)),
                    cancellationToken
                )
            );
        }

        report(new ImportProgress("Keeping references", 0, 0));
        var notes = await new NewReferences(connection).KeepAsync([.. wanted.Select(one => one.Planned)], cancellationToken);
        return [.. made.Zip(notes, (table, told) => table with { Notes = [.. table.Notes, .. told] })];
    }

    // The tables are there, whatever becomes of their panels: why there are none is told.
    private async Task<string?> DraftAsync(SourceRow source, IReadOnlyList<PlannedTable> made, Action<ImportProgress> report)
    {
        report(new ImportProgress("Surveying", 0, 0));
        var snapshot = await snapshots.TakeAsync(source, CancellationToken.None);
        var (survey, isNew) = await surveys.StartAsync(source.Id, thenDraft: false, CancellationToken.None);
        if (!isNew)
            return "A survey of this source was running already, so no panels were drafted. Draft them when it is done.";
        try
        {
            var words = await surveys.VocabularyAsync(source.Id, snapshot, CancellationToken.None);
            var pool = connections.Get(source);
            using var lease = pool.Lease();
            var found = await SurveyRun.RunAsync(
                pool.Connections,
                snapshot,
                told => report(new ImportProgress(told.Step, told.Done, told.Total)),
                CancellationToken.None,
                words
            );
            await surveys.EndAsync(survey.Id, SurveyState.Done, null, found, CancellationToken.None);
            var drafted = await panels.DraftPorchAsync(
                source,
                [.. made.Select(table => new TableName(table.Schema, table.Name)).Where(name => snapshot.Find(name) is not null)],
                CancellationToken.None,
                found
            );
            return drafted is SaveOutcome<PorchDrafted>.Refused(var problems) ? problems[0].Message : null;
        }
        catch (Exception failure) when (failure is Npgsql.NpgsqlException or TimeoutException)
        {
            await surveys.EndAsync(
                survey.Id,
                SurveyState.Failed,
                "The database did not answer. Survey again.",
                null,
                CancellationToken.None
            );
            return "The survey did not come to its end, so no panels were drafted. Survey the source, and draft them then.";
        }
    }

    /// <summary>What was found in the files of an import.</summary>
    internal static IReadOnlyList<LookedTable> LookOf(ImportRow import)
    {
        ArgumentNullException.ThrowIfNull(import);
        return import.Look is null ? [] : JsonSerializer.Deserialize<List<LookedTable>>(import.Look, DefinitionJson.Kept)!;
    }
}

/// <summary>What would become of a table of a file.</summary>
/// <param name="Columns">The columns that are taken.</param>
/// <param name="Rows">The first rows.</param>
/// <param name="Counted">How many rows were looked at for counting; null for all of them.</param>
/// <param name="Sql">The statements that make the table.</param>
/// <param name="Problems">What is wrong with the settings.</param>
public sealed record TablePreview(
    IReadOnlyList<PreviewColumn> Columns,
    IReadOnlyList<IReadOnlyList<PreviewCell>> Rows,
    long? Counted,
    string Sql,
    IReadOnlyList<FieldProblem> Problems
);

/// <summary>A column of a table that would be made.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Type">Its type.</param>
/// <param name="Misfits">How many rows would be left out because their value does not fit.</param>
public sealed record PreviewColumn(string Name, string Type, long Misfits);

/// <summary>A value that would be written.</summary>
/// <param name="Text">The value; where it does not fit, as it stands in the file; null for none.</param>
/// <param name="IsMisfit">Whether it does not fit.</param>
public sealed record PreviewCell(string? Text, bool IsMisfit);
