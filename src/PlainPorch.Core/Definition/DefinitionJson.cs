using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>Writes definitions as stable, readable JSON, and describes that JSON by a JSON Schema.</summary>
public static class DefinitionJson
{
    /// <summary>The one way in which definitions are written: camel case, two blanks, letters unescaped, unknown names refused.</summary>
    public static JsonSerializerOptions Options { get; } = MakeOptions();

    /// <summary>Writes a porch, panels sorted by slug, ending in a line break, so that it reads well in a diff.</summary>
    public static string Write(PorchDefinition porch)
    {
        ArgumentNullException.ThrowIfNull(porch);
        var sorted = porch with { Panels = [.. porch.Panels.OrderBy(panel => panel.Slug, StringComparer.Ordinal)] };
        return JsonSerializer.Serialize(sorted, Options) + "\n";
    }

    /// <summary>The JSON Schema (draft 2020-12) of a porch's definition.</summary>
    public static JsonNode Schema()
    {
        var schema = Options.GetJsonSchemaAsNode(typeof(PorchDefinition), new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true });
        var described = schema.AsObject();
        described.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        described.Insert(1, "title", "Plain Porch definition");
        return described;
    }

    private static JsonSerializerOptions MakeOptions()
    {
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            WriteIndented = true,
            NewLine = "\n",
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            NumberHandling = JsonNumberHandling.Strict,
            RespectNullableAnnotations = true,
            // The file is read by people and by git, never pasted into HTML.
            Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };
        options.MakeReadOnly(populateMissingResolver: true);
        return options;
    }
}
