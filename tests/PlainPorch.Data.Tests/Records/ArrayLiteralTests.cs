using CsCheck;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

public sealed class ArrayLiteralTests
{
    [Fact]
    public void TryRead_AfterWrite_GivesTheItemsBack() =>
        Gen.OneOf(Gen.String, Gen.Const((string?)null)!, Gen.OneOfConst("NULL", "", ",", "{", "\"", "\\"))
            .Array[0, 6]
            .Sample(items =>
            {
                Assert.True(ArrayLiteral.TryRead(ArrayLiteral.Write(items), out var read));
                Assert.Equal(items, read);
            });

    [Theory]
    [InlineData("{{1,2},{3,4}}")]
    [InlineData("[0:1]={1,2}")]
    [InlineData("")]
    public void TryRead_OtherShapes_IsRefused(string text) => Assert.False(ArrayLiteral.TryRead(text, out _));

    [Fact]
    public void TryRead_Bare_TakesNullForEmpty()
    {
        Assert.True(ArrayLiteral.TryRead("{a,NULL,\"NULL\"}", out var items));
        Assert.Equal(["a", null, "NULL"], items);
    }
}
