using System.Globalization;

namespace PlainPorch.Demo.Register;

/// <summary>Pontoons, berths, who lay there, and the meters at the berths.</summary>
internal static class RegisterBerths
{
    private const int PontoonCount = 14;
    private const int BerthCount = 620;
    private const int StayCount = 45_000;
    private const int MeterCount = 900;
    private const int ReadingCount = 250_000;

    private static readonly string[] _readers = ["TB", "KL", "PW", "SG"];

    public static DemoTable Pontoons() =>
        new("register", "PONTOONS", ["PONT_CD", "DESCR", "SIDE_CD", "DEPTH_M", "SORT_NO"], PontoonRows());

    public static DemoTable Berths() =>
        new(
            "register",
            "BERTHS",
            ["BERTH_CD", "PONT_CD", "LEN_M", "POWER_YN", "WATER_YN", "DAY_RATE", "STAT_CD", "SORT_NO"],
            BerthRows()
        );

    public static DemoTable Stays(int scale) =>
        new(
            "register",
            "STAYS",
            ["STAY_NO", "BERTH_CD", "BOAT_NO", "ARR_DT", "DEP_DT", "NIGHTS", "AMT", "PAID", "PAY_CD", "NOTE"],
            StayRows(StayCount * scale, RegisterBoats.BoatCount * scale)
        );

    public static DemoTable Meters() => new("register", "METERS", ["METER_NO", "BERTH_CD", "KIND_CD", "FITTED_ON"], MeterRows());

    public static DemoTable Readings(int scale) =>
        new(
            "register",
            "READINGS",
            ["READ_NO", "METER_NO", "TAKEN_ON", "VALUE", "READER", "STATE"],
            ReadingRows(ReadingCount * scale)
        );

    private static string Berth(int index) => $"{(char)('A' + (index % PontoonCount))}-{(index / PontoonCount) + 1:00}";

    // The order column came with the last version of the old program, and nobody ever filled it in.
    private static IEnumerable<object?[]> PontoonRows()
    {
        var chance = new Chance("PONTOONS");
        for (var i = 0; i < PontoonCount; i++)
        {
            var code = ((char)('A' + i)).ToString();
            yield return [code, $"Pontoon {code}", chance.Pick(RegisterCodes.Sides), Math.Round(chance.Amount(1, 6), 1), 1];
        }
    }

    private static IEnumerable<object?[]> BerthRows()
    {
        var chance = new Chance("BERTHS");
        for (var i = 0; i < BerthCount; i++)
        {
            var berth = Berth(i);
            yield return
            [
                berth,
                berth[..1],
                Math.Round(chance.Amount(5, 18), 1),
                chance.Falls(0.7) ? "Y" : "N",
                chance.Falls(0.85) ? "Y" : "N",
                chance.Amount(8, 40),
                chance.PickSkewed(RegisterCodes.BerthStates),
                1,
            ];
        }
    }

    private static IEnumerable<object?[]> StayRows(int count, int boats)
    {
        var chance = new Chance("STAYS");
        for (var number = 1; number <= count; number++)
        {
            var arrived = chance.Day(new DateOnly(1996, 4, 1), Words.Today);
            var nights = chance.Falls(0.8) ? chance.Between(1, 9) : chance.Between(10, 180);
            yield return
            [
                number,
                Berth(chance.Between(0, BerthCount - 1)),
                chance.Between(1, boats),
                TextDate(chance, arrived, blank: 0.01),
                TextDate(chance, arrived.AddDays(nights), blank: 0.03),
                (short)nights,
                Math.Round(nights * chance.Amount(8, 40), 2),
                (short)(chance.Falls(0.93) ? -1 : 0),
                chance.PickSkewed(RegisterCodes.Payments),
                chance.Falls(0.06) ? chance.Pick(Words.Remarks) : null,
            ];
        }
    }

    private static string TextDate(Chance chance, DateOnly day, double blank)
    {
        if (chance.Falls(blank))
            return "";
        return chance.Falls(0.01) ? "00000000" : day.ToString("yyyyMMdd", CultureInfo.InvariantCulture);
    }

    private static IEnumerable<object?[]> MeterRows()
    {
        var chance = new Chance("METERS");
        for (var i = 0; i < MeterCount; i++)
            yield return
            [
                1001 + i,
                Berth(i % BerthCount),
                i < BerthCount ? "P" : "W",
                chance.Day(new DateOnly(1996, 4, 1), new DateOnly(2020, 1, 1)),
            ];
    }

    // Every meter in turn, month by month; at a larger scale the months are drawn closer together.
    private static IEnumerable<object?[]> ReadingRows(int count)
    {
        var chance = new Chance("READINGS");
        var values = new decimal[MeterCount];
        var rounds = ((count - 1) / MeterCount) + 1;
        var first = new DateOnly(2003, 1, 28);
        var days = Words.Today.DayNumber - first.DayNumber;
        for (var number = 1; number <= count; number++)
        {
            var meter = (number - 1) % MeterCount;
            var round = (number - 1) / MeterCount;
            values[meter] += chance.Between(0, 900) / 10m;
            yield return
            [
                number,
                (1001 + meter).ToString("000000", CultureInfo.InvariantCulture),
                first.AddDays((int)((long)days * round / rounds)),
                values[meter],
                chance.Pick(_readers),
                chance.Falls(0.93) ? "A" : chance.Pick(RegisterCodes.ReadingStates),
            ];
        }
    }
}
