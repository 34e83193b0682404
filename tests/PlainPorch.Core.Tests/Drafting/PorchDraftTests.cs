using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Tests.Survey;

namespace PlainPorch.Core.Tests.Drafting;

/// <summary>A whole porch from a small harbour.</summary>
public sealed class PorchDraftTests
{
    private static readonly MakeRows _harbour = new MakeRows()
        .Table(
            "owners",
            "id int, surname text, firstname text, passport_no text, always text",
            MakeRows.Count(70, n => [$"{n}", $"Surname {n}", $"First {n}", $"{10000000 + n}", "same"])
        )
        .Table(
            "boats",
            "id int, name text, owner_id int, rig_code text, nothing text, del_flag text",
            MakeRows.Count(80, n => [$"{n}", $"Boat {n}", $"{1 + (n % 70)}", $"R{n % 4}", null, n % 9 == 0 ? "Y" : null])
        )
        .Table("rigs", "code text, rig_name text", MakeRows.Count(4, n => [$"R{n - 1}", $"Rig {n}"]))
        .Table(
            "surveys",
            "id int, boat_id int, done_on date, position int",
            MakeRows.Count(90, n => [$"{n}", $"{1 + (n % 80)}", $"2024-01-{1 + (n % 28):00}", "1"])
        )
        .Table("kit", "id int, title text, weight int", MakeRows.Count(10, n => [$"{n}", $"Flare {n}", $"{n}"]))
        .Table(
            "boat_kit",
            "boat_id int, kit_id int",
            MakeRows.Count(80, n => [$"{n}", $"{1 + (n % 10)}"]),
            key: ["boat_id", "kit_id"]
        )
        .Table(
            "berths",
            "code text, pontoon_id int, sort_no int",
            MakeRows.Count(60, n => [$"B-{n:00}", $"{1 + (n % 6)}", $"{n}"])
        )
        .Table(
            "meters",
            "meter_no int, berth_code text, fitted_on date",
            MakeRows.Count(70, n => [$"{1000 + n}", $"B-{1 + (n % 60):00}", $"2014-01-{1 + (n % 28):00}"]),
            key: ["meter_no"]
        )
        .Table(
            "readings",
            "id int, meter_no int, taken_on date",
            MakeRows.Count(90, n => [$"{n}", $"{1001 + (n % 70)}", $"2024-01-{1 + (n % 28):00}"])
        )
        .Table("pontoons", "id int, label text", MakeRows.Count(6, n => [$"{n}", $"Pontoon {n}"]));

    private static readonly Dictionary<string, DraftedPanel> _drafted = Draft(_harbour)
        .ToDictionary(draft => draft.Panel.Table.Name);

    [Theory]
    [InlineData("owners", "{surname}, {firstname}")]
    [InlineData("boats", "{name}")]
    [InlineData("surveys", "{boat_id} · {done_on}")]
    [InlineData("boat_kit", "{boat_id} · {kit_id}")]
    [InlineData("berths", "{code}")]
    [InlineData("meters", "{meter_no} · {berth_code}")]
    [InlineData("readings", "{meter_no} · {taken_on}")]
    public void Make_Titles_AreWhatPeopleKnowRecordsBy(string table, string title) =>
        Assert.Equal(title, _drafted[table].Panel.Title);

    [Fact]
    public void Make_Lists_LeaveOutTheSensitiveTheEmptyAndTheConstant()
    {
        Assert.Equal(["id", "surname", "firstname"], Listed("owners"));
        Assert.DoesNotContain("nothing", Listed("boats"));
        Assert.DoesNotContain("position", Listed("surveys"));
    }

    [Fact]
    public void Make_ReferringColumns_BecomeLookupsCalledByWhatTheyShow()
    {
        var owner = _drafted["boats"].Panel.Columns.Single(column => column.Name == "owner_id");
        Assert.Equal(("owners", "id", "Owner"), (owner.Lookup!.Table.Name, owner.Lookup.Key, owner.Label));
        Assert.Contains(_drafted["boats"].Reasons, reason =>
            reason.Part == "columns.owner_id.lookup" && reason.Why.Contains("public.owners", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Make_JoinTable_IsLeftOutOfTheMenuAndShownAtBothSides()
    {
        Assert.True(_drafted["boat_kit"].Panel.IsHidden);
        var kit = _drafted["boats"].Panel.Related.Single(related => related.Panel == "boat-kits");
        Assert.Equal(("boat_id", "kit_id", "Kits"), (kit.Column, kit.Through, kit.Label));
        Assert.Equal("boat_id", _drafted["kit"].Panel.Related.Single().Through);
        Assert.Equal(["boats"], _drafted["owners"].Panel.Related.Select(related => related.Panel));
    }

    [Fact]
    public void Make_Menu_HasMainTablesFirstAndListsLast()
    {
        var order = Draft(_harbour).Select(draft => draft.Panel).ToList();
        Assert.Equal("boats", order[0].Table.Name);
        Assert.Equal("Lists", order[^1].Group);
        Assert.Equal(order.Select(panel => panel.Place).Order(), order.Select(panel => panel.Place));
        Assert.Equal(order.Count, order.Select(panel => panel.Slug).Distinct().Count());
    }

    [Fact]
    public void Make_MarkerAndPosition_GiveRemovalAndRunningOrder()
    {
        Assert.Equal(
            new RemovalMarker
            {
                Column = "del_flag",
                Kind = MarkerKind.Flag,
                Removed = "Y",
            },
            _drafted["boats"].Panel.Marker
        );
        Assert.Equal(new RunningOrder { Column = "sort_no", Group = "pontoon_id" }, _drafted["berths"].Panel.Order);
    }

    [Fact]
    public void Make_ShortListsAndChoices_Narrow() =>
        Assert.Equal(["rig_code"], _drafted["boats"].Panel.Columns.Where(column => column.Narrows).Select(column => column.Name));

    [Fact]
    public void Make_EveryPanel_SaysWhyAndPassesTheCheck()
    {
        Assert.All(_drafted.Values, draft =>
        {
            Assert.Contains(draft.Reasons, reason => reason.Part == "title");
            Assert.Contains(draft.Reasons, reason => reason.Part == "group");
            Assert.All(draft.Reasons, reason => Assert.NotEmpty(reason.Why));
            Assert.Empty(PanelCheck.Run(draft.Panel, _harbour.Snapshot.Find(draft.Panel.Table)!, _harbour.Snapshot));
        });
    }

    [Fact]
    public void Make_TargetWithoutPanel_BringsItsTitleAlong()
    {
        var findings = Findings(_harbour);
        var boats = PorchDraft.Make(findings, new HashSet<TableName> { new("public", "boats") }, []);
        Assert.Equal(
            "{surname}, {firstname}",
            Assert.Single(boats).Panel.Columns.Single(column => column.Name == "owner_id").Lookup!.Title
        );
    }

    [Fact]
    public void Make_WhatHasNoMarker_StaysInItsTable_WhenWhatItBelongsToIsOnlyMarked()
    {
        // Owners and boats are marked; stays have nothing to be marked by, and the old program looks for them where they are.
        var drafted = Draft(
                new MakeRows()
                    .Table(
                        "owners",
                        "id int, surname text, del_flag text",
                        MakeRows.Count(70, n => [$"{n}", $"Surname {n}", n % 9 == 0 ? "Y" : null])
                    )
                    .Table(
                        "boats",
                        "id int, name text, owner_id int, del_flag text",
                        MakeRows.Count(80, n => [$"{n}", $"Boat {n}", $"{1 + (n % 70)}", n % 9 == 0 ? "Y" : null])
                    )
                    .Table(
                        "boat_stays",
                        "id int, boat_id int, berth text",
                        MakeRows.Count(200, n => [$"{n}", $"{1 + (n % 80)}", $"B{n}"])
                    )
            )
            .ToDictionary(draft => draft.Panel.Table.Name, draft => draft.Panel);
        Assert.NotNull(drafted["owners"].Marker);
        Assert.NotNull(drafted["boats"].Marker);
        Assert.Null(drafted["boat_stays"].Marker);
        Assert.NotEqual(
            RemovalEffect.GoesAlong,
            drafted["boat_stays"].Columns.Single(column => column.Name == "boat_id").Lookup!.OnRemoval
        );
        Assert.NotEqual(
            RemovalEffect.Hidden,
            drafted["boat_stays"].Columns.Single(column => column.Name == "boat_id").Lookup!.OnRemoval
        );
        foreach (var panel in _drafted.Values.Select(draft => draft.Panel).Concat(drafted.Values))
            Assert.DoesNotContain(panel.Columns, column =>
                panel.Marker is null && column.Lookup?.OnRemoval is RemovalEffect.GoesAlong
            );
    }

    [Fact]
    public void Make_PanelsThatAreThere_KeepTheirSlugs()
    {
        var boats = _drafted["boats"].Panel;
        var drafted = PorchDraft.Make(Findings(_harbour), new HashSet<TableName> { boats.Table }, [boats]);
        Assert.Equal("boats-2", Assert.Single(drafted).Panel.Slug);
    }

    [Fact]
    public void Make_LongForm_HasHeadings()
    {
        var rows = new MakeRows().Table(
            "people",
            "id int, name text, street text, town text, email text, iban text, remarks text, born date, created_at stamp, updated_at stamp, height int, weight int",
            MakeRows.Count(30, n =>
                [
                    $"{n}",
                    $"Person {n}",
                    $"Street {n}",
                    $"Town {n % 9}",
                    $"p{n}@example.org",
                    "GB82WEST12345698765432",
                    $"{new string('x', 90)}{n}",
                    "1990-01-01",
                    "2024-01-01T10:00:00",
                    "2024-01-01T10:00:00",
                    $"{150 + n}",
                    $"{60 + n}",
                ]
            )
        );
        var sections = Draft(rows).Single().Panel.Columns.ToDictionary(column => column.Name, column => column.Section);
        Assert.Equal(
            ("", "Contact", "Confidential", "Notes", "Filled in automatically"),
            (sections["name"], sections["email"], sections["iban"], sections["remarks"], sections["created_at"])
        );
    }

    [Fact]
    public void Make_HundredColumns_ComeInPartsAndWhatIsRareIsFolded()
    {
        var columns = new[] { "bill", "ship", "visit" }
            .SelectMany(part => Enumerable.Range(1, 12).Select(n => $"{part}_thing{(char)('a' + n)} text"))
            .Concat(Enumerable.Range(1, 40).Select(n => $"never{(char)('a' + (n % 26))}{(char)('a' + (n / 26))} text"));
        var rows = new MakeRows().Table(
            "orders",
            $"id int, name text, {string.Join(", ", columns)}",
            MakeRows.Count(30, n =>
                [$"{n}", $"Order {n}", .. Enumerable.Range(1, 36).Select(i => $"v{n * i}"), .. new string?[40]]
            )
        );
        var panel = Draft(rows).Single().Panel;
        var sections = panel.Columns.Select(column => column.Section).ToList();
        Assert.Equal(["", "Bill", "Ship", "Visit", "Rarely filled in"], sections.Distinct());
        Assert.Equal(sections.Distinct().Count(), sections.Zip(sections.Skip(1)).Count(pair => pair.First != pair.Second) + 1);
        Assert.Equal(["Rarely filled in"], panel.Folded);
        Assert.Equal(40, sections.Count(section => section == "Rarely filled in"));
    }

    [Theory]
    [InlineData("email text", "email", "a@example.org", FieldInput.Email)]
    [InlineData("phone text", "phone", "+44 20 7946 0000", FieldInput.Telephone)]
    [InlineData("website text", "website", "https://example.org/", FieldInput.WebAddress)]
    [InlineData("remark text", "remark", "some words", null)]
    public void Make_FieldOfAKindOfText_IsTypedAsThat(string column, string name, string value, FieldInput? input)
    {
        var rows = new MakeRows().Table(
            "people",
            $"id int, name text, {column}",
            MakeRows.Count(30, n => [$"{n}", $"Person {n}", value.Replace("a@", $"a{n}@", StringComparison.Ordinal)])
        );
        Assert.Equal(input, Draft(rows).Single().Panel.Columns.Single(found => found.Name == name).Input);
    }

    [Fact]
    public void Make_ReferencesInACircle_EndInTitlesAllTheSame() =>
        Gen.Int[2, 6]
            .SelectMany(count => Gen.Int[0, count - 1].Array[count])
            .Sample(targets =>
            {
                var rows = new MakeRows();
                for (var i = 0; i < targets.Length; i++)
                    rows.Table($"thing{(char)('a' + i)}", $"id int, thing{(char)('a' + targets[i])}_id int");
                return Draft(rows)
                    .All(draft => TitleTemplate.TryRead(draft.Panel.Title, out var title, out _) && title!.Columns.Any());
            });

    [Fact]
    public void Make_AReferenceOfSeveralColumns_IsShownAtTheOneThatRefersToNothingElse()
    {
        var rows = new MakeRows()
            .Table("wings", "code text, name text", MakeRows.Count(4, n => [$"W{n}", $"Wing {n}"]))
            .Table(
                "cages",
                "wing text, no int, name text",
                MakeRows.Count(12, n => [$"W{1 + (n % 4)}", $"{n}", $"Cage {n}"]),
                key: ["wing", "no"]
            )
            .Table(
                "feedings",
                "id int, no int, wing text, food text",
                MakeRows.Count(30, n => [$"{n}", $"{n}", $"W{1 + (n % 4)}", "hay"])
            );
        TableName Name(string table) => rows.Snapshot.Tables.Single(one => one.Name.Name == table).Name;
        Reference Of(string[] columns, string target, string[] keys) =>
            new()
            {
                Table = Name("feedings"),
                Columns = columns,
                Target = Name(target),
                TargetColumns = keys,
                Confidence = 1,
                Evidence = "declared",
            };
        var findings = Findings(rows)
            .Select(found =>
                found.Table.Name.Name == "feedings"
                    ? found with
                    {
                        References = [Of(["no", "wing"], "cages", ["no", "wing"]), Of(["wing"], "wings", ["code"])],
                    }
                    : found
            )
            .ToList();
        var panel = PorchDraft
            .Make(findings, rows.Snapshot.Tables.Select(table => table.Name).ToHashSet(), [])
            .Single(draft => draft.Panel.Table.Name == "feedings")
            .Panel;
        var (cage, wing) = (
            panel.Columns.Single(column => column.Name == "no").Lookup!,
            panel.Columns.Single(column => column.Name == "wing").Lookup!
        );
        Assert.Equal(("cages", "no"), (cage.Table.Name, cage.Key));
        Assert.Equal([new LookupPair("wing", "wing")], cage.Also);
        // The wing is chosen by itself: only its cages are offered.
        Assert.Equal([new LookupRestriction("wing", "wing")], cage.Within);
        Assert.Equal(("wings", 0), (wing.Table.Name, wing.Also.Count));
    }

    private static IEnumerable<string> Listed(string table) =>
        _drafted[table].Panel.Columns.Where(column => column.InList).Select(column => column.Name);

    private static IReadOnlyList<TableFindings> Findings(MakeRows made) =>
        SurveyReport.Make(made.Snapshot, made.Rows, made.Find()).Findings(made.Snapshot, new Vocabulary(made.Snapshot.Tables));

    private static IReadOnlyList<DraftedPanel> Draft(MakeRows made) =>
        PorchDraft.Make(Findings(made), made.Snapshot.Tables.Select(table => table.Name).ToHashSet(), []);
}
