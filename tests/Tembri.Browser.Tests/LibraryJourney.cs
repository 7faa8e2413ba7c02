using OpenQA.Selenium;

namespace Tembri.Browser.Tests;

/// <summary>A new teacher's first hour, then a day with a lesson of two, their class sheet heard together, the road, a set, a
/// booklet of the week.</summary>
public sealed class LibraryJourney(BrowserHost host) : BrowserTest(host)
{
    private void Submit(string css)
    {
        var button = Find(css);
        Browser.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", button);
        button.Click();
    }

    private void Checked(string where)
    {
        CheckWithAxe(where);
        CheckConsole();
    }

    [Fact]
    public void An_empty_studio_leads_to_its_first_sheet()
    {
        OpenStudio();
        Assert.Equal(5, Browser.FindElements(By.CssSelector(".first-hour li")).Count);
        Checked("an empty studio");
        Submit(".first-hour form[action*=Examples] button");
        Until(".first-hour li.done", l => l.Text.Contains("Take a song down", StringComparison.Ordinal));
        Find(".first-hour li a[href='/students/new']").Click();
        Find("#Form_Nickname").SendKeys("Fern");
        Find("button[type=submit].button-main").Click();
        Until("h1", h => h.Text == "Fern");
        Go("/");
        Find(".first-hour li a[href*='/ladder/']").Click();
        Find("[data-cell]");
        Go("/songs");
        Until(".desk .ready-cell b", b => b.Text.Length > 0);
        Go("/");
        Find(".first-hour li a[href*='/practice']").Click();
        Submit("form[action*=Work] button");
        Until(".worked", w => w.Displayed);
        Go("/");
        Find(".today-songs .song");
        Submit(".first-hour form[action*=ClearExamples] button");
        Wait.Until(b => b.FindElements(By.CssSelector(".today-songs li")).Count == 0);
        Go("/guide");
        Checked("the guide");
    }

    [Fact]
    public void Two_who_come_together_get_one_sheet_hear_it_and_the_week_is_printed()
    {
        OpenStudio();
        var (fern, reed) = (AddStudent("Fern"), AddStudent("Reed"));
        Go("/songs/new");
        Paste(Find("textarea"),
            "title: Copper Weir\nkey: Bb\ntempo: 88\ntags: spring\n\n[Verse]\n| [Bb]Water | [Gm]over the | [Eb]copper | [F]weir "
                + "|\n\n[Chorus]\n| Eb | F | Bb | Gm |\n");
        Until("#reading", r => r.Text.Contains("Weir", StringComparison.Ordinal));
        Find("form button[type=submit].button-main").Click();
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        var song = new Uri(Browser.Url).Segments[2].Trim('/');
        foreach (var student in new[] { fern, reed })
        {
            Go($"/students/{student}/practice");
            Submit("form[action*=Work] button");
            Until(".worked", w => w.Displayed);
        }
        // A lesson of both, today.
        Go("/lessons");
        Checked("lessons");
        foreach (var box in Browser.FindElements(By.CssSelector("input[name=with]"))) box.Click();
        Submit("form[action*=Add] button");
        Until(".list th", t => t.Text.Contains("Fern, Reed", StringComparison.Ordinal));
        Go("/");
        Until("#today", t => t.Text.Contains("together", StringComparison.Ordinal));
        Until("#today tr[id]", r => r.Text.Contains("Copper Weir", StringComparison.Ordinal));
        Checked("today");
        // One press to their class sheet.
        Find(".today-class a").Click();
        Wait.Until(b => b.FindElements(By.CssSelector(".class-parts tbody tr")).Count == 2);
        Until(".listen-said b", p => p.Text.Contains("bar 1", StringComparison.Ordinal));
        Checked("a class sheet");
        Submit("[data-play]");
        Until("[data-play]", b => b.Text == "Stop");
        Submit(".heard button:last-child");
        Assert.Equal("true", AttributeOf(".heard button:last-child", "aria-pressed"));
        Submit("[data-play]");
        var sounding = TextOf(".sheet-title .sentence");
        Browser.ExecuteScript("document.querySelectorAll('.class-below a[href*=\"key=\"]')[2].dispatchEvent(new "
            + "MouseEvent('click', { bubbles: true, cancelable: true, view: window }))");
        Wait.Until(b => b.Url.Contains("key=", StringComparison.Ordinal));
        Assert.NotEqual(sounding, TextOf(".sheet-title .sentence"));
        // Found by a word, a chord and a tag; the address keeps it.
        Go("/songs");
        Find("input[name=q]").SendKeys("copper Gm");
        Find(".songs-asked button").Click();
        Wait.Until(b => b.Url.Contains("q=copper", StringComparison.Ordinal));
        Assert.Equal("Copper Weir", TextOf(".desk .song"));
        Until(".desk .ready-cell b", b => b.Text.Length > 0);
        Checked("songs");
        Go("/students?q=copper");
        Assert.Equal(2, Browser.FindElements(By.CssSelector(".list tbody tr")).Count);
        Checked("students");
        // The road to the song as recorded.
        Go($"/students/{fern}/road?song={song}&rung=5");
        Until(".road-steps li:last-child", l => l.Text.Contains("This is the goal", StringComparison.Ordinal));
        Checked("the road");
        // A set, and the booklet of the week, which is made in the background.
        Go("/sets");
        Find("input[name=name]").SendKeys("Spring");
        Submit("form[action*=New] button");
        Until("h1", h => h.Text.StartsWith("Spring", StringComparison.Ordinal));
        Submit("button[value=add]");
        Until(".list tbody th", t => t.Text.Contains("Copper Weir", StringComparison.Ordinal));
        Checked("a set");
        Go("/sheets");
        Submit("main form .button-main");
        // One sheet is soon made.
        Until("#job", j => j.Text.Contains("Take the booklet", StringComparison.Ordinal));
        Checked("sheets of the week");
        Go("/studio/data");
        Checked("data");
    }
}
