using PlainPorch.Core.Records;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Records;

namespace PlainPorch.Data.Tests.Records;

public sealed class RecordWriterTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task AddAsync_ValueOfEveryType_ComesBackAsGiven()
    {
        var given = new Dictionary<string, string?>
        {
            ["id"] = "1",
            ["small"] = "-7",
            ["big"] = "9007199254740993",
            ["exact"] = "12.50",
            ["free"] = "1234567890123456789012345678901234.5",
            ["wide"] = "1234567890123456789012345678901234567.125",
            ["real4"] = "1.5",
            ["real8"] = "0.1",
            ["flag"] = "true",
            ["day"] = "2024-02-29",
            ["hour"] = "23:59:59",
            ["stamp"] = "2026-03-31T14:30:00.123456",
            ["moment"] = "2026-03-31T12:30:00Z",
            ["uid"] = "3f2b8c1e-0d4a-4f5e-9c1b-7a6d5e4f3c2b",
            ["doc"] = """{"a": [1, 2]}""",
            ["docb"] = """{"a": [1, 2]}""",
            ["mood"] = "a \"quoted\" one",
            ["moods"] = """["wild","calm"]""",
            ["words"] = """["a,b","c \"d\" \\","{}",null,"NULL",""]""",
            ["numbers"] = """["1","2"]""",
            ["span"] = "3 mons 4 days",
            ["net"] = "10.0.0.1",
            ["range_"] = "[1,5)",
            ["spot"] = "(1,2)",
            ["bits"] = "101",
            ["name_"] = "a name",
            ["fixed"] = "ab",
            ["code"] = "ABCD",
            ["body"] = "line 1\nline 2 'quoted' \\ {}",
            ["mark"] = "<a/>",
        };
        var store = await database.OpenAsync("zoo", "everything");
        var written = Assert.IsType<WriteOutcome.Written>(await AddAsync(store, given));
        foreach (var (column, value) in given)
            Assert.Equal(value, written.Record!.Values[column]);
    }

    [Fact]
    public async Task AddAsync_TableAndColumnsWithOddNames_WritesThem()
    {
        var store = await database.OpenAsync("zoo", "Odd \"Name\" Table");
        var given = new Dictionary<string, string?>
        {
            ["Count"] = "1",
            ["Keys"] = "k",
            ["select"] = "s",
            ["with \"quotes\""] = "q",
            ["with 'single'; --"] = "i",
            ["ünï cödé"] = "ü",
            ["{brace}"] = "b",
        };
        var added = Assert.IsType<WriteOutcome.Written>(await AddAsync(store, given)).Record!;
        Assert.Equal(given, added.Values);
        var changed = await UpdateAsync(store, added, new() { ["with 'single'; --"] = "x" });
        Assert.Equal("x", Assert.IsType<WriteOutcome.Written>(changed).Record!.Values["with 'single'; --"]);
    }

    [Fact]
    public async Task AddAsync_ManyAtOnceWithoutNumber_GetDifferentOnes()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        var before = await database.AskAsync<long>("SELECT count(*) FROM zoo.legacy");
        var outcomes = await Task.WhenAll(Enumerable.Range(0, 24).Select(n => AddAsync(store, new() { ["title"] = $"new {n}" })));
        var keys = outcomes.Select(outcome => Assert.IsType<WriteOutcome.Written>(outcome).Record!.Key).ToList();
        Assert.Equal(24, keys.Distinct().Count());
        Assert.Equal(before + 24, await database.AskAsync<long>("SELECT count(*) FROM zoo.legacy"));
    }

    [Fact]
    public async Task AddAsync_NumberTakenByAnotherProgramMeanwhile_TakesTheNext()
    {
        var store = await database.OpenAsync("zoo", "guarded");
        await database.ExecuteAsync("INSERT INTO zoo.guarded VALUES (50, 'old')");
        await using var other = await database.Source.OpenConnectionAsync(Token);
        await using var transaction = await other.BeginTransactionAsync(Token);
        await using (var take = new Npgsql.NpgsqlCommand("INSERT INTO zoo.guarded VALUES (51, 'theirs')", other, transaction))
            await take.ExecuteNonQueryAsync(Token);
        var adding = AddAsync(store, new() { ["note"] = "ours" });
        await Task.Delay(200, Token);
        await transaction.CommitAsync(Token);
        Assert.Equal("52", Assert.IsType<WriteOutcome.Written>(await adding).Record!.Key);
    }

    [Fact]
    public async Task AddAsync_TypedNumberThatIsTaken_IsRefusedAtTheField()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        AssertRefused(await AddAsync(store, new() { ["no"] = "1", ["title"] = "x" }), "no", "already");
    }

    [Fact]
    public async Task AddAsync_IdentityAndDefaults_AreFilledInByTheDatabase()
    {
        var store = await database.OpenAsync("Other Place", "parent");
        var record = Assert
            .IsType<WriteOutcome.Written>(await AddAsync(store, new() { ["name"] = "third", ["amount"] = "1.25" }))
            .Record!;
        Assert.Equal("2.50", record.Values["doubled"]);
        Assert.NotNull(record.Values["made_at"]);
    }

    [Theory]
    [InlineData("Other Place", "parent", "name", "first", "name", "already")]
    [InlineData("Other Place", "parent", "amount", "-1", "amount", "amount >=")]
    [InlineData("Other Place", "heir", "parent_id", "777", "parent_id", "no record with this value")]
    [InlineData("zoo", "everything", "code", "abc", "code", "does not allow")]
    [InlineData("zoo", "everything", "span", "a while", "span", "interval")]
    [InlineData("zoo", "everything", "net", "10.0.0.300", "net", "inet")]
    [InlineData("zoo", "everything", "range_", "[5,1]", "range_", "int4range")]
    [InlineData("zoo", "guarded", "note", "loud", "", "Not so loud. Whisper.")]
    [InlineData("zoo", "guarded", "note", "lost", "", "trigger")]
    public async Task UpdateAsync_ValueThatTheDatabaseRefuses_ComesBackInWords(
        string schema,
        string table,
        string column,
        string value,
        string field,
        string fragment
    )
    {
        await database.ExecuteAsync(
            "INSERT INTO zoo.everything (id) VALUES (2) ON CONFLICT DO NOTHING; INSERT INTO zoo.guarded VALUES (2, 'x') ON CONFLICT DO NOTHING; INSERT INTO \"Other Place\".heir VALUES (2, 2) ON CONFLICT DO NOTHING"
        );
        var store = await database.OpenAsync(schema, table);
        var record = (await new RecordStore(store).FindAsync("2", Token))!;
        AssertRefused(await UpdateAsync(store, record, new() { [column] = value }), field, fragment);
        Assert.Equal(record.Version, (await new RecordStore(store).FindAsync("2", Token))!.Version);
    }

    [Fact]
    public async Task AddAsync_TriggerThatSwallowsTheRecord_SaysSo()
    {
        var store = await database.OpenAsync("zoo", "guarded");
        AssertRefused(await AddAsync(store, new() { ["id"] = "900", ["note"] = "lost" }), "", "trigger");
    }

    [Fact]
    public async Task UpdateAsync_SomebodyElseWasFaster_GivesTheirVersionAndChangesNothing()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        var shown = (await new RecordStore(store).FindAsync("5", Token))!;
        await database.ExecuteAsync("UPDATE zoo.legacy SET title = 'theirs' WHERE no = 5");
        var conflict = Assert.IsType<WriteOutcome.Conflict>(await UpdateAsync(store, shown, new() { ["title"] = "ours" }));
        Assert.Equal("theirs", conflict.Current.Values["title"]);
        Assert.Equal("theirs", await database.AskAsync<string>("SELECT title FROM zoo.legacy WHERE no = 5"));
    }

    [Fact]
    public async Task UpdateAsync_PartOfTheKey_MovesTheRecord()
    {
        var store = await database.OpenAsync("Other Place", "child");
        var shown = (await new RecordStore(store).FindAsync(RecordKey.Write(["1", "3"]), Token))!;
        var moved = Assert
            .IsType<WriteOutcome.Written>(await UpdateAsync(store, shown, new() { ["number"] = "30", ["note"] = null }))
            .Record!;
        Assert.Equal("1,30", moved.Key);
        Assert.Null(moved.Values["note"]);
        Assert.IsType<WriteOutcome.Gone>(await UpdateAsync(store, shown, new() { ["note"] = "x" }));
    }

    private static Task<WriteOutcome> AddAsync(SeenPanel store, Dictionary<string, string?> values) =>
        new RecordWriter(new RecordStore(store)).AddAsync(values, Token);

    private static Task<WriteOutcome> UpdateAsync(SeenPanel store, RecordView shown, Dictionary<string, string?> values) =>
        new RecordWriter(new RecordStore(store)).UpdateAsync(shown.Key, shown.Version, values, Token);

    private static void AssertRefused(WriteOutcome outcome, string field, string fragment)
    {
        var problem = Assert.Single(Assert.IsType<WriteOutcome.Refused>(outcome).Problems);
        Assert.Equal(field, problem.Field);
        Assert.Contains(fragment, problem.Message, StringComparison.Ordinal);
    }
}
