using System.Text.Json;
using PlainPorch.Core.Definition;

namespace PlainPorch.Core.Tests.Definition;

public sealed class DefinitionJsonTests
{
    private static readonly PorchDefinition _porch = new()
    {
        Name = "Harbour",
        Slug = "harbour",
        Panels = [PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing) with { Slug = "b" }, PanelDraft.Make(Make.Boats(), TableSample.Empty, Make.Nothing) with { Slug = "a" }],
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
    public void Options_UnknownMember_IsRefused() =>
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<PorchDefinition>("""{"name":"a","slug":"a","panels":[],"colour":"red"}""", DefinitionJson.Options));

    [Fact]
    public void Schema_InTheDocs_IsTodays()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "PlainPorch.slnx")))
            folder = folder.Parent;
        var kept = File.ReadAllText(Path.Combine(folder.FullName, "docs", "definition.schema.json"));
        Assert.True(kept.TrimEnd() == DefinitionJson.Schema().ToJsonString(DefinitionJson.Options), "Renew docs/definition.schema.json from /api/definition-schema.");
    }
}
