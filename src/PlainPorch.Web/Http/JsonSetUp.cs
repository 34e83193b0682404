using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using PlainPorch.Core.Definition;

namespace PlainPorch.Web.Http;

/// <summary>How the API writes and reads JSON, and describes itself.</summary>
internal static class JsonSetUp
{
    public static void AddPorchJson(this IServiceCollection services) =>
        services.ConfigureHttpJsonOptions(options =>
        {
            var json = options.SerializerOptions;
            json.NumberHandling = JsonNumberHandling.Strict;
            json.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
            json.RespectNullableAnnotations = true;
            // What kind a reading is may stand anywhere in it.
            json.AllowOutOfOrderMetadataProperties = true;
            json.RespectRequiredConstructorParameters = true;
            json.TypeInfoResolver = (json.TypeInfoResolver ?? new DefaultJsonTypeInfoResolver()).WithAddedModifier(
                WholeLists.Demand
            );
            json.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
        });

    public static void AddPorchOpenApi(this IServiceCollection services) =>
        services.AddOpenApi(options =>
        {
            // Several outcomes are "done"; each is named after what it is the outcome of.
            options.CreateSchemaReferenceId = info =>
                info.Type is { IsNested: true, DeclaringType: { } outer }
                    ? outer.Name + info.Type.Name
                    : OpenApiOptions.CreateDefaultSchemaReferenceId(info);
            options.AddSchemaTransformer(
                (schema, context, _) =>
                {
                    AllowNullItems(schema, context.JsonPropertyInfo?.AttributeProvider as PropertyInfo);
                    // An act by itself; the type has them together.
                    if (context.JsonTypeInfo.Type == typeof(PanelActs))
                        schema.Enum = [.. DefinitionJson.ActNames.Select(name => (JsonNode)name)];
                    return Task.CompletedTask;
                }
            );
            options.AddOperationTransformer(
                (operation, context, _) =>
                {
                    Choices.Describe(operation, context.Description);
                    return Task.CompletedTask;
                }
            );
            options.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Plain Porch";
                    document.Info.Version = "1";
                    document.Info.Description =
                        "Values of records travel as texts in one form: numbers with a point, dates and times as ISO 8601, true/false, arrays as JSON. Null is an empty value. A column that its panel reads otherwise than it is stored (see Reading) is told and taken as what it means; what does not fit is told as it is stored, and named in `unfit`. Lists and exports tell all values as they are stored where `stored=true` is asked; a record has both, `values` and `stored`.";
                    document.Servers = [];
                    return Task.CompletedTask;
                }
            );
        });

    // The generator sees string and string? alike inside of lists and dictionaries.
    private static void AllowNullItems(OpenApiSchema schema, PropertyInfo? property)
    {
        if (
            property is null
            || new NullabilityInfoContext().Create(property).GenericTypeArguments
                is not [.., { ReadState: NullabilityState.Nullable }]
        )
            return;
        foreach (var items in new[] { schema.Items, schema.AdditionalProperties }.OfType<OpenApiSchema>())
            items.Type |= JsonSchemaType.Null;
    }
}
