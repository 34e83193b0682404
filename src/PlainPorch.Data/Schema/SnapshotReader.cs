using System.Data;
using Npgsql;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Schema;

/// <summary>Reads what a database holds, in one read-only transaction and one round trip.</summary>
/// <param name="time">Tells when it was read.</param>
public sealed class SnapshotReader(TimeProvider time)
{
    /// <summary>Reads a snapshot.</summary>
    /// <param name="source">The database.</param>
    /// <param name="schemas">The schemas to read; empty for all but the system's.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <exception cref="NpgsqlException">The database could not be reached or refused to answer.</exception>
    public async Task<SchemaSnapshot> ReadAsync(
        NpgsqlDataSource source,
        IReadOnlyCollection<string> schemas,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(source);
        ArgumentNullException.ThrowIfNull(schemas);
        await using var connection = await source.OpenConnectionAsync(cancellationToken);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, cancellationToken);
        await using var batch = new NpgsqlBatch(connection, transaction);
        foreach (
            var question in (string[])
                [
                    SnapshotQueries.Types,
                    SnapshotQueries.Relations,
                    SnapshotQueries.Columns,
                    SnapshotQueries.Keys,
                    SnapshotQueries.Indexes,
                    SnapshotQueries.ForeignKeys,
                    SnapshotQueries.Checks,
                ]
        )
        {
            var command = new NpgsqlBatchCommand(question);
            command.Parameters.Add(new NpgsqlParameter<string[]>("schemas", [.. schemas]));
            batch.BatchCommands.Add(command);
        }

        await using var reader = await batch.ExecuteReaderAsync(cancellationToken);
        var answers = new SnapshotAnswers(reader, cancellationToken);
        var types = await answers.TypesAsync();
        var relations = await answers.RelationsAsync();
        var columns = await answers.ColumnsAsync(types);
        var keys = await answers.KeysAsync();
        var indexes = await answers.IndexesAsync();
        var foreignKeys = await answers.ForeignKeysAsync();
        var checks = await answers.ChecksAsync();
        return new SchemaSnapshot
        {
            TakenAt = time.GetUtcNow(),
            ServerVersion = connection.PostgreSqlVersion.ToString(),
            Tables =
            [
                .. relations.Select(relation =>
                    relation.Table with
                    {
                        Columns = [.. columns[relation.Oid]],
                        Keys = [.. keys[relation.Oid]],
                        Indexes = [.. indexes[relation.Oid]],
                        ForeignKeys = [.. foreignKeys[relation.Oid]],
                        Checks = [.. checks[relation.Oid]],
                    }
                ),
            ],
        };
    }
}

/// <summary>Turns the answers to <see cref="SnapshotQueries"/> into parts of a snapshot, one result after the other.</summary>
internal sealed class SnapshotAnswers(NpgsqlDataReader reader, CancellationToken cancellationToken)
{
    public async Task<TypeCatalog> TypesAsync()
    {
        var types = await ReadAllAsync(r =>
            (
                Oid: r.GetFieldValue<uint>(0),
                Type: new DatabaseType(
                    Schema: r.GetString(1),
                    Name: r.GetString(2),
                    IsDomain: r.GetString(3) == "d",
                    BaseType: r.GetFieldValue<uint>(4),
                    BaseModifier: r.GetInt32(5),
                    Element: r.GetFieldValue<uint>(6),
                    IsArray: r.GetBoolean(7),
                    NotNull: r.GetBoolean(8),
                    EnumLabels: r.IsDBNull(9) ? null : r.GetFieldValue<string[]>(9)
                )
            )
        );
        return new TypeCatalog(types.ToDictionary(row => row.Oid, row => row.Type));
    }

    public Task<List<(uint Oid, Table Table)>> RelationsAsync() =>
        ReadAllAsync(r =>
            (
                r.GetFieldValue<uint>(0),
                new Table
                {
                    Name = new TableName(r.GetString(1), r.GetString(2)),
                    Kind = r.GetString(3) switch
                    {
                        "p" => TableKind.PartitionedTable,
                        "f" => TableKind.ForeignTable,
                        "v" => TableKind.View,
                        "m" => TableKind.MaterializedView,
                        _ => TableKind.Table,
                    },
                    Comment = r.IsDBNull(4) ? null : r.GetString(4),
                    EstimatedRows = r.IsDBNull(5) ? null : r.GetInt64(5),
                    Rights = new TableRights(r.GetBoolean(6), r.GetBoolean(7), r.GetBoolean(8), r.GetBoolean(9)),
                    ViewSql = r.IsDBNull(10) ? null : r.GetString(10),
                    Columns = [],
                }
            )
        );

    public Task<ILookup<uint, Column>> ColumnsAsync(TypeCatalog types) =>
        ByRelationAsync(r =>
        {
            var type = r.GetFieldValue<uint>(2);
            var isGenerated = r.GetString(7).Length > 0;
            return new Column
            {
                Name = r.GetString(1),
                Type = types.Resolve(type, r.GetInt32(3)),
                IsNullable = !r.GetBoolean(4) && !types.ForbidsNull(type),
                // Of a generated column this is its expression, which is no default.
                DefaultSql = r.IsDBNull(5) || isGenerated ? null : r.GetString(5),
                Identity = r.GetString(6) switch
                {
                    "a" => IdentityKind.Always,
                    "d" => IdentityKind.ByDefault,
                    _ => IdentityKind.None,
                },
                IsGenerated = isGenerated,
                Comment = r.IsDBNull(8) ? null : r.GetString(8),
            };
        });

    public Task<ILookup<uint, Key>> KeysAsync() =>
        ByRelationAsync(r => new Key(r.GetString(1), r.GetFieldValue<string[]>(2), r.GetBoolean(3)));

    public Task<ILookup<uint, IReadOnlyList<string>>> IndexesAsync() =>
        ByRelationAsync<IReadOnlyList<string>>(r => r.GetFieldValue<string[]>(1));

    public Task<ILookup<uint, ForeignKey>> ForeignKeysAsync() =>
        ByRelationAsync(r => new ForeignKey(
            r.GetString(1),
            r.GetFieldValue<string[]>(2),
            new TableName(r.GetString(3), r.GetString(4)),
            r.GetFieldValue<string[]>(5),
            r.GetString(6) switch
            {
                "c" => DeleteRule.Cascade,
                "n" => DeleteRule.SetNull,
                "d" => DeleteRule.SetDefault,
                _ => DeleteRule.Forbid,
            }
        ));

    public Task<ILookup<uint, CheckConstraint>> ChecksAsync() =>
        ByRelationAsync(r => new CheckConstraint(r.GetString(1), r.GetFieldValue<string[]>(2), r.GetString(3)));

    private async Task<ILookup<uint, T>> ByRelationAsync<T>(Func<NpgsqlDataReader, T> read)
    {
        var rows = await ReadAllAsync(r => (Oid: r.GetFieldValue<uint>(0), Part: read(r)));
        return rows.ToLookup(row => row.Oid, row => row.Part);
    }

    private async Task<List<T>> ReadAllAsync<T>(Func<NpgsqlDataReader, T> read)
    {
        var rows = new List<T>();
        while (await reader.ReadAsync(cancellationToken))
            rows.Add(read(reader));
        await reader.NextResultAsync(cancellationToken);
        return rows;
    }
}
