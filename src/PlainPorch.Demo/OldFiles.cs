using System.Globalization;
using System.Text;
using System.Text.Json;

namespace PlainPorch.Demo;

/// <summary>Writes the harbour's old files, to be brought in: each with the faults that such files have. All of it is made up.</summary>
internal static class OldFiles
{
    private static readonly string[] _boats =
    [
        "Möwe",
        "Südwind",
        "Käpt'n Blaubär",
        "Grüne Woge",
        "Heron",
        "Änne",
        "Tern",
        "Wellenreiter",
    ];
    private static readonly string[] _extras = ["water", "power"];
    private static readonly string[] _people = ["Weiß, Käthe", "Ford, Bob", "Grün, Jörg", "Reed, Ada", "Öhler, Fritz"];

    /// <summary>Writes them.</summary>
    /// <param name="folder">The folder; it is made.</param>
    public static void Write(string folder)
    {
        Directory.CreateDirectory(folder);
        var random = new Random(1987);
        WriteDues(Path.Combine(folder, "liegegeld.csv"), random);
        WriteMoorings(Path.Combine(folder, "MOORINGS"), random);
        WriteVisits(Path.Combine(folder, "visits.ndjson"), random);
        WriteWinter(Path.Combine(folder, "winter.xlsx"), random);
        WriteClub(Path.Combine(folder, "club.json"), random);
        WriteBuoys(Path.Combine(folder, "buoys.xml"), random);
        WriteTides(Path.Combine(folder, "tides.txt"), random);
    }

    private static void WriteWinter(string path, Random random)
    {
        File.Delete(path);
        OldSheets.WriteWinter(
            path,
            [
                .. Enumerable
                    .Range(1, 80)
                    .Select(n =>
                    {
                        var (from, net) = (new DateOnly(1997, 10, 1).AddDays(random.Next(40)), random.Next(8_000, 90_000) / 100m);
                        return (n, Of(_boats, random), from, from.AddDays(random.Next(90, 200)), net, Math.Round(net * 0.16m, 2));
                    }),
            ]
        );
    }

    // Members, and in each the boats of that member.
    private static void WriteClub(string path, Random random) =>
        File.WriteAllText(
            path,
            JsonSerializer.Serialize(
                new
                {
                    club = "Wrenmouth Sailing Club",
                    members = Enumerable
                        .Range(1, 40)
                        .Select(n => new
                        {
                            id = $"WSC-{n:000}",
                            name = Of(_people, random),
                            since = Day(random).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                            boats = Enumerable
                                .Range(0, random.Next(3))
                                .Select(_ => new { name = Of(_boats, random), length = random.Next(400, 1500) / 100m }),
                        }),
                }
            )
        );

    private static void WriteBuoys(string path, Random random)
    {
        var text = new StringBuilder("<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>\n<buoys>\n");
        for (var n = 1; n <= 30; n++)
            text.Append(
                CultureInfo.InvariantCulture,
                $"  <buoy no=\"{n}\"><colour>{(random.Next(2) == 0 ? "grün" : "rot")}</colour><at lat=\"53.{random.Next(100, 999)}\" long=\"-1.{random.Next(100, 999)}\"/><laid>{Day(random):yyyy-MM-dd}</laid></buoy>\n"
            );
        File.WriteAllBytes(path, Encoding.Latin1.GetBytes(text.Append("</buoys>\n").ToString()));
    }

    // Columns at the same places of each line, as a printer wrote them.
    private static void WriteTides(string path, Random random)
    {
        var text = new StringBuilder("Day        Time   Kind  Height\r\n---------- ------ ----- ------\r\n");
        for (var n = 0; n < 120; n++)
            text.Append(
                CultureInfo.InvariantCulture,
                $"{new DateOnly(1998, 1, 1).AddDays(n / 4):dd/MM/yyyy} {random.Next(24):00}:{random.Next(60):00}  {(n % 2 == 0 ? "high" : "low"), -5} {(n % 2 == 0 ? 4 : 1) + random.Next(100) / 100m, 6:0.00}\r\n"
            );
        File.WriteAllText(path, text.ToString());
    }

    // Semicolons, a code page of DOS, German days and amounts, a title above and a sum below.
    private static void WriteDues(string path, Random random)
    {
        var text = new StringBuilder(
            "Hafenamt Wrenmouth, Liegegeld\r\nStand 03.11.1998\r\n\r\nNr.;Boot;Eigner;Länge (m);Betrag;Bezahlt am;Gezahlt\r\n"
        );
        var sum = 0m;
        for (var n = 1; n <= 240; n++)
        {
            var amount = random.Next(4_000, 250_000) / 100m;
            sum += amount;
            var isPaid = random.Next(5) > 0;
            text.Append(CultureInfo.InvariantCulture, $"{n:0000};{Of(_boats, random)};\"{Of(_people, random)}\";")
                .Append(German(random.Next(400, 1900) / 100m))
                .Append(';')
                .Append(German(amount))
                .Append(
                    CultureInfo.InvariantCulture,
                    $";{(isPaid ? Day(random).ToString("dd.MM.yyyy", CultureInfo.InvariantCulture) : "")};{(isPaid ? 'J' : 'N')}\r\n"
                );
        }

        text.Append("Summe ").Append(German(sum)).Append("\r\n");
        File.WriteAllBytes(path, CodePagesEncodingProvider.Instance.GetEncoding(850)!.GetBytes(text.ToString()));
    }

    private static void WriteMoorings(string path, Random random)
    {
        var table = new OldTableFile(
            ("MOOR_CD", 'C', 5),
            ("BOAT", 'C', 20),
            ("DEPTH", 'N', 6),
            ("LAID", 'D', 8),
            ("IN_USE", 'L', 1),
            ("NOTES", 'M', 10)
        );
        for (var n = 1; n <= 120; n++)
            table.Add(
                random.Next(12) == 0,
                n.ToString("00000", CultureInfo.InvariantCulture),
                Of(_boats, random),
                (random.Next(120, 900) / 100m).ToString("0.00", CultureInfo.InvariantCulture),
                random.Next(9) == 0 ? "" : Day(random).ToString("yyyyMMdd", CultureInfo.InvariantCulture),
                random.Next(3) == 0 ? "F" : "T",
                random.Next(4) == 0 ? $"Chain renewed, {Of(_people, random)} paid.\r\nLook at it again after the winter." : ""
            );
        table.Write(path);
    }

    // A line for each visit, in which the skipper is nested, and one line that broke.
    private static void WriteVisits(string path, Random random)
    {
        var lines = Enumerable
            .Range(1, 150)
            .Select(n =>
                JsonSerializer.Serialize(
                    new
                    {
                        no = n,
                        boat = Of(_boats, random),
                        skipper = new { name = Of(_people, random), nights = random.Next(1, 9) },
                        arrived = Day(random).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                        extras = random.Next(3) == 0 ? _extras : null,
                    }
                )
            )
            .ToList();
        lines.Insert(77, "{\"no\": 78, \"boat\": \"Te");
        File.WriteAllLines(path, lines);
    }

    private static string Of(string[] words, Random random) => words[random.Next(words.Length)];

    private static DateOnly Day(Random random) => new DateOnly(1996, 1, 1).AddDays(random.Next(1000));

    private static string German(decimal number) => number.ToString("N2", CultureInfo.GetCultureInfo("de-DE"));
}
