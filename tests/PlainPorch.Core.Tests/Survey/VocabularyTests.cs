using CsCheck;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class VocabularyTests
{
    private static readonly Vocabulary _words = new([
        .. new[] { "OWNERS", "boats", "job_line", "customer" }.Select(name => new Table
        {
            Name = new TableName("public", name),
            Kind = TableKind.Table,
            Columns = [],
        }),
    ]);

    [Theory]
    [InlineData("ownerid", "owner id")]
    [InlineData("id_boats", "id boat")]
    [InlineData("CustomerNo", "customer no")]
    [InlineData("srccustomerid", "src customer id")]
    [InlineData("paid", "paid")]
    [InlineData("video", "video")]
    public void Of_Column_PartsWhatIsRunTogether(string column, string words) =>
        Assert.Equal(words, string.Join(' ', _words.Of(column)));

    [Theory]
    [InlineData("owner", "owner", true)]
    [InlineData("ownr", "owner", true)]
    [InlineData("cat", "category", true)]
    [InlineData("dept", "department", true)]
    [InlineData("value", "valuemap", false)]
    [InlineData("mode", "module", false)]
    [InlineData("acknowledged", "acknowledge", false)]
    [InlineData("id", "idea", false)]
    public void Same_Words_TellsAbbreviationsFromOthers(string a, string b, bool same)
    {
        Assert.Equal(same, Vocabulary.Same(a, b) > 0);
        Assert.Equal(Vocabulary.Same(a, b), Vocabulary.Same(b, a));
    }

    [Fact]
    public void Of_TableNamedBySignsOnly_IsAWordOfItsOwn_AndTheSurveyGoesOn()
    {
        var made = new MakeRows()
            .Table("---", "id int, name text", MakeRows.Count(30, n => [$"{n}", $"Name {n}"]))
            .Table("boats", "id int, ___ int, name text", MakeRows.Count(30, n => [$"{n}", $"{n}", $"Boat {n}"]));
        Assert.Equal(["---"], new Vocabulary(made.Snapshot.Tables).Of(new TableName("public", "---")));
        Assert.Equal(2, SurveyReport.Make(made.Snapshot, made.Rows, made.Find()).Tables.Count);
    }

    [Fact]
    public void Same_AnyWord_IsTheSameAsItself() => Gen.String.Sample(word => Assert.Equal(1, Vocabulary.Same(word, word)));

    [Theory]
    [InlineData("ownr", "owner")]
    [InlineData("xyz", null)]
    public void Explained_Abbreviation_GivesTheTablesWord(string word, string? expected) =>
        Assert.Equal(expected, _words.Explained(word));

    [Fact]
    public void Of_TablesThatShareAPrefix_LeavesItOut()
    {
        var words = new Vocabulary([
            .. new[] { "app_user", "app_order", "app_item", "app_tag", "app_note" }.Select(name => new Table
            {
                Name = new TableName("public", name),
                Kind = TableKind.Table,
                Columns = [],
            }),
        ]);
        Assert.Equal(["order"], words.Of(new TableName("public", "app_order")));
    }

    [Theory]
    [InlineData("OWNR_NO", "int", "Owner number")]
    [InlineData("LOA_M", "money", "LOA (m)")]
    [InlineData("DRAFT_M", "money", "Draft (m)")]
    [InlineData("ROOM_M", "text", "Room m")]
    public void ForColumn_WithTheSchemasWords_ReadsWell(string column, string type, string label)
    {
        var schema = new MakeRows().Table("OWNERS", $"OTHER int, {column} {type}").Snapshot;
        Assert.Equal(label, new Vocabulary(schema.Tables).Labels.ForColumn(schema.Tables[0].Name, schema.Tables[0].Columns[1]));
    }
}
