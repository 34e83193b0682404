using Npgsql;
using PlainPorch.Core.Sources;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Schema;
using PlainPorch.Data.Survey;
using PlainPorch.Demo;

namespace PlainPorch.Data.Tests.Survey;

/// <summary>The demo database, made and surveyed once.</summary>
public sealed class DemoFixture : IAsyncLifetime
{
    private readonly string _name = $"survey_{Guid.NewGuid():N}"[..30];
    private SourceSettings _settings = new();
    private NpgsqlDataSource _source = null!;

    /// <summary>The database as a URL.</summary>
    public string Url =>
        $"postgresql://{_settings.User}:{Uri.EscapeDataString(_settings.Password ?? "")}@{_settings.Host}:{_settings.Port}/{_name}";

    public SurveyReport Report { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        await new DemoDatabase(TestDatabase.Server, _name, scale: 1).MakeAsync(_ => { }, CancellationToken.None);
        var server = new NpgsqlConnectionStringBuilder(TestDatabase.Server);
        _settings = new SourceSettings
        {
            Host = server.Host!,
            Port = server.Port,
            Database = _name,
            User = server.Username!,
            Password = server.Password,
        };
        _source = SourceConnection.Create(_settings, isReadOnly: false);
        Report = await SurveyAsync(_source);
    }

    public async ValueTask DisposeAsync()
    {
        await _source.DisposeAsync();
        await using var server = NpgsqlDataSource.Create(TestDatabase.Server);
        await using var drop = server.CreateCommand($"DROP DATABASE IF EXISTS {_name} WITH (FORCE)");
        await drop.ExecuteNonQueryAsync();
    }

    public async Task<long> AskAsync(string sql)
    {
        await using var command = _source.CreateCommand(sql);
        return (long)(await command.ExecuteScalarAsync())!;
    }

    /// <summary>The texts of one column.</summary>
    public async Task<List<string>> ListAsync(string sql)
    {
        await using var command = _source.CreateCommand(sql);
        await using var reader = await command.ExecuteReaderAsync();
        var texts = new List<string>();
        while (await reader.ReadAsync())
            texts.Add(reader.GetString(0));
        return texts;
    }

    /// <summary>Surveys as a user who has a few rights only.</summary>
    public async Task<SurveyReport> SurveyAsAsync(string grant)
    {
        var role = $"surveyor_{Guid.NewGuid():N}"[..20];
        await ExecuteAsync(
            $"CREATE ROLE {role} LOGIN PASSWORD 's'; GRANT USAGE ON SCHEMA register TO {role}; {string.Format(null, grant, role)}"
        );
        try
        {
            await using var source = SourceConnection.Create(
                _settings with
                {
                    User = role,
                    Password = "s",
                },
                isReadOnly: true,
                pooling: false
            );
            return await SurveyAsync(source);
        }
        finally
        {
            await ExecuteAsync($"DROP OWNED BY {role}; DROP ROLE {role}");
        }
    }

    private static async Task<SurveyReport> SurveyAsync(NpgsqlDataSource source)
    {
        var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, ["register"], CancellationToken.None);
        return await SurveyRun.RunAsync(source, snapshot, report: null, CancellationToken.None);
    }

    private async Task ExecuteAsync(string sql)
    {
        await using var command = _source.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }
}
