using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tests.Records;

/// <summary>Each sort of condition that there is comes to a statement and names its columns: a new one cannot be forgotten anywhere.</summary>
public sealed class FilterTreeTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static readonly TableName _name = new("zoo", "leaves");
    private static readonly DayReading _day = new() { Pattern = "yyyyMMdd" };

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    // With the columns that it asks about, and how many of the rows fulfil it.
    private static readonly IReadOnlyList<(Filter Filter, string Columns, long Rows)> _samples =
    [
        (new Filter.All([new Filter.EqualTo("id", "1"), new Filter.EqualTo("name", "Ash")]), "id name", 1),
        (new Filter.Any([new Filter.EqualTo("id", "1"), new Filter.EqualTo("id", "2")]), "id id", 2),
        (new Filter.Not(new Filter.EqualTo("size", "5")), "size", 3),
        (new Filter.Matches("name", "as", TextMatch.Anywhere), "name", 1),
        (new Filter.OccursIn(["fell", "name"], "2026", CaseCounts: false), "fell name", 2),
        (new Filter.EqualTo("name", "Ash"), "name", 1),
        (new Filter.Compared("size", Comparison.More, "5"), "size", 1),
        (new Filter.ComparedWith("size", Comparison.More, "id"), "size id", 2),
        (new Filter.OneOf("id", ["1", "3", "9"]), "id", 2),
        (new Filter.OneOfAlike("name", ["ASH"]), "name", 1),
        (new Filter.Empty("size"), "size", 1),
        (new Filter.Marked("id", "2"), "id", 1),
        (new Filter.ReadAs("fell", _day, Comparison.Less, "2026-05-01"), "fell", 1),
        (new Filter.Fits("fell", _day), "fell", 2),
        (new Filter.Holds("tags", new ListReading { Sign = "," }, "b"), "tags", 2),
        (new Filter.Refers("above", new Lookup { Table = _name, Key = "id" }, new Filter.EqualTo("name", "Ash")), "above", 2),
        (new Filter.Alone(["above"]), "above", 2),
        (new Filter.At(new RowPlace(0, "(0,1)", 0)), "", 0),
        (new Filter.Fulfils(new AskedRule(new Rule.Literal(RuleType.Truth, true), new RuleAsking(DateTime.UnixEpoch))), "", 4),
        (new Filter.WrittenBy(0), "", 0),
    ];

    [Fact]
    public void EverySort_HasASample()
    {
        var sorts = typeof(Filter).GetNestedTypes().Where(type => type.IsSubclassOf(typeof(Filter))).Select(type => type.Name);
        Assert.Equal(sorts.Order(), _samples.Select(sample => sample.Filter.GetType().Name).Order());
    }

    [Fact]
    public async Task EverySort_NamesItsColumns_AndIsCarriedOut()
    {
        await database.ExecuteAsync(
            """
            CREATE TABLE zoo.leaves (id int PRIMARY KEY, name text, size int, fell text, tags text, above int);
            INSERT INTO zoo.leaves VALUES (1, 'Ash', 5, '20260401', 'a,b', NULL), (2, 'Elm', 7, '20260601', 'b', 1),
                (3, 'Oak', NULL, 'soon', 'c', 1), (4, 'Yew', 3, NULL, NULL, NULL)
            """
        );
        var seen = await database.OpenAsync("zoo", "leaves");
        await using var connection = await database.Source.OpenConnectionAsync(Token);
        var reader = new SourceReader(seen.Model, connection);
        foreach (var (filter, columns, rows) in _samples)
        {
            Assert.Equal(columns, string.Join(' ', filter.AskedColumns()));
            Assert.Equal((filter, rows), (filter, await reader.CountAsync(seen.Panel.Table, filter, 100, Token)));
        }
    }
}
