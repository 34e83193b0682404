using System.Globalization;
using Npgsql;
using NpgsqlTypes;
using PlainPorch.Core.Acts;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Takes whole rows out of tables and puts them back as they were, within one transaction. Values travel in the database's own
/// text
/// form, which gives the same value again for every type; identifiers are quoted by EF Core, everything else is a parameter.
/// </summary>
/// <param name="connection">An open connection to the source.</param>
internal sealed class SourceRows(NpgsqlConnection connection)
{
    // Long enough for two hundred thousand rows with their triggers; whoever waits can give it up.
    private const int Seconds = 600;

    private readonly Dictionary<TableName, IReadOnlyList<StoredColumn>> _columns = [];

    /// <summary>The columns that a table has now, in its own order.</summary>
    public async Task<IReadOnlyList<StoredColumn>> ColumnsAsync(TableName table, CancellationToken cancellationToken)
    {
        const string Question = """
            SELECT a.attname::text, pg_catalog.format_type(a.atttypid, a.atttypmod), a.attgenerated <> ''
            FROM pg_catalog.pg_attribute a
            JOIN pg_catalog.pg_class c ON c.oid = a.attrelid JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace
            WHERE n.nspname = $1 AND c.relname = $2 AND a.attnum > 0 AND NOT a.attisdropped ORDER BY a.attnum
            """;
        if (_columns.TryGetValue(table, out var known))
            return known;
        await using var command = Command(Question, table.Schema, table.Name);
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var columns = new List<StoredColumn>();
        while (await reader.ReadAsync(cancellationToken))
            columns.Add(new StoredColumn(reader.GetString(0), reader.GetString(1), reader.GetBoolean(2)));
        return _columns[table] = columns;
    }

    /// <summary>Reads rows.</summary>
    /// <inheritdoc cref="LockAsync"/>
    public Task<IReadOnlyList<(string Place, string?[] Values)>> ReadAsync(
        TableName table,
        IReadOnlyList<string> places,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    ) => ReadAsync(table, places, columns, "", cancellationToken);

    /// <summary>Reads rows and keeps others from writing to them until the transaction ends.</summary>
    /// <param name="table">The table.</param>
    /// <param name="places">Where the rows are.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The rows in the order of <paramref name="places"/>, each with its version last; those that are gone are left
    /// out.</returns>
    public Task<IReadOnlyList<(string Place, string?[] Values)>> LockAsync(
        TableName table,
        IReadOnlyList<string> places,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    ) => ReadAsync(table, places, columns, "FOR UPDATE OF t", cancellationToken);

    private async Task<IReadOnlyList<(string Place, string?[] Values)>> ReadAsync(
        TableName table,
        IReadOnlyList<string> places,
        IReadOnlyList<string> columns,
        string locking,
        CancellationToken cancellationToken
    )
    {
        var read = string.Join(", ", columns.Select(column => $"t.{Quote(column)}::text").Append("t.xmin::text"));
        await using var command = Command(
            $"SELECT t.tableoid::text, t.ctid::text, {read} FROM {Quote(table)} t WHERE {AtPlaces} {locking}",
            Places(places)
        );
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var found = new Dictionary<string, string?[]>();
        while (await reader.ReadAsync(cancellationToken))
        {
            var values = new string?[columns.Count + 1];
            for (var i = 0; i < values.Length; i++)
                values[i] = reader.IsDBNull(i + 2) ? null : reader.GetString(i + 2);
            found[$"{reader.GetString(0)}/{reader.GetString(1)}"] = values;
        }

        return [.. places.Where(found.ContainsKey).Select(place => (place, found[place]))];
    }

    /// <summary>Deletes rows of tables, all by one statement, so that they may refer to each other in a circle.</summary>
    /// <param name="rows">The tables with the places of their rows.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>How many rows went.</returns>
    public async Task<long> DeleteAsync(
        IReadOnlyList<(TableName Table, IReadOnlyList<string> Places)> rows,
        CancellationToken cancellationToken
    )
    {
        var parts = rows.Select(
            (part, i) => $"gone{Number(i)} AS (DELETE FROM {Quote(part.Table)} t WHERE {AtPlacesOf(2 * i)} RETURNING 1)"
        );
        var counts = rows.Select((_, i) => $"(SELECT count(*) FROM gone{Number(i)})");
        await using var command = Command(
            $"WITH {string.Join(", ", parts)} SELECT {string.Join(" + ", counts)}",
            [.. rows.SelectMany(part => Places(part.Places))]
        );
        return (long)(await command.ExecuteScalarAsync(cancellationToken))!;
    }

    /// <summary>Sets columns of rows.</summary>
    /// <param name="table">The table.</param>
    /// <param name="places">Where the rows are.</param>
    /// <param name="values">The columns with their new values; <see cref="Moment"/> for the present moment.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>How many rows were changed.</returns>
    public async Task<long> SetAsync(
        TableName table,
        IReadOnlyList<string> places,
        IReadOnlyList<(string Column, string? Value)> values,
        CancellationToken cancellationToken
    )
    {
        var types = await TypesAsync(table, cancellationToken);
        var sets = values.Select(
            (pair, i) =>
                pair.Value == Moment
                    ? $"{Quote(pair.Column)} = now()"
                    : $"{Quote(pair.Column)} = CAST(${Number(i + 3)}::text AS {types[pair.Column]})"
        );
        await using var command = Command(
            $"UPDATE {Quote(table)} t SET {string.Join(", ", sets)} WHERE {AtPlaces}",
            [.. Places(places), .. values.Select(pair => (object?)pair.Value)]
        );
        return await command.ExecuteNonQueryAsync(cancellationToken);
    }

    /// <summary>Sets columns of the row at a place, if it is still that version.</summary>
    /// <param name="table">The table.</param>
    /// <param name="place">Where the row is.</param>
    /// <param name="values">The columns with their new values, in the database's text form.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Where it is then; null where no row was changed.</returns>
    public async Task<RowPlace?> RewriteAsync(
        TableName table,
        RowPlace place,
        IReadOnlyList<(string Column, string? Value)> values,
        CancellationToken cancellationToken
    )
    {
        var sets = values.Select((pair, i) => $"{Quote(pair.Column)} = ${Number(i + 4)}");
        await using var command = Command(
            $"UPDATE {Quote(table)} t SET {string.Join(", ", sets)} WHERE t.tableoid = CAST($1::text AS oid) AND t.ctid = CAST($2::text AS tid) AND t.xmin = CAST($3::text AS xid) RETURNING {WhereItIs}",
            [.. place.Parts, .. values.Select(pair => (object?)new Untyped(pair.Value))]
        );
        return await PlaceAsync(command, cancellationToken);
    }

    /// <summary>Adds a row to a table.</summary>
    /// <param name="table">The table.</param>
    /// <param name="values">The columns with their values, in the database's text form; others get their default.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Where it is; null where the database took no row.</returns>
    public async Task<RowPlace?> AddAsync(
        TableName table,
        IReadOnlyList<(string Column, string? Value)> values,
        CancellationToken cancellationToken
    )
    {
        var names = string.Join(", ", values.Select(pair => Quote(pair.Column)));
        var given = string.Join(", ", values.Select((pair, i) => $"${Number(i + 1)}"));
        await using var command = Command(
            values.Count == 0
                ? $"INSERT INTO {Quote(table)} AS t DEFAULT VALUES RETURNING {WhereItIs}"
                : $"INSERT INTO {Quote(table)} AS t ({names}) VALUES ({given}) RETURNING {WhereItIs}",
            [.. values.Select(pair => (object?)new Untyped(pair.Value))]
        );
        return await PlaceAsync(command, cancellationToken);
    }

    // As the column's own type, so that what is too long is refused: a cast would cut it off.
    private sealed record Untyped(string? Text);

    private const string WhereItIs = "t.tableoid::text, t.ctid::text, t.xmin::text";

    private static async Task<RowPlace?> PlaceAsync(NpgsqlCommand command, CancellationToken cancellationToken)
    {
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        return await reader.ReadAsync(cancellationToken)
            ? RowPlace.TryRead([reader.GetString(0), reader.GetString(1), reader.GetString(2)])
            : null;
    }

    private async Task<Dictionary<string, string>> TypesAsync(TableName table, CancellationToken cancellationToken) =>
        (await ColumnsAsync(table, cancellationToken)).ToDictionary(column => column.Name, column => column.Type);

    /// <summary>The value that stands for the present moment.</summary>
    public const string Moment = "\u0001now";

    /// <summary>Puts rows into tables, all by one statement.</summary>
    /// <param name="rows">The tables with the columns and values of their rows.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>For each of <paramref name="rows"/> what came: the values of each row, in its order of columns, as the database
    /// took it; computed ones are null.</returns>
    public async Task<IReadOnlyList<IReadOnlyList<string?[]>>> InsertAsync(
        IReadOnlyList<StoredRows> rows,
        CancellationToken cancellationToken
    )
    {
        var parts = new List<string>();
        var values = new List<object?>();
        var places = new List<List<int>>();
        foreach (var stored in rows)
        {
            var types = (await ColumnsAsync(stored.Table, cancellationToken))
                .Where(column => !column.IsGenerated)
                .ToDictionary(column => column.Name, column => column.Type);
            var columns = stored
                .Columns.Select((name, place) => (name, place))
                .Where(column => types.ContainsKey(column.name))
                .ToList();
            var names = string.Join(", ", columns.Select(column => Quote(column.name)));
            var casts = string.Join(", ", columns.Select((column, i) => $"CAST(r.c{Number(i)} AS {types[column.name]})"));
            var arrays = string.Join(", ", columns.Select((_, i) => $"${Number(values.Count + i + 1)}::text[]"));
            var aliases = string.Join(", ", columns.Select((_, i) => $"c{Number(i)}"));
            var came = string.Join(", ", columns.Select(column => $"{Quote(column.name)}::text"));
            values.AddRange(columns.Select(column => stored.Rows.Select(row => row[column.place]).ToArray()));
            parts.Add(
                $"came{Number(parts.Count)} AS (INSERT INTO {Quote(stored.Table)} ({names}) OVERRIDING SYSTEM VALUE SELECT {casts} FROM unnest({arrays}) AS r({aliases}) RETURNING ARRAY[{came}] AS came)"
            );
            places.Add([.. columns.Select(column => column.place)]);
        }

        var all = string.Join(" UNION ALL ", parts.Select((_, i) => $"SELECT {Number(i)}, came FROM came{Number(i)}"));
        await using var command = Command($"WITH {string.Join(", ", parts)} {all}", [.. values]);
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var found = rows.Select(_ => new List<string?[]>()).ToList();
        while (await reader.ReadAsync(cancellationToken))
        {
            var part = reader.GetInt32(0);
            var taken = await reader.GetFieldValueAsync<string?[]>(1, cancellationToken);
            var row = new string?[rows[part].Columns.Count];
            foreach (var (place, value) in places[part].Zip(taken))
                row[place] = value;
            found[part].Add(row);
        }

        return found;
    }

    /// <summary>Sets columns of rows that are found by their key, each row to values of its own.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">The key's columns.</param>
    /// <param name="columns">The columns to set.</param>
    /// <param name="rows">For each row the key's values and those of the columns.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>How many rows were changed.</returns>
    public async Task<long> RestoreAsync(
        TableName table,
        IReadOnlyList<string> key,
        IReadOnlyList<string> columns,
        IReadOnlyList<(string?[] Key, string?[] Values)> rows,
        CancellationToken cancellationToken
    )
    {
        var types = await TypesAsync(table, cancellationToken);
        var count = key.Count + columns.Count;
        var arrays = string.Join(", ", Enumerable.Range(1, count).Select(i => $"${Number(i)}::text[]"));
        var aliases = string.Join(", ", Enumerable.Range(0, count).Select(i => $"c{Number(i)}"));
        var tests = string.Join(" AND ", key.Select((name, i) => $"t.{Quote(name)} = CAST(r.c{Number(i)} AS {types[name]})"));
        var sets = string.Join(
            ", ",
            columns.Select((name, i) => $"{Quote(name)} = CAST(r.c{Number(key.Count + i)} AS {types[name]})")
        );
        await using var command = Command(
            $"UPDATE {Quote(table)} t SET {sets} FROM unnest({arrays}) AS r({aliases}) WHERE {tests}",
            [
                .. key.Select((_, i) => (object?)rows.Select(row => row.Key[i]).ToArray()),
                .. columns.Select((_, i) => (object?)rows.Select(row => row.Values[i]).ToArray()),
            ]
        );
        return await command.ExecuteNonQueryAsync(cancellationToken);
    }

    /// <summary>Reads rows by the values of their key, and keeps others from writing to them.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">The key's columns.</param>
    /// <param name="keys">The keys' values.</param>
    /// <param name="columns">The columns to read.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>For each key the place and the values of its row, or null where there is none.</returns>
    public async Task<IReadOnlyList<(string Place, string?[] Values)?>> FindAsync(
        TableName table,
        IReadOnlyList<string> key,
        IReadOnlyList<string?[]> keys,
        IReadOnlyList<string> columns,
        CancellationToken cancellationToken
    )
    {
        var read = string.Join(
            ", ",
            columns
                .Select(column => $"t.{Quote(column)}::text")
                .Prepend("t.ctid::text")
                .Prepend("t.tableoid::text")
                .Prepend("r.n")
        );
        await using var command = ByKey(table, await ColumnsAsync(table, cancellationToken), key, keys, read, "FOR UPDATE OF t");
        var found = new (string, string?[])?[keys.Count];
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        while (await reader.ReadAsync(cancellationToken))
        {
            var values = new string?[columns.Count];
            for (var i = 0; i < values.Length; i++)
                values[i] = reader.IsDBNull(i + 3) ? null : reader.GetString(i + 3);
            found[reader.GetInt64(0) - 1] = ($"{reader.GetString(1)}/{reader.GetString(2)}", values);
        }

        return found;
    }

    /// <summary>Reads the version of rows, and a hash of their values, by the values of their key.</summary>
    /// <param name="table">The table.</param>
    /// <param name="key">The key's columns.</param>
    /// <param name="keys">The keys' values.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>For each key the state of its row; null where there is none.</returns>
    public async Task<IReadOnlyList<RowState?>> StatesAsync(
        TableName table,
        IReadOnlyList<string> key,
        IReadOnlyList<string?[]> keys,
        CancellationToken cancellationToken
    )
    {
        var columns = await ColumnsAsync(table, cancellationToken);
        // Bytes can be many; whoever writes to a row changes its version anyway.
        var hashed = string.Join(
            ", ",
            columns.Where(column => column.Type != "bytea").Select(column => $"t.{Quote(column.Name)}")
        );
        var found = new RowState?[keys.Count];
        await using var command = ByKey(table, columns, key, keys, $"r.n, t.xmin::text, md5(ROW({hashed})::text)", "");
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        while (await reader.ReadAsync(cancellationToken))
            found[reader.GetInt64(0) - 1] = new RowState(reader.GetString(1), reader.GetString(2));
        return found;
    }

    /// <summary>Reads the version of the row at a place.</summary>
    /// <returns>Its state, without a hash; null where there is none.</returns>
    public async Task<RowState?> StateAtAsync(TableName table, string place, CancellationToken cancellationToken) =>
        await ReadAsync(table, [place], [], cancellationToken) is [var (_, values)] ? new RowState(values[^1]!, null) : null;

    /// <summary>Whether the database numbers a column by a sequence that belongs to it.</summary>
    public async Task<bool> HasSequenceAsync(TableName table, string column, CancellationToken cancellationToken)
    {
        await using var command = Command("SELECT pg_catalog.pg_get_serial_sequence($1, $2) IS NOT NULL", Quote(table), column);
        return (bool)(await command.ExecuteScalarAsync(cancellationToken))!;
    }

    /// <summary>Draws numbers from the sequence of a column; they stay drawn, whatever becomes of the transaction.</summary>
    public async Task<IReadOnlyList<string>> DrawAsync(
        TableName table,
        string column,
        int count,
        CancellationToken cancellationToken
    )
    {
        await using var command = Command(
            "SELECT pg_catalog.nextval(pg_catalog.pg_get_serial_sequence($1, $2)::regclass)::text FROM generate_series(1, $3::int)",
            Quote(table),
            column,
            Number(count)
        );
        await using var reader = await command.ExecuteReaderAsync(cancellationToken);
        var drawn = new List<string>();
        while (await reader.ReadAsync(cancellationToken))
            drawn.Add(reader.GetString(0));
        return drawn;
    }

    /// <summary>
    /// The greatest number in a column, among the rows with some values; others who number this table wait until the transaction
    /// ends.
    /// </summary>
    /// <returns>The number; null where there is no such row.</returns>
    public async Task<long?> GreatestAsync(
        TableName table,
        string column,
        IReadOnlyList<(string Column, string? Value)> among,
        CancellationToken cancellationToken
    )
    {
        await TableLock.TakeAsync(connection, table, "next number", cancellationToken);
        var types = (await ColumnsAsync(table, cancellationToken)).ToDictionary(one => one.Name, one => one.Type);
        var tests = among
            .Select((pair, i) => $"t.{Quote(pair.Column)} = CAST(${Number(i + 1)}::text AS {types[pair.Column]})")
            .Append("true");
        await using var command = Command(
            $"SELECT max(t.{Quote(column)})::bigint FROM {Quote(table)} t WHERE {string.Join(" AND ", tests)}",
            [.. among.Select(pair => (object?)pair.Value)]
        );
        return await command.ExecuteScalarAsync(cancellationToken) as long?;
    }

    /// <summary>The version of the rows that a transaction wrote: its number without the upper half.</summary>
    /// <param name="transaction">The number, as <see cref="TransactionAsync"/> gives it.</param>
    public static uint VersionOf(string transaction) => (uint)long.Parse(transaction, CultureInfo.InvariantCulture);

    /// <summary>The number of the transaction that is open, by which it can be asked later whether it came to its end.</summary>
    public async Task<string> TransactionAsync(CancellationToken cancellationToken)
    {
        await using var command = Command("SELECT pg_catalog.txid_current()::text");
        return (string)(await command.ExecuteScalarAsync(cancellationToken))!;
    }

    // Looked up by their place; which part of a partitioned table a place is in has to be told as well.
    private static string AtPlaces => AtPlacesOf(0);

    private static string AtPlacesOf(int before) =>
        $"t.ctid = ANY (${Number(before + 2)}::tid[]) AND (t.tableoid, t.ctid) IN (SELECT * FROM unnest(${Number(before + 1)}::oid[], ${Number(before + 2)}::tid[]))";

    private static object?[] Places(IReadOnlyList<string> places)
    {
        var parts = places.Select(place => place.Split('/')).ToList();
        return
        [
            parts.Select(part => uint.Parse(part[0], CultureInfo.InvariantCulture)).ToArray(),
            parts.Select(part => part[1]).ToArray(),
        ];
    }

    private NpgsqlCommand ByKey(
        TableName table,
        IReadOnlyList<StoredColumn> columns,
        IReadOnlyList<string> key,
        IReadOnlyList<string?[]> keys,
        string read,
        string locking
    )
    {
        var types = columns.ToDictionary(column => column.Name, column => column.Type);
        var arrays = string.Join(", ", key.Select((_, i) => $"${Number(i + 1)}::text[]"));
        var aliases = string.Join(", ", key.Select((_, i) => $"k{Number(i)}"));
        var tests = string.Join(" AND ", key.Select((name, i) => $"t.{Quote(name)} = CAST(r.k{Number(i)} AS {types[name]})"));
        return Command(
            $"SELECT {read} FROM unnest({arrays}) WITH ORDINALITY AS r({aliases}, n) JOIN {Quote(table)} t ON {tests} {locking}",
            [.. key.Select((_, i) => (object?)keys.Select(values => values[i]).ToArray())]
        );
    }

    private NpgsqlCommand Command(string sql, params IReadOnlyList<object?> values)
    {
        var command = new NpgsqlCommand(sql, connection) { CommandTimeout = Seconds };
        foreach (var value in values)
        {
            command.Parameters.Add(
                value switch
                {
                    Untyped(var text) => new NpgsqlParameter
                    {
                        Value = (object?)text ?? DBNull.Value,
                        NpgsqlDbType = NpgsqlDbType.Unknown,
                    },
                    uint[] oids => new NpgsqlParameter { Value = oids, NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Oid },
                    string?[] texts => new NpgsqlParameter
                    {
                        Value = texts,
                        NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Text,
                    },
                    _ => new NpgsqlParameter { Value = value ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Text },
                }
            );
        }

        return command;
    }

    private static string Number(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Quote(string name) => SqlNames.Helper.DelimitIdentifier(name);

    private static string Quote(TableName table) => SqlNames.Helper.DelimitIdentifier(table.Name, table.Schema);
}

/// <summary>A column as a table has it now.</summary>
/// <param name="Name">Its exact name.</param>
/// <param name="Type">Its type as the database writes it.</param>
/// <param name="IsGenerated">Whether the database computes it.</param>
internal sealed record StoredColumn(string Name, string Type, bool IsGenerated);

/// <summary>Rows of one table, whole.</summary>
/// <param name="Table">The table.</param>
/// <param name="Columns">The columns' names.</param>
/// <param name="Rows">The values of each row in the database's text form.</param>
internal sealed record StoredRows(TableName Table, IReadOnlyList<string> Columns, IReadOnlyList<string?[]> Rows);
