using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Demo;

/// <summary>Sets the demo's porch up at a running Plain Porch, over its API, as anybody's program could.</summary>
/// <param name="http">Reaches it, and keeps its cookies.</param>
/// <param name="code">The code by which the first account is made.</param>
internal sealed class PorchSetUp(HttpClient http, string code)
{
    private const string SourceName = "Wrenmouth";

    /// <summary>Adds the demo database as a source, sets its porch up as a definition says, and lets the demo's people in.</summary>
    /// <param name="connection">The demo database's connection string, a postgresql:// URL.</param>
    /// <param name="definition">The file of the definition.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>Whether it was set up; not where there is a source already, or an account of somebody else's, which is their own work.</returns>
    /// <exception cref="HttpRequestException">It was refused; the message says why.</exception>
    public async Task<bool> RunAsync(string connection, FileInfo definition, CancellationToken cancellationToken)
    {
        if (!await SignInAsync(cancellationToken))
            return false;
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
        var slug = porch["slug"]!.GetValue<string>();
        await SendAsync(
            HttpMethod.Put,
            $"/api/porches/{slug}/definition",
            JsonNode.Parse(await File.ReadAllTextAsync(definition.FullName, cancellationToken))!,
            cancellationToken
        );
        foreach (var person in DemoPeople.All)
            await LetInAsync(slug, person, cancellationToken);
        // What it finds is looked at later, if at all.
        await SendAsync(
            HttpMethod.Post,
            $"/api/sources/{source["id"]}/survey",
            new JsonObject { ["thenDraft"] = false },
            cancellationToken
        );
        return true;
    }

    // Where somebody else made the first account, the porches are that one's to set up.
    private async Task<bool> SignInAsync(CancellationToken cancellationToken)
    {
        var (name, email, password) = (DemoPeople.Developer.Name, DemoPeople.Developer.Email, DemoPeople.Developer.Password);
        using var made = await http.PostAsJsonAsync(
            "/api/session/first",
            new
            {
                code,
                name,
                email,
                password,
            },
            cancellationToken
        );
        if (made.IsSuccessStatusCode)
            return true;
        using var known = await http.PostAsJsonAsync("/api/session", new { email, password }, cancellationToken);
        return known.IsSuccessStatusCode;
    }

    // As a person is let in: by a mail, and the link in it.
    private async Task LetInAsync(string porch, DemoPerson person, CancellationToken cancellationToken)
    {
        await SendAsync(
            HttpMethod.Post,
            $"/api/porches/{porch}/people",
            new JsonObject
            {
                ["name"] = person.Name,
                ["email"] = person.Email,
                ["role"] = person.Role,
                ["record"] = person.Record,
            },
            cancellationToken
        );
        var mails = (await http.GetFromJsonAsync<JsonNode>("/api/mails", cancellationToken))!["mails"]!.AsArray();
        var text = mails.First(mail => mail!["to"]!.GetValue<string>() == person.Email)!["text"]!.GetValue<string>();
        var link = text.Split("/password#")[1].Split('\n')[0].Trim();
        await SendAsync(
            HttpMethod.Post,
            "/api/session/password",
            new JsonObject { ["link"] = link, ["password"] = person.Password },
            cancellationToken
        );
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
