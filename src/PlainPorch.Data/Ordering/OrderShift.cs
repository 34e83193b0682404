using System.Globalization;
using Npgsql;
using PlainPorch.Core.Ordering;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Ordering;

/// <summary>
/// Shifts positions of many records at once, by one statement; by two where the database wants each position to be there once at
/// every moment.
/// </summary>
/// <param name="panel">The panel, with a running order.</param>
/// <param name="connection">An open connection to the source, with a transaction in which nobody else writes positions
/// there.</param>
internal sealed class OrderShift(BoundPanel panel, NpgsqlConnection connection)
{
    private const int Seconds = 600;

    private readonly Column _column = panel.Table.Find(panel.Definition.Order!.Column)!;
    private readonly PositionScale _scale = PositionScale.Of(panel.Table.Find(panel.Definition.Order.Column)!.Type)!;
    private readonly string _table = SqlNames.Helper.DelimitIdentifier(panel.Table.Name.Name, panel.Table.Name.Schema);
    private readonly string _position = SqlNames.Helper.DelimitIdentifier(panel.Definition.Order.Column);

    /// <summary>Whether the database wants each position to be there once.</summary>
    public bool IsUnique => panel.Table.Keys.Any(key => key.Columns.Contains(_column.Name));

    /// <summary>A position as it is written, of an SQL expression for its number.</summary>
    public string Written(string number) =>
        _column.Type.Kind is ValueKind.Text
            ? $"lpad(({number})::text, {_scale.Write(1).Length.ToString(CultureInfo.InvariantCulture)}, '0')"
            : $"({number})";

    /// <summary>Moves the records of a group on, so that there is room before the first.</summary>
    /// <param name="by">How far; at least 1.</param>
    /// <param name="group">The value of the column that groups; null where it is empty, or nothing groups.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>How many were moved; null where there is no room for that.</returns>
    public async Task<long?> MakeRoomAsync(long by, string? group, CancellationToken cancellationToken)
    {
        var within =
            panel.Definition.Order!.Group is not { } column ? "true"
            : group is null ? $"{SqlNames.Helper.DelimitIdentifier(column)} IS NULL"
            : $"{SqlNames.Helper.DelimitIdentifier(column)} = CAST($1::text AS {panel.Table.Find(column)!.Type.StoreType})";
        string?[] values = panel.Definition.Order.Group is not null && group is not null ? [group] : [];
        var greatest = await GreatestAsync(cancellationToken);
        if (greatest + by > _scale.Greatest)
            return null;
        if (!IsUnique)
            return await ExecuteAsync(Shift(by), within, values, cancellationToken);
        var aside = greatest + by;
        if (greatest + aside > _scale.Greatest)
            return null;
        await ExecuteAsync(Shift(aside), within, values, cancellationToken);
        return await ExecuteAsync(Shift(by - aside), within, values, cancellationToken);
    }

    /// <summary>
    /// Takes all positions out of the way of those that are going to be written, where that is needed and there is room.
    /// </summary>
    public async Task ClearAsync(CancellationToken cancellationToken)
    {
        if (IsUnique && await GreatestAsync(cancellationToken) is var greatest && (greatest * 2) + 1 <= _scale.Greatest)
            await ExecuteAsync(Shift(greatest + 1), "true", [], cancellationToken);
    }

    /// <summary>The greatest position that any record has; 0 where none has one.</summary>
    public async Task<long> GreatestAsync(CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(
            $"SELECT coalesce(max({Number}), 0)::bigint FROM {_table} WHERE {IsNumber}",
            connection
        )
        {
            CommandTimeout = Seconds,
        };
        return (long)(await command.ExecuteScalarAsync(cancellationToken))!;
    }

    private string IsNumber =>
        _column.Type.Kind is ValueKind.Text ? $"{_position} ~ '^\\s*[0-9]+\\s*$'" : $"{_position} IS NOT NULL";

    // A number as it is, so that an index has the greatest one at its end.
    private string Number => _column.Type.Kind is ValueKind.Text ? $"{_position}::numeric" : _position;

    private string Shift(long by) => Written($"{Number} + ({by.ToString(CultureInfo.InvariantCulture)})");

    private async Task<long> ExecuteAsync(string written, string within, string?[] values, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(
            $"UPDATE {_table} SET {_position} = {written} WHERE {within} AND {IsNumber}",
            connection
        )
        {
            CommandTimeout = Seconds,
        };
        foreach (var value in values)
            command.Parameters.Add(new NpgsqlParameter<string?> { TypedValue = value });
        return await command.ExecuteNonQueryAsync(cancellationToken);
    }
}
