using System.Globalization;
using Npgsql;

namespace PlainPorch.Bench.Lists;

/// <summary>The large table that lists are measured on: made-up words, the same on every run.</summary>
internal static class MeasureTable
{
    /// <summary>Words that occur in about so many of 5,000,000 rows.</summary>
    public const string Rare = "quillow";
    public const string Seldom = "marram";
    public const string Frequent = "lantern";
    public const string Missing = "zephyrine";

    /// <summary>The columns of the list, in order.</summary>
    public static IReadOnlyList<string> Columns { get; } = ["id", "name", "place", "maker", "remark", "tag", "seen", "amount"];

    /// <summary>The columns that the search looks into together, as an index has them.</summary>
    public const string Together =
        "(COALESCE(maker, '') || E'\\n' || COALESCE(name, '') || E'\\n' || COALESCE(place, '') || E'\\n' || COALESCE(remark, '') || E'\\n' || COALESCE(tag, ''))";

    /// <summary>The columns that the list is narrowed by.</summary>
    public static IReadOnlyList<string> Narrowing { get; } = ["kind", "state", "grade", "bay"];

    /// <summary>Makes the table and the indexes that our advice names, unless they are there.</summary>
    public static async Task MakeAsync(NpgsqlDataSource source, int rows, Action<string> tell)
    {
        if (
            await ScalarAsync(
                source,
                "SELECT count(*) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE nspname = 'measure' AND relname = 'entry_kept'"
            )
                is 1L
            && await ScalarAsync(source, "SELECT max(id)::bigint FROM measure.entry") is long last
            && last == rows
        )
            return;
        tell($"making {rows.ToString("N0", CultureInfo.InvariantCulture)} rows to measure on");
        await RunAsync(
            source,
            $"""
            CREATE EXTENSION IF NOT EXISTS pg_trgm;
            DROP SCHEMA IF EXISTS measure CASCADE;
            CREATE SCHEMA measure;
            CREATE TABLE measure.entry (
                id int PRIMARY KEY, name text, place text, maker text, remark text, tag text, seen date, amount numeric(10,2), kind text, state char(1), grade smallint, bay text, kept varchar(8), flag char(1));
            INSERT INTO measure.entry
            SELECT n,
                   (ARRAY['Petrel', 'Sandpiper', 'Kittiwake', 'Dunlin', 'Curlew', 'Teal', 'Wigeon'])[1 + h % 7] || ' ' || (ARRAY['Lass', 'Maid', 'Star', 'Rose'])[1 + h / 7 % 4] || ' ' || n % 9973,
                   (ARRAY['Northmere', 'Saltby', 'Wrenmouth', 'Oldquay'])[1 + n % 4] || ' ' || (ARRAY['basin', 'reach', 'pool'])[1 + h / 28 % 3],
                   (ARRAY['Hartwell', 'Pascoe', 'Brandreth', 'Illston', 'Quennell', 'Ormerod'])[1 + h / 84 % 6] || ' and sons',
                   (ARRAY['repainted', 'rigged anew', 'seams caulked', 'laid up ashore', 'sold on'])[1 + h / 504 % 5]
                       || CASE WHEN n % 10 = 3 THEN ' {Frequent}' ELSE '' END || CASE WHEN n % 1000 = 7 THEN ' {Seldom}' ELSE '' END || CASE WHEN n % 100000 = 11 THEN ' {Rare}' ELSE '' END,
                   'T-' || h % 99991,
                   CASE WHEN h % 50 > 0 THEN date '1996-01-01' + h % 10950 END,
                   (h % 1000000) / 100.0,
                   (ARRAY['sloop', 'ketch', 'yawl', 'cutter', 'lugger', 'launch', 'punt', 'barge', 'gig', 'cat', 'tug', 'pram'])[1 + h % 12],
                   substr('ABCDE', 1 + h / 12 % 5, 1),
                   1 + h / 60 % 5,
                   'Bay ' || h / 300 % 30,
                   CASE WHEN h % 50 > 0 THEN to_char(date '1996-01-01' + h % 10950, 'YYYYMMDD') ELSE '00000000' END,
                   CASE WHEN h / 9000 % 4 > 0 THEN 'N' ELSE 'Y' END
            FROM (SELECT n, abs(hashint4(n)) % 100000007 AS h FROM generate_series(1, {rows.ToString(
                CultureInfo.InvariantCulture
            )}) n) made;
            CREATE INDEX entry_seen ON measure.entry (seen, id);
            CREATE INDEX entry_kept ON measure.entry (kept, id);
            CREATE INDEX entry_together ON measure.entry USING gin ({Together} gin_trgm_ops);
            """
        );
        await RunAsync(source, "VACUUM ANALYZE measure.entry");
    }

    private static async Task RunAsync(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        command.CommandTimeout = 0;
        await command.ExecuteNonQueryAsync();
    }

    private static async Task<object?> ScalarAsync(NpgsqlDataSource source, string sql)
    {
        try
        {
            await using var command = source.CreateCommand(sql);
            return await command.ExecuteScalarAsync();
        }
        catch (PostgresException missing) when (missing.SqlState == PostgresErrorCodes.UndefinedTable)
        {
            return null;
        }
    }
}
