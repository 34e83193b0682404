namespace PlainPorch.Demo.Register;

/// <summary>Boats, their safety kit and their inspections.</summary>
internal static class RegisterBoats
{
    public const int BoatCount = 8_000;
    private const int KitCount = 40;
    private const int BoatKitCount = 30_000;
    private const int SurveyCount = 12_000;
    private const int PhotoCount = 400;

    private static readonly string[] _kit =
    [
        "Life jacket, adult",
        "Life jacket, child",
        "Life raft, 4 persons",
        "Life raft, 6 persons",
        "Hand flare, red",
        "Parachute flare",
        "Smoke signal, orange",
        "Fire extinguisher 2 kg",
        "Fire blanket",
        "First-aid box",
        "VHF radio",
        "Hand-held VHF",
        "EPIRB",
        "Fog horn",
        "Radar reflector",
        "Anchor, main",
        "Anchor, second",
        "Bilge pump, hand",
        "Bilge pump, electric",
        "Horseshoe buoy",
    ];

    private static readonly string[] _findings =
    [
        "Hull sound, no blisters.",
        "Slight wear at the rudder bearing.",
        "Gas installation tested and found tight.",
        "Flares out of date; to be replaced.",
        "Standing rigging renewed last winter.",
        "Anodes half gone.",
        "Bilge clean and dry.",
        "Keel bolts checked on two of seven.",
        "Navigation lights in order.",
        "Seacock at the heads stiff, to be greased.",
        "Engine mounts show cracks; see photographs.",
    ];

    public static DemoTable Boats(int scale) =>
        new(
            "register",
            "BOATS",
            [
                "BOAT_NO",
                "NAME",
                "REG_MARK",
                "OWNR_NO",
                "RIG_CD",
                "HULL_MAT",
                "YR_BLT",
                "LOA_M",
                "DRAFT_M",
                "PHOTO",
                "ENT_DT",
                "ENT_BY",
                "UPD_DT",
                "DEL_FLG",
            ],
            BoatRows(BoatCount * scale, RegisterPeople.OwnerCount * scale)
        );

    public static DemoTable Kit() => new("register", "KIT", ["KIT_NO", "DESCR", "CAT_CD", "LIFE_YRS"], KitRows());

    public static DemoTable BoatKit(int scale) =>
        new("register", "BoatKit", ["BoatNo", "KitNo", "Qty", "Expires"], BoatKitRows(BoatKitCount * scale, BoatCount * scale));

    public static DemoTable Surveys(int scale) =>
        new(
            "register",
            "SURVEYS",
            ["SURV_NO", "BOAT_NO", "DONE_ON", "RESULT_CD", "NOTES", "ORDER", "USER", "NEXT_DUE"],
            SurveyRows(SurveyCount * scale, BoatCount * scale)
        );

    private static IEnumerable<object?[]> BoatRows(int count, int owners)
    {
        var chance = new Chance("BOATS");
        for (var number = 1; number <= count; number++)
        {
            var second = chance.Pick(Words.BoatSecond);
            var length = chance.Amount(4, 16);
            var entered = chance.Day(new DateOnly(1996, 4, 1), Words.Today);
            yield return
            [
                number,
                $"{chance.Pick(Words.BoatFirst)} {second}".Trim(),
                chance.Falls(0.15) ? null : $"WM {chance.Between(1, 9)}{number:0000}",
                OwnerOf(chance, owners),
                chance.Falls(0.06) ? null : chance.PickSkewed(RegisterCodes.Rigs),
                chance.Falls(0.1) ? null : chance.Pick(Words.Hulls),
                chance.Falls(0.12) ? null : (short)chance.Between(1931, 2025),
                length,
                chance.Falls(0.1) ? null : Math.Round(length * 0.17m, 2),
                number <= PhotoCount && chance.Falls(0.8) ? BoatPhoto.Draw(number) : null,
                entered,
                chance.Pick(Words.Clerks),
                chance.Falls(0.6)
                    ? entered
                        .ToDateTime(new TimeOnly(chance.Between(8, 17), chance.Between(0, 59)))
                        .AddDays(chance.Between(1, 900))
                    : null,
                chance.Falls(0.04) ? "Y" : null,
            ];
        }
    }

    // 0 means none, and 0.8 in a hundred point at an owner who is not there.
    private static int OwnerOf(Chance chance, int owners)
    {
        if (chance.Falls(0.008))
            return owners + chance.Between(1000, 9000);
        return chance.Falls(0.05) ? 0 : chance.Between(1, owners);
    }

    private static IEnumerable<object?[]> KitRows()
    {
        var chance = new Chance("KIT");
        for (var number = 1; number <= KitCount; number++)
        {
            var description = _kit[(number - 1) % _kit.Length] + (number > _kit.Length ? ", old pattern" : "");
            yield return
            [
                number,
                description,
                chance.Pick(RegisterCodes.KitCategories),
                chance.Falls(0.3) ? null : (short)chance.Between(1, 12),
            ];
        }
    }

    private static IEnumerable<object?[]> BoatKitRows(int count, int boats)
    {
        var chance = new Chance("BoatKit");
        var made = 0;
        for (var boat = 1; boat <= boats && made < count; boat++)
        {
            // On average 3.75 a boat, so that the last boats are reached when the rows are.
            var wanted = Math.Min(((long)count * boat / boats) - made, KitCount);
            var kit = chance.Between(1, KitCount);
            for (var i = 0; i < wanted; i++, made++)
            {
                kit = (kit % KitCount) + 1;
                yield return
                [
                    boat,
                    kit,
                    (short)chance.Between(1, 6),
                    chance.Falls(0.4) ? null : chance.Day(new DateOnly(2024, 1, 1), new DateOnly(2031, 12, 31)),
                ];
            }
        }
    }

    private static IEnumerable<object?[]> SurveyRows(int count, int boats)
    {
        var chance = new Chance("SURVEYS");
        for (var number = 1; number <= count; number++)
        {
            var done = chance.Day(new DateOnly(2001, 1, 1), Words.Today);
            var notes = Enumerable.Range(0, chance.Between(1, 9)).Select(_ => chance.Pick(_findings));
            yield return
            [
                number,
                chance.Between(1, boats),
                done,
                chance.PickSkewed(RegisterCodes.Results),
                string.Join(chance.Falls(0.5) ? "\n" : " ", notes),
                chance.Between(1, 40),
                chance.Pick(Words.Clerks),
                done.AddYears(chance.Between(1, 5)),
            ];
        }
    }
}
