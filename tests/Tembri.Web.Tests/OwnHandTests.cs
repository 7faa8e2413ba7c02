using System.Net;
using AngleSharp.Html.Dom;

namespace Tembri.Web.Tests;

/// <summary>The teacher's own hand on the server: steps and back, wishes of every width, versions by hand, what a lesson leaves
/// behind.</summary>
public sealed class OwnHandTests(TembriHost host)
{
    internal const string Song =
        "title: Low Bridge\nkey: C\ntempo: 90\nform: Verse, Chorus\n\n[Verse]\n| C | F | G7 | C "
            + "|\n\n[Chorus]\n| Am | F | G7 | C |";

    internal static async Task<(Visitor Visitor, string Ladder, string Song, string Student)> OpenAsync(TembriHost host)
    {
        var visitor = await host.VisitNewStudioAsync();
        var student = await visitor.AddStudentAsync("Fern");
        var song = await visitor.TakeDownAsync(Song);
        return (visitor, $"/songs/{song}/ladder/{student}", song, student);
    }

    internal static Task<HttpResponseMessage> Step(Visitor visitor, string ladder, string handler,
        params (string, string)[] fields) =>
        visitor.PostAsync(ladder, $"{ladder}?handler={handler}", fields);

    internal static readonly (string, string)[] SmallF =
        [("rung", "3"), ("chord", "1"), ("capo", "0"), ("frets", "-1,-1,3,2,1,1"), ("fingers", "0,0,3,2,1,1")];

    /// <summary>What a rung plays for a chord, in words.</summary>
    internal static string Cell(IHtmlDocument page, int rung, int chord) =>
        page.QuerySelector($"[data-cell='{5 - rung}-{chord}']")!.GetAttribute("aria-label")!;

    internal static string Wishes(IHtmlDocument page) =>
        string.Join(" | ", page.QuerySelectorAll(".wish-line span").Select(s => s.TextContent));

    [Fact]
    public async Task Steps_are_taken_back_and_done_again_one_by_one_and_any_state_can_be_brought_back()
    {
        var (visitor, ladder, _, _) = await OpenAsync(host);
        var untouched = Cell(await visitor.PageAsync(ladder), 3, 1);
        await Step(visitor, ladder, "Take", [.. SmallF, ("scope", "Up")]);
        await Step(visitor, ladder, "Instead", ("rung", "3"), ("chord", "2"), ("symbol", "G"), ("scope", "Ladder"),
            ("reason", "simpler"), ("overrule", "true"));
        await Step(visitor, ladder, "RungOut", ("rung", "4"));
        var all = await visitor.PageAsync(ladder);
        Assert.Equal(["5", "3", "2", "1"], all.QuerySelectorAll(".rung-number").Select(n => n.TextContent));
        Assert.Equal("G for G7: simpler | rung 4 left out", Wishes(all));
        // The rung, and the record above it, keep the shape; rung 4 would as well.
        Assert.Equal(2, all.QuerySelectorAll(".lock").Count(l => l.TextContent == "kept"));
        await Step(visitor, ladder, "Undo");
        Assert.Equal(5, (await visitor.PageAsync(ladder)).QuerySelectorAll(".rung-number").Length);
        Assert.Equal(3, (await visitor.PageAsync(ladder)).QuerySelectorAll(".lock").Count(l => l.TextContent == "kept"));
        await Step(visitor, ladder, "Undo");
        Assert.Equal("", Wishes(await visitor.PageAsync(ladder)));
        await Step(visitor, ladder, "Redo");
        Assert.Contains("G for G7", Wishes(await visitor.PageAsync(ladder)), StringComparison.Ordinal);
        await Step(visitor, ladder, "Undo");
        await Step(visitor, ladder, "Undo");
        Assert.Equal(untouched, Cell(await visitor.PageAsync(ladder), 3, 1));
        Assert.Contains("There is no step to take back", await (await Step(visitor, ladder, "Undo")).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);
        // Another step from here; the ones that were taken back are still in the history, and come back whole.
        await Step(visitor, ladder, "Capo", ("capo", "3"));
        var steps = await visitor.PageAsync($"{ladder}/steps");
        Assert.Equal(4, steps.QuerySelectorAll("tr form").Length);
        Assert.Equal(3, steps.QuerySelectorAll("td").Count(t => t.TextContent.Contains("taken back", StringComparison.Ordinal)));
        var form = steps.QuerySelectorAll("form")
            .First(f => f.QuerySelector("button")!.GetAttribute("aria-label") == "Bring back: rung 4 left out");
        await visitor.PostAsync($"{ladder}/steps", $"{ladder}/steps",
            [.. form.QuerySelectorAll("input[type=hidden]").Where(i => i.GetAttribute("name") is "number" or "revision")
                .Select(i => (i.GetAttribute("name")!, i.GetAttribute("value")!))]);
        Assert.Equal("G for G7: simpler | rung 4 left out", Wishes(await visitor.PageAsync(ladder)));
    }

    [Fact]
    public async Task What_is_taken_for_the_student_or_the_studio_holds_in_other_songs_and_is_taken_back_with_its_step()
    {
        var (visitor, ladder, _, student) = await OpenAsync(host);
        var other = $"/songs/{await visitor.TakeDownAsync("title: Other\nkey: C\n| F | C | F | G |")}/ladder/{student}";
        await Step(visitor, other, "Capo", ("capo", "0"));
        var usual = Cell(await visitor.PageAsync(other), 3, 0);
        foreach (var scope in new[] { "Student", "Studio" })
        {
            await Step(visitor, ladder, "Take", [.. SmallF, ("scope", scope)]);
            Assert.Contains("string 4 fret 3", Cell(await visitor.PageAsync(other), 3, 0), StringComparison.Ordinal);
            Assert.Contains("kept", Cell(await visitor.PageAsync(other), 3, 0), StringComparison.Ordinal);
            Assert.Contains("F as xx3211", Wishes(await visitor.PageAsync(other)), StringComparison.Ordinal);
            Assert.Contains("Free it in every song",
                (await visitor.PageAsync($"{ladder}?rung=3&chord=1")).QuerySelector("#bench")!.TextContent,
                StringComparison.Ordinal);
            await Step(visitor, ladder, "Undo");
            Assert.Equal(usual, Cell(await visitor.PageAsync(other), 3, 0));
        }
        // Forbidden for the studio, and taken back where it is seen.
        await Step(visitor, ladder, "Forbid", ("rung", "3"), ("chord", "1"), ("frets", "-1,-1,3,2,1,1"), ("scope", "Studio"));
        var grips = await visitor.PageAsync("/studio/grips");
        Assert.Contains("never xx3211", Wishes(grips), StringComparison.Ordinal);
        await visitor.PostAsync("/studio/grips", "/studio/grips?handler=Withdraw",
            ("wish", grips.QuerySelector(".wish-line input[name=wish]")!.GetAttribute("value")!),
            ("version", grips.QuerySelector("input[name=version]")!.GetAttribute("value")!));
        Assert.Equal("", Wishes(await visitor.PageAsync("/studio/grips")));
    }

    [Fact]
    public async Task Of_steps_sent_at_once_one_is_made_and_the_others_are_told_and_the_same_one_twice_counts_once()
    {
        var (visitor, ladder, _, _) = await OpenAsync(host);
        var token =
            (await visitor.PageAsync(ladder)).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        async Task<HttpStatusCode> Send(string handler, Guid step, int revision, params (string Key, string Value)[] fields)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"{ladder}?handler={handler}")
            {
                Content = new FormUrlEncodedContent([new("__RequestVerificationToken", token), new("revision", $"{revision}"),
                    new("step", $"{step}"), .. fields.Select(f => new KeyValuePair<string, string>(f.Key, f.Value))]),
            };
            request.Headers.Add("X-Tembri", "script");
            using var answer = await visitor.Client.SendAsync(request);
            return answer.StatusCode;
        }
        // Eight tabs that all know the untouched ladder.
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(i => Send("Capo", Guid.NewGuid(), 0, ("capo", $"{i}"))));
        Assert.Single(answers, a => a == HttpStatusCode.OK);
        Assert.All(answers.Where(a => a != HttpStatusCode.OK), a => Assert.Equal(HttpStatusCode.Conflict, a));
        Assert.Equal(2,
            (await visitor.PageAsync($"{ladder}/steps")).QuerySelectorAll("td b, td + td")
                .Count(t => t.TextContent.Contains("capo", StringComparison.Ordinal)));
        // One step sent again and again, as by a saver whose answers are lost.
        var twice = Guid.NewGuid();
        for (var i = 0; i < 3; i++) Assert.Equal(HttpStatusCode.OK, await Send("RungOut", twice, 1, ("rung", "4")));
        Assert.Equal("rung 4 left out", Wishes(await visitor.PageAsync(ladder)));
        var undo = Guid.NewGuid();
        for (var i = 0; i < 3; i++) Assert.Equal(HttpStatusCode.OK, await Send("Undo", undo, 2));
        Assert.Equal("", Wishes(await visitor.PageAsync(ladder)));
        Assert.Equal("3", (await visitor.PageAsync(ladder)).QuerySelector("input[name=revision]")!.GetAttribute("value"));
    }

    [Fact]
    public async Task What_was_forbidden_before_stays_forbidden_when_the_same_is_taken_back()
    {
        var (visitor, ladder, song, student) = await OpenAsync(host);
        (string, string)[] ban = [("rung", "3"), ("chord", "1"), ("frets", "-1,-1,3,2,1,1"), ("scope", "Student")];
        await Step(visitor, ladder, "Forbid", ban);
        var other = $"/songs/{await visitor.TakeDownAsync("title: Other\nkey: C\n| F | C | F | G |")}/ladder/{student}";
        // Said again on another ladder it is no step there: it is so already, and there is nothing to take back.
        await Step(visitor, other, "Forbid", ban);
        Assert.Contains("There is no step to take back", await (await Step(visitor, other, "Undo")).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);
        Assert.Equal("never xx3211",
            Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll(".wish-line span")).TextContent.Split(" (")[0]);
        await Step(visitor, ladder, "Undo");
        Assert.Equal("", Wishes(await visitor.PageAsync(ladder)));
        Assert.NotEmpty(song);
    }

    [Fact]
    public async Task A_shape_is_taken_for_a_chord_set_apart_in_a_section_of_a_long_name()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (student, name) =
            (await visitor.AddStudentAsync("Fern"), string.Join(" ", Enumerable.Repeat("Slow lantern verse @ 2", 7)));
        var song = await visitor.TakeDownAsync(
            $"title: Long Names\nkey: C\n\n[{name}]\n| C | F | G7 | C |\n\n[Chorus]\n| F | C | G7 | C |");
        var ladder = $"/songs/{song}/ladder/{student}";
        await Step(visitor, ladder, "Capo", ("capo", "0"));
        var section = (await visitor.PageAsync($"{ladder}?rung=3&chord=1")).QuerySelectorAll("[data-apart] option")
            .Select(o => o.GetAttribute("value")!).First(v => v.StartsWith("Slow", StringComparison.Ordinal));
        await Step(visitor, ladder, "Apart", ("rung", "3"), ("chord", "1"), ("apart", section));
        var chord = (await visitor.PageAsync(ladder)).QuerySelectorAll(".ladder thead th").Skip(1).ToList()
            .FindIndex(t => t.TextContent.Contains("Slow lantern", StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.Redirect,
            (await Step(visitor, ladder, "Take", [.. SmallF.Where(f => f.Item1 != "chord"), ("chord", $"{chord}")])).StatusCode);
        Assert.Equal($"2-{chord}",
            Assert.Single((await visitor.PageAsync(ladder)).QuerySelectorAll("[data-cell]:has(.lock)"))
                .GetAttribute("data-cell"));
    }

    [Fact]
    public async Task The_chart_speaks_first_and_the_teacher_has_the_last_word_which_stands_on_paper()
    {
        var (visitor, ladder, song, student) = await OpenAsync(host);
        (string, string)[] sus =
            [("rung", "3"), ("chord", "2"), ("symbol", "Gsus4"), ("scope", "Rung"), ("reason", "it hangs there")];
        var warned = await (await Step(visitor, ladder, "Instead", sus)).Content.ReadAsStringAsync();
        Assert.Contains("does not have its leading tone", warned, StringComparison.Ordinal);
        Assert.Contains("Play it anyway", warned, StringComparison.Ordinal);
        Assert.Equal("", Wishes(await visitor.PageAsync(ladder)));
        await Step(visitor, ladder, "Instead", [.. sus, ("overrule", "true")]);
        Assert.Contains("Gsus4 for G7: it hangs there.",
            (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=3")).QuerySelector(".sheet")!.TextContent,
            StringComparison.Ordinal);
        Assert.DoesNotContain("Gsus4",
            (await visitor.PageAsync($"/songs/{song}/sheet/{student}?rung=2")).QuerySelector(".sheet")!.TextContent,
            StringComparison.Ordinal);
        // In one section only: a column of its own.
        await Step(visitor, ladder, "Instead", ("rung", "3"), ("chord", "1"), ("symbol", "Dm"), ("scope", "Ladder"),
            ("apart", "Chorus"));
        var page = await visitor.PageAsync(ladder);
        Assert.Contains("in Chorus", page.QuerySelector(".ladder thead")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Dm for F of Chorus", Wishes(page), StringComparison.Ordinal);
        foreach (var (symbol, says) in new[] { ("", "Type the chord"), ("Hx7", "is no chord symbol") })
            Assert.Contains(says,
                WebUtility.HtmlDecode(await (await Step(visitor, ladder, "Instead", ("rung", "3"), ("chord", "0"),
                    ("symbol", symbol), ("scope", "Rung"))).Content.ReadAsStringAsync()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_shape_is_drawn_by_presses_and_the_bench_says_what_it_is()
    {
        var (visitor, ladder, _, _) = await OpenAsync(host);
        async Task<string> Said(string frets) =>
            (await visitor.PageAsync($"{ladder}?rung=3&chord=0&draw={frets}")).QuerySelector(".board-said")!.TextContent;
        Assert.Contains("100 % like the C", await Said("-1,3,2,0,1,0"), StringComparison.Ordinal);
        Assert.Contains("Cmaj7",
            (await Said("-1,3,2,0,0,0")).Replace("\n", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal),
            StringComparison.Ordinal);
        Assert.Matches("Out of reach: finger 1 to finger 4 would be \\d+ mm", await Said("1,9,-1,-1,-1,-1"));
        Assert.Contains("more places to press than fingers", await Said("5,4,3,2,1,5"), StringComparison.Ordinal);
        Assert.Contains("No string sounds yet", await Said("-1,-1,-1,-1,-1,-1"), StringComparison.Ordinal);
        // Every place leads to the shape with one string changed; nonsense begins with what is played.
        var board = (await visitor.PageAsync($"{ladder}?rung=3&chord=0&draw=-1,3,2,0,1,0"))
            .QuerySelectorAll(".board a[data-key], .board svg a").Select(a => a.GetAttribute("href")!).ToList();
        Assert.Contains(board, a => a.Contains("draw=-1,3,2,0,1,3", StringComparison.Ordinal));
        Assert.Contains(board, a => a.Contains("draw=-1,3,2,0,-1,0", StringComparison.Ordinal));
        Assert.Contains("like the C", await Said("rubbish"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await visitor.Client.GetAsync($"{ladder}?rung=9&chord=99&draw=1,2,3")).StatusCode);
    }

    [Theory]
    [InlineData("rung=3&chord=1&draw=24,24,24,24,24,24&from=99999999")]
    [InlineData("rung=2147483647&chord=-1&draw=now")]
    [InlineData("why=3&between=NaN")]
    [InlineData("why=3&between=1e308")]
    [InlineData("rung=NaN&chord=1e99&capo=1e9")]
    public async Task An_address_that_nobody_would_write_is_answered_all_the_same(string query)
    {
        var (visitor, ladder, song, student) = await OpenAsync(host);
        foreach (var address in new[]
        {
            $"{ladder}?{query}", $"/songs/{song}/changes/{student}?{query}", $"/songs/{song}/stage/{student}?tempo=NaN&{query}",
            $"{ladder}/compare?left=1e9&{query}", $"{ladder}/hand?from=1e9&{query}"
        })
            Assert.True((await visitor.Client.GetAsync(address)).StatusCode is HttpStatusCode.OK or HttpStatusCode.BadRequest
                    or HttpStatusCode.NotFound, address);
        Assert.True((await Step(visitor, ladder, "Between", ("load", "NaN"))).StatusCode is HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task Rungs_have_limits_of_their_own_here_and_in_the_studio()
    {
        var (visitor, ladder, _, _) = await OpenAsync(host);
        async Task<(string, string)[]> Fields(string page)
        {
            var form =
                (await visitor.PageAsync(page)).QuerySelectorAll("form").First(f => f.QuerySelector(".rung-fields") is not null);
            return [.. form.QuerySelectorAll("input, select").OfType<IHtmlElement>()
                .Where(e => e.GetAttribute("name") is { } n && n != "__RequestVerificationToken"
                    && (e is not IHtmlInputElement { Type: "checkbox" } box || box.IsChecked))
                .Select(
                    e => (e.GetAttribute("name")!, (e is IHtmlSelectElement s ? s.Value : ((IHtmlInputElement)e).Value) ?? ""))];
        }
        static (string, string)[] With((string, string)[] fields, string rung, string name, string value)
        {
            var at = fields.Single(
                f => f.Item1.EndsWith(".Number", StringComparison.Ordinal) && f.Item2 == rung).Item1[..^"Number".Length];
            return [.. fields.Where(f => f.Item1 != at + name), (at + name, value)];
        }
        Assert.Contains("keeps out F 133211", (await visitor.PageAsync($"{ladder}/rungs")).Body!.TextContent,
            StringComparison.Ordinal);
        // Sent as it is, nothing changes.
        await visitor.PostAsync($"{ladder}/rungs", $"{ladder}/rungs", await Fields($"{ladder}/rungs"));
        Assert.Equal("", Wishes(await visitor.PageAsync(ladder)));
        await visitor.PostAsync($"{ladder}/rungs", $"{ladder}/rungs",
            With(With(await Fields($"{ladder}/rungs"), "3", "Name", "Lantern hand"), "3", "RightHand", "1"));
        Assert.Contains("Lantern hand", (await visitor.PageAsync(ladder)).QuerySelector(".ladder")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("is 1 to 4",
            WebUtility.HtmlDecode(await (await visitor.PostAsync($"{ladder}/rungs", $"{ladder}/rungs",
                    With(await Fields($"{ladder}/rungs"), "3", "Fingers", "7"))).Content.ReadAsStringAsync())
                .Replace("are 1", "is 1", StringComparison.Ordinal), StringComparison.Ordinal);
        // The studio's rungs are under it.
        await visitor.PostAsync("/studio/rungs", "/studio/rungs",
            [.. With(await Fields("/studio/rungs"), "4", "LeftOut", "true")]);
        var page = await visitor.PageAsync(ladder);
        Assert.Equal(["5", "3", "2", "1"], page.QuerySelectorAll(".rung-number").Select(n => n.TextContent));
        Assert.Contains("Lantern hand", page.QuerySelector(".ladder")!.TextContent, StringComparison.Ordinal);
        // A rung in between, from a point of the curve.
        await Step(visitor, ladder, "Between", ("load", "24"));
        Assert.Contains(page.QuerySelectorAll(".rung-number").Length + 1,
            new[] { (await visitor.PageAsync(ladder)).QuerySelectorAll(".rung-number").Length });
    }
}
