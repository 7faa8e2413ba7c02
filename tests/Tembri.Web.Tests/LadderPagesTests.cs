using System.Net;

namespace Tembri.Web.Tests;

/// <summary>What happens to ladders, grades and songs as their parts change.</summary>
public sealed class LadderPagesTests(TembriHost host)
{
    private const string Song = "title: Low Bridge\nkey: F\ntempo: 90\nvoice: -3\n| F | Bb | C | F |";

    private static async Task<(Visitor Visitor, string Song, string Student)> Studio(TembriHost host)
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

    [Theory]
    [InlineData("Form.Nickname", "", "Give a nickname")]
    [InlineData("Form.HandId", "claw", "hands in the list")]
    [InlineData("Form.GuitarId", "lute", "guitars in the list")]
    [InlineData("Form.Fingers", "140", "0 to 100")]
    [InlineData("Form.Fingers", "many", "not valid")]
    public async Task A_students_form_says_what_is_wrong_and_keeps_what_was_typed(string field, string value, string message)
    {
        var visitor = await host.VisitNewStudioAsync();
        (string, string)[] fields = [("Form.Nickname", "Fern"), ("Form.HandId", "small"), ("Form.GuitarId", "steel"),
            ("Form.Barres", "Seek"), ("Form.Fingers", "33")];
        var answer = await visitor.PostAsync("/students/new", "/students/new",
            [.. fields.Select(f => f.Item1 == field ? (field, value) : f)]);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var page = await Visitor.Read(answer);
        Assert.Contains(message, page.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("Seek", page.QuerySelector("select[name='Form.Barres'] option[selected]")!.GetAttribute("value"));
        Assert.Empty((await visitor.PageAsync("/songs")).QuerySelectorAll(".desk thead a"));
    }

    [Fact]
    public async Task Two_tabs_on_one_student_never_overwrite_each_other_silently()
    {
        var visitor = await host.VisitNewStudioAsync();
        var address = $"/students/{await visitor.AddStudentAsync("Fern")}";
        var version = (await visitor.PageAsync(address)).QuerySelector("#student-version")!.GetAttribute("value")!;
        (string, string)[] Fields(string name) =>
            [("Form.Nickname", name), ("Form.HandId", "small"), ("Form.GuitarId", "steel"), ("Form.Barres", "Neutral"),
                ("Form.Version", version)];
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync(address, address, Fields("First"))).StatusCode);
        var second = await Visitor.Read(await visitor.PostAsync(address, address, Fields("Second")));
        Assert.Contains("changed in another tab", second.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("First", (await visitor.PageAsync(address)).QuerySelector("h1")!.TextContent);
    }

    [Fact]
    public async Task A_left_handed_student_gets_mirrored_drawings()
    {
        var visitor = await host.VisitDemoAsync();
        async Task<string> Drawing(string nickname) =>
            (await visitor.PageAsync(await visitor.LadderAsync("Paper Kites on Wires", nickname)))
                .QuerySelector("[data-cell='4-1'] svg")!.InnerHtml;
        Assert.NotEqual(await Drawing("Juniper"), await Drawing("Wren"));
    }

    [Fact]
    public async Task The_sheet_without_words_shows_none()
    {
        var visitor = await host.VisitDemoAsync();
        var sheet =
            (await visitor.LadderAsync("Gravel and Thyme", "Moss")).Replace("/ladder/", "/sheet/", StringComparison.Ordinal);
        Assert.Contains("Boots on the gravel", (await visitor.PageAsync(sheet)).Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("Boots on the gravel", (await visitor.PageAsync($"{sheet}?words=false")).Body!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_place_is_shown_and_the_one_that_is_chosen_is_played_in_the_tuning_chosen()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync("title: High Tide\nkey: Bb\ntempo: 90\n| Bb | Eb | F | Gm |");
        var ladder = $"/songs/{song}/ladder/{student}";
        // A shape that was taken stays wherever the same shapes are played, and rests elsewhere, which is said.
        await visitor.PostAsync(ladder, $"{ladder}?handler=Take", ("rung", "4"), ("chord", "0"), ("capo", "3"),
            ("frets", "3,2,0,0,0,3"), ("fingers", "2,1,0,0,0,3"));
        Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll("[data-cell] .lock"));
        var places = await visitor.PageAsync($"/songs/{song}/places/{student}?tuning=-1");
        Assert.Equal(12, places.QuerySelectorAll(".places tbody tr").Length);
        Assert.Contains("a semitone down", places.QuerySelector("nav.heard [aria-current]")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("Capo 4 turns B shapes into G shapes", places.QuerySelector("main .sentence")!.TextContent,
            StringComparison.Ordinal);
        var kept = await visitor.PostAsync($"/songs/{song}/places/{student}?tuning=-1&capo=4", $"{ladder}?handler=Place",
            ("capo", "4"), ("tuning", "-1"));
        Assert.Equal(System.Net.HttpStatusCode.Redirect, kept.StatusCode);
        var page = await visitor.PageAsync(ladder);
        Assert.Contains("G shapes, capo 4, guitar 1 semitone down",
            System.Text.RegularExpressions.Regex.Replace(page.QuerySelector(".sentence")!.TextContent, @"\s+", " "),
            StringComparison.Ordinal);
        Assert.Single(page.QuerySelectorAll("[data-cell] .lock"));
        Assert.DoesNotContain("One shape you took rests", page.Body!.TextContent, StringComparison.Ordinal);
        await visitor.PostAsync(ladder, $"{ladder}?handler=Place", ("capo", "3"), ("tuning", "-1"));
        var elsewhere = await visitor.PageAsync(ladder);
        Assert.Empty(elsewhere.QuerySelectorAll("[data-cell] .lock"));
        Assert.Contains(
            "One shape you took rests: it was taken among other shapes than those played here. It comes back at capo 4.",
            elsewhere.Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Another_tuning_is_compared_chosen_for_a_ladder_and_kept_for_a_guitar_that_stands_in_it()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync("title: Low Pier\nkey: D\ntempo: 80\n| D5 | G5/D | D5 | A5/D |");
        var (ladder, places) = ($"/songs/{song}/ladder/{student}", $"/songs/{song}/places/{student}");
        string Said(AngleSharp.Dom.IDocument page) =>
            System.Text.RegularExpressions.Regex.Replace(page.QuerySelector(".sentence")!.TextContent, @"\s+", " ");
        await visitor.PostAsync(ladder, $"{ladder}?handler=Take", ("rung", "4"), ("chord", "0"), ("capo", "0"),
            ("frets", "-1,5,7,7,-1,-1"), ("fingers", "0,1,3,4,0,0"));
        var hand = await visitor.PostAsync($"{ladder}/hand", $"{ladder}/hand", ("Form.Name", "Two strings"),
            ("Form.Text", "| D5 | A5 |"), ("Form.Capo", "0"), ("Form.RightHand", "3"));
        Assert.Equal(System.Net.HttpStatusCode.Redirect, hand.StatusCode);
        Assert.Null((await visitor.PageAsync(places)).QuerySelector("#tunings"));
        var compared = (await visitor.PageAsync($"{places}?tunings=true")).QuerySelector("#tunings")!;
        Assert.Equal(Core.Fretboard.Tuning.Known.Count - 1, compared.QuerySelectorAll("tbody tr").Length);
        Assert.Contains(" weighs ", compared.QuerySelector(".sentence")!.TextContent, StringComparison.Ordinal);
        Assert.NotEmpty(compared.QuerySelectorAll("b.accent"));
        // Looked at and played in: the ladder says so, what was taken in standard tuning rests and says where, and goes on when
        // the step is taken back.
        var opened = await visitor.PageAsync($"{places}?tuning=0&strings=open%20D");
        Assert.Contains("open D", opened.QuerySelector("form h2")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("open D", opened.QuerySelector("nav.heard [aria-current]")!.TextContent);
        var sent = opened.QuerySelectorAll("form[action$='handler=Place'] input[type=hidden]")
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value")!);
        Assert.Equal("open D", sent["strings"]);
        Assert.Equal(System.Net.HttpStatusCode.Redirect,
            (await visitor.PostAsync(ladder, $"{ladder}?handler=Place", ("capo", sent["capo"]), ("tuning", sent["tuning"]),
                ("strings", "open D"), ("revision", sent["revision"]))).StatusCode);
        var there = await visitor.PageAsync(ladder);
        Assert.Contains("open D", Said(there), StringComparison.Ordinal);
        Assert.Contains("taken in another tuning (the song’s)", there.QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
        Assert.Empty(there.QuerySelectorAll("[data-cell] .lock"));
        Assert.Contains("It rests: it was written for the song’s tuning", there.QuerySelector("table.parts")!.TextContent,
            StringComparison.Ordinal);
        // A shape of this tuning would sound something else in every other song.
        var wide = await Visitor.Read(await visitor.PostAsync(ladder, $"{ladder}?handler=Take", ("rung", "4"), ("chord", "0"),
            ("capo", sent["capo"]), ("frets", "0,0,0,-1,-1,-1"), ("fingers", "0,0,0,0,0,0"), ("scope", "Studio")));
        Assert.Contains("a shape of standard tuning", wide.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("kept by you",
            (await visitor.PageAsync(places)).QuerySelector("form[action$='handler=Place']")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("open D",
            (await visitor.PageAsync(ladder.Replace("/ladder/", "/sheet/", StringComparison.Ordinal)))
                .QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(System.Net.HttpStatusCode.Redirect,
            (await visitor.PostAsync(ladder, $"{ladder}?handler=Undo",
                ("revision",
                    sent["revision"] is var r
                        ? (int.Parse(r, System.Globalization.CultureInfo.InvariantCulture) + 1)
                            .ToString(System.Globalization.CultureInfo.InvariantCulture)
                        : ""))).StatusCode);
        Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll("[data-cell] .lock"));
        var refused = await Visitor.Read(await visitor.PostAsync(ladder, $"{ladder}?handler=Place", ("capo", "0"),
            ("tuning", "0"), ("strings", "drip D"),
            ("revision", (await RevisionAsync()).ToString(System.Globalization.CultureInfo.InvariantCulture))));
        Assert.Contains("“drip D” is not a tuning", refused.Body!.TextContent, StringComparison.Ordinal);

        // A guitar that stays in open G: every song of the student is arranged for it.
        var form = new Dictionary<string, string>
        {
            ["Form.Nickname"] = "Fern", ["Form.HandId"] = "medium", ["Form.GuitarId"] = "steel", ["Form.Barres"] = "Neutral",
            ["Form.Changes"] = "40", ["Form.GuitarStrings"] = "E A"
        };
        Task<HttpResponseMessage> SaveAsync() =>
            visitor.PostAsync($"/students/{student}", $"/students/{student}", [.. form.Select(f => (f.Key, f.Value))]);
        Assert.Contains("“E A” is not a tuning", (await Visitor.Read(await SaveAsync())).Body!.TextContent,
            StringComparison.Ordinal);
        form["Form.GuitarStrings"] = "D G D G B D";
        Assert.Equal(System.Net.HttpStatusCode.Redirect, (await SaveAsync()).StatusCode);
        Assert.Equal("open G",
            (await visitor.PageAsync($"/students/{student}")).QuerySelector("input[name='Form.GuitarStrings']")!.GetAttribute(
                "value"));
        Assert.Contains("open G", Said(await visitor.PageAsync(ladder)), StringComparison.Ordinal);

        async Task<int> RevisionAsync() =>
            int.Parse((await visitor.PageAsync(places)).QuerySelector("form input[name=revision]")!.GetAttribute("value")!,
                System.Globalization.CultureInfo.InvariantCulture);
    }

    [Fact]
    public async Task The_score_to_listen_to_has_both_versions_on_the_same_bars()
    {
        var visitor = await host.VisitDemoAsync();
        var listen =
            (await visitor.LadderAsync("Salt on the Sill", "Wren")).Replace("/ladder/", "/listen/", StringComparison.Ordinal);
        var page = await visitor.PageAsync(listen + "?rung=2");
        Assert.Contains("hurts hearing", page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        // Without a student the usual hand plays, where the record has its capo.
        var alone = listen[..listen.LastIndexOf('/')];
        Assert.Contains("a usual hand", (await visitor.PageAsync(alone + "?rung=5")).QuerySelector(".masthead")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("strokes", await visitor.Client.GetStringAsync(alone + "?handler=Score&rung=5"),
            StringComparison.Ordinal);
        var score = System.Text.Json.JsonDocument.Parse(
            await visitor.Client.GetStringAsync(listen + "?handler=Score&rung=2")).RootElement;
        var bars = score.GetProperty("bars").EnumerateArray().ToList();
        Assert.Equal(score.GetProperty("length").GetDouble(), bars.Sum(b => b.GetProperty("length").GetDouble()), 6);
        foreach (var name in new[] { "record", "rung" })
        {
            var strokes = score.GetProperty("versions").GetProperty(name).GetProperty("strokes").EnumerateArray().ToList();
            Assert.All(strokes,
                s => Assert.InRange(s.GetProperty("at").GetDouble() + s.GetProperty("length").GetDouble(), 0,
                    score.GetProperty("length").GetDouble() + 1e-6));
            Assert.All(strokes.SelectMany(s => s.GetProperty("notes").EnumerateArray()),
                n => Assert.InRange(n.GetInt32(), 40, 88));
        }
    }
}
