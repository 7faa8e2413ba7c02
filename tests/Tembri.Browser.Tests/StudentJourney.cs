using System.Collections.ObjectModel;
using System.Globalization;
using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Browser.Tests;

/// <summary>A student's phone: from the code on the teacher's screen to the first counted change, without network and back, two
/// phones at once.</summary>
public sealed class StudentJourney(BrowserHost host) : BrowserTest(host)
{
    private const string Song =
        "title: Wicker Gate\nkey: C\ntempo: 90\nform: Verse, Chorus, Verse\n\n[Verse]\n| C | Em | G | C "
            + "|\n\n[Chorus]\n| Am | F | G | C |\n";
    private string _student = "";

    /// <summary>A studio with a song and a student who works on it; the phone's page is open.</summary>
    private string Open()
    {
        (_student, var link) = OpenStudentsPage("Fern", Song);
        Assert.NotEmpty(Browser.FindElements(By.CssSelector("#link ~ * svg, #link + div svg")));
        CheckWithAxe("a student's practice");
        CheckConsole();
        return link;
    }

    private void Phone(ChromeDriver browser, int width = 390, int height = 844) =>
        browser.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride",
            new() { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = 1, ["mobile"] = false });

    private static IWebElement Shown(ChromeDriver browser, string selector) =>
        BrowserHost.WaitOf(browser, 20)
            .Until(
                b => b.FindElements(By.CssSelector($"[data-view]:not([hidden]) {selector}")).FirstOrDefault(e => e.Displayed))!;

    private static void Press(ChromeDriver browser, string selector)
    {
        var element = Shown(browser, selector);
        browser.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", element);
        element.Click();
    }

    /// <summary>Opens the first change of today.</summary>
    private static void OpenChange(ChromeDriver browser)
    {
        var row = BrowserHost.WaitOf(browser, 20)
            .Until(b => b.FindElements(By.CssSelector("[data-today] button"))
                .FirstOrDefault(e => e.Text.Contains(" to ", StringComparison.Ordinal)))!;
        browser.ExecuteScript("arguments[0].click()", row);
        Shown(browser, "[data-count-one]");
    }

    /// <summary>Counts changes for twelve seconds of the page's own clock, which stands still otherwise.</summary>
    private static void Count(ChromeDriver browser, int changes)
    {
        browser.ExecuteScript("if (!window.ahead) { const at = performance.now(); window.ahead = 0; "
            + "performance.now = () => at + window.ahead; }");
        for (var i = 0; i < changes; i++) Press(browser, "[data-count-one]");
        browser.ExecuteScript("window.ahead += 12000");
        Press(browser, "[data-stop]");
        Press(browser, "[data-hand-in]");
    }

    private static string State(ChromeDriver browser) =>
        (string)browser.ExecuteScript("return document.querySelector('[data-state]').textContent")!;

    private static void Network(ChromeDriver browser, bool there)
    {
        browser.ExecuteCdpCommand("Network.enable", []);
        browser.ExecuteCdpCommand("Network.emulateNetworkConditions",
            new() { ["offline"] = !there, ["latency"] = 0, ["downloadThroughput"] = -1, ["uploadThroughput"] = -1 });
    }

    private List<string> LogLines()
    {
        Go($"/students/{_student}/log");
        return [.. Browser.FindElements(By.CssSelector(".log tr td:nth-child(2)")).Select(e => e.Text)];
    }

    [Fact]
    public void From_the_link_to_a_counted_change_and_into_the_teachers_log()
    {
        var link = Open();
        Phone(Browser);
        Go(link);
        Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 1);
        CheckWithAxe("a student's day");
        foreach (var (width, height) in new[] { (390, 844), (360, 640) })
        {
            Phone(Browser, width, height);
            Assert.True((bool)Browser.ExecuteScript("return document.documentElement.scrollWidth <= innerWidth")!,
                $"nothing lies beside a page {width} px wide");
        }
        OpenChange(Browser);
        CheckWithAxe("a change on the phone");
        // The thumb's button is large and in sight without scrolling, on the small phone as well.
        var box = (ReadOnlyCollection<object>)Browser.ExecuteScript("const r = document.querySelector('[data-view]:not([hidden]) "
            + "[data-count-one]').getBoundingClientRect(); return [r.top, r.bottom, r.height, innerHeight]")!;
        var numbers = box.Select(n => Convert.ToDouble(n, CultureInfo.InvariantCulture)).ToList();
        Assert.True(numbers[2] >= 64 && numbers[0] >= 0 && numbers[1] <= numbers[3], string.Join(" ", numbers));
        Count(Browser, 6);
        Assert.Contains("30 best so far", Shown(Browser, "[data-best]").Text, StringComparison.Ordinal);   // 6 in 12 s
        // On to the end of the day, and how it was.
        for (var i = 0; i < 12 && Browser.FindElements(By.CssSelector("[data-view=done]:not([hidden])")).Count == 0; i++)
        {
            if (Browser.FindElements(By.CssSelector("[data-view]:not([hidden]) [data-try=clean]")).Count > 0)
                Press(Browser, "[data-try=clean]");
            Press(Browser, "[data-next]");
        }
        CheckWithAxe("done for today");
        Shown(Browser, "[name=minutes]").Clear();
        Shown(Browser, "[name=minutes]").SendKeys("12");
        Press(Browser, "[type=submit]");
        Assert.Contains("Say whether anything hurt", Shown(Browser, "[data-done-fault]").Text, StringComparison.Ordinal);
        Press(Browser, "[data-felt='2']");
        Press(Browser, "[data-hurt=false]");
        Press(Browser, "[type=submit]");
        Wait.Until(_ => State(Browser) == "All handed in.");
        // The day is finished as it was begun: opened again, it has the same steps, and what is done is ticked.
        List<string> Steps() =>
            [.. ((ReadOnlyCollection<object>)Browser.ExecuteScript("return [...document.querySelectorAll('[data-today] "
                + "li')].map(l => (l.hasAttribute('data-done') ? 'done ' : '') + l.textContent)")!)
                .Cast<string>()];
        var ended = Steps();
        Assert.Contains(ended,
            l => l.StartsWith("done ", StringComparison.Ordinal) && l.Contains(" to ", StringComparison.Ordinal));
        Browser.Navigate().Refresh();
        Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 1);
        Assert.Equal(ended, Steps());
        CheckConsole();
        Phone(Browser, 1280, 800);
        var lines = LogLines();
        Assert.Contains(lines,
            l => l.Contains("6 clean in 12 s", StringComparison.Ordinal) && l.Contains("because", StringComparison.Ordinal));
        Assert.Contains(lines, l => l.Contains("12 minutes, felt fine", StringComparison.Ordinal));
        CheckWithAxe("a log");
        CheckConsole();
    }

    [Fact]
    public void Without_network_the_page_goes_on_and_hands_in_once_it_is_back()
    {
        var link = Open();
        Phone(Browser);
        Go(link);
        Wait.Until(_ => (bool)Browser.ExecuteAsyncScript("const done = arguments[0]; caches.open('tembri-my-1').then(c => "
            + "c.keys()).then(k => done(!!navigator.serviceWorker.controller && k.filter(r => "
            + "r.url.includes('/assets/')).length > 4 && k.some(r => r.url.includes('/score/'))), () => done(false))")!);
        var before = LogLines().Count;
        Go(link);
        Network(Browser, false);
        // Closed and opened again without network: all of it is there.
        Browser.Navigate().Refresh();
        Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 1);
        OpenChange(Browser);
        Count(Browser, 7);
        Press(Browser, "[data-go=home]");
        Wait.Until(_ => State(Browser).Contains("One thing waits", StringComparison.Ordinal));
        // The sounds were brought along.
        Press(Browser, "[data-go^=play]");
        Press(Browser, "[data-play]");
        Wait.Until(_ => Shown(Browser, "[data-play]").Text == "Stop");
        Press(Browser, "[data-play]");
        // Closed once more before it could be handed in: it is still there.
        Browser.Navigate().Refresh();
        Wait.Until(_ => State(Browser).Contains("One thing waits", StringComparison.Ordinal));
        Network(Browser, true);
        Browser.ExecuteScript("window.dispatchEvent(new Event('online'))");
        Wait.Until(_ => !State(Browser).Contains("waits", StringComparison.Ordinal));
        Browser.Navigate().Refresh();
        Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 1);
        var lines = LogLines();
        Assert.Equal(before + 1, lines.Count);
        Assert.Contains(lines, l => l.Contains("7 clean in 12 s", StringComparison.Ordinal));
        // A link that is ended is closed, also where the page was kept.
        Go($"/students/{_student}/practice");
        Find("form[action*=Revoke] button").Click();
        Wait.Until(b => b.FindElements(By.CssSelector("form[action*=Revoke]")).Count == 0);
        Go(link);
        Assert.Contains("This link is closed", TextOf("body"), StringComparison.Ordinal);
    }

    [Fact]
    public void Two_phones_hand_in_at_once_and_both_are_kept()
    {
        var link = Open();
        using var other = BrowserHost.OpenBrowser();
        Phone(other);
        other.Navigate().GoToUrl($"{Host.Address}{link}");
        Phone(Browser);
        Go(link);
        foreach (var phone in new[] { Browser, other })
        {
            OpenChange(phone);
            Network(phone, false);
            Count(phone, phone == other ? 9 : 8);
        }
        foreach (var phone in new[] { Browser, other })
        {
            Network(phone, true);
            phone.ExecuteScript("window.dispatchEvent(new Event('online'))");
        }
        foreach (var phone in new[] { Browser, other })
        {
            phone.ExecuteScript("history.back()");
            BrowserHost.WaitOf(phone, 20).Until(_ => State(phone) == "All handed in.");
        }
        var lines = LogLines();
        Assert.Contains(lines, l => l.Contains("8 clean in 12 s", StringComparison.Ordinal));
        Assert.Contains(lines, l => l.Contains("9 clean in 12 s", StringComparison.Ordinal));
    }

    [Fact]
    public void The_pages_of_a_student_and_the_day_are_usable_by_everybody()
    {
        Open();
        foreach (var (page, name) in new[]
        {
            ($"/students/{_student}/meeting", "a first meeting"), ($"/students/{_student}/records", "what is kept"),
            ($"/students/{_student}", "hand and skill"), ("/studio/guitars", "guitars"), ("/", "the day")
        })
        {
            Go(page);
            CheckWithAxe(name);
            CheckConsole();
        }
        // A hand is measured on the screen: the slider's millimetres go into the form.
        Go($"/students/{_student}/meeting");
        Browser.FindElements(By.CssSelector("details summary")).Last().Click();
        Browser.ExecuteScript(
            "const r = document.querySelector('[data-reach]'); r.value = 96; r.dispatchEvent(new Event('input'))");
        Find("[data-reach-take]").Click();
        Find("form[action*=Hand] button").Click();
        Until("#hand ~ p", p => p.Text.Contains("Measured: 96 mm", StringComparison.Ordinal));
    }

    [Fact]
    public void A_child_whose_hand_hurts_sees_no_barre_any_more_and_the_song_is_heard_with_a_click()
    {
        var link = Open();
        // Everything goes but the full barre.
        Go($"/students/{_student}");
        Browser.ExecuteScript("const all = [...document.querySelectorAll('#student input[type=range]')]; for (const r of all) "
            + "r.value = r.id === 'skill-FullBarre' ? 20 : 85; all[0].dispatchEvent(new Event('change', { bubbles: true }))");
        State("saved");
        Go($"/students/{_student}/practice");
        new SelectElement(Find("select[name=age]")).SelectByValue("Child");
        Find("form[action*=Goal] button").Click();
        Wait.Until(b => b.FindElements(By.CssSelector("select[name=age] option[value=Child][selected]")).Count == 1);
        new SelectElement(Find(".worked select[name=rung]")).SelectByValue("5");
        Browser.FindElements(By.CssSelector(".worked form[action*=Step] button")).Last().Click();
        Until(".worked h3", h => h.Text.Contains("rung 5", StringComparison.Ordinal));
        Browser.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = HeardSound.CatchPlayer });
        Phone(Browser);
        Go(link);
        Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 1);
        // The first of the days ahead on which a barre is planned; the phone's clock is put there, and what it hands in is dated
        // by the server's.
        var planned = JsonDocument.Parse(Browser.FindElement(By.CssSelector("[data-practice]"))
                    .GetAttribute("data-practice")!).RootElement.GetProperty("days").EnumerateArray().ToList();
        var ahead = planned.FindIndex(d => d.GetProperty("items").EnumerateArray().Any(i => i.GetProperty("hard").GetBoolean()));
        Assert.True(ahead >= 0, "a barre is planned");
        Browser.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument",
            new()
            {
                ["source"] = $"{{ const D = Date, ahead = {ahead} * 864e5; window.Date = class extends D {{ constructor(...a) "
                    + $"{{ if (a.length) super(...a); else super(D.now() + ahead); }} static now() {{ "
                    + $"return D.now() + ahead; }} }}; }}"
            });
        Browser.Navigate().Refresh();
        Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 1);
        var barre = planned[ahead].GetProperty("items").EnumerateArray().First(i => i.GetProperty("hard").GetBoolean())
            .GetProperty("title").GetString()!;
        Assert.Contains(Browser.FindElements(By.CssSelector("[data-today] button")),
            e => e.Text.StartsWith(barre, StringComparison.Ordinal));
        Assert.Contains("a grown-up at home", TextOf(".my-foot"), StringComparison.Ordinal);
        // The chorus in a loop, with clicks: every stroke where the clock has it.
        Press(Browser, "[data-go^=play]");
        new SelectElement(Shown(Browser, "[data-loop]")).SelectByText("Chorus");
        Press(Browser, "[data-clicks]");
        Press(Browser, "[data-version=rung]");
        Press(Browser, "[data-play]");
        Wait.Until(_ =>
            (long)Browser.ExecuteScript("return (window.caughtPlayer?.log ?? []).filter(e => e.kind === 'click').length")! >= 4);
        Wait.Until(_ => (long)Browser.ExecuteScript(
                "return (window.caughtPlayer?.log ?? []).filter(e => e.kind === 'stroke').length")! >= 4);
        Press(Browser, "[data-play]");
        Press(Browser, "[data-go=home]");
        Press(Browser, "[data-go=done]");
        Shown(Browser, "[name=minutes]").SendKeys("5");
        Press(Browser, "[data-hurt=true]");
        Assert.Contains("Tell your teacher and a grown-up at home", Shown(Browser, "[data-hurt-words]").Text,
            StringComparison.Ordinal);
        Press(Browser, "[type=submit]");
        Wait.Until(_ => State(Browser) == "All handed in.");
        foreach (var again in new[] { false, true })
        {
            if (again) Browser.Navigate().Refresh();
            Wait.Until(b => b.FindElements(By.CssSelector("[data-today] li")).Count > 0);
            Assert.DoesNotContain(Browser.FindElements(By.CssSelector("[data-today] button")),
                e => e.Text.StartsWith(barre, StringComparison.Ordinal));
        }
        CheckConsole();
    }

    [Fact]
    public void A_teacher_changes_the_plan_and_corrects_the_log_with_a_few_presses()
    {
        Open();
        Go($"/students/{_student}/practice");
        // The first thing that can be taken out is; and comes back.
        var item = Browser.FindElements(By.CssSelector(".plan-items details"))
            .First(d => d.FindElements(By.CssSelector("button[value=LeaveOut]")).Count > 0);
        item.FindElement(By.TagName("summary")).Click();
        item.FindElement(By.CssSelector("button[value=LeaveOut]")).Click();
        Until(".plan-changed", c => c.Text.Contains("taken out", StringComparison.Ordinal));
        Find(".plan-changed button").Click();
        Wait.Until(b => b.FindElements(By.CssSelector(".plan-changed")).Count == 0);
        Find("input[name=text]").SendKeys("hum the tune");
        Find("form[action*=Own] button").Click();
        Wait.Until(b => b.FindElements(By.CssSelector(".plan-day"))
                .Count(d => d.Text.Contains("hum the tune", StringComparison.Ordinal)) == 7);
        // The log's form shows what belongs to what is written down.
        Go($"/students/{_student}/log");
        bool IsSeen(string name) => Browser.FindElement(By.CssSelector($"[name='Form.{name}']")).Displayed;
        Assert.True(IsSeen("Text") && !IsSeen("From") && !IsSeen("Minutes"));
        new SelectElement(Find("[name='Form.Kind']")).SelectByValue("changes");
        Wait.Until(_ => IsSeen("From") && IsSeen("To") && IsSeen("Count") && !IsSeen("Tries"));
        Find("[name='Form.From']").SendKeys("x32010");
        Find("[name='Form.To']").SendKeys("320003");
        Find("[name='Form.Count']").SendKeys("310");
        Find(".entry-form button[type=submit]").Click();
        Until("[role=alert]", a => a.Text.Contains("nobody does more than 200", StringComparison.Ordinal));
        Assert.Equal("310", AttributeOf("[name='Form.Count']", "value"));
        Find("[name='Form.Count']").Clear();
        Find("[name='Form.Count']").SendKeys("31");
        Find(".entry-form button[type=submit]").Click();
        Until(".log",
            l => l.Text.Contains("C to G: 31 clean in 60 s", StringComparison.Ordinal)
                && l.Text.Contains("because", StringComparison.Ordinal));
        Find(".log-acts a").Click();
        Until("h2", h => h.Text == "Correct this entry");
        Find("[name='Form.Count']").Clear();
        Find("[name='Form.Count']").SendKeys("21");
        Find(".entry-form button[type=submit]").Click();
        Until(".log",
            l => l.Text.Contains("C to G: 21 clean", StringComparison.Ordinal)
                && l.Text.Contains("corrected", StringComparison.Ordinal));
        CheckWithAxe("a log with a corrected entry");
    }
}
