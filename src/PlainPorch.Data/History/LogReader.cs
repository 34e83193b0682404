using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.History;

/// <summary>An entry of the logbook.</summary>
/// <param name="Id">Its number; later ones are greater.</param>
/// <param name="At">When.</param>
/// <param name="Who">Who.</param>
/// <param name="From">From where; empty where that is not known.</param>
/// <param name="Panel">The slug of the panel where it was done.</param>
/// <param name="Act">What was done.</param>
/// <param name="Title">How the first record is called.</param>
/// <param name="Count">How many records it is about.</param>
/// <param name="Parcel">The parcel that it made or brought back from; null for none.</param>
/// <param name="IsSettled">Whether it is known to have come to pass; until then it is being found out.</param>
/// <param name="Despite">The checks that warned, and in spite of which it was done.</param>
public sealed record LogEntry(
    long Id,
    DateTimeOffset At,
    string Who,
    string From,
    string Panel,
    LogAct Act,
    string Title,
    int Count,
    long? Parcel,
    bool IsSettled,
    IReadOnlyList<string> Despite
);

/// <summary>What an entry says about one record.</summary>
/// <param name="Table">Its table.</param>
/// <param name="Key">Its key; null where its table has none.</param>
/// <param name="Title">How it was called.</param>
/// <param name="Act">What was done with it.</param>
/// <param name="Changes">The values that changed.</param>
public sealed record LogRecord(string Table, string? Key, string Title, LogAct Act, IReadOnlyList<ValueChange> Changes);

/// <summary>A page of the logbook.</summary>
/// <param name="Entries">The entries, the latest first.</param>
/// <param name="HasMore">Whether there are earlier ones.</param>
public sealed record LogPage(IReadOnlyList<LogEntry> Entries, bool HasMore);

/// <summary>A step in a record's history.</summary>
/// <param name="Entry">The entry.</param>
/// <param name="Act">What was done with this record.</param>
/// <param name="Changes">The values that changed.</param>
/// <param name="Then">The record's values after it.</param>
public sealed record HistoryStep(
    LogEntry Entry,
    LogAct Act,
    IReadOnlyList<ValueChange> Changes,
    IReadOnlyDictionary<string, string?> Then
);

/// <summary>The history of a record.</summary>
/// <param name="Steps">What was done with it, the latest first.</param>
/// <param name="IsChangedElsewhere">Whether another program has written to the record since the last step.</param>
/// <param name="ChangedElsewhere">Values that are not as the logbook last told, because another program changed them, as far as
/// the logbook knew them: from what was told to what is there.</param>
/// <param name="HasMore">Whether there are earlier steps.</param>
public sealed record RecordHistory(
    IReadOnlyList<HistoryStep> Steps,
    bool IsChangedElsewhere,
    IReadOnlyList<ValueChange> ChangedElsewhere,
    bool HasMore
);

/// <summary>What is looked for in the logbook.</summary>
/// <param name="Text">What the title of a record has to hold; null or empty for all.</param>
/// <param name="Panel">The slug of the panel; null or empty for all.</param>
/// <param name="Act">What was done; null for anything.</param>
/// <param name="Who">Who did it; null or empty for anybody.</param>
/// <param name="From">The first day; null for no bound.</param>
/// <param name="Until">The last day; null for no bound.</param>
/// <param name="Before">Only entries before this one; null for the latest.</param>
public sealed record LogQuestion(
    string? Text = null,
    string? Panel = null,
    LogAct? Act = null,
    string? Who = null,
    DateOnly? From = null,
    DateOnly? Until = null,
    long? Before = null
)
{
    /// <summary>The slugs of panels whose entries are not told; empty for none.</summary>
    public IReadOnlyList<string> Except { get; init; } = [];
}

/// <summary>Reads the logbook.</summary>
/// <param name="catalog">Our own tables.</param>
public sealed class LogReader(CatalogContext catalog)
{
    private const int PageSize = 50;
    private const int MostSteps = 200;
    private const int MostRecords = 1_000;
    private const int EntriesAtOnce = 1_000;

    /// <summary>Lists entries of a porch.</summary>
    public async Task<LogPage> ListAsync(int porchId, LogQuestion question, CancellationToken cancellationToken)
    {
        var entries = await Entries(porchId, question).Take(PageSize + 1).ToListAsync(cancellationToken);
        return new LogPage([.. entries.Take(PageSize)], entries.Count > PageSize);
    }

    /// <summary>All entries of a porch that a question asks for, the latest first, some at a time.</summary>
    public async IAsyncEnumerable<LogEntry> StreamAsync(
        int porchId,
        LogQuestion question,
        [EnumeratorCancellation] CancellationToken cancellationToken = default
    )
    {
        // One query over all of them would be held in memory, to be asked again where the connection breaks.
        List<LogEntry> some;
        do
        {
            some = await Entries(porchId, question).Take(EntriesAtOnce).ToListAsync(cancellationToken);
            foreach (var entry in some)
                yield return entry;
            question = question with { Before = some.LastOrDefault()?.Id };
        } while (some.Count == EntriesAtOnce);
    }

    /// <summary>
    /// What an entry says about the records of one table, as many as can be changed together, all of it: for acts that take
    /// something back, and for nobody's eyes.
    /// </summary>
    /// <returns>The records; none where the porch has no such entry.</returns>
    public async Task<IReadOnlyList<LogRecord>> RecordsAsync(
        int porchId,
        TableName table,
        long entry,
        CancellationToken cancellationToken
    )
    {
        await foreach (var some in PartsAsync(porchId, table, entry, cancellationToken))
            return some;
        return [];
    }

    /// <summary>What <see cref="RecordsAsync"/> tells, of all records of an entry, some at a time.</summary>
    public async IAsyncEnumerable<IReadOnlyList<LogRecord>> PartsAsync(
        int porchId,
        TableName table,
        long entry,
        [EnumeratorCancellation] CancellationToken cancellationToken = default
    )
    {
        for (var (from, isLast) = (0, false); !isLast; )
        {
            var rows = await Rows(porchId, entry)
                .Where(record => record.Schema == table.Schema && record.Table == table.Name && record.Number >= from)
                .Take(RecordSelection.MaxRecords)
                .ToListAsync(cancellationToken);
            isLast = rows.Count < RecordSelection.MaxRecords;
            from = rows.LastOrDefault()?.Number + 1 ?? 0;
            if (rows.Count > 0)
                yield return rows.ConvertAll(row => ToRecord(row, Changes(row)));
        }
    }

    /// <summary>What an entry says about its first records, without what their panels keep to themselves.</summary>
    /// <param name="porchId">The porch.</param>
    /// <param name="panels">Its panels.</param>
    /// <param name="entry">The entry.</param>
    /// <param name="except">The slugs of panels whose entries are not told.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The records; none where the porch has no such entry.</returns>
    public async Task<IReadOnlyList<LogRecord>> ShownRecordsAsync(
        int porchId,
        PorchPanels panels,
        long entry,
        IReadOnlyList<string> except,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panels);
        var rows = await Rows(porchId, entry)
            .Where(record => !catalog.Set<LogEntryRow>().Any(one => one.Id == entry && except.Contains(one.Panel)))
            .Take(MostRecords)
            .ToListAsync(cancellationToken);
        return
        [
            .. rows.Select(row =>
                ToRecord(row, [.. Shown(Changes(row), panels.BoundOver(new TableName(row.Schema, row.Table)))])
            ),
        ];
    }

    private IQueryable<LogRecordRow> Rows(int porchId, long entry) =>
        catalog
            .LogRecords.AsNoTracking()
            .Where(record =>
                record.EntryId == entry && catalog.Set<LogEntryRow>().Any(one => one.Id == entry && one.PorchId == porchId)
            )
            .OrderBy(record => record.Number);

    private static LogRecord ToRecord(LogRecordRow row, IReadOnlyList<ValueChange> changes) =>
        new($"{row.Schema}.{row.Table}", row.Key, row.Title, row.Act, changes);

    // Of a table that no panel shows, only that something changed is anybody's business.
    private static IEnumerable<ValueChange> Shown(IEnumerable<ValueChange> changes, BoundPanel? panel) =>
        panel is null
            ? changes.Select(change => new ValueChange(change.Column, null, null, IsHidden: true))
            : changes.Select(change => Told(change, panel)).OfType<ValueChange>();

    // Of a secret only the fact is told, also where it was written down before it became one.
    private static ValueChange? Told(ValueChange change, BoundPanel panel) =>
        panel.Find(change.Column) is { } column
            ? panel.IsVisible(column)
                ? change.ReadAs(column)
                : null
            : panel.FindToWrite(change.Column) is null
                ? null
                : new ValueChange(change.Column, null, null, IsHidden: true);

    /// <summary>The history of a record.</summary>
    /// <param name="panel">Its panel; columns that it keeps to itself are left out.</param>
    /// <param name="key">Its key.</param>
    /// <param name="now">Its values as they are now; null where it is not there.</param>
    /// <param name="version">Its version now.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<RecordHistory> OfAsync(
        OpenPanel panel,
        string key,
        IReadOnlyDictionary<string, string?>? now,
        uint version,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        var found = await StepsAsync(panel, key, cancellationToken);
        var shown = panel.Bound!.Columns.Where(panel.Bound.IsVisible).Select(column => column.Name).ToHashSet();
        var steps = new List<HistoryStep>();
        var then = now?.Where(pair => shown.Contains(pair.Key)).ToDictionary() ?? [];
        var elsewhere = now is null ? [] : EarlierState.ChangedElsewhere(then, found.SelectMany(one => one.Changes));
        IReadOnlyDictionary<string, string?> state = EarlierState.Before(then, elsewhere);
        foreach (var one in found.Take(MostSteps))
        {
            var changes = one.Changes.Where(change => shown.Contains(change.Column)).ToList();
            steps.Add(
                new HistoryStep(
                    ToEntry(one.Entry, one.IsSettled),
                    one.Record.Act,
                    [.. Shown(one.Changes, panel.Bound)],
                    Read(panel.Bound, state)
                )
            );
            state = EarlierState.Before(state, changes);
        }

        var isElsewhere =
            now is not null
            && panel.Bound.Table.HasRowVersion
            && found.Count > 0
            && SourceRows.VersionOf(found[0].Entry.Transaction) != version;
        return new RecordHistory(steps, isElsewhere, Read(panel.Bound, elsewhere), found.Count > MostSteps);
    }

    private static List<ValueChange> Read(BoundPanel panel, IEnumerable<ValueChange> changes) =>
        [.. changes.Select(change => change.ReadAs(panel.Find(change.Column)))];

    private static IReadOnlyDictionary<string, string?> Read(BoundPanel panel, IReadOnlyDictionary<string, string?> values) =>
        panel.Columns.All(column => column.Reading is null)
            ? values
            : values.ToDictionary(
                pair => pair.Key,
                pair => panel.Find(pair.Key) is { Reading: not null } column ? column.Read(pair.Value).Text : pair.Value
            );

    // A record that was given another key has its earlier steps under the one that it had. What is older under the new one, or
    // than
    // the step by which the record was added, was another record's.
    private async Task<List<LoggedStep>> StepsAsync(OpenPanel panel, string key, CancellationToken cancellationToken)
    {
        var identity = panel.Bound!.Identity.Columns;
        var (source, schema, table) = (panel.Source.Id, panel.Definition.Table.Schema, panel.Definition.Table.Name);
        var steps = new List<LoggedStep>();
        var before = long.MaxValue;
        while (steps.Count <= MostSteps)
        {
            var read = await (
                from row in catalog.LogRecords.AsNoTracking()
                join entry in catalog.LogEntries on row.EntryId equals entry.Id
                where
                    row.SourceId == source
                    && row.Schema == schema
                    && row.Table == table
                    && row.Key == key
                    && row.EntryId < before
                    && !catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == entry.Id && !outcome.Happened)
                orderby row.EntryId descending
                select new
                {
                    Record = row,
                    Entry = entry,
                    IsSettled = catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == entry.Id),
                }
            )
                .Take(MostSteps + 1 - steps.Count)
                .ToListAsync(cancellationToken);
            var found = read.ConvertAll(one => new LoggedStep(one.Record, one.Entry, one.IsSettled, Changes(one.Record)));
            var first = found.FindIndex(one =>
                one.Record.Act is LogAct.Added || EarlierState.KeyBefore(identity, key, one.Changes) is not null
            );
            if (first < 0)
                return [.. steps, .. found];
            steps.AddRange(found[..(first + 1)]);
            if (EarlierState.KeyBefore(identity, key, found[first].Changes) is not { } keyBefore)
                return steps;
            (key, before) = (keyBefore, found[first].Entry.Id);
        }

        return steps;
    }

    private sealed record LoggedStep(LogRecordRow Record, LogEntryRow Entry, bool IsSettled, IReadOnlyList<ValueChange> Changes);

    private IQueryable<LogEntry> Entries(int porchId, LogQuestion question)
    {
        ArgumentNullException.ThrowIfNull(question);
        var entries = catalog
            .LogEntries.AsNoTracking()
            .Where(entry =>
                entry.PorchId == porchId
                && !catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == entry.Id && !outcome.Happened)
            );
        if (question.Before is { } before)
            entries = entries.Where(entry => entry.Id < before);
        if (!string.IsNullOrEmpty(question.Panel))
            entries = entries.Where(entry => entry.Panel == question.Panel);
        if (question.Except.Count > 0)
            entries = entries.Where(entry => !question.Except.Contains(entry.Panel));
        if (question.Act is { } act)
            entries = entries.Where(entry => entry.Act == act);
        if (!string.IsNullOrEmpty(question.Who))
            entries = entries.Where(entry => entry.Who == question.Who);
        if (question.From is { } from)
            entries = entries.Where(entry => entry.At >= new DateTimeOffset(from, TimeOnly.MinValue, TimeSpan.Zero));
        // Of the calendar's last day there is no day after.
        if (question.Until is { } until && until < DateOnly.MaxValue)
            entries = entries.Where(entry => entry.At < new DateTimeOffset(until.AddDays(1), TimeOnly.MinValue, TimeSpan.Zero));
        if (!string.IsNullOrWhiteSpace(question.Text))
        {
            var text = question.Text.Trim();
            var pattern = $"%{FilterToTest.EscapeWildcards(text)}%";
            entries = entries.Where(entry =>
                catalog
                    .Set<LogRecordRow>()
                    .Any(record =>
                        record.EntryId == entry.Id && (EF.Functions.ILike(record.Title, pattern) || record.Key == text)
                    )
            );
        }

        return entries
            .OrderByDescending(entry => entry.Id)
            .Select(entry => new LogEntry(
                entry.Id,
                entry.At,
                entry.Who,
                entry.From,
                entry.Panel,
                entry.Act,
                entry.Title,
                entry.Count,
                entry.ParcelId,
                catalog.Set<LogOutcomeRow>().Any(outcome => outcome.EntryId == entry.Id),
                entry.Despite
            ));
    }

    private static LogEntry ToEntry(LogEntryRow row, bool isSettled) =>
        new(row.Id, row.At, row.Who, row.From, row.Panel, row.Act, row.Title, row.Count, row.ParcelId, isSettled, row.Despite);

    private static List<ValueChange> Changes(LogRecordRow row) =>
        JsonSerializer.Deserialize<List<ValueChange>>(row.Changes, DefinitionJson.Kept) ?? [];
}
