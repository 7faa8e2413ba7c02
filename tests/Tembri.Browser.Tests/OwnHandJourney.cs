using OpenQA.Selenium;

namespace Tembri.Browser.Tests;

/// <summary>The teacher's own hand in a real browser: shapes drawn, chords typed, a version by hand, steps back, the map of
/// changes, and the lesson on the stage.</summary>
public sealed class OwnHandJourney(BrowserHost host) : BrowserTest(host)
{
    private const string Song =
        "title: Wicker Gate\nkey: C\ntempo: 84\nform: Verse, Chorus, Verse\n\n[Verse]\n| [C]Open the | [F]wicker gate and | "
            + "[G7]let the evening | [C]in |\n\n[Chorus]\n| [Am]Low is the | [F]lantern | [G7]low is the | [C]wind |\n";

    private (string Song, string Student) Open()
    {
        OpenStudio();
        var student = AddStudent("Fern");
        Go("/songs/new");
        Paste(Find("textarea"), Song);
        Until("#reading", r => r.Text.Contains("Wicker Gate", StringComparison.Ordinal));
        Find("form button[type=submit].button-main").Click();
        Until("[role=status]", s => s.Text.StartsWith("Saved", StringComparison.Ordinal));
        return (Browser.Url.Split("/songs/")[1].Split('/')[0], student);
    }

    private string Text(string css) =>
        (string)Browser.ExecuteScript("return document.querySelector(arguments[0])?.textContent ?? ''", css)!;

    [Fact]
    public void A_shape_is_drawn_and_taken_a_chord_typed_against_advice_and_both_are_taken_back()
    {
        var (song, student) = Open();
        Go($"/songs/{song}/ladder/{student}?capo=0");
        Find("[data-cell='2-1']").Click();
        Find("[data-draw]");
        Press("d");
        Until("[data-board]", b => b.Displayed);
        CheckWithAxe("drawing a shape");
        // With keys alone: wiped, then a small F, string by string.
        Browser.ExecuteScript("[...document.querySelectorAll('.board-moves a')].find(a => a.textContent === 'wipe it').click()");
        Until(".board-said", b => b.Text.Contains("No string sounds yet", StringComparison.Ordinal));
        Browser.ExecuteScript("document.querySelector('[data-board]').focus()");
        void To(int strings, int frets)
        {
            for (var i = 0; i < Math.Abs(strings); i++) Press(strings > 0 ? Keys.ArrowUp : Keys.ArrowDown);
            for (var i = 0; i < Math.Abs(frets); i++) Press(frets > 0 ? Keys.ArrowRight : Keys.ArrowLeft);
        }
        Press(Keys.ArrowUp);   // the keys come to the lowest string, first fret
        foreach (var (strings, frets) in new[] { (2, 2), (1, -1), (1, -1), (1, 0) })
        {
            To(strings, frets);
            var before = Text(".board-said");
            Press(Keys.Enter);
            Wait.Until(_ => Text(".board-said") != before);
        }
        Until(".board-said",
            b => b.Text.Contains("100 % like", StringComparison.Ordinal)
                || b.Text.Contains("% like the F", StringComparison.Ordinal));
        Assert.Contains("fingers × × 3 2 1 1", Text(".board-said"), StringComparison.Ordinal);
        new OpenQA.Selenium.Support.UI.SelectElement(Find(".board-take select")).SelectByValue("Up");
        Browser.ExecuteScript("document.activeElement.blur()");
        Press("t");
        Until("[data-cell='2-1'] .lock", l => l.Text == "kept");
        Assert.Equal(3, Browser.FindElements(By.CssSelector("tbody .lock")).Count);

        // Another chord for G7: the chart speaks first.
        Find("[data-cell='2-2']").Click();
        Until("#bench input[name=chord]", i => i.GetAttribute("value") == "2");
        Press("a");
        Find("[data-own-symbol]").SendKeys("Gsus4");
        Find("[data-own-symbol]").SendKeys(Keys.Enter);
        Until("[role=alert]", a => a.Text.Contains("leading tone", StringComparison.Ordinal));
        CheckWithAxe("a warning");
        Find("button[name=overrule]").Click();
        Until("[data-cell='2-2'] .lock", l => l.Text == "yours");

        // Back, one by one, with the keys of the page; and on again.
        Browser.ExecuteScript("document.activeElement.blur()");
        Press("z");
        Wait.Until(b => b.FindElements(By.CssSelector("[data-cell='2-2'] .lock")).Count == 0);
        Press(Keys.Control, "z");
        Wait.Until(b => b.FindElements(By.CssSelector("tbody .lock")).Count == 0);
        Press("y");
        Wait.Until(b => b.FindElements(By.CssSelector("tbody .lock")).Count == 3);
        Find("a[href$='/steps']").Click();
        Until("h1", h => h.Displayed);
        CheckWithAxe("steps");
        Assert.Contains("as xx3211 on rung 3", Text("main"), StringComparison.Ordinal);
        Go($"/songs/{song}/ladder/{student}/rungs");
        CheckWithAxe("rungs");
        Go("/studio/grips?chord=Em");
        CheckWithAxe("grips");
        Go("/studio/rungs");
        CheckWithAxe("rungs of the studio");
        CheckConsole();
    }

    [Fact]
    public void Two_tabs_on_a_ladder_never_overwrite_each_other_and_a_changed_chart_offers_to_carry_over()
    {
        var (song, student) = Open();
        var ladder = $"/songs/{song}/ladder/{student}";
        Go(ladder);
        Find("[data-cell='2-2']").Click();
        Find(".option:not(.taken) button");
        var first = Browser.CurrentWindowHandle;
        Browser.SwitchTo().NewWindow(WindowType.Tab);
        Go(ladder);
        Find("[data-cell='2-1']").Click();
        Find(".option:not(.taken) button").Click();
        Until("[data-cell='2-1'] .lock", l => l.Text == "kept");
        Browser.SwitchTo().Window(first);
        Find(".option:not(.taken) button").Click();
        Until("[role=alert]", a => a.Text.Contains("changed in another tab", StringComparison.Ordinal));
        Assert.Single(Browser.FindElements(By.CssSelector("tbody .lock")));
        // The chart loses the chord; what was decided is offered to another.
        Go($"/songs/{song}/chart");
        Find("[data-editing]");
        Paste(Find("textarea"), Song.Replace("[F]", "[Fmaj7]", StringComparison.Ordinal));
        State("saved");
        Go(ladder);
        Until(".note", n => n.Text.Contains("no F any more", StringComparison.Ordinal));
        Find("form[action*=Carry] button").Click();
        Until("tbody .lock", l => l.Text == "kept");
    }

    [Fact]
    public void A_version_by_hand_is_begun_from_a_rung_scored_and_kept_below_the_ladder()
    {
        var (song, student) = Open();
        Go($"/songs/{song}/ladder/{student}/hand?from=2");
        CheckWithAxe("by hand");
        Assert.Contains("]wicker gate", (string)Browser.ExecuteScript("return document.querySelector('textarea').value")!,
            StringComparison.Ordinal);
        Browser.ExecuteScript("const t = document.querySelector('#Form_Text'); t.value = t.value.replace(/\\[[^\\]]+\\]wicker/, "
            + "'[Ebm]wicker'); document.querySelector('#Form_Name').value = 'Without F';");
        Browser.ExecuteScript("document.querySelector('button[formaction*=Score]').click()");
        Until("main", m => m.Text.Contains("poorer, ", StringComparison.Ordinal));
        Browser.ExecuteScript("[...document.querySelectorAll('form button')].find(b => b.textContent === 'Keep it').click()");
        Until("[role=status]", s => s.Text.StartsWith("Kept", StringComparison.Ordinal));
        CheckWithAxe("by hand, kept");
        Go($"/songs/{song}/ladder/{student}");
        Until("main", m => m.Text.Contains("Without F", StringComparison.Ordinal));
        Go($"/songs/{song}/ladder/{student}/compare?left=1&right=5");
        CheckWithAxe("two rungs side by side");
        Assert.True(Browser.FindElements(By.CssSelector(".listen-bar.differs")).Count > 0);
        Find("[data-play]").Click();
        Until(".listen-bar[data-sounding]", b => b.Displayed);
        Press("b");
        Until("[data-hears=rung]", b => b.GetAttribute("aria-pressed") == "true");
        Find("[data-play]").Click();
        Until("[data-play-words]", b => b.Text == "Play");
        CheckConsole();
    }

    [Fact]
    public void A_change_is_opened_on_the_map_heard_and_made_quicker_with_one_press()
    {
        var (song, student) = Open();
        Go($"/songs/{song}/changes/{student}?rung=5");
        CheckWithAxe("changes");
        var band = Wait.Until(b => b.FindElements(By.CssSelector(".change-map a"))
            .First(a => a.GetAttribute("aria-label")!.Contains("late", StringComparison.Ordinal)));
        Browser.ExecuteScript("arguments[0].focus()", band);
        Press(Keys.Enter);
        Until("#change h2", h => h.Text.Contains('→'));
        CheckWithAxe("a change");
        Assert.Contains("Needs", Text("#change"), StringComparison.Ordinal);
        Press("h");
        Until("#change [data-hear]", b => b.GetAttribute("aria-pressed") == "true");
        Press("h");
        Wait.Until(b => b.FindElements(By.CssSelector("#change [data-hear][aria-pressed=true]")).Count == 0);
        var before = Text("#change p b");
        Find("#change form.quicker button").Click();
        Wait.Until(_ => Text("#change p b") is var now && now.Length > 0 && now != before);
        Press(Keys.Escape);
        Until("#change h2", h => h.Text.Contains("order to learn", StringComparison.Ordinal));
        // Everything is found by typing.
        Press("/");
        Find(".find input").SendKeys("sheet");
        Until(".find li", l => l.Text.StartsWith("Sheet", StringComparison.Ordinal));
        CheckWithAxe("find");
        Press(Keys.Enter);
        Wait.Until(b => b.Url.Contains("/sheet/", StringComparison.Ordinal));
        CheckConsole();
    }

    [Fact]
    public void A_lesson_is_led_by_the_foot_and_by_the_clock_and_what_is_counted_lands_on_the_student()
    {
        var (song, student) = Open();
        Go($"/songs/{song}/stage/{student}?rung=3&tempo=120");
        Until("[data-now-name]", n => n.Text.Length > 0);
        CheckWithAxe("stage");
        foreach (var _ in "123") Press(Keys.PageDown);
        Until("[data-where]", w => w.Text.StartsWith("Verse, bar 4 of 4", StringComparison.Ordinal));
        Press(Keys.PageDown);
        Until("[data-where]", w => w.Text.StartsWith("Chorus, bar 1", StringComparison.Ordinal));
        Press(Keys.PageUp);
        // Another rung, the same place.
        Press(Keys.ArrowUp);
        Until(".stage-sentence", s => s.Text.Contains("rung 4", StringComparison.Ordinal));
        Until("[data-where]", w => w.Text.StartsWith("Verse, bar 4", StringComparison.Ordinal));
        // Along with the clock, after a count of one bar; then it stops where it is.
        Press(Keys.Space);
        Until("[data-play-words]", p => p.Text == "stop");
        Until("[data-where]", w => w.Text.StartsWith("Chorus, bar 2", StringComparison.Ordinal));
        Press(Keys.Space);
        Until("[data-play-words]", p => p.Text == "play");
        Press("v");
        Until("[data-stage-said]", s => s.Text.StartsWith("Kept: Chorus went clean on rung 4", StringComparison.Ordinal));
        // Counted with the foot for ten seconds and kept.
        Press("c");
        Until("#stage-count", d => d.Displayed);
        CheckWithAxe("counting");
        Press(Keys.PageDown);
        Press(Keys.PageDown);
        Press(Keys.PageDown);
        Until("[data-count-keep]", b => b.Enabled);
        Find("[data-count-keep]").Click();
        Until("[data-stage-said]", s => s.Text.Contains("3 clean in ", StringComparison.Ordinal));
        Press("n");
        Find("#stage-note textarea").SendKeys("thumb loosened");
        Find("#stage-note button[type=submit]").Click();
        Until("[data-stage-said]", s => s.Text == "Kept: thumb loosened");
        // Without a network nothing is lost: it goes out when there is one again.
        Network(offline: true, 0);
        Press("v");
        Until("#said", s => s.Text.Contains("no network", StringComparison.Ordinal));
        Network(offline: false, 0);
        Browser.ExecuteScript("window.dispatchEvent(new Event('online'))");
        Until("[data-stage-said]", s => s.Text.StartsWith("Kept: Chorus", StringComparison.Ordinal));
        Go($"/students/{student}/log");
        Assert.Equal(4, Browser.FindElements(By.CssSelector("form[action*=TakeBack]")).Count);
        CheckWithAxe("student with a lesson behind");
    }
}
