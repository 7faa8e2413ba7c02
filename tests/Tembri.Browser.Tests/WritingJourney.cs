using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Browser.Tests;

/// <summary>Writing a chart with keys alone: saved as it goes, undone over a reload, doubts settled by a key, another tab never overwritten.</summary>
public sealed class WritingJourney(BrowserHost host) : IDisposable
{
    private readonly ChromeDriver _browser = BrowserHost.OpenBrowser();

    public void Dispose() => _browser.Dispose();

    private WebDriverWait Wait => new(_browser, TimeSpan.FromSeconds(20));

    private IWebElement Find(string css) => Wait.Until(b => b.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed))!;

    private string Text => Find("textarea").GetAttribute("value")!;

    private void State(string words) => Wait.Until(b => b.FindElement(By.CssSelector("[data-state]")).Text is var said && (words == "saved" ? said == words : said.Contains(words, StringComparison.Ordinal)));

    private void Keys(params string[] keys)
    {
        var actions = new OpenQA.Selenium.Interactions.Actions(_browser);
        foreach (var key in keys[..^1]) actions.KeyDown(key);
        actions.SendKeys(keys[^1]);
        foreach (var key in keys[..^1]) actions.KeyUp(key);
        actions.Perform();
    }

    private string TakeDown(string chart)
    {
        _browser.Navigate().GoToUrl(host.Address + "/account/open");
        Find("#StudioName").SendKeys("Writing Studio");
        Find("#Email").SendKeys($"{Guid.NewGuid():N}@studio.example");
        Find("#Password").SendKeys("quiet-blue-door");
        Find("button[type=submit]").Click();
        Find(".desk");
        _browser.Navigate().GoToUrl(host.Address + "/songs/new");
        // Keys only: into the box, the chart, out of it with Tab, and Enter on the button.
        Find("textarea").SendKeys(chart);
        Keys(OpenQA.Selenium.Keys.Tab);
        Assert.Equal("Save the chart", _browser.SwitchTo().ActiveElement().Text);
        Keys(OpenQA.Selenium.Keys.Enter);
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        return _browser.Url.Split('?')[0];
    }

    [Fact]
    public void Typing_is_saved_undone_over_a_reload_and_doubts_are_settled_by_a_key()
    {
        var address = TakeDown("title: Slow Tide\nkey: Eb\n| Eb | G# | Bb7 | Eb |");
        Wait.Until(b => b.FindElements(By.CssSelector("[data-mend='1']")).Count == 1);
        Keys(OpenQA.Selenium.Keys.Alt, "1");
        Wait.Until(_ => Text.Contains("| Eb | A♭ | Bb7", StringComparison.Ordinal));
        Wait.Until(b => b.FindElements(By.CssSelector("[data-doubts]")).Count == 0);
        Find("textarea").SendKeys("\n| Ab | Absus4 | Bb |");
        State("saved");
        // Saved without a press of the button: a new visit has it.
        _browser.Navigate().GoToUrl(address);
        Assert.EndsWith("| Ab | Absus4 | Bb |", Text, StringComparison.Ordinal);
        Wait.Until(b => b.FindElement(By.CssSelector("#reading")).Text.Contains("never resolves", StringComparison.Ordinal));
        // The suspension is meant; kept, it stays quiet, also after a reload.
        Wait.Until(b => b.FindElements(By.CssSelector("[data-keep]")).Count == 1);
        Keys(OpenQA.Selenium.Keys.Alt, "k");
        Wait.Until(_ => Text.Contains("{kept: sus A♭sus4}", StringComparison.Ordinal));
        Wait.Until(b => b.FindElements(By.CssSelector("[data-doubts]")).Count == 0);
        State("saved");
        // Undo goes back over the reload, step by step, to the chart as it was taken down; redo comes back.
        _browser.Navigate().Refresh();
        for (var i = 0; i < 12 && !Text.Contains("G#", StringComparison.Ordinal); i++) Keys(OpenQA.Selenium.Keys.Control, "z");
        Assert.Contains("| Eb | G# | Bb7 | Eb |", Text, StringComparison.Ordinal);
        Assert.DoesNotContain("kept", Text, StringComparison.Ordinal);
        State("saved");
        for (var i = 0; i < 12 && !Text.Contains("kept", StringComparison.Ordinal); i++) Keys(OpenQA.Selenium.Keys.Control, "y");
        Assert.Contains("{kept: sus A♭sus4}", Text, StringComparison.Ordinal);
        State("saved");
    }

    [Fact]
    public void Two_tabs_on_one_chart_never_overwrite_each_other()
    {
        var address = TakeDown("title: Slow Tide\n| C | F | G | C |");
        var first = _browser.CurrentWindowHandle;
        _browser.SwitchTo().NewWindow(WindowType.Tab);
        _browser.Navigate().GoToUrl(address);
        Find("textarea").SendKeys("\n| Am | F |");
        State("saved");
        var second = _browser.CurrentWindowHandle;
        _browser.SwitchTo().Window(first);
        Find("textarea").SendKeys("\n| Dm | G |");
        // The first tab is told, keeps its text, and nothing of the second is gone.
        var note = Find("[role=alert]");
        Assert.Contains("saved somewhere else", note.Text, StringComparison.Ordinal);
        Assert.EndsWith("| Dm | G |", Text, StringComparison.Ordinal);
        _browser.SwitchTo().Window(second);
        _browser.Navigate().Refresh();
        Assert.EndsWith("| Am | F |", Text, StringComparison.Ordinal);
        // Taking the other one can be undone.
        _browser.SwitchTo().Window(first);
        Wait.Until(b => b.FindElements(By.CssSelector("[role=alert] button")).First(e => e.Text.StartsWith("Take", StringComparison.Ordinal))).Click();
        Wait.Until(_ => Text.EndsWith("| Am | F |", StringComparison.Ordinal));
        State("saved");
        Keys(OpenQA.Selenium.Keys.Control, "z");
        Assert.EndsWith("| Dm | G |", Text, StringComparison.Ordinal);
        State("saved");
    }

    [Fact]
    public void When_the_server_does_not_answer_it_says_so_and_saves_later()
    {
        var address = TakeDown("title: Slow Tide\n| C | F | G | C |");
        _browser.ExecuteCdpCommand("Network.enable", []);
        void Offline(bool off) => _browser.ExecuteCdpCommand("Network.emulateNetworkConditions", new() { ["offline"] = off, ["latency"] = 0, ["downloadThroughput"] = -1, ["uploadThroughput"] = -1 });
        Offline(true);
        Find("textarea").SendKeys("\n| Am | F |");
        State("does not answer");
        Offline(false);
        State("saved");
        _browser.Navigate().GoToUrl(address);
        Assert.EndsWith("| Am | F |", Text, StringComparison.Ordinal);
    }
}
