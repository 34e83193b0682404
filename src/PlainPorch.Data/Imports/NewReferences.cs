using Microsoft.EntityFrameworkCore.Migrations.Operations;
using Npgsql;
using PlainPorch.Core.Imports;

namespace PlainPorch.Data.Imports;

/// <summary>Keeps the references that a set of files declares among the tables that were made of them.</summary>
/// <param name="connection">The connection, with a transaction begun.</param>
public sealed class NewReferences(NpgsqlConnection connection)
{
    private const string Savepoint = "porch_reference";

    /// <summary>Makes them; one that rows do not keep is left out and told.</summary>
    /// <param name="made">The tables in the files, with what was made of them.</param>
    /// <param name="cancellationToken">Stops it; the caller rolls back.</param>
    /// <returns>What is to be told of each table, in the same order.</returns>
    public async Task<IReadOnlyList<IReadOnlyList<string>>> KeepAsync(
        IReadOnlyList<(FileTable File, PlannedTable Planned)> made,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(made);
        var notes = new List<IReadOnlyList<string>>();
        foreach (var (file, planned) in made)
        {
            var told = new List<string>();
            foreach (var reference in file.References)
                told.Add(await KeepAsync(planned, reference, made, cancellationToken));
            notes.Add(told);
        }

        return notes;
    }

    private async Task<string> KeepAsync(
        PlannedTable from,
        FileReference reference,
        IReadOnlyList<(FileTable File, PlannedTable Planned)> made,
        CancellationToken cancellationToken
    )
    {
        var what = $"{string.Join(" and ", reference.Columns)} refers to {reference.Table}";
        var to = made.FirstOrDefault(one => one.File.Name.Equals(reference.Table, StringComparison.OrdinalIgnoreCase)).Planned;
        if (to is null)
            return $"{what}, which is not among the files. The reference is left out.";
        var referred = reference.ReferredColumns.Count > 0 ? NamesIn(to, reference.ReferredColumns) : to.Key;
        var columns = NamesIn(from, reference.Columns);
        if (columns.Count != referred.Count || columns.Count == 0)
            return $"{what}, by columns that are not there. The reference is left out.";
        return await TryAsync(what, Sql(from, columns, to.Schema, to.Name, referred), cancellationToken);
    }

    /// <summary>Makes the references that are planned for tables; one that rows do not keep is left out and told.</summary>
    /// <param name="planned">The tables, made and filled.</param>
    /// <param name="cancellationToken">Stops it; the caller rolls back.</param>
    /// <returns>What is to be told of each table, in the same order.</returns>
    public async Task<IReadOnlyList<IReadOnlyList<string>>> KeepAsync(
        IReadOnlyList<PlannedTable> planned,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(planned);
        var notes = new List<IReadOnlyList<string>>();
        foreach (var table in planned)
        {
            var told = new List<string>();
            foreach (var one in table.References)
                told.Add(
                    await TryAsync(
                        $"{string.Join(" and ", one.Columns)} refers to {one.Table}",
                        Sql(table, one),
                        cancellationToken
                    )
                );
            notes.Add(told);
        }

        return notes;
    }

    private async Task<string> TryAsync(string what, string sql, CancellationToken cancellationToken)
    {
        await ExecuteAsync($"SAVEPOINT {Savepoint}", cancellationToken);
        try
        {
            await ExecuteAsync(sql, cancellationToken);
            await ExecuteAsync($"RELEASE SAVEPOINT {Savepoint}", cancellationToken);
            return $"{what}.";
        }
        catch (PostgresException refused)
        {
            await ExecuteAsync($"ROLLBACK TO SAVEPOINT {Savepoint}", cancellationToken);
            return refused.SqlState == PostgresErrorCodes.ForeignKeyViolation
                ? $"{what}, and some rows refer to nothing there. The reference is left out."
                : $"{what}: {refused.MessageText}. The reference is left out.";
        }
    }

    /// <summary>The statement that makes a reference.</summary>
    internal static string Sql(PlannedTable from, ReferenceSettings reference) =>
        Sql(from, reference.Columns, reference.Schema, reference.Table, reference.ReferredColumns);

    private static string Sql(
        PlannedTable from,
        IReadOnlyList<string> columns,
        string schema,
        string table,
        IReadOnlyList<string> referred
    )
    {
        var operation = new AddForeignKeyOperation
        {
            Name = null!,
            Schema = from.Schema,
            Table = from.Name,
            Columns = [.. columns],
            PrincipalSchema = schema,
            PrincipalTable = table,
            PrincipalColumns = [.. referred],
        };
        return MigrationSql.Of(operation);
    }

    private static List<string> NamesIn(PlannedTable table, IReadOnlyList<string> names) =>
        [
            .. names
                .Select(name =>
                    table
                        .Columns.FirstOrDefault(column => column.Guess.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                        ?.Name
                )
                .OfType<string>(),
        ];

    private async Task ExecuteAsync(string sql, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync(cancellationToken);
    }
}
