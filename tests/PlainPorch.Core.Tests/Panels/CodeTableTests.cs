using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Panels;

/// <summary>Tables that hold several lists of codes.</summary>
public sealed class CodeTableTests
{
    [Fact]
    public void In_FindsThoseWhoseKeySaysSo_AndTheTextBesideTheCode()
    {
        var found = Assert.Single(CodeTable.In(Make.Snapshot(Codes(Make.Primary("kind", "code"))), []));
        Assert.Equal(("boats", "kind", "code", "{descr}"), (found.Table.Name.Name, found.By, found.Key, found.Title));
    }

    [Fact]
    public void In_FindsThoseThatALookupUses_WhereNothingIsDeclared_AndEachOnce()
    {
        var table = Codes();
        Assert.Empty(CodeTable.In(Make.Snapshot(table), []));
        var lookup = new Lookup
        {
            Table = table.Name,
            Key = "code",
            Where = new Discriminator("kind", "RIG"),
        };
        var panel = new PanelDefinition
        {
            Slug = "boats",
            Label = "Boats",
            RecordLabel = "boat",
            Table = table.Name,
            Title = "{code}",
            Columns =
            [
                new PanelColumn
                {
                    Name = "kind",
                    Label = "Kind",
                    Lookup = lookup,
                },
                new PanelColumn
                {
                    Name = "code",
                    Label = "Code",
                    Lookup = lookup with { Where = new Discriminator("kind", "HULL") },
                },
            ],
        };
        Assert.Single(CodeTable.In(Make.Snapshot(table), [panel]));
    }

    [Theory]
    [InlineData(true, 100L)]
    [InlineData(false, 50_000L)]
    public void In_LeavesAsideWhatRefersToOthers_AndWhatIsLong(bool refers, long rows)
    {
        var table = Codes(Make.Primary("kind", "code")) with { EstimatedRows = rows };
        if (refers)
            table = table with
            {
                ForeignKeys = [new ForeignKey("f", ["code"], new TableName("public", "other"), ["id"], default)],
            };
        Assert.Empty(CodeTable.In(Make.Snapshot(table), []));
    }

    private static Table Codes(params Key[] keys) =>
        Make.Table([Make.Column("kind"), Make.Column("code"), Make.Column("descr")], keys);
}
