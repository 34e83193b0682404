using System.Text;
using CsCheck;
using PlainPorch.Core.Imports;

namespace PlainPorch.Core.Tests.Imports;

public sealed class PlannedTableTests
{
    [Theory]
    [InlineData("Name des Bootes", "name_des_bootes")]
    [InlineData("  Länge (m) ", "lange_m")]
    [InlineData("Straße", "strasse")]
    [InlineData("2nd owner", "n_2nd_owner")]
    [InlineData("x\"; DROP TABLE boats; --", "x_drop_table_boats")]
    [InlineData("../../etc", "etc")]
    [InlineData("Имя", "имя")]
    [InlineData("???", "column_1")]
    public void Names_NeedNoQuotes(string name, string tidy) => Assert.Equal(tidy, PlannedTable.Tidy(name, "column_1"));

    [Fact]
    public void Names_AreDifferent_AndNoLongerThanTheDatabaseKeeps() =>
        Gen.OneOf(Gen.String[0, 90], Gen.OneOfConst("id", "ID", "Id ", "a b", "a_b"))
            .Array[1, 30]
            .Sample(names =>
            {
                var planned = PlannedTable.Make(
                    "public",
                    "t",
                    [.. names.Select(name => new ColumnGuess(name, ValueForm.Text, 1, 1, false))]
                );
                var made = planned.Columns.Select(column => column.Name).Append(planned.Identity!).ToList();
                Assert.Equal(made.Count, made.Distinct().Count());
                Assert.All(made, name => Assert.InRange(Encoding.UTF8.GetByteCount(name), 1, 63));
                Assert.All(made, name => Assert.DoesNotContain('"', name));
            });

    [Fact]
    public void Key_IsTheColumnThatIsCalledSo_AndTellsRowsApart()
    {
        Assert.Equal(["no"], Files.Delimited("name,no\nAnn,1\nBob,2\n").Plan().Key);
        Assert.Equal(["boat_no"], Files.Delimited("boat_no,name\n1,Ann\n2,Bob\n").Plan().Key);
        // Two alike, or one missing: a number is given out.
        var twice = Files.Delimited("no,name\n1,Ann\n1,Bob\n").Plan();
        Assert.Equal((0, "id"), (twice.Key.Count, twice.Identity));
        Assert.Empty(Files.Delimited("name,no\nAnn,1\nBob,\n").Plan().Key);
        // A name may be unique by chance.
        Assert.Empty(Files.Delimited("name,town\nAnn,Weir\nBob,Ford\n").Plan().Key);
    }

    [Fact]
    public void Key_OfSeveralColumns_IsWhatWasAskedFor() =>
        Assert.Equal(
            ["berth", "day"],
            PlannedTable
                .Make("public", "t", Files.Delimited("Berth,Day\nA,2020-01-01\nA,2020-01-02\n").Guesses(), ["Berth", "day"])
                .Key
        );

    [Theory]
    [InlineData("name", "Several rows have the same value")]
    [InlineData("town", "is empty in 1 rows")]
    [InlineData("ghost", "has no column ghost")]
    public void Key_ThatCannotBe_IsRefused(string key, string why)
    {
        var table = Files.Delimited("name,town,no\nAnn,Weir,1\nAnn,,2\n");
        Assert.Contains(why, Assert.Throws<ArgumentException>(() => table.Plan(key)).Message, StringComparison.Ordinal);
    }
}

internal static class Planning
{
    public static PlannedTable Plan(this FileTable table, string? key = null) =>
        PlannedTable.Make("public", "t", table.Guesses(), key is null ? [] : [key]);
}
