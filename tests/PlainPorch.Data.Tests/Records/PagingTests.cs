using System.Globalization;
using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;

namespace PlainPorch.Data.Tests.Records;

/// <summary>
/// Whatever the table, the filter and the order: walking the pages gives what sorting and filtering in memory gives.
/// </summary>
public sealed class PagingTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static readonly string?[] _texts = [null, "", "a", "B", "b", "C-2", "C-10", "c-02", "é"];
    private static readonly string[] _columns = ["number", "word", "day", "state", "id", "always"];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Walk_AnyTableFilterAndOrder_GivesEachRecordOnceInOrder()
    {
        await database.ExecuteAsync(
            """
            CREATE TYPE zoo.walk_state AS ENUM ('new', 'old', 'gone');
            CREATE TABLE zoo.walk (id int PRIMARY KEY, number int, word text, day date, state zoo.walk_state, always bool NOT NULL)
            """
        );
        var store = await database.OpenAsync("zoo", "walk", panel =>
            panel with
            {
                Columns =
                [
                    .. panel.Columns.Select(column =>
                        column with
                        {
                            InList = true,
                            Searched = column.Name == "word",
                            Narrows = true,
                        }
                    ),
                ],
            }
        );
        var row = Gen.Select(Gen.Int[0, 3], Gen.Int[0, _texts.Length - 1], Gen.Int[0, 3], Gen.Int[0, 3], Gen.Bool);
        var part = Gen.Select(Gen.OneOfConst(_columns), Gen.Bool, Gen.Bool, Gen.Bool, (column, descending, emptyFirst, natural) =>
            new OrderBy(column, descending, emptyFirst, natural && column == "word")
        );
        var filter = Gen.OneOfConst<ListRequest>(
            new(),
            new("b"),
            new("-b"),
            new("number > 1"),
            new("word: empty"),
            new("-word: empty"),
            new("number: 1..2"),
            new(In: ["word", "word:a"]),
            new(In: ["state:new", "state:old", "number"]),
            new(Where: """{"not":{"column":"number","is":"less","values":["2"]}}""")
        );
        Gen.Select(row.Array[0, 40], part.Array[0, 3], filter, Gen.Int[1, 7])
            .Sample(
                (rows, order, request, size) => CheckAsync(store, rows, order, request, size).GetAwaiter().GetResult(),
                iter: 60,
                threads: 1
            );
    }

    [Fact]
    public async Task Walk_RowsAddedAndRemovedMeanwhile_NeitherRepeatsNorSkips()
    {
        await database.ExecuteAsync(
            "CREATE TABLE zoo.moving (id int PRIMARY KEY, word text); INSERT INTO zoo.moving SELECT n, 'w' || n % 3 FROM generate_series(1, 100) n"
        );
        var store = await database.OpenAsync("zoo", "moving");
        var plan = store.Plan(new ListRequest(Sort: ["word"])) with { Size = 10 };
        var seen = new List<string>();
        for (
            var page = await new ListStore(store).ListAsync(plan, Token);
            ;
            page = await new ListStore(store).ListAsync(plan, Token)
        )
        {
            seen.AddRange(page.Rows.Select(shown => shown.Key!));
            if (page.Next is not { } next || !page.HasNext)
                break;
            // Somebody adds a row before this page and removes the one that it ended with.
            await database.ExecuteAsync(
                $"INSERT INTO zoo.moving VALUES ({1000 + seen.Count}, 'a'); DELETE FROM zoo.moving WHERE id = {seen[^1]}"
            );
            plan = plan with { Mark = PageMark.Read(next, plan.WithBorrowed(store.Panel.Table), plan.Order) };
        }

        Assert.Equal(Enumerable.Range(1, 100).OrderBy(n => n % 3).ThenBy(n => n).Select(n => $"{n}"), seen);
    }

    [Fact]
    public async Task ListAsync_SameShapeAgain_TranslatesNothingAnew()
    {
        var store = await database.OpenAsync("zoo", "legacy");
        foreach (var word in (string[])["title", "13", "x", "title"])
            await new ListStore(store).ListAsync(store.Plan(new ListRequest(word)), Token);
        using var commands = new CommandCount();
        var page = await new ListStore(store).ListAsync(store.Plan(new ListRequest("title 13")), Token, withCount: false);
        Assert.Equal((1, 3), (commands.Count, page.Rows.Count));
    }

    private async Task CheckAsync(
        SeenPanel store,
        (int Number, int Word, int Day, int State, bool Always)[] drawn,
        OrderBy[] asked,
        ListRequest request,
        int size
    )
    {
        var rows = drawn
            .Select(
                (row, i) =>
                    new Known(
                        i,
                        row.Number == 0 ? null : row.Number,
                        _texts[row.Word],
                        row.Day == 0 ? null : new DateOnly(2019, 1, row.Day),
                        row.State == 0 ? null : row.State - 1,
                        row.Always
                    )
            )
            .ToList();
        await FillAsync(rows);
        var plan = store.Plan(request with { Sort = [.. asked.Select(part => part.ToString())] }) with { Size = size };
        Assert.Empty(plan.Dropped);
        var expected = Sort(rows.Where(row => Fits(row, request)), plan.Order).Select(row => $"{row.Id}").ToList();

        var forward = await WalkAsync(store, plan, page => page.HasNext ? page.Next : null);
        Assert.Equal(expected, forward.SelectMany(page => page));
        var backward = await WalkAsync(store, plan with { Mark = new PageMark(PageSide.Last, []) }, page =>
            page.HasPrevious ? page.Previous : null
        );
        backward.Reverse();
        Assert.Equal(expected, backward.SelectMany(page => page));
        Assert.Equal(forward.Select(page => page.Count), backward.Select(page => page.Count));
        for (var page = 1; page <= forward.Count + 1; page++)
        {
            var jumped = await new ListStore(store).ListAsync(plan with { Page = page }, Token);
            Assert.Equal(expected.Skip((page - 1) * size).Take(size), jumped.Rows.Select(row => row.Key));
            Assert.Equal((expected.Count > page * size, page > 1), (jumped.HasNext, jumped.HasPrevious));
            Assert.Equal(new RowCount(expected.Count, CountCertainty.Exact), jumped.Count);
        }

        await CheckAroundAsync(store, plan, expected, [.. Sort(rows, plan.Order).Select(row => $"{row.Id}")]);
    }

    // Also around a record that the list leaves out, where it would stand.
    private static async Task CheckAroundAsync(SeenPanel store, ListPlan plan, List<string> listed, List<string> all)
    {
        foreach (var place in new[] { 0, 1, all.Count / 2, all.Count - 1 }.Where(place => place >= 0 && place < all.Count))
        {
            var before = all.Take(place).Where(listed.Contains).ToList();
            var after = all.Skip(place + 1).Where(listed.Contains).ToList();
            Assert.Equal(
                new ListPlace(
                    listed.FirstOrDefault(),
                    before.LastOrDefault(),
                    after.FirstOrDefault(),
                    listed.LastOrDefault(),
                    before.Count,
                    false,
                    listed.Contains(all[place])
                ),
                await new ListStore(store).AroundAsync(plan, all[place], Token)
            );
        }

        Assert.Null(await new ListStore(store).AroundAsync(plan, "100000", Token));
    }

    private static async Task<List<List<string>>> WalkAsync(SeenPanel store, ListPlan plan, Func<ListPage, string?> next)
    {
        var pages = new List<List<string>>();
        while (true)
        {
            var page = await new ListStore(store).ListAsync(plan, Token, withCount: false);
            if (page.Rows.Count > 0)
                pages.Add([.. page.Rows.Select(row => row.Key!)]);
            if (next(page) is not { } mark)
                return pages;
            plan = plan with { Mark = PageMark.Read(mark, plan.WithBorrowed(store.Panel.Table), plan.Order) };
            Assert.NotNull(plan.Mark);
        }
    }

    private async Task FillAsync(List<Known> rows)
    {
        await database.ExecuteAsync("TRUNCATE zoo.walk");
        await using var connection = await database.Source.OpenConnectionAsync(Token);
        await using var copy = await connection.BeginBinaryImportAsync(
            "COPY zoo.walk (id, number, word, day, state, always) FROM STDIN (FORMAT binary)",
            Token
        );
        foreach (var row in rows)
            await copy.WriteRowAsync(
                Token,
                row.Id,
                row.Number ?? (object)DBNull.Value,
                row.Word ?? (object)DBNull.Value,
                row.Day ?? (object)DBNull.Value,
                row.State is { } state ? Encode(state) : DBNull.Value,
                row.Always
            );
        await copy.CompleteAsync(Token);

        static string Encode(int state) => ((string[])["new", "old", "gone"])[state];
    }

    private static bool Fits(Known row, ListRequest request)
    {
        var hasB = row.Word?.Contains('b', StringComparison.OrdinalIgnoreCase) is true;
        return request switch
        {
            { Search: "b" } => hasB,
            { Search: "-b" } => !hasB,
            { Search: "number > 1" } => row.Number > 1,
            { Search: "word: empty" } => string.IsNullOrEmpty(row.Word),
            { Search: "-word: empty" } => !string.IsNullOrEmpty(row.Word),
            { Search: "number: 1..2" } => row.Number is 1 or 2,
            { In: [_, "word:a"] } => string.IsNullOrEmpty(row.Word) || row.Word == "a",
            { In: { Count: 3 } } => row.State is 0 or 1 && row.Number is null,
            { Where: not null } => !(row.Number < 2),
            _ => true,
        };
    }

    private static List<Known> Sort(IEnumerable<Known> rows, IReadOnlyList<OrderBy> order)
    {
        var sorted = rows.ToList();
        sorted.Sort((one, other) => order.Select(part => Compare(one, other, part)).FirstOrDefault(result => result != 0));
        return sorted;
    }

    private static int Compare(Known one, Known other, OrderBy part)
    {
        var (a, b) = (Value(one, part), Value(other, part));
        if (a is null || b is null)
            return (a is null ? 1 : 0).CompareTo(b is null ? 1 : 0) * (part.EmptyFirst ? -1 : 1);
        var result = a is string left ? string.CompareOrdinal(left, (string)b) : a.CompareTo(b);
        return part.Descending ? -result : result;
    }

    private static IComparable? Value(Known row, OrderBy part) =>
        part.Column switch
        {
            "number" => row.Number,
            "word" when part.Natural => row.Word is null
                ? null
                : string.Concat(
                    row.Word.ToLowerInvariant()
                        .Split('-')
                        .Select(
                            (piece, i) =>
                                i == 0
                                    ? piece
                                    : "-"
                                        + int.Parse(piece, CultureInfo.InvariantCulture)
                                            .ToString("D12", CultureInfo.InvariantCulture)
                        )
                ),
            "word" => row.Word,
            "day" => row.Day,
            "state" => row.State,
            "always" => row.Always,
            _ => row.Id,
        };

    private sealed record Known(int Id, int? Number, string? Word, DateOnly? Day, int? State, bool Always);
}
