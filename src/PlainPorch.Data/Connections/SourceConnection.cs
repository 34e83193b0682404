using Npgsql;
using PlainPorch.Core.Sources;

namespace PlainPorch.Data.Connections;

/// <summary>Makes connections to a source from its settings: the one place where that is decided.</summary>
public static class SourceConnection
{
    /// <summary>Seconds until a connection attempt is given up.</summary>
    public const int ConnectSeconds = 4;

    /// <summary>Seconds until a statement is cancelled.</summary>
    public const int StatementSeconds = 15;

    /// <summary>What our connections are called in the database's list of them.</summary>
    public const string ProgramName = "Plain Porch";

    private const int IdleSeconds = 60;

    // Values are read in the database's own text form, which has to be the same whatever the server's settings are.
    private const string SessionSetUp =
        "SET datestyle = 'ISO, YMD'; SET intervalstyle = 'postgres'; SET timezone = 'UTC'; SET extra_float_digits = 1; SET bytea_output = 'hex'; "
        +
        // With less, the database notes pages instead of rows when many match, and looks at all rows of these again.
        "SET work_mem = '32MB'";

    private const string ReadOnlySetUp = "; SET SESSION CHARACTERISTICS AS TRANSACTION READ ONLY";

    /// <summary>Makes a data source; the caller disposes of it.</summary>
    /// <param name="settings">How to reach the source.</param>
    /// <param name="isReadOnly">Whether every transaction is to be read-only.</param>
    /// <param name="pooling">Whether connections are kept for reuse.</param>
    /// <param name="seconds">Seconds until a statement is cancelled.</param>
    public static NpgsqlDataSource Create(
        SourceSettings settings,
        bool isReadOnly,
        bool pooling = true,
        int seconds = StatementSeconds
    )
    {
        ArgumentNullException.ThrowIfNull(settings);
        var builder = new NpgsqlDataSourceBuilder
        {
            ConnectionStringBuilder =
            {
                Host = settings.Host,
                Port = settings.Port,
                Database = settings.Database,
                Username = settings.User,
                Password = settings.Password,
                SslMode = Ssl(settings.Tls),
                ApplicationName = ProgramName,
                Timeout = ConnectSeconds,
                CommandTimeout = seconds,
                // So many milliseconds the server's word is waited for that it has stopped a statement.
                CancellationTimeout = Math.Min(2_000, seconds * 200),
                MaxPoolSize = SourcePool.Places + SourcePool.LongPlaces + SourcePool.Spare,
                // With many sources on one server, those that nobody looks at would use up its connections.
                ConnectionIdleLifetime = IdleSeconds,
                ConnectionPruningInterval = IdleSeconds / 6,
                Pooling = pooling,
                // Resetting would undo the session's set-up below.
                NoResetOnClose = true,
                MaxAutoPrepare = 100,
            },
        };
        var setUp = SessionSetUp + (isReadOnly ? ReadOnlySetUp : "");
        builder.UsePhysicalConnectionInitializer(
            connection => Execute(connection, setUp),
            connection => ExecuteAsync(connection, setUp)
        );
        return builder.Build();
    }

    private static void Execute(NpgsqlConnection connection, string sql)
    {
        using var command = new NpgsqlCommand(sql, connection);
        command.ExecuteNonQuery();
    }

    private static async Task ExecuteAsync(NpgsqlConnection connection, string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private static SslMode Ssl(TlsMode mode) =>
        mode switch
        {
            TlsMode.Disable => SslMode.Disable,
            TlsMode.Require => SslMode.Require,
            TlsMode.VerifyCa => SslMode.VerifyCA,
            TlsMode.VerifyFull => SslMode.VerifyFull,
            _ => SslMode.Prefer,
        };
}
