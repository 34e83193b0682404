using System.Globalization;
using CsCheck;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class LikelyChecksTests
{
    [Fact]
    public void Dates_WhoseNamesArePairs_AreInOrder_WithTheirExceptions() =>
        Assert.Equal(
            ["inOrder arrived, departed: 1 of 60"],
            Found("trip", "id int, arrived date, departed date", n => [Text(n), Day(n), n == 7 ? Day(n - 3) : Day(n + 2)])
        );

    [Fact]
    public void Dates_KeptAsText_AreInOrderByWhatTheyMean() =>
        Assert.Equal(
            ["inOrder arr_dt, dep_dt: 0 of 60"],
            Found("trip", "id int, arr_dt text, dep_dt text", n => [Text(n), Dotted(n), Dotted(n + 40)])
        );

    [Fact]
    public void Dates_OfOtherNames_AreInOrder_WhereTheyDiffer_AndWhatFollowsIsNotSaid() =>
        Assert.Equal(
            ["inOrder born, baptized: 0 of 60", "inOrder baptized, married: 0 of 60"],
            Found("person", "id int, born date, baptized date, married date, seen_on date", n =>
                [Text(n), Day(n), Day(n + 20), Day(n + 45), Day((n * 7919 % 40) + 500)]
            )
        );

    [Fact]
    public void Numbers_OfOneUnit_OrWithNamesOfBounds_AreInOrder_OthersAreNot() =>
        Assert.Equal(
            ["inOrder min_stock, max_stock: 0 of 60", "inOrder draft_m, length_m: 0 of 60"],
            Found("thing", "id int, draft_m money, length_m money, min_stock int, max_stock int, pages int", n =>
                [Text(n), Money(1 + (n * 0.01m)), Money(5 + n), Text(n), Text(n + (n % 3)), Text(100 + n)]
            )
        );

    [Fact]
    public void Amounts_AreWhatTheyAreComputedOf_RoundedToTheirDigits()
    {
        Assert.Equal(
            ["product total, quantity, price: 2 of 59"],
            Found("line", "id int, quantity money, price money, total money", n =>
                [Text(n), Money(n * 0.25m), Money(3 + (n % 7)), n is 9 or 10 ? Money(1) : Money(n * 0.25m * (3 + (n % 7)))]
            )
        );
        Assert.Equal(
            ["sum gross, net, tax: 0 of 60"],
            Found("bill", "id int, net money, tax money, gross money", n =>
                [Text(n), Money(n), Money(n % 5 + 1), Money(n + (n % 5) + 1)]
            )
        );
        Assert.Equal(
            ["inOrder from_day, to_day: 0 of 60", "days charge, from_day, to_day, rate: 0 of 40"],
            Found("rental", "id int, from_day date, to_day date, rate money, charge money", n =>
                [Text(n), Day(n), Day(n + (n % 6)), Money(2 + (n % 4)), Money(n % 6 * (2 + (n % 4)))]
            )
        );
    }

    [Fact]
    public void References_Keys_AndCodes_AreNoMeasures() =>
        Assert.Empty(
            Found("seat", "id int, row_no int, pos_no int, seat_no int", n => [Text(n), Text(n), Text(n + 1), Text(n * (n + 1))])
        );

    // What holds by chance in few rows, or in none but a few, is not proposed.
    [Fact]
    public void WhatManyRowsBreak_OrFewSay_IsNotProposed()
    {
        Assert.Empty(
            Found("trip", "id int, arrived date, departed date", n => [Text(n), Day(n), Day(n + (n % 4 == 0 ? -2 : 2))])
        );
        Assert.Empty(Found("trip", "id int, arrived date, departed date", n => [Text(n), Day(n), n < 15 ? Day(n + 2) : null]));
    }

    [Fact]
    public void OneOpenAtATime_IsProposed_WhereReferencesSayOfWhat()
    {
        var rows = new MakeRows()
            .Table("room", "id int, name text", MakeRows.Count(60, n => [Text(n), "Room " + n]))
            .Table(
                "loan",
                "id int, room_id int, start_day date, end_day date",
                MakeRows.Count(120, n => [Text(n), Text(((n - 1) % 60) + 1), Day(n), n > 100 ? null : Day(n + 3)])
            );
        Assert.Equal(
            [
                "inOrder start_day, end_day: 0 of 100",
                "oneOpen end_day, room_id: 0 of 20",
                "apart start_day, end_day, room_id: 0 of 100",
            ],
            Found(new MakeRows(rows, ("loan", "room_id", "room")))
        );
    }

    // Whatever the rows are: what is proposed is kept to by nearly all, and its exceptions are told.
    [Fact]
    public void Proposals_TellExactlyHowManyRowsBreakThem() =>
        Gen.Select(Gen.Int[0, 30], Gen.Int[0, 30])
            .Array[25, 80]
            .Sample(
                pairs =>
                {
                    var found = Checks(
                        new MakeRows().Table(
                            "trip",
                            "id int, arrived date, departed date",
                            pairs.Select((pair, n) => new string?[] { Text(n), Day(pair.Item1), Day(pair.Item2) })
                        )
                    );
                    var broken = pairs.Count(pair => pair.Item1 > pair.Item2);
                    Assert.Equal(broken <= 0.05 * pairs.Length, found.Any(check => check.Columns[0] == "arrived"));
                    Assert.All(found.Where(check => check.Columns[0] == "arrived"), check => Assert.Equal(broken, check.Broken));
                },
                iter: 200
            );

    private static List<string> Found(string table, string columns, Func<int, string?[]> row) =>
        Found(new MakeRows().Table(table, columns, MakeRows.Count(60, row)));

    private static List<string> Found(MakeRows rows) =>
        [
            .. Checks(rows)
                .Select(check =>
                    $"{FindingList.ValueOf(check)} {string.Join(", ", check.Columns)}: {check.Broken} of {check.Rows}"
                ),
        ];

    private static IReadOnlyList<SurveyedCheck> Checks(MakeRows rows) =>
        LikelyChecks.Find(rows.Rows, SurveyReport.Make(rows.Snapshot, rows.Rows, rows.Find()));

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Money(decimal amount) =>
        Math.Round(amount, 2, MidpointRounding.AwayFromZero).ToString("0.00", CultureInfo.InvariantCulture);

    private static string Day(int number) => new DateOnly(2020, 1, 1).AddDays(number).ToString("O", CultureInfo.InvariantCulture);

    private static string Dotted(int number) =>
        new DateOnly(2020, 1, 1).AddDays(number * 9).ToString("dd.MM.yyyy", CultureInfo.InvariantCulture);
}
