using CsCheck;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class CandidateKeysTests
{
    [Fact]
    public void Find_UniqueColumn_IsFoundAndNoPairWithIt()
    {
        var rows = Rows("a int, b int, c text", MakeRows.Count(20, n => [$"{n}", $"{n % 3}", "x"]));
        Assert.Equal([0], Assert.Single(CandidateKeys.Find(rows)));
    }

    [Fact]
    public void Find_PairOnly_IsFound()
    {
        var rows = Rows("a int, b int", MakeRows.Count(20, n => [$"{n / 5}", $"{n % 5}"]));
        Assert.Equal([0, 1], Assert.Single(CandidateKeys.Find(rows)));
    }

    [Fact]
    public void Find_TwinRows_HaveNone()
    {
        var rows = Rows("a int, b int", MakeRows.Count(20, n => [$"{n % 19}", "1"]));
        Assert.Empty(CandidateKeys.Find(rows));
        Assert.Equal(1, CandidateKeys.Duplicates(rows, [0]));
    }

    [Fact]
    public void Find_AnyRows_GivesMinimalKeysThatTellThemApart() =>
        Gen.Int[0, 4]
            .Array[3]
            .Array[10, 40]
            .Sample(cells =>
            {
                var rows = Rows("a int, b int, c int", cells.Select(row => Array.ConvertAll(row, cell => (string?)$"{cell}")));
                foreach (var key in CandidateKeys.Find(rows))
                {
                    Assert.Equal(0, CandidateKeys.Duplicates(rows, key));
                    Assert.All(key, column => Assert.True(key.Count == 1 || CandidateKeys.Duplicates(rows, [column]) > 0));
                }
            });

    private static TableRows Rows(string columns, IEnumerable<string?[]> rows) =>
        new MakeRows().Table("t", columns, rows, key: []).Rows.Values.Single();
}
