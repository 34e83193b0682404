namespace PlainPorch.Demo.Register;

/// <summary>One table for all code lists, and the notices on the board.</summary>
internal static class RegisterCodes
{
    private static readonly (string Type, (string Code, string Text)[] Codes)[] _lists =
    [
        (
            "RIG",
            [
                ("SLP", "Sloop"),
                ("MOT", "Motor boat"),
                ("KTC", "Ketch"),
                ("CAT", "Catamaran"),
                ("CUT", "Cutter"),
                ("YWL", "Yawl"),
                ("GAF", "Gaff rig"),
                ("SCH", "Schooner"),
                ("DNG", "Dinghy"),
                ("LUG", "Lugger"),
                ("RIB", "Rigid inflatable"),
                ("ROW", "Rowing boat"),
            ]
        ),
        (
            "RESULT",
            [
                ("OK", "Passed"),
                ("OKC", "Passed with conditions"),
                ("REP", "Repairs needed"),
                ("FAIL", "Failed"),
                ("ABS", "Boat not there"),
            ]
        ),
        ("PAY", [("CASH", "Cash"), ("CARD", "Card"), ("BANK", "Bank transfer"), ("SO", "Standing order"), ("INV", "On invoice")]),
        ("KIND", [("P", "Power"), ("W", "Water")]),
        ("STAT", [("FREE", "Free"), ("LET", "Let by the year"), ("VIS", "For visitors"), ("SHUT", "Closed")]),
        ("SIDE", [("N", "North side"), ("S", "South side"), ("E", "East basin")]),
        (
            "CAT",
            [("LIFE", "Life-saving"), ("FIRE", "Fire"), ("SIG", "Signals"), ("RAD", "Radio"), ("GEAR", "Ground tackle and pumps")]
        ),
        ("STATE", [("A", "As read"), ("E", "Estimated"), ("C", "Corrected"), ("X", "Meter exchanged"), ("D", "Disputed")]),
        ("CTRY", [("GB", "United Kingdom"), ("FR", "France"), ("NL", "Netherlands"), ("DE", "Germany"), ("IE", "Ireland")]),
        (
            "HULL",
            [
                ("GRP", "Glass-reinforced plastic"),
                ("WOOD", "Wood"),
                ("STL", "Steel"),
                ("ALU", "Aluminium"),
                ("FER", "Ferro-cement"),
            ]
        ),
        ("INS", [("THP", "Third party"), ("FULL", "Comprehensive"), ("NONE", "None")]),
        (
            "USE",
            [
                ("PRIV", "Private"),
                ("CHA", "Charter"),
                ("FISH", "Fishing"),
                ("WORK", "Work boat"),
                ("CLUB", "Club"),
                ("RES", "Rescue"),
            ]
        ),
        (
            "WIND",
            [
                ("N", "North"),
                ("NE", "North-east"),
                ("E", "East"),
                ("SE", "South-east"),
                ("S", "South"),
                ("SW", "South-west"),
                ("W", "West"),
                ("NW", "North-west"),
                ("VAR", "Variable"),
                ("CALM", "Calm"),
            ]
        ),
    ];

    public static IReadOnlyList<string> Rigs { get; } = CodesOf("RIG");

    public static IReadOnlyList<string> Results { get; } = CodesOf("RESULT");

    public static IReadOnlyList<string> Payments { get; } = CodesOf("PAY");

    public static IReadOnlyList<string> KitCategories { get; } = CodesOf("CAT");

    public static IReadOnlyList<string> BerthStates { get; } = CodesOf("STAT");

    public static IReadOnlyList<string> Sides { get; } = CodesOf("SIDE");

    public static IReadOnlyList<string> ReadingStates { get; } = CodesOf("STATE");

    public static DemoTable Codes() =>
        new(
            "register",
            "CODES",
            ["CODE_TYPE", "CODE", "DESCR"],
            from list in _lists
            from code in list.Codes
            select new object?[] { list.Type, code.Code, code.Text }
        );

    public static DemoTable Notices() =>
        new("register", "NOTICES", ["NOTICE_NO", "TITLE", "BODY", "PIN_YN", "FROM_DT", "TO_DT"], NoticeRows());

    private static IReadOnlyList<string> CodesOf(string type) =>
        [.. _lists.Single(list => list.Type == type).Codes.Select(code => code.Code)];

    // Written in a desktop program's HTML box; some of it would do harm if a page ran it.
    private static IEnumerable<object?[]> NoticeRows()
    {
        string[] titles =
        [
            "Crane out of order",
            "Spring tide",
            "Regatta weekend",
            "Water off on pontoon C",
            "New opening hours",
            "Lost: grey dinghy",
        ];
        string[] bodies =
        [
            "<p>Please note. Ask at the <b>office</b> for details.</p>",
            "<p>From <i>Monday</i> on.<br>Thank you for your patience.</p>",
            "<script>document.title='taken over'</script><p>Fresh crab at the steps.</p>",
            "<p onclick=\"alert(1)\">Click here</p>",
            "<img src=x onerror=\"alert('notice')\">",
            "<a href=\"javascript:alert(1)\">Tide tables</a>",
            "<ul><li>Bring your key</li><li>Sign the book</li></ul>",
        ];
        var chance = new Chance("NOTICES");
        for (var number = 1; number <= 60; number++)
        {
            var from = chance.Day(new DateOnly(2022, 1, 1), Words.Today);
            yield return
            [
                number,
                chance.Pick(titles),
                bodies[number % bodies.Length],
                chance.Falls(0.15) ? "Y" : "N",
                from,
                chance.Falls(0.2) ? null : from.AddDays(chance.Between(3, 90)),
            ];
        }
    }
}
