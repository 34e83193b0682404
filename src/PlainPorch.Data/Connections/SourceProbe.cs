using PlainPorch.Core.Sources;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Connections;

/// <summary>Tries a source's settings and tells what is there.</summary>
public static class SourceProbe
{
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(4.5);

    // What the user may do, and how many relations it sees, in the chosen schemas (all but the system's where none is chosen).
    private const string Question = """
        WITH chosen AS (
            SELECT n.oid, n.nspname FROM pg_catalog.pg_namespace n
            WHERE CASE WHEN cardinality(@schemas) > 0 THEN n.nspname = ANY (@schemas)
                  ELSE n.nspname NOT IN ('information_schema', 'pg_catalog', 'pg_toast') AND n.nspname NOT LIKE 'pg\_temp\_%' AND n.nspname NOT LIKE 'pg\_toast\_temp\_%' END)
        SELECT current_setting('server_version'),
               (SELECT coalesce(array_agg(nspname ORDER BY nspname), '{}') FROM chosen),
               (SELECT coalesce(array_agg(nspname ORDER BY nspname), '{}') FROM chosen WHERE NOT has_schema_privilege(oid, 'USAGE')),
               count(c.oid) FILTER (WHERE c.relkind IN ('r', 'p', 'f')),
               count(c.oid) FILTER (WHERE c.relkind IN ('v', 'm')),
               count(c.oid) FILTER (WHERE usable AND has_table_privilege(c.oid, 'SELECT')),
               count(c.oid) FILTER (WHERE usable AND c.relkind IN ('r', 'p', 'f') AND has_table_privilege(c.oid, 'INSERT')
                   AND has_table_privilege(c.oid, 'UPDATE') AND has_table_privilege(c.oid, 'DELETE')),
               (SELECT CASE WHEN has_function_privilege('pg_catalog.pg_control_system()', 'EXECUTE') THEN (SELECT system_identifier::text FROM pg_catalog.pg_control_system()) ELSE '' END
                   || '/' || (SELECT oid::text FROM pg_catalog.pg_database WHERE datname = current_database()))
        FROM chosen
        CROSS JOIN LATERAL (SELECT has_schema_privilege(chosen.oid, 'USAGE') AS usable) AS rights
        JOIN pg_catalog.pg_class c ON c.relnamespace = chosen.oid AND c.relkind IN ('r', 'p', 'f', 'v', 'm') AND NOT c.relispartition
        """;

    /// <summary>Connects and looks round, within five seconds.</summary>
    /// <param name="settings">How to reach the source.</param>
    /// <param name="schemas">The schemas to look into; empty for all but the system's.</param>
    /// <param name="cancellationToken">Gives up early.</param>
    public static async Task<ProbeResult> TryAsync(
        SourceSettings settings,
        IReadOnlyList<string> schemas,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(settings);
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        patience.CancelAfter(_patience);
        try
        {
            await using var source = SourceConnection.Create(settings, isReadOnly: true, pooling: false);
            await using var command = source.CreateCommand(Question);
            command.Parameters.AddWithValue("schemas", schemas.ToArray());
            await using var reader = await command.ExecuteReaderAsync(patience.Token);
            await reader.ReadAsync(patience.Token);
            return Judge(
                new ProbeFindings(
                    ServerVersion: reader.GetString(0),
                    Tables: reader.GetInt64(3),
                    Views: reader.GetInt64(4),
                    Readable: reader.GetInt64(5),
                    Writable: reader.GetInt64(6),
                    Identity: reader.GetString(7)
                ),
                schemas,
                present: reader.GetFieldValue<string[]>(1),
                closed: reader.GetFieldValue<string[]>(2),
                settings
            );
        }
        catch (Exception failure)
            when (!cancellationToken.IsCancellationRequested && ConnectionTrouble.Explain(failure, settings) is not null)
        {
            return new ProbeResult(null, ConnectionTrouble.Explain(failure, settings));
        }
    }

    private static ProbeResult Judge(
        ProbeFindings findings,
        IReadOnlyList<string> schemas,
        string[] present,
        string[] closed,
        SourceSettings settings
    )
    {
        if (schemas.Except(present).FirstOrDefault() is { } missing)
            return new(
                null,
                new("schemas", $"{settings.Database} has no schema {missing}. Check the spelling; names are case-sensitive.")
            );
        if (closed.Length > 0 && closed.Length == present.Length)
            return new(
                null,
                new(
                    "schemas",
                    $"{settings.User} is not allowed to use the schema {closed[0]}. Grant it USAGE, or use another user."
                )
            );
        if (findings.Tables + findings.Views > 0 && findings.Readable == 0)
            return new(
                null,
                new(
                    "user",
                    $"{settings.User} may read none of the {findings.Tables + findings.Views} tables and views. Grant it SELECT."
                )
            );
        return new(findings, null);
    }
}

/// <summary>What a trial of a source found: one of the two is null.</summary>
/// <param name="Findings">What is there.</param>
/// <param name="Problem">Why it cannot be used.</param>
public sealed record ProbeResult(ProbeFindings? Findings, FieldProblem? Problem);

/// <summary>What is in a source.</summary>
/// <param name="ServerVersion">The server's version, such as <c>15.18</c>.</param>
/// <param name="Tables">Tables in the chosen schemas.</param>
/// <param name="Views">Views in the chosen schemas.</param>
/// <param name="Readable">Tables and views that the user may read.</param>
/// <param name="Writable">Tables that the user may read and write.</param>
/// <param name="Identity">Which database it is, whatever it is called and wherever it is reached: the server's system identifier
/// and the database's number in it.</param>
public sealed record ProbeFindings(string ServerVersion, long Tables, long Views, long Readable, long Writable, string Identity);
