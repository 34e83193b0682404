using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Records;

public sealed class NextNumberTests
{
    private static readonly Table _lines = Make.Table([
        Make.Column("year", ValueKind.Integer, nullable: false),
        Make.Column("no", ValueKind.SmallInteger, nullable: false),
        Make.Column("code", ValueKind.Text, nullable: false),
        Make.Column("sum", ValueKind.Integer) with
        {
            IsGenerated = true,
        },
    ]);

    [Theory]
    [InlineData("year", "", "year")]
    [InlineData("year", "year", null)]
    [InlineData("year no", "year", "no")]
    [InlineData("year no", "", null)]
    [InlineData("code no", "", "no")]
    [InlineData("code", "", null)]
    [InlineData("sum", "", null)]
    public void ColumnOf_AKey_IsItsOnlyNumberThatRefersToNothing(string key, string referring, string? column) =>
        Assert.Equal(column, NextNumber.ColumnOf(_lines, Make.Primary(key.Split(' ')), referring.Split(' ').Contains)?.Name);

    [Theory]
    [InlineData(ValueKind.SmallInteger, null, "1")]
    [InlineData(ValueKind.SmallInteger, -5L, "1")]
    [InlineData(ValueKind.SmallInteger, 41L, "42")]
    [InlineData(ValueKind.SmallInteger, 32_767L, null)]
    [InlineData(ValueKind.Integer, 32_767L, "32768")]
    [InlineData(ValueKind.Integer, 2_147_483_647L, null)]
    [InlineData(ValueKind.BigInteger, long.MaxValue, null)]
    public void After_IsOneMore_AsFarAsTheTypeGoes(ValueKind kind, long? greatest, string? next) =>
        Assert.Equal(next, NextNumber.After(new ColumnType { StoreType = kind.ToString(), Kind = kind }, greatest));
}
