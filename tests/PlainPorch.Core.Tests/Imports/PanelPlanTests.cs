using PlainPorch.Core.Imports;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Imports;

/// <summary>What becomes of the rows of a file that is brought into a panel.</summary>
public sealed class PanelPlanTests
{
    private static readonly Dictionary<string, IReadOnlyDictionary<string, FoundTarget>> _noTargets = [];
    private static readonly Dictionary<string, IReadOnlyDictionary<string, string>> _noTitles = [];

    [Fact]
    public void Columns_AreMatchedByNameLikenessAndContent_EachOnce()
    {
        var panel = Make.Panel(Make.Boats());
        var table = Looked("ID;Boat name;Lenght;Colour\n1;Wren;7,50;x\n");
        var settings = FieldMatching.Draft(panel, table, new Dictionary<string, IReadOnlySet<string>>());
        Assert.Equal(["id", "name", "length", null], settings.Columns.Select(match => match.Column));
        Assert.Equal(["id"], settings.Key);
        Assert.Equal(PanelImportMode.Upsert, settings.Mode);

        var known = new Dictionary<string, IReadOnlySet<string>>
        {
            ["name"] = new HashSet<string> { "Wren", "Heron", "Tern", "Gull", "Petrel" },
        };
        var by = FieldMatching.Draft(panel, Looked("Anything\nWren\nHeron\nTern\nGull\n", hasHead: true), known);
        Assert.Equal("name", Assert.Single(by.Columns).Column);
        Assert.Equal(PanelImportMode.Add, by.Mode);
    }

    [Fact]
    public void Rows_AreNewChangedTheSameOrLeftOut_WithTheReason()
    {
        var plan = Plan(
            "id;name;length\n1;Wren;7,5\n2;Heron;8,00\n3;Tern;9,25\n4;;3,00\n1;Twice;1,00\nx;Bad;1,00\n5;Long;12345,00\n",
            PanelImportMode.Upsert,
            new()
            {
                ["id"] = "1",
                ["name"] = "Wren",
                ["length"] = "7.50",
            },
            new()
            {
                ["id"] = "2",
                ["name"] = "Heron",
                ["length"] = "6.00",
            }
        );
        Assert.Equal(
            [RowFate.Same, RowFate.Changed, RowFate.New, RowFate.Rejected, RowFate.Rejected, RowFate.Rejected, RowFate.Rejected],
            plan.Select(row => row.Fate)
        );
        Assert.Equal("8.00", Assert.Single(plan[1].Values).Value);
        Assert.Equal("9.25", plan[2].Values["length"]);
        Assert.Equal(["name", "id", "id", "length"], plan.Where(row => row.Reason is not null).Select(row => row.Reason!.Field));
        Assert.Contains("Row 2 has the same", plan[4].Reason!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void WhatIsNotThere_IsLeftOutWhereRecordsAreOnlyChanged()
    {
        var plan = Plan(
            "id;name\n1;Wren\n2;Heron\n",
            PanelImportMode.Update,
            new Dictionary<string, string?> { ["id"] = "1", ["name"] = "Wren" }
        );
        Assert.Equal([RowFate.Same, RowFate.Rejected], plan.Select(row => row.Fate));
    }

    [Fact]
    public void ARecordThatIsSetAside_IsNeitherChangedNorAddedTwice()
    {
        var panel = Make.Panel(Make.Boats());
        var table = Files.Delimited("id;name\n1;Wren\n2;Tern\n");
        var settings = FieldMatching.Draft(
            panel,
            Looked("id;name\n1;Wren\n2;Tern\n"),
            new Dictionary<string, IReadOnlySet<string>>()
        );
        var rows = new PanelRows(panel, table, settings, _noTargets, Notation.Usual);
        var aside = new PresentRecord(
            "1",
            1,
            new Dictionary<string, string?> { ["id"] = "1", ["name"] = "Heron" },
            IsSetAside: true
        );
        var plan = PanelPlan.Decide(
            panel,
            table.Rows().Select(rows.Read),
            settings,
            new[] { aside }.ToLookup(record => PanelPlan.KeyOf(settings, record.Values)),
            _noTitles,
            Make.Nothing
        );
        Assert.Equal([RowFate.Rejected, RowFate.New], plan.Select(row => row.Fate));
        Assert.Contains("set aside", plan[0].Reason!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void ADayThatThereIsNot_LeavesItsOwnRowOut_AndNotThoseOfTheOtherDays()
    {
        var plan = Plan(
            "id;name;built\n1;Wren;03.06.2022\n2;Tern;30.02.2001\n3;Gull;01.07.2014\n4;Auk;05.07.2014\n",
            PanelImportMode.Upsert
        );
        Assert.Equal([RowFate.New, RowFate.Rejected, RowFate.New, RowFate.New], plan.Select(row => row.Fate));
        Assert.Equal("2014-07-01", plan[2].Values["built"]);
    }

    [Fact]
    public void AnEmptyCell_EmptiesOrKeeps_AsWasChosen()
    {
        Dictionary<string, string?> present = new()
        {
            ["id"] = "1",
            ["name"] = "Wren",
            ["length"] = "7.50",
        };
        var emptied = Assert.Single(Plan("id;length;name\n1;;Wren\n", PanelImportMode.Upsert, present));
        Assert.Equal((RowFate.Changed, null), (emptied.Fate, emptied.Values["length"]));
        var kept = Assert.Single(Planned("id;length;name\n1;;Wren\n", PanelImportMode.Upsert, keeps: true, present));
        Assert.Equal(RowFate.Same, kept.Fate);
    }

    [Fact]
    public void Fingerprint_ChangesWithWhatIsWritten_AndNotWithWhatIsNot()
    {
        Dictionary<string, string?> present = new()
        {
            ["id"] = "1",
            ["name"] = "Wren",
            ["length"] = "7.50",
        };
        var panel = Make.Panel(Make.Boats());
        string Of(string text) =>
            PanelPlan.Of(panel, Plan(text, PanelImportMode.Upsert, present), [], [], 0, Notation.Usual).Fingerprint;
        Assert.Equal(Of("id;name;length\n1;Wren;8,00\n"), Of("id;name;length\n1;Wren;8,00\n7;;5,5\n"));
        Assert.NotEqual(Of("id;name;length\n1;Wren;8,00\n"), Of("id;name;length\n1;Wren;8,01\n"));
    }

    [Fact]
    public void Plan_CountsChangesByColumn_AndKeepsTheRowsThatAreLeftOut()
    {
        var rows = Plan(
            $"id;name;length\n1;Wren;8,00\n{Many()}9;x;y\n",
            PanelImportMode.Upsert,
            new Dictionary<string, string?>
            {
                ["id"] = "1",
                ["name"] = "Wren",
                ["length"] = "7.50",
            }
        );
        var plan = PanelPlan.Of(Make.Panel(Make.Boats()), rows, ["id", "name", "length"], [], 0, Notation.Usual);
        Assert.Equal((32, 30, 1, 0), (plan.Rows, plan.New, plan.Changed, plan.Same));
        var change = Assert.Single(plan.Columns);
        Assert.Equal(
            ("length", 1, "7.50", "8.00"),
            (change.Column, change.Count, change.Examples[0].From, change.Examples[0].To)
        );
        Assert.Equal(["9", "x", "y"], Assert.Single(plan.Rejected).Values);
    }

    private static IReadOnlyList<PlannedRow> Plan(
        string text,
        PanelImportMode mode,
        params Dictionary<string, string?>[] present
    ) => Planned(text, mode, keeps: false, present);

    // Enough for one slip of the pen to be one.
    private static string Many() =>
        string.Concat(Enumerable.Range(100, 30).Select(number => $"{number};Boat {number};{number % 9 + 1},5\n"));

    private static IReadOnlyList<PlannedRow> Planned(
        string text,
        PanelImportMode mode,
        bool keeps,
        params Dictionary<string, string?>[] present
    )
    {
        var panel = Make.Panel(Make.Boats());
        var table = Files.Delimited(text);
        var settings = FieldMatching.Draft(panel, Looked(text), new Dictionary<string, IReadOnlySet<string>>());
        settings = settings with
        {
            Mode = mode,
            Columns = [.. settings.Columns.Select(match => match with { KeepsWhereEmpty = keeps })],
        };
        Assert.Empty(PanelRows.Check(panel, Looked(text), settings));
        var rows = new PanelRows(panel, table, settings, _noTargets, Notation.Usual);
        var records = present
            .Select(values => new PresentRecord(values["id"]!, 1, values))
            .ToLookup(record => PanelPlan.KeyOf(settings, record.Values));
        return PanelPlan.Decide(panel, table.Rows().Select(rows.Read), settings, records, _noTitles, Make.Nothing);
    }

    private static LookedTable Looked(string text, bool? hasHead = null) =>
        TableLook
            .At(
                Files.Delimited(text, new DelimitedSettings { HasHead = hasHead }),
                _ => { },
                TestContext.Current.CancellationToken
            )
            .Told("file.csv");
}
