using System.Reflection;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Sources;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Schema;

namespace PlainPorch.Data.Tests;

/// <summary>A database of its own on the test server, with the zoo in it. Dropped at the end.</summary>
public sealed class TestDatabase : IAsyncLifetime
{
    private readonly string _name = $"data_{Guid.NewGuid():N}"[..30];

    /// <summary>The connection string of the test server, as its master.</summary>
    public static string Server =>
        Environment.GetEnvironmentVariable("PORCH_TEST_SERVER")
        ?? throw new InvalidOperationException("PORCH_TEST_SERVER names no server. Run the tests by ./porch test.");

    /// <summary>The connection string of the server that it is on, where that is not the tests' own.</summary>
    public string At { get; init; } = Server;

    /// <summary>How to reach the database.</summary>
    public SourceSettings Settings { get; private set; } = new();

    public NpgsqlDataSource Source { get; private set; } = null!;

    public string ConnectionString { get; private set; } = "";

    public async ValueTask InitializeAsync()
    {
        await using var master = NpgsqlDataSource.Create(At);
        await using var create = master.CreateCommand($"CREATE DATABASE {_name}");
        await create.ExecuteNonQueryAsync();
        var builder = new NpgsqlConnectionStringBuilder(At) { Database = _name };
        ConnectionString = builder.ConnectionString;
        Settings = new SourceSettings
        {
            Host = builder.Host!,
            Port = builder.Port,
            Database = _name,
            User = builder.Username!,
            Password = builder.Password,
        };
        Source = SourceConnection.Create(Settings, isReadOnly: false);
        using var script = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("zoo.sql")!);
        await ExecuteAsync(await script.ReadToEndAsync());
    }

    public async ValueTask DisposeAsync()
    {
        await Source.DisposeAsync();
        await using var master = NpgsqlDataSource.Create(At);
        await using var drop = master.CreateCommand($"DROP DATABASE IF EXISTS {_name} WITH (FORCE)");
        await drop.ExecuteNonQueryAsync();
    }

    public async Task ExecuteAsync(string sql)
    {
        await using var command = Source.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }

    public async Task<T> AskAsync<T>(string sql)
    {
        await using var command = Source.CreateCommand(sql);
        return (T)(await command.ExecuteScalarAsync())!;
    }

    public Task<SchemaSnapshot> ReadSchemaAsync(params string[] schemas) =>
        new SnapshotReader(TimeProvider.System).ReadAsync(Source, schemas, TestContext.Current.CancellationToken);

    /// <summary>A drafted panel over a table.</summary>
    public async Task<SeenPanel> OpenAsync(string schema, string table, Func<PanelDefinition, PanelDefinition>? change = null)
    {
        var model = RecordModel.Of(await ReadSchemaAsync());
        var definition = PanelDraft.Make(
            model.Snapshot.Find(new TableName(schema, table))!,
            TableSample.Empty,
            new HashSet<string>()
        );
        var panel = BoundPanel.Bind(change is null ? definition : change(definition), model.Snapshot, sourceIsReadOnly: false)!;
        return new SeenPanel(model, Source, panel, new PorchPanels(model.Snapshot, [panel.Definition]));
    }
}
