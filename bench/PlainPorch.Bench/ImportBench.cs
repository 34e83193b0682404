using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using Npgsql;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Imports;

namespace PlainPorch.Bench;

/// <summary>
/// Measures bringing a file into a new table, guesses included, beside a bare <c>COPY</c> of the same file into a table that is there, and
/// how much room it takes.
/// </summary>
internal static class ImportBench
{
    private const double Floor = 0.5;

    public static async Task<int> RunAsync(string connection, int rows, int rounds, bool json)
    {
        if (!ConnectionText.TryRead(connection, out var settings, out var problem))
        {
            await Console.Error.WriteLineAsync(problem);
            return 2;
        }

        var file = Path.Combine(Path.GetTempPath(), $"porch-bench-{rows}.csv");
        await WriteAsync(file, rows);
        await using var source = SourceConnection.Create(settings, isReadOnly: false, pooling: false, seconds: 0);
        var (ours, byHand, looked) = (new List<double>(), new List<double>(), new List<double>());
        for (var round = 0; round < rounds; round++)
        {
            await ExecuteAsync(source, "DROP TABLE IF EXISTS public.bench_import; DROP TABLE IF EXISTS public.bench_bare");
            var start = Stopwatch.GetTimestamp();
            looked.Add(await ImportAsync(source, file));
            ours.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
            await ExecuteAsync(source, "CREATE TABLE public.bench_bare (LIKE public.bench_import INCLUDING ALL)");
            start = Stopwatch.GetTimestamp();
            await CopyAsync(source, file);
            byHand.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
        }

        await ExecuteAsync(source, "DROP TABLE public.bench_import; DROP TABLE public.bench_bare");
        var (mine, theirs, looking) = (Median(ours), Median(byHand), Median(looked));
        var room = Process.GetCurrentProcess().PeakWorkingSet64 / 1024 / 1024;
        Console.WriteLine(
            json
                ? JsonSerializer.Serialize(
                    new
                    {
                        rows,
                        ours = mine,
                        looking,
                        byHand = theirs,
                        ratio = theirs / mine,
                        megabytes = room,
                    },
                    JsonSerializerOptions.Web
                )
                : string.Create(
                    CultureInfo.InvariantCulture,
                    $"{rows:N0} rows of ten columns: ours {mine:0} ms, {looking:0} of them to look at it; bare COPY {theirs:0} ms; {theirs / mine:0.00} of its speed (wanted {Floor:0.00}); {room} MB at most"
                )
        );
        return theirs / mine >= Floor ? 0 : 1;
    }

    private static async Task<double> ImportAsync(NpgsqlDataSource source, string file)
    {
        var start = Stopwatch.GetTimestamp();
        var table = FileTables.Read(file).Single();
        var guesses = ColumnGuesses.Of(table, _ => { }, CancellationToken.None);
        var looked = Stopwatch.GetElapsedTime(start).TotalMilliseconds;
        await using var connection = await source.OpenConnectionAsync();
        await using var transaction = await connection.BeginTransactionAsync();
        await new NewTable(connection).MakeAsync(
            table,
            PlannedTable.Make("public", "bench_import", guesses.Guess()),
            _ => { },
            CancellationToken.None
        );
        await transaction.CommitAsync();
        return looked;
    }

    private static async Task CopyAsync(NpgsqlDataSource source, string file)
    {
        await using var connection = await source.OpenConnectionAsync();
        await using var to = await connection.BeginTextImportAsync("COPY public.bench_bare FROM STDIN (FORMAT csv, HEADER)");
        using var from = new StreamReader(file);
        var buffer = new char[64 * 1024];
        for (int read; (read = await from.ReadAsync(buffer)) > 0; )
            await to.WriteAsync(buffer.AsMemory(0, read));
    }

    private static async Task WriteAsync(string file, int rows)
    {
        if (File.Exists(file))
            return;
        var random = new Random(1);
        await using var writer = new StreamWriter(file);
        await writer.WriteLineAsync("id,name,amount,day,flag,code,a,b,c,note");
        for (var n = 0; n < rows; n++)
            await writer.WriteLineAsync(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{n + 1},Name {n % 977},{random.Next(100_000) / 100m:0.00},{2000 + n % 25}-{1 + n % 12:00}-{1 + n % 28:00},{(n % 3 == 0 ? 'N' : 'Y')},{n % 1000:00000},{random.Next(10)},{random.NextInt64(10_000_000_000)},x{n},some text here"
                )
            );
    }

    private static async Task ExecuteAsync(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }

    private static double Median(IEnumerable<double> values) => values.Order().ElementAt(values.Count() / 2);
}
