using System.Globalization;
using Npgsql;
using NpgsqlTypes;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Tests.Definition.Readings;
using PlainPorch.Core.Values;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

/// <summary>
/// What a list asks of a column that is read otherwise than it is stored comes out as if all its rows were read into memory first.
/// </summary>
public sealed class ReadingTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private const int Rows = 500;
    private const int Size = 25;

    private static readonly Comparison[] _comparisons = Enum.GetValues<Comparison>();

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    // Those whose SQL is another's are left to the tests without a database.
    private static readonly string[] _likeOthers =
    [
        "month",
        "day in a numeric",
        "moment with signs",
        "time, a number",
        "yes, a numeric",
        "zeros",
        "seconds long",
        "words of numbers",
        "e-mail",
    ];

    public static TheoryData<string> Kinds => [.. ReadingSamples.All.Keys.Except(_likeOthers)];

    // One after the other over one table: to make it, and what is known of it, takes longer than to ask.
    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task List_AsksTheDatabaseForWhatReadingAllRowsFinds(string kind)
    {
        var (seen, rows) = await OpenAsync(kind);
        await ConditionsAsync(seen, rows);
        if (seen.Panel.Find("v")!.Type.IsOrderable)
            await OrderAsync(seen, rows);
        await CountsAsync(seen, rows);
    }

    private static async Task ConditionsAsync(SeenPanel seen, List<(int Id, string? Stored)> rows)
    {
        var column = seen.Panel.Find("v")!;
        var random = new Random(7);
        var asked = rows.Select(row => column.Read(row.Stored))
            .Where(read => read.Sort is ReadSort.Value)
            .Select(read => read.Text!)
            .Distinct()
            .Take(3)
            .Concat(Enumerable.Range(0, 3).Select(_ => ReadingSamples.Value(column.Reading!, column.Schema.Type, random)))
            // Of several values, one is asked for.
            .SelectMany(value => column.Type.Kind is ValueKind.Several ? ValueText.ItemsOf(value)!.OfType<string>() : [value])
            .Distinct()
            .ToList();
        foreach (var value in asked)
        {
            if (column.Type.Kind is ValueKind.Binary)
                break;
            foreach (
                var how in column.Type.Kind is ValueKind.Boolean or ValueKind.Text or ValueKind.Several
                    ? [Comparison.Equal]
                    : _comparisons
            )
                await AssertSameAsync(
                    seen,
                    rows,
                    column.Compared(how, value),
                    read => read.Sort is ReadSort.Value && Holds(column, read.Text!, how, value),
                    $"{how} {value}"
                );
            await AssertSameAsync(
                seen,
                rows,
                column.Equal(value),
                read => read.Sort is ReadSort.Value && Holds(column, read.Text!, Comparison.Equal, value),
                $"is {value}"
            );
            await AssertSameAsync(
                seen,
                rows,
                new Filter.Not(column.OneOf([value, asked[0]])),
                read =>
                    read.Sort is not ReadSort.Value
                    || !(
                        Holds(column, read.Text!, Comparison.Equal, value)
                        || Holds(column, read.Text!, Comparison.Equal, asked[0])
                    ),
                $"neither {value} nor {asked[0]}"
            );
        }

        if (column.Reading is Base64Reading { Holds: Base64Holds.Text })
            await AssertSameAsync(
                seen,
                rows,
                new FieldFilter(null, seen.Porch.Notation).Holds(column, "\\")!,
                read => read.Sort is ReadSort.Value && read.Text!.Contains('\\', StringComparison.Ordinal),
                "has a backslash"
            );
        await AssertSameAsync(seen, rows, column.Empty(), read => read.Sort is ReadSort.Empty, "empty");
        await AssertSameAsync(seen, rows, new Filter.Not(column.Empty()), read => read.Sort is not ReadSort.Empty, "filled");
        await AssertSameAsync(
            seen,
            rows,
            ReadFilter.Misfit(column.Schema, column.Reading!),
            read => read.Sort is ReadSort.Misfit,
            "unfit"
        );
    }

    private static async Task OrderAsync(SeenPanel seen, List<(int Id, string? Stored)> rows)
    {
        var column = seen.Panel.Find("v")!;
        foreach (var sort in new[] { "-v", "v:emptyfirst" })
        {
            var plan = seen.Plan(new ListRequest(Sort: [sort])) with { Size = Size };
            Assert.Empty(plan.Dropped);
            var (descending, emptyFirst) = (sort[0] == '-', sort.EndsWith("first", StringComparison.Ordinal));
            bool HasNoPlace((int Id, string? Stored) row) =>
                column.Reading!.LeavesValues ? row.Stored is null : column.Read(row.Stored).Sort is not ReadSort.Value;
            var ordered = rows.OrderBy(row => HasNoPlace(row) != emptyFirst);
            var byValue = Comparer<(int Id, string? Stored)>.Create((one, other) => Compare(column, one, other));
            ordered = descending ? ordered.ThenByDescending(row => row, byValue) : ordered.ThenBy(row => row, byValue);
            ordered = descending ? ordered.ThenByDescending(row => row.Id) : ordered.ThenBy(row => row.Id);
            var expected = ordered.Select(row => row.Id).ToList();
            Assert.Equal(expected, await WalkAsync(seen, plan, forward: true));
            var backward = await WalkAsync(seen, plan with { Mark = new PageMark(PageSide.Last, []) }, forward: false);
            Assert.Equal(expected.AsEnumerable().Reverse(), backward);
            var third = await new ListStore(seen).ListAsync(plan with { Page = 3 }, Token);
            Assert.Equal(
                expected.Skip(2 * Size).Take(Size),
                third.Rows.Select(row => int.Parse(row.Key!, CultureInfo.InvariantCulture))
            );

            int Compare(BoundColumn of, (int Id, string? Stored) one, (int Id, string? Stored) other) =>
                HasNoPlace(one) || HasNoPlace(other) ? 0
                : of.Reading!.LeavesValues ? string.CompareOrdinal(one.Stored, other.Stored)
                : CompareValues(of, of.Read(one.Stored).Text!, of.Read(other.Stored).Text!);
        }
    }

    private static async Task CountsAsync(SeenPanel seen, List<(int Id, string? Stored)> rows)
    {
        var column = seen.Panel.Find("v")!;
        if (!Narrowing.CanBeBy(column.Type))
            return;
        var lists = new ListStore(seen);
        var plan = seen.Plan(new ListRequest());
        var counted = await lists.CountValuesAsync(plan, column, null, Token);
        var reads = rows.Select(row => column.Read(row.Stored)).ToList();
        Assert.Equal(reads.Count(read => read.Sort is ReadSort.Misfit), counted.Unfit);
        if (!counted.HasMore && column.Type.Kind is not ValueKind.Several)
            Assert.Equal(
                rows.Count,
                counted.Values.Sum(value => value.Count) + counted.Ranges.Sum(range => range.Count) + counted.Unfit
            );
        foreach (var value in counted.Values)
            Assert.Equal(
                reads.Count(read =>
                    value.Value is null
                        ? read.Sort is ReadSort.Empty
                        : read.Sort is ReadSort.Value && Holds(column, read.Text!, Comparison.Equal, value.Value)
                ),
                value.Count
            );
        foreach (var range in counted.Ranges)
        {
            // What is counted is what the list shows when it is narrowed so.
            var narrowed = seen.Plan(new ListRequest(In: [$"v:{range.From}..{range.Until}"]));
            Assert.Empty(narrowed.Dropped);
            Assert.Equal(range.Count, (await lists.CountAsync(narrowed, Token, exactly: true)).Value);
        }

        var unfit = seen.Plan(new ListRequest { Unfit = ["v"] });
        Assert.Equal(counted.Unfit, (await lists.CountAsync(unfit, Token, exactly: true)).Value);
        if (column.Type.IsNumber)
        {
            var total = Assert.Single(await lists.TotalsAsync(plan, [column], Token));
            var numbers = reads
                .Where(read => read.Sort is ReadSort.Value)
                .Select(read => decimal.Parse(read.Text!, CultureInfo.InvariantCulture))
                .ToList();
            Assert.Equal(numbers.Count, total.Count);
            Assert.Equal(numbers.Sum(), decimal.Parse(total.Sum!, CultureInfo.InvariantCulture));
        }
    }

    [Fact]
    public async Task Rows_TellWhatIsRead_WhatDoesNotFit_AndOnRequestWhatIsStored()
    {
        var (seen, rows) = await OpenAsync("day");
        var column = seen.Panel.Find("v")!;
        var lists = new ListStore(seen);
        var byId = rows.ToDictionary(row => row.Id, row => row.Stored);
        var page = await lists.ListAsync(seen.Plan(new ListRequest(Size: 100)), Token);
        var stored = await lists.ListAsync(seen.Plan(new ListRequest(Size: 100) { IsStored = true }), Token);
        var place = page.Columns.ToList().IndexOf("v");
        foreach (var (row, raw) in page.Rows.Zip(stored.Rows))
        {
            var was = byId[int.Parse(row.Key!, CultureInfo.InvariantCulture)];
            var read = column.Read(was);
            Assert.Equal(read.Text, row.Values[place]);
            Assert.Equal(read.Sort is ReadSort.Misfit, row.Unfit?.Contains(place) == true);
            Assert.Equal(was, raw.Values[place]);
            Assert.Null(raw.Unfit);
        }
    }

    private static async Task<List<int>> WalkAsync(SeenPanel seen, ListPlan plan, bool forward)
    {
        var keys = new List<int>();
        for (var page = 0; page < Rows; page++)
        {
            var read = await new ListStore(seen).ListAsync(plan, Token, withCount: false);
            var ids = read.Rows.Select(row => int.Parse(row.Key!, CultureInfo.InvariantCulture));
            keys.AddRange(forward ? ids : ids.Reverse());
            if (!(forward ? read.HasNext : read.HasPrevious))
                break;
            var table = plan.WithBorrowed(seen.Panel.Table);
            plan = plan with { Mark = PageMark.Read((forward ? read.Next : read.Previous)!, table, plan.Order)! };
        }

        return keys;
    }

    private static async Task AssertSameAsync(
        SeenPanel seen,
        List<(int Id, string? Stored)> rows,
        Filter filter,
        Func<ReadValue, bool> holds,
        string what
    )
    {
        var column = seen.Panel.Find("v")!;
        var found = await new ListStore(seen).KeysAsync(seen.Plan(new ListRequest()).OfChosen(filter), Token);
        var expected = rows.Where(row => holds(column.Read(row.Stored))).Select(row => row.Id).Order().ToList();
        var actual = found.Keys.Select(key => int.Parse(key, CultureInfo.InvariantCulture)).Order().ToList();
        var wrong = expected.Except(actual).Concat(actual.Except(expected)).ToList();
        Assert.True(
            wrong.Count == 0,
            $"{what}: {string.Join(", ", rows.Where(row => wrong.Contains(row.Id)).Take(5).Select(row => $"“{row.Stored}” ({(expected.Contains(row.Id) ? "not found" : "found")})"))}"
        );
    }

    private static bool Holds(BoundColumn column, string value, Comparison how, string with)
    {
        if (column.Type.Kind is ValueKind.Several)
            return ValueText.ItemsOf(value)!.Contains(with);
        var compared = CompareValues(column, value, with);
        return how switch
        {
            Comparison.Less => compared < 0,
            Comparison.AtMost => compared <= 0,
            Comparison.More => compared > 0,
            Comparison.AtLeast => compared >= 0,
            _ => compared == 0,
        };
    }

    private static int CompareValues(BoundColumn column, string one, string other) =>
        column.Type.Kind switch
        {
            ValueKind.Enum => column
                .Type.EnumValues.ToList()
                .IndexOf(one)
                .CompareTo(column.Type.EnumValues.ToList().IndexOf(other)),
            ValueKind.Duration => Seconds(one).CompareTo(Seconds(other)),
            ValueKind.Instant => Moment(one).CompareTo(Moment(other)),
            ValueKind.Decimal => decimal.Parse(one, CultureInfo.InvariantCulture)
                .CompareTo(decimal.Parse(other, CultureInfo.InvariantCulture)),
            _ => string.CompareOrdinal(one, other),
        };

    private static long Seconds(string text) => DurationText.TryReadSeconds(text, out var seconds) ? seconds : long.MinValue;

    private static DateTimeOffset Moment(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture);

    private async Task<(SeenPanel Seen, List<(int Id, string? Stored)> Rows)> OpenAsync(string kind)
    {
        var (reading, type) = ReadingSamples.All[kind];
        var schema = $"r{Guid.NewGuid():N}";
        await database.ExecuteAsync(
            $"CREATE SCHEMA {schema}; CREATE TABLE {schema}.kept (id int PRIMARY KEY, v {type.StoreType}); CREATE INDEX ON {schema}.kept (v, id)"
        );
        var values = ReadingSamples.Stored(kind, new Random(11), Rows);
        await using (
            var insert = database.Source.CreateCommand(
                $"INSERT INTO {schema}.kept SELECT n, v::{type.StoreType} FROM unnest($1) WITH ORDINALITY AS all_values (v, n)"
            )
        )
        {
            insert.Parameters.Add(
                new NpgsqlParameter { Value = values.ToArray(), NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Text }
            );
            await insert.ExecuteNonQueryAsync(Token);
        }

        var rows = new List<(int, string?)>();
        await using (var select = database.Source.CreateCommand($"SELECT id, v::text FROM {schema}.kept ORDER BY id"))
        await using (var reader = await select.ExecuteReaderAsync(Token))
        {
            while (await reader.ReadAsync(Token))
                rows.Add((reader.GetInt32(0), reader.IsDBNull(1) ? null : reader.GetString(1)));
        }

        // Of its one table alone: a model of all tables takes longer than the test.
        var model = RecordModel.Of(await database.ReadSchemaAsync(schema));
        var drafted = PanelDraft.Make(model.Snapshot.Tables[0], TableSample.Empty, new HashSet<string>());
        var definition = drafted with
        {
            Columns =
            [
                .. drafted.Columns.Select(column =>
                    column.Name == "v" ? column with { Reading = reading, InList = true, Narrows = true } : column
                ),
            ],
        };
        var porch = new PorchPanels(model.Snapshot, [definition]);
        var seen = new SeenPanel(model, database.Source, porch.Bind(definition, sourceIsReadOnly: false)!, porch);
        Assert.NotNull(seen.Panel.Find("v")!.Reading);
        return (seen, rows);
    }
}
