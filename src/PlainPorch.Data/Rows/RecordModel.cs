using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata.Conventions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Rows;

/// <summary>An EF Core model made at run time from a snapshot: each table a shared-type entity over a dictionary.</summary>
public sealed class RecordModel
{
    /// <summary>The property that holds PostgreSQL's row version.</summary>
    internal const string RowVersion = "xmin";

    /// <summary>The property that holds the table or partition that a row is in.</summary>
    internal const string Partition = "tableoid";

    /// <summary>The property that holds where in it the row is.</summary>
    internal const string Place = "ctid";

    private readonly Dictionary<TableName, string> _entityNames;
    private readonly Task<IModel> _model;

    private RecordModel(SchemaSnapshot snapshot)
    {
        Snapshot = snapshot;
        // Numbered, because "a.b" and "c" make the same text as "a" and "b.c".
        _entityNames = snapshot
            .Tables.Where(table => table.Columns.Count > 0)
            .Select((table, i) => (table.Name, Entity: $"{i}:{table.Name}"))
            .ToDictionary(pair => pair.Name, pair => pair.Entity);
        _model = Task.Run(Build);
        Statements = new Statements(this);
    }

    /// <summary>The SQL of the queries that were carried out lately.</summary>
    internal Statements Statements { get; }

    /// <summary>Answers about whole tables, which take long.</summary>
    internal SharedAnswers Shared { get; } = new();

    /// <summary>The snapshot that it is made from.</summary>
    public SchemaSnapshot Snapshot { get; }

    /// <summary>The finished model; waits until it is made.</summary>
    internal IModel Model => _model.GetAwaiter().GetResult();

    /// <summary>Starts making the model of a snapshot in the background. Takes seconds for a large schema: keep it.</summary>
    public static RecordModel Of(SchemaSnapshot snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        return new RecordModel(snapshot);
    }

    /// <summary>
    /// Opens a context on a source; by a connection of its own, because EF would build a provider for each data source.
    /// </summary>
    internal DbContext Open(NpgsqlDataSource source) => Open(source.CreateConnection(), ownsConnection: true);

    /// <summary>Makes a context on an open connection, which stays open.</summary>
    internal DbContext Open(NpgsqlConnection connection) => Open(connection, ownsConnection: false);

    private DbContext Open(NpgsqlConnection connection, bool ownsConnection) => Open(Model, connection, ownsConnection);

    private static DbContext Open(IModel model, NpgsqlConnection connection, bool ownsConnection) =>
        new(
            new DbContextOptionsBuilder()
                .UseModel(model)
                .UseNpgsql(
                    connection,
                    ownsConnection,
                    // Npgsql's own wraps a deadlock into advice to the programmer, where nobody finds it.
                    npgsql => npgsql.ExecutionStrategy(parts => new NonRetryingExecutionStrategy(parts))
                )
                .AddInterceptors(new FailedPreparing(), new HeldBack())
                .UseQueryTrackingBehavior(QueryTrackingBehavior.NoTracking)
                .Options
        );

    private IModel Build()
    {
        var builder = new ModelBuilder(NpgsqlConventionSetBuilder.Build());
        SqlText.Register(builder);
        RuleSql.Register(builder);
        foreach (var table in Snapshot.Tables.Where(table => _entityNames.ContainsKey(table.Name)))
            builder.SharedTypeEntity<Row>(_entityNames[table.Name], entity => Map(entity, table));
        var model = (IModel)builder.FinalizeModel();
        // EF prepares a model when it is first used, and two requests that do so at once disturb each other.
        using var first = Open(model, new NpgsqlConnection(), ownsConnection: true);
        _ = first.Model;
        return model;
    }

    /// <summary>
    /// The property of a column; the prefix keeps columns called "Count" or "Keys" off the dictionary's own members.
    /// </summary>
    internal static string Property(string column) => "c:" + column;

    /// <summary>The entity name of a table.</summary>
    internal string EntityName(TableName table) => _entityNames[table];

    private static void Map(EntityTypeBuilder<Row> entity, Table table)
    {
        if (table.IsView)
            entity.ToView(table.Name.Name, table.Name.Schema);
        else
            entity.ToTable(table.Name.Name, table.Name.Schema);
        foreach (var column in table.Columns)
            Map(entity, column);
        var identity = RecordIdentity.Of(table);
        if (identity.Exists)
            entity.HasKey([.. identity.Columns.Select(Property)]);
        else
            entity.HasNoKey();
        if (table.HasRowVersion)
            MapSystemColumns(entity, identity.Exists);
    }

    // Of every table but foreign ones the database tells a row's version, and where the row is until somebody writes to it.
    private static void MapSystemColumns(EntityTypeBuilder<Row> entity, bool hasKey)
    {
        var version = entity.IndexerProperty<uint>(RowVersion).HasColumnName(RowVersion).HasColumnType("xid");
        if (hasKey)
            version.IsRowVersion();
        entity.IndexerProperty<uint>(Partition).HasColumnName(Partition).HasColumnType("oid").ValueGeneratedOnAddOrUpdate();
        var place = entity.IndexerProperty<string>(Place).HasColumnName(Place).IsRequired(false).ValueGeneratedOnAddOrUpdate();
        place.Metadata.SetTypeMapping(new UntypedTextMapping());
    }

    private static void Map(EntityTypeBuilder<Row> entity, Column column)
    {
        var property = entity.IndexerProperty(ClrValue.TypeFor(column.Type), Property(column.Name)).HasColumnName(column.Name);
        // The query pipeline must not reason from NOT NULL: a view or a broken old table may hold nulls all the same.
        property.IsRequired(false);
        if (ClrValue.IsSentUntyped(column.Type))
            property.Metadata.SetTypeMapping(new UntypedTextMapping());
        else
            property.HasColumnType(column.Type.StoreType);
        if (column.IsSuppliedByDatabase)
            property.ValueGeneratedOnAdd();
        else
            property.ValueGeneratedNever();
    }
}
