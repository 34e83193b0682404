using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Ordering;

/// <summary>A record as an order sees it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Group">The value of the column that groups; null where it is empty, or nothing groups.</param>
/// <param name="Position">Its position; null where it has none that is a whole number.</param>
internal sealed record OrderRow(string Key, string? Group, long? Position);

/// <summary>Reads and writes positions.</summary>
/// <param name="panel">The panel.</param>
/// <param name="connection">An open connection to the source.</param>
internal sealed class OrderRows(OpenPanel panel, NpgsqlConnection connection)
{
    private readonly SourceReader _reader = new(panel.Model, connection);
    private readonly Table _table = panel.Bound!.Table;
    private readonly string _position = panel.Definition.Order!.Column;
    private readonly string? _group = panel.Definition.Order.Group;
    private readonly IReadOnlyList<string> _identity = panel.Bound.Identity.Columns;

    private List<string> Columns => [.. _identity, .. new[] { _group, _position }.OfType<string>()];

    /// <summary>Finds records.</summary>
    public Task<IReadOnlyList<OrderRow>> FindAsync(Filter filter, CancellationToken cancellationToken) =>
        ReadAsync(filter, [], null, cancellationToken);

    /// <summary>Finds one record.</summary>
    public async Task<OrderRow?> FindAsync(string key, CancellationToken cancellationToken) =>
        RecordKey.ValuesOf(panel.Bound!, key) is { } values
        && await ReadAsync(RecordKey.Filter(panel.Bound!, values), [], 1, cancellationToken) is [var row]
            ? row
            : null;

    /// <summary>The records of a group at some positions.</summary>
    public Task<IReadOnlyList<OrderRow>> AtAsync(
        string? group,
        IReadOnlyList<long> positions,
        CancellationToken cancellationToken
    ) =>
        ReadAsync(
            Filter.Join(InGroup(group), new Filter.OneOf(_position, [.. positions.Select(Text)]))!,
            [],
            null,
            cancellationToken
        );

    /// <summary>The records of a group whose positions lie between two, these included, in order.</summary>
    public Task<IReadOnlyList<OrderRow>> BetweenAsync(
        string? group,
        long low,
        long high,
        int most,
        CancellationToken cancellationToken
    ) =>
        ReadAsync(
            Filter.Join(InGroup(group), From(low, Comparison.AtLeast), From(high, Comparison.AtMost)),
            [new OrderBy(_position, Descending: false)],
            most,
            cancellationToken
        );

    /// <summary>
    /// The position of the record that is so-manieth in its group, some left aside; null where there are fewer.
    /// </summary>
    public async Task<long?> NthAsync(string? group, IReadOnlyList<string> but, int place, CancellationToken cancellationToken)
    {
        var rows = await ReadAsync(
            Filter.Join(InGroup(group), But(but)),
            [new OrderBy(_position, Descending: false)],
            1,
            cancellationToken,
            place - 1
        );
        return rows is [var row] ? row.Position : null;
    }

    /// <summary>The neighbours of a place.</summary>
    /// <returns>The neighbours; null where some have no place of their own.</returns>
    public async Task<Neighbours?> AroundAsync(
        string? group,
        Anchor anchor,
        IReadOnlyList<string> but,
        int count,
        CancellationToken cancellationToken
    )
    {
        var rest = Filter.Join(InGroup(group), But(but));
        // Those without a position are none of them; that they would come first lets an index serve the order.
        var before = await ReadAsync(
            Filter.Join(
                rest,
                From(anchor.Position, anchor.IsAfter ? Comparison.AtMost : Comparison.Less)
                    ?? (Filter)new Filter.Not(new Filter.Empty(_position))
            ),
            [new OrderBy(_position, Descending: true, EmptyFirst: true)],
            count + 1,
            cancellationToken
        );
        var after = await ReadAsync(
            Filter.Join(rest, From(anchor.Position, anchor.IsAfter ? Comparison.More : Comparison.AtLeast)),
            [new OrderBy(_position, Descending: false)],
            count + 1,
            cancellationToken
        );
        var all = before.Take(count).Concat(after.Take(count)).ToList();
        return all.TrueForAll(row => row.Position is not null) && all.DistinctBy(row => row.Position).Count() == all.Count
            ? new Neighbours(
                [.. before.Take(count).Select(ToPlaced)],
                before.Count > count,
                [.. after.Take(count).Select(ToPlaced)],
                after.Count > count
            )
            : null;
    }

    /// <summary>The titles and present positions of records.</summary>
    public async Task<IReadOnlyDictionary<string, (string Title, string? Position)>> NameAsync(
        IReadOnlyList<string> keys,
        CancellationToken cancellationToken
    )
    {
        var titles = new RowTitles(_reader, panel.Panels);
        var columns = titles.ColumnsOf(_table).Append(_position).Distinct().ToList();
        var found = new Dictionary<string, (string, string?)>();
        foreach (var part in keys.Chunk(RecordSelection.MaxWithLongKeys))
        {
            RecordSelection.TryRead(panel.Bound!, part, out var chosen, out _);
            var rows = await _reader.ReadAsync(
                _table,
                new RowRequest { Filter = chosen!.Filter, Columns = columns },
                cancellationToken
            );
            var names = await titles.ReadAsync(_table, columns, rows, cancellationToken);
            foreach (var (named, row) in names.Zip(rows))
                found[named.Key!] = (named.Title, ClrValue.ToText(_table.Find(_position)!.Type, row[columns.IndexOf(_position)]));
        }

        return found;
    }

    /// <summary>
    /// Writes positions, by one statement; by two where the database wants each position to be there once at every moment.
    /// </summary>
    public async Task<long> WriteAsync(IReadOnlyList<Placed> plan, PositionScale scale, CancellationToken cancellationToken)
    {
        if (plan.Count == 0)
            return 0;
        var shift = new OrderShift(panel.Bound!, connection);
        // One that changes places with another has to stand aside for a moment.
        if (
            plan.Count > 1
            && shift.IsUnique
            && await shift.GreatestAsync(cancellationToken) is var greatest
            && greatest + plan.Count <= scale.Greatest
        )
            await RestoreAsync([.. plan.Select((one, i) => one with { Position = greatest + 1 + i })], scale, cancellationToken);
        return await RestoreAsync(plan, scale, cancellationToken);
    }

    private Task<long> RestoreAsync(IReadOnlyList<Placed> plan, PositionScale scale, CancellationToken cancellationToken) =>
        new SourceRows(connection).RestoreAsync(
            _table.Name,
            _identity,
            [_position],
            [
                .. plan.Select(one =>
                    (RecordKey.ValuesOf(panel.Bound!, one.Key)!.ToArray<string?>(), new string?[] { scale.Write(one.Position) })
                ),
            ],
            cancellationToken
        );

    private async Task<IReadOnlyList<OrderRow>> ReadAsync(
        Filter? filter,
        IReadOnlyList<OrderBy> order,
        int? take,
        CancellationToken cancellationToken,
        int skip = 0
    )
    {
        var columns = Columns;
        var rows = await _reader.ReadAsync(
            _table,
            new RowRequest
            {
                Filter = filter,
                Order = order,
                Columns = columns,
                Take = take,
                Skip = skip,
            },
            cancellationToken
        );
        return
        [
            .. rows.Select(row =>
            {
                var values = columns.Select((name, i) => ClrValue.ToText(_table.Find(name)!.Type, row[i])).ToList();
                return new OrderRow(
                    RecordKey.Write([.. values.Take(_identity.Count).Select(value => value ?? "")]),
                    _group is null ? null : values[_identity.Count],
                    PositionScale.TryRead(values[^1], out var position) ? position : null
                );
            }),
        ];
    }

    private Filter? InGroup(string? group) =>
        _group is null ? null
        : group is null ? new Filter.Empty(_group)
        : new Filter.EqualTo(_group, group);

    private Filter.Not? But(IReadOnlyList<string> keys) =>
        keys.Count > 0 && RecordSelection.TryRead(panel.Bound!, keys, out var chosen, out _)
            ? new Filter.Not(chosen!.Filter)
            : null;

    // The ends of all numbers are no bound.
    private Filter.Compared? From(long position, Comparison how) =>
        position switch
        {
            long.MaxValue when how is Comparison.AtMost or Comparison.Less => null,
            long.MinValue when how is Comparison.AtLeast or Comparison.More => null,
            _ => new Filter.Compared(_position, how, Text(Bounded(position))),
        };

    // What the column's type cannot hold is beyond all that it does hold.
    private long Bounded(long position)
    {
        var greatest = PositionScale.Of(_table.Find(_position)!.Type)!.Greatest;
        return Math.Clamp(position, -greatest, greatest);
    }

    private string Text(long position) =>
        _table.Find(_position)!.Type.Kind is ValueKind.Text
            ? PositionScale.Of(_table.Find(_position)!.Type)!.Write(position)
            : position.ToString(CultureInfo.InvariantCulture);

    private static Placed ToPlaced(OrderRow row) => new(row.Key, row.Position!.Value);
}
