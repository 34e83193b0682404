using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.People;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.People;

public sealed class RoleTests
{
    private static readonly TableName _ownersTable = new("public", "owners");

    private static readonly Table _owners = new()
    {
        Name = _ownersTable,
        Kind = TableKind.Table,
        Columns =
        [
            Make.Column("no", ValueKind.Integer, nullable: false),
            Make.Column("name"),
            Make.Column("town"),
            Make.Column("iban"),
        ],
        Keys = [Make.Primary("no")],
    };

    private static readonly Table _boats = new()
    {
        Name = new TableName("public", "boats"),
        Kind = TableKind.Table,
        Columns =
        [
            Make.Column("id", ValueKind.Integer, nullable: false),
            Make.Column("owner", ValueKind.Integer),
            Make.Column("entered_by"),
            Make.Column("state"),
        ],
        Keys = [Make.Primary("id")],
    };

    private static readonly PorchPanels _porch = MakePorch();

    private static PanelDefinition Boats => _porch.Find("boats")!;

    [Fact]
    public void AColumnThatIsThePerson_IsComparedAsItIs_AndFilledIn()
    {
        var sight = Sight("owner = current_person");
        Assert.Equal(new Filter.EqualTo("owner", "17"), sight.Rows);
        Assert.Equal("17", sight.Fills["owner"]);
    }

    [Fact]
    public void ThroughALookup_TheRecordReferredToIsAsked_AndNothingIsFilledIn()
    {
        var rows = Assert.IsType<Filter.Refers>(Sight("owner.town = 'Elm'").Rows);
        Assert.Equal(("owner", new Filter.EqualTo("town", "Elm")), (rows.Column, rows.Of));
        Assert.Empty(Sight("owner.no = current_person").Fills);
    }

    [Fact]
    public void Parts_AreTranslatedEach_AndWhatIsMoreInvolvedIsAskedAsWritten()
    {
        var all = Assert.IsType<Filter.All>(Sight("owner = current_person and state <> 'gone'").Rows);
        Assert.Equal(new Filter.EqualTo("owner", "17"), all.Parts[0]);
        Assert.IsType<Filter.Fulfils>(all.Parts[1]);
        Assert.IsType<Filter.Any>(Sight("owner = current_person or entered_by = current_user").Rows);
        // Of "this or that" neither is what a new record must have.
        Assert.Empty(Sight("owner = current_person or entered_by = current_user").Fills);
        Assert.Equal(
            new Dictionary<string, string> { ["owner"] = "17", ["entered_by"] = "Ann" },
            Sight("owner = current_person and entered_by = current_user").Fills
        );
        Assert.IsType<Filter.Fulfils>(Sight("not (owner = current_person)").Rows);
    }

    [Theory]
    [InlineData("owner = current_person", null)]
    [InlineData("owner = current_person", "not a number")]
    [InlineData("owner = ghost", "17")]
    [InlineData("id + 1", "17")]
    [InlineData("owner = ", "17")]
    public void WhatCannotBeTold_ShowsNothing(string rows, string? record)
    {
        var seen = Sight(rows, record);
        Assert.Equal([], Assert.IsType<Filter.Any>(seen.Rows).Parts);
        Assert.Empty(seen.Fills);
    }

    [Fact]
    public void CurrentPerson_IsKnownOnlyWherePeopleAreRecords()
    {
        Assert.Null(RowRule.Problem("owner = current_person", Boats, Role("owner = current_person"), _porch));
        Assert.Contains(
            "current_person is known only",
            RowRule.Problem("owner = current_person", Boats, Role("true") with { Person = null }, _porch),
            StringComparison.Ordinal
        );
        Assert.False(
            RuleReader.TryRead(
                "owner = current_person",
                new RuleScope(_porch.Bind(Boats, sourceIsReadOnly: true)!, _porch),
                out _,
                out _
            )
        );
    }

    [Fact]
    public void WhatIsNotSeen_IsSeenByNothing()
    {
        var role = Role("true") with { Sees = false, Panels = [] };
        var seen = _porch.SeenBy(new MemberSights(new PorchMember("Ann", role, null), _porch));
        var boats = seen.Bind(Boats, sourceIsReadOnly: false)!;
        Assert.False(boats.Sight.Sees);
        Assert.Equal(["id"], boats.Columns.Select(column => column.Name));
        Assert.Equal((false, false, false), (boats.CanAdd, boats.CanEdit, boats.CanRemove));
        Assert.Equal([], Assert.IsType<Filter.Any>(boats.Within(null)).Parts);
        var sees = Role("true") with { Sees = false, Panels = [new RoleOnPanel { Panel = "boats", Sees = true }] };
        var own = _porch.SeenBy(new MemberSights(new PorchMember("Ann", sees, null), _porch));
        // What a lookup refers to is not seen, so that there is but the value.
        Assert.Null(own.Bind(own.Bind(Boats, sourceIsReadOnly: true)!.Find("owner")!));
    }

    [Fact]
    public void AMaskedColumn_IsHidden_AndAnotherStandsInItsPlace()
    {
        var role = Role("true") with
        {
            Panels =
            [
                new RoleOnPanel
                {
                    Panel = "owners",
                    Columns =
                    [
                        new ColumnRight { Name = "iban", Access = ColumnAccess.Masked },
                        new ColumnRight { Name = "town", Access = ColumnAccess.ReadOnly },
                    ],
                },
            ],
        };
        var seen = _porch.SeenBy(new MemberSights(new PorchMember("Ann", role, null), _porch));
        var owners = seen.Bind(_porch.Find("owners")!, sourceIsReadOnly: false)!;
        Assert.Null(owners.Find("iban"));
        var mask = owners.Find("iban~")!;
        Assert.False(mask.Schema.IsStored);
        Assert.Equal(["town"], owners.Columns.Where(column => column.Decision.ReadOnly).Select(column => column.Name));
        Assert.Equal("owners iban", $"{owners.Definition.Slug} {mask.Decision.MaskOf}");
    }

    // Whatever a role says: an exception counts for its panel, the rest for all others, and nothing may be done with what is not seen.
    [Fact]
    public void Rights_AreTheExceptions_OrElseTheUsual()
    {
        var acts = Gen.OneOfConst(PanelActs.Add, PanelActs.Change, PanelActs.Export, PanelActs.All).List[0, 3];
        Gen.Select(Gen.Bool, acts, Gen.Bool.Nullable(), acts.Null())
            .Sample(
                (sees, may, here, mayHere) =>
                {
                    var role = new RoleDefinition
                    {
                        Slug = "r",
                        Name = "R",
                        Sees = sees,
                        May = may,
                        Panels =
                        [
                            new RoleOnPanel
                            {
                                Panel = "boats",
                                Sees = here,
                                May = mayHere,
                            },
                        ],
                    };
                    var usual = may.Aggregate(PanelActs.None, (all, act) => all | act);
                    var other = (mayHere ?? may).Aggregate(PanelActs.None, (all, act) => all | act);
                    return role.MayOn("owners") == (sees ? usual : PanelActs.None)
                        && role.MayOn("boats") == ((here ?? sees) ? other : PanelActs.None)
                        && role.SeesPanel("boats") == (here ?? sees);
                }
            );
    }

    private static PanelSight Sight(string rows, string? record = "17") =>
        new MemberSights(new PorchMember("Ann", Role(rows), record), _porch).Of(Boats);

    private static RoleDefinition Role(string rows) =>
        new()
        {
            Slug = "owner",
            Name = "Owner",
            Person = "owners",
            Panels = [new RoleOnPanel { Panel = "boats", Rows = rows }],
        };

    private static PorchPanels MakePorch()
    {
        var slugs = new HashSet<string>();
        var owners = PanelDraft.Make(_owners, TableSample.Empty, slugs);
        var boats = PanelDraft.Make(_boats, TableSample.Empty, slugs);
        boats = boats with
        {
            Columns =
            [
                .. boats.Columns.Select(column =>
                    column with
                    {
                        InForm = true,
                        Lookup = column.Name == "owner" ? new Lookup { Table = _ownersTable, Key = "no" } : null,
                    }
                ),
            ],
        };
        owners = owners with { Columns = [.. owners.Columns.Select(column => column with { IsSecret = false, InForm = true })] };
        return new PorchPanels(Make.Snapshot(_owners, _boats), [owners, boats], computed: ComputedColumns.Instance);
    }
}
