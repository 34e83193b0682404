using CsCheck;
using PlainPorch.Core.Tidying;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Tidying;

public sealed class SpellingGroupsTests
{
    [Theory]
    [InlineData("Oak|OAK|oak ", Likeness.Signs)]
    [InlineData("GRP|G.R.P.|g.r.p", Likeness.Signs)]
    [InlineData("Fibre-glass|Fibreglass|FIBRE GLASS", Likeness.Signs)]
    [InlineData("Łódź|Lodz|LODZ", Likeness.Signs)]
    [InlineData("Straße|STRASSE", Likeness.Signs)]
    [InlineData("O'Neill|O\u2019Neill|ONEILL", Likeness.Signs)]
    [InlineData("West, Sid|Sid West|WEST Sid", Likeness.WordOrder)]
    [InlineData("Glass reinforced plastic|GRP|G.R.P.", Likeness.Initials)]
    public void Alike_AreOneGroup(string values, Likeness by)
    {
        var group = Assert.Single(Find(values.Split('|').Select((value, i) => new Spelling(value, 10 - i))));
        Assert.Equal(by, group.By);
        Assert.Equal(values.Split('|'), group.Spellings.Select(spelling => spelling.Value));
    }

    [Theory]
    [InlineData("Mahogany", "Mahogony")]
    [InlineData("Steel", "Stele")]
    [InlineData("Aluminium", "Alumminum")]
    [InlineData("Harbour Road", "Harbor Road")]
    public void MistypedOnes_GoToTheFrequentOne(string often, string rarely)
    {
        var group = Assert.Single(Find([new(rarely, 2), new(often, 40), new("Something else", 3)]));
        Assert.Equal((Likeness.Letters, often), (group.By, group.Spellings[0].Value));
    }

    [Theory]
    [InlineData("Berth 11", "Berth 12")]
    [InlineData("GRP", "fibreglass")]
    [InlineData("oak", "ash")]
    [InlineData("Wood", "Food")]
    [InlineData("?", "-")]
    [InlineData("C+", "D+")]
    public void OtherThings_StayApart(string one, string other) => Assert.Empty(Find([new(one, 40), new(other, 1)]));

    [Theory]
    [InlineData("WOOD:349|Wood:341|wood:325", "Wood")]
    [InlineData("steel:421|Steel:362", "Steel")]
    [InlineData("GRP:1128|G.R.P.:353|grp:350|Grp:3", "GRP")]
    public void WhatIsProposed_IsWrittenWithCare_WhereThatIsNearlyAsFrequent(string values, string proposed) =>
        Assert.Equal(
            proposed,
            Assert
                .Single(
                    Find(
                        values
                            .Split('|')
                            .Select(value => value.Split(':'))
                            .Select(parts => new Spelling(
                                parts[0],
                                long.Parse(parts[1], System.Globalization.CultureInfo.InvariantCulture)
                            ))
                    )
                )
                .Spellings[0]
                .Value
        );

    [Fact]
    public void TwoFrequentOnes_AreTwoThings_HoweverNear() => Assert.Empty(Find([new("Martin", 40), new("Marvin", 30)]));

    [Fact]
    public void Initials_ThatTwoNamesHave_AreOfNeither() =>
        Assert.Empty(Find([new("Great Britain", 9), new("Gift Bag", 3), new("GB", 40)]));

    [Fact]
    public void AChain_LeadsNotFromOneWordToAnother()
    {
        // Each is one letter from the next; the ends have nothing in common but that.
        var groups = Find([new("Marina", 100), new("Marine", 20), new("Martine", 4), new("Martins", 1)]);
        Assert.All(groups, group => Assert.InRange(group.Spellings.Count, 2, 3));
        Assert.DoesNotContain(groups, group =>
            group.Spellings.Any(one => one.Value == "Marina") && group.Spellings.Any(one => one.Value == "Martins")
        );
    }

    [Fact]
    public void Groups_HoldEachSpellingOnce_AndWhatIsAlikeTogether() =>
        Words
            .Array[0, 40]
            .Sample(values =>
            {
                var spellings = values.Distinct().Select((value, i) => new Spelling(value, 1 + i % 7)).ToList();
                var groups = Find(spellings);
                var grouped = groups.SelectMany(group => group.Spellings).ToList();
                Assert.Equal(grouped.Count, grouped.Distinct().Count());
                Assert.Subset(spellings.ToHashSet(), grouped.ToHashSet());
                foreach (var alike in spellings.GroupBy(spelling => SpellingForm.Of(spelling.Value).Letters))
                {
                    if (alike.Key.Length > 0 && alike.Count() > 1)
                        Assert.Contains(groups, group => alike.All(group.Spellings.Contains));
                }
            });

    [Fact]
    public void NearWords_FindWhatComparingEachWithEachFinds() =>
        Gen.String[Gen.Char["abc"], 1, 13]
            .Array[1, 60]
            .Sample(words =>
            {
                var near = new NearWords();
                foreach (var word in words.Distinct())
                    near.Add(word);
                foreach (var word in words)
                    Assert.Equal(
                        words
                            .Distinct()
                            .Where(other =>
                                NearWords.MostBetween(word, other) is > 0 and var most && EditDistance.IsWithin(word, other, most)
                            )
                            .Order(StringComparer.Ordinal),
                        near.Near(word).Order(StringComparer.Ordinal)
                    );
            });

    [Fact]
    public void EditDistance_IsTheSameFromBothSides_AndCountsEachChangeOnce() =>
        Gen.Select(Gen.String[Gen.Char["abcd"], 0, 12], Gen.Int[0, 3], Gen.Int[0, 1_000_000])
            .Sample(
                (word, changes, seed) =>
                {
                    var other = word;
                    var random = new Random(seed);
                    for (var i = 0; i < changes; i++)
                        other = Changed(other, random);
                    Assert.Equal(EditDistance.IsWithin(word, other, 2), EditDistance.IsWithin(other, word, 2));
                    if (changes <= 1)
                        Assert.True(EditDistance.IsWithin(word, other, changes));
                }
            );

    private static Gen<string> Words => Gen.String[Gen.Char["aAbB .-é"], 0, 8];

    private static string Changed(string word, Random random)
    {
        var at = random.Next(word.Length + 1);
        return random.Next(3) switch
        {
            0 => word.Insert(at, "x"),
            1 when at < word.Length => word.Remove(at, 1),
            _ when at + 1 < word.Length => word[..at] + word[at + 1] + word[at] + word[(at + 2)..],
            _ => word,
        };
    }

    private static IReadOnlyList<SpellingGroup> Find(IEnumerable<Spelling> spellings) => SpellingGroups.Find(spellings);
}
