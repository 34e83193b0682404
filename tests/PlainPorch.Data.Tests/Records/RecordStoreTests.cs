using System.Globalization;
using PlainPorch.Core.Query;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

public sealed class RecordStoreTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task ListAsync_AllPages_GiveEachRecordOnceInOrder()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        var seen = new List<string>();
        for (var page = 1; ; page++)
        {
            var list = await ListAsync(store, new ListRequest(Sort: ["kind"], Size: 25, Page: page));
            seen.AddRange(list.Rows.Select(row => row.Key!));
            Assert.Equal(130, list.Count!.Value);
            if (!list.HasNext)
                break;
        }

        var expected = Enumerable
            .Range(1, 130)
            .OrderBy(n => n % 7)
            .ThenBy(n => n)
            .Select(n => n.ToString(CultureInfo.InvariantCulture));
        Assert.Equal(expected, seen);
    }

    [Theory]
    [InlineData("TITLE 13", 3)]
    [InlineData("13 title", 3)]
    [InlineData("k1 title", 19)]
    [InlineData("%", 0)]
    [InlineData("title_1", 0)]
    [InlineData("\\", 0)]
    [InlineData("' OR 1=1 --", 0)]
    public async Task ListAsync_Search_TakesWordsLiterally(string search, long count)
    {
        var store = await database.OpenAsync("zoo", "legacy");
        Assert.Equal(count, (await ListAsync(store, new ListRequest(search))).Count!.Value);
    }

    [Fact]
    public async Task ListAsync_OfAModelThatManyUseFirst_AnswersAll()
    {
        for (var attempt = 0; attempt < 3; attempt++)
        {
            var store = await database.OpenAsync("zoo", "legacy");
            var lists = await Task.WhenAll(
                Enumerable
                    .Range(0, 12)
                    .Select(n => Task.Run(() => ListAsync(store, new ListRequest(Sort: n % 2 == 0 ? ["kind"] : ["-title"]))))
            );
            Assert.All(lists, list => Assert.Equal(130, list.Count!.Value));
        }
    }

    [Fact]
    public async Task ListAsync_WordsThatAreFrequentAndSeldomMeet_FindsWhereTheyDo()
    {
        await database.ExecuteAsync(
            """
            CREATE EXTENSION IF NOT EXISTS pg_trgm;
            CREATE TABLE zoo.many_words (id int PRIMARY KEY, place text, note text);
            INSERT INTO zoo.many_words SELECT n, CASE WHEN n % 2 = 0 THEN 'north ' ELSE 'south ' END || n, CASE WHEN n % 2 = 0 THEN 'harbour' ELSE 'quay' END FROM generate_series(1, 120000) n;
            INSERT INTO zoo.many_words VALUES (120001, 'north', 'quay'), (120002, 'the quay', 'in the north'), (120003, 'quay', 'north');
            """
        );
        // By itself: on a slow disk all of it takes longer than one command may.
        await database.ExecuteAsync(
            """
            CREATE INDEX ON zoo.many_words USING gin ((COALESCE(note, '') || E'\n' || COALESCE(place, '')) gin_trgm_ops);
            ANALYZE zoo.many_words
            """
        );
        var store = await database.OpenAsync("zoo", "many_words", panel =>
            panel with
            {
                Columns = [.. panel.Columns.Select(column => column with { Searched = column.Name != "id" })],
            }
        );
        var found = await ListAsync(store, new ListRequest("north quay"));
        Assert.Equal(["120001", "120002", "120003"], found.Rows.Select(row => row.Key));
        Assert.Equal(3, found.Count!.Value);
        Assert.Equal(50, (await ListAsync(store, new ListRequest("north harbour"))).Rows.Count);
        // Measured within a transaction, the way that was given up must not spoil it.
        var plan = store.Plan(new ListRequest("north quay", ["place"]));
        var (trial, refusal) = await new ListStore(store).TryIndexAsync(plan, 0, Token);
        Assert.Null(refusal);
        Assert.True(trial is { Before: > 0, After: > 0, Bytes: > 0 });
        Assert.Equal(
            ["120003", "120002", "120001"],
            (await ListAsync(store, new ListRequest("quay north", ["-id"]))).Rows.Select(row => row.Key)
        );
    }

    [Fact]
    public async Task ListAsync_WordsThatSeldomMeet_AreNotTriedTheOtherWayAgain()
    {
        // Long texts, so that looking through all of them takes longer than it is tried.
        await database.ExecuteAsync(
            """
            CREATE TABLE zoo.long_words (id int PRIMARY KEY, note text);
            INSERT INTO zoo.long_words SELECT n, CASE WHEN n % 2 = 0 THEN 'north' ELSE 'quay' END || repeat(' along the mole', 40) FROM generate_series(1, 101000) n;
            ANALYZE zoo.long_words
            """
        );
        var seen = await database.OpenAsync("zoo", "long_words", panel =>
            panel with
            {
                Columns = [.. panel.Columns.Select(column => column with { Searched = column.Name != "id" })],
            }
        );
        foreach (var (words, isTried) in ((string, bool)[])[("north quay", true), ("north quay", false), ("quay north", true)])
        {
            using var commands = new CommandCount();
            var page = await new ListStore(seen).ListAsync(seen.Plan(new ListRequest(words)), Token, withCount: false);
            Assert.Empty(page.Rows);
            Assert.Equal(isTried, commands.Texts.Exists(text => text.Contains("statement_timeout", StringComparison.Ordinal)));
        }
    }

    [Fact]
    public async Task ListAsync_AnyNumberOfColumns_CostsOneRoundTrip()
    {
        var store = await database.OpenAsync("zoo", "everything");
        await ListAsync(store, new ListRequest("x"));
        using var commands = new CommandCount();
        await ListAsync(store, new ListRequest("y"));
        Assert.Equal(1, commands.Count);
    }

    [Fact]
    public async Task ListAsync_IdenticalRowsWithoutKey_StayTwo()
    {
        var list = await ListAsync(await database.OpenAsync("zoo", "keyless"), new ListRequest());
        Assert.Equal(3, list.Rows.Count);
        Assert.Equal(2, list.Rows.Count(row => row.Title == "twin"));
        Assert.Equal(3, list.Rows.Select(row => row.Key).OfType<string>().Distinct().Count());
    }

    [Fact]
    public async Task ListAsync_LongText_IsCutButWholeInTheRecord()
    {
        await database.ExecuteAsync("INSERT INTO zoo.everything (id, body) VALUES (900, repeat('long ', 1000))");
        var store = await database.OpenAsync("zoo", "everything", panel =>
            panel with
            {
                Columns = [.. panel.Columns.Select(column => column with { InList = column.Name == "body" })],
            }
        );
        var list = await ListAsync(store, new ListRequest("long"));
        var shown = Assert.Single(list.Rows).Values[list.Columns.ToList().IndexOf("body")]!;
        Assert.Equal(301, shown.Length);
        Assert.Equal(5000, (await new RecordStore(store).FindAsync("900", Token))!.Values["body"]!.Length);
    }

    [Fact]
    public async Task FindAsync_ValuesThatDotNetCannotHold_ReadsThemAll()
    {
        await database.ExecuteAsync(
            """
            INSERT INTO zoo.everything (id, day, stamp, free, wide, span, real8, matrix, moment)
            VALUES (901, '20215-03-01', '0044-03-15 12:00 BC', 'NaN', 1234567890123456789012345678901234567.123, '3 months 4 days', 'Infinity', '{{1,2},{3,4}}', 'infinity')
            """
        );
        var record = (await new RecordStore(await database.OpenAsync("zoo", "everything")).FindAsync("901", Token))!;
        Assert.Equal("20215-03-01", record.Values["day"]);
        Assert.Equal("NaN", record.Values["free"]);
        Assert.Equal("1234567890123456789012345678901234567.123", record.Values["wide"]);
        Assert.Equal("3 mons 4 days", record.Values["span"]);
        Assert.Equal("{{1,2},{3,4}}", record.Values["matrix"]);
        Assert.Contains("BC", record.Values["stamp"], StringComparison.Ordinal);
        Assert.Equal("infinity", record.Values["moment"]);
    }

    [Theory]
    [InlineData("no number")]
    [InlineData("99999999999")]
    [InlineData("1,2")]
    [InlineData("")]
    public async Task FindAsync_ImpossibleKey_FindsNothing(string key) =>
        Assert.Null(await new RecordStore(await database.OpenAsync("zoo", "legacy")).FindAsync(key, Token));

    [Fact]
    public async Task FindAsync_KeyThatIsNoLabelOfItsEnum_FindsNothing()
    {
        var store = await database.OpenAsync("zoo", "by_mood");
        Assert.Null(await new RecordStore(store).FindAsync("furious", Token));
        Assert.Equal("asleep", (await new RecordStore(store).FindAsync("calm", Token))!.Values["note"]);
    }

    [Fact]
    public async Task FindAsync_ColumnInNeitherListNorForm_IsKeptBack()
    {
        var store = await database.OpenAsync("zoo", "legacy", panel =>
            panel with
            {
                Columns =
                [
                    .. panel.Columns.Select(column =>
                        column.Name == "kind" ? column with { InList = false, InForm = false } : column
                    ),
                ],
            }
        );
        Assert.DoesNotContain("kind", (await new RecordStore(store).FindAsync("1", Token))!.Values.Keys);
    }

    [Fact]
    public async Task ReadAsync_Sample_ShowsRealValues()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        var sample = await TableSampler.ReadAsync(
            RecordModel.Of(await database.ReadSchemaAsync()),
            store.Panel.Table,
            database.Source,
            Token
        );
        Assert.Equal(["title 1", "title 2", "title 3"], sample.Show("title"));
    }

    private static async Task<ListPage> ListAsync(SeenPanel store, ListRequest request)
    {
        var plan = store.Plan(request);
        Assert.Empty(plan.Dropped);
        return await new ListStore(store).ListAsync(plan, Token);
    }
}
