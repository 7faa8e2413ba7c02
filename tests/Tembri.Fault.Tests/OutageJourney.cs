using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Fault.Tests;

/// <summary>A teacher types on while the database goes away and comes back, and while another tab signs out: all of it is saved
/// in the end, and nothing is claimed before.</summary>
[Collection("one database, which is killed"), Trait("Category", "Faults")]
public sealed class OutageJourney(OwnDatabase database) : IDisposable
{
    private readonly ChromeDriver _browser = Open();
    private readonly string _email = $"{Guid.NewGuid():N}@studio.example";

    private static ChromeDriver Open()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu",
            "--window-size=1280,800", "--no-first-run", "--disable-background-networking", "--disable-component-update",
            "--disable-extensions");
        return new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options);
    }

    public void Dispose() => _browser.Dispose();

    /// <summary>Waits for what a page comes to; what is replaced meanwhile is looked for again.</summary>
    private WebDriverWait Wait(int seconds = 20)
    {
        var wait = new WebDriverWait(_browser, TimeSpan.FromSeconds(seconds));
        wait.IgnoreExceptionTypes(typeof(StaleElementReferenceException), typeof(NoSuchElementException));
        return wait;
    }

    private IWebElement Find(string css) =>
        Wait().Until(b => b.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed))!;

    private void State(Func<string, bool> test) => Wait(30).Until(b => test(b.FindElement(By.CssSelector("[data-state]")).Text));

    private void OpenStudio(RunningTembri tembri)
    {
        _browser.Navigate().GoToUrl($"{tembri.Address}/account/open");
        Find("#StudioName").SendKeys("Faults");
        Find("#Email").SendKeys(_email);
        Find("#Password").SendKeys("quiet-blue-door");
        Find("button[type=submit]").Click();
        Find("#lessons");
    }

    private string NewSong(RunningTembri tembri)
    {
        _browser.Navigate().GoToUrl($"{tembri.Address}/songs/new");
        Find("textarea").SendKeys("title: Slow Tide\n| C | F |");
        Find("#chart-form button[type=submit].button-main").Click();
        Wait().Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        return _browser.Url.Split('?')[0];
    }

    private string StoredText(string address)
    {
        _browser.Navigate().GoToUrl(address);
        return Find("textarea").GetAttribute("value")!;
    }

    [Fact]
    public async Task What_is_typed_during_an_outage_is_saved_when_the_database_is_back()
    {
        var tembri = await database.TembriAsync();
        OpenStudio(tembri);
        var address = NewSong(tembri);
        database.Stop();
        try
        {
            Find("textarea").SendKeys("\n| Am | G |");
            State(s => s.StartsWith("not saved yet: the database does not answer; trying again in", StringComparison.Ordinal));
            // The open edit warns before the tab goes.
            Assert.True(Warns());
            Find("textarea").SendKeys("\n| Dm | E |");
        }
        finally { await database.StartAsync(); }
        State(s => s == "saved");
        Assert.False(Warns());
        Assert.EndsWith("| Am | G |\n| Dm | E |", StoredText(address), StringComparison.Ordinal);
    }

    /// <summary>True when leaving the page would be held up; the driver itself presses such questions away.</summary>
    private bool Warns() =>
        (bool)_browser.ExecuteScript("const leaving = new Event('beforeunload', { cancelable: true }); "
            + "window.dispatchEvent(leaving); return leaving.defaultPrevented;")!;

    [Fact]
    public async Task Signed_out_in_another_tab_while_typing_keeps_the_text_and_saves_it_after_signing_in()
    {
        var tembri = await database.TembriAsync();
        OpenStudio(tembri);
        var address = NewSong(tembri);
        var writing = _browser.CurrentWindowHandle;
        _browser.SwitchTo().NewWindow(WindowType.Tab);
        _browser.Navigate().GoToUrl(tembri.Address);
        Find("form[action='/account/sign-out'] button").Click();
        Find("#Password");
        var other = _browser.CurrentWindowHandle;
        _browser.SwitchTo().Window(writing);
        Find("textarea").SendKeys("\n| Am | G |");
        State(s => s.Contains("you are signed out", StringComparison.Ordinal));
        // Moving the key is refused with the text untouched; no sign-in page is ever taken for a chart.
        Find("[data-move]").Click();
        State(s => s.Contains("not moved", StringComparison.Ordinal));
        Assert.EndsWith("| Am | G |", Find("textarea").GetAttribute("value"), StringComparison.Ordinal);
        _browser.SwitchTo().Window(other);
        Find("#Email").SendKeys(_email);
        Find("#Password").SendKeys("quiet-blue-door");
        Find("button[type=submit]").Click();
        Find("#lessons");
        _browser.SwitchTo().Window(writing);
        State(s => s == "saved");
        Assert.EndsWith("| Am | G |", StoredText(address), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_students_change_and_a_ladders_step_made_during_an_outage_are_saved_when_the_database_is_back()
    {
        var tembri = await database.TembriAsync();
        OpenStudio(tembri);
        var song = NewSong(tembri).Split('/')[4];
        _browser.Navigate().GoToUrl($"{tembri.Address}/students/new");
        Find("#Form_Nickname").SendKeys("Fern");
        Find("button[type=submit].button-main").Click();
        Wait().Until(b => b.FindElements(By.CssSelector("h1")).Any(h => h.Text == "Fern"));
        var student = _browser.Url.Split('/')[^1];
        database.Stop();
        try
        {
            Find("#skill-Changes").SendKeys(Keys.End);
            State(s => s.Contains("the database does not answer", StringComparison.Ordinal));
        }
        finally { await database.StartAsync(); }
        State(s => s == "saved");
        _browser.Navigate().Refresh();
        Assert.Equal("100", Find("#skill-Changes").GetAttribute("value"));
        _browser.Navigate().GoToUrl($"{tembri.Address}/songs/{song}/ladder/{student}?capo=2");
        var keep = Find("form[action*='handler=Capo'] button");
        database.Stop();
        try
        {
            keep.Click();
            Wait()
                .Until(
                    b => b.FindElement(By.Id("said")).Text.Contains("the database does not answer", StringComparison.Ordinal));
        }
        finally { await database.StartAsync(); }
        Wait(30)
            .Until(b => b.FindElements(By.CssSelector("#ladder button"))
                .Any(x => x.Text.Contains("kept: free it", StringComparison.Ordinal)));
    }
}
