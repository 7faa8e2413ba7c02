using System.Net;
using static Tembri.Web.Tests.LadderPagesTests;

namespace Tembri.Web.Tests;

/// <summary>What surrounds a ladder: the student it is for, its places and tunings, what is handed out and heard.</summary>
public sealed class LadderSurroundingsTests(TembriHost host)
{
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
        Assert.Equal(score.GetProperty("length").GetDouble(), bars.Sum(b => b.GetProperty("length").GetDouble()), 1e-6);
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
