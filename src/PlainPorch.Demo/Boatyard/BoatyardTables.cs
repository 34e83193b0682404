using System.Text.Json;

namespace PlainPorch.Demo.Boatyard;

/// <summary>The tables of the tidy neighbour, about 30,000 rows in all.</summary>
internal static class BoatyardTables
{
    private const int Customers = 3_000;
    private const int Jobs = 6_000;
    private const int Lines = 14_000;
    private const int Parts = 1_200;
    private const int Staff = 40;
    private const int Tools = 300;

    private static readonly string[] _statuses =
    [
        "done",
        "done",
        "under way",
        "agreed",
        "asked for",
        "waiting for parts",
        "called off",
    ];
    private static readonly string[] _work =
    [
        "Antifouling",
        "Engine service",
        "New standing rigging",
        "Osmosis treatment",
        "Sail repair",
        "Teak deck",
        "Winter storage",
        "Keel bolts",
        "Gas check",
        "Rudder bearing",
    ];
    private static readonly string[] _tags = ["winter", "warranty", "insurance", "afloat", "ashore", "engine", "hull", "rigging"];
    private static readonly string[] _partNames =
    [
        "Impeller",
        "Shackle",
        "Anode",
        "Fuel filter",
        "Shaft seal",
        "Halyard",
        "Turnbuckle",
        "Bilge hose",
        "Battery",
        "Cleat",
        "Fender",
        "Primer",
    ];
    private static readonly string[] _toolNames =
    [
        "Orbital sander",
        "Torque wrench",
        "Moisture meter",
        "Heat gun",
        "Chain hoist",
        "Rivet gun",
        "Pressure washer",
        "Swaging tool",
    ];

    public static IEnumerable<DemoTable> All() =>
        [
            new(
                "boatyard",
                "customer",
                ["name", "email", "phone", "notes", "created_at", "updated_at", "deleted_at"],
                CustomerRows()
            ),
            new("boatyard", "staff", ["name", "initials", "hired_on", "hourly_rate"], StaffRows()),
            new("boatyard", "part", ["part_number", "name", "price", "in_stock"], PartRows()),
            new(
                "boatyard",
                "job",
                [
                    "customer_id",
                    "title",
                    "status",
                    "opened_on",
                    "time_allowed",
                    "hours",
                    "rate",
                    "tags",
                    "details",
                    "is_urgent",
                    "created_at",
                    "updated_at",
                    "deleted_at",
                ],
                JobRows()
            ),
            new("boatyard", "job_line", ["job_id", "line_number", "part_id", "quantity", "unit_price"], LineRows()),
            new("boatyard", "job_staff", ["job_id", "staff_id", "hours"], JobStaffRows()),
            new("boatyard", "tool", ["name", "serial", "held_by", "bought_on", "price"], ToolRows()),
        ];

    private static IEnumerable<object?[]> CustomerRows()
    {
        var chance = new Chance("customer");
        var people = new People(23);
        for (var id = 1; id <= Customers; id++)
        {
            var (first, last) = (people.FirstName(), people.Surname());
            var created = Moment(chance);
            yield return
            [
                $"{first} {last}",
                chance.Falls(0.1) ? null : $"customer{id}@example.net",
                chance.Falls(0.2) ? null : people.Phone(),
                chance.Falls(0.15) ? chance.Pick(Words.Remarks) : null,
                created,
                created.AddDays(chance.Between(0, 400)),
                chance.Falls(0.03) ? created.AddDays(chance.Between(401, 800)) : null,
            ];
        }
    }

    private static IEnumerable<object?[]> StaffRows()
    {
        var chance = new Chance("staff");
        var people = new People(29);
        for (var id = 1; id <= Staff; id++)
        {
            var (first, last) = (people.FirstName(), people.Surname());
            yield return
            [
                $"{first} {last}",
                $"{first[0]}{last[0]}{(char)('A' + (id % 26))}",
                chance.Day(new DateOnly(2004, 1, 1), Words.Today),
                chance.Amount(28, 62),
            ];
        }
    }

    private static IEnumerable<object?[]> PartRows()
    {
        var chance = new Chance("part");
        for (var id = 1; id <= Parts; id++)
            yield return
            [
                $"WY-{id:00000}",
                $"{chance.Pick(_partNames)} {chance.Between(4, 60)} mm",
                chance.Amount(1, 400),
                chance.Between(0, 80),
            ];
    }

    private static IEnumerable<object?[]> JobRows()
    {
        var chance = new Chance("job");
        for (var id = 1; id <= Jobs; id++)
        {
            var created = Moment(chance);
            string[] tags = [.. Enumerable.Range(0, chance.Between(0, 3)).Select(_ => chance.Pick(_tags)).Distinct()];
            yield return
            [
                chance.Between(1, Customers),
                $"{chance.Pick(_work)}, {chance.Pick(Words.BoatFirst)} {chance.Pick(Words.BoatSecond)}".TrimEnd(),
                chance.PickSkewed(_statuses),
                DateOnly.FromDateTime(created),
                chance.Falls(0.3) ? null : $"{chance.Between(1, 40)} days",
                chance.Amount(0, 60),
                chance.Amount(40, 70),
                chance.Falls(0.2) ? null : tags,
                Details(chance),
                chance.Falls(0.08),
                created,
                created.AddDays(chance.Between(0, 90)),
                chance.Falls(0.02) ? created.AddDays(chance.Between(91, 200)) : null,
            ];
        }
    }

    private static string? Details(Chance chance) =>
        chance.Falls(0.4)
            ? null
            : JsonSerializer.Serialize(
                new
                {
                    lift = chance.Falls(0.5),
                    mast = chance.Pick(["on", "off"]),
                    weight_t = chance.Between(1, 14),
                }
            );

    private static IEnumerable<object?[]> LineRows()
    {
        var chance = new Chance("job_line");
        for (var i = 0; i < Lines; i++)
            yield return
            [
                (i % (Jobs - 500)) + 1,
                (short)((i / (Jobs - 500)) + 1),
                chance.Between(1, Parts),
                (decimal)chance.Between(1, 12),
                chance.Amount(1, 400),
            ];
    }

    private static IEnumerable<object?[]> JobStaffRows()
    {
        var chance = new Chance("job_staff");
        for (var job = 1; job <= Jobs; job++)
        {
            if (chance.Falls(0.9))
                yield return [job, chance.Between(1, Staff), chance.Amount(0, 30)];
        }
    }

    private static IEnumerable<object?[]> ToolRows()
    {
        var chance = new Chance("tool");
        for (var id = 1; id <= Tools; id++)
            yield return
            [
                $"{chance.Pick(_toolNames)} {id}",
                chance.Falls(0.1) ? null : chance.Uuid(),
                chance.Falls(0.5) ? null : chance.Between(1, Staff),
                chance.Day(new DateOnly(2008, 1, 1), Words.Today),
                chance.Amount(20, 900),
            ];
    }

    private static DateTime Moment(Chance chance) =>
        DateTime.SpecifyKind(
            chance
                .Day(new DateOnly(2019, 1, 1), Words.Today.AddDays(-400))
                .ToDateTime(new TimeOnly(chance.Between(7, 18), chance.Between(0, 59))),
            DateTimeKind.Utc
        );
}
