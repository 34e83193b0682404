using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Panels;

public sealed class BoundPanelTests
{
    [Fact]
    public void Bind_TableWithoutKey_IsEditedByPlace_OneRecordAtATimeAndNotInTheList()
    {
        var panel = Make.Panel(Make.Table([Make.Column("a")]));
        Assert.True(panel.CanAdd && panel.CanEdit && panel.CanRemove && panel.HasRecordPage);
        Assert.False(panel.EditsInList);
        Assert.Contains("no primary key", panel.Identity.MissingBecause, StringComparison.Ordinal);
        Assert.Contains("Add a primary key", panel.Identity.Remedy, StringComparison.Ordinal);
    }

    [Fact]
    public void Bind_View_CannotBeEditedAndSaysWhatHelps()
    {
        var panel = Make.Panel(Make.Table([Make.Column("a")]) with { Kind = TableKind.View });
        Assert.False(panel.CanAdd || panel.CanEdit || panel.CanRemove || panel.HasRecordPage);
        Assert.Contains("a view has no key", panel.NotEditableBecause!.Reason, StringComparison.Ordinal);
        Assert.Contains("the table behind it", panel.NotEditableBecause.Remedy, StringComparison.Ordinal);
    }

    [Fact]
    public void Bind_ReadOnlySource_CannotBeEdited() =>
        Assert.Contains(
            "read-only",
            Make.Panel(Make.Boats(), sourceIsReadOnly: true).NotEditableBecause!.Reason,
            StringComparison.Ordinal
        );

    [Fact]
    public void Bind_UserWhoMayOnlyInsert_CanOnlyAdd()
    {
        var panel = Make.Panel(Make.Boats() with { Rights = new TableRights(true, true, false, false) });
        Assert.Equal((true, false, false), (panel.CanAdd, panel.CanEdit, panel.CanRemove));
    }

    [Fact]
    public void Bind_ColumnThatIsGone_IsLeftOut()
    {
        var definition = PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing);
        var smaller = Make.Boats() with { Columns = [.. Make.Boats().Columns.Where(column => column.Name != "built")] };
        var snapshot = new SchemaSnapshot
        {
            TakenAt = default,
            ServerVersion = "",
            Tables = [smaller],
        };
        Assert.DoesNotContain(BoundPanel.Bind(definition, snapshot, false)!.Columns, column => column.Name == "built");
        Assert.Null(BoundPanel.Bind(definition, snapshot with { Tables = [] }, false));
    }

    [Fact]
    public void FetchedForList_NoRecordPage_BringsTheFormsColumnsToo()
    {
        static PanelColumn Hide(PanelColumn column) => column with { InList = false };
        var table = Make.Table([Make.Column("name"), Make.Column("b")]);
        Assert.Equal(2, Make.Panel(table with { Kind = TableKind.View }, Hide).FetchedForList.Count);
        Assert.Equal(["name"], Make.Panel(table, Hide).FetchedForList);
        Assert.Equal(["name"], Make.Panel(Make.Boats(), Hide).FetchedForList);
    }
}
