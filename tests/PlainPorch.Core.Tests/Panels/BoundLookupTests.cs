using System.Globalization;
using CsCheck;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Panels;

public sealed class BoundLookupTests
{
    private static readonly Table _owners = Make.Table(
        [Make.Column("no", ValueKind.Integer, nullable: false), Make.Column("name"), Make.Column("list")],
        Make.Primary("no")
    );

    [Fact]
    public void ReferringValues_OfANumber_AreAllItsWritings_AndEachMeansIt() =>
        Gen.Select(Gen.Int[0, 99_999_999], Gen.Int[1, 12])
            .Sample(
                (number, length) =>
                {
                    var key = number.ToString(CultureInfo.InvariantCulture);
                    var lookup = Bind(ValueConversion.TextToInteger);
                    var column = Make.Column("owner") with
                    {
                        Type = new ColumnType
                        {
                            StoreType = $"varchar({length})",
                            Kind = ValueKind.Text,
                            MaxLength = length,
                        },
                    };
                    var values = lookup.ReferringValues(column, key);
                    Assert.All(values, value => Assert.Equal(key, lookup.KeyOf(value)));
                    Assert.Equal(values.Count, values.Distinct().Count());
                    Assert.Equal(key, values[0]);
                    Assert.All(values, value => Assert.True(value.Length <= Math.Max(length, key.Length)));
                }
            );

    [Theory]
    [InlineData(ValueConversion.None, " 07", " 07")]
    [InlineData(ValueConversion.TextToInteger, " 07 ", "7")]
    [InlineData(ValueConversion.TextToInteger, "-7", "-7")]
    [InlineData(ValueConversion.TextToInteger, "7a", "7a")]
    [InlineData(ValueConversion.TextToInteger, "99999999999999999999", "99999999999999999999")]
    [InlineData(ValueConversion.TrimmedAnyCase, " aB ", "AB")]
    public void KeyOf_AReferringValue_IsTheKeyThatItMeans(ValueConversion conversion, string value, string key) =>
        Assert.Equal(key, Bind(conversion).KeyOf(value));

    [Theory]
    [InlineData(ValueConversion.TextToInteger, "12", "0007", "0012")]
    [InlineData(ValueConversion.TextToInteger, "12", null, "12")]
    [InlineData(ValueConversion.TextToInteger, "12", "x7", "12")]
    [InlineData(ValueConversion.TextToInteger, "12345", "07", "12345")]
    [InlineData(ValueConversion.None, "12", "0007", "12")]
    public void WrittenAs_OtherValuesAre(ValueConversion conversion, string key, string? example, string written) =>
        Assert.Equal(written, Bind(conversion).WrittenAs(key, example));

    [Fact]
    public void OneOf_ComparesAsTheLookupDoes()
    {
        Assert.IsType<Filter.OneOf>(Bind(ValueConversion.None).OneOf("owner", ["7"]));
        Assert.IsType<Filter.OneOfAlike>(Bind(ValueConversion.TrimmedAnyCase).OneOf("owner", ["AB"]));
    }

    [Fact]
    public void Bind_WhatIsGone_IsNone()
    {
        var porch = new PorchPanels(Make.Snapshot(_owners), []);
        Assert.NotNull(
            porch.Bind(
                new Lookup
                {
                    Table = _owners.Name,
                    Key = "no",
                    Where = new Discriminator("list", "A"),
                }
            )
        );
        Assert.Null(porch.Bind(new Lookup { Table = new TableName("public", "gone"), Key = "no" }));
        Assert.Null(porch.Bind(new Lookup { Table = _owners.Name, Key = "gone" }));
        Assert.Null(
            porch.Bind(
                new Lookup
                {
                    Table = _owners.Name,
                    Key = "no",
                    Where = new Discriminator("gone", "A"),
                }
            )
        );
    }

    [Fact]
    public void Bind_ATitleThatCannotBeRead_FallsBackToThePanels_AndThenToTheKey()
    {
        var panel = PanelDraft.Make(_owners, TableSample.Empty, Make.Nothing) with { Title = "{name}" };
        var lookup = new Lookup
        {
            Table = _owners.Name,
            Key = "no",
            Title = "{gone}",
        };
        Assert.Equal(["name"], new PorchPanels(Make.Snapshot(_owners), [panel]).Bind(lookup)!.Title.Columns);
        Assert.Equal(["no"], new PorchPanels(Make.Snapshot(_owners), []).Bind(lookup)!.Title.Columns);
        Assert.Equal(
            ["list"],
            new PorchPanels(Make.Snapshot(_owners), [panel]).Bind(lookup with { Title = "{list}" })!.Title.Columns
        );
    }

    [Fact]
    public void WhatSeveralColumnsReferBy_IsMadeOfTheirValues_AndPartsIntoThemAgain() =>
        Gen.Select(Gen.String[0, 8], Gen.Int, Gen.Bool, Gen.Bool)
            .Where((list, _, _, _) => !list.Contains('\0', StringComparison.Ordinal) && list.All(one => !char.IsSurrogate(one)))
            .Sample(
                (list, no, hasList, hasNo) =>
                {
                    var lookup = new PorchPanels(Make.Snapshot(_owners), []).Bind(_together)!;
                    var row = new Dictionary<string, string?>
                    {
                        ["owner"] = hasNo ? no.ToString(CultureInfo.InvariantCulture) : null,
                        ["of"] = hasList ? list : null,
                    };
                    var referring = BoundLookup.Referring(_together, "owner", row.GetValueOrDefault);
                    Assert.Equal(hasNo && hasList, referring is not null);
                    if (referring is null)
                        return;
                    Assert.Equal([row["owner"]!, row["of"]!], lookup.ValuesOf(referring)!);
                    Assert.Equal(["owner", "of"], lookup.OwnColumns("owner"));
                    // The record itself is referred to by the same text.
                    Assert.Equal(referring, lookup.ReferredBy(column => column == "no" ? row["owner"] : row["of"]));
                }
            );

    [Theory]
    [InlineData("7")]
    [InlineData("[]")]
    [InlineData("[\"7\"]")]
    [InlineData("[\"x\",\"A\"]")]
    [InlineData("[null,\"A\"]")]
    [InlineData("[\"7\",\"A\",\"B\"]")]
    [InlineData("{}")]
    public void WhatIsNoListOfItsValues_ReferstoNothing(string referring) =>
        Assert.Null(new PorchPanels(Make.Snapshot(_owners), []).Bind(_together)!.ValuesOf(referring));

    [Fact]
    public void Bind_WhereAColumnIsGoneThatRefersTogether_IsNone() =>
        Assert.Null(new PorchPanels(Make.Snapshot(_owners), []).Bind(_together with { Also = [new LookupPair("gone", "of")] }));

    private static readonly Lookup _together = new()
    {
        Table = _owners.Name,
        Key = "no",
        Also = [new LookupPair("list", "of")],
    };

    private static BoundLookup Bind(ValueConversion conversion) =>
        new PorchPanels(Make.Snapshot(_owners), []).Bind(
            new Lookup
            {
                Table = _owners.Name,
                Key = "no",
                Conversion = conversion,
            }
        )!;
}
