using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization;

namespace PlainPorch.Core.Definition;

/// <summary>Writes definitions as stable, readable JSON, and describes that JSON by a JSON Schema.</summary>
public static class DefinitionJson
{
    /// <summary>
    /// The one way in which definitions are written: camel case, two blanks, letters unescaped, unknown names refused.
    /// </summary>
    public static JsonSerializerOptions Options { get; } = MakeOptions(JsonUnmappedMemberHandling.Disallow);

    /// <summary>
    /// The same for reading what an instance of Plain Porch wrote, perhaps a newer one: names that are not known here are passed
    /// over.
    /// </summary>
    public static JsonSerializerOptions Kept { get; } = MakeOptions(JsonUnmappedMemberHandling.Skip);

    /// <summary>What single acts are called in JSON.</summary>
    public static IReadOnlyList<string> ActNames { get; } =
    [
        .. Enum.GetNames<PanelActs>()
            .Where(name => name is not nameof(PanelActs.None))
            .Select(JsonNamingPolicy.CamelCase.ConvertName),
    ];

    /// <summary>Writes a porch, panels sorted by slug, ending in a line break, so that it reads well in a diff.</summary>
    public static string Write(PorchDefinition porch)
    {
        ArgumentNullException.ThrowIfNull(porch);
        var sorted = porch with { Panels = [.. porch.Panels.OrderBy(panel => panel.Slug, StringComparer.Ordinal)] };
        return JsonSerializer.Serialize(sorted, Options) + "\n";
    }

    /// <summary>
    /// Reads the panel that an instance of Plain Porch kept, perhaps a newer one; what is not known here stays in it.
    /// </summary>
    /// <param name="json">What <see cref="Options"/> wrote.</param>
    /// <param name="slug">The panel's name, for the message.</param>
    /// <exception cref="DefinitionTooNewException">It holds something that cannot be understood here.</exception>
    public static PanelDefinition ReadPanel(string json, string slug)
    {
        try
        {
            using var document = JsonDocument.Parse(json);
            var format = document.RootElement.TryGetProperty("format", out var given)
                ? given.GetInt32()
                : PanelDefinition.KnownFormat;
            return format <= PanelDefinition.KnownFormat
                ? document.Deserialize<PanelDefinition>(Kept)!
                : throw new DefinitionTooNewException(
                    slug,
                    $"it is stored in format {format}, and this version reads formats up to {PanelDefinition.KnownFormat}"
                );
        }
        // A reading without its kind, or of one that is not known here, among them.
        catch (Exception unread)
            when (unread is JsonException or InvalidOperationException or FormatException or NotSupportedException)
        {
            throw new DefinitionTooNewException(
                slug,
                $"this one does not understand {(unread as JsonException)?.Path ?? "its format"}",
                unread
            );
        }
    }

    /// <summary>The JSON Schema (draft 2020-12) of a porch's definition.</summary>
    public static JsonNode Schema()
    {
        var schema = Options.GetJsonSchemaAsNode(
            typeof(PorchDefinition),
            new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true, TransformSchemaNode = CloseToUnknown }
        );
        var described = schema.AsObject();
        described.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        described.Insert(1, "title", "Plain Porch definition");
        return described;
    }

    // The schema describes what is known here, so that an editor finds a misspelled name.
    private static JsonNode CloseToUnknown(JsonSchemaExporterContext context, JsonNode schema)
    {
        if (context.TypeInfo.Type.IsAssignableTo(typeof(DefinitionPart)) && schema is JsonObject described)
            described["additionalProperties"] = false;
        // An act by itself; the type has them together.
        if (context.TypeInfo.Type == typeof(PanelActs) && schema is JsonObject act)
            act["enum"] = new JsonArray([.. ActNames.Select(name => JsonValue.Create(name))]);
        return schema;
    }

    private static JsonSerializerOptions MakeOptions(JsonUnmappedMemberHandling unknown)
    {
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            WriteIndented = true,
            NewLine = "\n",
            UnmappedMemberHandling = unknown,
            NumberHandling = JsonNumberHandling.Strict,
            RespectNullableAnnotations = true,
            // Whoever writes a definition by hand may put a reading's kind anywhere in it.
            AllowOutOfOrderMetadataProperties = true,
            // The file is read by people and by git, never pasted into HTML.
            Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };
        options.MakeReadOnly(populateMissingResolver: true);
        return options;
    }
}
