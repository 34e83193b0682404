using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;

namespace PlainPorch.Data.Tests.Sources;

public sealed class SourceProbeTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task TryAsync_GoodSettings_TellsWhatIsThere()
    {
        var findings = (await SourceProbe.TryAsync(database.Settings, ["zoo"], Token)).Findings!;
        Assert.Equal(await database.AskAsync<string>("SHOW server_version"), findings.ServerVersion);
        Assert.Equal((10, 1), (findings.Tables, findings.Views));
        Assert.Equal((11, 10), (findings.Readable, findings.Writable));
    }

    [Theory]
    [InlineData("host", "no-such-host.invalid", "host", "No machine called")]
    [InlineData("port", "1", "port", "refuses connections")]
    [InlineData("password", "wrong", "password", "not accept")]
    [InlineData("user", "nobody_here", "password", "not accept")]
    [InlineData("database", "no_such_database", "database", "has no database")]
    [InlineData("schema", "no_such_schema", "schemas", "has no schema")]
    [InlineData("tls", "", "tls", "does not speak TLS")]
    public async Task TryAsync_WrongSetting_NamesTheFieldAndTheRemedy(string what, string value, string field, string fragment)
    {
        var settings = what switch
        {
            "host" => database.Settings with { Host = value },
            "port" => database.Settings with { Port = int.Parse(value, null) },
            "password" => database.Settings with { Password = value },
            "user" => database.Settings with { User = value },
            "database" => database.Settings with { Database = value },
            "tls" => database.Settings with { Tls = TlsMode.Require },
            _ => database.Settings,
        };
        var problem = (await SourceProbe.TryAsync(settings, what == "schema" ? [value] : [], Token)).Problem!;
        Assert.Equal(field, problem.Field);
        Assert.Contains(fragment, problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task TryAsync_NoPassword_AsksForOne()
    {
        var problem = (await SourceProbe.TryAsync(database.Settings with { Password = null }, [], Token)).Problem!;
        Assert.Equal("password", problem.Field);
    }

    [Fact]
    public async Task TryAsync_ServerThatNeverAnswers_GivesUpWithinFiveSeconds()
    {
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        var settings = database.Settings with { Port = ((IPEndPoint)silent.LocalEndpoint).Port };
        var watch = Stopwatch.StartNew();
        var problem = (await SourceProbe.TryAsync(settings, [], Token)).Problem!;
        Assert.Equal("host", problem.Field);
        Assert.True(watch.Elapsed < TimeSpan.FromSeconds(5), $"It took {watch.Elapsed}.");
    }

    [Fact]
    public async Task TryAsync_UserWithoutRights_SaysWhatToGrant()
    {
        var role = $"stranger_{Guid.NewGuid():N}"[..20];
        await database.ExecuteAsync($"CREATE ROLE {role} LOGIN PASSWORD 's'");
        try
        {
            var stranger = database.Settings with { User = role, Password = "s" };
            Assert.Contains(
                "Grant it USAGE",
                (await SourceProbe.TryAsync(stranger, ["zoo"], Token)).Problem!.Message,
                StringComparison.Ordinal
            );
            await database.ExecuteAsync($"GRANT USAGE ON SCHEMA zoo TO {role}");
            Assert.Contains(
                "Grant it SELECT",
                (await SourceProbe.TryAsync(stranger, ["zoo"], Token)).Problem!.Message,
                StringComparison.Ordinal
            );
        }
        finally
        {
            await database.ExecuteAsync($"DROP OWNED BY {role}; DROP ROLE {role}");
        }
    }

    [Fact]
    public async Task Create_ReadOnlySource_RefusesToWrite()
    {
        await using var source = SourceConnection.Create(database.Settings, isReadOnly: true);
        for (var use = 0; use < 2; use++)
        {
            await using var command = source.CreateCommand("DELETE FROM zoo.keyless");
            var refused = await Assert.ThrowsAsync<Npgsql.PostgresException>(() => command.ExecuteNonQueryAsync(Token));
            Assert.Equal(Npgsql.PostgresErrorCodes.ReadOnlySqlTransaction, refused.SqlState);
        }
    }
}
