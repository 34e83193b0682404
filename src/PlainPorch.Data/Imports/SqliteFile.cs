using System.Globalization;
using Microsoft.Data.Sqlite;
using PlainPorch.Core.Imports;

namespace PlainPorch.Data.Imports;

/// <summary>Reads all tables of an SQLite file with their keys and references. The file is opened for reading alone.</summary>
public static class SqliteFile
{
    private static readonly byte[] _mark = "SQLite format 3\0"u8.ToArray();

    /// <summary>Whether a file is one, by its first bytes (SQLite, "Database File Format", 1.3).</summary>
    public static bool Is(string path)
    {
        using var stream = File.OpenRead(path);
        var start = new byte[_mark.Length];
        return stream.ReadAtLeast(start, start.Length, throwOnEndOfStream: false) == start.Length && start.SequenceEqual(_mark);
    }

    /// <summary>Reads the tables.</summary>
    /// <param name="path">The file.</param>
    /// <exception cref="UnreadableFileException">It is damaged or locked, or has no tables.</exception>
    public static IReadOnlyList<FileTable> Read(string path)
    {
        try
        {
            using var connection = Open(path);
            var names = Texts(
                connection,
                "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' AND sql NOT LIKE 'CREATE VIRTUAL%' ORDER BY name"
            );
            return names.Count == 0
                ? throw new UnreadableFileException($"{Path.GetFileName(path)} has no tables. Choose another file.")
                : [.. names.Select(name => TableOf(connection, path, name))];
        }
        catch (SqliteException failure)
        {
            throw Unreadable(path, failure);
        }
    }

    private static FileTable TableOf(SqliteConnection connection, string path, string name)
    {
        // Columns with their place in the key, from 1; those that the file computes are left out.
        var columns = Rows(connection, "SELECT name, pk FROM pragma_table_xinfo($1) WHERE hidden = 0 ORDER BY cid", name);
        var names = columns.Select(column => (string)column[0]!).ToList();
        var bytes = names.Where(column => HoldsBytes(connection, name, column)).ToHashSet();
        return new FileTable(
            name,
            [.. names.Select(column => new FileColumn(column, IsBytes: bytes.Contains(column)))],
            () => RowsOf(path, name, names),
            ["Read from SQLite."]
        )
        {
            HasPoints = true,
            Key =
            [
                .. columns
                    .Where(column => (long)column[1]! > 0)
                    .OrderBy(column => (long)column[1]!)
                    .Select(column => (string)column[0]!),
            ],
            References =
            [
                .. Rows(
                        connection,
                        "SELECT id, \"table\", \"from\", \"to\" FROM pragma_foreign_key_list($1) ORDER BY id, seq",
                        name
                    )
                    .GroupBy(row => ((long)row[0]!, (string)row[1]!))
                    .Select(group => new FileReference(
                        [.. group.Select(row => (string)row[2]!)],
                        group.Key.Item2,
                        // Without names it is the other table's key.
                        [.. group.Select(row => row[3] as string).OfType<string>()]
                    )),
            ],
        };
    }

    private static IEnumerable<FileRow> RowsOf(string path, string table, List<string> columns)
    {
        using var connection = Open(path);
        using var command = connection.CreateCommand();
        command.CommandText = $"SELECT {string.Join(", ", columns.Select(Quote))} FROM {Quote(table)}";
        using var reader = Guarded(path, command.ExecuteReader);
        for (var number = 1L; Guarded(path, reader.Read); number++)
        {
            var values = new string?[columns.Count];
            for (var place = 0; place < values.Length; place++)
                values[place] = TextOf(reader.GetValue(place));
            yield return new FileRow(number, values);
        }
    }

    private static string? TextOf(object value) =>
        value switch
        {
            DBNull => null,
            byte[] bytes => $"\\x{Convert.ToHexStringLower(bytes)}",
            double number => number.ToString("R", CultureInfo.InvariantCulture),
            IFormattable other => other.ToString(null, CultureInfo.InvariantCulture),
            _ => (string)value,
        };

    // Types are the values' own there, and not the column's: bytes among texts are written as texts.
    private static bool HoldsBytes(SqliteConnection connection, string table, string column) =>
        Rows(
            connection,
            $"SELECT count(*) FILTER (WHERE typeof({Quote(column)}) = 'blob'), count({Quote(column)}) FROM {Quote(table)}"
        )[0]
            is [long and > 0 and var bytes, long all]
        && bytes == all;

    private static SqliteConnection Open(string path)
    {
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = path,
                Mode = SqliteOpenMode.ReadOnly,
                Pooling = false,
            }.ToString()
        );
        connection.Open();
        return connection;
    }

    private static List<string> Texts(SqliteConnection connection, string sql) =>
        [.. Rows(connection, sql).Select(row => (string)row[0]!)];

    private static List<object?[]> Rows(SqliteConnection connection, string sql, string? parameter = null)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        if (parameter is not null)
            command.Parameters.AddWithValue("$1", parameter);
        using var reader = command.ExecuteReader();
        var rows = new List<object?[]>();
        while (reader.Read())
        {
            var row = new object?[reader.FieldCount];
            for (var place = 0; place < row.Length; place++)
                row[place] = reader.IsDBNull(place) ? null : reader.GetValue(place);
            rows.Add(row);
        }

        return rows;
    }

    private static T Guarded<T>(string path, Func<T> read)
    {
        try
        {
            return read();
        }
        catch (SqliteException failure)
        {
            throw Unreadable(path, failure);
        }
    }

    private static UnreadableFileException Unreadable(string path, SqliteException failure) =>
        new(
            $"{Path.GetFileName(path)} cannot be read as an SQLite file: {failure.Message} Close the program that uses it, or choose a copy.",
            failure
        );

    // Always in quotes: the words that need them there are others than PostgreSQL's.
    private static string Quote(string name) => $"\"{name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
}
