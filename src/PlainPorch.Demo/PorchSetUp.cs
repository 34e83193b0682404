using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Demo;

/// <summary>Sets the demo's porch up at a running Plain Porch, over its API, as anybody's program could.</summary>
/// <param name="http">Reaches it.</param>
internal sealed class PorchSetUp(HttpClient http)
{
    private const string SourceName = "Wrenmouth";

    /// <summary>Adds the demo database as a source and sets its porch up as a definition says.</summary>
    /// <param name="connection">The demo database's connection string, a postgresql:// URL.</param>
    /// <param name="definition">The file of the definition.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>Whether it was set up; not where there is a source already, which is somebody's own work.</returns>
    /// <exception cref="HttpRequestException">It was refused; the message says why.</exception>
    public async Task<bool> RunAsync(string connection, FileInfo definition, CancellationToken cancellationToken)
    {
        if ((await http.GetFromJsonAsync<JsonArray>("/api/sources", cancellationToken))!.Count > 0)
            return false;
        var fields = (
            await SendAsync(
                HttpMethod.Post,
                "/api/sources/read-text",
                new JsonObject { ["text"] = connection },
                cancellationToken
            )
        )!;
        var source = (
            await SendAsync(
                HttpMethod.Post,
                "/api/sources",
                new JsonObject
                {
                    ["name"] = SourceName,
                    ["host"] = fields["host"]!.DeepClone(),
                    ["port"] = fields["port"]!.DeepClone(),
                    ["database"] = fields["database"]!.DeepClone(),
                    ["user"] = fields["user"]!.DeepClone(),
                    ["password"] = fields["password"]!.DeepClone(),
                    ["tls"] = fields["tls"]!.DeepClone(),
                    ["schemas"] = new JsonArray(),
                    ["isReadOnly"] = false,
                },
                cancellationToken
            )
        )!;
        var porch = (await http.GetFromJsonAsync<JsonArray>("/api/porches", cancellationToken))!.First(one =>
            one!["sourceId"]!.GetValue<int>() == source["id"]!.GetValue<int>()
        )!;
        await SendAsync(
            HttpMethod.Put,
            $"/api/porches/{porch["slug"]!.GetValue<string>()}/definition",
            JsonNode.Parse(await File.ReadAllTextAsync(definition.FullName, cancellationToken))!,
            cancellationToken
        );
        // What it finds is looked at later, if at all.
        await SendAsync(
            HttpMethod.Post,
            $"/api/sources/{source["id"]}/survey",
            new JsonObject { ["thenDraft"] = false },
            cancellationToken
        );
        return true;
    }

    private async Task<JsonNode?> SendAsync(HttpMethod method, string address, JsonNode body, CancellationToken cancellationToken)
    {
        using var request = new HttpRequestMessage(method, address) { Content = JsonContent.Create(body) };
        using var answer = await http.SendAsync(request, cancellationToken);
        var text = await answer.Content.ReadAsStringAsync(cancellationToken);
        if (!answer.IsSuccessStatusCode)
            throw new HttpRequestException($"{method} {address}: {text}", null, answer.StatusCode);
        return answer.StatusCode is HttpStatusCode.NoContent || text.Length == 0 ? null : JsonNode.Parse(text);
    }
}
