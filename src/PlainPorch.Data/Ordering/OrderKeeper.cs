using System.Globalization;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.History;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Ordering;

/// <summary>
/// Keeps the running order of a panel's records: tells how it stands, numbers it, moves records, and takes moves back.
/// </summary>
/// <param name="acts">Carries changes out.</param>
public sealed class OrderKeeper(ActRunner acts)
{
    private const int FirstNeighbours = 32;
    private const int MostNeighbours = 200_000;
    private const int MostMoved = 1_000;
    private const int Seconds = 600;
    private const int Shown = 8;
    private const long ManyRows = 200_000;
    private const int LookedAt = 50_000;

    /// <summary>Why a panel keeps no running order; null where it does.</summary>
    public static Refusal? WhyNot(OpenPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var bound = panel.Bound!;
        if (bound.Definition.Order is not { } order || bound.Table.Find(order.Column) is not { } column)
            return new("The panel has no running order.", "Choose its position column in the set-up.");
        if (PositionScale.Of(column.Type) is null || column.IsWrittenByDatabaseOnly)
            return new($"{order.Column} cannot hold positions.", "Choose a column of whole numbers in the panel's set-up.");
        if (order.Group is { } group && bound.Table.Find(group) is null)
            return new($"The table has no column {group}.", "Choose another group in the panel's set-up.");
        if (!bound.Identity.Exists)
            return new(bound.Identity.MissingBecause!, bound.Identity.Remedy!);
        if (!bound.Table.HasRowVersion)
            return new("The records are in another database.", "Make the panel there.");
        return bound.NotEditableBecause is null && bound.Table.Rights.Update
            ? null
            : bound.NotEditableBecause
                ?? new(
                    $"The database user is not allowed to change records of {bound.Table.Name}.",
                    "Grant it UPDATE and read the schema again."
                );
    }

    /// <summary>Tells how far the position column keeps an order; of a large table by its first rows.</summary>
    public static async Task<OrderState> StateAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var (table, position, group) = Names(panel);
        var isText = panel.Bound!.Table.Find(panel.Definition.Order!.Column)!.Type.Kind is ValueKind.Text;
        var notNumber = isText ? $"{position} !~ '^\\s*-?[0-9]+\\s*$'" : $"{position} <> trunc({position}::numeric)";
        var number = isText
            ? $"CASE WHEN {position} ~ '^\\s*-?[0-9]+\\s*$' THEN {position}::numeric END"
            : $"{position}::numeric";
        // Of a large table the first rows tell whether it was ever numbered; a move looks at the neighbours anyway.
        var bound = panel.Bound.Table.EstimatedRows > ManyRows ? $" LIMIT {LookedAt.ToString(CultureInfo.InvariantCulture)}" : "";
        await using var command = panel.Connections.CreateCommand(
            $"""
            SELECT count(*), count(*) FILTER (WHERE place IS NULL AND NOT odd), count(*) FILTER (WHERE odd), count(*) FILTER (WHERE place = before), count(*) FILTER (WHERE place > before + 1)
            FROM (SELECT place, odd, lag(place) OVER (PARTITION BY grouped ORDER BY place) AS before
                  FROM (SELECT {number} AS place, coalesce({notNumber}, false) AS odd, {group
                ?? "NULL::text"} AS grouped FROM {table}{bound}) read) compared
            """
        );
        command.CommandTimeout = Seconds;
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        await reader.ReadAsync(cancellationToken);
        return new OrderState(reader.GetInt64(0), reader.GetInt64(1), reader.GetInt64(2), reader.GetInt64(3), reader.GetInt64(4));
    }

    /// <summary>Numbers all records from an order, by one statement.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="by">The order that they get; empty for the present one with its ties broken by the key.</param>
    /// <param name="isPreview">Whether it is only to be told what it would do.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    /// <returns>What it does, or why it cannot be done.</returns>
    public async Task<NumberingOutcome> NumberAsync(
        OpenPanel panel,
        IReadOnlyList<OrderBy> by,
        bool isPreview,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(by);
        var (bound, order) = (panel.Bound!, panel.Definition.Order!);
        var (table, position, group) = Names(panel);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        await OrderLock.TakeAllAsync(connection, bound.Table.Name, cancellationToken);
        var largest = await AskAsync(
            connection,
            group is null
                ? $"SELECT count(*) FROM {table}"
                : $"SELECT coalesce(max(n), 0) FROM (SELECT count(*) AS n FROM {table} GROUP BY {group}) sizes",
            cancellationToken
        );
        var scale = PositionScale.Of(bound.Table.Find(order.Column)!.Type)!;
        var gap = order.IsDense ? 1 : scale.GapFor(largest);
        if (gap == 0 || largest > scale.Greatest)
            return new NumberingRefused(
                new(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{order.Column} can hold positions up to {scale.Greatest:N0}, but {largest:N0} records have to be numbered."
                    ),
                    "Choose a column for larger numbers."
                )
            );
        var shift = new OrderShift(bound, connection);
        var written = shift.Written($"n.place * {gap.ToString(CultureInfo.InvariantCulture)}");
        var numbered =
            $"SELECT tableoid AS part, ctid AS at, row_number() OVER ({(group is null ? "" : $"PARTITION BY {group} ")}ORDER BY {OrderSql(bound, by)}) AS place FROM {table}";
        var isDifferent = $"t.tableoid = n.part AND t.ctid = n.at AND t.{position} IS DISTINCT FROM {written}";
        var first = await FirstAsync(panel, connection, by, cancellationToken);
        var records = await AskAsync(connection, $"SELECT count(*) FROM {table}", cancellationToken);
        if (isPreview)
            return new NumberingResult(
                records,
                await AskAsync(
                    connection,
                    $"SELECT count(*) FROM {table} t, ({numbered}) n WHERE {isDifferent}",
                    cancellationToken
                ),
                gap,
                first
            );
        return await acts.CarryOutAsync<NumberingResult>(
            panel,
            transaction,
            async () =>
            {
                var witnesses = new Witnesses(new SourceRows(connection));
                var identity = bound.Identity.Columns;
                if (bound.Identity.Exists)
                    await witnesses.WatchAsync(
                        bound.Table.Name,
                        identity,
                        await DifferentAsync(
                            connection,
                            $"FROM {table} t, ({numbered}) n WHERE {isDifferent}",
                            identity,
                            cancellationToken
                        ),
                        cancellationToken
                    );
                await shift.ClearAsync(cancellationToken);
                await using var command = new NpgsqlCommand(
                    $"UPDATE {table} t SET {position} = {written} FROM ({numbered}) n WHERE {isDifferent}",
                    connection
                )
                {
                    CommandTimeout = Seconds,
                };
                var result = new NumberingResult(records, await command.ExecuteNonQueryAsync(cancellationToken), gap, first);
                LoggedRecord all = new(bound.Table.Name, null, $"All {bound.Definition.Label} renumbered", LogAct.Moved, []);
                return (new Act<NumberingResult>(LogAct.Moved, [all], _ => result) { Witnesses = witnesses }, null);
            },
            cancellationToken
        ) switch
        {
            ActEnd<NumberingResult>.Done(var result) => result,
            ActEnd<NumberingResult>.Refused(var problems) => new NumberingRefused(
                new(problems[0].Message, "Nothing was changed.")
            ),
            var other => throw new InvalidOperationException($"An end that is not known here: {other}."),
        };
    }

    // The keys of some of the records that get another position.
    private static async Task<List<string?[]>> DifferentAsync(
        NpgsqlConnection connection,
        string different,
        IReadOnlyList<string> identity,
        CancellationToken cancellationToken
    )
    {
        await using var command = new NpgsqlCommand(
            $"SELECT {string.Join(", ", identity.Select(column => $"t.{Quote(column)}::text"))} {different} LIMIT 3",
            connection
        )
        {
            CommandTimeout = Seconds,
        };
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var keys = new List<string?[]>();
        while (await reader.ReadAsync(cancellationToken))
            keys.Add([.. identity.Select((_, i) => reader.GetString(i))]);
        return keys;
    }

    /// <summary>
    /// Moves records within their group. Two people who move at once take turns, each seeing what the other did.
    /// </summary>
    /// <param name="panel">The panel.</param>
    /// <param name="keys">The records' keys, in the order that they get.</param>
    /// <param name="target">Where they go.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    public async Task<MoveOutcome> MoveAsync(
        OpenPanel panel,
        IReadOnlyList<string> keys,
        MoveTarget target,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(keys);
        ArgumentNullException.ThrowIfNull(target);
        var bound = panel.Bound!;
        if (keys.Count > MostMoved)
            return Refused(
                "keys",
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{keys.Count:N0} records are selected; at most {MostMoved:N0} can be moved at a time."
                )
            );
        if (!RecordSelection.TryRead(bound, keys, out var chosen, out var problem))
            return new MoveOutcome.Refused([problem!]);
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var rows = new OrderRows(panel, connection);
        // Which group is known only by looking; what is decided is looked at again once nobody else can move there.
        if (await rows.FindAsync(chosen!.Filter, cancellationToken) is not [var any, ..])
            return Refused("keys", "None of the records exists any more. Reload the list.");
        await OrderLock.TakeAsync(connection, panel.Bound!.Table.Name, any.Group, cancellationToken);
        var moved = await rows.FindAsync(chosen.Filter, cancellationToken);
        if (moved.Count == 0 || moved.Any(row => row.Group != any.Group))
            return Refused(
                "keys",
                "The records belong to different groups, and each group has its own order. Select records of one group."
            );
        if (moved.Any(row => row.Position is null))
            return NotNumbered();
        var order = keys.Select(key => moved.FirstOrDefault(row => row.Key == key))
            .OfType<OrderRow>()
            .DistinctBy(row => row.Key)
            .ToList();
        var (plan, refusal) = await PlanAsync(panel, rows, order, any.Group, target, cancellationToken);
        return plan is null ? refusal! : await WriteAsync(panel, rows, order, plan, transaction, cancellationToken);
    }

    /// <summary>Takes a move back, if nobody has moved any of its records since.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="changes">The records of the move's entry, with their positions before and after.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    public async Task<MoveOutcome> UndoAsync(
        OpenPanel panel,
        IReadOnlyList<LogRecord> changes,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(changes);
        var column = panel.Definition.Order!.Column;
        var wanted = changes
            .Select(record => (record.Key, Change: record.Changes.FirstOrDefault(change => change.Column == column)))
            .Where(pair => pair.Key is not null && pair.Change is { From: not null, To: not null })
            .ToDictionary(pair => pair.Key!, pair => pair.Change!);
        if (wanted.Count == 0 || !RecordSelection.TryRead(panel.Bound!, [.. wanted.Keys], out var chosen, out _))
            return Refused("entry", "There is nothing to undo.");
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
        var rows = new OrderRows(panel, connection);
        if (await rows.FindAsync(chosen!.Filter, cancellationToken) is not [var any, ..])
            return Refused("entry", "The records no longer exist.");
        await OrderLock.TakeAsync(connection, panel.Bound!.Table.Name, any.Group, cancellationToken);
        var now = await rows.FindAsync(chosen.Filter, cancellationToken);
        var before = wanted.ToDictionary(
            pair => pair.Key,
            pair => PositionScale.TryRead(pair.Value.From, out var position) ? position : 0
        );
        var taken = await rows.AtAsync(any.Group, [.. before.Values], cancellationToken);
        if (
            now.Count != wanted.Count
            || now.Any(row =>
                row.Group != any.Group || !PositionScale.TryRead(wanted[row.Key].To, out var to) || row.Position != to
            )
            || taken.Any(row => !wanted.ContainsKey(row.Key))
        )
        {
            return Refused("entry", "Somebody has moved records there since. Move this one yourself.");
        }

        return await WriteAsync(
            panel,
            rows,
            now,
            [.. before.Select(pair => new Placed(pair.Key, pair.Value))],
            transaction,
            cancellationToken
        );
    }

    private static async Task<(IReadOnlyList<Placed>? Plan, MoveOutcome? Refusal)> PlanAsync(
        OpenPanel panel,
        OrderRows rows,
        IReadOnlyList<OrderRow> moved,
        string? group,
        MoveTarget target,
        CancellationToken cancellationToken
    )
    {
        var scale = PositionScale.Of(panel.Bound!.Table.Find(panel.Definition.Order!.Column)!.Type)!;
        var keys = moved.Select(row => row.Key).ToList();
        if (await AnchorAsync(rows, group, keys, target, cancellationToken) is not { } anchor)
            return (null, Refused("target", "The target record is in another group or no longer exists. Reload the list."));
        if (panel.Definition.Order.IsDense)
            return await DenseAsync(rows, moved, group, anchor, cancellationToken);
        // Counting a large group would take longer than the move.
        var gap = Math.Max(1, scale.GapFor(panel.Bound.Table.EstimatedRows ?? 0));
        for (var known = FirstNeighbours; ; known = Math.Min(known * 16, MostNeighbours))
        {
            var neighbours = await rows.AroundAsync(group, anchor, keys, known, cancellationToken);
            if (neighbours is null)
                return (null, NotNumbered());
            try
            {
                if (MovePlan.Gapped(neighbours, keys, scale, gap) is { } plan)
                    return (plan, null);
            }
            catch (OverflowException)
            {
                return (
                    null,
                    Refused(
                        "keys",
                        "There is no free position there. Renumber the records, or choose a column for larger numbers."
                    )
                );
            }

            if (known == MostNeighbours)
                return (null, NotNumbered());
        }
    }

    private static async Task<(IReadOnlyList<Placed>?, MoveOutcome?)> DenseAsync(
        OrderRows rows,
        IReadOnlyList<OrderRow> moved,
        string? group,
        Anchor anchor,
        CancellationToken cancellationToken
    )
    {
        var positions = moved.Select(row => row.Position!.Value).ToList();
        var (low, high) = (Math.Min(positions.Min(), anchor.Position), Math.Max(positions.Max(), anchor.Position));
        var range = await rows.BetweenAsync(group, low, high, MostNeighbours + 1, cancellationToken);
        if (range.Count > MostNeighbours)
            return (
                null,
                Refused(
                    "keys",
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"More than {MostNeighbours:N0} records are in between. Move them in steps."
                    )
                )
            );
        if (range.Any(row => row.Position is null) || range.DistinctBy(row => row.Position).Count() != range.Count)
            return (null, NotNumbered());
        var going = moved.Select(row => row.Key).ToHashSet();
        var place = range.Count(row =>
            !going.Contains(row.Key) && (row.Position < anchor.Position || (row.Position == anchor.Position && anchor.IsAfter))
        );
        return (
            MovePlan.Dense(
                [.. range.Select(row => new Placed(row.Key, row.Position!.Value))],
                [.. moved.Select(row => row.Key)],
                place
            ),
            null
        );
    }

    // The place as a position: right before it, or right after it.
    private static async Task<Anchor?> AnchorAsync(
        OrderRows rows,
        string? group,
        IReadOnlyList<string> moved,
        MoveTarget target,
        CancellationToken cancellationToken
    )
    {
        if ((target.Before ?? target.After) is { } key)
        {
            return await rows.FindAsync(key, cancellationToken) is { Position: { } position } row && row.Group == group
                ? new Anchor(position, IsAfter: target.Before is null)
                : null;
        }

        if (target.Place is { } place)
        {
            return await rows.NthAsync(group, moved, Math.Max(1, place), cancellationToken) is { } nth
                ? new Anchor(nth, IsAfter: false)
                : new Anchor(long.MaxValue, IsAfter: true);
        }

        return target.ToEnd ? new Anchor(long.MaxValue, IsAfter: true) : new Anchor(long.MinValue, IsAfter: false);
    }

    private async Task<MoveOutcome> WriteAsync(
        OpenPanel panel,
        OrderRows rows,
        IReadOnlyList<OrderRow> moved,
        IReadOnlyList<Placed> plan,
        NpgsqlTransaction transaction,
        CancellationToken cancellationToken
    )
    {
        var named = await rows.NameAsync([.. moved.Select(row => row.Key).Union(plan.Select(one => one.Key))], cancellationToken);
        var column = panel.Bound!.Find(panel.Definition.Order!.Column);
        var scale = PositionScale.Of(panel.Bound.Table.Find(panel.Definition.Order.Column)!.Type)!;
        // What was moved comes first, so that the entry is called after it.
        var first = moved.Select(row => row.Key).ToHashSet();
        var logged = plan.OrderByDescending(one => first.Contains(one.Key))
            .Select(one => new LoggedRecord(
                panel.Bound.Table.Name,
                one.Key,
                named[one.Key].Title,
                LogAct.Moved,
                [
                    new ValueChange(
                        column?.Name ?? panel.Definition.Order.Column,
                        named[one.Key].Position,
                        scale.Write(one.Position)
                    ),
                ]
            ));
        var records = logged.ToList();
        return await acts.CarryOutAsync<MoveOutcome.Done>(
            panel,
            transaction,
            async () =>
            {
                var witnesses = new Witnesses(new SourceRows(transaction.Connection!));
                await witnesses.WatchAsync(
                    panel.Bound.Table.Name,
                    panel.Bound.Identity.Columns,
                    plan.Select(one => RecordKey.ValuesOf(panel.Bound, one.Key)!.ToArray<string?>()),
                    cancellationToken
                );
                if (await rows.WriteAsync(plan, scale, cancellationToken) > plan.Count)
                    return (null!, new FieldProblem("keys", DoubledKey.Says(panel.Bound)));
                return (
                    new Act<MoveOutcome.Done>(LogAct.Moved, records, place => new MoveOutcome.Done(
                        moved.Count,
                        plan.Count,
                        place.Entry,
                        named[moved[0].Key].Title
                    ))
                    {
                        Witnesses = witnesses,
                    },
                    null
                );
            },
            cancellationToken
        ) switch
        {
            ActEnd<MoveOutcome.Done>.Done(var done) => done,
            ActEnd<MoveOutcome.Done>.Refused(var problems) => new MoveOutcome.Refused(problems),
            var other => throw new InvalidOperationException($"An end that is not known here: {other}."),
        };
    }

    private static async Task<IReadOnlyList<string>> FirstAsync(
        OpenPanel panel,
        NpgsqlConnection connection,
        IReadOnlyList<OrderBy> by,
        CancellationToken cancellationToken
    )
    {
        var titles = new RowTitles(new SourceReader(panel.Model, connection), panel.Panels);
        var columns = titles.ColumnsOf(panel.Bound!.Table);
        var (table, _, group) = Names(panel);
        var read = string.Join(", ", columns.Select(column => $"{Quote(column)}::text"));
        await using var command = new NpgsqlCommand(
            $"SELECT {read} FROM {table} ORDER BY {(group is null ? "" : group + ", ")}{OrderSql(panel.Bound, by)} LIMIT {Shown.ToString(CultureInfo.InvariantCulture)}",
            connection
        );
        var rows = new List<string?[]>();
        await using (var reader = await command.ExecuteReaderAsync(cancellationToken))
        {
            while (await reader.ReadAsync(cancellationToken))
                rows.Add([
                    .. Enumerable.Range(0, reader.FieldCount).Select(i => reader.IsDBNull(i) ? null : reader.GetString(i)),
                ]);
        }

        return [.. (await titles.ReadAsync(panel.Bound.Table, columns, rows, cancellationToken)).Select(named => named.Title)];
    }

    private static string OrderSql(BoundPanel panel, IReadOnlyList<OrderBy> by)
    {
        IReadOnlyList<OrderBy> wanted = by.Count > 0 ? by : [new OrderBy(panel.Definition.Order!.Column, Descending: false)];
        return string.Join(
            ", ",
            wanted
                .Select(part =>
                    $"{Quote(part.Column)}{(part.Descending ? " DESC" : "")} NULLS {(part.EmptyFirst ? "FIRST" : "LAST")}"
                )
                .Concat(panel.Identity.Columns.Where(column => wanted.All(part => part.Column != column)).Select(Quote))
                .Append("ctid")
        );
    }

    private static async Task<long> AskAsync(NpgsqlConnection connection, string sql, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = Seconds };
        return (long)(await command.ExecuteScalarAsync(cancellationToken))!;
    }

    private static (string Table, string Position, string? Group) Names(OpenPanel panel) =>
        (
            SqlNames.Helper.DelimitIdentifier(panel.Bound!.Table.Name.Name, panel.Bound.Table.Name.Schema),
            Quote(panel.Definition.Order!.Column),
            panel.Definition.Order.Group is { } group ? Quote(group) : null
        );

    private static string Quote(string name) => SqlNames.Helper.DelimitIdentifier(name);

    private static MoveOutcome.Refused NotNumbered() =>
        Refused("order", "Some records share a position or have none, so moving one would have no effect. Number them first.");

    private static MoveOutcome.Refused Refused(string field, string message) => new([new FieldProblem(field, message)]);
}

/// <summary>A place between records.</summary>
/// <param name="Position">A position.</param>
/// <param name="IsAfter">Whether the place is right after the record at it; else right before.</param>
internal sealed record Anchor(long Position, bool IsAfter);
