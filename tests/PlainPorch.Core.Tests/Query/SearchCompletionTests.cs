using CsCheck;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class SearchCompletionTests
{
    private static readonly Table _table = Make.Table(
        [
            Make.Column("id", ValueKind.Integer, nullable: false),
            Make.Column("name"),
            Make.Column("hull_mat"),
            Make.Column("year_built", ValueKind.Integer),
            Make.Column("hidden_note"),
        ],
        Make.Primary("id")
    );

    private static readonly BoundPanel _panel = Make.Panel(_table, column =>
        column with
        {
            InForm = column.Name != "hidden_note",
            InList = column.Name != "hidden_note",
            Searched = column.Name == "name",
            Narrows = false,
            Label = column.Name == "year_built" ? "Year built (AD)" : column.Label,
        }
    );

    [Theory]
    [InlineData("ye", "Year built: ")]
    [InlineData("lass ye", "lass Year built: ")]
    [InlineData("lass -ye", "lass -Year built: ")]
    [InlineData("bui", "Year built: ")]
    [InlineData("year b", "Year built: ")]
    [InlineData("name: lass year b", "name: lass Year built: ")]
    [InlineData("hull_m", "Hull mat: ")]
    public void Fields_BeginningOfALabel_IsCompleted(string typed, string text) =>
        Assert.Contains(text, SearchCompletion.At(typed, _panel, null)!.Fields(_panel).Select(suggestion => suggestion.Text));

    [Theory]
    [InlineData("hid")]
    [InlineData("hidden note")]
    [InlineData("lass")]
    public void Fields_HiddenOrUnknown_AreNotOffered(string typed) =>
        Assert.Empty(SearchCompletion.At(typed, _panel, null)!.Fields(_panel));

    [Theory]
    [InlineData("")]
    [InlineData("lass ")]
    public void At_BeginningOfAWord_OffersNothing(string typed) => Assert.Null(SearchCompletion.At(typed, _panel, null));

    [Theory]
    [InlineData("hull mat: st", "hull_mat", "st", "hull mat: Steel ")]
    [InlineData("lass -hull mat: st", "hull_mat", "st", "lass -hull mat: Steel ")]
    [InlineData("hull mat: oak, st", "hull_mat", "st", "hull mat: oak, Steel ")]
    [InlineData("hull mat: ", "hull_mat", "", "hull mat: Steel ")]
    [InlineData("hull mat: \"cold mo", "hull_mat", "cold mo", "hull mat: Steel ")]
    public void Value_OfAField_TakesThePlaceOfWhatWasTyped(string typed, string column, string part, string text)
    {
        var completion = SearchCompletion.At(typed, _panel, null)!;
        Assert.Equal((column, part), (completion.Column!.Name, completion.Typed));
        Assert.Equal(text, completion.Value("Steel").Text);
    }

    [Fact]
    public void Value_Suggested_IsReadBackAsItself() =>
        Gen.String[Gen.Char["ab \",.:-0é"], 1, 12]
            .Where(value => value.Trim() == value && value.Trim('"').Length > 0)
            .Sample(value =>
            {
                var suggestion = SearchCompletion.At("hull mat: x", _panel, null)!.Value(value);
                var part = Assert.Single(SearchText.Read(suggestion.Text, _panel, null, Notation.Usual));
                Assert.Equal(new Filter.Matches("hull_mat", value, TextMatch.Anywhere), part.Filter);
            });

    [Fact]
    public void At_AnyText_GoesOnWithWhatWasTyped() =>
        Gen.String[Gen.Char["ab hul_mt:,\"-=<>1"], 0, 30]
            .Sample(typed =>
            {
                if (SearchCompletion.At(typed, _panel, null) is not { } completion)
                    return;
                Assert.InRange(completion.Start, 0, typed.Length);
                Assert.All(completion.Fields(_panel), suggestion =>
                    Assert.EndsWith(": ", suggestion.Text, StringComparison.Ordinal)
                );
                Assert.StartsWith(typed[..completion.Start], completion.Value("Steel").Text, StringComparison.Ordinal);
            });

    [Theory]
    [InlineData("empty")]
    [InlineData("1..2")]
    public void Value_ThatMeansSomethingElse_IsQuoted(string value) =>
        Assert.Equal($"hull mat: \"{value}\" ", SearchCompletion.At("hull mat: x", _panel, null)!.Value(value).Text);
}
