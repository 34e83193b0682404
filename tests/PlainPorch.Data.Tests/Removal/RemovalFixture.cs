using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Core.Records;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Panels;
using PlainPorch.Data.People;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Removal;

/// <summary>
/// A yard with owners, boats and stays without declared keys, and files with declared ones; each test gets it anew.
/// </summary>
public sealed class RemovalFixture : IAsyncLifetime
{
    private const string Yard = """
        DROP SCHEMA IF EXISTS yard CASCADE;
        CREATE SCHEMA yard;
        CREATE TABLE yard.owner (id int PRIMARY KEY, name text NOT NULL, gone char(1), gone_on timestamp, gone_by varchar(8));
        CREATE TABLE yard.boat (id int PRIMARY KEY, name text NOT NULL, owner_id int, photo bytea, gone char(1));
        CREATE TABLE yard.stay (id int PRIMARY KEY, boat_id int, berth text, span interval, price numeric(9,3), at timestamptz);
        CREATE TABLE yard.berth (code char(4) PRIMARY KEY, rate double precision);
        INSERT INTO yard.owner SELECT n, 'owner ' || n FROM generate_series(1, 20) n;
        INSERT INTO yard.boat SELECT n, 'boat ' || n, n % 20, decode(md5(n::text) || '0041ff', 'hex') FROM generate_series(1, 60) n;
        INSERT INTO yard.stay SELECT n, n % 60, 'B' || n % 7, make_interval(days => n, secs => n / 7.0), n / 3.0, '2020-02-29 23:59:59.123456+02'::timestamptz + make_interval(hours => n) FROM generate_series(1, 240) n;
        INSERT INTO yard.berth SELECT 'B' || n, 1 / 3.0::float8 + n FROM generate_series(0, 6) n;
        CREATE TABLE yard.folder (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, name text UNIQUE, parent bigint REFERENCES yard.folder, first_file int, doubled bigint GENERATED ALWAYS AS (id * 2) STORED);
        CREATE TABLE yard.file (id int PRIMARY KEY, folder bigint NOT NULL REFERENCES yard.folder, body bytea, doc jsonb, words text[]);
        ALTER TABLE yard.folder ADD FOREIGN KEY (first_file) REFERENCES yard.file;
        CREATE TABLE yard.link (folder bigint REFERENCES yard.folder ON DELETE SET NULL, note text);
        CREATE TABLE yard.mark (id int PRIMARY KEY, file int REFERENCES yard.file ON DELETE CASCADE);
        INSERT INTO yard.folder (name, parent) VALUES ('top', NULL), ('below', 1), ('aside', 2);
        INSERT INTO yard.file SELECT n, 1 + n % 2, decode(repeat('00ff', n), 'hex'), jsonb_build_object('n', n), ARRAY['a,b', NULL, '"q"'] FROM generate_series(1, 6) n;
        UPDATE yard.folder SET first_file = 1 WHERE id = 2;
        INSERT INTO yard.link VALUES (2, 'kept'), (2, 'twin'), (2, 'twin');
        INSERT INTO yard.mark SELECT n, n FROM generate_series(1, 6) n
        """;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public ApiFixture Api { get; init; } = new();

    public async ValueTask InitializeAsync() => await Api.InitializeAsync();

    public ValueTask DisposeAsync() => Api.DisposeAsync();

    /// <summary>Makes the yard, and panels whose references go along where told.</summary>
    /// <param name="along">Columns such as <c>boat.owner_id</c>, with the table that they refer to.</param>
    /// <returns>The addresses of the panels by table.</returns>
    public async Task<Dictionary<string, string>> MakeAsync(params IReadOnlyList<(string Column, string Target)> along)
    {
        await Api.Zoo.ExecuteAsync(Yard);
        await Api.Catalog.ExecuteAsync("DELETE FROM porch.parcel");
        foreach (var old in (await Api.Client.GetFromJsonAsync<JsonNode>("/api/porches"))![0]!["panels"]!.AsArray())
            await Api.Client.DeleteAsync($"/api/porches/zoo/panels/{old!["slug"]}");
        await Api.Client.PostAsync($"/api/sources/{Api.SourceId}/snapshot", null);
        var panels = new Dictionary<string, string>();
        foreach (var table in (string[])["owner", "boat", "stay", "berth", "folder", "file", "link", "mark"])
            panels[table] = await Api.MakePanelAsync("yard", table);
        await ChangeAsync(panels["owner"], panel => panel["marker"] = new JsonObject
            {
                ["column"] = "gone",
                ["kind"] = "Flag",
                ["removed"] = "Y",
                ["at"] = "gone_on",
                ["by"] = "gone_by",
            });
        await ChangeAsync(panels["boat"], panel => panel["marker"] = new JsonObject
            {
                ["column"] = "gone",
                ["kind"] = "Flag",
                ["removed"] = "Y",
            });
        foreach (var table in along.GroupBy(one => one.Column.Split('.')[0]))
        {
            await ChangeAsync(panels[table.Key], panel =>
            {
                foreach (var (column, target) in table)
                {
                    Column(panel, column.Split('.')[1])["lookup"] = new JsonObject
                    {
                        ["table"] = new JsonObject { ["schema"] = "yard", ["name"] = target },
                        ["key"] = target == "berth" ? "code" : "id",
                        ["onRemoval"] = "GoesAlong",
                    };
                }
            });
        }

        return panels;
    }

    /// <summary>A column of a panel's set-up.</summary>
    public static JsonNode Column(JsonNode panel, string name) =>
        panel["columns"]!.AsArray().First(column => (string)column!["name"]! == name)!;

    /// <summary>Changes a panel's set-up.</summary>
    public async Task ChangeAsync(string panel, Action<JsonNode> change)
    {
        var setup = (await Api.Client.GetFromJsonAsync<JsonNode>($"{panel}/setup"))!;
        var definition = setup["definition"]!;
        change(definition);
        var answer = await Api.PutAsync($"{panel}/setup", setup["version"], definition);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
    }

    /// <summary>Asks the server for something.</summary>
    public async Task<JsonNode> GetAsync(string address) => (await Api.Client.GetFromJsonAsync<JsonNode>(address, Token))!;

    /// <summary>Sends something that has to be taken, and gives what is answered.</summary>
    public async Task<JsonNode> PostAsync(string address, object body)
    {
        var answer = await Api.Client.PostAsJsonAsync(address, body, Token);
        Assert.True(answer.StatusCode is HttpStatusCode.OK, await answer.Content.ReadAsStringAsync(Token));
        return (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!;
    }

    /// <summary>Sets records aside.</summary>
    /// <returns>The parcel.</returns>
    public async Task<long> SetAsideAsync(string panel, params string[] keys)
    {
        var plan = await PostAsync($"{panel}/removal-plan", new { keys });
        return (long)(await PostAsync($"{panel}/removals", new { keys, fingerprint = (string)plan["fingerprint"]! }))["parcel"]!;
    }

    /// <summary>Counts rows of the yard, such as <c>boat WHERE id = 3</c>.</summary>
    public async Task<int> CountAsync(string what) => (int)await Api.Zoo.AskAsync<long>($"SELECT count(*) FROM yard.{what}");

    /// <summary>Waits until something is so.</summary>
    public static async Task UntilAsync(Func<Task<bool>> isSo)
    {
        for (var times = 0; !await isSo(); times++)
        {
            Assert.True(times < 300, "It took too long.");
            await Task.Delay(100, Token);
        }
    }

    /// <summary>All that is in the yard, as one number that changes with any byte.</summary>
    public Task<string> StateAsync() =>
        Api.Zoo.AskAsync<string>(
            """
            SELECT md5(string_agg(line, E'\n' ORDER BY line)) FROM (
                SELECT 'owner' || t::text FROM yard.owner t UNION ALL SELECT 'boat' || t::text FROM yard.boat t UNION ALL SELECT 'stay' || t::text FROM yard.stay t
                UNION ALL SELECT 'berth' || t::text FROM yard.berth t UNION ALL SELECT 'folder' || t::text FROM yard.folder t UNION ALL SELECT 'file' || t::text FROM yard.file t
                UNION ALL SELECT 'link' || t::text FROM yard.link t UNION ALL SELECT 'mark' || t::text FROM yard.mark t) all_rows (line)
            """
        );

    /// <summary>Works with services of the server's own, as if it were another instance.</summary>
    internal async Task<T> WithinAsync<T>(string panel, Func<OpenPanel, IServiceProvider, Task<T>> work)
    {
        await using var scope = Api.Services.CreateAsyncScope();
        scope.ServiceProvider.GetRequiredService<Asker>().IsProgram = true;
        var parts = panel.Split('/');
        var opened = (
            await scope.ServiceProvider.GetRequiredService<PanelOpener>().OpenAsync(parts[^3], parts[^1], CancellationToken.None)
        )!;
        return await work(opened, scope.ServiceProvider);
    }

    /// <summary>Settles all that is open, as the server does in the background.</summary>
    /// <returns>How many acts were settled.</returns>
    public async Task<int> SettleAsync()
    {
        await using var scope = Api.Services.CreateAsyncScope();
        var settler = scope.ServiceProvider.GetRequiredService<ActSettler>();
        return (await settler.SettleAllAsync(TimeSpan.Zero, 0, new Pauses<int>(TimeProvider.System), Token)).Settled;
    }

    internal static RecordSelection Choose(OpenPanel panel, params IReadOnlyList<string> keys)
    {
        Assert.True(RecordSelection.TryRead(panel.Bound!, keys, out var chosen, out _));
        return chosen!;
    }
}
