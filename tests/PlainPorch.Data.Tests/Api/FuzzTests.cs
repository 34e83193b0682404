using System.Collections.Concurrent;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace PlainPorch.Data.Tests.Api;

/// <summary>Whatever is sent along the API's own description, the server has an answer: no fault of its own.</summary>
public sealed class FuzzTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    private const int Rounds = 14;

    private static readonly string[] _hostile =
    [
        "",
        " ",
        "\0",
        "a\0b",
        "'",
        "\"",
        "\\",
        "%",
        "_",
        "%00",
        "--",
        ";",
        "{",
        "}",
        "[]",
        "{}",
        "null",
        "-1",
        "0",
        "1",
        "99999999999999999999",
        "1e400",
        "-1e400",
        "NaN",
        "infinity",
        "-infinity",
        "١٢٣",
        "１２３",
        "²",
        "½",
        "0x1F",
        "1_000",
        "9999-12-31",
        "0001-01-01",
        "0000-00-00",
        "2026-02-30",
        "10000-01-01",
        "0044-03-15 BC",
        "9999-12-31T23:59:59.999999Z",
        "24:00",
        "23:59:60",
        "24:00:00",
        "\u202e",
        "\ud800",
        "😀",
        "ﷺ",
        "İ",
        "ß",
        "\r\n",
        "\t",
        "../..",
        "/etc/passwd",
        "C:\\",
        "<script>alert(1)</script>",
        "${jndi:x}",
        "constructor",
        "__proto__",
        "toString",
        "*",
        "a:b",
        "a..b",
        "..",
        "a,b",
        "a%2Cb",
        "(",
        ")",
        "\"unclosed",
        "-",
        "- -",
        "&|!",
        "name: ",
        "x > ",
        "id:1..",
        "::natural",
        "-id:natural:emptyfirst",
        "[\"a\"]",
        "[null]",
        "[[\"a\"],[\"b\"]]",
        "{\"a\":1}",
        "\"\\u0000\"",
        "{\"all\":[]}",
        "<a/>",
        "<a>",
        "'a' & 'b'",
        "a => b",
        "$.a[*]",
        "top.below",
        "(1,2)",
        "{1,2}",
        "{{1,2},{3,4}}",
        "[1,2)",
        "00000000-0000-0000-0000-000000000000",
        "192.168.0.1/33",
        "B'101'",
        "\\x00ff",
        "Y",
        "t",
        "on",
    ];

    private static readonly string[] _sorts = ["contains", "startsWith", "is", "less", "atMost", "more", "atLeast", "between"];

    private static readonly string[] _addresses =
    [
        .. _hostile.Where(text => text.Length > 0 && !text.Contains('\ud800', StringComparison.Ordinal)),
    ];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task EveryEndpoint_HostileRequests_AreAnsweredWithoutAFaultOfOurs()
    {
        var panels = await MakePanelsAsync();
        var description = (await api.Client.GetFromJsonAsync<JsonNode>("/api/openapi.json", Token))!;
        var faults = new ConcurrentQueue<string>();
        var asked = 0;
        // Whoever signs out would be kept from all else.
        await api.SetRolesAsync("zoo", new { slug = "guest", name = "Guest" });
        using var guest = await api.LetInAsync("zoo", "guest", "Gil Guest");
        foreach (var (path, methods) in description["paths"]!.AsObject())
        {
            foreach (var (method, operation) in methods!.AsObject())
            {
                var random = new Random(Seed(path + method));
                for (var round = 0; round < Rounds; round++)
                {
                    using var request = Make(description, path, method, operation!.AsObject(), panels, random);
                    asked++;
                    using var answer = await (IsOfSession(path) ? guest : api.Client).SendAsync(
                        request,
                        HttpCompletionOption.ResponseHeadersRead,
                        Token
                    );
                    if ((int)answer.StatusCode >= 500)
                        faults.Enqueue(
                            $"{(int)answer.StatusCode} {method} {request.RequestUri} {(request.Content is null ? "" : await request.Content.ReadAsStringAsync(Token))} -> {await ReadAsync(answer)}"
                        );
                }
            }
        }

        Assert.Equal(System.Net.HttpStatusCode.OK, (await api.Client.GetAsync("/api/sources", Token)).StatusCode);
        Assert.True(asked > 1_000, $"Only {asked} requests were made.");
        Assert.True(faults.IsEmpty, $"{faults.Count} of {asked}:\n{string.Join('\n', faults.Take(60))}");
    }

    private static bool IsOfSession(string path) =>
        path.StartsWith("/api/session", StringComparison.Ordinal) || path.StartsWith("/api/account", StringComparison.Ordinal);

    [Fact]
    public async Task EveryColumn_HostileValues_AreTakenOrRefused()
    {
        var faults = new ConcurrentQueue<string>();
        // One panel after the other takes three minutes.
        await Parallel.ForEachAsync(
            await MakePanelsAsync(),
            new ParallelOptions { MaxDegreeOfParallelism = 4, CancellationToken = Token },
            async (panel, _) => await SendHostileAsync(panel, faults)
        );
        Assert.True(faults.IsEmpty, $"{faults.Count}:\n{string.Join('\n', faults.Take(60))}");
    }

    private async Task SendHostileAsync(string panel, ConcurrentQueue<string> faults)
    {
        var set = (await api.Client.GetFromJsonAsync<JsonNode>(panel, Token))!;
        foreach (var column in set["columns"]!.AsArray().Select(column => (string)column!["name"]!))
        {
            // Each value and each column, and by the seed half of the pairs: all of them take half a minute more.
            foreach (var value in _hostile.Where(value => Seed(column + value) % 2 == 0))
            {
                var added = await api.Client.PostAsJsonAsync(
                    $"{panel}/records",
                    new { values = new Dictionary<string, string> { [column] = value } },
                    Token
                );
                Note(faults, added, $"add {panel} {column} {value}");
            }

            foreach (var value in _addresses)
            {
                // Each value in each of the ways, and each column, but not all three together: that takes a minute more.
                var asked = ((uint)Seed(value + column) % 3) switch
                {
                    0 => $"in={Uri.EscapeDataString(column)}:{Uri.EscapeDataString(value)}",
                    1 => $"where={Uri.EscapeDataString(Condition(column, value))}",
                    _ => $"q={Uri.EscapeDataString($"{column}: {value}")}",
                };
                Note(faults, await api.Client.GetAsync($"{panel}/records?{asked}&count=false", Token), $"list {panel} {asked}");
            }
        }
    }

    private static void Note(ConcurrentQueue<string> faults, HttpResponseMessage answer, string what)
    {
        if ((int)answer.StatusCode >= 500)
            faults.Enqueue($"{(int)answer.StatusCode} {what}");
        answer.Dispose();
    }

    private static string Condition(string column, string value) =>
        JsonSerializer.Serialize(
            new
            {
                column,
                @is = _sorts[(uint)Seed(column + value) % _sorts.Length],
                values = new[] { value, value },
            }
        );

    private async Task<List<string>> MakePanelsAsync()
    {
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
        var porch = (await api.Client.GetFromJsonAsync<JsonNode>("/api/porches", Token))![0]!;
        if (porch["panels"]!.AsArray().Count == 0)
        {
            await api.Zoo.ExecuteAsync(Odd);
            var snapshot = (
                await (
                    await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token)
                ).Content.ReadFromJsonAsync<JsonNode>(Token)
            )!;
            foreach (var table in snapshot["tables"]!.AsArray())
                await api.Client.PostAsJsonAsync(
                    $"/api/sources/{api.SourceId}/panels",
                    new { schema = (string)table!["schema"]!, name = (string)table["name"]! },
                    Token
                );
            porch = (await api.Client.GetFromJsonAsync<JsonNode>("/api/porches", Token))![0]!;
        }

        return [.. porch["panels"]!.AsArray().Select(panel => $"/api/porches/{porch["slug"]}/panels/{panel!["slug"]}")];
    }

    private HttpRequestMessage Make(
        JsonNode description,
        string path,
        string method,
        JsonObject operation,
        List<string> panels,
        Random random
    )
    {
        var parameters = operation["parameters"]?.AsArray() ?? [];
        var address = path;
        var panel = panels[random.Next(panels.Count)].Split('/');
        var query = new List<string>();
        var headers = new List<(string, string)>();
        foreach (var parameter in parameters)
        {
            var name = (string)parameter!["name"]!;
            switch ((string)parameter["in"]!)
            {
                case "path":
                    var known =
                        random.Next(10) == 0
                            ? null
                            : name switch
                            {
                                "porch" => panel[3],
                                "panel" => panel[5],
                                "id" => $"{api.SourceId}",
                                "key" when random.Next(2) == 0 => "1",
                                "parcel" or "entry" or "place" => $"{random.Next(3)}",
                                "format" when random.Next(2) == 0 => "csv",
                                _ => null,
                            };
                    // A source that is removed or pointed elsewhere would end the test.
                    if (name == "id" && method is "delete" or "put")
                        known = "999";
                    address = address.Replace(
                        $"{{{name}}}",
                        known ?? Uri.EscapeDataString(Pick(_addresses, random)),
                        StringComparison.Ordinal
                    );
                    break;
                case "query" when random.Next(3) > 0:
                    query.Add($"{name}={Uri.EscapeDataString(Pick(_addresses, random))}");
                    break;
                case "header" when random.Next(2) == 0:
                    headers.Add((name, random.Next(2) == 0 ? "\"1\"" : "odd"));
                    break;
            }
        }

        if (method is "delete")
            address = address.Replace(panel[5], "nothing", StringComparison.Ordinal);
        var request = new HttpRequestMessage(
            new HttpMethod(method.ToUpperInvariant()),
            query.Count == 0 ? address : $"{address}?{string.Join('&', query)}"
        );
        foreach (var (name, value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        if (operation["requestBody"]?["content"]?["application/json"]?["schema"] is { } schema)
        {
            var body =
                random.Next(12) == 0 ? Pick(_hostile, random) : Body(description, schema, random, 0)?.ToJsonString() ?? "null";
            request.Content = new StringContent(body, Encoding.UTF8, "application/json");
        }

        return request;
    }

    private static JsonNode? Body(JsonNode description, JsonNode schema, Random random, int depth)
    {
        if ((string?)schema["$ref"] is { } reference)
            return Body(description, description["components"]!["schemas"]![reference.Split('/')[^1]]!, random, depth);
        foreach (var several in new[] { "oneOf", "anyOf" })
        {
            if (schema[several] is JsonArray choices)
                return Body(description, choices[random.Next(choices.Count)]!, random, depth);
        }

        if (random.Next(15) == 0 || depth > 6)
            return null;
        if (schema["enum"] is JsonArray values)
            return random.Next(4) == 0 ? Pick(_hostile, random) : values[random.Next(values.Count)]?.DeepClone();
        return Kind(schema, random) switch
        {
            "object" => Object(description, schema, random, depth),
            "array" => new JsonArray([
                .. Enumerable.Range(0, random.Next(4)).Select(_ => Body(description, schema["items"]!, random, depth + 1)),
            ]),
            "integer" => random.Next(4) switch
            {
                0 => JsonValue.Create(-1),
                1 => JsonValue.Create(int.MaxValue),
                2 => JsonValue.Create(long.MaxValue),
                _ => JsonValue.Create(random.Next(5)),
            },
            "boolean" => JsonValue.Create(random.Next(2) == 0),
            _ => random.Next(5) == 0 ? JsonValue.Create("1") : JsonValue.Create(Pick(_hostile, random)),
        };
    }

    private static JsonObject Object(JsonNode description, JsonNode schema, Random random, int depth)
    {
        var made = new JsonObject();
        foreach (var (name, property) in schema["properties"]?.AsObject() ?? [])
        {
            if (random.Next(20) > 0)
                made[name] = Body(description, property!, random, depth + 1);
        }

        if (schema["additionalProperties"] is JsonObject values)
        {
            for (var i = random.Next(4); i > 0; i--)
                made[Pick(_addresses, random)] = Body(description, values, random, depth + 1);
        }

        return made;
    }

    private static string Kind(JsonNode schema, Random random)
    {
        var type = schema["type"] is JsonArray several ? (string)several[random.Next(several.Count)]! : (string?)schema["type"];
        return type ?? (schema["properties"] is null ? "string" : "object");
    }

    private static string Pick(string[] texts, Random random) => texts[random.Next(texts.Length)];

    // The same on every run, whatever the run-time makes of a text's hash.
    private static int Seed(string text) => text.Aggregate(17, (seed, letter) => unchecked((seed * 31) + letter));

    private static async Task<string> ReadAsync(HttpResponseMessage answer)
    {
        var text = await answer.Content.ReadAsStringAsync(Token);
        return text.Length > 200 ? text[..200] : text;
    }

    private const string Odd = """
        CREATE EXTENSION IF NOT EXISTS hstore; CREATE EXTENSION IF NOT EXISTS ltree; CREATE EXTENSION IF NOT EXISTS file_fdw;
        CREATE SCHEMA odd;
        CREATE TYPE odd.pair AS (a int, b text);
        CREATE TABLE odd.types (id int PRIMARY KEY, x xml, v tsvector, q tsquery, h hstore, l ltree, p jsonpath, c odd.pair, j jsonb, n numeric(3,5), m money, b bit(3), o point, r int4range, a int[], d date, t timetz, i interval, u uuid, net inet, k "char", e bytea);
        CREATE TABLE odd.raises (id int PRIMARY KEY, what text);
        CREATE FUNCTION odd.raise() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
            IF NEW.what = 'code' THEN RAISE EXCEPTION 'Not on a Sunday' USING ERRCODE = 'ZZ123'; END IF;
            IF NEW.what = 'warning' THEN RAISE EXCEPTION SQLSTATE '01000'; END IF;
            IF NEW.what = 'zero' THEN PERFORM 1 / 0; END IF;
            IF NEW.what = 'assert' THEN ASSERT false, 'never'; END IF;
            IF NEW.what = 'internal' THEN RAISE EXCEPTION 'odd' USING ERRCODE = 'XX000'; END IF;
            RETURN NEW;
        END $$;
        CREATE TRIGGER raise BEFORE INSERT OR UPDATE ON odd.raises FOR EACH ROW EXECUTE FUNCTION odd.raise();
        INSERT INTO odd.raises VALUES (1, 'fine');
        CREATE MATERIALIZED VIEW odd.unpopulated AS SELECT 1 AS id WITH NO DATA;
        CREATE VIEW odd.divides AS SELECT id, 1 / (id - 1) AS broken FROM odd.raises;
        CREATE SERVER files FOREIGN DATA WRAPPER file_fdw;
        CREATE FOREIGN TABLE odd.elsewhere (id int, name text) SERVER files OPTIONS (filename '/nowhere/at/all.csv', format 'csv');
        CREATE TABLE odd."---" ("..." int PRIMARY KEY, " " text, "constructor" text, "toString" text, "__proto__" text)
        """;

    [Theory]
    [InlineData("code", "Not on a Sunday")]
    [InlineData("zero", "division by zero")]
    [InlineData("assert", "never")]
    [InlineData("internal", "odd")]
    public async Task Trigger_WhateverItRaises_ItsWordsReachThePerson(string what, string says)
    {
        var panel = (await MakePanelsAsync()).First(panel => panel.EndsWith("/raises", StringComparison.Ordinal));
        var answer = await api.Client.PostAsJsonAsync($"{panel}/records", new { values = new { id = "2", what } }, Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains(says, await answer.Content.ReadAsStringAsync(Token), StringComparison.Ordinal);
    }
}
