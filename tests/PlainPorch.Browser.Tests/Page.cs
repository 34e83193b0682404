using System.Diagnostics;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace PlainPorch.Browser.Tests;

/// <summary>Looks at and works the page as a person does: by what is written on it, and by the keyboard.</summary>
internal sealed class Page(ChromeDriver driver, string address)
{
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(30);

    public string Path => new Uri(driver.Url).PathAndQuery;

    public IWebElement Focused => driver.SwitchTo().ActiveElement();

    /// <summary>Opens an address as a new page would, wherever the last test has left off.</summary>
    public void Open(string path)
    {
        // Going to the address that is open already is a reload, which keeps the place one was at in a list.
        if (driver.Url == address + path)
            driver.Navigate().GoToUrl("about:blank");
        driver.Navigate().GoToUrl(address + path);
    }

    public void Reload() => driver.Navigate().Refresh();

    public void Back() => driver.Navigate().Back();

    public void Press(string keys) => Focused.SendKeys(keys);

    /// <summary>Clicks the button or link that bears a text.</summary>
    public void Click(string text) =>
        Do(() =>
            Find(By.XPath($"//*[self::button or self::a][normalize-space(.)={Quote(text)} or @aria-label={Quote(text)}]")).Click()
        );

    /// <summary>Types into the input with a label, over what is there.</summary>
    public void Type(string label, string text) =>
        Do(() =>
        {
            var input = Input(label);
            input.SendKeys(Keys.Control + "a");
            input.SendKeys(text.Length == 0 ? Keys.Delete : text);
        });

    /// <summary>Chooses an option of the list with a label.</summary>
    public void Choose(string label, string option) =>
        Do(() => Input(label).FindElement(By.XPath($".//option[normalize-space(.)={Quote(option)}]")).Click());

    public IWebElement Input(string label) =>
        Find(
            By.XPath(
                $"//*[@id=//label[normalize-space(text())={Quote(label)}]/@for] | //*[(self::input or self::select) and @aria-label={Quote(label)}]"
            )
        );

    public IWebElement Find(By by) =>
        Wait(() => driver.FindElements(by).FirstOrDefault(element => element.Displayed), by.ToString());

    public int Count(By by) => driver.FindElements(by).Count;

    /// <summary>Waits until a text is to be seen.</summary>
    public void See(string text) =>
        Wait(
            () => Body().Contains(text, StringComparison.Ordinal) ? "" : null,
            () => $"“{text}” on the page, which says: {Body()}"
        );

    /// <summary>Waits until a text is no longer to be seen.</summary>
    public void SeeNoMore(string text) =>
        Wait(() => Body().Contains(text, StringComparison.Ordinal) ? null : "", $"“{text}” to go");

    /// <summary>Cuts the network, or has it back.</summary>
    public void SetOffline(bool offline)
    {
        driver.ExecuteCdpCommand("Network.enable", []);
        driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new Dictionary<string, object?>
            {
                ["offline"] = offline,
                ["latency"] = 0,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            }
        );
    }

    /// <summary>Waits until a form was saved or left; while it is being saved, it says so.</summary>
    public void SeeFormGone() =>
        Wait(
            () =>
                Body() is var body
                && (body.Contains("Save changes", StringComparison.Ordinal) || body.Contains("Saving", StringComparison.Ordinal))
                    ? null
                    : "",
            "the form to go"
        );

    public static void WaitFor(Func<bool> condition, string what) => Wait(() => condition() ? "" : null, what);

    /// <summary>The titles of the rows of the list.</summary>
    public IReadOnlyList<string> Rows() =>
        Do(() =>
            driver.FindElements(By.CssSelector("tbody tr[aria-label]")).Select(row => row.GetAttribute("aria-label")!).ToList()
        );

    /// <summary>What breaks the rules on the page as it is.</summary>
    /// <param name="others">Rules that are not checked everywhere.</param>
    public IReadOnlyCollection<object> Faults(params string[] others)
    {
        driver.ExecuteScript(
            File.ReadAllText(System.IO.Path.Combine(PorchFixture.Root, "src/PlainPorch.Client/node_modules/axe-core/axe.min.js"))
        );
        return (IReadOnlyCollection<object>)
            driver.ExecuteAsyncScript(
                """
                const [others, done] = arguments;
                axe.run({ resultTypes: ["violations"], rules: Object.fromEntries(others.map(rule => [rule, { enabled: true }])) }).then(found =>
                  done(found.violations.map(fault => `${fault.id}: ${fault.nodes.map(node => node.html).join(" | ")}`)));
                """,
                (object)others
            )!;
    }

    public string Body() => Do(() => driver.FindElement(By.TagName("body")).Text);

    // React replaces elements while one looks at them; a person would simply look again.
    private static T Do<T>(Func<T> act)
    {
        for (var tries = 1; ; tries++)
        {
            try
            {
                return act();
            }
            catch (WebDriverException moved)
                when (tries < 10
                    && moved is StaleElementReferenceException or ElementNotInteractableException or NoSuchElementException
                )
            {
                Thread.Sleep(100);
            }
        }
    }

    private static void Do(Action act) =>
        Do(() =>
        {
            act();
            return true;
        });

    private static T Wait<T>(Func<T?> look, string what)
        where T : class => Wait(look, () => what);

    // What was waited for is put in words when it did not come: the page says then what it said last.
    private static T Wait<T>(Func<T?> look, Func<string> what)
        where T : class
    {
        var watch = Stopwatch.StartNew();
        while (true)
        {
            if (Do(look) is { } found)
                return found;
            Assert.True(watch.Elapsed < _patience, $"Waited in vain for {what()}.");
            Thread.Sleep(50);
        }
    }

    private static string Quote(string text) => text.Contains('\'', StringComparison.Ordinal) ? $"\"{text}\"" : $"'{text}'";
}
