using System.Net;

namespace Tembri.Web.Tests;

public sealed class PagesTests(TembriHost host)
{
    [Fact]
    public async Task The_desk_shows_ten_songs_and_six_students_and_grades_them()
    {
        var visitor = await host.VisitDemoAsync();
        var desk = await visitor.PageAsync("/songs");
        Assert.Equal(10, desk.QuerySelectorAll(".desk tbody tr").Length);
        Assert.Equal(6, desk.QuerySelectorAll(".desk thead a").Length);
        var song = await visitor.SongAsync("Salt on the Sill");
        var row = await visitor.PageAsync($"/songs?handler=Row&song={song}");
        Assert.Equal(6, row.QuerySelectorAll("svg[aria-label*='rung 1']").Length);
        // Kept: the next desk shows the row without asking again.
        desk = await visitor.PageAsync("/songs");
        Assert.Null(desk.QuerySelector($"#song-{song}")!.GetAttribute("hx-get"));
    }

    [Fact]
    public async Task The_ladder_shows_five_rungs_with_shapes_numbers_and_a_neck()
    {
        var visitor = await host.VisitDemoAsync();
        var page = await visitor.PageAsync(await visitor.LadderAsync("Salt on the Sill", "Wren"));
        Assert.Equal(["5", "4", "3", "2", "1"], page.QuerySelectorAll(".rung-number").Select(n => n.TextContent));
        Assert.Equal(10, page.QuerySelectorAll(".neck a").Length);
        Assert.Equal(30, page.QuerySelectorAll("[data-cell]").Length);
        var closeness = page.QuerySelectorAll(".rung-tail").Skip(1)
            .Select(t => int.Parse(t.QuerySelectorAll("b")[1].TextContent, System.Globalization.CultureInfo.InvariantCulture))
            .ToList();
        Assert.Equal(closeness.OrderDescending(), closeness);
        Assert.Contains("string 6", page.QuerySelector("[data-cell]")!.GetAttribute("aria-label"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Help_on_a_page_is_its_part_of_the_guide_with_a_drawing()
    {
        var visitor = await host.VisitDemoAsync();
        var guide = await visitor.PageAsync("/guide");
        var (song, student) = (await visitor.SongAsync("Salt on the Sill"), await visitor.StudentAsync("Wren"));
        foreach (var (address, part) in new[]
        {
            ("/", "today"), ("/songs/new", "the-chart"), ($"/songs/{song}/record", "the-record"),
            ($"/songs/{song}/ladder/{student}", "the-ladder"), ($"/songs/{song}/class", "several-students-on-one-song"),
            ($"/students/{student}/road", "the-road"), ($"/students/{student}/practice", "practice"), ("/sets", "sets")
        })
        {
            var help = (await visitor.PageAsync(address)).QuerySelector(".page-help")!;
            Assert.Equal($"/guide#{part}", help.QuerySelector("p:last-of-type a")!.GetAttribute("href"));
            Assert.NotNull(guide.QuerySelector($"h2#{part}"));
            Assert.NotNull(help.QuerySelector("svg title"));
            Assert.Contains(help.QuerySelector("p:not(:has(span))")!.TextContent, guide.QuerySelector("article")!.TextContent,
                StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Every_page_of_a_song_has_its_tabs_and_keeps_the_student_and_the_rung()
    {
        var visitor = await host.VisitDemoAsync();
        var page = await visitor.PageAsync(await visitor.LadderAsync("Salt on the Sill", "Wren"));
        var student =
            new Uri(new Uri("http://x"), page.QuerySelector("nav a[aria-current=page]")!.GetAttribute("href")!).Segments[4];
        var tabs = page.QuerySelectorAll("nav[aria-label=Song] > a")
            .Select(a => (a.TextContent, Address: a.GetAttribute("href")!)).ToList();
        Assert.Equal(["Songs", "Chart", "Record", "Ladder", "Places", "Changes", "Right hand", "Listen", "Stage", "Sheet",
                "Class", "Files"], tabs.Select(t => t.TextContent));
        // The stage is dark and has the whole screen; its title leads back.
        Assert.Equal(
            $"/songs/{page.QuerySelector("nav a[aria-current=page]")!.GetAttribute("href")!.Split('/')[2]}/ladder/{student}",
            (await visitor.PageAsync(tabs.Single(t => t.TextContent == "Stage").Address))
                    .QuerySelector("[data-leave]")!.GetAttribute("href"));
        foreach (var (name, address) in tabs.Skip(1).Where(t => t.TextContent != "Stage"))
        {
            var opened = await visitor.PageAsync(address);
            Assert.Equal(name,
                Assert.Single(opened.QuerySelectorAll("nav[aria-label=Song] > a[aria-current=page]")).TextContent);
            Assert.Equal("Salt on the Sill", Assert.Single(opened.QuerySelectorAll("h1")).TextContent);
            if (name is "Chart") continue;
            var back =
                opened.QuerySelectorAll("nav[aria-label=Song] > a").Single(a => a.TextContent == "Ladder").GetAttribute("href")!;
            Assert.EndsWith(student, back, StringComparison.Ordinal);
        }
        Assert.Contains("rung=", tabs[5].Address, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_number_opens_into_its_parts_and_a_chord_into_its_alternatives()
    {
        var visitor = await host.VisitDemoAsync();
        var ladder = await visitor.LadderAsync("What the Heron Saw", "Wren");
        var why = await visitor.PageAsync($"{ladder}?why=4");
        Assert.Contains("share of time", why.QuerySelector("#bench")!.TextContent, StringComparison.Ordinal);
        Assert.Matches(@"\d\.\d\d s", why.QuerySelector("#bench")!.TextContent);
        var chord = await visitor.PageAsync($"{ladder}?rung=5&chord=0");
        Assert.True(chord.QuerySelectorAll(".option").Length > 8);
        Assert.Contains(" mm", chord.QuerySelector("#bench .parts")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_shape_that_is_taken_stays_until_it_is_freed()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync("title: Slow Tide\nkey: C\ntempo: 80\n| C | F | G | C |");
        var ladder = $"/songs/{song}/ladder/{student}";
        var taken = await visitor.PostAsync($"{ladder}?rung=3&chord=1", $"{ladder}?handler=Take", ("rung", "3"), ("chord", "1"),
            ("capo", "0"), ("frets", "1,3,3,2,1,1"), ("fingers", "1,3,4,2,1,1"));
        Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        var page = await visitor.PageAsync(ladder);
        var kept = Assert.Single(page.QuerySelectorAll("[data-cell] .lock"));
        Assert.Contains("string 6 fret 1 finger 1", kept.Closest("a")!.GetAttribute("aria-label"), StringComparison.Ordinal);
        Assert.Contains("kept", kept.Closest("a")!.GetAttribute("aria-label"), StringComparison.Ordinal);
        // The chart changes elsewhere: the lock stays with its chord.
        var freed = await visitor.PostAsync($"{ladder}?rung=3&chord=1", $"{ladder}?handler=Free", ("rung", "3"), ("chord", "1"));
        Assert.Equal(HttpStatusCode.Redirect, freed.StatusCode);
        Assert.Empty((await visitor.PageAsync(ladder)).QuerySelectorAll("[data-cell] .lock"));
    }

    [Theory]
    [InlineData("1,3,3,2,1,1", "1,1,1,1,1,1")]
    [InlineData("1,3,3,2,1", "1,3,4,2,1")]
    [InlineData("1,3,3,2,1,99", "1,3,4,2,1,1")]
    [InlineData("rubbish", "")]
    [InlineData("1,3,3,2,1,1", "1,3,4,2,1,9")]
    public async Task A_shape_no_hand_can_do_is_refused_with_advice_and_nothing_changes(string frets, string fingers)
    {
        var visitor = await host.VisitDemoAsync();
        var ladder = await visitor.LadderAsync("Two Left Shoes", "Moss");
        var answer = await visitor.PostAsync(ladder, $"{ladder}?handler=Take", ("rung", "3"), ("chord", "1"), ("capo", "0"),
            ("frets", frets), ("fingers", fingers));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Contains("could not be taken", (await Visitor.Read(answer)).QuerySelector("[role=alert]")!.TextContent,
            StringComparison.Ordinal);
        Assert.Empty((await visitor.PageAsync(ladder)).QuerySelectorAll("[data-cell] .lock"));
    }

    [Fact]
    public async Task A_capo_is_looked_at_kept_and_freed()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync("title: Grey Coat\nkey: Eb\n| Eb | Ab | Bb | Eb |");
        var ladder = $"/songs/{song}/ladder/{student}";
        var preview = await visitor.PageAsync($"{ladder}?capo=6");
        Assert.Contains("capo 6", preview.QuerySelector(".sentence")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Keep this place", preview.Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("capo 6", (await visitor.PageAsync(ladder)).QuerySelector(".sentence")!.TextContent,
            StringComparison.Ordinal);
        await visitor.PostAsync(ladder, $"{ladder}?handler=Capo", ("capo", "6"));
        Assert.Contains("capo 6", (await visitor.PageAsync(ladder)).QuerySelector(".sentence")!.TextContent,
            StringComparison.Ordinal);
        await visitor.PostAsync(ladder, $"{ladder}?handler=Capo");
        Assert.DoesNotContain("capo 6", (await visitor.PageAsync(ladder)).QuerySelector(".sentence")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_chart_with_faults_is_saved_and_its_faults_are_shown()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Half Heard\n| C . Gzz . | F . . |\n");
        var page = await visitor.PageAsync($"/songs/{song}/chart");
        Assert.Equal(["Line 2, column 8"], page.QuerySelectorAll(".problem b").Select(b => b.TextContent));
        Assert.Equal("Gzz", page.QuerySelector(".unread")!.TextContent);
        Assert.Contains("| C . Gzz . | F . . |", page.QuerySelector("textarea")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_empty_chart_is_refused_and_two_tabs_never_overwrite_each_other_silently()
    {
        var visitor = await host.VisitNewStudioAsync();
        var empty = await visitor.PostAsync("/songs/new", "/songs/new", ("Text", "  "), ("Version", "0"));
        Assert.Contains("The chart is empty", (await Visitor.Read(empty)).QuerySelector("[role=alert]")!.TextContent,
            StringComparison.Ordinal);

        var song = await visitor.TakeDownAsync("title: Two Tabs\n| C |");
        var address = $"/songs/{song}/chart";
        string Version(AngleSharp.Html.Dom.IHtmlDocument page) =>
            page.QuerySelector("input[name=Version]")!.GetAttribute("value")!;
        var stale = Version(await visitor.PageAsync(address));
        await visitor.PostAsync(address, address, ("Text", "title: Two Tabs\n| C | G |"), ("Version", stale));
        var refused = await Visitor.Read(
            await visitor.PostAsync(address, address, ("Text", "title: Two Tabs\n| C | F |"), ("Version", stale)));
        Assert.Contains("saved somewhere else", refused.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("| C | F |", refused.QuerySelector("textarea")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("| C | G |", refused.QuerySelector("pre")!.TextContent, StringComparison.Ordinal);
        // Saving again, now knowingly, keeps one's own.
        var again =
            await visitor.PostAsync(address, address, ("Text", "title: Two Tabs\n| C | F |"), ("Version", Version(refused)));
        Assert.Equal(HttpStatusCode.Redirect, again.StatusCode);
        Assert.Contains("| C | F |", (await visitor.PageAsync(address)).QuerySelector("textarea")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task Changing_a_students_skill_changes_the_fits_at_once()
    {
        var visitor = await host.VisitNewStudioAsync();
        await visitor.TakeDownAsync("title: Low Bridge\nkey: F\ntempo: 90\n| F | Bb | C | F |");
        var student = await visitor.AddStudentAsync("Fern");
        var address = $"/students/{student}";
        async Task<string> Fit(string skill)
        {
            var page = await visitor.PageAsync(address);
            var version = page.QuerySelector("#student-version")!.GetAttribute("value")!;
            var fields = new[]
            {
                "Fingers", "Stretch", "ShortBarre", "FullBarre", "Muting", "ThumbSkill", "Changes", "RightHand"
            }.Select(f => ($"Form.{f}", skill))
                .Concat([("Form.Nickname", "Fern"), ("Form.HandId", "medium"), ("Form.GuitarId", "steel"),
                    ("Form.Barres", "Neutral"), ("Form.Version", version)]);
            var answer = await visitor.PostAsync(address, $"{address}?handler=Keep", [.. fields]);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            Assert.Equal("application/json", answer.Content.Headers.ContentType!.MediaType);
            // What that means is asked for row by row; the page alone builds no ladder.
            var fits = await visitor.PageAsync($"{address}?handler=Fits");
            var waiting = fits.QuerySelector("[hx-get]")!;
            Assert.Contains("grading", waiting.TextContent, StringComparison.Ordinal);
            return (await (await visitor.Client.GetAsync(waiting.GetAttribute("hx-get"))).Content.ReadAsStringAsync());
        }
        var weak = await Fit("8");
        var strong = await Fit("90");
        Assert.NotEqual(weak, strong);
        Assert.Contains("ready", strong, StringComparison.Ordinal);
        Assert.Contains("strained", weak, StringComparison.Ordinal);
        // Out of range is said, and nothing is saved.
        Assert.Contains("90", (await visitor.PageAsync(address)).QuerySelector("#skill-Fingers")!.GetAttribute("value"),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_sheet_has_shapes_strum_form_chart_and_the_caution()
    {
        var visitor = await host.VisitDemoAsync();
        var ladder = await visitor.LadderAsync("Clockmaker's Waltz", "Juniper");
        var page =
            await visitor.PageAsync(ladder.Replace("/ladder/", "/sheet/", StringComparison.Ordinal) + "?rung=2&paper=letter");
        Assert.NotNull(page.QuerySelector("link[href*='sheet-letter']"));
        Assert.True(page.QuerySelectorAll(".sheet-shape svg").Length >= 8);
        var text = page.QuerySelector(".sheet")!.TextContent;
        foreach (var part in new[]
        {
            "Right hand", "New in this version", "Form", "Chart", "see a doctor or a licensed therapist"
        })
            Assert.Contains(part, text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Erasing_a_student_leaves_nothing_of_her()
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync("title: Gone\n| C | F |");
        var ladder = $"/songs/{song}/ladder/{student}";
        await visitor.PageAsync($"/songs?handler=Row&song={song}");
        await visitor.PostAsync(ladder, $"{ladder}?handler=Capo", ("capo", "2"));
        await visitor.PostAsync($"/students/{student}/erase", $"/students/{student}/erase");
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Client.GetAsync($"/students/{student}")).StatusCode);
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        await using var command = new Npgsql.NpgsqlCommand($"select (select count(*) from locked_shapes where student_id = '{student}') + (select count(*) from ladder_choices where student_id = '{student}') + (select count(*) from students where id = '{student}')",
            connection);
        Assert.Equal(0L, await command.ExecuteScalarAsync());
    }

    [Fact]
    public async Task A_chart_is_kept_as_it_is_written_and_a_stale_version_is_refused_with_the_other_text()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Slow Tide\nkey: A\n| A | Dsus4 | E |");
        var page = $"/songs/{song}/chart";
        var version = (await visitor.PageAsync(page)).QuerySelector("input[name=Version]")!.GetAttribute("value")!;
        var kept = await visitor.PostAsync(page, $"{page}?handler=Keep", ("Text", "title: Slow Tide\n| A | D | E |"),
            ("Version", version));
        Assert.Equal(HttpStatusCode.OK, kept.StatusCode);
        var stale = await visitor.PostAsync(page, $"{page}?handler=Keep", ("Text", "title: Mine\n| C |"), ("Version", version));
        Assert.Equal(HttpStatusCode.Conflict, stale.StatusCode);
        Assert.Contains("| A | D | E |", await stale.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var empty = await visitor.PostAsync(page, $"{page}?handler=Keep", ("Text", " "), ("Version", version));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, empty.StatusCode);
        Assert.Contains("| A | D | E |", (await visitor.PageAsync(page)).QuerySelector("textarea")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_doubt_is_settled_without_script_and_the_record_is_said_in_shapes()
    {
        var visitor = await host.VisitNewStudioAsync();
        const string Text =
            "title: Slow Tide\nkey: Eb\ntuning: -1\nrecord capo: 2\ntake: live, capo 4, tuning -1\n| Eb | G# | Bb7 | Eb |";
        var song = await visitor.TakeDownAsync(Text);
        var page = $"/songs/{song}/chart";
        var document = await visitor.PageAsync(page);
        Assert.Contains("with the guitar a semitone down and capo 2 you play shapes in D",
            document.QuerySelector("#reading")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Live sounds in E♭; with the guitar a semitone down and capo 4 you play shapes in C",
            document.QuerySelector("#reading")!.TextContent, StringComparison.Ordinal);
        var button = document.QuerySelector("button[name=mend]")!;
        var (mend, action) = (button.GetAttribute("value")!, page + button.GetAttribute("formaction"));
        var mended = await Visitor.Read(await visitor.PostAsync(page, action, ("Text", Text), ("mend", mend), ("Version", "1")));
        Assert.Contains("| Eb | A♭ | Bb7 | Eb |", mended.QuerySelector("textarea")!.TextContent, StringComparison.Ordinal);
        var wrong =
            await Visitor.Read(await visitor.PostAsync(page, action, ("Text", "| C |"), ("mend", mend), ("Version", "1")));
        Assert.Contains("not there any more", wrong.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_change_on_the_drawn_chart_works_without_script_and_what_cannot_be_is_said_with_the_text_kept()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Low Bridge\n[Verse]\n| F | Bb |");
        var page = $"/songs/{song}/chart";
        async Task<(string Text, string Said)> Act(params (string, string)[] fields)
        {
            var answer = await visitor.PostAsync(page, $"{page}?handler=Act",
                [("Text", "title: Low Bridge\r\n[Verse]\r\n| F | Bb |"), .. fields]);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            var shown = new AngleSharp.Html.Parser.HtmlParser().ParseDocument(await answer.Content.ReadAsStringAsync());
            return (shown.QuerySelector("textarea")!.TextContent.Trim().Replace("\r", "", StringComparison.Ordinal),
                shown.QuerySelector("[role=alert] p")?.TextContent ?? "");
        }
        Assert.Equal("title: Low Bridge\n[Verse]\n| F | Gm C7 |",
            (await Act(("act", "write"), ("section", "0"), ("bar", "1"), ("content", "gm c7"))).Text);
        Assert.EndsWith("[Chorus]\n| F |", (await Act(("act", "section"), ("name", "Chorus"))).Text, StringComparison.Ordinal);
        foreach (var (fields, why) in new ((string, string)[], string)[]
        {
            ([("act", "write"), ("section", "9"), ("bar", "0"), ("content", "C")], "not in the chart"),
            ([("act", "write"), ("section", "0"), ("bar", "-4"), ("content", "C")], "not in the chart"),
            ([("act", "write"), ("section", "0"), ("bar", "0"), ("content", "[C]<script>")], "chords and dots"),
            ([("act", "meter"), ("meter", "4/5")], "not a meter"),
            ([("act", "split"), ("slot", "7")], "not in the chart"),
            ([("act", "leave-section"), ("section", "0")], "only section"),
            ([("act", "form"), ("part", "3"), ("to", "0")], "cannot go there"),
            ([("act", "dance")], "load it again"),
        })
        {
            var (text, said) = await Act(fields);
            Assert.Contains(why, said, StringComparison.Ordinal);
            Assert.Equal("title: Low Bridge\n[Verse]\n| F | Bb |", text);
        }
    }
}
