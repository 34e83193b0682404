using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

/// <summary>What records are called, and what that says for real rows.</summary>
public sealed class TitleDraftTests
{
    [Fact]
    public void Make_NamesThatRepeat_HaveTheirUniqueCodeBeside()
    {
        var boats = Surveyed(
            new MakeRows().Table(
                "boats",
                "id int, name text, sail_no text, place text",
                MakeRows.Count(30, n => [$"{n}", n % 2 == 0 ? "Merry" : "Heron", $"W {n}", "Quay"])
            ),
            "boats"
        );
        Assert.Equal("{name} ({sail_no})", boats.Title);
        Assert.Equal(["Heron (W 1)", "Merry (W 2)", "Heron (W 3)"], boats.TitleSamples);
    }

    [Fact]
    public void Make_CodeThatSomeRowsLack_StandsBesideTheNameWithoutEmptyBrackets()
    {
        var boats = Surveyed(
            new MakeRows().Table(
                "boats",
                "id int, name text, sail_no text, place text",
                MakeRows.Count(30, n => [$"{n}", n % 2 == 0 ? "Merry" : "Heron", n % 10 == 1 ? null : $"W {n}", "Quay"])
            ),
            "boats"
        );
        Assert.Equal("{name} ({sail_no})", boats.Title);
        Assert.Equal(["Heron", "Merry (W 2)", "Heron (W 3)"], boats.TitleSamples);
    }

    [Fact]
    public void Apply_ColumnDecidedToBeASecret_IsInNoTitleAnyMore()
    {
        var made = new MakeRows()
            .Table("boats", "id int, name text", MakeRows.Count(12, n => [$"{n}", $"Boat {n}"]))
            .Table("stays", "id int, boat_id int, arrived date", MakeRows.Count(12, n => [$"{n}", $"{n}", "2026-01-02"]));
        var report = SurveyReport.Make(made.Snapshot, made.Rows, made.Find());
        Assert.All(report.Tables, table => Assert.NotEmpty(table.TitleSamples));
        var decided = FindingList.Apply(
            report,
            [
                new FindingDecision(
                    new FindingSubject(FindingSort.Meaning, new TableName("public", "boats"), ["name"]),
                    Verdict.Right,
                    "secret",
                    null,
                    DateTimeOffset.UnixEpoch
                ),
            ]
        );
        Assert.All(decided.Tables, table => Assert.Empty(table.TitleSamples));
    }

    [Fact]
    public void Make_NamesThatDoNotRepeat_StandAlone() =>
        Assert.Equal(
            "{name}",
            Surveyed(
                new MakeRows().Table(
                    "boats",
                    "id int, name text, sail_no text",
                    MakeRows.Count(30, n => [$"{n}", $"Boat {n}", $"W {n}"])
                ),
                "boats"
            ).Title
        );

    [Theory]
    [InlineData("id int, checksum text, note_id int, label text", "{label}")]
    [InlineData("id int, ipmi_username text, name text", "{name}")]
    [InlineData("id int, description text, number text, paid date", "{number}")]
    [InlineData("id int, password text, login text", "{login}")]
    [InlineData("id int, kind_type text, macro text", "{macro}")]
    public void Make_WhatTellsRecordsApartForAPerson_IsTheTitle(string columns, string title) =>
        Assert.Equal(title, Surveyed(new MakeRows().Table("macro", columns), "macro").Title);

    [Fact]
    public void Make_TimeStampsOfTheProgram_AreNoTitle()
    {
        var made = new MakeRows()
            .Table("boats", "id int, name text")
            .Table("stays", "id int, boat_id int, create_date stamp, write_date stamp, arrived date, nights int");
        Assert.Equal("{boat_id} · {arrived}", Surveyed(made, "stays").Title);
    }

    [Fact]
    public void Make_KeyThatIsASecret_IsNoTitleWhileSomethingBetterIsThere()
    {
        var made = new MakeRows()
            .Table("users", "id int, name text")
            .Table("sessions", "session_key text, user_id int, expires date");
        Assert.DoesNotContain("session_key", Surveyed(made, "sessions").Title, StringComparison.Ordinal);
    }

    [Fact]
    public void Make_EmptyTableThatJoinsTwo_IsCalledByBoth()
    {
        var made = new MakeRows()
            .Table("boats", "id int, name text", MakeRows.Count(12, n => [$"{n}", $"Boat {n}"]))
            .Table("sails", "id int, name text", MakeRows.Count(12, n => [$"{n}", $"Sail {n}"]))
            .Table("boat_sails", "id int, boat_id int, sail_id int");
        var joined = Surveyed(made, "boat_sails");
        Assert.Equal((TableShape.Join, "{boat_id} · {sail_id}"), (joined.Shape, joined.Title));
        var filled = new MakeRows()
            .Table("boats", "id int, name text", MakeRows.Count(12, n => [$"{n}", $"Boat {n}"]))
            .Table("sails", "id int, name text", MakeRows.Count(12, n => [$"{n}", $"Sail {n}"]))
            .Table("boat_sails", "id int, boat_id int, sail_id int", MakeRows.Count(2, n => [$"{n}", $"{n}", $"{n + 3}"]));
        Assert.Equal(["Boat 1 · Sail 4", "Boat 2 · Sail 5"], Surveyed(filled, "boat_sails").TitleSamples);
    }

    private static SurveyedTable Surveyed(MakeRows made, string table) =>
        SurveyReport.Make(made.Snapshot, made.Rows, made.Find()).Tables.Single(found => found.Name == table);
}
