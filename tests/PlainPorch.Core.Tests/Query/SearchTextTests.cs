using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class SearchTextTests
{
    private static readonly BoundPanel _all = Make.Panel(Make.Boats(), column => column with { Searched = true, Label =
                column.Name switch
                {
                    "length" => "Length overall (m)",
                    "built" => "Built",
                    _ => column.Label,
                } });

    [Theory]
    [InlineData(null)]
    [InlineData("  \t ")]
    public void Read_NothingTyped_IsNoFilter(string? text) => Assert.Null(SearchText.ToFilter(SearchText.Read(text, _all)));

    [Fact]
    public void Read_TwoWords_EachMustOccurSomewhere()
    {
        var parts = SearchText.Read("  grey  heron ", _all);
        Assert.Equal(["“grey”", "“heron”"], parts.Select(part => part.Says));
        Assert.Equal([Has("grey")], Assert.IsType<Filter.Any>(parts[0].Filter).Parts);
        Assert.Equal(2, Assert.IsType<Filter.All>(SearchText.ToFilter(parts)).Parts.Count);
    }

    [Theory]
    [InlineData("\"grey heron\"", "“grey heron”")]
    [InlineData("-grey", "not “grey”")]
    [InlineData("-\"grey heron\" blue", "not “grey heron”; “blue”")]
    [InlineData("\"say \"\"ahoy\"\" now\"", "“say \"ahoy\" now”")]
    [InlineData("name: grey", "Name has “grey”")]
    [InlineData("NAME:grey", "Name has “grey”")]
    [InlineData("name = grey", "Name is “grey”")]
    [InlineData("-name: grey", "not Name has “grey”")]
    [InlineData("name: \"grey heron\"", "Name has “grey heron”")]
    [InlineData("name: grey, blue, red", "Name has “grey” or has “blue” or has “red”")]
    [InlineData("name: empty", "Name is empty")]
    [InlineData("name: \"empty\"", "Name has “empty”")]
    [InlineData("name: filled", "Name is filled")]
    [InlineData("Length overall > 12", "Length overall (m) over 12")]
    [InlineData("Length overall (m): <= 12,5", "Length overall (m) at most 12.5")]
    [InlineData("\"Length overall (m)\": 12", "Length overall (m) is 12")]
    [InlineData("length: 10..12", "Length overall (m) from 10 to 12")]
    [InlineData("length: ..12", "Length overall (m) up to 12")]
    [InlineData("length: 10..", "Length overall (m) from 10 on")]
    [InlineData("length: € 1'200.50", "“length:”; “€”; “1'200.50”")]
    [InlineData("length: €10.50", "Length overall (m) is 10.50")]
    [InlineData("overall > 12", "Length overall (m) over 12")]
    [InlineData("built: 2019", "Built in 2019")]
    [InlineData("built: 03/2019", "Built in 03/2019")]
    [InlineData("built: 31.3.2019", "Built is 31/03/2019")]
    [InlineData("built > 2019", "Built after 2019")]
    [InlineData("built: 2019..03/2020 heron", "Built from 2019 to 03/2020; “heron”")]
    [InlineData("31 March 2019 heron", "“31 March 2019”; “heron”")]
    [InlineData("Mar 2019", "“Mar 2019”")]
    [InlineData("mare 2019", "“mare”; “2019”")]
    [InlineData("length: long", "“length:”; “long”")]
    [InlineData("photo: x", "“photo:”; “x”")]
    [InlineData("ghost: x", "“ghost:”; “x”")]
    [InlineData("name", "“name”")]
    [InlineData("name:", "“name:”")]
    [InlineData("built: 31.2.2019", "“built:”; “31.2.2019”")]
    [InlineData("-", "“-”")]
    [InlineData("\"", "“\"”")]
    [InlineData("a - b", "“a”; “-”; “b”")]
    public void Read_AsTyped_SaysHowItWasRead(string text, string says) =>
        Assert.Equal(says, string.Join("; ", SearchText.Read(text, _all).Select(part => part.Says)));

    [Theory]
    [InlineData(DateOrder.DayMonthYear, "built: 3/4/2019", "2019-04-03")]
    [InlineData(DateOrder.MonthDayYear, "built: 3/4/2019", "2019-03-04")]
    [InlineData(DateOrder.MonthDayYear, "built: 31/3/2019", "2019-03-31")]
    [InlineData(DateOrder.DayMonthYear, "built: 2019-04-03", "2019-04-03")]
    public void Read_DateInFigures_FollowsThePorchsOrder(DateOrder order, string text, string day) =>
        Assert.Equal(
            new Filter.EqualTo("built", day),
            Assert.Single(SearchText.Read(text, _all, notation: new Notation(order))).Filter
        );

    [Theory]
    [InlineData("built < 2019", Comparison.Less, "2019-01-01")]
    [InlineData("built <= 2019", Comparison.Less, "2020-01-01")]
    [InlineData("built > 2019", Comparison.AtLeast, "2020-01-01")]
    [InlineData("built >= 2019", Comparison.AtLeast, "2019-01-01")]
    public void Read_ComparisonWithAYear_MeansAllOfIt(string text, Comparison how, string day) =>
        Assert.Equal(new Filter.Compared("built", how, day), Assert.Single(SearchText.Read(text, _all)).Filter);

    [Fact]
    public void Read_Number_IsComparedNotCast()
    {
        var word = Assert.IsType<Filter.Any>(Assert.Single(SearchText.Read("12", _all)).Filter);
        Assert.Equal([new Filter.EqualTo("id", "12"), Has("12"), new Filter.EqualTo("length", "12")], word.Parts);
    }

    [Fact]
    public void Read_Year_LooksIntoDates()
    {
        var word = Assert.IsType<Filter.Any>(Assert.Single(SearchText.Read("2019", _all)).Filter);
        Assert.Contains(word.Parts, part =>
            part
                is Filter.All
                {
                    Parts: [
                        Filter.Compared
                        ("built", Comparison.AtLeast, "2019-01-01"),
                        Filter.Compared
                        ("built", Comparison.Less, "2020-01-01"),
                    ]
                }
        );
    }

    [Fact]
    public void Read_FieldThatSaysHowItMatches_IsMatchedSo()
    {
        var panel = Make.Panel(Make.Boats(), column =>
            column with
            {
                Searched = column.Name == "name",
                Match = TextPlace.StartsWith,
                CaseCounts = true,
                IgnoresAccents = true,
            }
        );
        var word = Assert.IsType<Filter.Any>(Assert.Single(SearchText.Read("Grey", panel)).Filter);
        Assert.Equal(
            [new Filter.Matches("name", "Grey", new TextMatch(TextPlace.StartsWith, CaseCounts: true, AccentsCount: false))],
            word.Parts
        );
    }

    [Fact]
    public void Read_PartOfAnEnumsLabel_FindsTheLabel()
    {
        var table = Make.Table([
            Make.Column("state", ValueKind.Enum) with
            {
                Type = new ColumnType
                {
                    StoreType = "state",
                    Kind = ValueKind.Enum,
                    EnumValues = ["under way", "done"],
                },
            },
        ]);
        var panel = Make.Panel(table, column => column with { Searched = true });
        var word = Assert.IsType<Filter.Any>(Assert.Single(SearchText.Read("WAY", panel)).Filter);
        Assert.Equal([new Filter.EqualTo("state", "under way")], Assert.IsType<Filter.Any>(Assert.Single(word.Parts)).Parts);
    }

    [Fact]
    public void Read_WordOfSeveralLabels_IsNoField()
    {
        var panel = Make.Panel(Make.Boats(), column => column with { Searched = true, Label = column.Name switch
                {
                    "length" => "Length overall",
                    "built" => "Length of keel",
                    _ => column.Label,
                } });
        Assert.Equal(
            "“length:”; “12”",
            string.Join("; ", SearchText.Read("length: 12", Without(panel, "length")).Select(part => part.Says))
        );
        Assert.Equal(
            "built",
            Assert
                .IsType<Filter.Compared>(
                    Assert.IsType<Filter.All>(Assert.Single(SearchText.Read("keel: 2019", panel)).Filter).Parts[0]
                )
                .Column
        );

        // By its own name a column is found whatever its label is.
        static BoundPanel Without(BoundPanel panel, string name) =>
            Make.Panel(
                panel.Table with
                {
                    Columns =
                    [
                        .. panel.Table.Columns.Select(column => column.Name == name ? column with { Name = "loa" } : column),
                    ],
                },
                column =>
                    column with
                    {
                        Searched = true,
                        Label = column.Name switch
                        {
                            "loa" => "Length overall",
                            "built" => "Length of keel",
                            _ => column.Label,
                        },
                    }
            );
    }

    [Theory]
    [InlineData("colour: blue", "colour")]
    [InlineData("name: grey", null)]
    [InlineData("12:30", null)]
    [InlineData("https://example.org", null)]
    [InlineData("colour:", null)]
    public void Plan_FieldThatIsNotThere_SaysSoWithWhatThereIs(string search, string? unknown)
    {
        var plan = Make.Plan(_all, new ListRequest(search));
        if (unknown is null)
            Assert.Empty(plan.Dropped);
        else
            Assert.StartsWith(
                $"No field is called “{unknown}”, so it was searched as a word. The fields are: ",
                Assert.Single(plan.Dropped).Message,
                StringComparison.Ordinal
            );
    }

    [Fact]
    public void Read_HiddenColumn_IsNoField()
    {
        var panel = Make.Panel(Make.Boats(), column =>
            column.Name == "built" ? column with { InList = false, InForm = false, Searched = false } : column
        );
        Assert.Equal("“built:”; “2019”", string.Join("; ", SearchText.Read("built: 2019", panel).Select(part => part.Says)));
    }

    [Fact]
    public void Read_AnyText_CoversItInOrderAndNeverFails() =>
        Gen.OneOf(
                Gen.OneOfConst(
                    "name",
                    "length",
                    "built",
                    ":",
                    "=",
                    "<",
                    ">=",
                    "..",
                    ",",
                    "\"",
                    "-",
                    " ",
                    "12",
                    "2019",
                    "3/4/2019",
                    "empty",
                    "grey"
                ),
                Gen.String[0, 3]
            )
            .Array[0, 12]
            .Select(string.Concat)
            .Sample(text =>
            {
                var parts = SearchText.Read(text, _all);
                var at = 0;
                foreach (var part in parts)
                {
                    Assert.True(part.Start >= at && part.Length > 0, text);
                    Assert.True(string.IsNullOrWhiteSpace(text[at..part.Start]), text);
                    at = part.Start + part.Length;
                }

                Assert.True(parts.Count == SearchText.MaxParts || string.IsNullOrWhiteSpace(text[at..]), text);
            });

    [Fact]
    public void Read_WithOnePieceTakenOff_ReadsTheOthersAsBefore()
    {
        const string Text = "heron built: 2019..2020 -grey \"blue boat\" length > 12";
        var parts = SearchText.Read(Text, _all);
        Assert.Equal(5, parts.Count);
        foreach (var taken in parts)
        {
            var rest = Text[..taken.Start] + Text[(taken.Start + taken.Length)..];
            Assert.Equal(parts.Except([taken]).Select(part => part.Says), SearchText.Read(rest, _all).Select(part => part.Says));
        }
    }

    private static Filter.Matches Has(string text) => new("name", text, TextMatch.Anywhere);
}
