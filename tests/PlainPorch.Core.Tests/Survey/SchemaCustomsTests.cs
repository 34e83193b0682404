namespace PlainPorch.Core.Tests.Survey;

/// <summary>References found by the customs of a schema: how its keys are called, what its tables say together.</summary>
public sealed class SchemaCustomsTests
{
    [Fact]
    public void Find_BareNamesOfTables_ReferWhereThatIsTheCustom()
    {
        var held = Yard().Table("yard_berth", "id int, yard int, depot int, length int, boat int").Held();
        Assert.Contains("yard_berth.yard -> yard_yard.id", held);
        Assert.Contains("yard_berth.depot -> stock_depot.id", held);
        Assert.Contains("yard_berth.boat -> fleet_boat.id", held);
        Assert.DoesNotContain(held, line => line.StartsWith("yard_berth.length", StringComparison.Ordinal));
    }

    [Fact]
    public void Find_BareNames_SaySoInTheEvidence() =>
        Assert.Contains(
            "as references do in this schema",
            Yard().Find().First(found => found.Columns[0] == "depot").Evidence,
            StringComparison.Ordinal
        );

    [Fact]
    public void Find_BareNamesWhereKeysAreCalledOtherwise_SayLittle()
    {
        var held = new MakeRows()
            .Table("boats", "id int, name text, crew int, berths int")
            .Table("crew", "id int, boat_id int, name text")
            .Table("berths", "id int, boat_id int, quay_id int")
            .Table("quays", "id int, length int, depth int, boat int")
            .Held();
        Assert.Contains("berths.quay_id -> quays.id", held);
        Assert.DoesNotContain("boats.berths -> berths.id", held);
    }

    [Theory]
    [InlineData("product", "template", "product_template")]
    [InlineData("order_line", "type", "order_line_type")]
    [InlineData("order_line", "status_id", "order_status")]
    public void Find_NameThatContinuesTheTables_MeansThatTable(string table, string column, string target)
    {
        var held = Yard()
            .Table("order_line_type", "id int, name text")
            .Table("order_status", "id int, name text")
            .Table("product_template", "id int, name text")
            .Table("stock_template", "id int, name text")
            .Table(table, $"id int, {column} int")
            .Held();
        Assert.Contains($"{table}.{column} -> {target}.id", held);
    }

    [Fact]
    public void Find_TemplatesOfTables_ReferToTemplates()
    {
        var held = Yard()
            .Table("fleet_boat_template", "id int, name text, depot int")
            .Table("fleet_sail_template", "id int, boat int")
            .Held();
        Assert.Contains("fleet_sail_template.boat -> fleet_boat_template.id", held);
        Assert.Contains("fleet_boat_template.depot -> stock_depot.id", held);
    }

    [Fact]
    public void Find_ColumnsThatBeginWithTheirTable_ReferByTheOthersBeginning()
    {
        var held = new MakeRows()
            .Table("ledgers", "ldg_id int, ldg_name text, ldg_year int")
            .Table("entries", "ent_id int, ent_ldg_id int, ent_text text, ent_amount money")
            .Table("lines", "lin_id int, lin_ent_id int, lin_acc int, lin_amount money")
            .Table("accounts", "acc_id int, acc_name text, acc_kind int")
            .Held();
        Assert.Contains("entries.ent_ldg_id -> ledgers.ldg_id", held);
        Assert.Contains("lines.lin_ent_id -> entries.ent_id", held);
        Assert.Contains("lines.lin_acc -> accounts.acc_id", held);
    }

    [Fact]
    public void Find_NameThatSeveralTablesAgreeOn_IsFollowedByTheOthers()
    {
        var schema = new MakeRows()
            .Table("persons", "id int, name text")
            .Table("boats", "id int, skipper_id int")
            .Table("berths", "id int, skipper_id int")
            .Table("fees", "id int, skipper_id int");
        Assert.DoesNotContain(schema.Held(), line => line.Contains("skipper", StringComparison.Ordinal));
        var agreed = new MakeRows(schema, ("boats", "skipper_id", "persons"), ("berths", "skipper_id", "persons")).Find();
        var followed = Assert.Single(agreed, reference => reference.Table.Name == "fees");
        Assert.Equal("persons", followed.Target.Name);
        Assert.Contains("2 other columns of this name refer there", followed.Evidence, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("part_relationship", "subject_id", "object_id")]
    [InlineData("part_link", "source_id", "target_id")]
    [InlineData("part_map", "parent", "child")]
    public void Find_SidesOfATableThatLinks_ReferToTheOneItIsCalledLike(string table, string left, string right)
    {
        var held = Yard().Table("part", "id int, name text").Table(table, $"id int, {left} int, {right} int").Held();
        Assert.Contains($"{table}.{left} -> part.id", held);
        Assert.Contains($"{table}.{right} -> part.id", held);
    }

    [Fact]
    public void Find_RestOfATablesName_RefersToTheTableThatBeginsIt() =>
        Assert.Contains(
            "period_exclude.exclude_id -> period.id",
            new MakeRows().Table("period", "id int, name text").Table("period_exclude", "period_id int, exclude_id int").Held()
        );

    [Theory]
    [InlineData("engine_type_id", "enginetype")]
    [InlineData("enginetype_id", "engine_types")]
    [InlineData("EngineTypeId", "engine_type")]
    [InlineData("default_prop_id", "defaultproperties")]
    [InlineData("old_engine_type_id", "enginetypes")]
    public void Find_JoinedWords_AreComparedHoweverTheyAreWritten(string column, string target) =>
        Assert.Equal(
            [$"boats.{column} -> {target}.id"],
            new MakeRows()
                .Table(target, "id int, name text")
                .Table("engines", "id int, name text")
                .Table("boats", $"id int, {column} int")
                .Held()
                .Where(line => line.StartsWith("boats", StringComparison.Ordinal))
        );

    [Fact]
    public void Find_TextsOfTwoLengths_DoNotReferToEachOther()
    {
        static IReadOnlyList<string> Held(int length) =>
            new MakeRows().Table("theme", "theme text:64, name text").Table("users", $"id int, theme text:{length}").Held();
        Assert.Equal(["users.theme -> theme.theme"], Held(64));
        Assert.Empty(Held(128));
    }

    [Fact]
    public void Find_KeyWithItsOwnSequence_RefersToNothing()
    {
        static IReadOnlyList<string> Held(string type) =>
            new MakeRows().Table("boats", "boat_id int, name text").Table("stickers", $"boat_id {type}, colour text").Held();
        Assert.Equal(["stickers.boat_id -> boats.boat_id"], Held("int"));
        Assert.Empty(Held("serial"));
    }

    [Fact]
    public void Find_TableThatOnlyJoins_IsReferredToByNone()
    {
        var held = new MakeRows()
            .Table("teams", "id int, name text")
            .Table("lines", "id int, name text")
            .Table("teams_lines", "id int, team_id int, line_id int")
            .Table("stops", "id int, lines_id int, teams_lines text")
            .Held();
        Assert.DoesNotContain(held, line => line.Contains("-> teams_lines", StringComparison.Ordinal));
    }

    [Fact]
    public void Find_ConsonantsAlone_AreNotEnough() =>
        Assert.Empty(new MakeRows().Table("crow", "id int, name text").Table("boats", "id int, crew_id int").Held());

    [Fact]
    public void Find_InitialsOfATable_AreWrittenOut() =>
        Assert.Contains(
            "budget.bu_class -> business_unit_class.id",
            new MakeRows()
                .Table("business_unit", "id int, name text")
                .Table("business_unit_class", "id int, name text")
                .Table("file_class", "id int, name text")
                .Table("budget", "id int, bu_id int, bu_class int")
                .Table("plan", "id int, budget_id int, owner int, customer int, team int, yard int, depot int, sail int")
                .Table("team", "id int, customer int, depot int, sail int, yard int")
                .Table("customer", "id int, name text")
                .Table("depot", "id int, name text")
                .Table("sail", "id int, name text")
                .Table("yard", "id int, name text")
                .Held()
        );

    // Tables of modules, and columns that bear the bare end of a table's name.
    private static MakeRows Yard() =>
        new MakeRows()
            .Table("yard_yard", "id int, name text")
            .Table("yard_crane", "id int, yard int, depot int")
            .Table("yard_lift", "id int, yard int, boat int, crane int")
            .Table("stock_depot", "id int, name text, yard int")
            .Table("stock_move", "id int, boat int, depot int")
            .Table("stock_count", "id int, depot int, move int")
            .Table("fleet_boat", "id int, name text, yard int")
            .Table("fleet_sail", "id int, boat int, depot int")
            .Table("fleet_mast", "id int, boat int, sail int");
}
