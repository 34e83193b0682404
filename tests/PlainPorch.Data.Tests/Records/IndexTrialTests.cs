using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

/// <summary>Trying an index where the database does not let us; nothing stays behind, and the reason is told.</summary>
public sealed class IndexTrialTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task TryIndex_OfASourceThatIsReadOnly_SaysSo()
    {
        await using var readOnly = SourceConnection.Create(database.Settings, isReadOnly: true);
        Assert.Equal("The source was added as read-only.", await RefusalAsync(readOnly, new ListRequest(Sort: ["title"])));
    }

    [Fact]
    public async Task TryIndex_ByAnotherThanTheOwner_NamesTheTable()
    {
        var role = $"reader_{Guid.NewGuid():N}"[..20];
        await database.ExecuteAsync(
            $"CREATE ROLE {role} LOGIN PASSWORD 'reads-only-7'; GRANT USAGE ON SCHEMA zoo TO {role}; GRANT SELECT ON zoo.legacy TO {role}"
        );
        try
        {
            await using var reader = SourceConnection.Create(
                database.Settings with
                {
                    User = role,
                    Password = "reads-only-7",
                },
                isReadOnly: false
            );
            Assert.StartsWith(
                "The database user does not own zoo.legacy",
                await RefusalAsync(reader, new ListRequest(Sort: ["title"])),
                StringComparison.Ordinal
            );
        }
        finally
        {
            await database.ExecuteAsync($"DROP OWNED BY {role}; DROP ROLE {role}");
        }
    }

    [Fact]
    public async Task TryIndex_WhileSomebodyWrites_GivesUpSoon()
    {
        await using var writer = await database.Source.OpenConnectionAsync(Token);
        await using var transaction = await writer.BeginTransactionAsync(Token);
        await using var write = new NpgsqlCommand("UPDATE zoo.legacy SET title = title WHERE no = 1", writer);
        await write.ExecuteNonQueryAsync(Token);
        Assert.Equal("Somebody is writing to zoo.legacy.", await RefusalAsync(database.Source, new ListRequest(Sort: ["title"])));
    }

    [Fact]
    public async Task TryIndex_OfTrigramsWithoutTheExtension_NamesIt()
    {
        await database.ExecuteAsync("DROP EXTENSION IF EXISTS pg_trgm CASCADE");
        Assert.Equal("The extension pg_trgm is not installed.", await RefusalAsync(database.Source, new ListRequest("title")));
    }

    [Fact]
    public async Task Advice_ForRecordsInUse_LeavesOutThoseSetAside_AndServesTheList()
    {
        await database.ExecuteAsync(
            """
            DROP TABLE IF EXISTS zoo.shelf;
            CREATE TABLE zoo.shelf (id int PRIMARY KEY, label text, gone char(1));
            INSERT INTO zoo.shelf SELECT n, md5(n::text), CASE WHEN n % 5 = 0 THEN 'Y' END FROM generate_series(1, 60000) n; ANALYZE zoo.shelf
            """
        );
        var store = await database.OpenAsync("zoo", "shelf", panel => panel with { Marker = new RemovalMarker
                {
                    Column = "gone",
                    Kind = MarkerKind.Flag,
                    Removed = "Y",
                } });
        var plan = store.Plan(new ListRequest(Sort: ["label"]));
        var advised = Assert.Single((await new ListStore(store).ExplainAsync(plan, Token)).Advice);
        Assert.EndsWith("WHERE gone <> 'Y' OR gone IS NULL", advised.Sql, StringComparison.Ordinal);
        await database.ExecuteAsync(advised.Sql.Replace("CONCURRENTLY ", "", StringComparison.Ordinal));
        await database.ExecuteAsync("ANALYZE zoo.shelf");
        Assert.Contains(
            "Index Scan using shelf_label_id_idx",
            string.Join('\n', (await new ListStore(store).ExplainAsync(plan, Token)).Plan),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("dd.MM.yyyy", "\"e. kept\"")]
    [InlineData("d MMM yyyy", "kept")]
    public async Task AnAdvisedIndex_OverWhatValuesMean_ServesOrderAndBounds(string pattern, string column)
    {
        var name = column.Trim('"');
        await database.ExecuteAsync(
            $"""
            DROP TABLE IF EXISTS zoo.stock;
            CREATE TABLE zoo.stock (id int PRIMARY KEY, {column} text);
            INSERT INTO zoo.stock SELECT n, to_char(date '1998-01-01' + n % 9000, '{(
                pattern == "dd.MM.yyyy" ? "DD.MM.YYYY" : "FMDD Mon YYYY"
            )}') FROM generate_series(1, 60000) n;
            INSERT INTO zoo.stock VALUES (60001, 'e.1 it''s'), (60002, NULL);
            ANALYZE zoo.stock
            """
        );
        var store = await database.OpenAsync("zoo", "stock", panel => panel with { Columns =
                [
                    .. panel.Columns.Select(one =>
                        one.Name == name
                            ? one with
                            {
                                Narrows = true,
                                Reading = new DayReading { Pattern = pattern },
                            }
                            : one
                    ),
                ] });
        var lists = new ListStore(store);
        var ordered = store.Plan(new ListRequest(Sort: [name]));
        var advised = Assert.Single((await lists.ExplainAsync(ordered, Token)).Advice);
        var (trial, refusal) = await lists.TryIndexAsync(ordered, advised.Place, Token);
        Assert.Null(refusal);
        Assert.True(trial!.Bytes > 0);
        await database.ExecuteAsync(advised.Sql.Replace("CONCURRENTLY ", "", StringComparison.Ordinal));
        await database.ExecuteAsync("ANALYZE zoo.stock");
        var served = await lists.ExplainAsync(ordered, Token);
        Assert.Contains("Index Scan using stock_", string.Join('\n', served.Plan), StringComparison.Ordinal);
        Assert.Empty(served.Advice);

        await database.ExecuteAsync(
            "DO $$ DECLARE i text; BEGIN FOR i IN SELECT indexname FROM pg_indexes WHERE tablename = 'stock' AND indexname NOT LIKE '%pkey' LOOP EXECUTE 'DROP INDEX zoo.' || quote_ident(i); END LOOP; END $$"
        );
        var day = store.Plan(new ListRequest(In: [$"{Uri.EscapeDataString(name)}:2001-02-03"]));
        Assert.Empty(day.Dropped);
        var value = Assert.Single((await lists.ExplainAsync(day, Token)).Advice);
        Assert.Equal(IndexPurpose.Value, value.Purpose);
        await database.ExecuteAsync(value.Sql.Replace("CONCURRENTLY ", "", StringComparison.Ordinal));
        await database.ExecuteAsync("ANALYZE zoo.stock");
        var found = await lists.ExplainAsync(day, Token);
        Assert.Contains("stock_", string.Join('\n', found.Plan), StringComparison.Ordinal);
        Assert.Empty(found.Advice);
    }

    [Fact]
    public async Task TryIndex_ThatNobodyAdvised_IsNothing()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        Assert.Equal((null, null), await new ListStore(store).TryIndexAsync(store.Plan(new ListRequest()), 0, Token));
    }

    private async Task<string?> RefusalAsync(NpgsqlDataSource source, ListRequest request)
    {
        var snapshot = await database.ReadSchemaAsync();
        var definition = PanelDraft.Make(
            snapshot.Find(new TableName("zoo", "legacy"))!,
            TableSample.Empty,
            new HashSet<string>()
        );
        var panel = BoundPanel.Bind(definition, snapshot, sourceIsReadOnly: false)!;
        var seen = new SeenPanel(RecordModel.Of(snapshot), source, panel, new PorchPanels(snapshot, [definition]));
        var indexes = await database.AskAsync<long>("SELECT count(*) FROM pg_indexes");
        var (trial, refusal) = await new ListStore(seen).TryIndexAsync(seen.Plan(request), 0, Token);
        Assert.Null(trial);
        Assert.NotEmpty(refusal!.Remedy);
        Assert.Equal(indexes, await database.AskAsync<long>("SELECT count(*) FROM pg_indexes"));
        return refusal.Reason;
    }
}
