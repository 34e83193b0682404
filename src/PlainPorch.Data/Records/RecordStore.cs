using System.Collections.Frozen;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Rules;

namespace PlainPorch.Data.Records;

/// <summary>Reads the records of one _panel.</summary>
/// <param name="seen">The panel as somebody sees it.</param>
public sealed partial class RecordStore(SeenPanel seen)
{
    private readonly RecordModel _model = seen.Model;
    private readonly BoundPanel _panel = seen.Panel;
    private readonly RecordQuery _query = new(seen.Panel.Table, new OtherTables(seen.Model));

    /// <summary>The panel as somebody sees it.</summary>
    public SeenPanel Seen => seen;

    /// <summary>Reads a record.</summary>
    /// <param name="key">The key as <see cref="RecordKey"/> writes it.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The record; null where the key cannot be read or nothing bears it.</returns>
    public async Task<RecordView?> FindAsync(string key, CancellationToken cancellationToken)
    {
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        return await FindAsync(new SourceReader(_model, connection), key, cancellationToken);
    }

    /// <summary>
    /// What of some given values would change a record: of a column that is read otherwise than it is stored, what is read already
    /// is left out, so that it stays, letter for letter, whatever form it has.
    /// </summary>
    /// <param name="key">The record's key.</param>
    /// <param name="given">Columns with the texts that were given; null for empty.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<IReadOnlyDictionary<string, string?>> ChangesAsync(
        string key,
        IReadOnlyDictionary<string, string?> given,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(given);
        if (
            !given.Keys.Any(name => _panel.Find(name)?.Reading is not null)
            || await FindAsync(key, cancellationToken) is not { } now
        )
            return given;
        return given
            .Where(pair => !(now.Stored.ContainsKey(pair.Key) && (pair.Value ?? "") == (now.Values[pair.Key] ?? "")))
            .ToDictionary();
    }

    /// <summary>The next free number for a new record's key.</summary>
    /// <returns>The column and its number; null where the panel needs none or the numbers are used up.</returns>
    public async Task<(string Column, string Value)?> ProposeNumberAsync(CancellationToken cancellationToken)
    {
        if (NextNumber.ColumnOf(_panel) is not { } column)
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        return await NextNumberAsync(connection, column, cancellationToken) is { } number ? (column.Name, number) : null;
    }

    /// <summary>Reads the lists of records that refer to a record, all of them at once.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The lists that the panel shows, in order; null where there is no such record.</returns>
    public async Task<IReadOnlyList<RelatedList>?> RelatedAsync(string key, CancellationToken cancellationToken)
    {
        if (KeyValues(key) is not { } values)
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(_model, connection) { IsAlone = true };
        var related = new RelatedReader(seen, reader);
        var byKey = _panel.Identity.Columns.Zip(values).ToDictionary(pair => pair.First, pair => (string?)pair.Second);
        // To those that refer to it by its key it is enough that the record is there, which is asked along with them.
        if (_panel.Identity.ByPlace || !related.Needed.All(byKey.ContainsKey))
            return await ReadWholeAsync(reader, values, cancellationToken) is { } record
                ? await related.ReadAsync(record.Values, cancellationToken)
                : null;
        var (lists, isThere) = (Task.FromResult<IReadOnlyList<RelatedList>>([]), Task.FromResult(0L));
        await reader.TogetherAsync(
            [
                () => isThere = reader.CountAsync(_panel.Table, RecordKey.ToOpen(_panel, values), 1, cancellationToken),
                () => lists = related.ReadAsync(byKey, cancellationToken),
            ],
            cancellationToken
        );
        return await isThere > 0 ? await lists : null;
    }

    /// <summary>Reads the records that stand above a record of the same table.</summary>
    /// <param name="key">The record's key.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The records; null where there is no such record, or none stands above another.</returns>
    public async Task<RecordsAbove?> AboveAsync(string key, CancellationToken cancellationToken)
    {
        if (_panel.Above is not { } above || KeyValues(key) is not { } values)
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(_model, connection) { IsAlone = true };
        return await ReadWholeAsync(reader, values, cancellationToken) is { } record
            ? await new Ancestry(seen, above).ReadAsync(reader, key, record.Values[above.Name], cancellationToken)
            : null;
    }

    internal DbContext Open() => _model.Open(seen.Connections);

    /// <summary>Begins to write records.</summary>
    internal Task<WriteSession> WriteAsync(
        CancellationToken cancellationToken,
        System.Data.IsolationLevel isolation = System.Data.IsolationLevel.Unspecified
    ) => WriteSession.OpenAsync(_model, seen.Connections, cancellationToken, isolation);

    internal DbSet<Row> Rows(DbContext context) => context.Set<Row>(_model.EntityName(_panel.Table.Name));

    internal IQueryable<Row> Matching(DbContext context, Filter filter)
    {
        _query.At(context);
        return _query.Where(Rows(context), _query.Test(filter));
    }

    internal RecordQuery Query => _query;

    /// <summary>Whether another record has the same key as one of those that fulfil a condition.</summary>
    internal async Task<bool> AreDoubledAsync(DbContext context, Filter filter, CancellationToken cancellationToken) =>
        RecordKey.Alone(_panel) is { } alone
        && await Matching(context, Filter.Join(filter, new Filter.Not(alone))!).AnyAsync(cancellationToken);

    internal IReadOnlyList<string>? KeyValues(string key) => RecordKey.ValuesOf(_panel, key);

    internal async Task<RecordView?> FindAsync(SourceReader reader, string key, CancellationToken cancellationToken)
    {
        if (KeyValues(key) is not { } values)
            return null;
        var columns = ShownColumns();
        // What fails to be computed would end the transaction.
        if (reader.Transaction is not null)
            columns.RemoveAll(IsComputed);
        var withVersion = _panel.Table.HasRowVersion;
        try
        {
            return await FindAsync(columns);
        }
        catch (PostgresException answer) when (RuleFailures.Of(answer) is not null && columns.Exists(IsComputed))
        {
            return await FindAsync([.. columns.Where(column => !IsComputed(column))]);
        }
        catch (PostgresException answer) when (answer.SqlState.StartsWith("22", StringComparison.Ordinal))
        {
            // The key's text is not a value of a type that only the database can read: nothing bears it.
            return null;
        }

        async Task<RecordView?> FindAsync(List<string> names)
        {
            var request = new RowRequest
            {
                Filter = RecordKey.ToOpen(_panel, values),
                Columns = names,
                WithVersion = withVersion,
                Take = 1,
            };
            if (await reader.ReadAsync(_panel.Table, request, cancellationToken) is not [var row])
                return null;
            var found = RowValues.Of(_panel.Table, names, row);
            var notComputed = await FillAsync(reader, found, cancellationToken);
            return await ViewAsync(reader, key, found, withVersion ? row[^1] : null, cancellationToken) with
            {
                NotComputed = notComputed,
            };
        }
    }

    /// <summary>A record that was just written, with what is computed of it.</summary>
    /// <param name="written">The record as it was written.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<RecordView> WithComputedAsync(RecordView written, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(written);
        return
            ShownColumns().Exists(IsComputed)
            && await FindAsync(written.Key, cancellationToken) is { } found
            && found.Version == written.Version
            ? found
            : written;
    }

    private async Task<IReadOnlyDictionary<string, string>> FillAsync(
        SourceReader reader,
        Dictionary<string, string?> found,
        CancellationToken cancellationToken
    ) =>
        seen.Coded is { } code && _panel.Coded(found.Keys) is { Count: > 0 } coded
            ? await new CodedFilling(code, _panel, reader).FillAsync(
                coded,
                [new CodedRow(found.GetValueOrDefault, (column, value) => found[column] = value)],
                cancellationToken
            )
            : FrozenDictionary<string, string>.Empty;

    private bool IsComputed(string column) => _panel.Table.Find(column) is { IsStored: false };

    /// <summary>Whether what is shown of a record that was read whole has to be asked for: titles of records that it refers to.</summary>
    internal bool AsksForTitles(WholeRow row) =>
        ShownColumns()
            .Exists(name =>
                row.Values.ContainsKey(name)
                && _panel.Find(name)?.Decision.Lookup is { } lookup
                && BoundLookup.Referring(lookup, name, row.Values.GetValueOrDefault) is not null
            );

    /// <summary>What is shown of a record that was read whole.</summary>
    internal Task<RecordView> ViewAsync(SourceReader reader, string key, WholeRow row, CancellationToken cancellationToken) =>
        ViewAsync(
            reader,
            key,
            ShownColumns().Where(row.Values.ContainsKey).ToDictionary(column => column, column => row.Values[column]),
            row.Version,
            cancellationToken
        );

    private async Task<RecordView> ViewAsync(
        SourceReader reader,
        string key,
        Dictionary<string, string?> found,
        string? version,
        CancellationToken cancellationToken
    ) =>
        ToView(
            _panel.Identity.ByPlace ? key : KeyOf(found),
            found,
            version,
            await new LookupReader(seen.Porch, seen.Kept).OfPanelAsync(
                reader,
                _panel,
                found.Keys,
                (column, lookup) => [BoundLookup.Referring(lookup, column, found.GetValueOrDefault)],
                cancellationToken
            )
        );

    internal async Task<string?> NextNumberAsync(
        NpgsqlConnection connection,
        BoundColumn column,
        CancellationToken cancellationToken
    )
    {
        // The greatest one, whatever is empty left aside: an index has it at its end.
        var request = new RowRequest
        {
            Stretch = _panel.Table.Find(column.Name)!.IsNullable
                ? new Stretch([new OrderBy(column.Name, Descending: true)], FirstIsEmpty: false)
                : null,
            Order = [new OrderBy(column.Name, Descending: true)],
            Columns = [column.Name],
            Take = 1,
        };
        var greatest = await new SourceReader(_model, connection).ReadAsync(_panel.Table, request, cancellationToken);
        return NextNumber.After(column.Type, greatest is [[{ } text]] ? long.Parse(text, CultureInfo.InvariantCulture) : null);
    }

    // The least or the greatest value of a column; null where there is none.
    internal async Task<string?> OutermostAsync(
        SourceReader reader,
        string column,
        Filter? filter,
        bool least,
        CancellationToken cancellationToken
    )
    {
        var request = new RowRequest
        {
            Filter = Filter.Join(filter, new Filter.Not(new Filter.Empty(column))),
            Order = [new OrderBy(column, Descending: !least)],
            Columns = [column],
            Take = 1,
        };
        var rows = await reader.ReadAsync(_panel.Table, request, cancellationToken);
        return rows is [[{ } value]] ? ClrValue.ToText(_panel.Table.Find(column)!.Type, value) : null;
    }

    /// <summary>What is asked to read a record whole.</summary>
    internal RowRequest Whole(IReadOnlyList<string> key) =>
        new()
        {
            Filter = RecordKey.ToOpen(_panel, key),
            Columns = [.. _panel.Table.StoredColumns.Select(column => column.Name)],
            WithVersion = _panel.Table.HasRowVersion,
            Take = 1,
        };

    /// <summary>A record as <see cref="Whole"/> gives it; null where it gave none.</summary>
    internal WholeRow? ToWhole(string?[]? row) =>
        row is null
            ? null
            : new WholeRow(
                RowValues.Of(_panel.Table, [.. _panel.Table.StoredColumns.Select(column => column.Name)], row),
                _panel.Table.HasRowVersion ? row[^1] : null
            );

    internal async Task<IEnumerable<Dictionary<string, string?>>> ReadAllAsync(
        SourceReader reader,
        RecordSelection chosen,
        CancellationToken cancellationToken
    )
    {
        List<string> columns =
        [
            .. _panel.Table.StoredColumns.Where(column => column.Type.Kind is not ValueKind.Binary).Select(column => column.Name),
        ];
        var rows = await reader.ReadAsync(
            _panel.Table,
            new RowRequest
            {
                Filter = chosen.ToWrite,
                Columns = columns,
                Take = chosen.Count,
            },
            cancellationToken
        );
        return rows.Select(row => RowValues.Of(_panel.Table, columns, row));
    }

    /// <summary>Reads all values of a record.</summary>
    internal async Task<WholeRow?> ReadWholeAsync(
        SourceReader reader,
        IReadOnlyList<string> key,
        CancellationToken cancellationToken
    ) => ToWhole((await reader.ReadAsync(_panel.Table, Whole(key), cancellationToken)).FirstOrDefault());

    // A column in neither list, form nor title is kept from the browser altogether.
    private List<string> ShownColumns()
    {
        var ofTitle = _panel.Title.Columns.ToHashSet();
        List<string> shown =
        [
            .. _panel
                .Columns.Where(column =>
                    column.Decision.InForm
                    || column.Decision.InList
                    || ofTitle.Contains(column.Name)
                    || _panel.IsIdentifying(column.Name)
                    || column.Name == _panel.Marker?.Column
                )
                .Select(column => column.Name),
        ];
        return [.. shown.Union(_panel.Identity.Columns).Union(_panel.ReferringBeside(shown))];
    }

    private RecordView ToView(
        string key,
        Dictionary<string, string?> values,
        string? version,
        Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups
    )
    {
        var read = values
            .Where(pair => _panel.Find(pair.Key)?.Reading is not null)
            .ToDictionary(pair => pair.Key, pair => _panel.Find(pair.Key)!.Read(pair.Value));
        return new RecordView(
            key,
            TitleOf(values, _panel.Identity.ByPlace ? null : key, lookups),
            read.Count == 0
                ? values
                : values.ToDictionary(
                    pair => pair.Key,
                    pair => read.TryGetValue(pair.Key, out var value) ? value.Text : pair.Value
                ),
            version is null ? 0 : uint.Parse(version, CultureInfo.InvariantCulture),
            lookups.Where(pair => pair.Value.Count > 0).ToDictionary(pair => pair.Key, pair => pair.Value.Values.First()),
            _panel.IsSetAside(values.GetValueOrDefault)
        )
        {
            Stored =
                read.Count == 0
                    ? FrozenDictionary<string, string?>.Empty
                    : read.Keys.ToDictionary(name => name, name => values[name]),
            Formatted = FormattedOf(values),
            Unfit = [.. read.Where(pair => pair.Value.Sort is ReadSort.Misfit).Select(pair => pair.Key)],
        };
    }

    private Dictionary<string, string> FormattedOf(Dictionary<string, string?> values) =>
        _panel
            .Columns.Where(column => column.IsFormatted && values.GetValueOrDefault(column.Name) is not null)
            .ToDictionary(column => column.Name, column => FormattedText.ToHtml(values[column.Name]!));

    private string KeyOf(Dictionary<string, string?> values) =>
        RecordKey.Write([.. _panel.Identity.Columns.Select(column => values[column] ?? "")]);

    /// <summary>How records are called.</summary>
    internal async Task<IReadOnlyList<string>?> TitlesAsync(
        SourceReader reader,
        IReadOnlyList<Dictionary<string, string?>> records,
        CancellationToken cancellationToken
    )
    {
        var lookups = await new LookupReader(seen.Porch).OfPanelAsync(
            reader,
            _panel,
            _panel.Title.Columns,
            (column, lookup) => records.Select(record => BoundLookup.Referring(lookup, column, record.GetValueOrDefault)),
            cancellationToken
        );
        return [.. records.Select(record => TitleOf(record, KeyOf(record), lookups))];
    }

    private string TitleOf(
        Dictionary<string, string?> values,
        string? key,
        Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> lookups
    ) =>
        _panel.Title.Render(
            column =>
                LookupReader.Shown(
                    _panel.Table,
                    _panel.Find(column),
                    column,
                    values.GetValueOrDefault,
                    lookups,
                    seen.Porch.Notation
                ),
            fallback: key is null ? "(untitled)" : key
        );
}

/// <summary>A record with all of its columns.</summary>
/// <param name="Values">Columns with texts in the one form, as they are stored.</param>
/// <param name="Version">Its version; null where its table tells none.</param>
internal sealed record WholeRow(IReadOnlyDictionary<string, string?> Values, string? Version);

/// <summary>Ways from an opened panel to its records.</summary>
public static class OpenPanelRecords
{
    /// <summary>Opens a panel's records; its table must be there.</summary>
    public static RecordStore Records(this OpenPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return new(panel.Seen);
    }
}
