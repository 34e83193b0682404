using CsCheck;
using PlainPorch.Core.Removal;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Removal;

public sealed class RemovalOrderTests
{
    [Fact]
    public void Of_RandomTables_DeletesWhatRefersFirst_AndCirclesTogether() =>
        Gen.Select(Gen.Int[0, 5], Gen.Int[0, 5])
            .List[0, 12]
            .Sample(references =>
            {
                var tables = Enumerable
                    .Range(0, 6)
                    .Select(t =>
                        Make.Table([Make.Column("id")]) with
                        {
                            Name = new TableName("s", $"t{t}"),
                            ForeignKeys =
                            [
                                .. references
                                    .Where(reference => reference.Item1 == t)
                                    .Select(reference => new ForeignKey(
                                        "k",
                                        ["id"],
                                        new TableName("s", $"t{reference.Item2}"),
                                        ["id"],
                                        DeleteRule.Forbid
                                    )),
                            ],
                        }
                    )
                    .ToList();
                var order = RemovalOrder.Of(tables);
                Assert.Equal(
                    tables.Select(table => table.Name.Name).Order(),
                    order.SelectMany(group => group).Select(name => name.Name).Order()
                );
                var group = order
                    .SelectMany((names, i) => names.Select(name => (name.Name, i)))
                    .ToDictionary(pair => pair.Name, pair => pair.i);
                foreach (var (from, to) in references)
                    Assert.True(group[$"t{from}"] <= group[$"t{to}"]);
                var reaches = Enumerable.Range(0, 6).Select(from => Reach(from, references)).ToList();
                for (var a = 0; a < 6; a++)
                {
                    for (var b = 0; b < 6; b++)
                        Assert.Equal(
                            a == b || (reaches[a].Contains(b) && reaches[b].Contains(a)),
                            group[$"t{a}"] == group[$"t{b}"]
                        );
                }
            });

    private static HashSet<int> Reach(int from, List<(int From, int To)> references)
    {
        var reached = new HashSet<int>();
        var open = new Queue<int>([from]);
        while (open.TryDequeue(out var at))
        {
            foreach (
                var to in references.Where(reference => reference.From == at).Select(reference => reference.To).Where(reached.Add)
            )
                open.Enqueue(to);
        }

        return reached;
    }
}
