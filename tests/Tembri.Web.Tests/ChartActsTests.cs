using System.Net;
using AngleSharp.Html.Dom;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Web.Pages.Songs;

namespace Tembri.Web.Tests;

/// <summary>What a teacher does to a chart as people paste it, on its drawing and on the right hand's page: the chart and its
/// text say the same afterwards.</summary>
public sealed class ChartActsTests(TembriHost host)
{
    private const string Pasted =
        "The Long Jetty (capo 2)\nstrum: D-du-udu\n\nVerse 1:\nG D Em C\n\nBridge (half time)\n| Am | % | D |\n\n"
            + "A section:\n| F | C |\n\nVerse 2 (same as verse 1)";

    private static string TextIn(IHtmlDocument page) =>
        page.QuerySelector("textarea")!.TextContent.ReplaceLineEndings("\n").Trim();

    private static Chart Chart(string text)
    {
        var (chart, problems) = ChartReader.Read(text);
        Assert.Empty(problems);
        return chart;
    }

    private static List<string> Sections(Chart chart) =>
        [.. chart.Sections.Select(s => $"{s.Name} {s.Strum}: "
            + string.Join(" ", s.Bars.SelectMany(b => b.Slots).Select(x => x.Chord?.Name ?? x.Symbol)))];

    /// <summary>The chart's own key is among them, so that it is the one that is chosen, and all twelve tones are, none with
    /// more signs than six.</summary>
    [Fact]
    public void A_chart_can_be_moved_to_every_key_and_is_in_one_of_them() =>
        Assert.All(Enumerable.Range(-8, 19).SelectMany(f => new Key[] { new(new(f), false), new(new(f), true) }), own =>
        {
            var keys = TakeDownModel.Keys(own);
            Assert.Contains(own, keys);
            Assert.Equal(keys.Count, keys.Distinct().Count());
            Assert.All(keys, k => Assert.True(k == own || k.IsMinor == own.IsMinor && Math.Abs(k.Signature) <= 6));
            Assert.Equal(12, keys.Select(k => k.Tonic.PitchClass).Distinct().Count());
        });

    [Fact]
    public async Task Each_section_can_be_copied_varied_played_again_and_left_out()
    {
        var visitor = await host.VisitNewStudioAsync();
        var page = $"/songs/{await visitor.TakeDownAsync(Pasted)}/chart";
        var before = Chart(Pasted);
        Assert.Equal(["Verse 1", "Bridge (half time)", "A section", "Verse 2"], before.Sections.Select(s => s.Name));
        Assert.Equal("A", before.Sections[0].Bars[0].Slots[0].Chord!.Name);
        var open = await visitor.PageAsync(page);
        async Task<(string Text, string? Said)> Press(string words, int section)
        {
            var button = open.QuerySelectorAll(".section-acts").ElementAt(section).QuerySelectorAll("button")
                .Single(b => b.TextContent == words);
            var action = page + button.GetAttribute("formaction");
            var answer = await visitor.PostAsync(page, action,
                [("Text", Pasted), ("Version", "1"), ("mend", button.GetAttribute("value") ?? "")]);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            var shown = await Visitor.Read(answer);
            return (TextIn(shown), shown.QuerySelector("[role=alert] p")?.TextContent);
        }
        string[] copies = ["Verse 3", "Bridge 2 (half time)", "A section 2", "Verse 3"];
        for (var i = 0; i < before.Sections.Count; i++)
        {
            var wanted = Sections(before)[i].Replace(before.Sections[i].Name, copies[i], StringComparison.Ordinal);
            var copy = Chart((await Press("a copy", i)).Text);
            Assert.Equal([.. Sections(before), wanted], Sections(copy));
            Assert.Null(copy.Sections[^1].Like);
            var variation = Chart((await Press("a variation of it", i)).Text);
            Assert.Equal([.. Sections(before), wanted], Sections(variation));
            Assert.Equal(before.Sections[i].Name, variation.Sections[^1].Like);
            var again = Chart((await Press("play it again at the end", i)).Text);
            Assert.Equal([.. before.Form, new FormPart(before.Sections[i].Name, 1)], again.Form);
            var (left, said) = await Press("leave it out", i);
            // The first verse is followed by the second: that is said, and the text stands.
            if (i == 0) Assert.Contains("Verse 2 follows Verse 1", said, StringComparison.Ordinal);
            Assert.Equal(Sections(before).Where((_, at) => i == 0 || at != i), Sections(Chart(left)));
        }
    }

    [Fact]
    public async Task A_hand_said_at_the_head_of_a_pasted_chart_can_be_none_in_one_section()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync(Pasted);
        var here = $"/songs/{song}/right-hand/{await visitor.AddStudentAsync("Fern")}";
        async Task Keep(int section, string pattern)
        {
            var version = (await visitor.PageAsync($"{here}?section={section}")).QuerySelector("[name=version]")!;
            await visitor.PostAsync(here, $"{here}?handler=Keep&section={section}",
                [("pattern", pattern), ("swing", "50"), ("version", version.GetAttribute("value")!)]);
        }
        async Task<List<string>> Hands() =>
            [.. Chart(TextIn(await visitor.PageAsync($"/songs/{song}/chart"))).Sections.Select(s => s.Strum)];
        await Keep(1, "");
        Assert.Equal(["D-du-udu", "", "D-du-udu", "D-du-udu"], await Hands());
        Assert.Contains("Nothing was taken down",
            (await visitor.PageAsync($"{here}?section=1")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        await Keep(2, "D-D-D-D-");
        await Keep(0, "D---D---");
        Assert.Equal(["D---D---", "", "D-D-D-D-", "D---D---"], await Hands());
    }
}
