using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Removal;

public sealed class RemovalReferencesTests
{
    [Fact]
    public void To_DeclaredAndLookedUp_IsOneReference()
    {
        var harbour = new Harbour()
            .Table("owner", RemovalManner.Keep)
            .Table(
                "boat",
                RemovalManner.Keep,
                ("owner", "owner", RemovalEffect.GoesAlong, DeleteRule.Forbid),
                ("keeper", "owner", null, null)
            );
        var references = new RemovalReferences(harbour.Porch).To(new TableName("public", "owner"));
        Assert.Equal(["owner", "keeper"], references.Select(reference => reference.Columns.Single()));
        Assert.NotNull(references[0].Declared);
        Assert.Equal(RemovalEffect.GoesAlong, references[0].Decided);
        Assert.NotNull(references[1].Lookup);
        Assert.Equal(["id"], new RemovalReferences(harbour.Porch).ColumnsOf(harbour.Porch.Snapshot.Tables[0]));
    }

    [Fact]
    public void To_ValuesThatTheColumnCannotHold_AreNoReference()
    {
        var harbour = new Harbour()
            .Table("berth", RemovalManner.Keep)
            .Table("stay", RemovalManner.Keep, ("berth", "berth", null, null));
        var reference = Assert.Single(new RemovalReferences(harbour.Porch).To(new TableName("public", "berth")));
        Assert.Empty(reference.To([Row("C-07")]));
        Assert.Equal(
            ["7"],
            Assert.IsType<Filter.OneOf>(Assert.Single(reference.To([Row("C-07"), Row("7"), Row("7"), Row(null)]))).Values
        );
    }

    [Theory]
    [InlineData(true, DeleteRule.Forbid, true)]
    [InlineData(false, DeleteRule.Forbid, false)]
    [InlineData(false, null, true)]
    public void CanBeDetached_WhatMayBeEmpty_OrReferToNothingByItsOwnSign(bool isNullable, DeleteRule? declared, bool can)
    {
        var reference = new RemovalReference
        {
            Table = Make.Table([
                Make.Column("id", ValueKind.Integer, nullable: false),
                Make.Column("owner", ValueKind.Integer, isNullable),
            ]),
            Columns = ["owner"],
            Target = new TableName("public", "owner"),
            TargetColumns = ["id"],
            Declared = declared is { } rule
                ? new ForeignKey("k", ["owner"], new TableName("public", "owner"), ["id"], rule)
                : null,
            Decided = RemovalEffect.Detached,
            Label = "Boats",
        };
        Assert.Equal(can, reference.CanBeDetached);
        Assert.Equal(isNullable ? null : "0", reference.NoneOf("owner"));
        Assert.Equal(can ? RemovalEffect.Detached : RemovalEffect.Forbids, reference.EffectOf(RowAct.Move).Effect);
    }

    [Theory]
    [InlineData(ValueConversion.None, "7", "7", true)]
    [InlineData(ValueConversion.None, "07", "7", false)]
    [InlineData(ValueConversion.TextToInteger, "0007", "7", true)]
    [InlineData(ValueConversion.TextToInteger, "70", "7", false)]
    [InlineData(ValueConversion.TrimmedAnyCase, " ab ", "AB", true)]
    public void MeaningOf_HoweverItIsWritten_IsTheSame(ValueConversion conversion, string referring, string key, bool isSame)
    {
        var reference = Looked(conversion);
        Assert.Equal(isSame, reference.MeaningOf([referring]) == reference.MeaningOf([key]));
        Assert.Null(reference.MeaningOf([null]));
    }

    [Fact]
    public void MeaningOf_SeveralColumns_DoesNotRunTogether()
    {
        var reference = Looked(ValueConversion.None);
        Assert.NotEqual(reference.MeaningOf(["1", "23"]), reference.MeaningOf(["12", "3"]));
        Assert.Null(reference.MeaningOf(["1", null]));
    }

    [Theory]
    [InlineData(ValueConversion.TextToInteger, "0007", "123", "0123")]
    [InlineData(ValueConversion.TextToInteger, "0007", "12345", "12345")]
    [InlineData(ValueConversion.None, "7", "123", "123")]
    public void Rewritten_IsWrittenAsBefore(ValueConversion conversion, string before, string key, string after) =>
        Assert.Equal([after], Looked(conversion).Rewritten([before], [key]));

    [Fact]
    public void IsReferring_TellsColumnsThatReferFromTheRest()
    {
        var references = new RemovalReferences(
            new Harbour()
                .Table("owner", RemovalManner.Keep)
                .Table("boat", RemovalManner.Keep, ("owner", "owner", null, null))
                .Porch
        );
        Assert.True(references.IsReferring(new TableName("public", "boat"), "owner"));
        Assert.False(references.IsReferring(new TableName("public", "boat"), "id"));
    }

    private static RemovalReference Looked(ValueConversion conversion)
    {
        var table = Make.Table([Make.Column("id", ValueKind.Integer, nullable: false), Make.Column("owner", ValueKind.Text)]);
        var lookup = new Lookup
        {
            Table = table.Name,
            Key = "id",
            Conversion = conversion,
        };
        return new RemovalReference
        {
            Table = table,
            Columns = ["owner"],
            Target = table.Name,
            TargetColumns = ["id"],
            Lookup = new PorchPanels(Make.Snapshot(table), []).Bind(lookup),
            Label = "Boats",
        };
    }

    private static RemovalRow Row(string? id) => new($"at {id}", "1", new Dictionary<string, string?> { ["id"] = id });
}
