using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Query;

public sealed class ConditionFieldTests
{
    private static readonly Table _owners = Make.Table(
        [Make.Column("no", ValueKind.Integer, nullable: false), Make.Column("surname"), Make.Column("secret")],
        Make.Primary("no")
    ) with
    {
        Name = new TableName("public", "owners"),
        Rights = TableRights.All,
    };

    private static readonly Table _boats = Make.Table(
        [
            Make.Column("id", ValueKind.Integer, nullable: false),
            Make.Column("name"),
            Make.Column("owner", ValueKind.Integer),
            Make.Column("built", ValueKind.Date),
            Make.Column("sold", ValueKind.Date),
            Make.Column("afloat", ValueKind.Boolean),
            Make.Column("photo", ValueKind.Binary),
            Make.Column("hidden"),
        ],
        Make.Primary("id")
    );

    [Fact]
    public void For_EachKind_OffersWhatCanBeReadAgain()
    {
        var (panel, porch) = Open();
        var fields = ConditionField.For(panel, porch);
        Assert.DoesNotContain(fields, field => field.Column == "hidden");
        foreach (var field in fields)
        {
            foreach (var sort in field.Sorts)
            {
                var problems = new List<FieldProblem>();
                var json = System.Text.Json.JsonSerializer.Serialize(
                    new Condition
                    {
                        Column = field.Column,
                        Of = field.Of,
                        Is = sort,
                        Values = Example(field, sort),
                    },
                    DefinitionJson.Options
                );
                var reader = new ConditionReader(panel, porch, Notation.Usual, new DateOnly(2026, 11, 26));
                Assert.True(Assert.Single(reader.Read(json, problems)) is not null, json);
                Assert.Empty(problems);
            }
        }
    }

    [Fact]
    public void For_Lookup_OffersTheColumnsThatTheOtherPanelShows()
    {
        var (panel, porch) = Open();
        Assert.Equal(
            ["surname"],
            ConditionField
                .For(panel, porch)
                .Where(field => field.Column == "owner" && field.Of is not (null or "no"))
                .Select(field => field.Of)
        );
    }

    [Theory]
    [InlineData("West", false)]
    [InlineData("17", true)]
    public void Lookup_Is_ByItsTitleOrItsValue(string typed, bool isValueToo)
    {
        var (panel, porch) = Open();
        var filter = new FieldFilter(porch, Notation.Usual).Is(panel.Find("owner")!, typed);
        var ofTitle = new Filter.Matches("surname", typed, new TextMatch(TextPlace.Whole));
        if (isValueToo)
            Assert.Equal(new Filter.EqualTo("owner", typed), Assert.IsType<Filter.Any>(filter).Parts[0]);
        var refers = Assert.IsType<Filter.Refers>(filter is Filter.Any(var parts) ? parts[1] : filter);
        Assert.Equal(("owner", (Filter)ofTitle), (refers.Column, refers.Of));
    }

    [Fact]
    public void For_Date_CanBeComparedWithDatesOnly()
    {
        var (panel, porch) = Open();
        Assert.Equal(["sold"], ConditionField.For(panel, porch).Single(field => field is { Column: "built" }).Others);
    }

    private static string[] Example(ConditionField field, ConditionSort sort) =>
        (sort, field.Kind) switch
        {
            (ConditionSort.Empty or ConditionSort.Filled, _) => [],
            (ConditionSort.InLast or ConditionSort.InNext, _) => ["3 weeks"],
            (ConditionSort.InThis, _) => ["month"],
            (ConditionSort.Between, ValueKind.Date) => ["2018", "2019"],
            (ConditionSort.Between, _) => ["1", "2"],
            (_, ValueKind.Date) => ["03/2019"],
            (_, ValueKind.Boolean) => [field.Choices[0]],
            _ => ["7"],
        };

    private static (BoundPanel Panel, PorchPanels Porch) Open()
    {
        var snapshot = new SchemaSnapshot
        {
            TakenAt = DateTimeOffset.UnixEpoch,
            ServerVersion = "15.0",
            Tables = [_boats, _owners],
        };
        var boats = PanelDraft.Make(_boats, TableSample.Empty, Make.Nothing);
        var owners = PanelDraft.Make(_owners, TableSample.Empty, new HashSet<string> { boats.Slug });
        boats = boats with
        {
            Title = "{name}",
            Columns =
            [
                .. boats.Columns.Select(column =>
                    column with
                    {
                        InList = false,
                        InForm = column.Name != "hidden",
                        Searched = false,
                        Narrows = false,
                        Lookup = column.Name == "owner" ? new Lookup { Table = _owners.Name, Key = "no" } : null,
                    }
                ),
            ],
        };
        owners = owners with
        {
            Title = "{surname}",
            Columns =
            [
                .. owners.Columns.Select(column =>
                    column with
                    {
                        InList = false,
                        InForm = column.Name == "surname",
                        Searched = false,
                        Narrows = false,
                    }
                ),
            ],
        };
        return (BoundPanel.Bind(boats, snapshot, sourceIsReadOnly: false)!, new PorchPanels(snapshot, [boats, owners]));
    }
}
