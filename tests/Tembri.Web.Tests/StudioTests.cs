using System.Net;

namespace Tembri.Web.Tests;

/// <summary>What a teacher settles for the whole studio, and that it holds on every page.</summary>
public sealed class StudioTests(TembriHost host)
{
    private const string Song = "title: Low Bridge\nkey: Eb\ntempo: 90\n| Eb | Ab | Bb | Cm |";

    private static Task<HttpResponseMessage> Settle(Visitor visitor, string names, bool nut, params string[] tunings) =>
        visitor.PostAsync("/studio", "/studio",
        [("Form.Name", "Low Water"), ("Form.NoteNames", names), ("Form.FretsFromNut", nut ? "true" : "false"),
            .. tunings.Select(t => ("Form.Tunings", t))]);

    [Fact]
    public async Task Names_of_notes_hold_on_every_page_and_never_change_the_chart_itself()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync(Song);
        // Without a capo the shapes have the song's own names.
        await visitor.PostAsync($"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?handler=Aim",
            ("aim", "None"), ("company", "Record"));
        string[] pages = [$"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?rung=5&chord=1",
            $"/songs/{song}/sheet/{student}?rung=5", $"/songs/{song}/places/{student}", $"/songs/{song}/listen/{student}?rung=5",
            "/"];
        foreach (var page in pages)
            Assert.True((await visitor.PageAsync(page)).Body!.TextContent.Contains('♭', StringComparison.Ordinal), page);
        Assert.Equal(HttpStatusCode.Redirect, (await Settle(visitor, "Sharps", false, "0")).StatusCode);
        foreach (var page in pages)
        {
            var shown = (await visitor.PageAsync(page)).Body!;
            Assert.DoesNotMatch("[A-G]♭", shown.TextContent);
            foreach (var said in shown.QuerySelectorAll("[aria-label], [title]"))
                Assert.DoesNotMatch("[A-G]♭", said.GetAttribute("aria-label") + said.GetAttribute("title"));
            Assert.Matches("[A-G]\\s*♯", shown.TextContent);
        }
        var chart = await visitor.PageAsync($"/songs/{song}/chart");
        Assert.Equal(Song, chart.QuerySelector("textarea")!.TextContent.Trim());
        Assert.Null(chart.QuerySelector("[data-doubts]"));
    }

    [Fact]
    public async Task Frets_are_counted_as_the_studio_or_the_sheet_has_it_and_it_is_said()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync(Song);
        async Task<string> Sheet(string query) =>
            (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=3{query}")).QuerySelector(".sheet")!.InnerHtml;
        Assert.Contains("Frets are counted from the capo", await Sheet(""), StringComparison.Ordinal);
        var nut = await Sheet("&frets=nut");
        Assert.Contains("counted from the nut", nut, StringComparison.Ordinal);
        Assert.NotEqual(HttpStatusCode.BadRequest, (await Settle(visitor, "AsKey", true, "0", "-2")).StatusCode);
        Assert.Equal(nut, await Sheet(""));
        Assert.Contains("Frets are counted from the capo", await Sheet("&frets=capo"), StringComparison.Ordinal);
        Assert.Contains("Frets are counted from the nut",
            (await visitor.PageAsync($"/songs/{song}/ladder/{student}")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(["standard tuning, as the record", "2 semitones down"],
            (await visitor.PageAsync($"/songs/{song}/places/{student}")).QuerySelectorAll("nav.heard a")
                .Select(a => a.TextContent.Trim()));
    }

    [Fact]
    public async Task A_form_that_says_nothing_changes_nothing_and_no_other_studio_is_touched()
    {
        var (mine, other) = (await host.VisitNewStudioAsync(), await host.VisitNewStudioAsync());
        Assert.Contains("at least one tuning", await (await Settle(mine, "Flats", true)).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await Settle(mine, "7", true, "0")).StatusCode);
        Assert.Equal("false",
            (await mine.PageAsync("/studio")).QuerySelector("input[name='Form.FretsFromNut'][checked]")!.GetAttribute("value"));
        await Settle(mine, "Flats", true, "0");
        Assert.Equal("true",
            (await mine.PageAsync("/studio")).QuerySelector("input[name='Form.FretsFromNut'][checked]")!.GetAttribute("value"));
        Assert.Equal("false",
            (await other.PageAsync("/studio")).QuerySelector("input[name='Form.FretsFromNut'][checked]")!.GetAttribute("value"));
        Assert.Equal("Second Studio", (await other.PageAsync("/studio")).QuerySelector("h1")!.TextContent);
    }
}
