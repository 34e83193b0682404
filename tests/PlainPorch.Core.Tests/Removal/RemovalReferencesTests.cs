using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Removal;

public sealed class RemovalReferencesTests
{
    [Fact]
    public void To_DeclaredAndLookedUp_IsOneReference()
    {
        var harbour = new Harbour().Table("owner", RemovalManner.Keep)
            .Table("boat", RemovalManner.Keep, ("owner", "owner", RemovalEffect.GoesAlong, DeleteRule.Forbid), ("keeper", "owner", null, null));
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
        var harbour = new Harbour().Table("berth", RemovalManner.Keep).Table("stay", RemovalManner.Keep, ("berth", "berth", null, null));
        var reference = Assert.Single(new RemovalReferences(harbour.Porch).To(new TableName("public", "berth")));
        Assert.Empty(reference.To([Row("C-07")]));
        Assert.Equal(["7"], Assert.IsType<Filter.OneOf>(Assert.Single(reference.To([Row("C-07"), Row("7"), Row("7"), Row(null)]))).Values);
    }

    [Theory]
    [InlineData(true, DeleteRule.Forbid, true)]
    [InlineData(false, DeleteRule.Forbid, false)]
    [InlineData(false, null, true)]
    public void CanBeDetached_WhatMayBeEmpty_OrReferToNothingByItsOwnSign(bool isNullable, DeleteRule? declared, bool can)
    {
        var reference = new RemovalReference
        {
            Table = Make.Table([Make.Column("id", ValueKind.Integer, nullable: false), Make.Column("owner", ValueKind.Integer, isNullable)]),
            Columns = ["owner"],
            Target = new TableName("public", "owner"),
            TargetColumns = ["id"],
            Declared = declared is { } rule ? new ForeignKey("k", ["owner"], new TableName("public", "owner"), ["id"], rule) : null,
            Decided = RemovalEffect.Detached,
            Label = "Boats",
        };
        Assert.Equal(can, reference.CanBeDetached);
        Assert.Equal(isNullable ? null : "0", reference.NoneOf("owner"));
        Assert.Equal(can ? RemovalEffect.Detached : RemovalEffect.Forbids, reference.EffectOf(RowAct.Move).Effect);
    }

    private static RemovalRow Row(string? id) => new($"at {id}", "1", new Dictionary<string, string?> { ["id"] = id });
}
