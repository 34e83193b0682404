using System.Diagnostics.CodeAnalysis;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc.ApiExplorer;
using Microsoft.OpenApi;

namespace PlainPorch.Web.Http;

/// <summary>
/// One of several names in an address, written as in JSON: the framework alone wants them as the code spells them.
/// </summary>
/// <param name="Value">Which one.</param>
/// <typeparam name="T">The names.</typeparam>
public readonly record struct Choice<T>(T Value)
    where T : struct, Enum
{
    /// <summary>Reads a name, capitals or not.</summary>
    [SuppressMessage("Design", "CA1000", Justification = "Found by its name when parameters are bound.")]
    public static bool TryParse(string? text, out Choice<T> choice)
    {
        var isKnown =
            Enum.TryParse<T>(text, ignoreCase: true, out var value) && Enum.IsDefined(value) && !int.TryParse(text, out _);
        choice = new(value);
        return isKnown;
    }
}

/// <summary>Describes choices in the API's description.</summary>
internal static class Choices
{
    /// <summary>Names what an operation's choices are among.</summary>
    public static void Describe(OpenApiOperation operation, ApiDescription description)
    {
        foreach (var parameter in description.ParameterDescriptions)
        {
            var type = parameter.ParameterDescriptor?.ParameterType is { } given
                ? Nullable.GetUnderlyingType(given) ?? given
                : null;
            if (type is not { IsGenericType: true } || type.GetGenericTypeDefinition() != typeof(Choice<>))
                continue;
            if (operation.Parameters?.FirstOrDefault(one => one.Name == parameter.Name) is OpenApiParameter described)
            {
                described.Schema = new OpenApiSchema
                {
                    Type = JsonSchemaType.String,
                    Enum =
                    [
                        .. Enum.GetNames(type.GenericTypeArguments[0])
                            .Select(name => (JsonNode)JsonNamingPolicy.CamelCase.ConvertName(name)),
                    ],
                };
            }
        }
    }
}
