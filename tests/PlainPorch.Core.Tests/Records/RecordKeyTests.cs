using CsCheck;
using PlainPorch.Core.Records;

namespace PlainPorch.Core.Tests.Records;

public sealed class RecordKeyTests
{
    [Theory]
    [InlineData(new[] { "17" }, "17")]
    [InlineData(new[] { "C-07" }, "C-07")]
    [InlineData(new[] { "812", "K03" }, "812,K03")]
    [InlineData(new[] { "a,b", "" }, "a%2Cb,=")]
    [InlineData(new[] { ".." }, "%2E%2E")]
    [InlineData(new[] { "a/b c" }, "a%2Fb%20c")]
    public void Write_Values_GivesReadableText(string[] values, string key) => Assert.Equal(key, RecordKey.Write(values));

    [Fact]
    public void TryRead_AfterWrite_GivesTheValuesBack() =>
        Gen
            .String.Array[1, 4]
            .Sample(values =>
            {
                // A lone half of a surrogate pair is no text that a database could hold.
                var clean = Array.ConvertAll(values, value => new string(value.Where(c => !char.IsSurrogate(c)).ToArray()));
                Assert.True(RecordKey.TryRead(RecordKey.Write(clean), clean.Length, out var read));
                Assert.Equal(clean, read);
            });

    [Theory]
    [InlineData("17", new[] { "17" })]
    [InlineData("017", new[] { "17" })]
    [InlineData("x", null)]
    [InlineData("17,2", null)]
    [InlineData("", null)]
    public void ValuesOf_Key_AreOfThePanelsTypes(string key, string[]? values) =>
        Assert.Equal(values, RecordKey.ValuesOf(Make.Panel(Make.Boats()), key));

    [Fact]
    public void Write_AnyValues_FitsIntoAnAddress() =>
        Gen
            .String.Array[1, 3]
            .Sample(values =>
                Assert.All(RecordKey.Write(values), c => Assert.True(char.IsAsciiLetterOrDigit(c) || "-_.~%,=".Contains(c)))
            );

    [Theory]
    [InlineData("1,2", 1)]
    [InlineData("1", 2)]
    [InlineData("", 1)]
    [InlineData("1,,2", 3)]
    [InlineData("1", 0)]
    public void TryRead_WrongNumberOfParts_IsRefused(string text, int count)
    {
        Assert.False(RecordKey.TryRead(text, count, out var values));
        Assert.Empty(values);
    }
}
