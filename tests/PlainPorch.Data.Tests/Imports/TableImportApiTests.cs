using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Tests.Api;

namespace PlainPorch.Data.Tests.Imports;

/// <summary>Files become tables with panels: looked at, shown, made in one transaction; and what a stopped program leaves is found out.</summary>
public sealed class TableImportApiTests(ImportFixture api) : IClassFixture<ImportFixture>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private string Imports => $"/api/sources/{api.SourceId}/imports";

    [Fact]
    public async Task FilesOfASet_BecomeTablesThatRefer_WithPanels()
    {
        var name = $"f{Guid.NewGuid():N}"[..8];
        var owners = "no;name\n" + string.Concat(Enumerable.Range(1, 60).Select(no => $"{no};Owner {no}\n"));
        var boats =
            $"boat_no;name;{name}_owner_no\n"
            + string.Concat(Enumerable.Range(1, 80).Select(no => $"B{no:000};Boat {no};{no % 60 + 1}\n"));
        var import = await LookAsync(($"{name}_owner.csv", owners), ($"{name}_boats.csv", boats));
        var settings = import["settings"]!;
        var of = settings["tables"]!.AsArray().Single(table => (string)table!["name"]! == $"{name}_boats")!;
        var reference = Assert.Single(of["references"]!.AsArray())!;
        Assert.Equal(($"{name}_owner", "no"), ((string)reference["table"]!, (string)reference["referredColumns"]![0]!));
        Assert.Equal("boat_no", (string)of["key"]![0]!);

        var done = await RunAsync(import, settings);
        Assert.Equal("done", (string)done["status"]!["state"]!);
        Assert.Null((string?)done["status"]!["problem"]);
        Assert.Equal(
            80,
            await api.Zoo.AskAsync<long>(
                $"SELECT count(*) FROM zoo.{name}_boats JOIN zoo.{name}_owner o ON o.no = {name}_owner_no"
            )
        );
        Assert.Equal(
            1,
            await api.Zoo.AskAsync<long>(
                $"SELECT count(*) FROM pg_constraint WHERE contype = 'f' AND conrelid = 'zoo.{name}_boats'::regclass"
            )
        );
        var snapshot = (await api.Client.GetFromJsonAsync<JsonNode>($"/api/sources/{api.SourceId}/snapshot", Token))!;
        Assert.NotEmpty(
            snapshot["tables"]!.AsArray().Single(table => (string)table!["name"]! == $"{name}_boats")!["panels"]!.AsArray()
        );
    }

    [Fact]
    public async Task AGuessThatIsChanged_IsSeenAtOnce_WithWhatWouldNotFit()
    {
        var name = $"f{Guid.NewGuid():N}"[..8];
        var import = await LookAsync(($"{name}.csv", "code,made,paid\n007,01/02/2020,1\n008,03/04/2021,2\nx9,05/06/2022,n/a\n"));
        var made = import["tables"]![0]!["columns"]![1]!;
        Assert.Equal(("date", 3), ((string)made["type"]!, (int)made["doubtful"]!));
        var settings = import["settings"]!.DeepClone();
        settings["tables"]![0]!["columns"]![0]!["type"] = "integer";
        settings["tables"]![0]!["columns"]![1]!["pattern"] = "MM/dd/yyyy";
        settings["tables"]![0]!["columns"]![2]!["isLeftOut"] = true;
        var preview = await JsonAsync(await api.Client.PostAsJsonAsync($"{Address(import)}/preview/0", settings, Token));
        Assert.Equal([3, 0], preview["columns"]!.AsArray().Select(column => (int)column!["misfits"]!));
        Assert.Equal(
            ("2020-01-02", false),
            ((string)preview["rows"]![0]![1]!["text"]!, (bool)preview["rows"]![0]![1]!["isMisfit"]!)
        );
        Assert.Contains("CREATE TABLE", (string)preview["sql"]!, StringComparison.Ordinal);

        settings["tables"]![0]!["columns"]![0]!["type"] = "text";
        const string Hostile = "a\"; DROP TABLE zoo.animals; --";
        settings["tables"]![0]!["columns"]![0]!["name"] = Hostile;
        settings["tables"]![0]!["key"] = new JsonArray(Hostile);
        Assert.Equal("done", (string)(await RunAsync(import, settings))["status"]!["state"]!);
        Assert.Equal("2022-05-06", await api.Zoo.AskAsync<string>($"SELECT max(made)::text FROM zoo.{name}"));
        Assert.Equal(
            2,
            await api.Zoo.AskAsync<long>(
                $"SELECT count(*) FROM information_schema.columns WHERE table_name = '{name}' AND column_name <> 'id'"
            )
        );
    }

    [Fact]
    public async Task WrongSettings_AreToldAtTheirPlace_AndNothingIsMade()
    {
        var import = await LookAsync(("wrong.csv", "a,b\n1,2\n1,3\n"));
        var settings = import["settings"]!.DeepClone();
        settings["tables"]![0]!["columns"]![1]!["name"] = "a";
        settings["tables"]![0]!["key"] = new JsonArray("a");
        var answer = await api.Client.PostAsJsonAsync($"{Address(import)}/run", settings, Token);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        var errors = (await answer.Content.ReadFromJsonAsync<JsonNode>(Token))!["errors"]!.AsObject();
        Assert.Equal(["tables.0.columns.1.name", "tables.0.key"], errors.Select(error => error.Key).Order());
    }

    [Fact]
    public async Task ATableThatIsThere_IsNotOverwritten_AndTheFileCanGoElsewhere()
    {
        var name = $"f{Guid.NewGuid():N}"[..8];
        await api.Zoo.ExecuteAsync($"CREATE TABLE zoo.{name} (kept integer)");
        var import = await LookAsync(($"{name}.csv", "a,b\n1,2\n"));
        var settings = import["settings"]!.DeepClone();
        Assert.NotEqual(name, (string)settings["tables"]![0]!["name"]!);
        settings["tables"]![0]!["name"] = name;
        var failed = await RunAsync(import, settings);
        Assert.Equal("failed", (string)failed["status"]!["state"]!);
        Assert.Contains("already", (string)failed["status"]!["problem"]!, StringComparison.Ordinal);
        settings["tables"]![0]!["name"] = $"{name}_2";
        Assert.Equal("done", (string)(await RunAsync(import, settings))["status"]!["state"]!);
        Assert.Equal(
            "kept",
            await api.Zoo.AskAsync<string>(
                $"SELECT string_agg(column_name, ' ') FROM information_schema.columns WHERE table_name = '{name}'"
            )
        );
    }

    [Fact]
    public async Task FilesOfTheServersFolder_CanBeChosen_AndNoneBesides()
    {
        var name = $"f{Guid.NewGuid():N}"[..8];
        await File.WriteAllTextAsync(Path.Combine(api.Folder, $"{name}.csv"), "a,b\n1,2\n", Token);
        await File.WriteAllTextAsync(Path.Combine(Path.GetDirectoryName(api.Folder)!, $"{name}.csv"), "secret\n1\n", Token);
        File.CreateSymbolicLink(Path.Combine(api.Folder, $"{name}_link.csv"), "/etc/passwd");
        var means = (await api.Client.GetFromJsonAsync<JsonNode>("/api/import-means", Token))!;
        Assert.Contains($"{name}.csv", means["files"]!.AsArray().Select(file => (string)file!["path"]!));
        var begun = await JsonAsync(await api.Client.PostAsync(Imports, null, Token));
        foreach (var path in new[] { $"../{name}.csv", "/etc/passwd", $"{name}_link.csv", $"./{name}.csv" })
            Assert.Equal(
                HttpStatusCode.BadRequest,
                (
                    await api.Client.PostAsJsonAsync($"{Address(begun)}/folder-files", new { paths = new[] { path } }, Token)
                ).StatusCode
            );
        await JsonAsync(
            await api.Client.PostAsJsonAsync($"{Address(begun)}/folder-files", new { paths = new[] { $"{name}.csv" } }, Token)
        );
        await api.Client.PostAsJsonAsync($"{Address(begun)}/look", new { }, Token);
        Assert.Equal("ready", (string)(await WaitAsync(begun))["status"]!["state"]!);
    }

    [Fact]
    public async Task AStoppedImport_LeavesNothing()
    {
        var name = $"f{Guid.NewGuid():N}"[..8];
        var import = await LookAsync(
            ($"{name}.csv", "no,name\n" + string.Concat(Enumerable.Range(1, 200_000).Select(no => $"{no},Boat {no}\n")))
        );
        await using var held = await api.Zoo.Source.OpenConnectionAsync(Token);
        await using var transaction = await held.BeginTransactionAsync(Token);
        // The import waits for it, wherever it is by then.
        await using (var hold = new Npgsql.NpgsqlCommand($"CREATE TABLE zoo.{name} (x integer)", held, transaction))
            await hold.ExecuteNonQueryAsync(Token);
        await api.Client.PostAsJsonAsync($"{Address(import)}/run", import["settings"], Token);
        await Task.Delay(300, Token);
        await api.Client.PostAsync($"{Address(import)}/stop", null, Token);
        await transaction.RollbackAsync(Token);
        Assert.Equal("stopped", (string)(await WaitAsync(import))["status"]!["state"]!);
        Assert.Equal(
            0,
            await api.Zoo.AskAsync<long>($"SELECT count(*) FROM information_schema.tables WHERE table_name = '{name}'")
        );
    }

    [Fact]
    public async Task WhatAStoppedProgramLeft_IsFoundOut_AsTheSourceTellsIt()
    {
        var (committed, aborted) = (await TransactionAsync(commits: true), await TransactionAsync(commits: false));
        var states = new List<string>();
        foreach (
            var (transaction, state) in new[]
            {
                (committed, "Running"),
                (aborted, "Running"),
                (null, "Running"),
                (null, "Looking"),
            }
        )
        {
            var begun = await JsonAsync(await api.Client.PostAsync(Imports, null, Token));
            await api.Catalog.ExecuteAsync(
                $"""UPDATE porch.import SET "State" = '{state}', "BeatAt" = now() - interval '1 minute', "Transaction" = {(transaction is null ? "NULL" : $"'{transaction}'")}, "Result" = '[]' WHERE "Id" = '{begun["status"]!["id"]}'"""
            );
            var found = await WaitAsync(begun);
            states.Add((string)found["status"]!["state"]!);
            Assert.Contains("stopped", (string)found["status"]!["problem"]!, StringComparison.Ordinal);
        }

        Assert.Equal(["done", "failed", "failed", "failed"], states);
    }

    [Fact]
    public async Task AReadOnlySource_TakesNone()
    {
        var closed = System.Text.Json.JsonSerializer.SerializeToNode(api.SourceBody($"Closed {Guid.NewGuid():N}"))!;
        closed["isReadOnly"] = true;
        var source = await JsonAsync(await api.Client.PostAsJsonAsync("/api/sources", closed, Token));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await api.Client.PostAsync($"/api/sources/{source["id"]}/imports", null, Token)).StatusCode
        );
    }

    [Fact]
    public void AFolder_GivesOutOnlyWhatIsInIt()
    {
        using var folder = new ImportFolder(api.Folder);
        Assert.Null(folder.Find("../x.csv"));
        Assert.Null(folder.Find(""));
        using var none = new ImportFolder(null);
        Assert.Empty(none.List());
        Assert.Null(none.Find("x.csv"));
    }

    private async Task<string> TransactionAsync(bool commits)
    {
        await using var connection = await api.Zoo.Source.OpenConnectionAsync(Token);
        await using var transaction = await connection.BeginTransactionAsync(Token);
        await using var command = new Npgsql.NpgsqlCommand("SELECT txid_current()::text", connection, transaction);
        var number = (string)(await command.ExecuteScalarAsync(Token))!;
        await (commits ? transaction.CommitAsync(Token) : transaction.RollbackAsync(Token));
        return number;
    }

    private string Address(JsonNode import) => $"{Imports}/{import["status"]!["id"]}";

    private async Task<JsonNode> LookAsync(params (string Name, string Content)[] files)
    {
        var begun = await JsonAsync(await api.Client.PostAsync(Imports, null, Token));
        foreach (var (name, content) in files)
        {
            var body = new ByteArrayContent(Encoding.UTF8.GetBytes(content));
            body.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
            await JsonAsync(await api.Client.PostAsync($"{Address(begun)}/files?name={name}", body, Token));
        }

        var answer = await api.Client.PostAsJsonAsync($"{Address(begun)}/look", new { schema = "zoo" }, Token);
        Assert.True(answer.StatusCode == HttpStatusCode.Accepted, await answer.Content.ReadAsStringAsync(Token));
        var looked = await WaitAsync(begun);
        Assert.True((string?)looked["status"]!["problem"] is null, (string?)looked["status"]!["problem"]);
        return looked;
    }

    private async Task<JsonNode> RunAsync(JsonNode import, JsonNode settings)
    {
        var answer = await api.Client.PostAsJsonAsync($"{Address(import)}/run", settings, Token);
        Assert.True(answer.StatusCode == HttpStatusCode.Accepted, await answer.Content.ReadAsStringAsync(Token));
        return await WaitAsync(import);
    }

    private async Task<JsonNode> WaitAsync(JsonNode import)
    {
        for (var i = 0; i < 400; i++)
        {
            var found = await JsonAsync(await api.Client.GetAsync(Address(import), Token));
            if ((string)found["status"]!["state"]! is not ("looking" or "planning" or "running"))
                return found;
            await Task.Delay(100, Token);
        }

        throw new TimeoutException("The import does not come to its end.");
    }

    private static async Task<JsonNode> JsonAsync(HttpResponseMessage answer)
    {
        var text = await answer.Content.ReadAsStringAsync(Token);
        Assert.True(answer.IsSuccessStatusCode, text);
        return JsonNode.Parse(text)!;
    }
}

/// <summary>A server with a folder of files.</summary>
public sealed class ImportFixture : ApiFixture
{
    /// <summary>The folder.</summary>
    public string Folder { get; } =
        Directory.CreateDirectory(Path.Combine(Directory.CreateTempSubdirectory("porch-test").FullName, "files")).FullName;

    public override ValueTask InitializeAsync()
    {
        Settings = new Dictionary<string, string> { ["PORCH_IMPORTS"] = Folder };
        return base.InitializeAsync();
    }

    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        Directory.Delete(Path.GetDirectoryName(Folder)!, recursive: true);
    }
}
