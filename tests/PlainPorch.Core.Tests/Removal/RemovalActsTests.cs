using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Removal;

public sealed class RemovalActsTests
{
    private const int Tables = 5;

    private static readonly Gen<(int From, int To, bool GoesAlong, bool IsDeclared)> _reference = Gen.Select(
        Gen.Int[0, Tables - 1],
        Gen.Int[0, Tables - 1],
        Gen.Bool,
        Gen.Bool
    );

    [Fact]
    public void From_AnyReferences_ReachesWhatGoesAlong_AndTreatsNoneMoreGentlyThanTheDatabaseAllows() =>
        Gen.Select(_reference.List[0, 10], Gen.Int[0, 31], Gen.OneOfConst(RowAct.Mark, RowAct.Move, RowAct.Erase))
            .Sample(
                (references, marked, act) =>
                {
                    var harbour = new Harbour();
                    foreach (var table in Enumerable.Range(0, Tables))
                    {
                        harbour.Table(
                            $"t{table}",
                            (marked >> table & 1) == 1 ? RemovalManner.Mark : RemovalManner.Keep,
                            [
                                .. references
                                    .Where(one => one.From == table)
                                    .Select(
                                        (one, i) =>
                                            (
                                                $"c{i}",
                                                $"t{one.To}",
                                                (RemovalEffect?)(one.GoesAlong ? RemovalEffect.GoesAlong : RemovalEffect.Left),
                                                one.IsDeclared ? DeleteRule.Forbid : (DeleteRule?)null
                                            )
                                    ),
                            ]
                        );
                    }

                    var porch = harbour.Porch;
                    var known = new RemovalReferences(porch);
                    var root = new TableName("public", "t0");
                    var acts = RemovalActs.From(porch, known, root, act);
                    Assert.True(acts.Of(root) >= act);
                    foreach (var table in acts.Tables)
                    {
                        foreach (
                            var reference in known
                                .To(table)
                                .Where(reference => reference.EffectOf(acts.Of(table)).Effect is RemovalEffect.GoesAlong)
                        )
                        {
                            Assert.Contains(reference.Table.Name, acts.Tables);
                            if (acts.Of(table) is RowAct.Erase)
                                Assert.Equal(RowAct.Erase, acts.Of(reference.Table.Name));
                            if (acts.Of(table) is RowAct.Move && reference.Declared is not null)
                                Assert.NotEqual(RowAct.Mark, acts.Of(reference.Table.Name));
                        }
                    }

                    // Nothing is reached but along such references.
                    var reached = new HashSet<TableName> { root };
                    while (
                        acts.Tables.FirstOrDefault(table =>
                            !reached.Contains(table)
                            && reached.Any(from =>
                                known
                                    .To(from)
                                    .Any(reference =>
                                        reference.Table.Name == table
                                        && reference.EffectOf(acts.Of(from)).Effect is RemovalEffect.GoesAlong
                                    )
                            )
                        )
                            is { } next
                    )
                    {
                        reached.Add(next);
                    }

                    Assert.Equal(acts.Tables.Count, reached.Count);
                }
            );

    [Fact]
    public void From_ATableThatHasToLeave_TakesAlongWhatOnlyMarkedWouldStay()
    {
        var harbour = new Harbour()
            .Table("owner", RemovalManner.Keep)
            .Table("boat", RemovalManner.Mark, ("owner", "owner", RemovalEffect.GoesAlong, DeleteRule.Forbid))
            .Table("stay", RemovalManner.Mark, ("boat", "boat", RemovalEffect.GoesAlong, null));
        var acts = RemovalActs.From(
            harbour.Porch,
            new RemovalReferences(harbour.Porch),
            new TableName("public", "owner"),
            RowAct.Move
        );
        Assert.Equal(
            "boat Move, stay Mark",
            string.Join(", ", acts.Tables.Where(table => table.Name != "owner").Select(table => $"{table.Name} {acts.Of(table)}"))
        );
    }
}
