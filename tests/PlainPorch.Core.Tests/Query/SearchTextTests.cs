using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Query;

public sealed class SearchTextTests
{
    private static readonly BoundPanel _all = Make.Panel(Make.Boats(), column => column with { Searched = true });

    [Theory]
    [InlineData(null)]
    [InlineData("  \t ")]
    public void Read_NothingTyped_IsNoFilter(string? text) => Assert.Null(SearchText.Read(text, _all));

    [Fact]
    public void Read_TwoWords_EachMustOccurSomewhere()
    {
        var filter = Assert.IsType<Filter.All>(SearchText.Read("  grey  heron grey ", _all));
        Assert.Equal(2, filter.Parts.Count);
        Assert.Equal(
            [new Filter.Contains("name", "grey")],
            Assert.IsType<Filter.Any>(filter.Parts[0]).Parts);
    }

    [Fact]
    public void Read_Number_IsComparedNotCast()
    {
        var word = Assert.IsType<Filter.Any>(Assert.Single(Assert.IsType<Filter.All>(SearchText.Read("12", _all)).Parts));
        Assert.Equal([new Filter.EqualTo("id", "12"), new Filter.Contains("name", "12"), new Filter.EqualTo("length", "12")], word.Parts);
    }

    [Fact]
    public void Read_Date_LooksIntoDates()
    {
        var word = Assert.IsType<Filter.Any>(Assert.Single(Assert.IsType<Filter.All>(SearchText.Read("2019-05-01", _all)).Parts));
        Assert.Contains(new Filter.EqualTo("built", "2019-05-01"), word.Parts);
    }

    [Fact]
    public void Read_PartOfAnEnumsLabel_FindsTheLabel()
    {
        var table = Make.Table([Make.Column("state", ValueKind.Enum) with
        {
            Type = new ColumnType { StoreType = "state", Kind = ValueKind.Enum, EnumValues = ["under way", "done"] },
        }]);
        var panel = Make.Panel(table, column => column with { Searched = true });
        var word = Assert.IsType<Filter.Any>(Assert.Single(Assert.IsType<Filter.All>(SearchText.Read("WAY", panel)).Parts));
        Assert.Equal([new Filter.EqualTo("state", "under way")], Assert.IsType<Filter.Any>(Assert.Single(word.Parts)).Parts);
    }
}
