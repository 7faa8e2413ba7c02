using OpenQA.Selenium;

namespace Tembri.Browser.Tests;

/// <summary>The way of a song, walked in a real browser under the real content policy.</summary>
public sealed class Journeys(BrowserHost host) : BrowserTest(host)
{
    [Fact]
    public void A_chart_is_pasted_its_ladder_opened_a_swap_taken_and_the_sheet_printed()
    {
        OpenStudio();
        var student = AddStudent("Fern");
        CheckWithAxe("student");
        Go("/studio");
        Find("#main form");
        CheckWithAxe("studio");

        // Paste a chart with one slip; it is read as it stands, and the doubt leads to its place.
        Go("/songs/new");
        Paste(Find("textarea"),
            "title: Nine Lanterns\nkey: Eb\ntempo: 96\n\n[Verse]\n| Eb . . . | Cm7 | Ab . Bbb7x . | Bb7 |\n[Chorus]\n| Ab | "
                + "Eb/G | Fm7 | Bb7 |\n");
        Until("#reading .problem", p => p.Text.Contains("Line 6", StringComparison.Ordinal));
        Find("#reading .problem").Click();
        Assert.Equal("Bbb7x",
            (string)Browser.ExecuteScript(
                "const t = document.querySelector('textarea'); return t.value.slice(t.selectionStart, t.selectionEnd);")!);
        Press("Bb");
        Until("#reading",
            r => !r.Text.Contains("doubt about what is written", StringComparison.Ordinal)
                && r.Text.Contains("Nine Lanterns", StringComparison.Ordinal));
        CheckWithAxe("take down");
        Find("form button[type=submit].button-main").Click();
        Until("[role=status]", s => s.Text.StartsWith("Saved", StringComparison.Ordinal));

        // The ladder: five rungs, a capo advised, all of it reachable by keys.
        Find($"a[href$='/ladder/{student}']").Click();
        Until(".rung-number", n => n.Text == "1");
        Assert.Equal(5, Browser.FindElements(By.CssSelector(".rung-number")).Count);
        Assert.Contains("advised", TextOf(".neck"), StringComparison.Ordinal);
        CheckWithAxe("ladder");

        Press(OpenQA.Selenium.Keys.ArrowRight);
        Press(OpenQA.Selenium.Keys.ArrowDown);
        Assert.NotNull(Browser.SwitchTo().ActiveElement().GetAttribute("data-cell"));
        Press("s");
        Find(".options");
        CheckWithAxe("swap");
        Press("w");
        Until("#bench", b => b.Text.Contains("Why rung", StringComparison.Ordinal));
        Press(OpenQA.Selenium.Keys.Escape);
        Find(".neck");
        Press("?");
        Until("dialog[open]", d => d.Text.Contains("Keys of the ladder", StringComparison.Ordinal));
        Find("dialog[open] button").Click();

        // Take another shape for the first chord of rung 2; it stays, and the place stays with it.
        Find("[data-cell='3-0']").Click();
        var option = Wait.Until(b => b.FindElements(By.CssSelector(".option:not(.taken)")).FirstOrDefault())!;
        var frets = option.FindElement(By.CssSelector("input[name=frets]")).GetAttribute("value")!;
        option.FindElement(By.CssSelector("button")).Click();
        Until("[data-cell='3-0'] .lock", l => l.Text == "kept");
        Assert.Equal("Free this shape", Browser.SwitchTo().ActiveElement().Text);
        Assert.Equal("kept: free it", TextOf("[data-place]"));
        // Freed with one more key, the place is the arranger's again, and the focus is where the shape can be kept.
        Press(OpenQA.Selenium.Keys.Enter);
        Wait.Until(b => b.FindElements(By.CssSelector(".lock, [data-place]")).Count == 0);
        Assert.Equal("Keep", Browser.SwitchTo().ActiveElement().Text);
        Find(".option:not(.taken) button").Click();
        Until("[data-cell='3-0'] .lock", l => l.Text == "kept");
        frets = Browser.FindElement(By.CssSelector(".option.taken input[name=frets]")).GetAttribute("value")!;
        Browser.Navigate().Refresh();
        Until("[data-cell='3-0'] .lock", l => l.Text == "kept");
        Find("[data-cell='3-0']").Click();
        Until(".option.taken input[name=frets]", i => i.GetAttribute("value") == frets);

        // The voice is said in fields: what is wrong is said beside them and stays, and what is right moves the song.
        Find("[data-aim]").Click();
        Find("input[name=aim][value=Voice]").Click();
        Find("input[name=semitones]").Clear();
        Find("input[name=singerLow]").SendKeys("A2");
        Find("form[action*='Aim'] button").Click();
        Until("form[action*='Aim'] [role=alert]", a => a.Text.Contains("lowest and the highest", StringComparison.Ordinal));
        Assert.Equal("A2", AttributeOf("input[name=singerLow]", "value"));
        CheckWithAxe("the voice in fields");
        Press(OpenQA.Selenium.Keys.Escape);
        Assert.Empty(Browser.FindElements(By.CssSelector("details.panel[open]")));
        Assert.Equal("summary", Browser.SwitchTo().ActiveElement().TagName);
        Find("[data-aim]").Click();
        Find("input[name=aim][value=Voice]").Click();
        Find("input[name=semitones]").SendKeys("-2");
        Find("form[action*='Aim'] button").Click();
        Until("[data-aim]", a => a.Text == "2 semitones down for the voice");
        Until("[role=alert], .note", n => n.Text.Contains("rest", StringComparison.Ordinal));
        Find("[data-aim]").Click();
        Find("input[name=aim][value=Record]").Click();
        Find("form[action*='Aim'] button").Click();
        Until("[data-aim]", a => a.Text == "with the record");

        // Where to play it: another place is looked at, played, and the ladder is arranged for it.
        Find("nav a[href*='/places/']").Click();
        Until(".places tbody tr", r => r.Text.Contains("advised", StringComparison.Ordinal));
        CheckWithAxe("places");
        Find(".places a[href*='capo=3']").Click();
        Until("form[action*='Place'] h2", h => h.Text.StartsWith("Capo 3", StringComparison.Ordinal));
        Find("form[action*='Place'] button").Click();
        Until(".masthead", m => m.Text.Contains("capo 3", StringComparison.Ordinal));

        // The sheet prints on one kind of paper or the other, and no shape is cut in two.
        Find("nav a[href*='/sheet/']").Click();
        Until(".sheet", s => s.Text.Contains("Nine Lanterns", StringComparison.Ordinal));
        Assert.True(Browser.FindElements(By.CssSelector(".sheet-shape svg")).Count >= 5);
        CheckWithAxe("sheet");
        Wait.Until(_ => (string)Browser.ExecuteScript(
            "return document.querySelector('.sheet-body').style.getPropertyValue('--fit')")! is { Length: > 0 });
        var printed =
            (Dictionary<string, object>)Browser.ExecuteCdpCommand("Page.printToPDF", new() { ["preferCSSPageSize"] = true })!;
        var pdf = System.Text.Encoding.Latin1.GetString(Convert.FromBase64String((string)printed["data"]));
        Assert.Single(System.Text.RegularExpressions.Regex.Matches(pdf, "/Type /Page[^s]"));
        Assert.Equal("avoid",
            (string)Browser.ExecuteScript("return getComputedStyle(document.querySelector('.sheet-shape')).breakInside")!);
        Find("select[name=paper]").SendKeys("Letter");
        Find("form button[type=submit]").Click();
        Until("link[href*='sheet-letter']", _ => true);

        // Back on the ladder the shape is freed again.
        Go(Browser.Url.Split("/sheet/")[0].Replace(Host.Address, "", StringComparison.Ordinal)
            + $"/ladder/{student}?rung=2&chord=0");
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
        var before = TextOf("#fits tbody");
        var slider = Find("#skill-Changes");
        slider.SendKeys(OpenQA.Selenium.Keys.End);
        Until("#fits tbody", t => t.Text != before);
        Assert.Equal("100", TextOf("label[for=skill-Changes] b"));
        // A second change right after is saved as well: the page carried the new version on.
        var after = TextOf("#fits tbody");
        Find("#skill-Fingers").SendKeys(OpenQA.Selenium.Keys.End);
        Until("#fits tbody", t => t.Text != after);
        Assert.DoesNotContain(Browser.FindElements(By.CssSelector("[role=alert]")), a => a.Displayed);
        Browser.Navigate().Refresh();
        Until("#skill-Changes", s => s.GetAttribute("value") == "100");
        CheckConsole();
    }

    [Fact]
    public void A_students_page_says_what_it_does_not_keep_in_two_tabs_and_offline()
    {
        OpenStudio();
        var page = $"/students/{AddStudent("Fern")}";
        var name = Find("#Form_Nickname");
        name.Clear();
        name.SendKeys(OpenQA.Selenium.Keys.Tab);
        State("not saved: Give a nickname.");
        Find("#Form_Nickname").SendKeys("Fern L." + OpenQA.Selenium.Keys.Tab);
        State("saved");
        var first = Browser.CurrentWindowHandle;
        Browser.SwitchTo().NewWindow(OpenQA.Selenium.WindowType.Tab);
        Go(page);
        Find("#skill-Stretch").SendKeys(OpenQA.Selenium.Keys.End);
        State("saved");
        Browser.SwitchTo().Window(first);
        Find("#skill-Changes").SendKeys(OpenQA.Selenium.Keys.End);
        State("another tab");
        Find("[data-take-theirs]").Click();
        Until("#skill-Stretch", s => s.GetAttribute("value") == "100");
        Until("#skill-Changes", s => s.GetAttribute("value") != "100");
        Network(true, 0);
        Find("#skill-Changes").SendKeys(OpenQA.Selenium.Keys.Home);
        State("there is no network");
        Network(false, 0);
        State("saved");
        Browser.Navigate().Refresh();
        Until("#skill-Changes", s => s.GetAttribute("value") == "0");
        Assert.Equal("100", AttributeOf("#skill-Stretch", "value"));
    }

    [Fact]
    public void Forms_work_without_script()
    {
        Browser.ExecuteCdpCommand("Emulation.setScriptExecutionDisabled", new() { ["value"] = true });
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
        // Every page says what needs script, and shows nothing that would do nothing.
        string Note() =>
            Browser.FindElements(By.CssSelector("noscript .note")).Where(n => n.Size.Height > 0)
                .Select(n => n.GetAttribute("textContent")!).FirstOrDefault("");
        Assert.Contains("need script", Note(), StringComparison.Ordinal);
        Find("nav a[href*='/listen/']").Click();
        Wait.Until(_ => Note().StartsWith("Playing needs script", StringComparison.Ordinal));
        Assert.DoesNotContain(Browser.FindElements(By.CssSelector("[data-play], .listen-knobs")), e => e.Displayed);
        Find("nav a[href*='/sheet/']").Click();
        Until(".sheet", _ => true);
        Assert.DoesNotContain(Browser.FindElements(By.CssSelector("[data-print]")), e => e.Displayed);
    }
}
