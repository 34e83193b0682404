using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Npgsql;

namespace PlainPorch.Data.Tests.Acts;

/// <summary>A PostgreSQL server of a test's own, which it may kill.</summary>
public sealed class OwnServer : IAsyncDisposable
{
    private const string Password = "porch";

    private readonly string _folder = Path.Combine(Path.GetTempPath(), $"porch-server-{Guid.NewGuid():N}");
    private readonly int _port = FreePort();
    private Process? _server;

    /// <summary>Where it listens.</summary>
    public int Port => _port;

    /// <summary>How to reach it, as its master.</summary>
    public string ConnectionString => $"Host=127.0.0.1;Port={_port};Database=postgres;Username=porch;Password={Password}";

    /// <summary>Makes it and starts it.</summary>
    public async Task StartAsync()
    {
        Directory.CreateDirectory(_folder);
        await File.WriteAllTextAsync(Path.Combine(_folder, "password"), Password);
        if (Environment.IsPrivilegedProcess)
            await RunAsync("chown", "-R", "postgres", _folder);
        await RunAsServerAsync(
            "initdb",
            "-D",
            $"{_folder}/data",
            "-U",
            "porch",
            "-A",
            "scram-sha-256",
            $"--pwfile={_folder}/password",
            "-E",
            "UTF8",
            "--locale=C.UTF-8",
            "--no-sync"
        );
        await BeginAsync();
    }

    /// <summary>Ends it as a power cut does, and starts it again.</summary>
    /// <param name="losesNumbersFor">Some transactions begun afterwards, so that numbers which were lost are given away again; 0
    /// for none.</param>
    public async Task CrashAsync(int losesNumbersFor)
    {
        await RunAsServerAsync("pg_ctl", "-D", $"{_folder}/data", "-m", "immediate", "-W", "stop");
        await _server!.WaitForExitAsync();
        await BeginAsync();
        await using var source = NpgsqlDataSource.Create(
            new NpgsqlConnectionStringBuilder(ConnectionString) { Pooling = false }.ConnectionString
        );
        for (var i = 0; i < losesNumbersFor; i++)
        {
            await using var command = source.CreateCommand("SELECT txid_current()");
            await command.ExecuteScalarAsync();
        }
    }

    /// <summary>Whether what it answers as committed may not be on disk yet.</summary>
    public async Task SetLossyAsync(bool isLossy)
    {
        await using var source = NpgsqlDataSource.Create(
            new NpgsqlConnectionStringBuilder(ConnectionString) { Pooling = false }.ConnectionString
        );
        foreach (
            var sql in new[]
            {
                $"ALTER SYSTEM SET synchronous_commit = {(isLossy ? "off" : "on")}",
                "SELECT pg_reload_conf()",
                "CHECKPOINT",
            }
        )
        {
            await using var command = source.CreateCommand(sql);
            await command.ExecuteNonQueryAsync();
        }
    }

    public async ValueTask DisposeAsync()
    {
        await RunAsServerAsync("pg_ctl", "-D", $"{_folder}/data", "-m", "immediate", "stop");
        _server?.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private async Task BeginAsync()
    {
        _server = Start(
            AsServer(
                "postgres",
                "-D",
                $"{_folder}/data",
                "-p",
                $"{_port}",
                "-c",
                "listen_addresses=127.0.0.1",
                "-c",
                "unix_socket_directories=",
                "-c",
                "fsync=off",
                "-c",
                "full_page_writes=off",
                "-c",
                "wal_writer_delay=10s",
                "-c",
                "wal_writer_flush_after=100MB",
                "-c",
                "max_connections=100"
            )
        );
        await using var source = NpgsqlDataSource.Create(
            new NpgsqlConnectionStringBuilder(ConnectionString) { Pooling = false }.ConnectionString
        );
        for (var times = 0; ; times++)
        {
            try
            {
                await using var connection = await source.OpenConnectionAsync();
                return;
            }
            catch (NpgsqlException) when (times < 300)
            {
                await Task.Delay(50);
            }
        }
    }

    private static async Task RunAsServerAsync(params string[] command)
    {
        using var process = Start(AsServer(command));
        await process.WaitForExitAsync();
        if (process.ExitCode != 0 && command[0] != "pg_ctl")
            throw new InvalidOperationException($"{command[0]} failed.");
    }

    private static async Task RunAsync(params string[] command)
    {
        using var process = Start(command);
        await process.WaitForExitAsync();
    }

    // PostgreSQL refuses to run as root.
    private static string[] AsServer(params string[] command)
    {
        var program = Directory.GetDirectories("/usr/lib/postgresql").Order().Last() + "/bin/" + command[0];
        string[] whole = [program, .. command[1..]];
        return Environment.IsPrivilegedProcess
            ? ["setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups", .. whole]
            : whole;
    }

    private static Process Start(string[] command)
    {
        var start = new ProcessStartInfo(command[0], command[1..])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = "/",
        };
        var process = Process.Start(start)!;
        process.OutputDataReceived += (_, _) => { };
        process.ErrorDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        return process;
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
