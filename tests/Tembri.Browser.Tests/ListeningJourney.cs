using System.Collections.ObjectModel;
using System.Globalization;
using OpenQA.Selenium;
using OpenQA.Selenium.Support.UI;

namespace Tembri.Browser.Tests;

/// <summary>Listening in a real browser: the schedule on the audio clock, and rendered sound whose onsets and pitches are
/// measured.</summary>
public sealed class ListeningJourney(BrowserHost host) : BrowserTest(host)
{
    private const int SampleRate = HeardSound.SampleRate;

    private T Run<T>(string script) => (T)Browser.ExecuteScript("const p = window.caughtPlayer; " + script)!;

    private static double Number(object? value) => Convert.ToDouble(value, CultureInfo.InvariantCulture);

    private List<(double When, double At)> Strokes() =>
        [.. Run<ReadOnlyCollection<object>>("return p.log.filter(e => e.kind === 'stroke').map(e => [e.when, e.at])")
        .Cast<ReadOnlyCollection<object>>().Select(e => (Number(e[0]), Number(e[1])))];

    private void Open(string chart)
    {
        OpenStudio();
        var student = AddStudent("Fern");
        Go("/songs/new");
        Paste(Find("textarea"), chart);
        Find("form button[type=submit].button-main").Click();
        Wait.Until(b => b.Url.Contains("saved", StringComparison.Ordinal));
        var song = new Uri(Browser.Url).Segments[2].Trim('/');
        Browser.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = HeardSound.CatchPlayer });
        Go($"/songs/{song}/listen/{student}?rung=2&capo=0");
        Wait.Until(b => (bool)Browser.ExecuteScript("return !!window.caughtPlayer")!);
        Assert.Null(Browser.ExecuteScript("return window.tembri ?? null"));
    }

    [Fact]
    public void A_song_is_played_repeated_and_heard_both_ways_on_the_audio_clock()
    {
        Open("title: Slow Tide\nkey: C\ntempo: 120\n[Verse]\n| C | F | G7 | C |\n[Chorus]\n| Am | Bb | G | C (slow) |");
        CheckWithAxe("listen");
        Find("[data-play]").Click();
        Wait.Until(_ => Strokes().Count >= 8);
        var strokes = Strokes();
        // Song time and clock time run alike: no stroke strays, however late the page looked.
        Assert.All(strokes, s => Assert.Equal(strokes[0].When + s.At - strokes[0].At, s.When, 1e-6));
        Assert.Equal(4L, Run<long>("return p.log.find(e => e.kind === 'count').beats"));
        Wait.Until(b => b.FindElements(By.CssSelector(".listen-bar[data-sounding]")).Count == 1);
        var section = Browser.FindElement(By.CssSelector(".listen-section h2")).Text.Split(' ')[0];
        Assert.StartsWith(section, Browser.FindElement(By.CssSelector("[data-place]")).Text, StringComparison.Ordinal);

        // One key changes to the rung at the same place.
        var before = Number(Run<object>("return p.now()"));
        Press("b");
        Assert.Equal("true", AttributeOf(".heard button:last-child", "aria-pressed"));
        Assert.InRange(Number(Run<object>("return p.now()")), before, before + 2);
        Assert.Equal("rung", Run<string>("return p.version"));

        // The chorus goes round at more than double tempo and never leaves its bars.
        Browser.ExecuteScript("const t = document.querySelector('input[type=range]'); t.value = 220; t.dispatchEvent(new "
            + "Event('input', { bubbles: true }));");
        new SelectElement(Find(".listen-knobs select")).SelectByText("Chorus");
        Browser.ExecuteScript("window.caughtPlayer.log.length = 0");
        Wait.Until(_ => Strokes().Count >= 40);
        var looped = Strokes();
        Assert.All(looped, s => Assert.InRange(s.At, 8 - 1e-6, 16 + 0.36));
        Assert.True(looped.Zip(looped.Skip(1)).Count(p => p.Second.At < p.First.At) >= 1, "it did not come round");
        // A bar marked slow takes its time: 2 s at 120 become 2 / 0.85.
        Assert.Equal(2 / 0.85, Number(Run<object>("return p.clockwork.total - p.clockwork.starts[7]")), 1e-6);
        Assert.Equal(4, Browser.FindElements(By.CssSelector(".listen-bar[data-looped]")).Count);
        Press("p");
        Assert.False(Run<bool>("return p.playing"));

        // Bars are chosen by pressing the first and the last of them; another rung is heard at the same tempo, over the same
        // bars.
        new SelectElement(Find(".listen-knobs select")).SelectByText("chosen bars");
        Find("[data-bar='0-1']").Click();
        Until(".listen-said", n => n.Text.Contains("last bar", StringComparison.Ordinal));
        Find("[data-bar='0-2']").Click();
        Assert.Equal(2, Browser.FindElements(By.CssSelector(".listen-bar[data-looped]")).Count);
        new SelectElement(Find("#rung")).SelectByValue("3");
        Find(".listen-compare button").Click();
        Wait.Until(b => b.Url.Contains("rung=3", StringComparison.Ordinal)
            && (bool)Browser.ExecuteScript(
                "return !!window.caughtPlayer && document.querySelectorAll('.listen-bar[data-looped]').length === 2")!);
        Assert.Equal((2.2, "rung", "220"),
            (Number(Run<object>("return p.rate")), Run<string>("return p.version"),
                AttributeOf("input[type=range]", "value")));
        CheckConsole();
    }

    [Fact]
    public void The_sound_begins_where_the_strokes_are_and_has_the_pitches_of_the_shapes()
    {
        Open("title: Two Bells\nkey: C\ntempo: 60\n[Verse]\n| Em | Am |");
        var strokes = Run<ReadOnlyCollection<object>>(
            "return p.score.versions.rung.strokes.map(s => [p.clockwork.seconds(s.at), s.notes])")
            .Cast<ReadOnlyCollection<object>>()
            .Select(s => (At: Number(s[0]), Notes: ((ReadOnlyCollection<object>)s[1]).Select(n => (int)Number(n)).ToList()))
            .ToList();
        Browser.ExecuteScript(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "player-probe.js"))
            + "\nwindow.renderVersion = playerProbe.render;");
        var samples = ((ReadOnlyCollection<object>)Browser.ExecuteAsyncScript(
            "const done = arguments[arguments.length - 1]; window.renderVersion(window.caughtPlayer.score, 'rung', 0, 8).then(d "
                + "=> done(Array.from(d, x => Math.round(x * 32767))));")!)
            .Select(Number).ToArray();
        Assert.True(samples.Length >= 8 * SampleRate);
        Assert.True(samples.Max(Math.Abs) is > 1_000 and < 32_767, "silent, or beyond full scale");
        foreach (var (at, notes) in strokes)
        {
            // Within 4 ms of each stroke the sound rises well above what rang on before it.
            var start = (int)(at * SampleRate);
            var ringing = start < 200 ? 0 : samples.Skip(start - 180).Take(150).Select(Math.Abs).Max();
            Assert.True(samples.Skip(start).Take(90).Select(Math.Abs).Max() > ringing * 0.6 + 60, $"nothing begins at {at} s");
            // Every string of the shape is in the sound: more there than a quarter tone beside it.
            foreach (var note in notes)
            {
                double Power(double pitch) =>
                    HeardSound.Power(samples.AsSpan(start + SampleRate / 6, SampleRate / 2),
                        440 * Math.Pow(2, (pitch - 69) / 12));
                Assert.True(Power(note) > 3 * Math.Min(Power(note - 0.5), Power(note + 0.5)),
                    $"pitch {note} is not heard at {at} s");
            }
        }
        // The lowest string alone, at its first stroke: its pitch is true within a tenth of a semitone.
        var low = strokes[0].Notes[0];
        var best = Enumerable.Range(-50, 101).Select(c => low + c / 100.0)
            .MaxBy(p => HeardSound.Power(samples.AsSpan(SampleRate / 10, SampleRate / 2), 440 * Math.Pow(2, (p - 69) / 12)));
        Assert.InRange(best, low - 0.1, low + 0.1);
    }
}
