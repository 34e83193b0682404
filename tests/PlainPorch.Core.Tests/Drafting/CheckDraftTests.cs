using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Drafting;

public sealed class CheckDraftTests
{
    private static readonly Table _loans = new()
    {
        Name = new TableName("public", "loans"),
        Kind = TableKind.Table,
        Columns =
        [
            Make.Column("id", ValueKind.Integer),
            Make.Column("room id", ValueKind.Integer),
            Make.Column("start", ValueKind.Date),
            Make.Column("end", ValueKind.Date),
            Make.Column("rate", ValueKind.Integer),
            Make.Column("charge", ValueKind.Integer),
        ],
        Keys = [Make.Primary("id")],
    };

    private static readonly Table _rooms = new()
    {
        Name = new TableName("public", "rooms"),
        Kind = TableKind.Table,
        Columns = [Make.Column("id", ValueKind.Integer)],
        Keys = [Make.Primary("id")],
    };

    private static readonly PorchPanels _porch = new(
        new SchemaSnapshot
        {
            TakenAt = default,
            ServerVersion = "15.0",
            Tables = [_loans, _rooms],
        },
        [Panel(_rooms), Panel(_loans)]
    );

    // Names that are words of the language, or have blanks, are quoted.
    [Theory]
    [InlineData(LikelyCheckSort.InOrder, "start,end", "start <= \"end\"")]
    [InlineData(LikelyCheckSort.Product, "charge,rate,id", "charge = round(rate * id, 0)")]
    [InlineData(LikelyCheckSort.Days, "charge,start,end,rate", "charge = round((\"end\" - start) * rate, 0)")]
    [InlineData(LikelyCheckSort.Sum, "charge,rate,id", "charge = rate + id")]
    [InlineData(
        LikelyCheckSort.OneOpen,
        "end,room id",
        "\"end\" is not null or not exists(\"room id\".loans) filter (where id <> record.id and \"end\" is null)"
    )]
    [InlineData(
        LikelyCheckSort.Apart,
        "start,end,room id",
        "not exists(\"room id\".loans) filter (where id <> record.id and start < record.\"end\" and \"end\" > record.start)"
    )]
    public void Proposal_IsAnExpressionThatCanBeRead(LikelyCheckSort sort, string columns, string condition)
    {
        var panel = _porch.BoundOver(_loans.Name)!;
        var check = CheckDraft.Of(Found(sort, columns), panel, _porch)!;
        Assert.Equal(condition, check.Condition);
        Assert.True(
            RuleReader.TryRead(check.Condition, new RuleScope(panel, _porch), out var rule, out var problem),
            problem?.Message
        );
        Assert.Equal(RuleType.Truth, rule!.Type);
    }

    [Theory]
    [InlineData("START<=\"end\"", false)]
    [InlineData("\"end\" >= start", false)]
    [InlineData("\"end\" > start", true)]
    public void Proposal_ThatThePanelDemandsAlready_IsNone(string condition, bool isProposed)
    {
        var definition = Panel(_loans) with
        {
            Checks =
            [
                new RecordCheck
                {
                    Name = "order",
                    Condition = condition,
                    Message = "No.",
                },
            ],
        };
        var panel = _porch.Bind(definition, sourceIsReadOnly: false)!;
        var proposed = CheckDraft.NotYetIn([Found(LikelyCheckSort.InOrder, "start,end")], panel, _porch);
        Assert.Equal(isProposed, proposed.Count > 0);
    }

    // What is proposed can be saved, however long the labels are.
    [Fact]
    public void Proposal_WithLongLabels_HasANameAndAMessageThatArePassed()
    {
        var definition = Panel(_loans);
        definition = definition with
        {
            Columns = [.. definition.Columns.Select(column => column with { Label = column.Name.PadRight(150, '.') })],
        };
        var porch = _porch.With(definition);
        var check = CheckDraft.Of(Found(LikelyCheckSort.InOrder, "start,end"), porch.BoundOver(_loans.Name)!, porch)!;
        Assert.Empty(RuleCheck.Run(definition with { Checks = [check] }, porch));
    }

    // A decision is what somebody sent, and may be about anything.
    [Theory]
    [InlineData(LikelyCheckSort.Product, "charge")]
    [InlineData(LikelyCheckSort.Apart, "start,end")]
    [InlineData(LikelyCheckSort.InOrder, "start,gone")]
    [InlineData(LikelyCheckSort.OneOpen, "end,rate")]
    public void WhatNoPanelCouldDemand_IsNoCheck(LikelyCheckSort sort, string columns) =>
        Assert.Null(CheckDraft.Of(Found(sort, columns), _porch.BoundOver(_loans.Name)!, _porch));

    private static SurveyedCheck Found(LikelyCheckSort sort, string columns) =>
        new(_loans.Name, sort, columns.Split(','), 1, 0, 0, IsCounted: false);

    private static PanelDefinition Panel(Table table) =>
        new()
        {
            Slug = table.Name.Name,
            Label = table.Name.Name,
            RecordLabel = table.Name.Name,
            Table = table.Name,
            Title = "[id]",
            Columns =
            [
                .. table.Columns.Select(column => new PanelColumn
                {
                    Name = column.Name,
                    Label = column.Name,
                    Lookup = column.Name == "room id" ? new Lookup { Table = _rooms.Name, Key = "id" } : null,
                }),
            ],
        };
}
