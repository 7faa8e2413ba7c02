using OpenQA.Selenium;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Tests.Hearing;

namespace Tembri.Browser.Tests;

/// <summary>A recording is decoded in the browser, held against the chart, heard at its places, and mends the chart by one key;
/// another one drafts a new song.</summary>
public sealed class RecordJourney(BrowserHost host) : BrowserTest(host)
{
    private const string Written =
        "title: Two Lanterns\ntempo: 100\nform: Verse, Chorus, Verse, Chorus\n\n[Verse]\n| G | Em | Am | D |\n\n[Chorus]\n| C | "
            + "G | Am . D . | G |\n";

    [Fact]
    public void A_recording_finds_the_wrong_chord_and_a_key_mends_it()
    {
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.wav");
        File.WriteAllBytes(file,
            Tones.Wave(Tones.Play(ChartReader.Read(Written.Replace("| Em | Am |", "| Em | C |", StringComparison.Ordinal)).Chart,
                100)));
        try
        {
            OpenStudio();
            Go("/songs/new");
            Find("[data-draft] summary").Click();
            Find("[data-draft] [data-file]").SendKeys(file);
            Find("[data-draft] [data-start]").Click();
            Until("[data-said]", p => p.Text.Contains("A draft stands in the box", StringComparison.Ordinal));
            Assert.Contains("[Part A]", AttributeOf("textarea.chart", "value"), StringComparison.Ordinal);
            Browser.ExecuteScript("const t = document.querySelector('textarea.chart'); t.focus(); t.select(); "
                + "document.execCommand('insertText', false, arguments[0])",
                Written);
            Find("#chart-form .button-main").Click();
            Until("h1", h => h.Text == "Two Lanterns");
            Find("nav a[href*='/record']").Click();
            CheckWithAxe("a song without a recording");
            Find("[data-file]").SendKeys(file);
            Find("[data-start]").Click();
            Until(".record-places li", l => l.Text.Contains("Verse, bar 3", StringComparison.Ordinal));
            CheckWithAxe("what a recording told");
            // A place is played from the file, at its own pitch.
            var place = Find(".record-places [data-from]");
            Browser.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", place);
            place.Click();
            Until(".record-places [data-from]", b => b.GetAttribute("aria-pressed") == "true");
            Until(".record-places [data-from]", b => b.GetAttribute("aria-pressed") is null);
            Go(AttributeOf("nav a[href*='/chart']", "href"));
            Until("[data-doubts]", d => d.Text.Contains("the record sounds like C", StringComparison.Ordinal));
            Browser.FindElement(By.CssSelector("textarea.chart")).SendKeys(Keys.Alt + "1");
            Until("textarea.chart", t => t.GetAttribute("value")!.Contains("| G | Em | C", StringComparison.Ordinal));
            // The file is heard beside the rung: it goes on in the same bar, and repeats the same part.
            Find("nav a[href*='/listen']").Click();
            Find("[data-own]").SendKeys(file);
            Until("[x-on\\:click=hearOwn]", b => b.GetAttribute("aria-pressed") == "true");
            Browser.FindElements(By.CssSelector(".listen-bar"))[5].Click();
            Until("[data-place]", p => p.Text.StartsWith("Chorus, bar 2", StringComparison.Ordinal));
            new OpenQA.Selenium.Support.UI.SelectElement(Find("[x-ref=loop]")).SelectByText("Chorus");
            Find("[data-play]").Click();
            Until("[data-place]", p => p.Text.StartsWith("Chorus, bar 3", StringComparison.Ordinal));
            Find("[x-on\\:click=hearRung]").Click();
            Until("[data-place]", p => p.Text.StartsWith("Chorus, bar", StringComparison.Ordinal));
            Assert.Equal("true", AttributeOf("[x-on\\:click=hearRung]", "aria-pressed"));
            Find("[data-play]").Click();
            CheckConsole();
        }
        finally { File.Delete(file); }
    }
}
