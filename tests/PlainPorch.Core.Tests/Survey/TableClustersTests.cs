using CsCheck;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class TableClustersTests
{
    [Fact]
    public void Find_TwoHeapsOfReferences_MakeTwoGroups()
    {
        var clusters = Find(["owner", "boat", "stay", "recipe", "part"], ("boat", "owner"), ("stay", "boat"), ("part", "recipe"));
        Assert.Equal(
            ["boat, owner, stay", "part, recipe"],
            clusters
                .Select(cluster => string.Join(", ", cluster.Select(table => table.Name).Order(StringComparer.Ordinal)))
                .Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public void Find_WhatEverythingRefersTo_BringsNothingTogether()
    {
        var names = Enumerable.Range(1, 20).Select(n => $"alone{(char)('a' + n)}").Append("users").ToList();
        var clusters = Find(names, [.. names.SkipLast(1).Select(name => (name, "users"))]);
        Assert.All(clusters, cluster => Assert.Single(cluster));
    }

    [Fact]
    public void Find_TablesThatBeginAlike_AreOneModule() =>
        Assert.Contains(Find(["wage_run", "wage_line", "wage_type", "boat"]), cluster => cluster.Count == 3);

    [Fact]
    public void Find_AnySchema_GroupsEachTableOnceAndWithinTheBound() =>
        Gen.Int[2, 60]
            .SelectMany(count =>
                Gen.Select(Gen.Const(count), Gen.Select(Gen.Int[0, count - 1], Gen.Int[0, count - 1]).Array[0, 120])
            )
            .Sample(
                (count, pairs) =>
                {
                    var names = Enumerable.Range(0, count).Select(n => $"t{n}x{n % 7}").ToList();
                    var clusters = Find(names, [.. pairs.Select(pair => (names[pair.Item1], names[pair.Item2]))]);
                    return clusters
                            .SelectMany(cluster => cluster)
                            .Select(table => table.Name)
                            .Order()
                            .SequenceEqual(names.Order())
                        && clusters.All(cluster => cluster.Count <= TableClusters.MaxSize(count));
                }
            );

    private static IReadOnlyList<IReadOnlyList<TableName>> Find(
        IReadOnlyList<string> names,
        params (string From, string To)[] references
    )
    {
        var tables = names.Select(name => new TableName("public", name)).ToList();
        return TableClusters.Find(
            tables,
            tables.ToDictionary(table => table, _ => TableShape.Main),
            [
                .. references.Select(pair => new Reference
                {
                    Table = new TableName("public", pair.From),
                    Columns = ["x"],
                    Target = new TableName("public", pair.To),
                    TargetColumns = ["id"],
                    Confidence = 1,
                    Evidence = "",
                }),
            ]
        );
    }
}
