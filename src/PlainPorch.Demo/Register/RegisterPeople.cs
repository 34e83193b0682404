using System.Globalization;

namespace PlainPorch.Demo.Register;

/// <summary>Owners and the waiting list.</summary>
internal static class RegisterPeople
{
    public const int OwnerCount = 6_000;
    private const int WaitlistCount = 180;

    public static DemoTable Owners(int scale) =>
        new(
            "register",
            "OWNERS",
            [
                "OWNR_NO",
                "SURNAME",
                "FIRST_NM",
                "FIRM",
                "ADDR",
                "PCODE",
                "TOWN",
                "CTRY",
                "Tel No",
                "EMAIL",
                "NAT_ID",
                "IBAN",
                "AGENT_NO",
                "REMARKS",
                "ENT_DT",
                "ENT_BY",
                "UPD_DT",
                "DEL_FLG",
            ],
            OwnerRows(OwnerCount * scale)
        );

    public static DemoTable Waitlist() =>
        new("register", "WAITLIST", ["POS", "SURNAME", "FIRST_NM", "LOA_M", "ASKED_ON", "NOTE"], WaitlistRows());

    private static IEnumerable<object?[]> OwnerRows(int count)
    {
        var chance = new Chance("OWNERS");
        var people = new People(11);
        for (var number = 1; number <= count; number++)
        {
            var surname = people.Surname().ToUpperInvariant();
            var first = people.FirstName();
            var isFirm = chance.Falls(0.12);
            var entered = chance.Day(new DateOnly(1996, 4, 1), Words.Today);
            yield return
            [
                number,
                surname,
                isFirm ? null : first,
                isFirm ? people.Firm() : null,
                $"{chance.Between(1, 140)} {chance.Pick(Words.Streets)}",
                $"WM{chance.Between(1, 9)} {chance.Between(1, 9)}{(char)('A' + chance.Between(0, 25))}{(char)('A' + chance.Between(0, 25))}",
                chance.Pick(Words.Towns),
                chance.Falls(0.9) ? "GB" : chance.Pick(["FR", "NL", "DE", "IE"]),
                chance.Falls(0.08) ? null : people.Phone(),
                chance.Falls(0.4)
                    ? null
                    : $"{first}.{surname}{number}@example.org"
                        .ToLower(CultureInfo.InvariantCulture)
                        .Replace("'", "", StringComparison.Ordinal),
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{chance.Between(10, 99)}{chance.Between(100000, 999999)}{chance.Between(100, 999)}"
                ),
                chance.Falls(0.55)
                    ? null
                    : Checksums.Iban("GB", $"WREN{chance.Between(100000, 999999)}{chance.Between(10000000, 99999999)}"),
                chance.Falls(0.07) ? chance.Between(1, count) : null,
                chance.Falls(0.1) ? chance.Pick(Words.Remarks) : null,
                entered,
                chance.Pick(Words.Clerks),
                chance.Falls(0.5)
                    ? entered
                        .ToDateTime(new TimeOnly(chance.Between(8, 17), chance.Between(0, 59)))
                        .AddDays(chance.Between(1, 900))
                    : null,
                chance.Falls(0.03) ? "Y" : null,
            ];
        }
    }

    // Positions with gaps and ties, and two rows that are the same in every column.
    private static IEnumerable<object?[]> WaitlistRows()
    {
        var chance = new Chance("WAITLIST");
        var people = new People(17);
        var position = 0;
        object?[]? first = null;
        for (var i = 1; i < WaitlistCount; i++)
        {
            position +=
                chance.Falls(0.1) ? 0
                : chance.Falls(0.1) ? chance.Between(2, 6)
                : 1;
            object?[] row =
            [
                position,
                people.Surname().ToUpperInvariant(),
                people.FirstName(),
                Math.Round(chance.Amount(5, 15), 1),
                chance.Day(new DateOnly(2015, 1, 1), Words.Today),
                chance.Falls(0.2) ? chance.Pick(Words.Remarks) : null,
            ];
            first ??= row;
            yield return row;
        }

        yield return first!;
    }
}
