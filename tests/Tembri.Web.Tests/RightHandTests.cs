using System.Net;
using AngleSharp.Html.Dom;

namespace Tembri.Web.Tests;

/// <summary>The right hand on the server: patterns written into the chart, another rung by section, riffs and runs.</summary>
public sealed class RightHandTests(TembriHost host)
{
    private const string Song =
        "title: Low Bridge\nkey: C\ntempo: 90\nform: Verse, Chorus\n\n[Verse]\n| C | F | G7 | C "
            + "|\n\n[Chorus]\n| Am | F | G7 | C |";

    private async Task<(Visitor Visitor, string Song, string Student)> OpenAsync()
    {
        var visitor = await host.VisitNewStudioAsync();
        return (visitor, await visitor.TakeDownAsync(Song), await visitor.AddStudentAsync("Fern"));
    }

    private static string Value(IHtmlDocument page, string css) => page.QuerySelector(css)!.GetAttribute("value") ?? "";

    private static async Task<string> ChartAsync(Visitor visitor, string song) =>
        (await visitor.PageAsync($"/songs/{song}/chart")).QuerySelector("textarea")!.TextContent;

    [Fact]
    public async Task A_pattern_is_written_into_its_section_and_counts_from_then_on()
    {
        var (visitor, song, student) = await OpenAsync();
        var here = $"/songs/{song}/right-hand/{student}?section=1";
        var page = await visitor.PageAsync(here);
        Assert.Contains("Nothing was taken down", page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        await visitor.PostAsync(here, $"/songs/{song}/right-hand/{student}?handler=Keep&section=1",
            [("pattern", "D-du-u-u|D-dud-du"), ("swing", "60"), ("loudness", "Loud"),
                ("version", Value(page, "[name=version]"))]);
        Assert.Contains("[Chorus]\nstrum: D-du-u-u|D-dud-du, swing 60, loud\n",
            (await ChartAsync(visitor, song)).ReplaceLineEndings("\n"), StringComparison.Ordinal);
        page = await visitor.PageAsync(here);
        Assert.Equal("D-du-u-u|D-dud-du", Value(page, "[name=pattern]"));
        Assert.Equal(5, page.QuerySelectorAll(".hand-rungs > li").Length);
        // The sheet has a line for each pattern, with the sections it is for.
        var sheet = (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=5")).QuerySelectorAll(".strum-line")
            .Select(l => l.TextContent).ToList();
        Assert.Equal(2, sheet.Count);
        Assert.Contains("Chorus:", sheet[1], StringComparison.Ordinal);
        // A faulty one is said, and stands in the box; nothing is written.
        var refused = await visitor.PostAsync(here, $"/songs/{song}/right-hand/{student}?handler=Keep&section=1",
            [("pattern", "D-du-"), ("version", Value(page, "[name=version]"))]);
        var text = await refused.Content.ReadAsStringAsync();
        Assert.Contains("5 steps do not share the 4 beats", text, StringComparison.Ordinal);
        Assert.Contains("value=\"D-du-\"", text, StringComparison.Ordinal);
        // On a chart that was written elsewhere meanwhile, too.
        Assert.Equal(HttpStatusCode.Conflict,
            (await visitor.PostAsync(here, $"/songs/{song}/right-hand/{student}?handler=Keep&section=1",
                [("pattern", "Dddd"), ("version", "1")])).StatusCode);
        Assert.Contains("D-du-u-u", await ChartAsync(visitor, song), StringComparison.Ordinal);
        // Without letters the section has none of its own any more.
        await visitor.PostAsync(here, $"/songs/{song}/right-hand/{student}?handler=Keep&section=1",
            [("pattern", ""), ("version", Value(await visitor.PageAsync(here), "[name=version]"))]);
        Assert.DoesNotContain("strum", await ChartAsync(visitor, song), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Another_rung_of_the_right_hand_holds_in_its_section_on_its_rung_and_is_a_step_to_take_back()
    {
        var (visitor, song, student) = await OpenAsync();
        var ladder = $"/songs/{song}/ladder/{student}";
        await visitor.PostAsync(ladder, $"/songs/{song}/right-hand/{student}?handler=Take&rung=3&section=1",
            [("on", "3"), ("hand", "0")]);
        string? Chosen(IHtmlDocument page, int rung) =>
            page.QuerySelectorAll("[data-rungs] form")
                    .First(f => f.QuerySelector("[name=on]")!.GetAttribute("value") == $"{rung}")
                    .QuerySelector("option[selected]")!.GetAttribute("value");
        Assert.Equal("0", Chosen(await visitor.PageAsync($"/songs/{song}/right-hand/{student}?section=1"), 3));
        Assert.Equal("3", Chosen(await visitor.PageAsync($"/songs/{song}/right-hand/{student}?section=0"), 3));
        Assert.Contains("free: keep the hand swinging",
            (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=3")).QuerySelector(".sheet")!.TextContent,
            StringComparison.OrdinalIgnoreCase);
        Assert.Contains("Chorus: free: keep the hand swinging on rung 3",
            (await visitor.PageAsync(ladder)).QuerySelector(".wish-line")!.TextContent, StringComparison.Ordinal);
        await visitor.PostAsync(ladder, $"{ladder}?handler=Undo");
        Assert.Equal("3", Chosen(await visitor.PageAsync($"/songs/{song}/right-hand/{student}?section=1"), 3));
        Assert.Contains("There is no such rung",
            await (await visitor.PostAsync(ladder, $"/songs/{song}/right-hand/{student}?handler=Take&rung=3&section=1",
                [("on", "3"), ("hand", "9")])).Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_figure_is_written_moved_to_another_way_printed_and_taken_out()
    {
        var (visitor, song, student) = await OpenAsync();
        var here = $"/songs/{song}/figures/{student}?section=0";
        Task<HttpResponseMessage> Post(string handler, string version, params (string, string)[] fields) =>
            visitor.PostAsync(here, $"/songs/{song}/figures/{student}?handler={handler}&section=0",
                [("version", version), ("form.number", "0"), .. fields]);
        await visitor.PostAsync($"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?handler=Capo",
            [("capo", "0")]);
        var version = Value(await visitor.PageAsync(here), "[name=version]");
        await Post("Keep", version, ("form.bar", "4"), ("form.notes", "| - - C4 B3 |"));
        Assert.Contains("[Verse]\nfigure at bar 4: | - - C4 B3 |\n", (await ChartAsync(visitor, song)).ReplaceLineEndings("\n"),
            StringComparison.Ordinal);
        var page = await visitor.PageAsync(here);
        Assert.Contains("On six lines", page.QuerySelector("#look")!.InnerHtml, StringComparison.Ordinal);
        Assert.NotEmpty(page.QuerySelectorAll("#look details"));
        await Post("Way", Value(page, "[name=version]"), ("form.bar", "4"), ("form.notes", "| - - C4 B3 |"), ("way", "0"));
        Assert.Matches(@"figure at bar 4: \| - - \d/\d+ \d/\d+ \|", await ChartAsync(visitor, song));
        Assert.Contains("On six lines",
            (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=5")).QuerySelector(".sheet")!.InnerHtml,
            StringComparison.Ordinal);
        Assert.DoesNotContain("On six lines",
            (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=1")).QuerySelector(".sheet")!.InnerHtml,
            StringComparison.Ordinal);
        // Tablature is read; what is no note is said and nothing is written.
        var tab = await Post("Look", "0", ("form.bar", "1"),
            ("form.notes", "e|-----|\nB|-1-3-|\nG|-----|\nD|-----|\nA|-----|\nE|-----|"));
        Assert.Contains("string 2 fret 1", await tab.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        // Two notes at once: the higher one is kept, and that is said.
        var two = await Post("Look", "0", ("form.bar", "1"),
            ("form.notes", "e|--0--|\nB|--1--|\nG|-----|\nD|-----|\nA|-----|\nE|-----|"));
        Assert.Contains("the highest one is kept", await two.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await Post("Look", "0", ("form.bar", "1"), ("form.notes", "| H9 |"))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await Post("Look", "0", ("form.bar", "77"), ("form.notes", "| E3 |"))).StatusCode);
        await Post("Remove", Value(await visitor.PageAsync(here), "[name=version]"));
        Assert.DoesNotContain("figure", await ChartAsync(visitor, song), StringComparison.Ordinal);
    }
}
