using System.Text.Json;
using System.Text.Json.Serialization;

namespace PlainPorch.Web.Http;

/// <summary>How the API writes and reads JSON, and describes itself.</summary>
internal static class JsonSetUp
{
    public static void AddPorchJson(this IServiceCollection services) => services.ConfigureHttpJsonOptions(options =>
    {
        var json = options.SerializerOptions;
        json.NumberHandling = JsonNumberHandling.Strict;
        json.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
        json.RespectNullableAnnotations = true;
        json.RespectRequiredConstructorParameters = true;
        json.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
    });

    public static void AddPorchOpenApi(this IServiceCollection services) => services.AddOpenApi(options =>
        options.AddDocumentTransformer((document, _, _) =>
        {
            document.Info.Title = "Plain Porch";
            document.Info.Version = "1";
            document.Info.Description =
                "Values of records travel as texts in one form: numbers with a point, dates and times as ISO 8601, true/false, arrays as JSON. Null is an empty value.";
            document.Servers = [];
            return Task.CompletedTask;
        }));
}
