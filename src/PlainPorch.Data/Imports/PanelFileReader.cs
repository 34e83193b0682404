using System.Globalization;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Imports;

/// <summary>Reads a file as rows of a panel, beside the records that there are.</summary>
/// <param name="tables">Reads the files of imports.</param>
internal sealed class PanelFileReader(TableImport tables)
{
    private const int KeysAtOnce = 500;

    /// <summary>Reads the rows of a file, and decides what becomes of each.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="import">The import.</param>
    /// <param name="settings">How it is to be brought in; checked.</param>
    /// <param name="rejected">The rows that a plan left out; null where there is none yet.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public async Task<PanelImportWork> ReadAsync(
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
            if (rows.Count > PanelImport.MostRows)
                throw new ImportRefusedException(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"The file has more than {PanelImport.MostRows:N0} rows, which is more than is written through a panel at a time. Ask a developer to bring it in by ./porch import."
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
            targets[column] = await LookupTargets.FindAsync(panel, reader, bound.Find(column)!, all, report, cancellationToken);
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
        var titles = await LookupTargets.TitlesAsync(panel, reader, targets.Keys, present, cancellationToken);
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
}
