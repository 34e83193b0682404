using CsCheck;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Records;

namespace PlainPorch.Core.Tests.Filters;

/// <summary>Where a row is, as a record's key.</summary>
public sealed class RowPlaceTests
{
    [Fact]
    public void Parts_AreReadAgain_AlsoOutOfAnAddress() =>
        Gen.Select(Gen.UInt, Gen.UInt, Gen.UShort, Gen.UInt)
            .Sample(
                (table, block, line, version) =>
                {
                    var place = new RowPlace(table, $"({block},{line})", version);
                    var key = RecordKey.Write(place.Parts);
                    return RecordKey.TryRead(key, RowPlace.Count, out var parts) && place == RowPlace.TryRead(parts);
                }
            );

    [Fact]
    public void Key_OfAPanelWithoutOne_IsAPlace_AndNothingElseIs()
    {
        var panel = Make.Panel(Make.Table([Make.Column("a")]));
        Assert.Equal(["16", "(0,1)", "7"], RecordKey.ValuesOf(panel, "16,%280%2C1%29,7"));
        Assert.Equal(new Filter.At(new RowPlace(16, "(0,1)", 7)), RecordKey.Filter(panel, ["16", "(0,1)", "7"]));
        Gen.String.Sample(text => text.Count(letter => letter == ',') == 2 || RecordKey.ValuesOf(panel, text) is null);
        foreach (var wrong in new[] { "16,(0;1),7", "16,(0,1),7", "16,%280%2C1%29,-7", " 16,%280%2C1%29,7", "=,=,=" })
            Assert.Null(RecordKey.ValuesOf(panel, wrong));
    }

    [Fact]
    public void ToWrite_OfADecidedKey_AsksThatNoOtherRowHasIt_AndOfADeclaredOneNot()
    {
        var table = Make.Table(
            [Make.Column("a")],
            new PlainPorch.Core.Schema.Key("(decided)", ["a"], false) { IsAssumed = true }
        );
        Assert.Contains(RecordKey.ToWrite(Make.Panel(table), ["x"]).Conjuncts(), part => part is Filter.Alone(["a"]));
        Assert.DoesNotContain(RecordKey.ToWrite(Make.Panel(Make.Boats()), ["1"]).Conjuncts(), part => part is Filter.Alone);
    }
}
