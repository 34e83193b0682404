using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

/// <summary>A list sorted by a lookup comes in the order of the titles that people see there.</summary>
public sealed class TitleOrderTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private const int Size = 7;

    private static readonly string?[] _surnames = ["Abel", "Brook", "brook", "Cole", null, "Dene"];
    private static readonly string?[] _firsts = ["Ann", null, "Eva", "Tom"];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    // Small tables are sorted; of large ones the records referred to are gone through in their order.
    [Theory]
    [InlineData(null, "owner")]
    [InlineData(null, "-owner")]
    [InlineData(5_000_000L, "owner")]
    [InlineData(5_000_000L, "-owner")]
    [InlineData(5_000_000L, "owner:emptyfirst")]
    [InlineData(5_000_000L, "owner", "-built")]
    [InlineData(null, "-built", "owner")]
    public async Task Walk_ByAnOwner_FollowsTheNames_BothWays(long? looksAsLargeAs, params string[] sort)
    {
        var boats = await OpenAsync(looksAsLargeAs);
        var plan = boats.Plan(new ListRequest(Sort: sort)) with { Size = Size };
        Assert.Empty(plan.Dropped);
        var expected = await ExpectedAsync(sort);
        Assert.Equal(expected, (await WalkAsync(boats, plan, page => page.HasNext ? page.Next : null)).SelectMany(page => page));
        var backward = await WalkAsync(boats, plan with { Mark = new PageMark(PageSide.Last, []) }, page =>
            page.HasPrevious ? page.Previous : null
        );
        Assert.Equal(expected, backward.AsEnumerable().Reverse().SelectMany(page => page));
        // A page that is jumped to, and a list of few records.
        Assert.Equal(
            expected.Skip(2 * Size).Take(Size),
            (await PageAsync(boats, plan with { Page = 3 })).Rows.Select(row => row.Key!)
        );
        var few = boats.Plan(new ListRequest("boat 17", sort));
        Assert.Equal(
            expected.Where(key => key.Contains("17", StringComparison.Ordinal)),
            (await PageAsync(boats, few)).Rows.Select(row => row.Key!)
        );
    }

    [Theory]
    [InlineData(null)]
    [InlineData(5_000_000L)]
    public async Task Order_OfALookupThatNowMeansAnotherList_FollowsThatOne(long? looksAsLargeAs)
    {
        var boats = await OpenAsync(looksAsLargeAs);
        await database.ExecuteAsync(
            """
            CREATE TABLE marina.codes (list text, no int, surname text, PRIMARY KEY (list, no));
            INSERT INTO marina.codes SELECT 'up', n, to_char(n, '000') FROM generate_series(1, 80) n UNION ALL SELECT 'down', n, to_char(100 - n, '000') FROM generate_series(1, 80) n
            """
        );
        var codes = (await database.ReadSchemaAsync("marina")).Find(new TableName("marina", "codes"))!;
        var snapshot = boats.Porch.Snapshot with { Tables = [.. boats.Porch.Snapshot.Tables, codes] };
        var model = RecordModel.Of(snapshot);
        Assert.True(await FirstAsync("up") < await FirstAsync("down"));

        async Task<int> FirstAsync(string list)
        {
            var lookup = new Lookup
            {
                Table = codes.Name,
                Key = "no",
                Where = new Discriminator("list", list),
                Title = "{surname}",
            };
            var panel = boats.Panel.Definition with
            {
                Columns =
                [
                    .. boats.Panel.Definition.Columns.Select(column =>
                        column.Name == "owner" ? column with { Lookup = lookup } : column
                    ),
                ],
            };
            var porch = new PorchPanels(snapshot, [panel]);
            var seen = new SeenPanel(model, database.Source, porch.Bind(panel, sourceIsReadOnly: false)!, porch);
            var page = await PageAsync(seen, seen.Plan(new ListRequest(Sort: ["owner"])));
            return int.Parse(page.Rows[0].Values[page.Columns.ToList().IndexOf("owner")]!, CultureInfo.InvariantCulture);
        }
    }

    [Fact]
    public async Task Advice_ForAnOrderByTitles_IsAnIndexThatBeginsWithTheReference()
    {
        var boats = await OpenAsync(5_000_000);
        var advised = Assert.Single(
            (await new ListStore(boats).ExplainAsync(boats.Plan(new ListRequest(Sort: ["owner"])), Token)).Advice
        );
        Assert.Contains("(owner, no)", advised.Sql.Replace("\"", "", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    private async Task<SeenPanel> OpenAsync(long? looksAsLargeAs)
    {
        await database.ExecuteAsync(
            $"""
            CREATE SCHEMA IF NOT EXISTS marina;
            DROP TABLE IF EXISTS marina.boats, marina.owners, marina.codes;
            CREATE TABLE marina.owners (no int PRIMARY KEY, surname text, first text);
            CREATE TABLE marina.boats (no int PRIMARY KEY, name text, owner int, built int);
            {string.Concat(
                Owners().Select(owner =>
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"INSERT INTO marina.owners VALUES ({owner.No}, {Text(owner.Surname)}, {Text(owner.First)});"
                    )
                )
            )}
            INSERT INTO marina.boats SELECT n, 'boat ' || n, CASE WHEN n % 11 = 0 THEN NULL WHEN n % 13 = 0 THEN 900 + n % 3 ELSE 1 + n * 7 % 80 END, CASE WHEN n % 9 > 0 THEN 1990 + n % 5 END FROM generate_series(1, 300) n;
            ANALYZE
            """
        );
        var read = await database.ReadSchemaAsync("marina");
        var snapshot = read with
        {
            Tables = [.. read.Tables.Select(table => table with { EstimatedRows = looksAsLargeAs ?? table.EstimatedRows })],
        };
        PanelDefinition Draft(string table) =>
            PanelDraft.Make(snapshot.Find(new TableName("marina", table))!, TableSample.Empty, new HashSet<string>());
        var owners = Draft("owners") with { Title = "{surname}, {first}" };
        var lookup = new Lookup { Table = owners.Table, Key = "no" };
        var boats = Draft("boats");
        boats = boats with
        {
            Columns =
            [
                .. boats.Columns.Select(column =>
                    column with
                    {
                        InList = true,
                        Searched = column.Name == "name",
                        Lookup = column.Name == "owner" ? lookup : null,
                    }
                ),
            ],
        };
        var porch = new PorchPanels(snapshot, [boats, owners]);
        return new SeenPanel(RecordModel.Of(snapshot), database.Source, porch.Bind(boats, sourceIsReadOnly: false)!, porch);

        static string Text(string? value) => value is null ? "NULL" : $"'{value}'";
    }

    private static IEnumerable<(int No, string? Surname, string? First)> Owners() =>
        Enumerable.Range(1, 80).Select(no => (no, _surnames[no * 5 % _surnames.Length], _firsts[no * 3 % _firsts.Length]));

    private async Task<List<string>> ExpectedAsync(string[] sort)
    {
        var owners = Owners().ToDictionary(owner => owner.No);
        var boats = new List<(int No, int? Owner, int? Built)>();
        await using var command = database.Source.CreateCommand("SELECT no, owner, built FROM marina.boats");
        await using var reader = await command.ExecuteReaderAsync(Token);
        while (await reader.ReadAsync(Token))
            boats.Add(
                (
                    reader.GetInt32(0),
                    reader.IsDBNull(1) ? null : reader.GetInt32(1),
                    reader.IsDBNull(2) ? null : reader.GetInt32(2)
                )
            );
        var ordered = boats.OrderBy(_ => 0);
        foreach (var part in sort)
        {
            var (descending, emptyFirst) = (part[0] == '-', part.EndsWith(":emptyfirst", StringComparison.Ordinal));
            // A name that ends early comes before one that goes on.
            foreach (
                var (value, emptyComesFirst) in part.Contains("owner", StringComparison.Ordinal)
                    ? new (Func<(int No, int? Owner, int? Built), IComparable?>, bool)[]
                    {
                        (boat => OwnerOf(boat)?.Surname, emptyFirst),
                        (boat => OwnerOf(boat)?.First, !descending),
                        (boat => boat.Owner, emptyFirst),
                    }
                    : [(boat => boat.Built, emptyFirst)]
            )
            {
                ordered = ordered.ThenBy(boat => value(boat) is null != emptyComesFirst);
                var order = Comparer<IComparable?>.Create(
                    (one, other) =>
                        one is string text
                            ? string.CompareOrdinal(text, (string?)other)
                            : Comparer<IComparable>.Default.Compare(one, other)
                );
                ordered = descending ? ordered.ThenByDescending(value, order) : ordered.ThenBy(value, order);
            }
        }

        var keyDescends = sort[^1][0] == '-';
        return
        [
            .. (keyDescends ? ordered.ThenByDescending(boat => boat.No) : ordered.ThenBy(boat => boat.No)).Select(boat =>
                boat.No.ToString(CultureInfo.InvariantCulture)
            ),
        ];

        (int No, string? Surname, string? First)? OwnerOf((int No, int? Owner, int? Built) boat) =>
            boat.Owner is { } no && owners.TryGetValue(no, out var owner) ? owner : null;
    }

    private static Task<ListPage> PageAsync(SeenPanel boats, ListPlan plan) =>
        new ListStore(boats).ListAsync(plan, Token, withCount: false);

    private static async Task<List<List<string>>> WalkAsync(SeenPanel boats, ListPlan plan, Func<ListPage, string?> next)
    {
        var pages = new List<List<string>>();
        while (pages.Count < 100)
        {
            var page = await PageAsync(boats, plan);
            pages.Add([.. page.Rows.Select(row => row.Key!)]);
            if (next(page) is not { } mark)
                return pages;
            plan = plan with { Mark = PageMark.Read(mark, plan.WithBorrowed(boats.Panel.Table), plan.Order) };
            Assert.NotNull(plan.Mark);
        }

        return pages;
    }
}
