using PlainPorch.Core.Filters;
using PlainPorch.Core.History;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;
using PlainPorch.Data.Ordering;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>How a new row comes to its number, its position and its key.</summary>
public sealed partial class RecordWriter
{
    private LoggedRecord MovedAside(long moved) =>
        new(Panel.Table.Name, null, $"{moved} others moved to make room", LogAct.Moved, []);

    // The new row, within the transaction; or why it cannot be there.
    private async Task<(NewRow? Row, FieldProblem? Problem)> PutNewAsync(
        WriteSession session,
        IReadOnlyDictionary<string, string?> values,
        BoundColumn? numbered,
        CancellationToken cancellationToken
    )
    {
        var row = new Row();
        foreach (var (name, text) in values)
            row[RecordModel.Property(name)] = ClrValue.From(Panel.Table.Find(name)!.Type, text);
        if (numbered is not null)
        {
            if (await TakeNumberAsync(session, numbered, cancellationToken) is not { } number)
                return (
                    null,
                    new(numbered.Name, $"{numbered.Label} has no number left above the highest one. Enter a free one.")
                );
            row[RecordModel.Property(numbered.Name)] = ClrValue.From(numbered.Type, number);
        }

        var moved = await PlaceAsync(session, row, values, cancellationToken);
        await TakeTurnAboveAsync(session, values, cancellationToken);
        if (await PutAsync(session, row, values, cancellationToken) is not { } keyValues)
            return (null, SilentlyRefused().Problems[0]);
        if (await IsDoubledAsync(session, keyValues, cancellationToken))
            return (null, Taken().Problems[0]);
        if (await CircleAsync(session, values, keyValues.SequenceEqual, cancellationToken) is { } circle)
            return (null, circle);
        return (new NewRow(RecordKey.Write(keyValues), keyValues, moved), null);
    }

    // A new record stands last in the running order, or first; first without a gap moves the others on.
    private async Task<long> PlaceAsync(
        WriteSession session,
        Row row,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        if (
            Panel.Definition.Order is not { } order
            || values.GetValueOrDefault(order.Column) is not null
            || Panel.Table.Find(order.Column) is not { IsWrittenByDatabaseOnly: false } column
            || PositionScale.Of(column.Type) is not { } scale
        )
        {
            return 0;
        }

        var group = order.Group is { } grouped ? values.GetValueOrDefault(grouped) : null;
        var connection = session.Connection;
        await OrderLock.TakeAsync(connection, Panel.Table.Name, group, cancellationToken);
        var filter =
            order.Group is null ? null
            : group is null ? new Filter.Empty(order.Group)
            : (Filter)new Filter.EqualTo(order.Group, group);
        var outermost = await store.OutermostAsync(session.Reader, order.Column, filter, order.NewComesFirst, cancellationToken);
        var gap = order.IsDense ? 1 : Math.Max(1, scale.GapFor(Panel.Table.EstimatedRows ?? 0));
        var position =
            !PositionScale.TryRead(outermost, out var last) ? gap
            : order.NewComesFirst ? last - gap
            : last + gap;
        var moved = 0L;
        if (position < 1 && last > 1 && !order.IsDense)
            position = last / 2;
        else if (position < 1 && await new OrderShift(Panel, connection).MakeRoomAsync(gap, group, cancellationToken) is { } room)
            (position, moved) = (last, room);
        // Where there is no room the record gets no position, and the panel says that it wants numbering.
        if (position >= 1 && position <= scale.Greatest)
            row[RecordModel.Property(order.Column)] = ClrValue.From(column.Type, scale.Write(position));
        return moved;
    }

    private async Task<string?> TakeNumberAsync(WriteSession session, BoundColumn column, CancellationToken cancellationToken)
    {
        var connection = session.Connection;
        await TableLock.TakeAsync(connection, Panel.Table.Name, "next number", cancellationToken);
        return await store.NextNumberAsync(connection, column, cancellationToken);
    }

    private sealed record NewRow(string Key, IReadOnlyList<string> KeyValues, long Moved);
}
