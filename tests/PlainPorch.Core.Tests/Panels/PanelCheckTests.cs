using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Panels;

public sealed class PanelCheckTests
{
    private static readonly Table _boats = Make.Boats();
    private static readonly PanelDefinition _panel = PanelDraft.Make(_boats, TableSample.Empty, Make.Nothing);

    [Fact]
    public void Run_ADraft_FindsNothing() => Assert.Empty(Run(_panel));

    [Fact]
    public void Run_EachFault_IsSaidAtItsField()
    {
        var longText = new string('x', PanelCheck.MaxLabelLength + 3);
        foreach (
            var (field, says, changed) in new (string, string, PanelDefinition)[]
            {
                ("label", "Enter a label", _panel with { Label = " " }),
                ("label", "Shorten it by 3", _panel with { Label = longText }),
                ("recordLabel", "Enter a label", _panel with { RecordLabel = "" }),
                ("group", "Shorten it by 3", _panel with { Group = longText }),
                ("title", "the same title", _panel with { Title = "Boat" }),
                ("title", "no column gone", _panel with { Title = "{gone}" }),
                ("title", "Shorten it", _panel with { Title = "{name}" + longText }),
                ("order", "no column gone", _panel with { Order = new RunningOrder { Column = "gone" } }),
                (
                    "order",
                    "no column gone",
                    _panel with
                    {
                        Order = new RunningOrder { Column = "id", Group = "gone" },
                    }
                ),
                ("sort", "cannot be sorted by photo", _panel with { Sort = [new OrderBy("photo", Descending: false)] }),
                ("sort", "cannot be sorted by gone", _panel with { Sort = [new OrderBy("gone", Descending: false)] }),
                ("duplicates", "no column gone", _panel with { Duplicates = [new DuplicateColumn { Name = "gone" }] }),
                ("marker", "Without a marker", _panel with { Removal = new RemovalRules { Manner = RemovalManner.Mark } }),
                (
                    "marker",
                    "no column gone",
                    _panel with
                    {
                        Marker = new RemovalMarker { Column = "gone", Kind = MarkerKind.Time },
                    }
                ),
                (
                    "removal.recognizedBy",
                    "no column gone",
                    _panel with
                    {
                        Removal = new RemovalRules { RecognizedBy = ["gone"] },
                    }
                ),
                ("removal.eraseAfterDays", "for 1 to", _panel with { Removal = new RemovalRules { EraseAfterDays = 0 } }),
                (
                    "removal.eraseAfterDays",
                    "for 1 to",
                    _panel with
                    {
                        Removal = new RemovalRules { EraseAfterDays = PanelCheck.MaxDays + 1 },
                    }
                ),
                ("columns.name.label", "Enter a label", Change("name", column => column with { Label = "" })),
                ("columns.name.section", "Shorten it by 3", Change("name", column => column with { Section = longText })),
                (
                    "columns.gone",
                    "Remove it from the panel",
                    _panel with
                    {
                        Columns = [.. _panel.Columns, new PanelColumn { Name = "gone", Label = "Gone" }],
                    }
                ),
                (
                    "columns.name",
                    "appears 2 times",
                    _panel with
                    {
                        Columns = [.. _panel.Columns, _panel.Columns.First(column => column.Name == "name")],
                    }
                ),
                (
                    "columns.id.lookup",
                    "There is no table public.gone",
                    Look(new Lookup { Table = new TableName("public", "gone"), Key = "id" })
                ),
                ("columns.id.lookup", "has no column gone", Look(new Lookup { Table = _boats.Name, Key = "gone" })),
                (
                    "columns.id.lookup",
                    "has no column gone",
                    Look(
                        new Lookup
                        {
                            Table = _boats.Name,
                            Key = "id",
                            Where = new Discriminator("gone", "A"),
                        }
                    )
                ),
                (
                    "columns.id.lookup",
                    "",
                    Look(
                        new Lookup
                        {
                            Table = _boats.Name,
                            Key = "id",
                            Title = "{name",
                        }
                    )
                ),
            }
        )
        {
            var problem = Assert.Single(Run(changed));
            Assert.Equal(field, problem.Field);
            Assert.Contains(says, problem.Message, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Run_EachFaultOfAForm_IsSaidAtItsField()
    {
        var owner = new Lookup { Table = _boats.Name, Key = "id" };
        foreach (
            var (field, says, changed) in new (string, string, PanelDefinition)[]
            {
                ("columns.name.shownWhen", "gone is not in the form", Change("name", When("gone"))),
                ("columns.name.shownWhen", "hang on itself", Change("name", When("name"))),
                ("columns.name.input", "whole numbers", Change("name", column => column with { Input = FieldInput.Rating })),
                ("columns.name.input", "not a list", Change("name", column => column with { Input = FieldInput.Segments })),
                ("columns.built.input", "for text", Change("built", column => column with { Input = FieldInput.Email })),
                ("columns.id.lookup", "has no column gone", Look(owner with { Details = ["gone"] })),
                ("columns.id.lookup", "has no column gone", Look(owner with { Within = [new("gone", null)] })),
                ("columns.id.lookup", "gone cannot say", Look(owner with { Within = [new("name", "gone")] })),
                ("columns.id.lookup", "id cannot say", Look(owner with { Within = [new("name", "id")] })),
                (
                    "columns.id.lookup",
                    "at most 3",
                    Look(owner with { Within = [new("name", null), new("length", null), new("built", null), new("photo", null)] })
                ),
            }
        )
        {
            var problem = Assert.Single(Run(changed));
            Assert.Equal(field, problem.Field);
            Assert.Contains(says, problem.Message, StringComparison.Ordinal);
        }

        var circle = _panel with
        {
            Columns =
            [
                .. _panel.Columns.Select(column =>
                    column.Name switch
                    {
                        "name" => When("built")(column),
                        "built" => When("name")(column),
                        _ => column,
                    }
                ),
            ],
        };
        Assert.Equal(["columns.name.shownWhen", "columns.built.shownWhen"], Run(circle).Select(problem => problem.Field));
        Assert.Empty(Run(Change("name", When("built"))));
        Assert.Empty(Run(Look(owner with { Within = [new("name", null), new("length", "length")], Details = ["built"] })));

        static Func<PanelColumn, PanelColumn> When(string other) =>
            column => column with { ShownWhen = new ShownWhen(other, []) };
    }

    [Theory]
    [InlineData("", null, false)]
    [InlineData("", " ", false)]
    [InlineData("", "x", true)]
    [InlineData("a|b", "b", true)]
    [InlineData("a|b", "B", false)]
    [InlineData("a|b", null, false)]
    public void Holds_AValue_IsOneOfThoseOrAny(string oneOf, string? value, bool holds) =>
        Assert.Equal(holds, new ShownWhen("name", oneOf.Split('|', StringSplitOptions.RemoveEmptyEntries)).Holds(value));

    [Fact]
    public void Run_SeveralFaults_AreAllSaid() =>
        Assert.Equal(
            ["label", "title", "sort"],
            Run(_panel with { Label = "", Title = "", Sort = [new OrderBy("gone", Descending: false)] })
                .Select(problem => problem.Field)
        );

    [Theory]
    [InlineData(MarkerKind.Time, "built", null, null, null)]
    [InlineData(MarkerKind.Time, "name", null, null, "name is not a date or time column")]
    [InlineData(MarkerKind.Flag, "length", "x", null, "“x” is not a value of length")]
    [InlineData(MarkerKind.Flag, "length", "1", "0", null)]
    [InlineData(MarkerKind.Flag, "length", "1", "1", "the same length")]
    [InlineData(MarkerKind.Flag, "length", "1", "x", "“x” is not a value of length")]
    [InlineData(MarkerKind.Flag, "name", "Y", null, "is not a value of name")]
    [InlineData(MarkerKind.Status, "name", "gone", "here", null)]
    [InlineData(MarkerKind.Flag, "photo", "Y", null, "written only by the database")]
    public void Run_AMarker_HasToFitItsColumn(MarkerKind kind, string column, string? removed, string? inUse, string? says)
    {
        var problems = Run(
            _panel with
            {
                Marker = new RemovalMarker
                {
                    Column = column,
                    Kind = kind,
                    Removed = removed,
                    InUse = inUse,
                },
            }
        );
        if (says is null)
            Assert.Empty(problems);
        else
            Assert.Contains(says, Assert.Single(problems).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("name", null, "name is not a date or time column")]
    [InlineData("gone", null, "no writable column gone")]
    [InlineData(null, "photo", "no writable column photo")]
    [InlineData("built", "name", null)]
    public void Run_AMarkersCompanions_HaveToFitToo(string? at, string? by, string? says)
    {
        var problems = Run(
            _panel with
            {
                Marker = new RemovalMarker
                {
                    Column = "length",
                    Kind = MarkerKind.Flag,
                    Removed = "1",
                    At = at,
                    By = by,
                },
            }
        );
        Assert.Equal(
            says is null ? 0 : 1,
            problems.Count(problem => says is null || problem.Message.Contains(says, StringComparison.Ordinal))
        );
    }

    private static IReadOnlyList<FieldProblem> Run(PanelDefinition panel) => PanelCheck.Run(panel, _boats, Make.Snapshot(_boats));

    private static PanelDefinition Change(string name, Func<PanelColumn, PanelColumn> change) =>
        _panel with
        {
            Columns = [.. _panel.Columns.Select(column => column.Name == name ? change(column) : column)],
        };

    private static PanelDefinition Look(Lookup lookup) => Change("id", column => column with { Lookup = lookup });
}
