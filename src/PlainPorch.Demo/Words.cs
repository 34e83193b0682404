namespace PlainPorch.Demo;

/// <summary>The made-up world of Wrenmouth: its words, and the day on which the demo takes place.</summary>
internal static class Words
{
    /// <summary>"Today" of the demo data, fixed so that the data is the same on every run.</summary>
    public static readonly DateOnly Today = new(2026, 9, 1);

    public static readonly string[] BoatFirst =
    [
        "Marigold",
        "Kittiwake",
        "Osprey",
        "Grey",
        "Merry",
        "Northern",
        "Little",
        "Blue",
        "Silver",
        "Sandpiper",
        "Curlew",
        "Wild",
        "Amber",
        "Morning",
        "Evening",
        "Lucky",
        "Salty",
        "Swift",
        "Gentle",
        "Golden",
        "Idle",
        "Jolly",
        "Lady",
        "Old",
    ];

    public static readonly string[] BoatSecond =
    [
        "",
        "",
        "",
        "Star",
        "Wren",
        "Tide",
        "Heron",
        "Lass",
        "Dawn",
        "Petrel",
        "Wind",
        "Light",
        "Anna",
        "Maid",
        "Rose",
        "Tern",
        "Fox",
        "Song",
        "Spray",
        "Venture",
        "Isabel",
        "Thrift",
        "Plover",
        "Gull",
    ];

    public static readonly string[] Towns =
    [
        "Wrenmouth",
        "Wrenmouth",
        "Wrenmouth",
        "Saltley Quay",
        "Harrow Sands",
        "Penfold",
        "Upper Tarn",
        "Coldharbour",
        "Eastnor Bay",
        "Gullcombe",
    ];

    public static readonly string[] Streets =
    [
        "Quay Street",
        "Rope Walk",
        "Chapel Lane",
        "Harbour Road",
        "Mill Hill",
        "The Strand",
        "Customs Row",
        "Lantern Way",
        "Fisher Row",
        "Station Road",
    ];

    public static readonly string[] Clerks = ["MHB", "JTK", "ALW", "RSD"];

    public static readonly string[] Remarks =
    [
        "Prefers a berth near the steps.",
        "Pays by standing order.",
        "Write, do not telephone.",
        "Key to the boat is with the harbour office.",
        "Asked for a quieter pontoon.",
        "Away from October to March.",
    ];

    /// <summary>Hull materials as people have typed them over thirty years.</summary>
    public static readonly string[] Hulls =
    [
        "GRP",
        "GRP",
        "GRP",
        "grp",
        "G.R.P.",
        "Fibreglass",
        "fiberglass",
        "Wood",
        "wood",
        "WOOD",
        "Timber",
        "Steel",
        "steel",
        "Stell",
        "Aluminium",
        "Alu",
        "aluminum",
        "Ferro",
        "Ferro-cement",
    ];
}
