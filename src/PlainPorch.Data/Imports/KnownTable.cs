using System.Globalization;
using Npgsql;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Imports;

/// <summary>What an import does with a table that exists.</summary>
public enum ImportMode
{
    /// <summary>Makes a new table.</summary>
    New,

    /// <summary>Adds all rows.</summary>
    Add,

    /// <summary>Removes what the table has, and adds all rows.</summary>
    Replace,

    /// <summary>Changes the rows that have a key of the file.</summary>
    Update,

    /// <summary>Changes those, and adds the others.</summary>
    Upsert,

    /// <summary>Does that, and removes the rows that the file does not have.</summary>
    Mirror,
}

/// <summary>
/// Writes rows of a file to a table that exists, in the caller's transaction. They go to a table of the session first, by <c>COPY</c>; from
/// there in as few statements as can be: what the database refuses is halved until the rows are found that it refuses.
/// </summary>
/// <param name="connection">The connection, with a transaction begun.</param>
/// <param name="table">The table.</param>
public sealed class KnownTable(NpgsqlConnection connection, Table table)
{
    private const string Staging = "porch_import";
    private const string RowNumber = "porch_row";

    private readonly string _target = SqlNames.Helper.DelimitIdentifier(table.Name.Name, table.Name.Schema);
    private readonly List<RejectedRow> _rejected = [];
    private readonly HashSet<string> _staged = [];

    /// <summary>Writes the rows of a file.</summary>
    /// <param name="file">The table in the file.</param>
    /// <param name="guesses">What its columns are.</param>
    /// <param name="mode">What to do.</param>
    /// <param name="key">By which columns rows are found; empty for the primary key.</param>
    /// <param name="progress">Told how many rows were read, now and then.</param>
    /// <param name="cancellationToken">Stops it; the caller rolls back.</param>
    /// <param name="recipe">Where the file's columns go, in their order; null for finding it out.</param>
    /// <exception cref="ImportRefusedException">The columns do not fit, or too many rows do not.</exception>
    public async Task<ImportedTable> WriteAsync(
        FileTable file,
        IReadOnlyList<ColumnGuess> guesses,
        ImportMode mode,
        IReadOnlyList<string> key,
        Action<long> progress,
        CancellationToken cancellationToken,
        IReadOnlyList<FieldMatch>? recipe = null
    )
    {
        ArgumentNullException.ThrowIfNull(file);
        ArgumentNullException.ThrowIfNull(guesses);
        ArgumentNullException.ThrowIfNull(progress);
        var columns = recipe is null ? Match(guesses) : Match(guesses, recipe);
        _staged.UnionWith(columns.Select(column => column.Target.Name));
        var keys = mode is ImportMode.Update or ImportMode.Upsert or ImportMode.Mirror ? KeysOf(key, columns) : [];
        var rows = await StageAsync(file, columns, keys, progress, cancellationToken);
        await RejectDoubledAsync(keys, cancellationToken);
        if (mode is ImportMode.Replace)
            await EmptyAsync(cancellationToken);
        var (matched, changed, added) = (0L, 0L, 0L);
        if (keys.Count > 0)
        {
            matched = await CountAsync($"WHERE EXISTS ({Matching(keys)})", cancellationToken);
            var others = columns.Where(column => !keys.Contains(column.Target)).ToList();
            if (others.Count > 0)
                changed = await InPartsAsync(Update(others, keys), cancellationToken);
        }

        var refusedChanges = _rejected.Count;
        if (mode is ImportMode.Update)
            await RejectUnknownAsync(keys, cancellationToken);
        else
            added = await InPartsAsync(Insert(columns, keys), cancellationToken);
        if (mode is not ImportMode.Update)
            await CatchUpAsync(columns, cancellationToken);
        var notes = file.Notes.ToList();
        var removed = mode is ImportMode.Mirror ? await RemoveOthersAsync(keys, notes, cancellationToken) : 0;
        await using (var drop = new NpgsqlCommand($"DROP TABLE {Staging}", connection))
            await drop.ExecuteNonQueryAsync(cancellationToken);
        return new ImportedTable(
            table.Name.Schema,
            table.Name.Name,
            rows,
            [.. columns.Select(column => ImportedColumn.Of(column.Target.Name, column.Target.Type.StoreType, column.Guess))],
            added,
            changed,
            // Those that were found, but for the changed ones and those whose change was refused.
            matched - changed - (refusedChanges - _rejectedBefore),
            [.. _rejected.OrderBy(row => row.Row)]
        )
        {
            Notes = notes,
            Removed = removed,
        };
    }

    // Rows that were refused before any were changed.
    private int _rejectedBefore;

    // A column of the file, and the one of the table that it goes into.
    private sealed record Matched(ColumnGuess Guess, int Place, Column Target);

    private List<Matched> Match(IReadOnlyList<ColumnGuess> guesses)
    {
        var matched = guesses
            .Select(
                (guess, place) =>
                    (
                        Guess: guess,
                        Place: place,
                        Target: table.StoredColumns.FirstOrDefault(column =>
                            column.Name.Equals(guess.Name, StringComparison.OrdinalIgnoreCase)
                        ) ?? table.StoredColumns.FirstOrDefault(column => Plain(column.Name) == Plain(guess.Name))
                    )
            )
            .ToList();
        if (matched.FirstOrDefault(one => one.Target is null) is { Guess: { } unknown })
            throw new ImportRefusedException(
                $"{table.Name} has no column for {unknown.Name}. Its columns are: {string.Join(", ", table.StoredColumns.Select(column => column.Name))}. Rename the column in the file, or leave it out there."
            );
        if (matched.GroupBy(one => one.Target!.Name).FirstOrDefault(group => group.Count() > 1) is { } twice)
            throw new ImportRefusedException(
                $"{string.Join(" and ", twice.Select(one => one.Guess.Name))} would both go into {table.Name}.{twice.Key}. Rename one of them in the file."
            );
        if (matched.FirstOrDefault(one => one.Target!.IsGenerated) is { Target: { } computed })
            throw new ImportRefusedException(
                $"{table.Name}.{computed.Name} is computed by the database. Leave it out in the file."
            );
        return [.. matched.Select(one => new Matched(one.Guess, one.Place, one.Target!))];
    }

    private List<Matched> Match(IReadOnlyList<ColumnGuess> guesses, IReadOnlyList<FieldMatch> recipe) =>
        [
            .. recipe
                .Select((match, place) => (Match: match, Place: place))
                .Where(one => one.Match.Column is not null)
                .Select(one => new Matched(
                    guesses[one.Place] with
                    {
                        Form = ValueForm.Find(one.Match.Type, one.Match.Pattern) ?? ValueForm.Text,
                    },
                    one.Place,
                    table.StoredColumns.FirstOrDefault(column => column.Name == one.Match.Column)
                        ?? throw new ImportRefusedException(
                            $"{table.Name} has no column {one.Match.Column}, into which the recipe has {one.Match.Source} go. Correct the recipe."
                        )
                )),
        ];

    private static string Plain(string name) => PlannedTable.Tidy(name, name).Replace("_", "", StringComparison.Ordinal);

    private List<Column> KeysOf(IReadOnlyList<string> key, List<Matched> columns)
    {
        var names =
            key.Count > 0
                ? key
                : table.DeclaredKeys.FirstOrDefault(one => one.IsPrimary)?.Columns
                    ?? throw new ImportRefusedException(
                        $"{table.Name} has no primary key. Say by --key which columns tell rows apart."
                    );
        return
        [
            .. names.Select(name =>
                columns.FirstOrDefault(column => column.Target.Name == name || column.Guess.Name == name)?.Target
                ?? throw new ImportRefusedException(
                    $"The file has no column for the key {name}. Add it to the file, or choose another key."
                )
            ),
        ];
    }

    private async Task<long> StageAsync(
        FileTable file,
        List<Matched> columns,
        List<Column> keys,
        Action<long> progress,
        CancellationToken cancellationToken
    )
    {
        var names = string.Join(", ", columns.Select(column => Quote(column.Target)));
        await using (
            var make = new NpgsqlCommand(
                $"CREATE TEMP TABLE {Staging} ON COMMIT DROP AS SELECT 0::bigint AS {RowNumber}, {names} FROM {_target} WITH NO DATA",
                connection
            )
        )
            await make.ExecuteNonQueryAsync(cancellationToken);
        var rows = 0L;
        try
        {
            await CopyText.IntoAsync(connection, $"COPY {Staging} ({RowNumber}, {names}) FROM STDIN", Write, cancellationToken);
        }
        catch (PostgresException refused)
        {
            throw new ImportRefusedException(
                $"{table.Name} takes a value not: {refused.MessageText} ({refused.Where ?? "no place told"}).",
                refused
            );
        }

        await using var index = new NpgsqlCommand($"CREATE INDEX ON {Staging} ({RowNumber}); ANALYZE {Staging}", connection);
        await index.ExecuteNonQueryAsync(cancellationToken);
        return rows;

        void Write(CopyText copy)
        {
            var values = new string?[columns.Count];
            foreach (var row in file.Rows())
            {
                cancellationToken.ThrowIfCancellationRequested();
                if (++rows % 50_000 == 0)
                    progress(rows);
                if (Read(row, columns, keys, values) is { } wrong)
                {
                    Reject(wrong);
                    continue;
                }

                copy.Write(row.Number.ToString(CultureInfo.InvariantCulture), isFirst: true);
                foreach (var value in values)
                    copy.Write(value, isFirst: false);
                copy.EndRow();
            }
        }
    }

    private static RejectedRow? Read(FileRow row, List<Matched> columns, List<Column> keys, string?[] values)
    {
        if (row.Problem is { } problem)
            return new RejectedRow(row.Number, null, problem);
        for (var place = 0; place < values.Length; place++)
        {
            var (guess, at, target) = columns[place];
            var text = row.Values[at];
            var isText = target.Type.Kind is ValueKind.Text;
            values[place] = null;
            if (string.IsNullOrEmpty(text) || (!isText && string.IsNullOrWhiteSpace(text)))
            {
                if (keys.Contains(target))
                    return new RejectedRow(row.Number, guess.Name, "It is empty, and rows are told apart by it. Fill it in.");
                continue;
            }

            // As the column of the file is read, be it for most of its rows; a text takes it as it stands.
            var form = guess.Nearly?.Form ?? guess.Form;
            var read = isText ? text : form.Read(text.Trim()) ?? text;
            if (!ValueText.TryRead(target.Type, read, out var value, out var wrong))
                return new RejectedRow(row.Number, guess.Name, $"“{(text.Length > 60 ? $"{text[..60]}…" : text)}”: {wrong}");
            values[place] = value;
        }

        return null;
    }

    private void Reject(RejectedRow row)
    {
        _rejected.Add(row);
        if (_rejected.Count > RejectedRow.Most)
            throw new ImportRefusedException(
                $"More than {RejectedRow.Most} rows do not fit. The first: row {_rejected[0].Row}{(_rejected[0].Column is { } column ? $", {column}" : "")}: {_rejected[0].Reason} Nothing was written."
            );
    }

    private async Task RejectDoubledAsync(List<Column> keys, CancellationToken cancellationToken)
    {
        if (keys.Count > 0)
        {
            var parts = string.Join(", ", keys.Select(Quote));
            await RejectAsync(
                $"SELECT {RowNumber}, first_value({RowNumber}) OVER same FROM {Staging} WINDOW same AS (PARTITION BY {parts} ORDER BY {RowNumber})",
                reader =>
                    reader.GetInt64(0) == reader.GetInt64(1)
                        ? null
                        : $"Row {reader.GetInt64(1).ToString(CultureInfo.InvariantCulture)} has the same key. Leave one of them out.",
                cancellationToken
            );
        }

        _rejectedBefore = _rejected.Count;
    }

    private Task RejectUnknownAsync(List<Column> keys, CancellationToken cancellationToken) =>
        RejectAsync(
            $"SELECT {RowNumber} FROM {Staging} AS s WHERE NOT EXISTS ({Matching(keys)}) ORDER BY {RowNumber}",
            _ => $"{table.Name} has no row with this key. Add it, or choose the mode upsert.",
            cancellationToken
        );

    private async Task RejectAsync(string sql, Func<NpgsqlDataReader, string?> reason, CancellationToken cancellationToken)
    {
        var rows = new List<long>();
        await using (var command = new NpgsqlCommand(sql, connection))
        await using (var reader = await command.ExecuteReaderAsync(cancellationToken))
            while (await reader.ReadAsync(cancellationToken))
                if (reason(reader) is { } why)
                {
                    Reject(new RejectedRow(reader.GetInt64(0), null, why));
                    rows.Add(reader.GetInt64(0));
                }

        if (rows.Count == 0)
            return;
        await using var remove = new NpgsqlCommand($"DELETE FROM {Staging} WHERE {RowNumber} = ANY ($1)", connection)
        {
            Parameters = { new NpgsqlParameter { Value = rows.ToArray() } },
        };
        await remove.ExecuteNonQueryAsync(cancellationToken);
    }

    private async Task EmptyAsync(CancellationToken cancellationToken)
    {
        try
        {
            await using var delete = new NpgsqlCommand($"DELETE FROM {_target}", connection);
            await delete.ExecuteNonQueryAsync(cancellationToken);
        }
        catch (PostgresException refused)
        {
            throw new ImportRefusedException(
                $"{table.Name} cannot be emptied: {refused.MessageText} {refused.Detail}. Nothing was written.",
                refused
            );
        }
    }

    private async Task<long> CountAsync(string where, CancellationToken cancellationToken)
    {
        await using var count = new NpgsqlCommand($"SELECT count(*) FROM {Staging} AS s {where}", connection);
        return (long)(await count.ExecuteScalarAsync(cancellationToken))!;
    }

    // Runs a statement over all rows that are left; what is refused is halved until it is a row.
    private async Task<long> InPartsAsync(string sql, CancellationToken cancellationToken)
    {
        var numbers = new List<long>();
        await using (var read = new NpgsqlCommand($"SELECT {RowNumber} FROM {Staging} ORDER BY {RowNumber}", connection))
        await using (var reader = await read.ExecuteReaderAsync(cancellationToken))
            while (await reader.ReadAsync(cancellationToken))
                numbers.Add(reader.GetInt64(0));
        return numbers.Count == 0 ? 0 : await PartAsync(sql, numbers, 0, numbers.Count - 1, cancellationToken);
    }

    private async Task<long> PartAsync(string sql, List<long> numbers, int first, int last, CancellationToken cancellationToken)
    {
        const string Savepoint = "porch_part";
        await ExecuteAsync($"SAVEPOINT {Savepoint}", cancellationToken);
        try
        {
            await using var command = new NpgsqlCommand(sql, connection)
            {
                CommandTimeout = 0,
                Parameters =
                {
                    new NpgsqlParameter { Value = numbers[first] },
                    new NpgsqlParameter { Value = numbers[last] },
                },
            };
            var written = await command.ExecuteNonQueryAsync(cancellationToken);
            await ExecuteAsync($"RELEASE SAVEPOINT {Savepoint}", cancellationToken);
            return written;
        }
        catch (PostgresException refused) when (IsOfTheValues(refused))
        {
            await ExecuteAsync($"ROLLBACK TO SAVEPOINT {Savepoint}", cancellationToken);
            if (first == last)
            {
                Reject(await RefusedAsync(numbers[first], refused, cancellationToken));
                await ExecuteAsync(
                    string.Create(CultureInfo.InvariantCulture, $"DELETE FROM {Staging} WHERE {RowNumber} = {numbers[first]}"),
                    cancellationToken
                );
                return 0;
            }

            var middle = (first + last) / 2;
            return await PartAsync(sql, numbers, first, middle, cancellationToken)
                + await PartAsync(sql, numbers, middle + 1, last, cancellationToken);
        }
    }

    // Integrity (23), data (22), and what triggers say (P0001): the row is wrong, not the database.
    private static bool IsOfTheValues(PostgresException refused) =>
        refused.SqlState.StartsWith("22", StringComparison.Ordinal)
        || refused.SqlState.StartsWith("23", StringComparison.Ordinal)
        || refused.SqlState == PostgresErrorCodes.RaiseException;

    // What the database says besides may hold values of others, and is not told by it.
    private async Task<RejectedRow> RefusedAsync(long row, PostgresException refused, CancellationToken cancellationToken)
    {
        var foreign = table.ForeignKeys.FirstOrDefault(key => key.Name == refused.ConstraintName);
        var columns = foreign?.Columns ?? table.Keys.FirstOrDefault(key => key.Name == refused.ConstraintName)?.Columns ?? [];
        var values = await ValuesAsync(row, columns, cancellationToken);
        return new RejectedRow(
            row,
            columns is [var only] ? only : refused.ColumnName,
            refused.SqlState switch
            {
                PostgresErrorCodes.ForeignKeyViolation when foreign is not null && values.Length > 0 =>
                    $"{foreign.ReferredTable} has no {values}. Add it there, or correct the row.",
                PostgresErrorCodes.UniqueViolation when values.Length > 0 =>
                    $"{table.Name} has a row with {values} already. Leave it out, or choose the mode upsert.",
                PostgresErrorCodes.UniqueViolation => $"It is there already, by {refused.ConstraintName}. Leave it out.",
                PostgresErrorCodes.NotNullViolation => $"{refused.ColumnName} is empty, and must not be. Fill it in.",
                PostgresErrorCodes.CheckViolation => $"It breaks the rule {refused.ConstraintName}. Correct the row.",
                _ => refused.MessageText,
            }
        );
    }

    private async Task<string> ValuesAsync(long row, IReadOnlyList<string> columns, CancellationToken cancellationToken)
    {
        // What the file has no column for has its default.
        if (columns.Count == 0 || !columns.All(_staged.Contains))
            return "";
        var values = string.Join(
            ", ",
            columns.Select(column => $"coalesce({SqlNames.Helper.DelimitIdentifier(column)}::text, 'nothing')")
        );
        await using var command = new NpgsqlCommand(
            $"SELECT concat_ws(', ', {values}) FROM {Staging} WHERE {RowNumber} = $1",
            connection
        )
        {
            Parameters = { new NpgsqlParameter { Value = row } },
        };
        return $"{string.Join(", ", columns)} {await command.ExecuteScalarAsync(cancellationToken)}";
    }

    private string Insert(List<Matched> columns, List<Column> keys)
    {
        var names = string.Join(", ", columns.Select(column => Quote(column.Target)));
        return $"INSERT INTO {_target} ({names}) OVERRIDING SYSTEM VALUE SELECT {names} FROM {Staging} AS s WHERE {RowNumber} BETWEEN $1 AND $2"
            + (keys.Count == 0 ? "" : $" AND NOT EXISTS ({Matching(keys)})")
            + $" ORDER BY {RowNumber}";
    }

    // Compared as texts, as not every type can be compared.
    private string Update(List<Matched> columns, List<Column> keys) =>
        $"UPDATE {_target} AS t SET {string.Join(", ", columns.Select(column => $"{Quote(column.Target)} = s.{Quote(column.Target)}"))} "
        + $"FROM {Staging} AS s WHERE {RowNumber} BETWEEN $1 AND $2 AND {Same(keys)} AND "
        + $"({string.Join(" OR ", columns.Select(column => $"t.{Quote(column.Target)}::text IS DISTINCT FROM s.{Quote(column.Target)}::text"))})";

    // A row that was rejected may be about any of them.
    private async Task<long> RemoveOthersAsync(List<Column> keys, List<string> notes, CancellationToken cancellationToken)
    {
        if (_rejected.Count > 0)
        {
            notes.Add("Rows were rejected, so none of the table was removed.");
            return 0;
        }

        try
        {
            await using var command = new NpgsqlCommand(
                $"DELETE FROM {_target} AS t WHERE NOT EXISTS (SELECT FROM {Staging} AS s WHERE {Same(keys)})",
                connection
            );
            return await command.ExecuteNonQueryAsync(cancellationToken);
        }
        catch (PostgresException refused)
        {
            throw new ImportRefusedException(
                refused.SqlState == PostgresErrorCodes.ForeignKeyViolation
                    ? $"Rows of {table.Name} that the file does not have are referred to by {refused.TableName}. Remove those first, or use another mode."
                    : $"Rows of {table.Name} cannot be removed: {refused.MessageText}.",
                refused
            );
        }
    }

    private string Matching(List<Column> keys) => $"SELECT FROM {_target} AS t WHERE {Same(keys)}";

    private static string Same(List<Column> keys) =>
        string.Join(" AND ", keys.Select(column => $"t.{Quote(column)} = s.{Quote(column)}"));

    // Numbers that the file brought are not given out again.
    private async Task CatchUpAsync(List<Matched> columns, CancellationToken cancellationToken)
    {
        foreach (var column in columns.Where(column => column.Target.IsSuppliedByDatabase))
        {
            await using var command = new NpgsqlCommand(
                $"SELECT setval(s, greatest((SELECT max({Quote(column.Target)}) FROM {_target}), (SELECT last_value FROM pg_sequences WHERE format('%I.%I', schemaname, sequencename)::regclass = s::regclass), 1)) FROM pg_get_serial_sequence($1, $2) AS s WHERE s IS NOT NULL",
                connection
            )
            {
                Parameters =
                {
                    new NpgsqlParameter { Value = _target },
                    new NpgsqlParameter { Value = column.Target.Name },
                },
            };
            await command.ExecuteNonQueryAsync(cancellationToken);
        }
    }

    private async Task ExecuteAsync(string sql, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync(cancellationToken);
    }

    private static string Quote(Column column) => SqlNames.Helper.DelimitIdentifier(column.Name);
}
