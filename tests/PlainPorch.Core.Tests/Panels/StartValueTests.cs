using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Panels;

/// <summary>What a new record's form begins with.</summary>
public sealed class StartValueTests
{
    private static readonly DateTimeOffset _now = new(2026, 11, 28, 14, 5, 9, TimeSpan.FromHours(2));

    [Theory]
    [InlineData(ValueKind.Date, "today", "2026-11-28")]
    [InlineData(ValueKind.Date, "now", "2026-11-28")]
    [InlineData(ValueKind.DateTime, "now", "2026-11-28T14:05:09")]
    [InlineData(ValueKind.DateTime, "today", "2026-11-28T00:00:00")]
    [InlineData(ValueKind.Instant, "now", "2026-11-28T12:05:09Z")]
    [InlineData(ValueKind.Time, "now", "14:05")]
    [InlineData(ValueKind.Text, "Wrenmouth", "Wrenmouth")]
    [InlineData(ValueKind.Integer, "007", "7")]
    [InlineData(ValueKind.Boolean, "true", "true")]
    public void At_IsTheValueInItsOneForm(ValueKind kind, string text, string expected) =>
        Assert.Equal(expected, StartValue.At(Column(kind, text), _now));

    [Theory]
    [InlineData(ValueKind.Text, "today")]
    [InlineData(ValueKind.Integer, "now")]
    [InlineData(ValueKind.Integer, "many")]
    [InlineData(ValueKind.Date, "31.2.2026")]
    [InlineData(ValueKind.Binary, "x")]
    public void WhatIsNoValue_IsNoneAndIsToldWithTheColumn(ValueKind kind, string text)
    {
        Assert.NotNull(StartValue.Problem(Column(kind, text)));
        Assert.Null(StartValue.At(Column(kind, text), _now));
        var table = Make.Boats() with { Columns = [Column(kind, text).Schema] };
        var panel = Make.Panel(Make.Boats()).Definition with { Title = "{a}", Columns = [Column(kind, text).Decision] };
        Assert.Contains(PanelCheck.Run(panel, table), problem => problem.Field == "columns.a.startValue");
    }

    [Fact]
    public void Nothing_IsNothing_AndWhatNobodyTypesBeginsWithNothing()
    {
        Assert.Null(StartValue.Problem(Column(ValueKind.Integer, null)));
        Assert.Null(StartValue.At(Column(ValueKind.Integer, ""), _now));
        var stamped = Column(ValueKind.Date, "today");
        Assert.NotNull(StartValue.Problem(stamped with { Decision = stamped.Decision with { Stamp = Stamp.EnteredAt } }));
    }

    private static BoundColumn Column(ValueKind kind, string? text) =>
        new(
            new PanelColumn
            {
                Name = "a",
                Label = "A",
                InForm = true,
                StartValue = text,
            },
            Make.Column("a", kind)
        );
}
