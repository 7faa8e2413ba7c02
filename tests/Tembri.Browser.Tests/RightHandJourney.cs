using System.Collections.ObjectModel;
using System.Globalization;
using OpenQA.Selenium;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Browser.Tests;

/// <summary>The right hand in a real browser: a pattern by keys, heard and reduced; a riff written, pinned, heard and
/// printed.</summary>
public sealed class RightHandJourney(BrowserHost host) : BrowserTest(host)
{
    private const string Song =
        "title: Wicker Gate\nkey: C\ntempo: 90\nform: Verse, Chorus, Verse\n\n[Verse]\n| C | Em | G | C |\n\n[Chorus]\n| Am | "
            + "Em | G | C |\n";

    private string _song = "", _student = "";

    private void Open(string page)
    {
        OpenStudio();
        _student = AddStudent("Fern");
        Go("/songs/new");
        Paste(Find("textarea"), Song);
        Until("#reading", r => r.Text.Contains("Wicker Gate", StringComparison.Ordinal));
        Find("form button[type=submit].button-main").Click();
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        _song = new Uri(Browser.Url).Segments[2].Trim('/');
        Browser.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = HeardSound.CatchPlayer });
        Go($"/songs/{_song}/{page}/{_student}");
    }

    private T Run<T>(string script) => (T)Browser.ExecuteScript("const p = window.caughtPlayer; " + script)!;

    private static double Number(object? value) => Convert.ToDouble(value, CultureInfo.InvariantCulture);

    private string Pattern => (string)Browser.ExecuteScript("return document.querySelector('[name=pattern]').value")!;

    private List<(double When, double At)> Strokes() =>
        [.. Run<ReadOnlyCollection<object>>("return (p?.log ?? []).filter(e => e.kind === 'stroke').map(e => [e.when, e.at])")
        .Cast<ReadOnlyCollection<object>>().Select(e => (Number(e[0]), Number(e[1])))];

    [Fact]
    public void A_two_bar_pattern_is_written_by_keys_heard_reduced_and_the_chorus_gets_another()
    {
        Open("right-hand");
        Wait.Until(b => b.FindElements(By.CssSelector(".step")).Count == 8);
        CheckWithAxe("the right hand");
        new SelectElement(Find("[data-bars]")).SelectByValue("2");
        Wait.Until(b => b.FindElements(By.CssSelector(".step")).Count == 16);
        Browser.ExecuteScript("document.querySelector('.step').focus()");
        foreach (var letter in "D-du-uduD-dXd-du") Press(letter.ToString());
        Assert.Equal("D-du-udu|D-dXd-du", Pattern);
        Until("#look",
            l => l.Text.Contains("miss-up", StringComparison.Ordinal) && l.Text.Contains("DAMP", StringComparison.Ordinal));
        // A key waits for nobody: the step shows what was written before the key's event is over, whatever the server does.
        var shown = Run<ReadOnlyCollection<object>>("""
            return ['u', '-', 'd', 'u'].map(key => {
                const step = document.querySelector('.step[aria-pressed=true]');
                step.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
                return step.getAttribute('aria-label');
            });
            """);
        Assert.Equal(["up", "miss", "down", "up"], shown.Select(s => ((string)s).Split(": ")[1]));
        // Taken back step by step.
        for (var i = 0; i < 4; i++) Find("[data-undo]").Click();
        Assert.Equal("D-du-udu|D-dXd-du", Pattern);
        // A reload loses nothing: what is not in the chart yet is back, and says so.
        Go(new Uri(Browser.Url).PathAndQuery);
        Wait.Until(_ => Pattern == "D-du-udu|D-dXd-du");
        Until("#said", s => s.Text.Contains("not in the chart yet", StringComparison.Ordinal));
        // By touch: a step, then what the hand does there, two strings at once.
        Browser.FindElements(By.CssSelector(".step"))[9].Click();
        Find("[data-write=b]").Click();
        Browser.FindElements(By.CssSelector(".step"))[9].Click();
        Find("[data-join]").Click();
        Find("[data-write='1']").Click();
        Assert.Equal("D-du-udu|D(b1)dXd-du", Pattern);
        Find("[data-undo]").Click();
        Find("[data-undo]").Click();
        // Heard in a loop, on the clock, and again as it changes.
        Browser.ExecuteScript("document.activeElement.blur()");
        Press(" ");
        Wait.Until(_ => Strokes().Count >= 8);
        var strokes = Strokes();
        Assert.All(strokes, s => Assert.Equal(strokes[0].When + s.At - strokes[0].At, s.When, 1e-6));
        Press(" ");
        Wait.Until(_ => AttributeOf("[data-play]", "aria-pressed") == "false");
        // The easier rungs are heard too.
        Browser.FindElements(By.CssSelector("[data-hear-pattern]")).First(b => b.Displayed).Click();
        Wait.Until(_ => Browser.FindElements(By.CssSelector("[data-hear-pattern][aria-pressed=true]")).Count == 1);
        Find("#strum button[type=submit]").Click();
        Wait.Until(b => b.FindElements(By.CssSelector(".step")).Count == 16
            && TextOf("#strum").Contains("This stands in the chart", StringComparison.Ordinal));
        // The chorus gets another, begun from one that ships, and its own rung on rung 3.
        Browser.FindElements(By.CssSelector("[data-section]"))[1].Click();
        Until("h2", h => h.Text.StartsWith("Chorus", StringComparison.Ordinal));
        new SelectElement(Find("[data-shipped]")).SelectByText("picked: bass, in and out again");
        Until("#look", l => l.Text.Contains("Thumb, then the rest", StringComparison.Ordinal));
        Find("#strum button[type=submit]").Click();
        Until("#strum", f => f.Text.Contains("This stands in the chart", StringComparison.Ordinal));
        var rung = Browser.FindElements(By.CssSelector("[data-rungs] form"))[2];
        new SelectElement(rung.FindElement(By.TagName("select"))).SelectByValue("2");
        rung.FindElement(By.TagName("button")).Click();
        Wait.Until(b => new SelectElement(b.FindElements(By.CssSelector("[data-rungs] select"))[2]).SelectedOption.GetAttribute(
                "value") == "2");
        Go($"/songs/{_song}/sheet/{_student}?rung=3");
        // The sheet is laid out anew while it fits itself to its pages.
        var lines = ((ReadOnlyCollection<object>)Browser.ExecuteScript(
                "return [...document.querySelectorAll('.strum-line')].map(l => l.textContent.trim())")!).Cast<string>()
            .Distinct().ToList();
        Assert.Equal(2, lines.Count);
        Assert.Contains("bass", lines[1], StringComparison.Ordinal);
        CheckWithAxe("a sheet with two patterns");
        // Nothing of it lies beside a narrow phone, sixteen steps neither.
        Browser.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride",
            new() { ["width"] = 360, ["height"] = 740, ["deviceScaleFactor"] = 1, ["mobile"] = true });
        foreach (var page in new[] { "sheet", "ladder", "stage", "right-hand", "listen" })
        {
            Go($"/songs/{_song}/{page}/{_student}");
            Find("main");
            Assert.True((long)Browser.ExecuteScript("return document.documentElement.scrollWidth")! <= 360, page);
        }
        CheckConsole();
    }

    [Fact]
    public void A_riff_is_written_pinned_heard_and_printed()
    {
        Open("figures");
        CheckWithAxe("riffs and runs");
        Paste(Find("textarea"), "| C4 E4 G4 . | E4 . C4 - |");
        Until("#look", l => l.Text.Contains("Rung by rung", StringComparison.Ordinal));
        string Drawn() => (string)Browser.ExecuteScript("return document.querySelector('#look svg')?.innerHTML ?? ''")!;
        var free = Drawn();
        new SelectElement(Find("[name='form.position']")).SelectByValue("5");
        Wait.Until(_ => Drawn() is { Length: > 0 } now && now != free);
        CheckWithAxe("a riff on the neck");
        Find("[data-hear-figure]").Click();
        Wait.Until(_ => Strokes().Count >= 4);
        var strokes = Strokes();
        Assert.All(strokes, s => Assert.Equal(strokes[0].When + s.At - strokes[0].At, s.When, 1e-6));
        Find("#figure button[type=submit]").Click();
        Until("h2", h => h.Text.Contains("figure 1", StringComparison.Ordinal));
        Go($"/songs/{_song}/chart");
        Assert.Contains("figure, position 5: | C4 E4 G4 . | E4 . C4 - |", AttributeOf("textarea", "value"),
            StringComparison.Ordinal);
        Go($"/songs/{_song}/sheet/{_student}?rung=5");
        Assert.Contains("On six lines",
            (string)Browser.ExecuteScript("return document.querySelector('.figure-line').innerHTML")!, StringComparison.Ordinal);
        CheckConsole();
    }

    [Fact]
    public void Rendered_onsets_lie_where_the_pattern_and_the_riff_have_them_and_damped_strokes_have_no_pitch()
    {
        Open("figures");
        Paste(Find("textarea"), "| A3 . E4 . A4 . E4 . |");
        Until("#look", l => l.Text.Contains("Rung by rung", StringComparison.Ordinal));
        Find("[data-hear-figure]").Click();
        Wait.Until(_ => Run<bool>("return !!p"));
        var riff = Render();
        foreach (var (at, pitch) in new[] { 57, 64, 69 }.Select((pitch, i) => (i * 60 / 90.0, pitch)))
        {
            Assert.InRange(Onset(riff, at), at - 0.005, at + 0.005);
            Assert.True(PowerAt(riff, at, pitch) > 3 * Math.Max(PowerAt(riff, at, pitch - 0.5), PowerAt(riff, at, pitch + 0.5)),
                $"pitch {pitch} is not heard at {at} s");
        }
        Go($"/songs/{_song}/right-hand/{_student}");
        Paste(Find("[name=pattern]"), "d.x.");
        Until("#look", l => l.Text.Contains("damp", StringComparison.Ordinal));
        Find("[data-play]").Click();
        Wait.Until(_ => Run<bool>("return !!p"));
        var strum = Render();
        foreach (var at in new[] { 0, 2 * 60 / 90.0 }) Assert.InRange(Onset(strum, at), at - 0.005, at + 0.005);
        // Power at the pitches of C against half-way between them: a chord stands out, a damped stroke does not.
        double Chord(double at) =>
            new[] { 48, 52, 55, 60, 64 }.Sum(n => PowerAt(strum, at, n))
                / new[] { 48, 52, 55, 60, 64 }.Sum(n => PowerAt(strum, at, n + 0.5));
        Assert.True(Chord(0) > 20, "the chord has no pitch");
        Assert.True(Chord(2 * 60 / 90.0) < 3, "the damped stroke has a pitch");
    }

    private double[] Render()
    {
        Browser.ExecuteScript(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "player-probe.js"))
            + "\nwindow.renderVersion = playerProbe.render;");
        return [.. ((ReadOnlyCollection<object>)Browser.ExecuteAsyncScript(
            "const done = arguments[arguments.length - 1]; window.renderVersion(window.caughtPlayer.score, 'record', 0, "
                + "4).then(d => done(Array.from(d, x => Math.round(x * 32767))));")!)
            .Select(Number)];
    }

    /// <summary>Where the sound rises first near a moment, s: the first sample well above what rang before.</summary>
    private static double Onset(double[] samples, double near)
    {
        var from = Math.Max(0, (int)((near - 0.02) * HeardSound.SampleRate));
        var ringing = from < 50 ? 20 : samples.AsSpan(Math.Max(0, from - 300), Math.Min(300, from)).ToArray().Max(Math.Abs);
        for (var i = from; i < samples.Length; i++)
            if (Math.Abs(samples[i]) > ringing * 1.25 + 80) return i / (double)HeardSound.SampleRate;
        return -1;
    }

    private static double PowerAt(double[] samples, double at, double pitch) =>
        HeardSound.Power(samples.AsSpan((int)((at + 0.02) * HeardSound.SampleRate), HeardSound.SampleRate / 3),
            HeardSound.Frequency(pitch));
}
