using CsCheck;
using PlainPorch.Core.History;

namespace PlainPorch.Core.Tests.History;

public sealed class HistoryTests
{
    private static readonly string[] _columns = ["name", "length", "built"];

    [Fact]
    public void Between_SensitiveValue_TellsOnlyThatItChanged()
    {
        var panel = Make.Panel(Make.Boats(), column => column with { IsSensitive = column.Name == "name" });
        var changes = ValueChange.Between(
            panel,
            new Dictionary<string, string?>
            {
                ["name"] = "a",
                ["length"] = "1",
                ["built"] = "2001-01-01",
            },
            new Dictionary<string, string?>
            {
                ["name"] = "b",
                ["length"] = "2",
                ["built"] = "2001-01-01",
            }
        );
        Assert.Equal([new ValueChange("name", null, null, IsHidden: true), new ValueChange("length", "1", "2")], changes);
    }

    [Fact]
    public void Before_RandomChanges_GivesEachEarlierState() =>
        Gen.Select(Gen.OneOfConst(_columns), Gen.Int[0, 3])
            .List[0, 12]
            .Sample(steps =>
            {
                var states = new List<Dictionary<string, string?>>
                {
                    new()
                    {
                        ["name"] = null,
                        ["length"] = null,
                        ["built"] = null,
                    },
                };
                var changes = new List<ValueChange>();
                foreach (var (column, value) in steps)
                {
                    var next = new Dictionary<string, string?>(states[^1]) { [column] = value == 0 ? null : $"{value}" };
                    changes.Add(new ValueChange(column, states[^1][column], next[column]));
                    states.Add(next);
                }

                for (var back = 0; back <= changes.Count; back++)
                    Assert.Equal(states[^(back + 1)], EarlierState.Before(states[^1], Enumerable.Reverse(changes).Take(back)));
                Assert.Empty(EarlierState.ChangedElsewhere(states[^1], Enumerable.Reverse(changes)));
            });

    [Theory]
    [InlineData("9", "id:7:9", "7")]
    [InlineData("9", "id:7:8", null)]
    [InlineData("9", "name:a:b", null)]
    [InlineData("9", "id::9", null)]
    [InlineData("9,K03", "id:7:9", "7,K03")]
    [InlineData("9,K03", "id:7:9 kit:K01:K03", "7,K01")]
    [InlineData("9,K03", "id:9:9", null)]
    [InlineData("9,K03,2", "id:7:9", null)]
    public void KeyBefore_AStepThatGaveIt_IsTheOneBefore(string key, string changes, string? before)
    {
        string[] identity = key.Contains(',', StringComparison.Ordinal) ? ["id", "kit"] : ["id"];
        var read = changes
            .Split(' ')
            .Select(text => text.Split(':'))
            .Select(part => new ValueChange(part[0], part[1].Length == 0 ? null : part[1], part[2]))
            .ToList();
        Assert.Equal(before, EarlierState.KeyBefore(identity, key, read));
        Assert.Null(EarlierState.KeyBefore(identity, key, [.. read.Select(change => change with { IsHidden = true })]));
    }

    [Fact]
    public void ChangedElsewhere_ValueThatTheLogbookDoesNotKnow_IsTold()
    {
        ValueChange[] changes = [new("name", "b", "c"), new("name", "a", "b"), new("secret", null, null, IsHidden: true)];
        var now = new Dictionary<string, string?> { ["name"] = "d", ["secret"] = "x" };
        Assert.Equal([new ValueChange("name", "c", "d")], EarlierState.ChangedElsewhere(now, changes));
    }
}
