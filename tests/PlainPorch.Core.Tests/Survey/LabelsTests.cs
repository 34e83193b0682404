using CsCheck;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class LabelsTests
{
    [Theory]
    [InlineData("OWNR_NO", "ownr no")]
    [InlineData("BoatKit", "boat kit")]
    [InlineData("HTTPServer2", "http server 2")]
    [InlineData("Tel No", "tel no")]
    [InlineData("created_at", "created at")]
    [InlineData("addr1", "addr 1")]
    [InlineData("__", "")]
    public void Split_AnyStyle_GivesWords(string identifier, string words) =>
        Assert.Equal(words, string.Join(' ', IdentifierWords.Split(identifier)));

    [Fact]
    public void Split_AnyIdentifier_LosesNoLetter() =>
        Gen.String.Sample(identifier =>
            Assert.Equal(
                string.Concat(identifier.Where(char.IsLetterOrDigit).Select(char.ToLowerInvariant)),
                string.Concat(IdentifierWords.Split(identifier))
            )
        );

    [Theory]
    [InlineData("BOAT_NO", "Boat number")]
    [InlineData("POWER_YN", "Power")]
    [InlineData("NAT_ID", "Nat ID")]
    [InlineData("iban", "IBAN")]
    [InlineData("***", "***")]
    public void ForColumn_Identifier_GivesALabel(string identifier, string label) =>
        Assert.Equal(label, Labels.ForColumn(identifier));

    [Theory]
    [InlineData("tblOwners", "Owners")]
    [InlineData("V_OVERDUE", "Overdue")]
    [InlineData("job_line", "Job line")]
    [InlineData("v", "V")]
    public void ForTable_Identifier_GivesALabel(string identifier, string label) =>
        Assert.Equal(label, Labels.ForTable(identifier));

    [Theory]
    [InlineData("Boats", "boat")]
    [InlineData("Boat kit", "boat kit")]
    [InlineData("Companies", "company")]
    [InlineData("ID cards", "ID card")]
    public void ForRecord_Label_GivesOneOfThem(string label, string record) => Assert.Equal(record, Labels.ForRecord(label));
}
