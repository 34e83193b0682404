using System.Text.Json;
using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;

namespace PlainPorch.Core.Tests.Drafting;

/// <summary>A new draft goes through where nobody decided, and stops where somebody did.</summary>
public sealed class RedraftTests
{
    private static readonly PanelDefinition _before = new()
    {
        Slug = "boats",
        Label = "Boats",
        RecordLabel = "boat",
        Table = new("public", "boats"),
        Title = "{name}",
        Group = "Harbour",
        Columns =
        [
            new PanelColumn
            {
                Name = "name",
                Label = "Name",
                InList = true,
            },
            new PanelColumn { Name = "owner.no", Label = "Owner number" },
        ],
    };

    private static readonly PanelDefinition _anew = _before with
    {
        Slug = "boats-2",
        Group = "Other records",
        Title = "{name} ({no})",
        Columns =
        [
            _before.Columns[0] with
            {
                Searched = true,
            },
            _before.Columns[1] with
            {
                Label = "Owner",
                InList = true,
                Lookup = new Lookup { Table = new("public", "owners"), Key = "no" },
            },
        ],
    };

    private static readonly DraftedPanel _drafted = new(_anew, [new("columns.owner.no.lookup", "it refers to owners")]);

    [Fact]
    public void Differences_OfAPanelAsDrafted_AreAllNobodys()
    {
        var found = Redraft.Differences(_before, _drafted, _before);
        Assert.Equal(
            ["columns.name.searched", "columns.owner.no.inList", "columns.owner.no.label", "columns.owner.no.lookup", "title"],
            found.Select(difference => difference.Part).Order(StringComparer.Ordinal)
        );
        Assert.DoesNotContain(found, difference => difference.ByHand);
        Assert.Equal("it refers to owners", found.Single(difference => difference.Part == "columns.owner.no.lookup").Why);
        var taken = Redraft.Take(_before, _anew, Redraft.Following(found));
        Assert.Equal(Json(_anew with { Slug = "boats", Group = "Harbour" }), Json(taken));
    }

    [Fact]
    public void Follow_WhatWasDecidedByHand_StaysAndTheRestFollows()
    {
        var present = _before with
        {
            Title = "{owner.no}",
            Columns = [_before.Columns[0], _before.Columns[1] with { Label = "Skipper" }],
        };
        var found = Redraft.Differences(present, _drafted, _before);
        Assert.Equal(
            ["columns.owner.no.label", "title"],
            found.Where(difference => difference.ByHand).Select(difference => difference.Part).Order(StringComparer.Ordinal)
        );
        var taken = Redraft.Take(present, _anew, Redraft.Following(found));
        Assert.Equal(("{owner.no}", "Skipper"), (taken.Title, taken.Columns[1].Label));
        Assert.Equal("owners", taken.Columns[1].Lookup!.Table.Name);
    }

    [Fact]
    public void Differences_OfAPanelWhoseDraftIsNotKnown_CountAsDecided() =>
        Assert.All(Redraft.Differences(_before, _drafted, null), difference => Assert.True(difference.ByHand));

    [Fact]
    public void Take_AnyParts_LeavesNoDifferenceThereAndAllOthers() =>
        Gen.Int[0, 31]
            .Sample(bits =>
            {
                var all = Redraft.Differences(_before, _drafted, _before).Select(difference => difference.Part).ToList();
                var parts = all.Where((_, i) => (bits & (1 << i)) != 0).ToHashSet();
                var left = Redraft.Differences(Redraft.Take(_before, _anew, parts), _drafted, _before);
                Assert.Equal(
                    all.Except(parts).Order(StringComparer.Ordinal),
                    left.Select(difference => difference.Part).Order(StringComparer.Ordinal)
                );
            });

    private static string Json(PanelDefinition panel) => JsonSerializer.Serialize(panel, DefinitionJson.Options);
}
