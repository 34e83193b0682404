using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Definition;

public sealed class BoundLookupTests
{
    private static readonly Table _meters = new()
    {
        Name = new TableName("public", "meters"),
        Kind = TableKind.Table,
        Columns = [Make.Column("no", ValueKind.Integer, nullable: false), Make.Column("place")],
        Keys = [new Key("meters_pkey", ["no"], true)],
    };

    private static readonly Table _readings = new()
    {
        Name = new TableName("public", "readings"),
        Kind = TableKind.Table,
        Columns = [Make.Column("id", ValueKind.Integer, nullable: false), Make.Column("meter") with { Type = new ColumnType { StoreType = "varchar(6)", Kind = ValueKind.Text, MaxLength = 6 } }, Make.Column("sort", ValueKind.Integer)],
        Keys = [new Key("readings_pkey", ["id"], true)],
    };

    private static readonly SchemaSnapshot _snapshot = new() { TakenAt = default, ServerVersion = "15", Tables = [_meters, _readings] };
    private static readonly Lookup _lookup = new() { Table = _meters.Name, Key = "no", Conversion = ValueConversion.TextToInteger };

    private static readonly PanelDefinition _panel = PanelDraft.Make(_readings, TableSample.Empty, Make.Nothing) is var drafted
        ? drafted with { Columns = [.. drafted.Columns.Select(column => column.Name == "meter" ? column with { Lookup = _lookup } : column)] }
        : null!;

    private static readonly PorchPanels _porch = new(_snapshot, [_panel]);

    [Fact]
    public void ReferringValues_TextWithZeros_GivesEachLengthThatFits() =>
        Assert.Equal(["42", "042", "0042", "00042", "000042"], _porch.Bind(_lookup)!.ReferringValues(_readings.Find("meter")!, "42"));

    [Fact]
    public void ReferringValues_OfAnyNumber_AllMeanItAgain() => Gen.Int[0, 999_999].Sample(number =>
    {
        var bound = _porch.Bind(_lookup)!;
        var text = $"{number}";
        return bound.ReferringValues(_readings.Find("meter")!, text).All(value => bound.KeyOf(value) == text && value.Length <= 6);
    });

    [Theory]
    [InlineData("000871", "000042")]
    [InlineData("871", "042")]
    [InlineData(null, "42")]
    [InlineData("n/a", "42")]
    public void WrittenAs_AChosenRecord_GetsTheFormOfTheOthers(string? example, string expected) =>
        Assert.Equal(expected, _porch.Bind(_lookup)!.WrittenAs("42", example));

    [Fact]
    public void Bind_TableOrKeyThatIsGone_IsNone()
    {
        Assert.Null(_porch.Bind(_lookup with { Key = "gone" }));
        Assert.Null(_porch.Bind(_lookup with { Table = new TableName("public", "gone") }));
        Assert.Null(_porch.Bind(_lookup with { Where = new Discriminator("gone", "x") }));
    }

    [Fact]
    public void Bind_TitleOfTheLookupThenThePanelThenTheKey()
    {
        var meters = PanelDraft.Make(_meters, TableSample.Empty, Make.Nothing) with { Title = "Meter {place}" };
        Assert.Equal(["no"], _porch.Bind(_lookup)!.Title.Columns);
        Assert.Equal(["place"], new PorchPanels(_snapshot, [meters]).Bind(_lookup)!.Title.Columns);
        Assert.Equal(["no", "place"], new PorchPanels(_snapshot, [meters]).Bind(_lookup with { Title = "{no} {place}" })!.Title.Columns);
    }

    [Fact]
    public void Make_OfARecord_RestrictsToWhatRefersToIt()
    {
        var bound = BoundPanel.Bind(_panel, _snapshot, sourceIsReadOnly: false)!;
        var plan = ListPlan.Make(bound, new ListRequest(Of: "meter", Value: "42"), _porch);
        Assert.Equal(5, Assert.IsType<Filter.OneOf>(plan.Filter).Values.Count);
        Assert.Equal("of", Assert.Single(ListPlan.Make(bound, new ListRequest(Of: "id", Value: "42"), _porch).Dropped).Field);
    }

    [Fact]
    public void Make_RunningOrder_ComesFirstUnlessSorted()
    {
        var bound = BoundPanel.Bind(_panel with { Order = new RunningOrder { Column = "sort", Group = "meter" } }, _snapshot, sourceIsReadOnly: false)!;
        Assert.Equal(["meter", "sort", "id"], ListPlan.Make(bound, new ListRequest(), _porch).Order.Select(part => part.Column));
        Assert.Equal(["id"], ListPlan.Make(bound, new ListRequest(Sort: ["-id"]), _porch).Order.Select(part => part.Column));
    }

    [Fact]
    public void Run_LookupThatLeadsNowhere_IsNamed()
    {
        var lost = _panel with { Columns = [.. _panel.Columns.Select(column => column.Name == "meter" ? column with { Lookup = _lookup with { Key = "gone" } } : column)] };
        Assert.Equal("columns.meter.lookup", Assert.Single(PanelCheck.Run(lost, _readings, _snapshot)).Field);
    }
}
