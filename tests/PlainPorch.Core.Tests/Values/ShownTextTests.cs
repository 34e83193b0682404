using System.Globalization;
using CsCheck;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Values;

/// <summary>Values as titles show them.</summary>
public sealed class ShownTextTests
{
    [Theory]
    [InlineData(ValueKind.Date, "2026-03-31", "31/03/2026")]
    [InlineData(ValueKind.DateTime, "2026-03-31T14:30:00", "31/03/2026 14:30")]
    [InlineData(ValueKind.DateTime, "2026-03-31T14:30:05.25", "31/03/2026 14:30:05.25")]
    [InlineData(ValueKind.Instant, "2026-03-31T12:30:00Z", "31/03/2026 12:30 UTC")]
    [InlineData(ValueKind.Date, "0044-03-15 BC", "0044-03-15 BC")]
    [InlineData(ValueKind.Date, "infinity", "infinity")]
    [InlineData(ValueKind.Text, "2026-03-31", "2026-03-31")]
    [InlineData(ValueKind.Integer, "20260331", "20260331")]
    public void Of_WritesDatesInFigures_AndLeavesTheRest(ValueKind kind, string value, string shown) =>
        Assert.Equal(shown, ShownText.Of(new ColumnType { StoreType = "", Kind = kind }, value, Notation.Usual));

    [Fact]
    public void Of_WritesEveryDayInThePorchsOrder() =>
        Gen.Select(Gen.DateOnly, Gen.Bool)
            .Sample(
                (day, monthFirst) =>
                {
                    if (day.Year < 1000)
                        return;
                    var shown = ShownText.Of(
                        new ColumnType { StoreType = "date", Kind = ValueKind.Date },
                        day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                        new Notation(monthFirst ? DateOrder.MonthDayYear : DateOrder.DayMonthYear)
                    );
                    Assert.Equal(
                        day,
                        DateOnly.ParseExact(shown, monthFirst ? "MM/dd/yyyy" : "dd/MM/yyyy", CultureInfo.InvariantCulture)
                    );
                }
            );
}
