using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class TableShapesTests
{
    private static readonly MakeRows _schema = new MakeRows()
        .Table(
            "boats",
            "id int, name text, rig_id int, a int, b int, c int",
            MakeRows.Count(20, n => [$"{n}", $"B{n}", $"{(n % 3) + 1}", "1", "1", "1"])
        )
        .Table(
            "boats_old",
            "id int, name text, rig_id int, a int, b int, c int",
            MakeRows.Count(5, n => [$"{n}", $"B{n}", "1", "1", "1", "1"])
        )
        .Table("rig", "id int, name text", MakeRows.Count(3, n => [$"{n}", $"R{n}"]))
        .Table("kit", "id int, name text", MakeRows.Count(9, n => [$"{n}", $"K{n}"]))
        .Table(
            "boat_kit",
            "boat_id int, kit_id int",
            MakeRows.Count(15, n => [$"{n}", $"{(n % 9) + 1}"]),
            key: ["boat_id", "kit_id"]
        )
        .Table("boat_extra", "boat_id int, note text", MakeRows.Count(4, n => [$"{n}", "x"]))
        .Table("place", "id int, parent_id int", MakeRows.Count(9, n => [$"{n}", n > 3 ? $"{(n % 3) + 1}" : null]))
        .Table("audit_log", "id int, text text", MakeRows.Count(9, n => [$"{n}", "did"]))
        .Table("later", "id int, text text");

    [Theory]
    [InlineData("boats", TableShape.Main)]
    [InlineData("boats_old", TableShape.Copy)]
    [InlineData("rig", TableShape.Lookup)]
    [InlineData("boat_kit", TableShape.Join)]
    [InlineData("boat_extra", TableShape.Extension)]
    [InlineData("place", TableShape.Hierarchy)]
    [InlineData("audit_log", TableShape.Log)]
    [InlineData("later", TableShape.Empty)]
    public void Of_Table_TellsItsPart(string name, TableShape expected)
    {
        var held = _schema.Find().Where(reference => reference.Confidence >= ReferenceFinder.Threshold).ToList();
        Assert.Equal(expected, TableShapes.Of(_schema.Rows[new TableName("public", name)], _schema.Snapshot.Tables, held));
    }
}
