using System.Text.Json;
using System.Text.Json.Nodes;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Definition;

public sealed class DefinitionJsonTests
{
    private static readonly PorchDefinition _porch = new()
    {
        Name = "Harbour",
        Slug = "harbour",
        Panels =
        [
            PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing) with
            {
                Slug = "b",
            },
            PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing) with
            {
                Slug = "a",
            },
        ],
    };

    [Fact]
    public void Write_Porch_IsSortedAndReadsBack()
    {
        var text = DefinitionJson.Write(_porch);
        var read = JsonSerializer.Deserialize<PorchDefinition>(text, DefinitionJson.Options)!;
        Assert.Equal(["a", "b"], read.Panels.Select(panel => panel.Slug));
        Assert.Equal(text, DefinitionJson.Write(read));
        Assert.EndsWith("}\n", text, StringComparison.Ordinal);
    }

    [Fact]
    public void ReadPanel_OfANewerInstance_KeepsWhatIsNotKnownHere()
    {
        var json = JsonNode.Parse(JsonSerializer.Serialize(_porch.Panels[0], DefinitionJson.Options))!;
        json["shade"] = "blue";
        json["columns"]![0]!["readings"] = new JsonArray("day", 7);
        json["removal"]!["copies"] = new JsonObject { ["to"] = "attic" };
        var read = DefinitionJson.ReadPanel(json.ToJsonString(), "b");
        var column = read.Columns[0];
        var written = JsonNode.Parse(
            JsonSerializer.Serialize(
                read with
                {
                    Label = "Renamed",
                    Columns = [column with { Label = "Other" }, .. read.Columns.Skip(1)],
                },
                DefinitionJson.Options
            )
        )!;
        Assert.Equal("blue", (string?)written["shade"]);
        Assert.Equal("""["day",7]""", written["columns"]![0]!["readings"]!.ToJsonString());
        Assert.Equal("attic", (string?)written["removal"]!["copies"]!["to"]);
        Assert.Equal(["shade", $"columns[{column.Name}].readings", "removal.copies"], UnknownNames.Of(read));
        Assert.Empty(UnknownNames.Of(_porch.Panels[0]));
    }

    [Theory]
    [InlineData("format", "2", "stored in format 2")]
    [InlineData("format", "\"two\"", "does not understand its format")]
    [InlineData("marker", """{"column":"x","kind":"moon"}""", "does not understand $.marker")]
    public void ReadPanel_WhatCannotBeUnderstood_SaysWhichPanelAndWhy(string name, string value, string says)
    {
        var json = JsonNode.Parse(JsonSerializer.Serialize(_porch.Panels[0], DefinitionJson.Options))!;
        json[name] = JsonNode.Parse(value);
        var unread = Assert.Throws<DefinitionTooNewException>(() => DefinitionJson.ReadPanel(json.ToJsonString(), "boats"));
        Assert.Equal("boats", unread.Panel);
        Assert.Contains("“boats”", unread.Message, StringComparison.Ordinal);
        Assert.Contains(says, unread.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Schema_InTheDocs_IsTodays()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "PlainPorch.slnx")))
            folder = folder.Parent;
        var kept = File.ReadAllText(Path.Combine(folder.FullName, "docs", "definition.schema.json"));
        Assert.True(
            kept.TrimEnd() == DefinitionJson.Schema().ToJsonString(DefinitionJson.Options),
            "Renew docs/definition.schema.json from /api/definition-schema."
        );
    }
}
