using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Survey;

namespace PlainPorch.Data.Tests.Records;

/// <summary>Titles of lookups, choices and related records, on a porch that was drafted whole.</summary>
public sealed class LookupTests(LookupTests.Marina marina) : IClassFixture<LookupTests.Marina>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task ListAsync_Lookups_ShowTitlesAndLeadToTheirRecords()
    {
        var page = await ListAsync("boats", new ListRequest());
        var owner = page.Lookups["OWNR_NO"]["7"];
        Assert.Equal(("BROOK, Eva 7", "owners", "7"), (owner.Title, owner.Panel, owner.Key));
        Assert.Equal("Sloop", page.Lookups["RIG_CD"]["SLO"].Title);
    }

    [Fact]
    public async Task ListAsync_ValuesWithoutMatch_AreLeftToStandForThemselves()
    {
        var page = await ListAsync("boats", new ListRequest("Orphan"));
        Assert.Equal("Orphan", Assert.Single(page.Rows).Title);
        Assert.Empty(page.Lookups["OWNR_NO"]);
    }

    [Fact]
    public async Task ListAsync_TextWithLeadingZeros_FindsTheNumberAndItsTitleThroughAnotherLookup()
    {
        var page = await ListAsync("readings", new ListRequest());
        Assert.Equal("103 · A-03", page.Lookups["METER_NO"]["000103"].Title);
        Assert.Equal("103 · A-03 · 03/05/2024", page.Rows.Single(row => row.Key == "3").Title);
    }

    [Fact]
    public async Task ListAsync_CodesWrittenInTwoWays_ShowOneRecordAndAreListedTogether()
    {
        var page = await ListAsync("visits", new ListRequest());
        Assert.Equal("Country 3", page.Lookups["FLAG_CD"]["fl3 "].Title);
        Assert.All(page.Rows, row => Assert.NotNull(row.Key));
        Assert.Equal(7, (await ListAsync("visits", new ListRequest(Of: "FLAG_CD", Value: "FL3"))).Count!.Value);
    }

    [Fact]
    public async Task ListAsync_AnyNumberOfRows_CostsOneQueryForEachLookup()
    {
        await ListAsync("boats", new ListRequest("1"));
        using var commands = new CommandCount();
        await ListAsync("boats", new ListRequest("2"));
        Assert.Single(commands.Texts, text => text.Contains("o.\"OWNR_NO\" = ANY", StringComparison.Ordinal));
        Assert.Single(commands.Texts, text => text.Contains("c.\"CODE\" = ANY", StringComparison.Ordinal));
        // Besides, the rows, their number, and which owners and codes have a title that holds the word.
        Assert.InRange(commands.Count, 4, 6);
    }

    [Theory]
    [InlineData("boats", "reed ketch", 40)]
    [InlineData("boats", "brook sloop", 40)]
    [InlineData("boats", "ketch \"Eva 40\"", 2)]
    [InlineData("boats", "slowly", 0)]
    [InlineData("boats", "-reed", 41)]
    [InlineData("visits", "\"country 3\"", 7)]
    [InlineData("readings", "meter: A-07", 1)]
    public async Task ListAsync_SearchedByTheTitleOfALookup_FindsWhatRefersToIt(string panel, string search, long count)
    {
        var store = marina.Open(panel);
        var searched = marina.With(
            store.Panel.Definition with
            {
                Columns =
                [
                    .. store.Panel.Definition.Columns.Select(column =>
                        column with
                        {
                            Label = column.Name == "METER_NO" ? "Meter" : column.Label,
                            Searched = column.Lookup is not null,
                        }
                    ),
                ],
            }
        );
        var plan = searched.Plan(new ListRequest(search));
        Assert.Equal(count, (await new ListStore(searched).ListAsync(plan, Token)).Count!.Value);
        // Of very many records referred to, the database compares the tables itself; it has to find the same.
        await using var connection = await marina.Source.OpenConnectionAsync(Token);
        Assert.Equal(
            count,
            await new SourceReader(marina.Model, connection).CountAsync(searched.Panel.Table, plan.Filter, 1_000, Token)
        );
    }

    [Theory]
    [InlineData("""{"column":"OWNR_NO","of":"FIRST_NM","is":"is","values":["Eva 7"]}""", "Owner: First name is “Eva 7”", 2)]
    [InlineData(
        """{"not":{"column":"OWNR_NO","of":"SURNAME","is":"is","values":["reed"]}}""",
        "not Owner: Surname is “reed”",
        41
    )]
    public async Task ListAsync_ConditionOnARecordReferredTo_IsAskedThere(string where, string says, long count)
    {
        var page = await ListAsync("boats", new ListRequest(Where: where));
        Assert.Equal(count, page.Count!.Value);
        Assert.Equal(says, Assert.Single(page.Restricted).Says);
    }

    [Fact]
    public async Task CountValuesAsync_FollowsTheOthersButNotItself()
    {
        var store = marina.With(
            marina.Open("boats").Panel.Definition with
            {
                Columns = [.. marina.Open("boats").Panel.Definition.Columns.Select(column => column with { Narrows = true })],
            }
        );
        var rig = store.Panel.Find("RIG_CD")!;
        var all = await CountAsync(new ListRequest());
        Assert.Equal(
            [" 1", "Ketch 40", "Sloop 40"],
            all.Values.Select(value => $"{value.Title} {value.Count}").Order(StringComparer.Ordinal)
        );
        var narrowed = await CountAsync(new ListRequest(In: ["RIG_CD:KET", "OWNR_NO:7"]));
        Assert.Equal(["Sloop 2"], narrowed.Values.Select(value => $"{value.Title} {value.Count}"));
        Assert.Equal(
            ["Ketch 40"],
            (await new ListStore(store).CountValuesAsync(Plan(new ListRequest()), rig, "ket", Token)).Values.Select(value =>
                $"{value.Title} {value.Count}"
            )
        );

        var ranges = await new ListStore(store).CountValuesAsync(
            Plan(new ListRequest("boat")),
            store.Panel.Find("BOAT_NO")!,
            null,
            Token
        );
        Assert.Equal(80, ranges.Ranges.Sum(range => range.Count));
        var first = ranges.Ranges[0];
        Assert.Equal(
            first.Count,
            (
                await new ListStore(store).ListAsync(
                    Plan(new ListRequest("boat", In: [$"BOAT_NO:{first.From}..{first.Until}"])),
                    Token
                )
            )
                .Count!
                .Value
        );

        Task<NarrowingValues> CountAsync(ListRequest request) =>
            new ListStore(store).CountValuesAsync(Plan(request), rig, null, Token);
        ListPlan Plan(ListRequest request) => store.Plan(request);
    }

    [Fact]
    public async Task ListAsync_OfARecord_ListsWhatRefersToIt()
    {
        var page = await ListAsync("readings", new ListRequest(Of: "METER_NO", Value: "103"));
        Assert.Equal(["3"], page.Rows.Select(row => row.Key));
        Assert.Equal(2, (await ListAsync("boats", new ListRequest(Of: "OWNR_NO", Value: "7"))).Count!.Value);
    }

    [Fact]
    public async Task FindAsync_ARecord_BringsTheTitlesOfItsLookups()
    {
        var record = await new RecordStore(marina.Open("boats")).FindAsync("7", Token);
        Assert.Equal(["OWNR_NO", "RIG_CD"], record!.Lookups.Keys.Order(StringComparer.Ordinal));
    }

    [Theory]
    [InlineData("brook eva 7", "7", "BROOK, Eva 7")]
    [InlineData("7", "7", "BROOK, Eva 7")]
    [InlineData("BROOK, Eva 7", "7", "BROOK, Eva 7")]
    public async Task ChooseAsync_ByNameOrNumber_FindsTheRecord(string typed, string value, string title)
    {
        var choices = await new RecordStore(marina.Open("boats")).ChooseAsync("OWNR_NO", new(typed), Token);
        Assert.Contains(choices!.Choices, choice => choice.Value == value && choice.Title == title);
    }

    [Fact]
    public async Task ChooseAsync_AWholeNumber_ComesFirstThoughOthersHoldItToo()
    {
        var choices = await new RecordStore(marina.Open("boats")).ChooseAsync("OWNR_NO", new("1"), Token);
        Assert.Equal("1", choices!.Choices[0].Value);
        Assert.True(choices.Choices.Count > 10);
        Assert.Equal(choices.Choices.Count, choices.Choices.Select(choice => choice.Value).Distinct().Count());
    }

    [Fact]
    public async Task ChooseAsync_WhatBeginsWithTheTyping_ComesFirst()
    {
        // "r" occurs in every Brook, and a Reed begins with it.
        var choices = await new RecordStore(marina.Open("boats")).ChooseAsync("OWNR_NO", new("r"), Token);
        Assert.StartsWith("REED", choices!.Choices[0].Title, StringComparison.Ordinal);
    }

    [Fact]
    public async Task ChooseAsync_CodeList_OffersItsOwnListOnly()
    {
        var choices = await new RecordStore(marina.Open("boats")).ChooseAsync("RIG_CD", new(null), Token);
        Assert.Equal(["Ketch", "Sloop"], choices!.Choices.Select(choice => choice.Title));
        Assert.False(choices.HasMore);
    }

    [Fact]
    public async Task ChooseAsync_NumberKeptAsText_IsWrittenWithItsZeros() =>
        Assert.Equal(
            "000105",
            Assert
                .Single((await new RecordStore(marina.Open("readings")).ChooseAsync("METER_NO", new("A-05"), Token))!.Choices)
                .Value
        );

    [Fact]
    public async Task ChooseAsync_ColumnThatIsNoLookup_IsNone() =>
        Assert.Null(await new RecordStore(marina.Open("boats")).ChooseAsync("NAME", new(null), Token));

    [Fact]
    public async Task ChooseAsync_ManyRecords_SaysThatThereAreMore() =>
        Assert.True((await new RecordStore(marina.Open("boats")).ChooseAsync("OWNR_NO", new("brook"), Token))!.HasMore);

    [Fact]
    public async Task ChooseAsync_RestrictedByAnotherField_OffersWhatFitsItAlone()
    {
        var boats = new RecordStore(
            marina.WithLookup("boats", "OWNR_NO", lookup =>
                lookup with
                {
                    Within = [new LookupRestriction("SURNAME", "NAME")],
                    Details = ["FIRST_NM"],
                }
            )
        );
        var reeds = (await boats.ChooseAsync("OWNR_NO", Within(null, "REED"), Token))!;
        Assert.All(reeds.Choices, choice => Assert.StartsWith("REED", choice.Title, StringComparison.Ordinal));
        Assert.Equal("Eva 10", reeds.Choices[0].Second);
        Assert.Equal(("owners", "10"), (reeds.Panel, reeds.Choices[0].Key));
        // A number that is one of the others is not offered, though it was typed whole.
        Assert.DoesNotContain((await boats.ChooseAsync("OWNR_NO", Within("7", "REED"), Token))!.Choices, choice =>
            choice.Value == "7"
        );
        Assert.Contains((await boats.ChooseAsync("OWNR_NO", Within("7", " "), Token))!.Choices, choice => choice.Value == "7");
        Assert.Empty((await boats.ChooseAsync("OWNR_NO", Within(null, "NOBODY"), Token))!.Choices);

        static LookupQuestion Within(string? text, string value) =>
            new(text)
            {
                Within = new Dictionary<string, string?> { ["SURNAME"] = value, ["FIRST_NM"] = "asked by nobody" },
            };
    }

    [Fact]
    public async Task ChooseAsync_ChosenOfLate_StandFirstUntilSomethingIsTyped()
    {
        var boats = new RecordStore(marina.Open("boats"));
        var question = new LookupQuestion("") { First = ["33", "12", "4711", "x"] };
        var choices = (await boats.ChooseAsync("OWNR_NO", question, Token))!.Choices;
        Assert.Equal(["33", "12"], choices.Take(2).Select(choice => choice.Value));
        Assert.Equal(choices.Count, choices.DistinctBy(choice => choice.Value).Count());
        Assert.DoesNotContain((await boats.ChooseAsync("OWNR_NO", question with { Text = "reed" }, Token))!.Choices, choice =>
            choice.Value == "33"
        );
    }

    [Fact]
    public async Task ChooseBeforeAsync_ColumnOfTheTarget_OffersItsValuesOrItsRecords()
    {
        var boats = new RecordStore(
            marina.WithLookup("boats", "OWNR_NO", lookup => lookup with { Within = [new LookupRestriction("SURNAME", null)] })
        );
        var names = (await boats.ChooseBeforeAsync("OWNR_NO", "SURNAME", "re", Token))!;
        Assert.Equal(["REED"], names.Choices.Select(choice => choice.Value));
        Assert.Null(await boats.ChooseBeforeAsync("OWNR_NO", "FIRST_NM", null, Token));
        Assert.Null(await boats.ChooseBeforeAsync("RIG_CD", "SURNAME", null, Token));
        var readings = new RecordStore(
            marina.WithLookup("readings", "METER_NO", lookup =>
                lookup with
                {
                    Within = [new LookupRestriction("BERTH_CD", null)],
                }
            )
        );
        Assert.Contains((await readings.ChooseBeforeAsync("METER_NO", "BERTH_CD", "a-0", Token))!.Choices, choice =>
            choice.Value == "A-05"
        );
    }

    [Fact]
    public async Task SuggestAsync_ColumnThatOffersThem_TellsWhatOtherRecordsHave()
    {
        var owners = marina.Open("owners").Panel.Definition;
        var store = new RecordStore(
            marina.With(
                owners with
                {
                    Columns = [.. owners.Columns.Select(column => column with { Suggests = column.Name == "SURNAME" })],
                }
            )
        );
        Assert.Equal(["REED"], await store.SuggestAsync("SURNAME", "re", Token));
        Assert.Equal(["BROOK", "REED"], (await store.SuggestAsync("SURNAME", "", Token))!.Order(StringComparer.Ordinal));
        Assert.Null(await store.SuggestAsync("FIRST_NM", "", Token));
    }

    [Fact]
    public async Task RelatedAsync_Owner_ShowsBoatsWithTheirNumber()
    {
        var boats = Assert.Single((await new RecordStore(marina.Open("owners")).RelatedAsync("7", Token))!, list =>
            list.Panel == "boats"
        );
        Assert.Equal((2, "7", "OWNR_NO"), (boats.Count.Value, boats.Value, boats.Column));
        Assert.Equal(["Boat 47", "Boat 7"], boats.Records.Select(record => record.Title).Order(StringComparer.Ordinal));
        Assert.All(boats.Records, record => Assert.Equal("boats", record.Panel));
    }

    [Fact]
    public async Task RelatedAsync_OrderOfTheirOwn_IsKept_AndAColumnThatIsGoneHidesNothing()
    {
        var owners = marina.Open("owners").Panel.Definition;
        async Task<RelatedList> BoatsAsync(params OrderBy[] sort)
        {
            var related = owners.Related.Select(one =>
                one.Panel == "boats" ? one with { AsList = true, Columns = ["RIG_CD"], Sort = sort, PageSize = 50 } : one
            );
            var store = new RecordStore(marina.With(owners with { Related = [.. related] }));
            return Assert.Single((await store.RelatedAsync("7", Token))!, list => list.Panel == "boats");
        }

        var down = await BoatsAsync(new OrderBy("BOAT_NO", Descending: true));
        Assert.Equal(["Boat 47", "Boat 7"], down.Records.Select(record => record.Title));
        Assert.Equal((true, "RIG_CD", "-BOAT_NO", 50), (down.AsList, down.Columns[0], down.Sort[0], down.PageSize));
        var up = await BoatsAsync(new OrderBy("GONE", Descending: false), new OrderBy("BOAT_NO", Descending: false));
        Assert.Equal(["Boat 7", "Boat 47"], up.Records.Select(record => record.Title));
    }

    [Fact]
    public async Task RelatedAsync_JoinTable_ShowsTheOtherSide()
    {
        var kit = Assert.Single((await new RecordStore(marina.Open("boats")).RelatedAsync("3", Token))!, list =>
            list.Panel == "boat-kits"
        );
        Assert.Equal(
            ("Kits", "Flare 4", "kits", "4"),
            (kit.Label, kit.Records[0].Title, kit.Records[0].Panel, kit.Records[0].Key)
        );
    }

    [Fact]
    public async Task RelatedAsync_SixKinds_CostTwoRoundTrips()
    {
        var boats = marina.Open("boats").Panel.Definition;
        var kinds = Enumerable.Range(0, 6).Select(number => boats.Related[number % boats.Related.Count]);
        var store = new RecordStore(marina.With(boats with { Related = [.. kinds] }));
        using var commands = new CommandCount();
        var lists = await store.RelatedAsync("3", Token);
        Assert.Equal(6, lists!.Count);
        Assert.Contains(lists, list => list.Records.Count > 0);
        Assert.InRange(commands.Count, 1, 2);
    }

    [Fact]
    public async Task RelatedAsync_RecordThatIsNotThere_IsNone() =>
        Assert.Null(await new RecordStore(marina.Open("boats")).RelatedAsync("99999", Token));

    [Fact]
    public async Task AnExpression_FollowsTheLookupAsItIsNow_WhateverWasAskedBefore()
    {
        Assert.Equal(["3", "5"], await SloopsAsync(marina.Open("boats"), "Sloop"));
        Assert.Equal(["3", "5"], await SloopsAsync(marina.Open("boats"), "Sloop"));
        // The same code means something else in another list.
        var paid = marina.WithLookup("boats", "RIG_CD", lookup => lookup with { Where = lookup.Where! with { Value = "PAY" } });
        Assert.Equal(["3", "5"], await SloopsAsync(paid, "Slowly"));
        Assert.Empty(await SloopsAsync(paid, "Sloop"));
    }

    private async Task<IEnumerable<string?>> SloopsAsync(SeenPanel boats, string means)
    {
        Assert.True(
            RuleReader.TryRead(
                $"RIG_CD.DESCR = '{means}' and BOAT_NO between 3 and 6",
                new RuleScope(boats.Panel, boats.Porch),
                out var rule,
                out var problem
            ),
            problem?.Message
        );
        await using var connection = await marina.Source.OpenConnectionAsync(Token);
        var asking = new RuleAsking(new DateTime(2026, 1, 1, 0, 0, 0, DateTimeKind.Unspecified));
        var rows = await new SourceReader(marina.Model, connection).ReadAsync(
            boats.Panel.Table,
            new RowRequest
            {
                Filter = new Filter.Fulfils(new AskedRule(rule!, asking)),
                Order = [new OrderBy("BOAT_NO", Descending: false)],
                Columns = ["BOAT_NO"],
            },
            Token
        );
        return rows.Select(row => row[0]);
    }

    private async Task<ListPage> ListAsync(string panel, ListRequest request)
    {
        var store = marina.Open(panel);
        var plan = store.Plan(request);
        Assert.Empty(plan.Dropped);
        return await new ListStore(store).ListAsync(plan, Token);
    }

    /// <summary>A small register without foreign keys, surveyed and drafted.</summary>
    public sealed class Marina : IAsyncLifetime
    {
        private readonly TestDatabase _database = new();
        private RecordModel _model = null!;
        private PorchPanels _porch = null!;

        public async ValueTask InitializeAsync()
        {
            await _database.InitializeAsync();
            await _database.ExecuteAsync(
                """
                CREATE SCHEMA marina;
                SET search_path = marina;
                CREATE TABLE "OWNERS" ("OWNR_NO" integer NOT NULL UNIQUE, "SURNAME" varchar(40), "FIRST_NM" varchar(40));
                CREATE TABLE "CODES" ("CODE_TYPE" varchar(8), "CODE" varchar(4), "DESCR" varchar(40), PRIMARY KEY ("CODE_TYPE", "CODE"));
                CREATE TABLE "BOATS" ("BOAT_NO" integer PRIMARY KEY, "NAME" varchar(40), "OWNR_NO" integer, "RIG_CD" varchar(4));
                CREATE TABLE "BERTHS" ("BERTH_CD" varchar(6) PRIMARY KEY, "LEN_M" numeric(5,2));
                CREATE TABLE "METERS" ("METER_NO" integer PRIMARY KEY, "BERTH_CD" varchar(6), "FITTED_ON" date);
                CREATE TABLE "READINGS" ("READ_NO" integer PRIMARY KEY, "METER_NO" varchar(6), "TAKEN_ON" date, "VALUE" integer);
                CREATE TABLE "FLAGS" ("FLAG_CD" varchar(6) PRIMARY KEY, "COUNTRY_NAME" varchar(40));
                CREATE TABLE "VISITS" ("VISIT_NO" integer PRIMARY KEY, "FLAG_CD" varchar(8), "NIGHTS" integer);
                INSERT INTO "FLAGS" SELECT 'FL' || n, 'Country ' || n FROM generate_series(1, 9) n;
                INSERT INTO "VISITS" SELECT n, CASE WHEN n % 2 = 0 THEN 'fl' || 1 + n % 9 || ' ' ELSE 'FL' || 1 + n % 9 END, n FROM generate_series(1, 60) n;
                CREATE TABLE "KIT" ("KIT_NO" integer PRIMARY KEY, "DESCR" varchar(40));
                CREATE TABLE "BoatKit" ("BoatNo" integer, "KitNo" integer, PRIMARY KEY ("BoatNo", "KitNo"));
                INSERT INTO "OWNERS" SELECT n, CASE WHEN n % 2 = 1 THEN 'BROOK' ELSE 'REED' END, 'Eva ' || n FROM generate_series(1, 60) n;
                INSERT INTO "CODES" VALUES ('RIG', 'SLO', 'Sloop'), ('RIG', 'KET', 'Ketch'), ('PAY', 'CSH', 'Cash'), ('PAY', 'CRD', 'Card'), ('PAY', 'SLO', 'Slowly');
                INSERT INTO "BOATS" SELECT n, 'Boat ' || n, 1 + (n - 1) % 40, CASE WHEN n % 2 = 0 THEN 'KET' ELSE 'SLO' END FROM generate_series(1, 80) n;
                INSERT INTO "BOATS" VALUES (81, 'Orphan', 999, NULL);
                INSERT INTO "BERTHS" SELECT 'A-' || lpad(n::text, 2, '0'), 10 FROM generate_series(1, 20) n;
                INSERT INTO "METERS" SELECT 100 + n, 'A-' || lpad(n::text, 2, '0'), date '2020-01-01' + n - 1 FROM generate_series(1, 20) n;
                INSERT INTO "READINGS" SELECT n, lpad((100 + n)::text, 6, '0'), date '2024-05-01' + n - 1, n * 10 FROM generate_series(1, 20) n;
                INSERT INTO "KIT" SELECT n, 'Flare ' || n FROM generate_series(1, 10) n;
                INSERT INTO "BoatKit" SELECT n, 1 + n % 10 FROM generate_series(1, 80) n;
                """
            );
            var snapshot = await _database.ReadSchemaAsync("marina");
            var report = await SurveyRun.RunAsync(_database.Source, snapshot, report: null, CancellationToken.None);
            var drafted = PorchDraft.Make(
                report.Findings(snapshot, new Vocabulary(snapshot.Tables)),
                snapshot.Tables.Select(table => table.Name).ToHashSet(),
                []
            );
            _model = RecordModel.Of(snapshot);
            _porch = new PorchPanels(snapshot, [.. drafted.Select(draft => draft.Panel)]);
        }

        public ValueTask DisposeAsync() => _database.DisposeAsync();

        public SeenPanel Open(string panel) => With(_porch.Find(panel)!);

        internal RecordModel Model => _model;

        internal NpgsqlDataSource Source => _database.Source;

        internal SeenPanel WithLookup(string panel, string column, Func<Lookup, Lookup> change)
        {
            var definition = _porch.Find(panel)!;
            return With(
                definition with
                {
                    Columns =
                    [
                        .. definition.Columns.Select(known =>
                            known.Name == column ? known with { Lookup = change(known.Lookup!) } : known
                        ),
                    ],
                }
            );
        }

        public SeenPanel With(PanelDefinition panel) =>
            new(_model, _database.Source, _porch.Bind(panel, sourceIsReadOnly: false)!, _porch);
    }
}
