using CsCheck;
using PlainPorch.Core.Definition;

namespace PlainPorch.Core.Tests.Definition;

public sealed class TitleTemplateTests
{
    private static readonly Dictionary<string, string?> _owner = new()
    {
        ["SURNAME"] = "ROSSI",
        ["FIRST NM"] = "Ada",
        ["NOTE"] = null,
        ["TAB"] = "\t",
        ["LINE"] = "Ada\r\n",
        ["DASH"] = " - ",
        ["BALANCE"] = "-5",
    };

    [Theory]
    [InlineData("{SURNAME}, {FIRST NM}", "ROSSI, Ada")]
    [InlineData("{SURNAME}, {NOTE}", "ROSSI")]
    [InlineData("{NOTE}", "no 7")]
    [InlineData("{TAB}", "no 7")]
    [InlineData("{LINE}", "Ada")]
    [InlineData("{SURNAME} ({NOTE})", "ROSSI")]
    [InlineData("{SURNAME} [{NOTE}], {FIRST NM}", "ROSSI, Ada")]
    [InlineData("{SURNAME} ({FIRST NM})", "ROSSI (Ada)")]
    [InlineData("({NOTE}) {SURNAME}", "ROSSI")]
    [InlineData("{SURNAME} · {NOTE} · {FIRST NM}", "ROSSI · Ada")]
    [InlineData("{SURNAME}, {NOTE} {FIRST NM}", "ROSSI Ada")]
    [InlineData("{BALANCE}", "-5")]
    [InlineData("{NOTE}, {BALANCE}", "-5")]
    [InlineData("- {SURNAME} -", "ROSSI")]
    [InlineData("{DASH}", "no 7")]
    [InlineData("{SURNAME} {TAB}", "ROSSI")]
    [InlineData("{DASH}, {NOTE}", "no 7")]
    [InlineData(@"\{{SURNAME}\}", "{ROSSI}")]
    public void Render_Record_FillsInItsValues(string text, string expected) =>
        Assert.Equal(expected, Read(text).Render(_owner.GetValueOrDefault, fallback: "no 7"));

    [Fact]
    public void Of_AnyColumn_ReadsBackAsThatColumn() =>
        Gen.String[1, 20].Sample(column => Assert.Equal([column], Read(TitleTemplate.Of(column)).Columns));

    [Theory]
    [InlineData("{NAME")]
    [InlineData("NAME}")]
    [InlineData("{}")]
    [InlineData("{A{B}}")]
    public void TryRead_StrayBrace_IsRefused(string text)
    {
        Assert.False(TitleTemplate.TryRead(text, out _, out var problem));
        Assert.Contains("{COLUMN}", problem, StringComparison.Ordinal);
    }

    private static TitleTemplate Read(string text)
    {
        Assert.True(TitleTemplate.TryRead(text, out var template, out var problem), problem);
        return template!;
    }
}
