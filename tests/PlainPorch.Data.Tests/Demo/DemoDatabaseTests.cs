using PlainPorch.Data.Tests.Survey;

namespace PlainPorch.Data.Tests.Demo;

/// <summary>Each fault of the demo data stands for something that the tool has to see through, so each has to be there.</summary>
public sealed class DemoDatabaseTests(DemoFixture demo) : IClassFixture<DemoFixture>
{
    [Theory]
    [InlineData("register", "OWNERS", 6_000)]
    [InlineData("register", "BOATS", 8_000)]
    [InlineData("register", "PONTOONS", 14)]
    [InlineData("register", "BERTHS", 620)]
    [InlineData("register", "STAYS", 45_000)]
    [InlineData("register", "METERS", 900)]
    [InlineData("register", "READINGS", 250_000)]
    [InlineData("register", "KIT", 40)]
    [InlineData("register", "BoatKit", 30_000)]
    [InlineData("register", "CODES", 70)]
    [InlineData("register", "SURVEYS", 12_000)]
    [InlineData("register", "WAITLIST", 180)]
    [InlineData("register", "NOTICES", 60)]
    public async Task Table_AtStandardScale_HasItsRows(string schema, string table, long rows) =>
        Assert.Equal(rows, await demo.AskAsync($"SELECT count(*) FROM {schema}.\"{table}\""));

    [Fact]
    public async Task Boatyard_HasAboutThirtyThousandRows() =>
        Assert.InRange(
            await demo.AskAsync(
                """
                SELECT (SELECT count(*) FROM boatyard.customer) + (SELECT count(*) FROM boatyard.job) + (SELECT count(*) FROM boatyard.job_line)
                     + (SELECT count(*) FROM boatyard.part) + (SELECT count(*) FROM boatyard.staff) + (SELECT count(*) FROM boatyard.job_staff) + (SELECT count(*) FROM boatyard.tool)
                """
            ),
            27_000,
            33_000
        );

    [Theory]
    [InlineData(
        "no foreign keys in the register",
        "SELECT count(*) FROM pg_constraint WHERE contype = 'f' AND connamespace = 'register'::regnamespace",
        0,
        0
    )]
    [InlineData(
        "OWNERS has no primary key",
        """SELECT count(*) FROM pg_constraint WHERE contype = 'p' AND conrelid = 'register."OWNERS"'::regclass""",
        0,
        0
    )]
    [InlineData("yet its numbers are unique", """SELECT count(*) - count(DISTINCT "OWNR_NO") FROM register."OWNERS" """, 0, 0)]
    [InlineData("surnames in capitals", """SELECT count(*) FROM register."OWNERS" WHERE "SURNAME" <> upper("SURNAME")""", 0, 0)]
    [InlineData(
        "agents are owners",
        """SELECT count(*) FROM register."OWNERS" a JOIN register."OWNERS" b ON b."OWNR_NO" = a."AGENT_NO" """,
        300,
        600
    )]
    [InlineData("removed is Y or null", """SELECT count(*) FROM register."OWNERS" WHERE "DEL_FLG" <> 'Y'""", 0, 0)]
    [InlineData("some owners are removed", """SELECT count(*) FROM register."OWNERS" WHERE "DEL_FLG" = 'Y'""", 100, 300)]
    [InlineData("boats without owner have 0", """SELECT count(*) FROM register."BOATS" WHERE "OWNR_NO" = 0""", 300, 500)]
    [InlineData(
        "0.8 % of boats have an owner who is not there",
        """SELECT count(*) FROM register."BOATS" b WHERE "OWNR_NO" <> 0 AND NOT EXISTS (SELECT FROM register."OWNERS" o WHERE o."OWNR_NO" = b."OWNR_NO")""",
        40,
        90
    )]
    [InlineData("hull materials in many spellings", """SELECT count(DISTINCT "HULL_MAT") FROM register."BOATS" """, 12, 25)]
    [InlineData(
        "photographs are pictures",
        """SELECT count(*) FROM register."BOATS" WHERE substr("PHOTO", 2, 3) = 'PNG'::bytea""",
        250,
        400
    )]
    [InlineData("every pontoon has place 1", """SELECT count(*) FROM register."PONTOONS" WHERE "SORT_NO" <> 1""", 0, 0)]
    [InlineData("every berth has place 1", """SELECT count(*) FROM register."BERTHS" WHERE "SORT_NO" <> 1""", 0, 0)]
    [InlineData(
        "berths are called like C-07",
        """SELECT count(*) FROM register."BERTHS" WHERE "BERTH_CD" !~ '^[A-N]-[0-9]{2}$'""",
        0,
        0
    )]
    [InlineData(
        "dates as text",
        """SELECT count(*) FROM register."STAYS" WHERE "ARR_DT" ~ '^(19|20)[0-9]{6}$'""",
        43_000,
        44_990
    )]
    [InlineData("some of zeros", """SELECT count(*) FROM register."STAYS" WHERE "ARR_DT" = '00000000'""", 200, 900)]
    [InlineData("some blank", """SELECT count(*) FROM register."STAYS" WHERE "DEP_DT" = ''""", 500, 2_500)]
    [InlineData("paid is -1 or 0", """SELECT count(*) FROM register."STAYS" WHERE "PAID" NOT IN (-1, 0)""", 0, 0)]
    [InlineData(
        "some stays overlap on a berth",
        """SELECT count(*) FROM (SELECT FROM register."STAYS" a JOIN register."STAYS" b ON a."BERTH_CD" = b."BERTH_CD" AND a."STAY_NO" < b."STAY_NO" AND a."ARR_DT" < b."DEP_DT" AND b."ARR_DT" < a."DEP_DT" WHERE a."BERTH_CD" = 'C-07' LIMIT 5) AS pairs""",
        1,
        5
    )]
    [InlineData(
        "meter numbers with leading zeros",
        """SELECT count(*) FROM register."READINGS" WHERE "METER_NO" !~ '^00[0-9]{4}$'""",
        0,
        0
    )]
    [InlineData("five states of readings", """SELECT count(DISTINCT "STATE") FROM register."READINGS" """, 5, 5)]
    [InlineData(
        "two rows of the waiting list are the same",
        """SELECT count(*) FROM (SELECT w.* FROM register."WAITLIST" w GROUP BY 1, 2, 3, 4, 5, 6 HAVING count(*) > 1) twins""",
        1,
        1
    )]
    [InlineData("its places have ties", """SELECT count(*) - count(DISTINCT "POS") FROM register."WAITLIST" """, 2, 60)]
    [InlineData("and gaps", """SELECT max("POS") - count(DISTINCT "POS") FROM register."WAITLIST" """, 5, 200)]
    [InlineData(
        "hostile notices",
        """SELECT count(*) FROM register."NOTICES" WHERE "BODY" ~ '<script|onerror|javascript:'""",
        10,
        40
    )]
    [InlineData("boats overdue", """SELECT count(*) FROM register."V_OVERDUE" """, 500, 8_000)]
    public async Task Fault_IsThere(string fault, string question, long least, long most)
    {
        var answer = await demo.AskAsync(question);
        Assert.True(answer >= least && answer <= most, $"{fault}: {answer}");
    }

    [Fact]
    public async Task Ibans_AreRightByTheirCheckDigits() =>
        Assert.Equal(
            0,
            await demo.AskAsync(
                """
                SELECT count(*) FROM register."OWNERS"
                WHERE "IBAN" IS NOT NULL AND mod(regexp_replace(
                    replace(replace(replace(replace(substr("IBAN", 5) || substr("IBAN", 1, 4), 'W', '32'), 'R', '27'), 'E', '14'), 'N', '23'),
                    'GB', '1611')::numeric, 97) <> 1
                """
            )
        );

    [Theory]
    [InlineData(
        "identity columns",
        "SELECT count(*) FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid WHERE c.relnamespace = 'boatyard'::regnamespace AND attidentity <> ''",
        6
    )]
    [InlineData(
        "a generated column",
        "SELECT count(*) FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid WHERE c.relnamespace = 'boatyard'::regnamespace AND attgenerated <> ''",
        1
    )]
    [InlineData("an enum", "SELECT count(*) FROM pg_type WHERE typtype = 'e' AND typnamespace = 'boatyard'::regnamespace", 1)]
    [InlineData(
        "a partial index",
        "SELECT count(*) FROM pg_index i JOIN pg_class c ON c.oid = i.indrelid WHERE c.relnamespace = 'boatyard'::regnamespace AND indpred IS NOT NULL",
        1
    )]
    [InlineData(
        "an interval, an array and a JSON column",
        "SELECT count(*) FROM information_schema.columns WHERE table_schema = 'boatyard' AND (data_type IN ('interval', 'ARRAY', 'jsonb'))",
        3
    )]
    public async Task Boatyard_HasWhatTidySchemasHave(string what, string question, long count)
    {
        var answer = await demo.AskAsync(question);
        Assert.True(answer == count, $"{what}: {answer}");
    }
}
