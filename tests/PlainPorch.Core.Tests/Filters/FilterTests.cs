using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Filters;

public sealed class FilterTests
{
    private static readonly Filter _word = new Filter.Matches("name", "lass", TextMatch.Anywhere);
    private static readonly Filter _words = new Filter.OccursIn(["maker", "place"], "quay", CaseCounts: false);
    private static readonly Filter _value = new Filter.EqualTo("rig", "SLO");

    [Fact]
    public void AskedColumns_AreThoseOfTheRecordItself()
    {
        var lookup = new Lookup { Table = new TableName("public", "owners"), Key = "no" };
        Filter all = new Filter.All([
            new Filter.Any([_word, _words]),
            new Filter.Not(_value),
            new Filter.Compared("built", Comparison.More, "2000"),
            new Filter.ComparedWith("sold", Comparison.Less, "built"),
            new Filter.OneOf("id", ["1"]),
            new Filter.OneOfAlike("code", ["A"]),
            new Filter.Empty("note"),
            new Filter.Refers("owner", lookup, new Filter.EqualTo("surname", "West")),
        ]);
        Assert.Equal(
            ["built", "code", "id", "maker", "name", "note", "owner", "place", "rig", "sold"],
            all.AskedColumns().Distinct().Order()
        );
    }

    [Fact]
    public void IsHardToGuess_SeveralConditionsWithAText_Only()
    {
        Assert.True(new Filter.All([_word, _words]).IsHardToGuess());
        Assert.True(new Filter.All([new Filter.Any([_words, _value]), _value]).IsHardToGuess());
        Assert.False(_words.IsHardToGuess());
        Assert.False(new Filter.Any([_word, _words]).IsHardToGuess());
        Assert.False(new Filter.All([_value, new Filter.Empty("note")]).IsHardToGuess());
        Assert.False(new Filter.All([_word]).IsHardToGuess());
        // What is left out is found by no index.
        Assert.False(new Filter.All([_value, new Filter.Not(_word)]).IsHardToGuess());
    }

    [Fact]
    public void Join_LeavesOutWhatIsMissing()
    {
        Assert.Null(Filter.Join(null, null));
        Assert.Same(_word, Filter.Join(null, _word));
        Assert.Equal([_word, _value], Assert.IsType<Filter.All>(Filter.Join(_word, null, _value)).Parts);
    }
}
