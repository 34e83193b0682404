using PlainPorch.Core.Imports;

namespace PlainPorch.Core.Tests.Imports;

public sealed class ValueFormTests
{
    public static TheoryData<string, string?> Forms =>
        new(
            ColumnGuesses
                .Forms.Concat([
                    ValueForm.Text,
                    new ValueForm.Bytes(),
                    new ValueForm.YesNo("J", "N"),
                    new ValueForm.Whole("integer"),
                ])
                .Select(form => (form.StoreType, form.Pattern))
        );

    [Theory]
    [MemberData(nameof(Forms))]
    public void AForm_IsFoundAgainByWhatItSaysOfItself(string type, string? pattern)
    {
        var found = ValueForm.Find(type, pattern);
        Assert.NotNull(found);
        Assert.Equal((type, pattern), (found.StoreType, found.Pattern));
    }

    [Theory]
    [InlineData("date", "yyyy")]
    [InlineData("date", "ddd")]
    [InlineData("date", null)]
    [InlineData("date", "dd.MM.yyyy; DROP TABLE x")]
    [InlineData("time without time zone", "yyyy-MM-dd")]
    [InlineData("numeric", "1,234,5")]
    [InlineData("boolean", "J")]
    [InlineData("text", "x")]
    [InlineData("int; DROP TABLE x", null)]
    public void WhatIsNoForm_IsNone(string type, string? pattern) => Assert.Null(ValueForm.Find(type, pattern));
}
