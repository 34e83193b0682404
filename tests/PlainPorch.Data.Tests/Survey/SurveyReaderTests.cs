using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Data.Tests.Survey;

/// <summary>The whole survey on the demo database's schema without any foreign key: what the tool has to see through.</summary>
public sealed class SurveyReaderTests(DemoFixture demo) : IClassFixture<DemoFixture>
{
    private static readonly string[] _truth =
    [
        "BERTHS.PONT_CD -> PONTOONS.PONT_CD",
        "BERTHS.STAT_CD -> CODES.CODE STAT",
        "BOATS.OWNR_NO -> OWNERS.OWNR_NO",
        "BOATS.RIG_CD -> CODES.CODE RIG",
        "BoatKit.BoatNo -> BOATS.BOAT_NO",
        "BoatKit.KitNo -> KIT.KIT_NO",
        "KIT.CAT_CD -> CODES.CODE CAT",
        "METERS.BERTH_CD -> BERTHS.BERTH_CD",
        "METERS.KIND_CD -> CODES.CODE KIND",
        "OWNERS.AGENT_NO -> OWNERS.OWNR_NO",
        "OWNERS.CTRY -> CODES.CODE CTRY",
        "PONTOONS.SIDE_CD -> CODES.CODE SIDE",
        "READINGS.METER_NO -> METERS.METER_NO",
        "READINGS.STATE -> CODES.CODE STATE",
        "STAYS.BERTH_CD -> BERTHS.BERTH_CD",
        "STAYS.BOAT_NO -> BOATS.BOAT_NO",
        "STAYS.PAY_CD -> CODES.CODE PAY",
        "SURVEYS.BOAT_NO -> BOATS.BOAT_NO",
        "SURVEYS.RESULT_CD -> CODES.CODE RESULT",
    ];

    [Fact]
    public void References_OfTheRegister_AreAllFoundAndNoOthers() =>
        Assert.Equal(
            _truth.Order(StringComparer.Ordinal),
            demo.Report.References.Where(reference => reference.Confidence >= ReferenceFinder.Threshold)
                .Select(reference =>
                    $"{reference.Table}.{reference.Columns[0]} -> {reference.RefTable}.{reference.RefColumns[0]}{(reference.Where is null ? "" : " " + reference.Where.Split('\'')[1])}"
                )
                .Order(StringComparer.Ordinal)
        );

    [Fact]
    public async Task References_WithOrphans_CountThemAsTheDatabaseDoes()
    {
        var owner = demo.Report.References.Single(reference => reference.Table == "BOATS" && reference.Columns[0] == "OWNR_NO");
        Assert.Equal(
            await demo.AskAsync(
                """SELECT count(*) FROM register."BOATS" b WHERE b."OWNR_NO" <> 0 AND NOT EXISTS (SELECT FROM register."OWNERS" o WHERE o."OWNR_NO" = b."OWNR_NO")"""
            ),
            owner.Unmatched
        );
        Assert.Equal(
            await demo.AskAsync(
                """SELECT count(*) FROM register."BOATS" b JOIN register."OWNERS" o ON o."OWNR_NO" = b."OWNR_NO" """
            ),
            owner.Matched
        );
        Assert.NotEmpty(owner.UnmatchedExamples);
        Assert.NotNull(
            demo.Report.References.Single(reference => reference is { Table: "READINGS", RefTable: "METERS" }).Conversion
        );
    }

    [Theory]
    [InlineData("OWNERS", "NAT_ID", Meaning.Sensitive)]
    [InlineData("OWNERS", "IBAN", Meaning.Sensitive)]
    [InlineData("OWNERS", "Tel No", Meaning.Phone)]
    [InlineData("OWNERS", "DEL_FLG", Meaning.RemovedMarker)]
    [InlineData("BOATS", "HULL_MAT", Meaning.Choice)]
    [InlineData("BOATS", "YR_BLT", Meaning.Year)]
    [InlineData("BOATS", "LOA_M", Meaning.Quantity)]
    [InlineData("BOATS", "PHOTO", Meaning.Picture)]
    [InlineData("BOATS", "ENT_DT", Meaning.CreatedAt)]
    [InlineData("BOATS", "ENT_BY", Meaning.CreatedBy)]
    [InlineData("BOATS", "UPD_DT", Meaning.ChangedAt)]
    [InlineData("PONTOONS", "SORT_NO", Meaning.Position)]
    [InlineData("BERTHS", "SORT_NO", Meaning.Position)]
    [InlineData("BERTHS", "POWER_YN", Meaning.YesNoInDisguise)]
    [InlineData("BERTHS", "DAY_RATE", Meaning.Money)]
    [InlineData("STAYS", "ARR_DT", Meaning.DateInDisguise)]
    [InlineData("STAYS", "DEP_DT", Meaning.DateInDisguise)]
    [InlineData("STAYS", "PAID", Meaning.YesNoInDisguise)]
    [InlineData("SURVEYS", "NOTES", Meaning.LongText)]
    [InlineData("WAITLIST", "POS", Meaning.Position)]
    [InlineData("NOTICES", "BODY", Meaning.Html)]
    [InlineData("NOTICES", "PIN_YN", Meaning.YesNoInDisguise)]
    public void Columns_WithFaults_AreSeenThrough(string table, string column, Meaning expected)
    {
        var found = demo.Report.Columns.Single(seen => seen.Table == table && seen.Name == column);
        Assert.True(found.Kind == expected, $"{found.Kind}: {found.Evidence}");
    }

    [Theory]
    [InlineData("BoatKit", TableShape.Join)]
    [InlineData("CODES", TableShape.CodeList)]
    [InlineData("BOATS", TableShape.Main)]
    public void Tables_HaveTheirShapes(string table, TableShape expected) =>
        Assert.Equal(expected, demo.Report.Tables.Single(seen => seen.Name == table).Shape);

    [Fact]
    public void Tables_WithoutKey_HaveNoCandidateWhereRowsAreTwins() =>
        Assert.Empty(demo.Report.Tables.Single(table => table.Name == "WAITLIST").CandidateKeys);

    [Fact]
    public async Task Values_OfSensitiveColumns_AreNowhereInTheReport()
    {
        var report = System.Text.Json.JsonSerializer.Serialize(demo.Report, Core.Definition.DefinitionJson.Options);
        var values = await demo.ListAsync(
            """SELECT "NAT_ID" FROM register."OWNERS" WHERE "NAT_ID" IS NOT NULL UNION SELECT "IBAN" FROM register."OWNERS" WHERE "IBAN" IS NOT NULL"""
        );
        Assert.True(values.Count > 1_000);
        Assert.DoesNotContain(values, value => report.Contains($"\"{value}\"", StringComparison.Ordinal));
        Assert.NotEmpty(demo.Report.Columns.Single(column => column.Name == "IBAN").Profile.Shapes);
    }

    [Fact]
    public async Task Profile_OfATableReadWhole_IsWhatTheDatabaseSays()
    {
        var profile = demo.Report.Columns.Single(column => column is { Table: "BERTHS", Name: "DAY_RATE" }).Profile;
        Assert.Equal(await demo.AskAsync("""SELECT count(*) FROM register."BERTHS" """), profile.Seen);
        Assert.Equal(await demo.AskAsync("""SELECT count(DISTINCT "DAY_RATE") FROM register."BERTHS" """), profile.Distinct);
        Assert.Equal(
            [profile.Least!, profile.Greatest!],
            await demo.ListAsync(
                """SELECT min("DAY_RATE")::text FROM register."BERTHS" UNION ALL SELECT max("DAY_RATE")::text FROM register."BERTHS" """
            )
        );
        Assert.False(profile.IsEstimate);
    }

    [Fact]
    public void Profile_OfALargeTable_SaysThatItIsAnEstimate()
    {
        Assert.True(demo.Report.Columns.Single(column => column is { Table: "READINGS", Name: "VALUE" }).Profile.IsEstimate);
        Assert.True(demo.Report.Tables.Single(table => table.Name == "READINGS").RowsAreEstimated);
    }

    [Theory]
    [InlineData("OWNERS", "SURNAME", "in capitals")]
    [InlineData("BOATS", "HULL_MAT", "written in several ways")]
    [InlineData("STAYS", "ARR_DT", "blank or zeros")]
    [InlineData("STAYS", "PAID", "“-1” is yes")]
    [InlineData("PONTOONS", "SORT_NO", "every row has 1")]
    [InlineData("BERTHS", "SORT_NO", "every row has 1")]
    [InlineData("WAITLIST", "POS", "occur more than once")]
    [InlineData("OWNERS", "DEL_FLG", "means removed")]
    public void Faults_OfColumns_AreToldInTheEvidence(string table, string column, string words) =>
        Assert.Contains(
            words,
            demo.Report.Columns.Single(seen => seen.Table == table && seen.Name == column).Evidence,
            StringComparison.Ordinal
        );

    [Fact]
    public void Faults_OfKeys_AreToldByTable()
    {
        Assert.True(demo.Report.Tables.Single(table => table.Name == "WAITLIST").Twins > 0);
        Assert.Equal(["OWNR_NO"], demo.Report.Tables.Single(table => table.Name == "OWNERS").Key);
    }

    [Fact]
    public async Task Faults_OfSpells_AreCountedAsTheDatabaseDoes()
    {
        var overlap = Assert.Single(demo.Report.Overlaps, spells => spells.Of == "BERTH_CD");
        Assert.Equal(("STAYS", "ARR_DT", "DEP_DT"), (overlap.Table.Name, overlap.Begin, overlap.End));
        Assert.Equal(
            await demo.AskAsync(
                """
                WITH s AS (SELECT row_number() OVER () AS n, "BERTH_CD" AS of, "ARR_DT" AS a, "DEP_DT" AS d FROM register."STAYS"
                           WHERE "ARR_DT" ~ '^[0-9]{8}$' AND "DEP_DT" ~ '^[0-9]{8}$' AND '00000000' NOT IN ("ARR_DT", "DEP_DT") AND "ARR_DT" <= "DEP_DT")
                SELECT count(*) FROM s WHERE EXISTS (SELECT FROM s AS e WHERE e.of = s.of AND (e.a, e.d, e.n) < (s.a, s.d, s.n) AND e.d > s.a)
                """
            ),
            overlap.Overlapping
        );
        Assert.Contains(FindingList.Of(demo.Report, []), finding =>
            finding.Subject is { Sort: FindingSort.Overlap, Table.Name: "STAYS" }
            && finding.Says.Contains("same BERTH_CD", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Sql_OfAReference_IsThereToReadAndRun()
    {
        var rig = demo.Report.References.Single(reference => reference is { Table: "BOATS", RefTable: "CODES" });
        Assert.Contains("'RIG'", rig.Sql, StringComparison.Ordinal);
        Assert.DoesNotContain("@", rig.Sql, StringComparison.Ordinal);
    }

    [Fact]
    public async Task ReadAsync_TablesThatMayNotBeRead_AreNamedAndTheOthersSurveyed()
    {
        var report = await demo.SurveyAsAsync("GRANT SELECT ON register.\"KIT\" TO {0}");
        Assert.Contains("register.OWNERS", report.Unread);
        Assert.Equal(40, report.Tables.Single(table => table.Name == "KIT").Rows);
    }
}
