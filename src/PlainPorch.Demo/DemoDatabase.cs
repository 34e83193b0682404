using System.Globalization;
using System.Reflection;
using System.Text;
using Npgsql;
using PlainPorch.Demo.Boatyard;
using PlainPorch.Demo.Register;

namespace PlainPorch.Demo;

/// <summary>Makes the demo database: under another name first, so that a half-made one is never taken for it.</summary>
/// <param name="server">A connection string to the server's maintenance database, as a user who may create databases.</param>
/// <param name="name">What the demo database is to be called.</param>
/// <param name="scale">How many times the usual number of rows the large tables get.</param>
internal sealed class DemoDatabase(string server, string name, int scale)
{
    private const string Mark = "Plain Porch demo data";

    // Some hundreds of kilobytes at a time keep the server's and our work overlapped.
    private const int FlushAt = 256 * 1024;

    private string MakingName => name + "_being_made";

    /// <summary>Drops what a run that was killed left half-made.</summary>
    public async Task DropLeftoverAsync(CancellationToken cancellationToken)
    {
        await using var connection = await OpenAsync(server, cancellationToken);
        await ExecuteAsync(connection, $"DROP DATABASE IF EXISTS {Quote(MakingName)} WITH (FORCE)", cancellationToken);
    }

    /// <summary>The scale of the demo database that is there.</summary>
    /// <returns>The scale; null where there is none of ours.</returns>
    public async Task<int?> FindScaleAsync(CancellationToken cancellationToken)
    {
        await using var connection = await OpenAsync(server, cancellationToken);
        await using var command = new NpgsqlCommand(
            "SELECT shobj_description(oid, 'pg_database') FROM pg_catalog.pg_database WHERE datname = @name",
            connection
        );
        command.Parameters.AddWithValue("name", name);
        var comment = await command.ExecuteScalarAsync(cancellationToken) as string;
        return comment?.StartsWith(Mark, StringComparison.Ordinal) == true
            ? int.Parse(comment[(comment.LastIndexOf(' ') + 1)..], CultureInfo.InvariantCulture)
            : null;
    }

    /// <summary>Makes it anew; one that is there is replaced at the very end.</summary>
    /// <param name="report">Is told of each table.</param>
    /// <param name="cancellationToken">Stops the work and drops what was begun.</param>
    public async Task MakeAsync(Action<string> report, CancellationToken cancellationToken)
    {
        await DropLeftoverAsync(cancellationToken);
        await using var connection = await OpenAsync(server, cancellationToken);
        await ExecuteAsync(connection, $"CREATE DATABASE {Quote(MakingName)}", cancellationToken);
        try
        {
            var target = new NpgsqlConnectionStringBuilder(server)
            {
                Database = MakingName,
                Pooling = false,
                CommandTimeout = 0,
            };
            await FillAsync(target.ConnectionString, report, cancellationToken);
            await ExecuteAsync(
                connection,
                $"COMMENT ON DATABASE {Quote(MakingName)} IS '{Mark}, scale {scale}'",
                cancellationToken
            );
            await ExecuteAsync(connection, $"DROP DATABASE IF EXISTS {Quote(name)} WITH (FORCE)", cancellationToken);
            await ExecuteAsync(connection, $"ALTER DATABASE {Quote(MakingName)} RENAME TO {Quote(name)}", cancellationToken);
        }
        catch
        {
            await ExecuteAsync(connection, $"DROP DATABASE IF EXISTS {Quote(MakingName)} WITH (FORCE)", CancellationToken.None);
            throw;
        }
    }

    private async Task FillAsync(string target, Action<string> report, CancellationToken cancellationToken)
    {
        await using var connection = await OpenAsync(target, cancellationToken);
        await ExecuteAsync(connection, await ResourceAsync("register.sql"), cancellationToken);
        await ExecuteAsync(connection, await ResourceAsync("boatyard.sql"), cancellationToken);
        foreach (var table in Tables())
        {
            var rows = await CopyAsync(connection, table, cancellationToken);
            report($"{table.Schema}.{table.Name}: {rows.ToString("N0", CultureInfo.InvariantCulture)} rows");
        }

        await ExecuteAsync(connection, await ResourceAsync("register-after.sql"), cancellationToken);
        await ExecuteAsync(connection, "VACUUM ANALYZE", cancellationToken);
    }

    private IEnumerable<DemoTable> Tables() =>
        [
            RegisterCodes.Codes(),
            RegisterPeople.Owners(scale),
            RegisterBoats.Boats(scale),
            RegisterBerths.Pontoons(),
            RegisterBerths.Berths(),
            RegisterBerths.Stays(scale),
            RegisterBerths.Meters(),
            RegisterBerths.Readings(scale),
            RegisterBoats.Kit(),
            RegisterBoats.BoatKit(scale),
            RegisterBoats.Surveys(scale),
            RegisterPeople.Waitlist(),
            RegisterCodes.Notices(),
            .. BoatyardTables.All(),
        ];

    private static async Task<long> CopyAsync(NpgsqlConnection connection, DemoTable table, CancellationToken cancellationToken)
    {
        var columns = string.Join(", ", table.Columns.Select(Quote));
        await using var writer = await connection.BeginTextImportAsync(
            $"COPY {Quote(table.Schema)}.{Quote(table.Name)} ({columns}) FROM STDIN",
            cancellationToken
        );
        var lines = new StringBuilder();
        var count = 0L;
        foreach (var row in table.Rows)
        {
            CopyText.AppendRow(lines, row);
            count++;
            if (lines.Length < FlushAt)
                continue;
            await writer.WriteAsync(lines, cancellationToken);
            lines.Clear();
        }

        await writer.WriteAsync(lines, cancellationToken);
        return count;
    }

    private static async Task<NpgsqlConnection> OpenAsync(string connectionString, CancellationToken cancellationToken)
    {
        var connection = new NpgsqlConnection(connectionString);
        await connection.OpenAsync(cancellationToken);
        return connection;
    }

    private static async Task ExecuteAsync(NpgsqlConnection connection, string sql, CancellationToken cancellationToken)
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 0 };
        await command.ExecuteNonQueryAsync(cancellationToken);
    }

    private static async Task<string> ResourceAsync(string file)
    {
        await using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream($"PlainPorch.Demo.Schema.{file}")!;
        using var reader = new StreamReader(stream);
        return await reader.ReadToEndAsync();
    }

    private static string Quote(string identifier) => "\"" + identifier.Replace("\"", "\"\"", StringComparison.Ordinal) + "\"";
}
