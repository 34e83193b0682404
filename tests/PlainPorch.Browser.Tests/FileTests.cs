using System.Net.Http.Json;
using System.Text.Json.Nodes;
using OpenQA.Selenium;

namespace PlainPorch.Browser.Tests;

/// <summary>Columns that hold where files lie: set up by what is found, and filled in with the files themselves.</summary>
public sealed class FileTests(PorchFixture porch) : IAsyncLifetime
{
    // One dot of a picture.
    private static readonly byte[] _dot = Convert.FromBase64String(
        "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
    );

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    private readonly Page _page = new(porch.Driver, porch.Address);
    private readonly string _table = $"barns{Guid.NewGuid():N}"[..14];
    private readonly string _own = Directory.CreateTempSubdirectory("porch-own").FullName;
    private string _panel = "";

    public async ValueTask InitializeAsync()
    {
        Directory.CreateDirectory(Path.Combine(porch.Files, _table, "1998"));
        await File.WriteAllBytesAsync(Path.Combine(porch.Files, _table, "1998", "ONE.PNG"), _dot);
        await porch.AskAsync<object?>(
            $$"""
            CREATE TABLE {{_table}} (id int PRIMARY KEY, name text, photo text, papers text[]);
            INSERT INTO {{_table}} VALUES (1, 'Long barn', 'D:\DATA\1998\one.png', NULL), (2, 'Low barn', 'D:\DATA\1998\gone.png', NULL);
            SELECT NULL
            """
        );
        var (_, slug) = await porch.MakeSourceAsync($"Barns {Guid.NewGuid():N}", ("public", _table));
        var made = await porch.Api.GetFromJsonAsync<JsonNode>($"/api/porches/{slug}", Token);
        _panel = $"{slug}/{made!["panels"]![0]!["slug"]}";
    }

    public async ValueTask DisposeAsync()
    {
        await porch.AskAsync<object?>($"DROP TABLE {_table}; SELECT NULL");
        Directory.Delete(_own, recursive: true);
    }

    [Fact]
    public async Task PathsOfAnOldProgram_AreSetUpByWhatIsFound_AndShownAsPictures()
    {
        _page.Open($"/back/panels/{_panel}");
        _page.Find(By.XPath("//*[@role='gridcell' or self::td][normalize-space(.)='Photo']")).Click();
        _page.Find(By.XPath("//label[contains(., 'Its texts are paths')]")).Click();
        _page.See("Of 2 paths that were looked at, 0 lead to a file");
        _page.Type("Folder (blank for the server's own)", _table + Keys.Enter);
        _page.Click("Take D:\\DATA\\ for this folder");
        _page.See("Of 2 paths that were looked at, 1 lead to a file");
        _page.See("gone.png");
        _page.Find(By.XPath("//label[contains(., 'The files are pictures')]")).Click();
        _page.See("Saved");
        _page.Open($"/porch/{_panel}/record/1");
        Page.WaitFor(() => Drawn() == "1x1", "the picture");
        _page.Open($"/porch/{_panel}/record/2");
        _page.See("gone.png (not in the folder)");
        Assert.Equal(@"D:\DATA\1998\one.png", await porch.AskAsync<string>($"SELECT photo FROM {_table} WHERE id = 1"));
    }

    [Fact]
    public async Task SeveralFiles_AreChosenAtOnce_TakenOut_AndSavedInTheirOrder()
    {
        var address = $"/api/porches/{_panel.Replace("/", "/panels/", StringComparison.Ordinal)}/setup";
        var setup = (await porch.Api.GetFromJsonAsync<JsonNode>(address, Token))!;
        setup["definition"]!["columns"]!.AsArray().Single(column => (string)column!["name"]! == "papers")!["files"] =
            new JsonObject { ["folder"] = "papers" };
        using var put = new HttpRequestMessage(HttpMethod.Put, address) { Content = JsonContent.Create(setup["definition"]) };
        put.Headers.TryAddWithoutValidation("If-Match", $"\"{setup["version"]}\"");
        (await porch.Api.SendAsync(put, Token)).EnsureSuccessStatusCode();

        _page.Open($"/porch/{_panel}/record/1/edit");
        _page.See("Add files …");
        // The first takes longer than the others to arrive.
        Choose(("plan.txt", 3_000_000), ("bill.txt", 10), ("draft.txt", 10));
        _page.See("plan.txt, not saved yet");
        _page.See("draft.txt, not saved yet");
        _page.Find(By.CssSelector("button[aria-label='Remove draft.txt']")).Click();
        _page.SeeNoMore("draft.txt");
        // What was chosen is still there when one comes back.
        _page.Reload();
        _page.Click("Put it back");
        _page.See("not saved yet");
        _page.Click("Save changes");
        _page.SeeFormGone();
        var paths = await porch.AskAsync<string[]>($"SELECT papers FROM {_table} WHERE id = 1");
        Assert.Equal(["plan", "bill"], paths!.Select(path => path.Split('-')[0]));
        Assert.Equal(3_000_000, new FileInfo(Path.Combine(porch.Files, "papers", paths![0])).Length);
        _page.See(paths[1]);
    }

    private void Choose(params (string Name, int Size)[] files)
    {
        foreach (var (name, size) in files)
            File.WriteAllBytes(Path.Combine(_own, name), new byte[size]);
        // Nobody sees it: a button opens it.
        porch
            .Driver.FindElement(By.CssSelector("input[type=file]"))
            .SendKeys(string.Join('\n', files.Select(file => Path.Combine(_own, file.Name))));
    }

    private string? Drawn() =>
        porch.Driver.ExecuteScript(
            "const picture = document.querySelector('img[alt^=Photo]'); return picture?.complete ? `${picture.naturalWidth}x${picture.naturalHeight}` : null"
        ) as string;
}
