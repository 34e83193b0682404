using PlainPorch.Core.Schema;

namespace PlainPorch.Data.Tests.Schema;

public sealed class SnapshotReaderTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    [Fact]
    public async Task ReadAsync_EveryType_ListsEveryColumn()
    {
        var table = await FindAsync("zoo", "everything");
        Assert.Equal(
            await database.AskAsync<long>(
                "SELECT count(*) FROM pg_attribute WHERE attrelid = 'zoo.everything'::regclass AND attnum > 0"
            ),
            table.Columns.Count
        );
        Assert.Equal(
            (ValueKind.Decimal, 8, 2),
            (table.Find("exact")!.Type.Kind, table.Find("exact")!.Type.Precision, table.Find("exact")!.Type.Scale)
        );
        Assert.Equal(["calm", "wild", "a \"quoted\" one"], table.Find("mood")!.Type.EnumValues);
        Assert.Equal((ValueKind.Array, ValueKind.Enum), (table.Find("moods")!.Type.Kind, table.Find("moods")!.Type.Element));
        Assert.Equal(5, table.Find("fixed")!.Type.MaxLength);
        Assert.Equal(ValueKind.Other, table.Find("search")!.Type.Kind);
    }

    [Fact]
    public async Task ReadAsync_DomainOverDomain_RestsOnItsBaseType()
    {
        var code = (await FindAsync("zoo", "everything")).Find("code")!;
        Assert.Equal((ValueKind.Text, 4), (code.Type.Kind, code.Type.MaxLength));
        Assert.StartsWith("zoo.inner_code", code.Type.Domain, StringComparison.Ordinal);
        Assert.False(code.IsNullable);
    }

    [Fact]
    public async Task ReadAsync_KeyAndReferenceOverAnEnum_AreThere()
    {
        Assert.Equal(["mood"], RecordIdentity.Of(await FindAsync("zoo", "by_mood")).Columns);
        var reference = Assert.Single((await FindAsync("zoo", "of_mood")).ForeignKeys);
        Assert.Equal(new TableName("zoo", "by_mood"), reference.ReferredTable);
    }

    [Fact]
    public async Task ReadAsync_Parent_TellsIdentityGeneratedDefaultCheckAndComments()
    {
        var table = await FindAsync("Other Place", "parent");
        Assert.Equal(IdentityKind.ByDefault, table.Find("id")!.Identity);
        Assert.True(table.Find("doubled") is { IsGenerated: true, DefaultSql: null });
        Assert.Equal("now()", table.Find("made_at")!.DefaultSql);
        Assert.Equal(["amount"], Assert.Single(table.Checks).Columns);
        Assert.Equal("What the children belong to", table.Comment);
        Assert.Equal("In the coin of the realm", table.Find("amount")!.Comment);
        Assert.Equal([true, false], table.Keys.Select(key => key.IsPrimary));
    }

    [Theory]
    [InlineData("child", DeleteRule.Forbid)]
    [InlineData("heir", DeleteRule.Cascade)]
    [InlineData("friend", DeleteRule.SetNull)]
    public async Task ReadAsync_ForeignKey_TellsWhatDeletingDoes(string table, DeleteRule rule) =>
        Assert.Equal(rule, Assert.Single((await FindAsync("Other Place", table)).ForeignKeys).OnDelete);

    [Theory]
    [InlineData("keyless")]
    [InlineData("loosely_unique")]
    [InlineData("partly_unique")]
    [InlineData("calm")]
    public async Task ReadAsync_NothingTellsRowsApart_GivesNoIdentity(string table) =>
        Assert.False(RecordIdentity.Of(await FindAsync("zoo", table)).Exists);

    [Fact]
    public async Task ReadAsync_PartitionedTable_LeavesItsPartitionsOut()
    {
        var snapshot = await database.ReadSchemaAsync();
        Assert.Equal(TableKind.PartitionedTable, snapshot.Find(new TableName("zoo", "parted"))!.Kind);
        Assert.Null(snapshot.Find(new TableName("zoo", "parted_old")));
    }

    [Fact]
    public async Task ReadAsync_ChosenSchema_ReadsThatOneOnly() =>
        Assert.All((await database.ReadSchemaAsync("Other Place")).Tables, table =>
            Assert.Equal("Other Place", table.Name.Schema)
        );

    [Fact]
    public async Task ReadAsync_UserWithFewRights_TellsThem()
    {
        var role = $"reader_{Guid.NewGuid():N}"[..20];
        await database.ExecuteAsync(
            $"CREATE ROLE {role} LOGIN PASSWORD 'r'; GRANT USAGE ON SCHEMA zoo TO {role}; GRANT SELECT ON zoo.keyless TO {role}; GRANT SELECT (id) ON zoo.guarded TO {role}"
        );
        try
        {
            await using var source = PlainPorch.Data.Connections.SourceConnection.Create(
                database.Settings with
                {
                    User = role,
                    Password = "r",
                },
                false,
                pooling: false
            );
            var snapshot = await new PlainPorch.Data.Schema.SnapshotReader(TimeProvider.System).ReadAsync(
                source,
                ["zoo"],
                TestContext.Current.CancellationToken
            );
            Assert.Equal(new TableRights(true, false, false, false), snapshot.Find(new TableName("zoo", "keyless"))!.Rights);
            Assert.False(snapshot.Find(new TableName("zoo", "legacy"))!.Rights.Read);
            Assert.Equal(["id"], snapshot.Find(new TableName("zoo", "guarded"))!.Columns.Select(column => column.Name));
        }
        finally
        {
            await database.ExecuteAsync($"DROP OWNED BY {role}; DROP ROLE {role}");
        }
    }

    private async Task<Table> FindAsync(string schema, string table) =>
        (await database.ReadSchemaAsync()).Find(new TableName(schema, table))!;
}
