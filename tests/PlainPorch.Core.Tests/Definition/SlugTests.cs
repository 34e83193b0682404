using System.Text.RegularExpressions;
using CsCheck;
using PlainPorch.Core.Definition;

namespace PlainPorch.Core.Tests.Definition;

public sealed partial class SlugTests
{
    [Theory]
    [InlineData("Wrenmouth Harbour Office", "wrenmouth-harbour-office")]
    [InlineData("  Bücher & Söhne! ", "bucher-sohne")]
    [InlineData("船", "item")]
    public void Make_Text_GivesAShortName(string text, string expected) => Assert.Equal(expected, Slug.Make(text, Make.Nothing));

    [Fact]
    public void Make_AnyTextAgainAndAgain_NeverGivesOneTwice() =>
        Gen
            .String.Array[1, 6]
            .Sample(texts =>
            {
                var taken = new HashSet<string>();
                Assert.All(texts.Concat(texts), text =>
                {
                    var slug = Slug.Make(text, taken);
                    Assert.Matches(Form(), slug);
                    Assert.True(taken.Add(slug));
                });
            });

    [GeneratedRegex("^[a-z0-9]+(-[a-z0-9]+)*$")]
    private static partial Regex Form();
}
