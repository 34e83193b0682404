using PlainPorch.Core.Definition;
using PlainPorch.Core.LooseEnds;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.LooseEnds;

public sealed class RuleLooseEndsTests
{
    private static readonly Table _pens = new()
    {
        Name = new TableName("public", "pens"),
        Kind = TableKind.Table,
        Columns = [Make.Column("id", ValueKind.Integer), Make.Column("size", ValueKind.Integer), Make.Column("a.b")],
        Keys = [Make.Primary("id")],
    };

    private static readonly PanelDefinition _panel = new()
    {
        Slug = "pens",
        Label = "Pens",
        RecordLabel = "pen",
        Table = _pens.Name,
        Title = "[id]",
        Only = "size > 1",
        Checks = [Check("fits", "size >= 0"), Check("other", "id > 0")],
        ChangeIf = new RecordCondition { Condition = "size < 9", Message = "It is closed." },
        RemoveIf = new RecordCondition { Condition = "id < 9", Message = "It stays." },
        Columns =
        [
            new PanelColumn { Name = "id", Label = "Number" },
            new PanelColumn { Name = "size", Label = "Size" },
            new PanelColumn
            {
                Name = "a.b",
                Label = "Odd",
                RequiredIf = "size > 3",
            },
            new PanelColumn
            {
                Name = "twice",
                Label = "Twice",
                Expression = "size * 2",
            },
        ],
    };

    [Fact]
    public void Expressions_ThatCanBeRead_AreNoLooseEnds() => Assert.Empty(Find(_pens));

    [Fact]
    public void Column_ThatIsGone_IsToldOfEachExpressionThatNamesIt()
    {
        var found = Find(_pens with { Columns = [.. _pens.Columns.Where(column => column.Name != "size")] });
        Assert.Equal(
            [
                "The check “fits” cannot be read",
                "A rule of the field Odd cannot be read",
                "Twice cannot be computed",
                "Which records belong here cannot be read, so that none is shown",
                "Which records can be changed cannot be read",
            ],
            found.Select(end => end.Problem.Split(':')[0]).Order(Comparer<string>.Create((a, b) => Rank(a).CompareTo(Rank(b))))
        );
        Assert.All(found, end =>
        {
            Assert.Contains("size", end.Problem, StringComparison.Ordinal);
            Assert.Equal("pens", end.Panel);
            Assert.False(end.CanBeMended);
        });
    }

    private static int Rank(string says) =>
        Array.FindIndex(["The check", "A rule", "Twice", "Which records belong", "Which"], start =>
            says.StartsWith(start, StringComparison.Ordinal)
        );

    private static IReadOnlyList<LooseEnd> Find(Table table)
    {
        var snapshot = new SchemaSnapshot
        {
            TakenAt = default,
            ServerVersion = "15.0",
            Tables = [table],
        };
        return new RuleLooseEnds(new PorchPanels(snapshot, [_panel], computed: ComputedColumns.Instance)).Find();
    }

    private static RecordCheck Check(string name, string condition) =>
        new()
        {
            Name = name,
            Condition = condition,
            Message = "No.",
        };
}
