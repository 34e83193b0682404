using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Panels;

public sealed class RemovalRulesTests
{
    private static readonly Table _table = Make.Table(
        [
            Make.Column("id", ValueKind.Integer, nullable: false),
            Make.Column("gone"),
            Make.Column("state", nullable: false),
            Make.Column("gone_at", ValueKind.Instant),
            Make.Column("made_at", ValueKind.Instant, nullable: false),
            Make.Column("computed") with
            {
                IsGenerated = true,
            },
            Make.Column("level", ValueKind.SmallInteger),
        ],
        Make.Primary("id")
    );

    [Theory]
    [InlineData("gone", MarkerKind.Flag, "Y", null, null)]
    [InlineData("gone_at", MarkerKind.Time, null, null, null)]
    [InlineData("state", MarkerKind.Status, "off", "on", null)]
    [InlineData("ghost", MarkerKind.Flag, "Y", null, "has no column ghost")]
    [InlineData("computed", MarkerKind.Flag, "Y", null, "written only by the database")]
    [InlineData("gone", MarkerKind.Time, null, null, "not a date or time column")]
    [InlineData("made_at", MarkerKind.Time, null, null, "never be empty")]
    [InlineData("gone", MarkerKind.Flag, null, null, "is not a value of gone")]
    [InlineData("level", MarkerKind.Flag, "many", null, "is not a value of level")]
    [InlineData("state", MarkerKind.Status, "off", null, "Give the value of a record that is in use")]
    [InlineData("gone", MarkerKind.Flag, "Y", "Y", "two different values")]
    public void Marker_ThatCannotBe_IsToldWithTheRemedy(
        string column,
        MarkerKind kind,
        string? removed,
        string? inUse,
        string? problem
    )
    {
        var panel = Panel(
            new RemovalMarker
            {
                Column = column,
                Kind = kind,
                Removed = removed,
                InUse = inUse,
            },
            null
        );
        var told = PanelCheck.Run(panel, _table).Where(one => one.Field == "marker").ToList();
        if (problem is null)
            Assert.Empty(told);
        else
            Assert.Contains(problem, Assert.Single(told).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("at", "gone")]
    [InlineData("by", "computed")]
    public void Marker_WithColumnsThatCannotTake_IsRefused(string part, string column)
    {
        var marker = new RemovalMarker
        {
            Column = "gone",
            Kind = MarkerKind.Flag,
            Removed = "Y",
        };
        var panel = Panel(part == "at" ? marker with { At = column } : marker with { By = column }, null);
        Assert.Contains(PanelCheck.Run(panel, _table), one => one.Field == "marker");
    }

    [Fact]
    public void Rules_ThatCannotBe_AreTold()
    {
        var panel = Panel(null, RemovalManner.Mark) with
        {
            Removal = new RemovalRules
            {
                Manner = RemovalManner.Mark,
                RecognizedBy = ["ghost"],
                EraseAfterDays = 0,
            },
            Duplicates = [new DuplicateColumn { Name = "ghost" }],
        };
        Assert.Equal(
            ["marker", "removal.recognizedBy", "removal.eraseAfterDays", "duplicates"],
            PanelCheck
                .Run(panel, _table)
                .Select(one => one.Field)
                .Where(field => !field.StartsWith("columns", StringComparison.Ordinal))
        );
    }

    [Theory]
    [InlineData(false, null, RemovalManner.Keep)]
    [InlineData(true, null, RemovalManner.Mark)]
    [InlineData(true, RemovalManner.Keep, RemovalManner.Keep)]
    [InlineData(false, RemovalManner.Mark, RemovalManner.NotAllowed)]
    [InlineData(true, RemovalManner.NotAllowed, RemovalManner.NotAllowed)]
    public void Manner_IsTheChosenOne_OrWhatTheTableAllows(bool hasMarker, RemovalManner? chosen, RemovalManner manner)
    {
        var bound = Bind(
            Panel(
                hasMarker
                    ? new RemovalMarker
                    {
                        Column = "gone",
                        Kind = MarkerKind.Flag,
                        Removed = "Y",
                    }
                    : null,
                chosen
            )
        );
        Assert.Equal(manner, bound.Manner);
        Assert.Equal(
            manner is RemovalManner.Mark,
            bound.Marker is not null && bound.InUse() is not null && bound.SetAside() is not null
        );
        Assert.Equal(manner is not RemovalManner.NotAllowed, bound.CanRemove);
    }

    [Theory]
    [InlineData("Y", true)]
    [InlineData("N", false)]
    [InlineData(null, false)]
    public void IsSetAside_GoesByTheMarker(string? value, bool isSetAside)
    {
        var bound = Bind(
            Panel(
                new RemovalMarker
                {
                    Column = "gone",
                    Kind = MarkerKind.Flag,
                    Removed = "Y",
                },
                null
            )
        );
        Assert.Equal(isSetAside, bound.IsSetAside(column => column == "gone" ? value : null));
    }

    [Fact]
    public void List_IsOfRecordsInUse_UnlessThoseSetAsideAreAskedFor()
    {
        var bound = Bind(
            Panel(
                new RemovalMarker
                {
                    Column = "gone",
                    Kind = MarkerKind.Flag,
                    Removed = "Y",
                },
                null
            )
        );
        Assert.Equal(new Filter.Not(new Filter.Marked("gone", "Y")), Make.Plan(bound, new ListRequest()).Filter);
        Assert.Equal(new Filter.Marked("gone", "Y"), Make.Plan(bound, new ListRequest { SetAside = true }).Filter);
        Assert.False(Make.Plan(bound, new ListRequest("word")).Filter!.IsHardToGuess());
    }

    private static BoundPanel Bind(PanelDefinition panel) =>
        BoundPanel.Bind(
            panel,
            new SchemaSnapshot
            {
                TakenAt = DateTimeOffset.UnixEpoch,
                ServerVersion = "15",
                Tables = [_table],
            },
            sourceIsReadOnly: false
        )!;

    private static PanelDefinition Panel(RemovalMarker? marker, RemovalManner? manner) =>
        PanelDraft.Make(_table, TableSample.Empty, Make.Nothing) with
        {
            Marker = marker,
            Removal = new RemovalRules { Manner = manner },
        };
}
