using OpenQA.Selenium;
using Keys = OpenQA.Selenium.Keys;

namespace Tembri.Browser.Tests;

/// <summary>Writing a chart with keys alone: saved as it goes, undone over a reload, doubts settled by a key, another tab never
/// overwritten.</summary>
public sealed class WritingJourney(BrowserHost host) : BrowserTest(host)
{
    private string Text => AttributeOf("textarea", "value");

    private string TakeDown(string chart)
    {
        OpenStudio();
        Go("/songs/new");
        // Keys only: into the box, the chart, out of it with Tab, and Enter on the button.
        Find("textarea").SendKeys(chart);
        Press(Keys.Tab);
        Assert.Equal("Save the chart", Browser.SwitchTo().ActiveElement().Text);
        Press(Keys.Enter);
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        return Browser.Url.Split('?')[0];
    }

    [Fact]
    public void Typing_is_saved_undone_over_a_reload_and_doubts_are_settled_by_a_key()
    {
        var address = TakeDown("title: Slow Tide\nkey: Eb\n| Eb | G# | Bb7 | Eb |");
        Wait.Until(b => b.FindElements(By.CssSelector("[data-mend='1']")).Count == 1);
        CheckWithAxe("doubts");
        Press(Keys.Alt, "1");
        Wait.Until(_ => Text.Contains("| Eb | A♭ | Bb7", StringComparison.Ordinal));
        Wait.Until(b => b.FindElements(By.CssSelector("[data-doubts]")).Count == 0);
        Find("textarea").SendKeys("\n| Ab | Absus4 | Bb |");
        State("saved");
        // Saved without a press of the button: a new visit has it.
        Go(address);
        Assert.EndsWith("| Ab | Absus4 | Bb |", Text, StringComparison.Ordinal);
        Wait.Until(b => b.FindElement(By.CssSelector("#reading")).Text.Contains("never resolves", StringComparison.Ordinal));
        // The suspension is meant; kept, it stays quiet, also after a reload.
        Wait.Until(b => b.FindElements(By.CssSelector("[data-keep]")).Count == 1);
        Press(Keys.Alt, "k");
        Wait.Until(_ => Text.Contains("{kept: sus A♭sus4}", StringComparison.Ordinal));
        Wait.Until(b => b.FindElements(By.CssSelector("[data-doubts]")).Count == 0);
        State("saved");
        Find("#view-form").Click();
        CheckWithAxe("form view");
        Find("#view-words").Click();
        CheckWithAxe("words view");
        // Undo goes back over the reload, step by step, to the chart as it was taken down; redo comes back.
        Browser.Navigate().Refresh();
        for (var i = 0; i < 12 && !Text.Contains("G#", StringComparison.Ordinal); i++) Press(Keys.Control, "z");
        Assert.Contains("| Eb | G# | Bb7 | Eb |", Text, StringComparison.Ordinal);
        Assert.DoesNotContain("kept", Text, StringComparison.Ordinal);
        State("saved");
        for (var i = 0; i < 12 && !Text.Contains("kept", StringComparison.Ordinal); i++) Press(Keys.Control, "y");
        Assert.Contains("{kept: sus A♭sus4}", Text, StringComparison.Ordinal);
        State("saved");
    }

    private void Reads(string text) => Wait.Until(_ => Text == text);

    private void Type(params string[] keys)
    {
        foreach (var key in keys) Press(key);
    }

    [Fact]
    public void A_chart_is_written_into_bars_with_keys_alone()
    {
        OpenStudio();
        Go("/songs/new");
        Find("[data-editing]");
        // A server far away: what is typed never waits for it.
        Network(false, 250);
        Find("#new-section").SendKeys(Keys.Enter);
        // The new section's first bar is open; Tab and Enter go on, a new bar grows at the end.
        Until(".cell-editor input:focus", e => e.GetAttribute("value") == "C");
        Type("eb", Keys.Tab, "ab bb7", Keys.Enter, "cm", Keys.Enter, "ab . . <bb", Keys.Enter, Keys.Escape);
        Reads("[Verse 1]\n| Eb | Ab Bb7 | Cm | Ab . . <Bb |");
        Until("[data-bar='0-3']", e => e.Displayed);
        // Back into the bars by key; a chord is split, its second half typed over, and joined again.
        Press(Keys.Alt, "g");
        Type(Keys.ArrowLeft, Keys.ArrowLeft);
        Until(".cell-editor input", e => e.GetAttribute("value") == "Cm");
        Press(Keys.Alt, "s");
        Reads("[Verse 1]\n| Eb | Ab Bb7 | Cm Cm | Ab . . <Bb |");
        Until(".cell-editor input", e => e.GetAttribute("value") == "Cm Cm" && e.GetDomProperty("selectionStart") == "3");
        Type("gm", Keys.Enter);
        Reads("[Verse 1]\n| Eb | Ab Bb7 | Cm Gm | Ab . . <Bb |");
        Type(Keys.ArrowLeft);
        Until(".cell-editor input", e => e.GetAttribute("value") == "Cm Gm");
        Press(Keys.Alt, "j");
        Reads("[Verse 1]\n| Eb | Ab Bb7 | Cm | Ab . . <Bb |");
        // A bar of another meter, a bar after it, and out again.
        Until(".cell-editor input", e => e.GetAttribute("value") == "Cm");
        Type("2/4 cm");
        Press(Keys.Alt, "n");
        Reads("[Verse 1]\n| Eb | Ab Bb7 | 2/4 Cm | Cm | Ab . . <Bb |");
        Until(".cell-editor input", e => e.GetAttribute("value") == "Cm");
        Press(Keys.Alt, "x");
        Reads("[Verse 1]\n| Eb | Ab Bb7 | 2/4 Cm | Ab . . <Bb |");
        CheckWithAxe("bars being written");
        CheckConsole();
        // What cannot be is said, and what was typed stays.
        Type(Keys.Backspace, Keys.Enter);
        Until(".cell-fault", e => e.Text.Contains("at least one chord", StringComparison.Ordinal));
        Type(Keys.Escape);
        // A second verse follows the first until a bar of it is written.
        Find(".section-acts button[title*='follows']").SendKeys(Keys.Enter);
        Until("[data-bar='1-1'].follows", e => e.Displayed);
        Find("[data-bar='1-1']").SendKeys("F");
        Type("m", Keys.Enter, Keys.Escape);
        Wait.Until(_ => Text.Contains("[Verse 2: as Verse 1]\n2: | Fm |", StringComparison.Ordinal));
        Until("[data-bar='1-1']:not(.follows)", e => e.Displayed);
        // All of it is undone step by step, from the bars.
        Find("[data-bar='1-1']").SendKeys(Keys.Enter);
        for (var i = 0; i < 14 && Text.Contains("Verse 2", StringComparison.Ordinal); i++) Press(Keys.Control, "z");
        Reads("[Verse 1]\n| Eb | Ab Bb7 | 2/4 Cm | Ab . . <Bb |");
        Find("#chart-form button[type=submit]").SendKeys(Keys.Enter);
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        Assert.Equal("[Verse 1]\n| Eb | Ab Bb7 | 2/4 Cm | Ab . . <Bb |", Text);
    }

    [Fact]
    public void A_part_of_the_form_is_dragged_to_its_place()
    {
        TakeDown("form: Verse, Chorus, Bridge\n[Verse]\n| C | F |\n[Chorus]\n| G | C |\n[Bridge]\n| Am | F |");
        Find("#view-form").Click();
        new OpenQA.Selenium.Interactions.Actions(Browser).ClickAndHold(Find("[data-part='0'] [data-grip]"))
            .MoveToElement(Find("[data-part='1'] [data-grip]")).MoveToElement(Find("[data-part='2'] [data-grip]"), 0, 12)
            .Release().Perform();
        Wait.Until(_ => Text.StartsWith("form: Chorus, Bridge, Verse\n", StringComparison.Ordinal));
        State("saved");
    }

    [Fact]
    public void Two_tabs_on_one_chart_never_overwrite_each_other()
    {
        var address = TakeDown("title: Slow Tide\n| C | F | G | C |");
        var first = Browser.CurrentWindowHandle;
        Browser.SwitchTo().NewWindow(WindowType.Tab);
        Go(address);
        Find("textarea").SendKeys("\n| Am | F |");
        State("saved");
        var second = Browser.CurrentWindowHandle;
        Browser.SwitchTo().Window(first);
        Find("textarea").SendKeys("\n| Dm | G |");
        // The first tab is told, keeps its text, and nothing of the second is gone.
        var note = Find("[role=alert]");
        Assert.Contains("saved somewhere else", note.Text, StringComparison.Ordinal);
        Assert.EndsWith("| Dm | G |", Text, StringComparison.Ordinal);
        Browser.SwitchTo().Window(second);
        Browser.Navigate().Refresh();
        Assert.EndsWith("| Am | F |", Text, StringComparison.Ordinal);
        // Taking the other one can be undone.
        Browser.SwitchTo().Window(first);
        Wait.Until(b => b.FindElements(By.CssSelector("[role=alert] button"))
                .First(e => e.Text.StartsWith("Take", StringComparison.Ordinal))).Click();
        Wait.Until(_ => Text.EndsWith("| Am | F |", StringComparison.Ordinal));
        State("saved");
        Press(Keys.Control, "z");
        Assert.EndsWith("| Dm | G |", Text, StringComparison.Ordinal);
        State("saved");
    }

    [Fact]
    public void When_the_server_does_not_answer_it_says_so_and_saves_later()
    {
        var address = TakeDown("title: Slow Tide\n| C | F | G | C |");
        Network(true, 0);
        Find("textarea").SendKeys("\n| Am | F |");
        State("there is no network");
        Network(false, 0);
        State("saved");
        Go(address);
        Assert.EndsWith("| Am | F |", Text, StringComparison.Ordinal);
    }
}
