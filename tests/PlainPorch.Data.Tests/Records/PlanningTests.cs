using Npgsql;
using PlainPorch.Core.Query;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

public sealed class PlanningTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Read_SearchesArePlannedForTheirWords_PagesOnce_AndTheSessionIsToldOnlyOfAChange()
    {
        var seen = await database.OpenAsync("zoo", "legacy");
        var lists = new ListStore(seen);
        await using var connection = await seen.Connections.OpenConnectionAsync(Token);
        var reader = new SourceReader(seen.Model, connection) { IsAlone = true };
        var (page, search) = (seen.Plan(new ListRequest()), seen.Plan(new ListRequest("title")));
        foreach (
            var (plan, mode, isTold) in ((ListPlan Plan, string Mode, bool IsTold)[])
                [
                    (search, "force_custom_plan", true),
                    (search, "force_custom_plan", false),
                    (page, "auto", true),
                    (page, "auto", false),
                    (search, "force_custom_plan", true),
                ]
        )
        {
            using var commands = new CommandCount();
            var list = await lists.ListAsync(reader, plan, Token, withCount: false);
            Assert.Equal(50, list.Rows.Count);
            Assert.Equal(isTold, commands.Texts.Exists(text => text.Contains("set_config", StringComparison.Ordinal)));
            Assert.Equal(mode, await ModeAsync(connection));
        }
    }

    [Fact]
    public async Task Read_WithinATransaction_LeavesNothingBehind()
    {
        var seen = await database.OpenAsync("zoo", "legacy");
        await using var connection = await seen.Connections.OpenConnectionAsync(Token);
        var before = await ModeAsync(connection);
        await using (var transaction = await connection.BeginTransactionAsync(Token))
        {
            var reader = new SourceReader(seen.Model, connection) { IsAlone = true, Transaction = transaction };
            await new ListStore(seen).ListAsync(reader, seen.Plan(new ListRequest("title")), Token, withCount: false);
            Assert.Equal("force_custom_plan", await ModeAsync(connection));
            await transaction.RollbackAsync(Token);
        }

        Assert.Equal(before, await ModeAsync(connection));
    }

    private static async Task<string?> ModeAsync(NpgsqlConnection connection)
    {
        await using var command = new NpgsqlCommand("SHOW plan_cache_mode", connection);
        return (string?)await command.ExecuteScalarAsync(Token);
    }
}
