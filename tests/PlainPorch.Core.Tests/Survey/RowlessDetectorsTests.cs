using PlainPorch.Core.Drafting;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Tests.Survey;

/// <summary>What columns are that hold nothing yet, and which only repeat another.</summary>
public sealed class RowlessDetectorsTests
{
    [Theory]
    [InlineData("home_url", "text", null, null, Meaning.Url)]
    [InlineData("clock", "int", null, null, Meaning.TimeInDisguise)]
    [InlineData("seen_at", "big", null, null, Meaning.TimeInDisguise)]
    [InlineData("seen", "big", null, "Unix time of the last visit", Meaning.TimeInDisguise)]
    [InlineData("is_active", "int", "1", null, Meaning.YesNoInDisguise)]
    [InlineData("enabled", "int", "'0'::smallint", null, Meaning.YesNoInDisguise)]
    [InlineData("timeout", "int", null, null, Meaning.Quantity)]
    [InlineData("filesize", "big", null, null, Meaning.Quantity)]
    [InlineData("deleted", "int", "0", null, Meaning.YesNoInDisguise)]
    [InlineData("station", "int", null, null, Meaning.Plain)]
    [InlineData("sailmaker", "text", null, null, Meaning.Plain)]
    public void Find_WithoutRows_IsSaidByNameDefaultAndComment(
        string name,
        string type,
        string? standard,
        string? comment,
        Meaning meaning
    )
    {
        var table = new MakeRows().Table("things", $"id int, {name} {type}").Snapshot.Tables[0];
        Assert.Equal(
            meaning,
            MeaningFinder.Find(table, table.Columns[1] with { DefaultSql = standard, Comment = comment }, []).Meaning
        );
    }

    [Theory]
    [InlineData("deleted", new[] { "0", "1", "0" }, Meaning.RemovedMarker)]
    [InlineData("deleted", new[] { "17", "212", "9", "5", "88" }, Meaning.Plain)]
    public void Find_NumberThatSoundsRemoved_IsAMarkerOnlyIfItsValuesSaySo(string name, string[] values, Meaning meaning)
    {
        var table = new MakeRows().Table("things", $"id int, {name} int").Snapshot.Tables[0];
        Assert.Equal(meaning, MeaningFinder.Find(table, table.Columns[1], values).Meaning);
    }

    [Theory]
    [InlineData("name_key", "ANN 1")]
    [InlineData("sort_name", "ann 1")]
    [InlineData("name_hash", "c0fe")]
    public void Find_ColumnThatIsAnotherInDisguise_IsItsCopyAndIsLeftOut(string name, string first)
    {
        string Make(int n) =>
            first switch
            {
                "ANN 1" => $"ANN {n}",
                "ann 1" => $"ann {n}",
                _ => Convert.ToHexStringLower(
                    System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes($"Ann {n}"))
                ),
            };
        var rows = new MakeRows()
            .Table("people", $"id int, name text, {name} text", MakeRows.Count(12, n => [$"{n}", $"Ann {n}", Make(n)]))
            .Rows.Values.Single();
        var found = TableFindings.Of(rows, new Vocabulary([rows.Table]));
        Assert.Equal(Meaning.Copy, found.MeaningOf(name));
        var column = PanelDraft.Make(found, new HashSet<string>()).Panel.Columns.Single(column => column.Name == name);
        Assert.Equal((false, false, false), (column.InList, column.InForm, column.Searched));
    }

    [Fact]
    public void Find_ColumnJoinedFromTwo_IsACopyAndNeitherOfTheTwoIs()
    {
        var rows = new MakeRows()
            .Table(
                "people",
                "id int, first text, last text, whole text",
                MakeRows.Count(8, n => [$"{n}", $"Ann{n}", $"Bee{n}", $"Ann{n} Bee{n}"])
            )
            .Rows.Values.Single();
        Assert.Equal(
            [false, false, false, true],
            Enumerable.Range(0, 4).Select(at => MeaningFinder.Find(rows, at).Meaning is Meaning.Copy)
        );
    }

    [Fact]
    public void Find_ColumnNamedAsACopy_IsOneWithoutRows()
    {
        var rows = new MakeRows().Table("people", "id int, name text, name_upper text, upper_deck text").Rows.Values.Single();
        Assert.Equal(Meaning.Copy, MeaningFinder.Find(rows, 2).Meaning);
        Assert.NotEqual(Meaning.Copy, MeaningFinder.Find(rows, 3).Meaning);
    }
}
