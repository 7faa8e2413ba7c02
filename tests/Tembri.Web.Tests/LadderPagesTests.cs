using System.Net;

namespace Tembri.Web.Tests;

/// <summary>What happens to ladders, grades and songs as their parts change.</summary>
public sealed class LadderPagesTests(TembriHost host)
{
    internal const string Song = "title: Low Bridge\nkey: F\ntempo: 90\nvoice: -3\n| F | Bb | C | F |";

    internal static async Task<(Visitor Visitor, string Song, string Student)> Studio(TembriHost host)
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        return (visitor, await visitor.TakeDownAsync(Song), student);
    }

    [Fact]
    public async Task A_grade_is_computed_anew_when_the_chart_the_student_or_a_choice_changes()
    {
        var (visitor, song, student) = await Studio(host);
        async Task<bool> Waits() => (await visitor.PageAsync("/songs")).QuerySelector($"#song-{song}")!.HasAttribute("hx-get");
        async Task Grade() => await visitor.PageAsync($"/songs?handler=Row&song={song}");
        Assert.True(await Waits());
        await Grade();
        Assert.False(await Waits());
        var chart = await visitor.PageAsync($"/songs/{song}/chart");
        await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart", ("Text", Song + "\n| Dm |"),
            ("Version", chart.QuerySelector("input[name=Version]")!.GetAttribute("value")!));
        Assert.True(await Waits());
        await Grade();
        await visitor.PostAsync($"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?handler=Capo",
            ("capo", "5"));
        Assert.True(await Waits());
        await Grade();
        Assert.Contains("capo 5",
            (await visitor.PageAsync("/songs")).QuerySelector($"#song-{song} a[title]")!.GetAttribute("title"),
            StringComparison.Ordinal);
        // A student of the same kind is graded from what is there; another hand is arranged for.
        await visitor.AddStudentAsync("Reed");
        Assert.False(await Waits());
        await visitor.PostAsync("/students/new", "/students/new", ("Form.Nickname", "Bracken"), ("Form.HandId", "child"),
            ("Form.GuitarId", "half"), ("Form.Barres", "Avoid"));
        Assert.True(await Waits());
    }

    [Fact]
    public async Task The_aim_moves_the_song_or_takes_the_capo_off()
    {
        var (visitor, song, student) = await Studio(host);
        var ladder = $"/songs/{song}/ladder/{student}";
        async Task<string> Sentence(string aim)
        {
            await visitor.PostAsync(ladder, $"{ladder}?handler=Aim", ("aim", aim), ("company", "Alone"));
            return (await visitor.PageAsync(ladder)).QuerySelector(".sentence")!.TextContent;
        }
        Assert.Contains("sounds in F", await Sentence("Record"), StringComparison.Ordinal);
        Assert.Contains("sounds in D", await Sentence("Voice"), StringComparison.Ordinal);
        Assert.Contains("no capo", await Sentence("None"), StringComparison.Ordinal);
        Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll(".neck a"));
        // Fields that say what the header says leave it to the header; others are the student's own.
        async Task<string> Voice(string semitones, string header)
        {
            await visitor.PostAsync(ladder, $"{ladder}?handler=Aim", ("aim", "Voice"), ("company", "Alone"),
                ("semitones", semitones));
            var chart = await visitor.PageAsync($"/songs/{song}/chart");
            await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart",
                ("Text", Song.Replace("voice: -3", header, StringComparison.Ordinal)),
                ("Version", chart.QuerySelector("input[name=Version]")!.GetAttribute("value")!));
            return (await visitor.PageAsync(ladder)).QuerySelector(".sentence")!.TextContent;
        }
        Assert.Contains("sounds in C", await Voice("-3", "voice: -5"), StringComparison.Ordinal);
        Assert.Contains("sounds in E", await Voice("-1", "voice: -3"), StringComparison.Ordinal);
        Assert.Contains("no capo", await Sentence("None"), StringComparison.Ordinal);
        // Rubbish changes nothing.
        Assert.Contains("no capo", await Sentence("Moon"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task More_chords_than_fit_are_shown_by_section_and_a_step_stays_in_its_section()
    {
        var (visitor, _, student) = await Studio(host);
        var song = await visitor.TakeDownAsync("title: Sixteen Steps\n[Verse]\n| C | C#dim7 | Dm7 | Ebdim7 | Em7 | F | F#m7b5 | "
            + "G7 |\n[Chorus]\n| Ab | Bb | Am | Fm | D7 | E7 | A7 | C |");
        var ladder = $"/songs/{song}/ladder/{student}";
        async Task<int> Columns(string query) =>
            (await visitor.PageAsync(ladder + query)).QuerySelectorAll(".ladder thead th").Length - 2;
        Assert.Equal((8, 8, 15, 8),
            (await Columns(""), await Columns("?section=1"), await Columns("?section=all"), await Columns("?section=7")));
        var page = await visitor.PageAsync(ladder + "?section=1");
        Assert.All(page.QuerySelectorAll("a.cell, .measure"),
            a => Assert.Contains("section=1", a.GetAttribute("href"), StringComparison.Ordinal));
        Assert.All(page.QuerySelectorAll("form[action*=ladder]"),
            f => Assert.Equal("1", f.QuerySelector("input[name=section]")!.GetAttribute("value")));
        // A song of fourteen shows all of them, smaller.
        var fourteen = await visitor.TakeDownAsync("title: Fourteen\n[Verse]\n| C | C#dim7 | Dm7 | Ebdim7 | Em7 | F | F#m7b5 "
            + "|\n[Chorus]\n| G7 | Ab | Bb | Am | Fm | D7 | E7 |");
        var dense = await visitor.PageAsync($"/songs/{fourteen}/ladder/{student}");
        Assert.Equal((16, 0),
            (dense.QuerySelectorAll(".ladder.dense thead th").Length, dense.QuerySelectorAll(".sections").Length));
    }

    [Fact]
    public async Task A_song_without_a_readable_chord_says_so_wherever_somebody_comes_for_one_and_the_student_stays_chosen()
    {
        var (visitor, _, student) = await Studio(host);
        var song = await visitor.TakeDownAsync("title: Nothing Yet\n| Xq | Zz |");
        async Task<AngleSharp.Html.Dom.IHtmlDocument> Chart(string asked) =>
            await visitor.PageAsync((await visitor.Client.GetAsync(asked)).Headers.Location!.OriginalString);
        foreach (var page in (string[])["ladder", "places", "listen", "sheet"])
        {
            var chart = await Chart($"/songs/{song}/{page}/{student}");
            Assert.Contains("no chord to arrange", chart.QuerySelector("main [role=status]")!.TextContent,
                StringComparison.Ordinal);
            Assert.NotNull(chart.QuerySelector($"nav a[href$='/ladder/{student}']"));
        }
        Assert.Contains("no chord to arrange",
            (await Chart($"/songs/{song}/listen")).QuerySelector("main [role=status]")!.TextContent, StringComparison.Ordinal);
        var files = await visitor.PageAsync($"/songs/{song}/files?student={student}");
        Assert.Contains("no chord to arrange", files.QuerySelector("main [role=status]")!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain(files.QuerySelectorAll("td b"), b => b.TextContent == "MIDI");
        Assert.Equal(HttpStatusCode.NotFound,
            (await visitor.Client.GetAsync($"/songs/{song}/files?handler=Download&format=Midi")).StatusCode);
        Assert.NotNull(files.QuerySelector($"nav a[href$='/sheet/{student}']"));
        // A student of nobody here is not found, and a chart with chords has no such note.
        Assert.Equal(HttpStatusCode.NotFound,
            (await visitor.Client.GetAsync($"/songs/{song}/ladder/{Guid.NewGuid()}")).StatusCode);
        Assert.Null((await visitor.PageAsync($"/songs/{await visitor.TakeDownAsync("| C |")}/chart?why=ladder"))
            .QuerySelector("main > .note[role=status]"));
    }

    [Fact]
    public async Task Every_page_of_a_song_has_the_tabs_of_the_student_looked_at_last_or_of_the_first()
    {
        var (visitor, song, fern) = await Studio(host);
        var reed = await visitor.AddStudentAsync("Reed");
        async Task<string?> Tab(string page) =>
            (await visitor.PageAsync($"/songs/{song}/{page}")).QuerySelector("nav a[href*='/ladder/']")?.GetAttribute("href");
        Assert.EndsWith(fern, await Tab("chart"), StringComparison.Ordinal);
        await visitor.PageAsync($"/songs/{song}/ladder/{reed}");
        foreach (var page in (string[])["chart", "files", "history"])
            Assert.EndsWith(reed, await Tab(page), StringComparison.Ordinal);
        Assert.EndsWith(fern, await Tab($"chart?student={fern}"), StringComparison.Ordinal);
        // Somebody of another studio is nobody here.
        Assert.EndsWith(reed, (await Tab($"files?student={reed}"))!, StringComparison.Ordinal);
        Assert.EndsWith(fern, await Tab($"chart?student={Guid.NewGuid()}"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_freed_shape_gives_back_the_place_it_brought_but_not_one_that_was_decided()
    {
        var (visitor, song, student) = await Studio(host);
        var ladder = $"/songs/{song}/ladder/{student}";
        async Task<string?> Kept() => (await visitor.PageAsync(ladder)).QuerySelector("[data-place]")?.TextContent;
        async Task Take(string query)
        {
            var form = (await visitor.PageAsync(ladder + query)).QuerySelector(".option:not(.taken)")!;
            string Value(string name) => form.QuerySelector($"input[name={name}]")!.GetAttribute("value")!;
            await visitor.PostAsync(ladder, $"{ladder}?handler=Take",
                [.. new[] { "rung", "chord", "capo", "frets", "fingers" }.Select(n => (n, Value(n)))]);
        }
        Assert.Null(await Kept());
        await Take("?rung=3&chord=0");
        await Take("?rung=3&chord=1");
        Assert.NotNull(await Kept());
        await visitor.PostAsync(ladder, $"{ladder}?handler=Free", ("rung", "3"), ("chord", "0"));
        Assert.NotNull(await Kept());
        await visitor.PostAsync(ladder, $"{ladder}?handler=Free", ("rung", "3"), ("chord", "1"));
        Assert.Null(await Kept());
        await visitor.PostAsync(ladder, $"{ladder}?handler=Capo", ("capo", "5"));
        await Take("?rung=3&chord=0");
        await visitor.PostAsync(ladder, $"{ladder}?handler=Free", ("rung", "3"), ("chord", "0"));
        Assert.Contains("capo 5", (await visitor.PageAsync(ladder)).QuerySelector(".sentence")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_lock_survives_an_edit_of_another_chord_and_rests_at_another_place()
    {
        var (visitor, song, student) = await Studio(host);
        var ladder = $"/songs/{song}/ladder/{student}";
        await visitor.PostAsync(ladder, $"{ladder}?handler=Take", ("rung", "4"), ("chord", "0"), ("capo", "0"),
            ("frets", "-1,-1,3,2,1,1"), ("fingers", "0,0,3,2,1,1"));
        Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll(".lock"));
        Assert.Empty((await visitor.PageAsync($"{ladder}?capo=3")).QuerySelectorAll(".lock"));
        var chart = await visitor.PageAsync($"/songs/{song}/chart");
        await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart",
            ("Text", Song.Replace("Bb", "Gm", StringComparison.Ordinal)),
            ("Version", chart.QuerySelector("input[name=Version]")!.GetAttribute("value")!));
        Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll(".lock"));
    }

    [Fact]
    public async Task A_shape_is_taken_at_a_place_where_one_rests_since_the_chart_was_moved()
    {
        var (visitor, song, student) = await Studio(host);
        var ladder = $"/songs/{song}/ladder/{student}";
        (string, string)[] Take(string frets, string fingers) =>
            [("rung", "4"), ("chord", "0"), ("capo", "1"), ("frets", frets), ("fingers", fingers)];
        await visitor.PostAsync(ladder, $"{ladder}?handler=Take", Take("0,2,2,1,0,0", "0,2,3,1,0,0"));
        var chart = await visitor.PageAsync($"/songs/{song}/chart");
        await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart",
            ("Text", "title: Low Bridge\nkey: G\ntempo: 90\n| G | C | D | G |"),
            ("Version", chart.QuerySelector("input[name=Version]")!.GetAttribute("value")!));
        // At capo 1 the shapes are F♯'s now; those of E, which were taken from, are at capo 3.
        var page = await visitor.PageAsync(ladder);
        Assert.Contains(
            "One shape you took rests: it was taken among other shapes than those played here. It comes back at capo 3.",
            page.Body!.TextContent, StringComparison.Ordinal);
        var taken = await visitor.PostAsync(ladder, $"{ladder}?handler=Take", Take("2,4,4,3,2,2", "1,3,4,2,1,1"));
        Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll("[data-cell] .lock"));
        Assert.Single((await visitor.PageAsync($"{ladder}?capo=3")).QuerySelectorAll("[data-cell] .lock"));
        // A chord that left the chart takes its shapes to rest with it.
        chart = await visitor.PageAsync($"/songs/{song}/chart");
        await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart",
            ("Text", "title: Low Bridge\nkey: G\ntempo: 90\n| C | D |"),
            ("Version", chart.QuerySelector("input[name=Version]")!.GetAttribute("value")!));
        page = await visitor.PageAsync(ladder);
        Assert.Contains("The chart has no G any more; 2 decisions of yours rest with it.", page.Body!.TextContent,
            StringComparison.Ordinal);
        // What rests is carried over to another chord, where nothing was decided yet.
        await visitor.PostAsync(ladder, $"{ladder}?handler=Carry", ("degree", "0:"), ("to", "1"));
        page = await visitor.PageAsync(ladder);
        Assert.DoesNotContain("rest with it", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Single((await visitor.PageAsync($"{ladder}?capo=1")).QuerySelectorAll("[data-cell$='-1'] .lock"));
    }

    [Fact]
    public async Task A_chart_without_chords_leads_back_to_the_chart()
    {
        var (visitor, _, student) = await Studio(host);
        var song = await visitor.TakeDownAsync("title: Only Words\nnothing to play here");
        var answer = await visitor.Client.GetAsync($"/songs/{song}/ladder/{student}");
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        Assert.Contains("no chords yet", (await visitor.PageAsync("/songs")).QuerySelector($"#song-{song}")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("No chords were found",
            (await visitor.PageAsync($"/songs/{song}/chart")).QuerySelector(".problem")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Taking_a_song_away_asks_first_and_then_it_is_gone()
    {
        var (visitor, song, _) = await Studio(host);
        var asked = await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart?handler=Remove");
        Assert.EndsWith($"/songs/{song}/remove", asked.Headers.Location!.ToString(), StringComparison.Ordinal);
        Assert.Contains("Low Bridge", (await visitor.PageAsync($"/songs/{song}/remove")).Body!.TextContent,
            StringComparison.Ordinal);
        await visitor.PostAsync($"/songs/{song}/remove", $"/songs/{song}/chart?handler=Remove", ("sure", "true"));
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Client.GetAsync($"/songs/{song}/chart")).StatusCode);
        Assert.DoesNotContain("Low Bridge", (await visitor.PageAsync("/songs")).Body!.TextContent, StringComparison.Ordinal);
    }
}
