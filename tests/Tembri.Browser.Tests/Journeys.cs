using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Browser.Tests;

/// <summary>The way of a song, walked in a real browser under the real content policy.</summary>
public sealed class Journeys(BrowserHost host) : IDisposable
{
    private readonly ChromeDriver _browser = BrowserHost.OpenBrowser();

    public void Dispose() => _browser.Dispose();

    private WebDriverWait Wait => new(_browser, TimeSpan.FromSeconds(20));

    private IWebElement Find(string css) => Wait.Until(b => b.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed))!;

    private void Until(string css, Func<IWebElement, bool> test) => Wait.Until(b =>
    {
        try { return b.FindElements(By.CssSelector(css)).Any(test); }
        catch (StaleElementReferenceException) { return false; }
    });

    private void Go(string path) => _browser.Navigate().GoToUrl(host.Address + path);

    private void Keys(string keys) => new OpenQA.Selenium.Interactions.Actions(_browser).SendKeys(keys).Perform();

    /// <summary>Puts text in a field as a paste does: at once, with an input event.</summary>
    private void Paste(IWebElement field, string text)
    {
        field.Click();
        _browser.ExecuteScript("const f = arguments[0]; f.focus(); f.select(); document.execCommand('insertText', false, arguments[1]);", field, text);
    }

    private void OpenStudio()
    {
        Go("/account/open");
        Find("#StudioName").SendKeys("Browser Studio");
        Find("#Email").SendKeys($"{Guid.NewGuid():N}@studio.example");
        Find("#Password").SendKeys("quiet-blue-door");
        Find("button[type=submit]").Click();
        Find(".desk");
    }

    private string AddStudent(string nickname)
    {
        Go("/students/new");
        Find("#Form_Nickname").SendKeys(nickname);
        Find("button[type=submit].button-main").Click();
        Until("h1", h => h.Text == nickname);
        return _browser.Url.Split('/')[^1];
    }

    /// <summary>Runs axe and fails on anything serious.</summary>
    private void CheckWithAxe(string where)
    {
        _browser.ExecuteScript(File.ReadAllText(Path.Combine(BrowserHost.Folder, "node_modules", "axe-core", "axe.min.js")));
        var json = (string)_browser.ExecuteAsyncScript(
            "const done = arguments[arguments.length - 1]; axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] }).then(r => done(JSON.stringify(r.violations.map(v => ({ id: v.id, impact: v.impact, nodes: v.nodes.slice(0, 3).map(n => n.html) }))))).catch(e => done(JSON.stringify([{ id: String(e), impact: 'critical', nodes: [] }])));")!;
        var serious = JsonDocument.Parse(json).RootElement.EnumerateArray().Where(v => v.GetProperty("impact").GetString() is "serious" or "critical").Select(v => v.GetRawText()).ToList();
        Assert.True(serious.Count == 0, $"{where}: {string.Join("\n", serious)}");
    }

    /// <summary>The browser's console holds no error; a content policy breach would be one.</summary>
    private void CheckConsole() => Assert.Empty(_browser.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level == LogLevel.Severe).Select(l => l.Message));

    [Fact]
    public void A_chart_is_pasted_its_ladder_opened_a_swap_taken_and_the_sheet_printed()
    {
        OpenStudio();
        var student = AddStudent("Fern");
        CheckWithAxe("student");

        // Paste a chart with one slip; it is read as it stands, and the doubt leads to its place.
        Go("/songs/new");
        Paste(Find("textarea"), "title: Nine Lanterns\nkey: Eb\ntempo: 96\n\n[Verse]\n| Eb . . . | Cm7 | Ab . Bbb7x . | Bb7 |\n[Chorus]\n| Ab | Eb/G | Fm7 | Bb7 |\n");
        Until("#reading .problem", p => p.Text.Contains("Line 6", StringComparison.Ordinal));
        Find("#reading .problem").Click();
        Assert.Equal("Bbb7x", (string)_browser.ExecuteScript("const t = document.querySelector('textarea'); return t.value.slice(t.selectionStart, t.selectionEnd);")!);
        Keys("Bb");
        Until("#reading", r => !r.Text.Contains("needs your eye", StringComparison.Ordinal) && r.Text.Contains("Nine Lanterns", StringComparison.Ordinal));
        CheckWithAxe("take down");
        Find("form button[type=submit].button-main").Click();
        Until("[role=status]", s => s.Text.StartsWith("Saved", StringComparison.Ordinal));

        // The ladder: five rungs, a capo advised, all of it reachable by keys.
        Find($"a[href$='/ladder/{student}']").Click();
        Until(".rung-number", n => n.Text == "1");
        Assert.Equal(5, _browser.FindElements(By.CssSelector(".rung-number")).Count);
        Assert.Contains("advised", Find(".neck").Text, StringComparison.Ordinal);
        CheckWithAxe("ladder");

        Keys(OpenQA.Selenium.Keys.ArrowRight);
        Keys(OpenQA.Selenium.Keys.ArrowDown);
        Assert.NotNull(_browser.SwitchTo().ActiveElement().GetAttribute("data-cell"));
        Keys("s");
        Find(".options");
        CheckWithAxe("swap");
        Keys("w");
        Until("#bench", b => b.Text.Contains("Why rung", StringComparison.Ordinal));
        Keys(OpenQA.Selenium.Keys.Escape);
        Find(".neck");
        Keys("?");
        Until("dialog[open]", d => d.Text.Contains("Keys of the ladder", StringComparison.Ordinal));
        Find("dialog[open] button").Click();

        // Take another shape for the first chord of rung 2; it stays, and the place stays with it.
        Find("[data-cell='3-0']").Click();
        var option = Wait.Until(b => b.FindElements(By.CssSelector(".option:not(.taken)")).FirstOrDefault())!;
        var frets = option.FindElement(By.CssSelector("input[name=frets]")).GetAttribute("value")!;
        option.FindElement(By.CssSelector("button")).Click();
        Until("[data-cell='3-0'] .lock", l => l.Text == "kept");
        _browser.Navigate().Refresh();
        Until("[data-cell='3-0'] .lock", l => l.Text == "kept");
        Find("[data-cell='3-0']").Click();
        Until(".option.taken input[name=frets]", i => i.GetAttribute("value") == frets);

        // The sheet prints on one kind of paper or the other, and no shape is cut in two.
        Find("nav a[href*='/sheet/']").Click();
        Until(".sheet", s => s.Text.Contains("Nine Lanterns", StringComparison.Ordinal));
        Assert.True(_browser.FindElements(By.CssSelector(".sheet-shape svg")).Count >= 5);
        CheckWithAxe("sheet");
        var pdf = _browser.Print(new PrintOptions());
        Assert.True(Convert.FromBase64String(pdf.AsBase64EncodedString).Length > 10_000);
        Assert.Equal("avoid", (string)_browser.ExecuteScript("return getComputedStyle(document.querySelector('.sheet-shape')).breakInside")!);
        Find("select[name=paper]").SendKeys("Letter");
        Find("form button[type=submit]").Click();
        Until("link[href*='sheet-letter']", _ => true);

        // Back on the ladder the shape is freed again.
        Go(_browser.Url.Split("/sheet/")[0].Replace(host.Address, "", StringComparison.Ordinal) + $"/ladder/{student}?rung=2&chord=0");
        Find("button[data-lock]").Click();
        Wait.Until(b => b.FindElements(By.CssSelector(".lock")).Count == 0);
        CheckConsole();
    }

    [Fact]
    public void A_skill_that_is_moved_changes_the_fits_without_leaving_the_page()
    {
        OpenStudio();
        Go("/songs/new");
        Paste(Find("textarea"), "title: Low Bridge\nkey: F\ntempo: 90\n| F | Bb | C | F |");
        Until("#reading", r => r.Text.Contains("Low Bridge", StringComparison.Ordinal));
        Find("form button[type=submit].button-main").Click();
        Find("[role=status]");
        AddStudent("Fern");
        var before = Find("#fits tbody").Text;
        var slider = Find("#skill-Changes");
        slider.SendKeys(OpenQA.Selenium.Keys.End);
        Until("#fits tbody", t => t.Text != before);
        Assert.Equal("100", Find("label[for=skill-Changes] b").Text);
        // A second change right after is saved as well: the page carried the new version on.
        var after = Find("#fits tbody").Text;
        Find("#skill-Fingers").SendKeys(OpenQA.Selenium.Keys.End);
        Until("#fits tbody", t => t.Text != after);
        Assert.Empty(_browser.FindElements(By.CssSelector("[role=alert]")));
        _browser.Navigate().Refresh();
        Until("#skill-Changes", s => s.GetAttribute("value") == "100");
        CheckConsole();
    }

    [Fact]
    public void Forms_work_without_script()
    {
        _browser.ExecuteCdpCommand("Emulation.setScriptExecutionDisabled", new() { ["value"] = true });
        OpenStudio();
        var student = AddStudent("Fern");
        Go("/songs/new");
        Find("textarea").SendKeys("title: Plain\n| C | F | G | C |");
        Find("form button[type=submit].button-main").Click();
        Find("[role=status]");
        Find($"a[href$='/ladder/{student}']").Click();
        Find("[data-cell='2-1']").Click();
        Find(".option:not(.taken) button").Click();
        Until("[data-cell='2-1'] .lock", l => l.Text == "kept");
    }
}
