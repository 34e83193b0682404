using System.Text.RegularExpressions;
using ArchUnitNET.Loader;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Rows;
using PlainPorch.Web.Sources;
using static ArchUnitNET.Fluent.ArchRuleDefinition;

namespace PlainPorch.Data.Tests.Architecture;

/// <summary>
/// Floors know each other downwards only, and so do the rooms of a floor: see docs/architecture.md, which has the same order.
/// </summary>
public sealed class RoomTests
{
    // On each floor, what stands first knows nothing of what stands behind it.
    private static readonly Dictionary<string, string[]> _rooms = new()
    {
        ["Core"] =
        [
            "Schema",
            "Sources",
            "Values",
            "Acts",
            "Export",
            "Definition",
            "Filters",
            "Survey",
            "Panels",
            "Rules",
            "Records",
            "People",
            "History",
            "Query",
            "Drafting",
            "LooseEnds",
            "Ordering",
            "Removal",
            "Tidying",
            "Imports",
        ],
        ["Data"] =
        [
            "Schema",
            "Rows",
            "Catalog",
            "Connections",
            "Snapshots",
            "Survey",
            "Lookups",
            "Panels",
            "People",
            "Uploads",
            "History",
            "Rules",
            "Code",
            "SavedLists",
            "LooseEnds",
            "Parcels",
            "Acts",
            "Export",
            "Query",
            "Ordering",
            "Records",
            "Removal",
            "Duplicates",
            "Sources",
            "Tidying",
            "Imports",
        ],
        ["Web"] =
        [
            "Http",
            "Code",
            "Connections",
            "Catalog",
            "Sources",
            "Snapshots",
            "Survey",
            "Panels",
            "People",
            "Acts",
            "SavedLists",
            "LooseEnds",
            "Export",
            "Query",
            "Records",
            "History",
            "Ordering",
            "Removal",
            "Duplicates",
            "Tidying",
            "Imports",
        ],
    };

    private static readonly ArchUnitNET.Domain.Architecture _built = new ArchLoader()
        .LoadAssemblies(typeof(PanelDefinition).Assembly, typeof(RecordModel).Assembly, typeof(SourceDto).Assembly)
        .Build();

    public static TheoryData<string, string> Rooms() =>
        [.. from floor in _rooms from room in floor.Value select (floor.Key, room)];

    [Theory]
    [MemberData(nameof(Rooms))]
    public void Room_KnowsNothingOfThoseAboveIt(string floor, string room)
    {
        var above = _rooms[floor][(Array.IndexOf(_rooms[floor], room) + 1)..];
        if (above.Length > 0)
            AssertNone(Knows(Place(floor, room), Place(floor, above)));
    }

    [Theory]
    [InlineData("Core", "Data", "Web")]
    [InlineData("Data", "Web")]
    public void Floor_KnowsNothingOfThoseAboveIt(string floor, params string[] above) =>
        AssertNone(Knows($"^PlainPorch\\.{floor}(\\.|$)", $"^PlainPorch\\.({string.Join('|', above)})(\\.|$)"));

    [Theory]
    [InlineData("Core")]
    [InlineData("Data")]
    [InlineData("Web")]
    public void EveryRoom_HasItsPlace(string floor)
    {
        var found = _built
            .Types.Select(type => Regex.Match(type.Namespace.FullName, $"^PlainPorch\\.{floor}\\.(\\w+)").Groups[1].Value)
            .Where(room => room.Length > 0 && room != "Migrations")
            .Distinct();
        Assert.Equal(_rooms[floor].Order(), found.Order());
    }

    // Otherwise the others would pass whatever the code does.
    [Theory]
    [InlineData("Data", "Records", "Lookups")]
    [InlineData("Core", "Query", "Filters")]
    [InlineData("Web", "Query", "Panels")]
    public void Arrow_ThatIsThere_IsSeen(string floor, string from, string to) =>
        Assert.NotEqual("", Knows(Place(floor, from), Place(floor, to)));

    private static string Place(string floor, params IEnumerable<string> rooms) =>
        $"^PlainPorch\\.{floor}\\.({string.Join('|', rooms)})(\\.|$)";

    private static void AssertNone(string known) => Assert.True(known.Length == 0, known);

    // Who knows whom, a line for each type.
    private static string Knows(string from, string to) =>
        string.Join(
            '\n',
            Types()
                .That()
                .ResideInNamespaceMatching(from)
                .Should()
                .NotDependOnAny(Types().That().ResideInNamespaceMatching(to))
                .Evaluate(_built)
                .Where(result => !result.Passed)
                .Select(result => result.Description)
        );
}
