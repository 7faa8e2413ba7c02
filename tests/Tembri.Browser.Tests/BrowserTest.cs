using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Browser.Tests;

/// <summary>A real browser on the running application, with what every journey does.</summary>
public abstract class BrowserTest(BrowserHost host) : IDisposable
{
    protected ChromeDriver Browser { get; } = BrowserHost.OpenBrowser();

    protected BrowserHost Host { get; } = host;

    protected WebDriverWait Wait => BrowserHost.WaitOf(Browser, 60);

    public virtual void Dispose()
    {
        Browser.Dispose();
        GC.SuppressFinalize(this);
    }

    /// <summary>The first element that is seen; while a page changes under it, the search goes on.</summary>
    protected IWebElement Find(string css) => Wait.Until(b =>
    {
        try { return b.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed); }
        catch (StaleElementReferenceException) { return null; }
    })!;

    /// <summary>What stands in the first element that is seen, read in one go: between finding and reading the page may put
    /// another in its place.</summary>
    protected string TextOf(string css) => Wait.Until(_ => Find(css).Text);

    /// <summary>An attribute of the first element that is seen; empty where it has none.</summary>
    protected string AttributeOf(string css, string name) => Wait.Until(_ => Find(css).GetAttribute(name) ?? "");

    protected void Until(string css, Func<IWebElement, bool> test) => Wait.Until(b =>
    {
        try { return b.FindElements(By.CssSelector(css)).Any(test); }
        catch (StaleElementReferenceException) { return false; }
    });

    protected void Go(string path) =>
        Browser.Navigate().GoToUrl(path.StartsWith("http", StringComparison.Ordinal) ? path : Host.Address + path);

    /// <summary>Presses a key, the ones before it held down.</summary>
    protected void Press(params string[] keys)
    {
        var actions = new OpenQA.Selenium.Interactions.Actions(Browser);
        foreach (var key in keys[..^1]) actions.KeyDown(key);
        actions.SendKeys(keys[^1]);
        foreach (var key in keys[..^1]) actions.KeyUp(key);
        actions.Perform();
    }

    /// <summary>Puts text in a field as a paste does: at once, with an input event.</summary>
    protected void Paste(IWebElement field, string text)
    {
        field.Click();
        Browser.ExecuteScript(
            "const f = arguments[0]; f.focus(); f.select(); document.execCommand('insertText', false, arguments[1]);", field,
            text);
    }

    /// <summary>Waits until the page says what is kept.</summary>
    protected void State(string words) =>
        Wait.Until(b => b.FindElement(By.CssSelector("[data-state]")).Text is var said
            && (words == "saved" ? said == words : said.Contains(words, StringComparison.Ordinal)));

    protected void Network(bool offline, int latency)
    {
        Browser.ExecuteCdpCommand("Network.enable", []);
        Browser.ExecuteCdpCommand("Network.emulateNetworkConditions",
            new() { ["offline"] = offline, ["latency"] = latency, ["downloadThroughput"] = -1, ["uploadThroughput"] = -1 });
    }

    protected void OpenStudio()
    {
        Go("/account/open");
        Find("#StudioName").SendKeys("Browser Studio");
        Find("#Email").SendKeys($"{Guid.NewGuid():N}@studio.example");
        Find("#Password").SendKeys("quiet-blue-door");
        Find("button[type=submit]").Click();
        Find("#lessons");
    }

    protected string AddStudent(string nickname)
    {
        Go("/students/new");
        Find("#Form_Nickname").SendKeys(nickname);
        Find("button[type=submit].button-main").Click();
        Until("h1", h => h.Text == nickname);
        // The name stands at the top; the scripts that keep changes begin once all of the page is there.
        Wait.Until(b => (string)((IJavaScriptExecutor)b).ExecuteScript("return document.readyState")! == "complete");
        return Browser.Url.Split('/')[^1];
    }

    /// <summary>A studio with a song and a student who works on it, who has a link.</summary>
    /// <returns>The student, and where the link leads.</returns>
    protected (string Student, string Link) OpenStudentsPage(string nickname, string song)
    {
        OpenStudio();
        var student = AddStudent(nickname);
        Go("/songs/new");
        Paste(Find("textarea"), song);
        Until("#reading", r => r.Text.Contains(song.Split('\n')[0]["title: ".Length..], StringComparison.Ordinal));
        Find("form button[type=submit].button-main").Click();
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        Go($"/students/{student}/practice");
        Find("form[action*=Work] button").Click();
        Wait.Until(b => b.FindElements(By.CssSelector(".worked")).Count == 1);
        Find("form[action*=Link] button").Click();
        return (student,
            new Uri(Wait.Until(b => b.FindElements(By.CssSelector("input[readonly]")).FirstOrDefault())!.GetAttribute(
                "value")!).PathAndQuery);
    }

    private static readonly Lazy<string> Axe = new(
        () => File.ReadAllText(Path.Combine(BrowserHost.Folder, "node_modules", "axe-core", "axe.min.js")));

    /// <summary>Runs axe with best practices and fails on anything it finds.</summary>
    protected void CheckWithAxe(string where)
    {
        if (!(bool)Browser.ExecuteScript("return 'axe' in window")!) Browser.ExecuteScript(Axe.Value);
        var json = (string)Browser.ExecuteAsyncScript(
            "const done = arguments[arguments.length - 1]; axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', "
                + "'wcag22aa', 'best-practice'], resultTypes: ['violations'] }).then(r => done(JSON.stringify(r.violations.map(v => ({ id: v.id, impact: "
                + "v.impact, nodes: v.nodes.slice(0, 3).map(n => n.html) }))))).catch(e => done(JSON.stringify([{ id: "
                + "String(e), impact: 'critical', nodes: [] }])));")!;
        var found = JsonDocument.Parse(json).RootElement.EnumerateArray().Select(v => v.GetRawText()).ToList();
        Assert.True(found.Count == 0, $"{where}: {string.Join("\n", found)}");
    }

    /// <summary>The browser's console holds no error; a content policy breach would be one.</summary>
    protected void CheckConsole()
    {
        var faults = Browser.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level == LogLevel.Severe).Select(l => l.Message)
            .ToList();
        Assert.True(faults.Count == 0, string.Join("\n", faults));
    }
}
