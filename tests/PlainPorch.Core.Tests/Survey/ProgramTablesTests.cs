using PlainPorch.Core.Drafting;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class ProgramTablesTests
{
    [Theory]
    [InlineData("schema_migrations", "version text", true)]
    [InlineData("dbversion", "dbversionid int, mandatory int", true)]
    [InlineData("alembic_version", "version_num text", true)]
    [InlineData("mail_queue", "id int, body text", true)]
    [InlineData("ids", "table_name text, field_name text, nextid big", true)]
    [InlineData("sequences", "name text, next_value int", true)]
    [InlineData("boats", "id int, name text", false)]
    [InlineData("product_version", "id int, product int, name text", false)]
    [InlineData("serial_number", "id int, boat int, text text", false)]
    public void IsOne_ByNameAndColumns_TellsWorkingsFromRecords(string name, string columns, bool expected) =>
        Assert.Equal(expected, ProgramTables.IsOne(new MakeRows().Table(name, columns).Snapshot.Tables[0]));

    [Theory]
    [InlineData(3, 5)]
    [InlineData(40, 2)]
    public void ByThemselves_ManyViews_AreLeftToBeChosen(int views, int expected)
    {
        var tables = new MakeRows().Table("a", "id int").Table("b", "id int").Snapshot.Tables.ToList();
        tables.AddRange(
            Enumerable
                .Range(1, views)
                .Select(n => new Table
                {
                    Name = new TableName("public", $"v{n}"),
                    Kind = TableKind.View,
                    Columns = [Make.Column("id")],
                })
        );
        Assert.Equal(expected, PorchDraft.ByThemselves(tables).Count);
    }
}
