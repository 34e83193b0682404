using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Removal;

public sealed class RemovalWalkTests
{
    [Fact]
    public async Task PlanAsync_WhatBelongsToARecord_GoesAlong_AndTheRestIsLeft()
    {
        var harbour = Owners(RemovalEffect.GoesAlong, null);
        var plan = await harbour.PlanAsync("owner", RowAct.Mark, 1);
        Assert.Equal("owner Mark 1, boat Mark 2, stay Move 3", Taken(plan));
        Assert.Empty(plan.Touched);
        Assert.False(plan.IsForbidden);
    }

    [Fact]
    public async Task PlanAsync_MarkedRecord_MayGoOnBeingReferredTo()
    {
        var plan = await Owners(null, null).PlanAsync("owner", RowAct.Mark, 1);
        Assert.Equal("owner Mark 1", Taken(plan));
        Assert.Equal("boat Left 2", Touched(plan));
        Assert.False(plan.IsForbidden);
    }

    [Theory]
    [InlineData(null, "boat Forbids 2", true)]
    [InlineData(RemovalEffect.Detached, "boat Detached 2", false)]
    [InlineData(RemovalEffect.Left, "boat Left 2", false)]
    public async Task PlanAsync_RecordThatLeaves_IsHeldUnlessSomebodyDecidedOtherwise(
        RemovalEffect? effect,
        string touched,
        bool isForbidden
    )
    {
        var plan = await Owners(effect, null).PlanAsync("owner", RowAct.Move, 1);
        Assert.Equal(touched, Touched(plan));
        Assert.Equal(isForbidden, plan.IsForbidden);
    }

    [Theory]
    [InlineData(DeleteRule.Cascade, null, "boat Move 2", "")]
    [InlineData(DeleteRule.Cascade, RemovalEffect.Left, "boat Move 2", "")]
    [InlineData(DeleteRule.SetNull, null, "", "boat Detached 2")]
    [InlineData(DeleteRule.Forbid, RemovalEffect.Left, "", "boat Forbids 2")]
    [InlineData(DeleteRule.Forbid, RemovalEffect.GoesAlong, "boat Move 2", "")]
    public async Task PlanAsync_DeclaredKey_DoesWhatTheDatabaseDoes(
        DeleteRule rule,
        RemovalEffect? decided,
        string along,
        string touched
    )
    {
        var plan = await Owners(decided, rule).PlanAsync("owner", RowAct.Move, 1);
        Assert.StartsWith("owner Move 1" + (along.Length > 0 ? ", " + along : ""), Taken(plan), StringComparison.Ordinal);
        Assert.Equal(touched, Touched(plan));
    }

    [Fact]
    public async Task PlanAsync_WhatStandsInTheWayButGoesByAnotherWay_IsNoObstacle()
    {
        var harbour = new Harbour()
            .Table("customer", RemovalManner.Keep)
            .Table("job", RemovalManner.Keep, ("customer", "customer", RemovalEffect.GoesAlong, null))
            .Table(
                "line",
                RemovalManner.Keep,
                ("job", "job", RemovalEffect.GoesAlong, null),
                ("customer", "customer", RemovalEffect.Forbids, null)
            )
            .Row("customer", 1)
            .Row("job", 1, ("customer", 1))
            .Row("line", 1, ("job", 1), ("customer", 1))
            .Row("line", 2, ("job", 7), ("customer", 1));
        var plan = await harbour.PlanAsync("customer", RowAct.Move, 1);
        Assert.Equal("customer Move 1, job Move 1, line Move 1", Taken(plan));
        Assert.Equal("line Forbids 1", Touched(plan));
    }

    [Fact]
    public async Task PlanAsync_CirclesAndSelfReferences_End()
    {
        var harbour = new Harbour()
            .Table(
                "a",
                RemovalManner.Keep,
                ("b", "b", RemovalEffect.GoesAlong, DeleteRule.Forbid),
                ("parent", "a", RemovalEffect.GoesAlong, null)
            )
            .Table("b", RemovalManner.Keep, ("a", "a", RemovalEffect.GoesAlong, DeleteRule.Forbid))
            .Row("a", 1, ("b", 1), ("parent", null))
            .Row("a", 2, ("b", null), ("parent", 1))
            .Row("a", 3, ("b", null), ("parent", 3))
            .Row("b", 1, ("a", 1));
        var plan = await harbour.PlanAsync("a", RowAct.Move, 1);
        Assert.Equal("a Move 2, b Move 1", Taken(plan));
        Assert.Equal(2, Assert.Single(plan.Order).Count);
    }

    [Fact]
    public async Task Fingerprint_ChangesWithAnyRowThatIsTouched()
    {
        var harbour = Owners(null, null);
        var before = (await harbour.PlanAsync("owner", RowAct.Mark, 1)).Fingerprint;
        Assert.Equal(before, (await harbour.PlanAsync("owner", RowAct.Mark, 1)).Fingerprint);
        Assert.NotEqual(before, (await harbour.PlanAsync("owner", RowAct.Erase, 1)).Fingerprint);
        harbour.Row("boat", 9, ("owner", 1));
        Assert.NotEqual(before, (await harbour.PlanAsync("owner", RowAct.Mark, 1)).Fingerprint);
    }

    [Fact]
    public Task PlanAsync_RandomTables_TakesJustWhatCanBeReached() =>
        Gen.Select(
                Gen.Select(
                    Gen.Int[0, 3],
                    Gen.Int[0, 3],
                    Gen.OneOfConst<RemovalEffect?>(RemovalEffect.GoesAlong, RemovalEffect.Left, null)
                ).List[1, 6],
                Gen.Select(Gen.Int[0, 3], Gen.Int[1, 5], Gen.Int[0, 5].List[6, 6]).List[1, 15],
                Gen.Enum<RowAct>()
            )
            .SampleAsync(
                async (references, rows, act) =>
                {
                    var harbour = new Harbour();
                    for (var t = 0; t < 4; t++)
                        harbour.Table(
                            $"t{t}",
                            RemovalManner.Keep,
                            [
                                .. references
                                    .Select((reference, i) => (reference, i))
                                    .Where(pair => pair.reference.Item1 == t)
                                    .Select(pair =>
                                        ($"r{pair.i}", $"t{pair.reference.Item2}", pair.reference.Item3, (DeleteRule?)null)
                                    ),
                            ]
                        );
                    foreach (var (table, id, values) in rows.DistinctBy(row => (row.Item1, row.Item2)))
                        harbour.Row(
                            $"t{table}",
                            id,
                            [
                                .. references
                                    .Select((reference, i) => (reference, i))
                                    .Where(pair => pair.reference.Item1 == table)
                                    .Select(pair => ($"r{pair.i}", (int?)values[pair.i])),
                            ]
                        );
                    if (harbour.Rows["t0"].Count == 0)
                        return;
                    var plan = await harbour.PlanAsync("t0", act, int.Parse(harbour.Rows["t0"][0]["id"]!, null));
                    var reached = new HashSet<(int Table, string Id)> { (0, harbour.Rows["t0"][0]["id"]!) };
                    // By brute force: go on until nothing new comes.
                    for (var before = 0; before != reached.Count; )
                    {
                        before = reached.Count;
                        for (var i = 0; i < references.Count; i++)
                        {
                            if (references[i].Item3 is not RemovalEffect.GoesAlong)
                                continue;
                            foreach (
                                var row in harbour
                                    .Rows[$"t{references[i].Item1}"]
                                    .Where(row => row[$"r{i}"] is { } value && reached.Contains((references[i].Item2, value)))
                            )
                                reached.Add((references[i].Item1, row["id"]!));
                        }
                    }

                    Assert.Equal(
                        reached.Select(one => $"t{one.Table}/{one.Id}").Order(),
                        plan.Taken.SelectMany(taken => taken.Rows).Select(row => row.Place).Order()
                    );
                    Assert.All(plan.Touched, touched =>
                        Assert.DoesNotContain(touched.Rows, row =>
                            plan.Taken.Any(taken => taken.Table == touched.Reference.Table && taken.Has(row))
                        )
                    );
                }
            );

    private static Harbour Owners(RemovalEffect? ofBoats, DeleteRule? declared) =>
        new Harbour()
            .Table("owner", RemovalManner.Mark)
            .Table("boat", RemovalManner.Mark, ("owner", "owner", ofBoats, declared))
            .Table("stay", RemovalManner.Keep, ("boat", "boat", RemovalEffect.GoesAlong, null))
            .Row("owner", 1)
            .Row("owner", 2)
            .Row("boat", 1, ("owner", 1))
            .Row("boat", 2, ("owner", 1))
            .Row("boat", 3, ("owner", 2))
            .Row("stay", 1, ("boat", 1))
            .Row("stay", 2, ("boat", 1))
            .Row("stay", 3, ("boat", 2))
            .Row("stay", 4, ("boat", 3));

    private static string Taken(RemovalPlan plan) =>
        string.Join(", ", plan.Taken.Select(taken => $"{taken.Label} {taken.Act} {taken.Rows.Count}"));

    private static string Touched(RemovalPlan plan) =>
        string.Join(", ", plan.Touched.Select(touched => $"{touched.Reference.Label} {touched.Effect} {touched.Rows.Count}"));
}
