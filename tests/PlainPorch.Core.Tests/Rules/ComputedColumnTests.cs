using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Rules;

public sealed class ComputedColumnTests
{
    private static readonly Table _boats = new()
    {
        Name = new TableName("public", "boats"),
        Kind = TableKind.Table,
        Columns = [Make.Column("boat_no", ValueKind.Integer), Make.Column("name"), Make.Column("loa", ValueKind.Double)],
        Keys = [Make.Primary("boat_no")],
    };

    private static readonly Table _stays = new()
    {
        Name = new TableName("public", "stays"),
        Kind = TableKind.Table,
        Columns =
        [
            Make.Column("stay_no", ValueKind.Integer),
            Make.Column("boat_no", ValueKind.Integer),
            Make.Column("arrives", ValueKind.Date),
            Make.Column("departs", ValueKind.Date),
            Make.Column("rate") with
            {
                Type = new ColumnType
                {
                    StoreType = "numeric(8,2)",
                    Kind = ValueKind.Decimal,
                    Precision = 8,
                    Scale = 2,
                },
            },
        ],
        Keys = [Make.Primary("stay_no")],
    };

    [Theory]
    [InlineData("rate * (departs - arrives)", "£")]
    [InlineData("2 * rate + 0.5", "£")]
    [InlineData("round(rate / 3, 2)", "£")]
    [InlineData("coalesce(rate, 0)", "£")]
    [InlineData("case when rate > 5 then rate else -rate end", "£")]
    [InlineData("cast(rate as numeric(12, 4))", "£")]
    // What is both, or of neither, is shown as a number.
    [InlineData("rate * rate", null)]
    [InlineData("rate / rate", null)]
    [InlineData("rate + stay_no", null)]
    [InlineData("stay_no / rate", null)]
    [InlineData("rate > 5", null)]
    [InlineData("departs - arrives", null)]
    public void Money_StaysMoney(string expression, string? unit)
    {
        Assert.Equal(unit, InUnits("£", expression).Find("stays", "it")!.Look?.Unit);
    }

    [Fact]
    public void Sums_AreOfWhatIsSummed_AndCountsAreNot()
    {
        var porch = InUnits("£", "rate * 2", "sum(stays.it)", "count(stays)");
        Assert.Equal("£", porch.Find("boats", "of_0")!.Look?.Unit);
        Assert.Null(porch.Find("boats", "of_1")!.Look);
        Assert.Equal("£1,234.50", porch.Find("stays", "it")!.Show("1234.50", Notation.Usual));
        Assert.Equal("-£3.00", porch.Find("stays", "it")!.ShowRead("-3.00", Notation.Usual));
    }

    // Twelve percent of a hundred are not twelve hundred percent.
    [Theory]
    [InlineData("%")]
    [InlineData("£/day")]
    public void Products_OfRatios_AreNumbers(string unit)
    {
        Assert.Null(InUnits(unit, "rate * stay_no").Find("stays", "it")!.Look);
        Assert.Equal(unit, InUnits(unit, "rate + 1").Find("stays", "it")!.Look?.Unit);
    }

    [Theory]
    [InlineData("departs - arrives", ValueKind.Decimal, 0)]
    [InlineData("rate * 1.5", ValueKind.Decimal, 3)]
    [InlineData("rate + 1", ValueKind.Decimal, 2)]
    [InlineData("rate / 3", ValueKind.Decimal, null)]
    [InlineData("round(rate / 3, 2)", ValueKind.Decimal, 2)]
    [InlineData("cast(rate as numeric(12, 4))", ValueKind.Decimal, 4)]
    [InlineData("cast(rate as integer)", ValueKind.Decimal, 0)]
    [InlineData("coalesce(rate, 0)", ValueKind.Decimal, 2)]
    [InlineData("case when rate > 5 then rate else null end", ValueKind.Decimal, 2)]
    [InlineData("boat_no.loa", ValueKind.Decimal, null)]
    [InlineData("boat_no.name || '!'", ValueKind.Text, null)]
    [InlineData("arrives + 1", ValueKind.Date, null)]
    [InlineData("localtimestamp", ValueKind.DateTime, null)]
    [InlineData("rate > 1", ValueKind.Boolean, null)]
    public void Column_IsOfWhatItComesTo(string expression, ValueKind kind, int? scale)
    {
        var column = Bind(Computed("it", expression)).Find("it")!;
        Assert.Equal((kind, scale), (column.Type.Kind, column.Type.Scale));
        Assert.True(column.Schema.IsComputed);
        Assert.False(column.IsWritable);
    }

    [Fact]
    public void Column_IsComputedOfOthers_AndTheseOfTheTable()
    {
        var panel = Bind(Computed("price", "\"Nights\" * rate"), Computed("nights", "departs - arrives"));
        Assert.Equal(
            ["departs", "arrives", "rate"],
            ((ColumnExpression)panel.Find("price")!.Schema.Expression!).AskedColumns().ToList()
        );
    }

    [Theory]
    [InlineData("a", "a + 1", "b", "1", "a cannot be computed of itself. Name what it is computed of.")]
    [InlineData("a", "b + 1", "b", "a + 1", "b cannot be computed: a is computed of b, and this of it.")]
    [InlineData("a", "b + 1", "b", "rat + 1", "b cannot be computed: Stays has no column “rat”. Perhaps rate is meant.")]
    [InlineData("a", "boat_no.b", "b", "1", "Boats has no column “b”.")]
    public void Column_ThatCannotBeComputed_IsLeftOutAndTold(string one, string of, string other, string ofOther, string problem)
    {
        var panel = Bind(Computed(one, of), Computed(other, ofOther));
        Assert.Null(panel.Find(one));
        Assert.StartsWith(problem, panel.NotComputed.First(column => column.Name == one).Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void Sums_GoOnOverComputedColumnsOfRelatedRecords_AndEnd()
    {
        var porch = Porch(
            [Computed("of_stays", "sum(stays.price)"), Computed("deep", "sum(stays.of_boat)")],
            [Computed("price", "rate * 2"), Computed("of_boat", "boat_no.loa"), Computed("back", "sum(stays.price)")]
        );
        var boats = porch.Bind(porch.Find("boats")!, sourceIsReadOnly: true)!;
        Assert.Equal(2, boats.Find("of_stays")!.Type.Scale);
        Assert.NotNull(boats.Find("deep"));
        // Stays refer to boats and nothing to stays.
        Assert.Contains(
            "Nothing called “stays” refers to Stays",
            porch.Bind(porch.Find("stays")!, sourceIsReadOnly: true)!.NotComputed.Single().Problem,
            StringComparison.Ordinal
        );
    }

    // Each names the one before twice: written out, the last would have a thousand million parts.
    [Fact]
    public void Columns_OfColumns_AreBounded()
    {
        var panel = Bind([
            Computed("c0", "rate"),
            .. Enumerable.Range(1, 30).Select(n => Computed($"c{n}", $"c{n - 1} + c{n - 1}")),
        ]);
        Assert.NotNull(panel.Find("c5"));
        Assert.Contains("too long", panel.NotComputed[0].Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void AnyName_IsReadAsItIsWritten() =>
        Gen.String[Gen.Char["abcdef0123456789_xyzÄß"], 1, 30]
            .Where(name => char.IsLetter(name[0]))
            .Sample(name =>
            {
                var panel = Bind(Computed(name, "rate"), Computed("it", $"{RuleReader.NameOf(name)} + 1"));
                Assert.True(panel.Find("it") is not null, $"{name}: {string.Join(" ", panel.NotComputed)}");
            });

    [Fact]
    public void Words_AreWrittenAsTheyAreRead()
    {
        var porch = new PorchPanels(
            Make.Snapshot(_boats, _stays),
            [Panel("boats", "Boats", _boats, []), Panel("2nd-hand", "Stays", _stays, [Computed("1st", "rate")])]
        );
        var scope = new RuleScope(porch.Bind(porch.Find("boats")!, sourceIsReadOnly: true)!, porch);
        var related = Assert.Single(RuleWords.Of(scope).Related);
        Assert.True(RuleReader.TryRead($"sum({related.Name}.{related.Within[^1].Name})", scope, out _, out _));
    }

    private static Units InUnits(string unit, string ofStays, params IReadOnlyList<string> ofBoats)
    {
        var porch = Porch([.. ofBoats.Select((expression, i) => Computed($"of_{i}", expression))], [Computed("it", ofStays)]);
        var stays = porch.Find("stays")!;
        return new Units(
            porch.With(
                stays with
                {
                    Columns =
                    [
                        .. stays.Columns.Select(column =>
                            column.Name == "rate"
                                ? column with
                                {
                                    Reading = new NumberReading { Unit = unit, UnitFirst = true },
                                }
                                : column
                        ),
                    ],
                }
            )
        );
    }

    private sealed record Units(PorchPanels Porch)
    {
        public BoundColumn? Find(string panel, string column) =>
            Porch.Bind(Porch.Find(panel)!, sourceIsReadOnly: false)!.Find(column);
    }

    private static BoundPanel Bind(params IReadOnlyList<PanelColumn> computed)
    {
        var porch = Porch([], computed);
        return porch.Bind(porch.Find("stays")!, sourceIsReadOnly: false)!;
    }

    private static PorchPanels Porch(IReadOnlyList<PanelColumn> ofBoats, IReadOnlyList<PanelColumn> ofStays) =>
        new(
            Make.Snapshot(_boats, _stays),
            [Panel("boats", "Boats", _boats, ofBoats), Panel("stays", "Stays", _stays, ofStays)],
            computed: ComputedColumns.Instance
        );

    private static PanelColumn Computed(string name, string expression) =>
        new()
        {
            Name = name,
            Label = name == "nights" ? "Nights" : name,
            Expression = expression,
            InList = true,
        };

    private static PanelDefinition Panel(string slug, string label, Table table, IReadOnlyList<PanelColumn> computed) =>
        new()
        {
            Slug = slug,
            Label = label,
            RecordLabel = slug,
            Table = table.Name,
            Title = $"{{{table.Columns[0].Name}}}",
            Columns =
            [
                .. table.Columns.Select(column => new PanelColumn
                {
                    Name = column.Name,
                    Label = column.Name,
                    InForm = true,
                    Lookup =
                        column.Name == "boat_no" && slug != "boats"
                            ? new Lookup { Table = new TableName("public", "boats"), Key = "boat_no" }
                            : null,
                }),
                .. computed,
            ],
        };
}
