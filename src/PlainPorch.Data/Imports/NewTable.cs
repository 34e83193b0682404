using Microsoft.EntityFrameworkCore.Migrations.Operations;
using Npgsql;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;
using PlainPorch.Core.Imports;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Imports;

/// <summary>Makes a table of one in a file, and fills it, in the caller's transaction.</summary>
/// <param name="connection">The connection, with a transaction begun.</param>
public sealed class NewTable(NpgsqlConnection connection)
{
    // As migrations name what has numbers given out.
    private const string ValueGenerationStrategy = "Npgsql:ValueGenerationStrategy";

    /// <summary>The statement that makes the table.</summary>
    /// <param name="planned">The table.</param>
    public static string Sql(PlannedTable planned)
    {
        ArgumentNullException.ThrowIfNull(planned);
        var operation = new CreateTableOperation { Name = planned.Name, Schema = planned.Schema };
        if (planned.Identity is { } identity)
        {
            var number = ColumnOf(planned, identity, "bigint", isNullable: false);
            number.ClrType = typeof(long);
            number.AddAnnotation(ValueGenerationStrategy, NpgsqlValueGenerationStrategy.IdentityByDefaultColumn);
            operation.Columns.Add(number);
        }

        foreach (var column in planned.Columns)
            operation.Columns.Add(ColumnOf(planned, column.Name, column.Form.StoreType, !planned.Key.Contains(column.Name)));
        operation.PrimaryKey = new AddPrimaryKeyOperation
        {
            Name = null!,
            Schema = planned.Schema,
            Table = planned.Name,
            Columns = planned.Identity is { } given ? [given] : [.. planned.Key],
        };
        return MigrationSql.Of([
            operation,
            .. planned.Indexes.Select(column => new CreateIndexOperation
            {
                Name = PlannedTable.Cut($"{planned.Name}_{column}_idx"),
                Schema = planned.Schema,
                Table = planned.Name,
                Columns = [column],
            }),
        ]);
    }

    /// <summary>Makes the table and fills it.</summary>
    /// <param name="file">The table in the file.</param>
    /// <param name="planned">What it becomes.</param>
    /// <param name="progress">Told how many rows are written, now and then.</param>
    /// <param name="cancellationToken">Stops it; the caller rolls back.</param>
    /// <exception cref="ImportRefusedException">There is such a table, or it cannot be made.</exception>
    public async Task<ImportedTable> MakeAsync(
        FileTable file,
        PlannedTable planned,
        Action<long> progress,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(file);
        ArgumentNullException.ThrowIfNull(planned);
        ArgumentNullException.ThrowIfNull(progress);
        var sql = Sql(planned);
        try
        {
            await using var create = new NpgsqlCommand(sql, connection);
            await create.ExecuteNonQueryAsync(cancellationToken);
        }
        catch (PostgresException refused)
        {
            throw new ImportRefusedException(
                refused.SqlState switch
                {
                    PostgresErrorCodes.DuplicateTable =>
                        $"There is a table {planned.Schema}.{planned.Name} already. Choose another name, or another mode to import into it.",
                    PostgresErrorCodes.InvalidSchemaName => $"There is no schema {planned.Schema}. Choose one that there is.",
                    _ => $"{planned.Schema}.{planned.Name} cannot be made: {refused.MessageText}",
                },
                refused
            );
        }

        var rejected = new List<RejectedRow>();
        var (rows, written) = (0L, 0L);
        try
        {
            await CopyText.IntoAsync(
                connection,
                $"COPY {SqlNames.Helper.DelimitIdentifier(planned.Name, planned.Schema)} ({string.Join(", ", planned.Columns.Select(column => SqlNames.Helper.DelimitIdentifier(column.Name)))}) FROM STDIN",
                Write,
                cancellationToken
            );
        }
        catch (PostgresException refused) when (refused.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            throw new ImportRefusedException(
                $"Several rows of {file.Name} have the same {string.Join(" and ", planned.Key)}. Choose another key.",
                refused
            );
        }

        return new ImportedTable(
            planned.Schema,
            planned.Name,
            rows,
            [.. planned.Columns.Select(column => ImportedColumn.Of(column.Name, column.Form.StoreType, column.Guess))],
            written,
            0,
            0,
            RejectedRow.Kept(rejected)
        )
        {
            Notes = file.Notes,
            Sql = sql,
            FileColumns = [.. file.Columns.Select(column => column.Name)],
        };

        void Write(CopyText copy)
        {
            var values = new string?[planned.Columns.Count];
            foreach (var row in file.Rows())
            {
                cancellationToken.ThrowIfCancellationRequested();
                rows++;
                if (row.Problem is not null || !TryRead(row, planned, values, rejected))
                {
                    if (row.Problem is { } problem)
                        rejected.Add(new RejectedRow(row.Number, null, problem) { Values = row.Values });
                    if (rejected.Count > RejectedRow.Most)
                        throw new ImportRefusedException(
                            $"More than {RejectedRow.Most} rows of {file.Name} are no rows of the table. The first: row {rejected[0].Row}: {rejected[0].Reason}"
                        );
                    continue;
                }

                for (var place = 0; place < values.Length; place++)
                    copy.Write(values[place], place == 0);
                copy.EndRow();
                if (++written % 50_000 == 0)
                    progress(written);
            }
        }
    }

    private static bool TryRead(FileRow row, PlannedTable planned, string?[] values, List<RejectedRow> rejected)
    {
        for (var place = 0; place < values.Length; place++)
        {
            var column = planned.Columns[place];
            var text = row.Values[column.Place];
            if (column.Form == ValueForm.Text)
            {
                if (text?.Contains('\0', StringComparison.Ordinal) == true)
                {
                    rejected.Add(
                        new RejectedRow(
                            row.Number,
                            column.Guess.Name,
                            "It has a null character, which no database can store. Remove it."
                        )
                        {
                            Values = row.Values,
                        }
                    );
                    return false;
                }

                values[place] = string.IsNullOrEmpty(text) ? null : text;
                continue;
            }

            values[place] = string.IsNullOrWhiteSpace(text) ? null : column.Form.Read(text.Trim());
            if (values[place] is null && !string.IsNullOrWhiteSpace(text))
            {
                rejected.Add(
                    new RejectedRow(row.Number, column.Guess.Name, $"“{text}” is no {column.Form.StoreType}.")
                    {
                        Values = row.Values,
                    }
                );
                return false;
            }
        }

        return true;
    }

    private static AddColumnOperation ColumnOf(PlannedTable planned, string name, string type, bool isNullable) =>
        new()
        {
            Name = name,
            Table = planned.Name,
            Schema = planned.Schema,
            ClrType = typeof(string),
            ColumnType = type,
            IsNullable = isNullable,
        };
}
