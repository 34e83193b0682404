using CsCheck;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Tests.Survey;

public sealed class MeaningFinderTests
{
    [Fact]
    public void Find_StateThatMeansGone_IsTheMarkOfARemovedRecord()
    {
        var column = Make.Column("status");
        var found = MeaningFinder.Find(Make.Table([column]), column, ["open", "closed", "deleted", "open"]);
        Assert.Equal(Meaning.RemovedMarker, found.Meaning);
        Assert.Contains("“deleted” means removed", found.Evidence, StringComparison.Ordinal);
    }

    [Fact]
    public void Find_CheckThatListsValues_IsAChoiceWithoutAnyRow()
    {
        var column = Make.Column("kind");
        var table = Make.Table([column]) with
        {
            Checks =
            [
                new Core.Schema.CheckConstraint(
                    "kind_ok",
                    ["kind"],
                    "((kind)::text = ANY ((ARRAY['sail'::character varying, 'motor'::character varying])::text[]))"
                ),
            ],
        };
        var found = MeaningFinder.Find(table, column, []);
        Assert.Equal(Meaning.Choice, found.Meaning);
        Assert.Contains("sail, motor", found.Evidence, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("ARR_TIME", "0930", "1745", "2359", "0005", "1210", "0800", Meaning.TimeInDisguise)]
    [InlineData("opens", "09:30", "17:45", "noon", "00:05", "12:10", "8:00", Meaning.TimeInDisguise)]
    [InlineData("meter", "000101", "000102", "000103", "000104", "000105", "000106", Meaning.Plain)]
    [InlineData("paid_on", "990101", "980512", "970613", "990714", "960815", "990916", Meaning.DateInDisguise)]
    public void Find_DigitsOfATimeOrDate_AreToldFromOtherNumbers(
        string name,
        string a,
        string b,
        string c,
        string d,
        string e,
        string f,
        Meaning expected
    )
    {
        var column = Make.Column(name);
        var found = MeaningFinder.Find(Make.Table([column]), column, [a, b, c, d, e, f]);
        Assert.Equal(expected, found.Meaning);
        if (c == "noon")
            Assert.Contains("“noon”", found.Evidence, StringComparison.Ordinal);
    }

    public static TheoryData<string, string, string[], Meaning> Columns { get; } =
        new()
        {
            { "EMAIL", "text", ["ann@example.org", "bob@example.net"], Meaning.Email },
            { "Tel No", "text", ["01234 567890", "+44 1234 567"], Meaning.Phone },
            { "HOMEPAGE", "text", ["https://example.org/a", "http://example.net"], Meaning.Url },
            { "ACC", "text", ["GB82WEST12345698765432", "DE89370400440532013000"], Meaning.Sensitive },
            { "NAT_ID", "text", ["12345678901", "22345678901"], Meaning.Sensitive },
            { "password_hash", "text", ["x", "y"], Meaning.Secret },
            { "DOB", "date", ["1980-01-01"], Meaning.Sensitive },
            { "POWER_YN", "text", ["Y", "N", "Y", "Y", "N"], Meaning.YesNoInDisguise },
            { "PAID", "int", ["-1", "0", "-1", "-1", "0"], Meaning.YesNoInDisguise },
            { "ARR_DT", "text", ["20240131", "20240229", "00000000"], Meaning.DateInDisguise },
            { "seen_ts", "int", ["1700000000", "1710000000", "1720000000"], Meaning.DateInDisguise },
            { "YR_BLT", "int", ["1987", "2001"], Meaning.Year },
            { "BODY", "text", ["<p>One</p>", "<b>Two</b>"], Meaning.Html },
            { "DEL_FLG", "text", ["Y"], Meaning.RemovedMarker },
            { "deleted_at", "stamp", [], Meaning.RemovedMarker },
            { "ENT_DT", "date", ["2024-01-01"], Meaning.CreatedAt },
            { "UPD_BY", "text", ["MHB"], Meaning.ChangedBy },
            { "SORT_NO", "int", ["1", "1", "1"], Meaning.Position },
            { "DAY_RATE", "money", ["12.50"], Meaning.Money },
            { "LOA_M", "money", ["8.20"], Meaning.Quantity },
            { "PHOTO", "bytes", [], Meaning.Picture },
            { "TAG_IDS", "text", ["1,2,3", "4,5", "6"], Meaning.IdList },
            { "CTRY", "text", ["GB", "FR", "NL"], Meaning.Country },
            { "SHADE", "text", ["a plain word", "another"], Meaning.Plain },
        };

    [Theory]
    [MemberData(nameof(Columns))]
    public void Find_Column_TellsWhatItIs(string name, string type, string[] values, Meaning expected)
    {
        var found = Find(name, type, values);
        Assert.True(found.Meaning == expected, $"{found.Meaning}: {found.Evidence}");
        Assert.InRange(found.Confidence, 0.5, 1);
    }

    [Fact]
    public void Find_SensitiveColumn_KeepsItsValuesOutOfTheEvidence() =>
        Assert.DoesNotContain(
            "12345678901",
            Find("NAT_ID", "text", ["12345678901", "12345678902"]).Evidence,
            StringComparison.Ordinal
        );

    [Fact]
    public void Find_EveryRowEmpty_SaysSo() =>
        Assert.Equal(
            Meaning.Empty,
            MeaningFinder.Find(Table("SHADE", "text"), Table("SHADE", "text").Columns[1], [null, null, ""]).Meaning
        );

    [Fact]
    public void Find_PositionThatIsTheSameEverywhere_SaysSo() =>
        Assert.Contains("every row has 1", Find("SORT_NO", "int", ["1", "1", "1"]).Evidence, StringComparison.Ordinal);

    [Theory]
    [InlineData("GB82 WEST 1234 5698 7654 32", true)]
    [InlineData("GB83WEST12345698765432", false)]
    [InlineData("WREN", false)]
    public void IsIban_Text_ChecksItsDigits(string text, bool expected) => Assert.Equal(expected, CheckDigits.IsIban(text));

    [Theory]
    [InlineData("4539 1488 0343 6467", true)]
    [InlineData("4539148803436468", false)]
    [InlineData("0000000000000000", false)]
    public void IsCard_Text_ChecksItsDigit(string text, bool expected) => Assert.Equal(expected, CheckDigits.IsCard(text));

    [Fact]
    public void IsCard_OneDigitChanged_IsNoLongerOne() =>
        Gen.Select(Gen.Int[0, 15], Gen.Int[1, 9])
            .Sample(
                (place, by) =>
                {
                    var digits = "4539148803436467".ToCharArray();
                    digits[place] = (char)('0' + ((digits[place] - '0' + by) % 10));
                    Assert.False(CheckDigits.IsCard(new string(digits)));
                }
            );

    [Theory]
    [InlineData("31.12.2024", "dd.MM.yyyy")]
    [InlineData("12/31/2024", "MM/dd/yyyy")]
    [InlineData("20241231", "yyyyMMdd")]
    [InlineData("2024-12-31 23:59:00", "yyyy-MM-dd HH:mm:ss")]
    public void Find_Date_TellsItsForm(string text, string pattern) =>
        Assert.Equal(
            pattern,
            Assert.IsAssignableFrom<CalendarReading>(Find("DONE_DT", "text", [text, text, text]).Reading).Pattern
        );

    private static ColumnMeaning Find(string name, string type, string[] values) =>
        MeaningFinder.Find(Table(name, type), Table(name, type).Columns[1], values);

    private static PlainPorch.Core.Schema.Table Table(string name, string type)
    {
        var table = new MakeRows().Table("t", $"key int, x {type}").Snapshot.Tables[0];
        return table with { Columns = [table.Columns[0], table.Columns[1] with { Name = name }] };
    }
}
