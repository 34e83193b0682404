using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Panels;

/// <summary>What the program writes about a record into the record itself.</summary>
public sealed class StampsTests
{
    private static readonly DateTimeOffset _now = new(2026, 3, 31, 14, 30, 5, TimeSpan.FromHours(2));

    [Fact]
    public void For_ANewRecord_TellsWhenAndByWhomItWasEntered_AndNothingOfChanges() =>
        Assert.Equal(
            new Dictionary<string, string?>
            {
                ["ent_on"] = "2026-03-31",
                ["ent_at"] = "2026-03-31T14:30:05",
                ["ent_by"] = "Anna",
            },
            Stamps.For(Panel(), isNew: true, "Anna", _now)
        );

    [Fact]
    public void For_AChangedRecord_TellsWhenAndByWhomItWasChanged() =>
        Assert.Equal(
            new Dictionary<string, string?> { ["upd_at"] = "2026-03-31T12:30:05Z", ["upd_by"] = "Anna" },
            Stamps.For(Panel(), isNew: false, "Anna", _now)
        );

    [Theory]
    [InlineData(true, null)]
    [InlineData(false, "Annabell")]
    public void For_ANameThatDoesNotFit_WritesNoneOfIt_UnlessSomethingHasToStandThere(bool isNullable, string? written) =>
        Assert.Equal(written, Stamps.For(Panel(byIsNullable: isNullable), isNew: false, "Annabella Rossi", _now)["upd_by"]);

    [Fact]
    public void For_WhatTheDatabaseFillsInItself_WritesNothing() =>
        Assert.Equal(["ent_by"], Stamps.For(Panel(enteredAtSql: "now()"), isNew: true, "Anna", _now).Keys);

    [Fact]
    public void For_ANewRecord_FillsInWhatTellsOfChanges_WhereItMustNotBeEmpty() =>
        Assert.Equal("Anna", Stamps.For(Panel(byIsNullable: false), isNew: true, "Anna", _now)["upd_by"]);

    [Theory]
    [InlineData(Stamp.EnteredAt, ValueKind.Date, true)]
    [InlineData(Stamp.ChangedAt, ValueKind.Instant, true)]
    [InlineData(Stamp.ChangedAt, ValueKind.Text, false)]
    [InlineData(Stamp.EnteredBy, ValueKind.Text, true)]
    [InlineData(Stamp.ChangedBy, ValueKind.Integer, false)]
    public void Fits_DatesForWhen_AndTextsForWho(Stamp stamp, ValueKind kind, bool fits) =>
        Assert.Equal(fits, Stamps.Fits(stamp, new ColumnType { StoreType = "", Kind = kind }));

    [Fact]
    public void Column_WithAStamp_IsNotTyped_AndNeedNotBeGiven()
    {
        var column = Panel(byIsNullable: false).Find("upd_by")!;
        Assert.False(column.IsWritable);
        Assert.False(column.MustBeGiven);
    }

    private static BoundPanel Panel(bool byIsNullable = true, string? enteredAtSql = null)
    {
        (string Name, ColumnType Type, Stamp Stamp)[] columns =
        [
            ("ent_on", new() { StoreType = "date", Kind = ValueKind.Date }, Stamp.EnteredAt),
            ("ent_at", new() { StoreType = "timestamp", Kind = ValueKind.DateTime }, Stamp.EnteredAt),
            ("ent_by", new() { StoreType = "text", Kind = ValueKind.Text }, Stamp.EnteredBy),
            ("upd_at", new() { StoreType = "timestamptz", Kind = ValueKind.Instant }, Stamp.ChangedAt),
            (
                "upd_by",
                new()
                {
                    StoreType = "varchar(8)",
                    Kind = ValueKind.Text,
                    MaxLength = 8,
                },
                Stamp.ChangedBy
            ),
        ];
        var table = Make.Table(
            [
                new Column
                {
                    Name = "id",
                    Type = new() { StoreType = "int", Kind = ValueKind.Integer },
                    IsNullable = false,
                },
                .. columns.Select(column => new Column
                {
                    Name = column.Name,
                    Type = column.Type,
                    IsNullable = column.Name != "upd_by" || byIsNullable,
                    DefaultSql = column.Stamp is Stamp.EnteredAt ? enteredAtSql : null,
                }),
            ],
            Make.Primary("id")
        );
        return Make.Panel(table, column =>
            columns.FirstOrDefault(one => one.Name == column.Name) is { Name: not null } stamped
                ? column with
                {
                    Stamp = stamped.Stamp,
                }
                : column
        );
    }
}
