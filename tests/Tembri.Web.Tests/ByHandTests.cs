using System.Net;
using AngleSharp.Html.Dom;
using static Tembri.Web.Tests.OwnHandTests;

namespace Tembri.Web.Tests;

/// <summary>Versions by hand, what a lesson leaves behind, changes made quicker, grips of one's own.</summary>
public sealed class ByHandTests(TembriHost host)
{
    [Fact]
    public async Task A_version_by_hand_is_scored_kept_handed_out_and_removed()
    {
        var (visitor, ladder, song, student) = await OpenAsync(host);
        var hand = $"{ladder}/hand";
        (string, string)[] form = [("Form.Name", "My way"), ("Form.Capo", "0"), ("Form.RightHand", "2"),
            ("Form.Shapes", "F xx3211\nnonsense"),
            ("Form.Text", "form: Verse, Chorus\n[Verse]\n| C | F | G | C |\n[Chorus]\n| Am | F | G | C |")];
        var scored = await (await visitor.PostAsync(hand, $"{hand}?handler=Score", form)).Content.ReadAsStringAsync();
        Assert.Contains("By load it", scored, StringComparison.Ordinal);
        Assert.Contains("Shape 2: write a chord and its frets", WebUtility.HtmlDecode(scored), StringComparison.Ordinal);
        Assert.DoesNotContain("versions by hand", (await visitor.PageAsync(ladder)).Body!.TextContent, StringComparison.Ordinal);
        var kept = await visitor.PostAsync(hand, hand, form);
        var address = kept.Headers.Location!.ToString();
        var row = (await visitor.PageAsync(ladder)).QuerySelectorAll("table.parts tr")
            .Single(r => r.TextContent.Contains("My way", StringComparison.Ordinal));
        var id = address.Split('?')[0].Split('/')[^1];
        foreach (var page in new[]
        {
            $"/songs/{song}/sheet/{student}?hand={id}", $"/songs/{song}/stage/{student}?hand={id}",
            $"/songs/{song}/listen/{student}?hand={id}"
        })
            Assert.Contains("own", (await visitor.PageAsync(page)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("\"strokes\"",
            await visitor.Client.GetStringAsync($"/songs/{song}/listen/{student}?handler=Score&hand={id}"),
            StringComparison.Ordinal);
        // A second tab that knows the older state is refused, and nothing of either is lost.
        var version = (await visitor.PageAsync(address)).QuerySelector("input[name='Form.Version']")!.GetAttribute("value")!;
        (string, string)[] later =
            [.. form.Where(f => f.Item1 != "Form.Name"), ("Form.Name", "Second"), ("Form.Version", version)];
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync(hand, $"{hand}/{id}", later)).StatusCode);
        var refused = await visitor.PostAsync(hand, $"{hand}/{id}", [.. form, ("Form.Version", version)]);
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        Assert.Contains("My way", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains("Second", (await visitor.PageAsync(ladder)).Body!.TextContent, StringComparison.Ordinal);
        await visitor.PostAsync(hand, $"{hand}/{id}?handler=Remove");
        Assert.DoesNotContain("Second", (await visitor.PageAsync(ladder)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("no chord yet",
            await (await visitor.PostAsync(hand, $"{hand}?handler=Score", ("Form.Text", "only words"), ("Form.Capo", "0"),
                ("Form.RightHand", "3"))).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.NotNull(row);
    }

    [Fact]
    public async Task What_a_lesson_leaves_lands_on_the_student_once()
    {
        var (visitor, _, song, student) = await OpenAsync(host);
        var stage = $"/songs/{song}/stage/{student}";
        var step = Guid.NewGuid().ToString();
        (string, string)[] count = [("kind", "Changes"), ("rung", "3"), ("text", "C to F"), ("tempo", "72"),
            ("fromFrets", "-1,3,2,0,1,0"), ("toFrets", "-1,-1,3,2,1,1"), ("count", "31"), ("seconds", "60"), ("step", step)];
        for (var i = 0; i < 2; i++)
            Assert.True((await visitor.PostAsync(stage, $"{stage}?handler=Entry", count)).StatusCode is HttpStatusCode.Redirect);
        await visitor.PostAsync(stage, $"{stage}?handler=Entry", ("kind", "Note"), ("rung", "3"),
            ("text", "thumb loosened, go on with the bridge"));
        var page = await visitor.PageAsync($"/students/{student}/log");
        Assert.Equal(2, page.QuerySelectorAll("form[action*=TakeBack]").Length);
        Assert.Contains("C to F: 31 clean in 60 s", page.Body!.TextContent, StringComparison.Ordinal);
        foreach (var (name, value) in new[]
        {
            ("count", "9999"), ("seconds", "1"), ("toFrets", "none"), ("text", " "), ("kind", "Song"), ("tempo", "5000")
        })
            Assert.Equal(HttpStatusCode.UnprocessableEntity,
                (await visitor.PostAsync(stage, $"{stage}?handler=Entry",
                    [.. count.Where(f => f.Item1 != name && f.Item1 != "step"), (name, value)])).StatusCode);
        await visitor.PostAsync($"/students/{student}/log", $"/students/{student}/log?handler=TakeBack",
            ("entry", page.QuerySelector("input[name=entry]")!.GetAttribute("value")!));
        Assert.Single((await visitor.PageAsync($"/students/{student}/log")).QuerySelectorAll("form[action*=TakeBack]"));
    }

    [Fact]
    public async Task A_change_is_opened_made_quicker_by_one_press_and_songs_and_students_are_found_by_letters()
    {
        var (visitor, ladder, song, student) = await OpenAsync(host);
        var changes = $"/songs/{song}/changes/{student}";
        var map = await visitor.PageAsync($"{changes}?rung=5");
        var address = (map.QuerySelectorAll(".change-map a")
            .First(a => a.GetAttribute("aria-label")!.Contains(" F,", StringComparison.Ordinal)
                || a.GetAttribute("aria-label")!.Contains("to F", StringComparison.Ordinal)).GetAttribute("href")!);
        var open = await visitor.PageAsync(address);
        Assert.Contains("Needs", open.QuerySelector("#change")!.TextContent, StringComparison.Ordinal);
        var strum =
            open.QuerySelectorAll(".quicker").First(q => q.TextContent.Contains("Drop strokes", StringComparison.Ordinal));
        await visitor.PostAsync(address, strum.GetAttribute("action")!,
            [.. strum.QuerySelectorAll("input[type=hidden]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
                .Select(i => (i.GetAttribute("name")!, i.GetAttribute("value")!))]);
        Assert.Contains("Verse: downs and ups on rung 5", Wishes(await visitor.PageAsync(ladder)), StringComparison.Ordinal);
        Assert.Contains("Low Bridge", await visitor.Client.GetStringAsync("/find?q=bridge"), StringComparison.Ordinal);
        Assert.Contains("Fern", await visitor.Client.GetStringAsync("/find?q=fe"), StringComparison.Ordinal);
        foreach (var nothing in new[] { "%25", "_", "zz%27;--", "" })
            Assert.Equal("[]", await visitor.Client.GetStringAsync($"/find?q={nothing}"));
        Assert.Contains("rung 2", (await visitor.PageAsync($"{ladder}/compare?left=2&right=5")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("\"rung\"", await visitor.Client.GetStringAsync($"{ladder}/compare?handler=Score&left=2&right=5"),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task Ones_own_grips_are_chosen_on_a_page_and_followed()
    {
        var (visitor, ladder, _, _) = await OpenAsync(host);
        var page = await visitor.PageAsync("/studio/grips?chord=C");
        var form = page.QuerySelectorAll(".option")[3];
        var shape = string.Concat(
            form.QuerySelector("input[name=frets]")!.GetAttribute("value")!.Split(',').Select(f => f == "-1" ? "x" : f));
        await visitor.PostAsync("/studio/grips", "/studio/grips?handler=Grip",
            [.. form.QuerySelectorAll("input[type=hidden]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
                .Select(i => (i.GetAttribute("name")!, i.GetAttribute("value")!))]);
        Assert.Contains("yours", (await visitor.PageAsync("/studio/grips?chord=C")).QuerySelector(".option.taken")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains($"C as {shape}, unless a change pays clearly", Wishes(await visitor.PageAsync(ladder)),
            StringComparison.Ordinal);
        // The version that was on the page is old now.
        var stale = page.QuerySelector("input[name=version]")!.GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.Conflict,
            (await visitor.PostAsync("/studio/grips", "/studio/grips?handler=Thumb", ("none", "true"),
                ("version", stale))).StatusCode);
        var now = (await visitor.PageAsync("/studio/grips")).QuerySelector("input[name=version]")!.GetAttribute("value")!;
        Assert.Contains("is no chord symbol",
            WebUtility.HtmlDecode(await (await visitor.PostAsync("/studio/grips", "/studio/grips?handler=StandIn",
                ("from", "rubbish"), ("plays", "C"), ("version", now))).Content.ReadAsStringAsync()), StringComparison.Ordinal);
        await visitor.PostAsync("/studio/grips", "/studio/grips?handler=StandIn", ("from", "G7"), ("plays", "Bdim"),
            ("version", now));
        Assert.Contains("Bdim may stand for G7", Wishes(await visitor.PageAsync("/studio/grips")), StringComparison.Ordinal);
    }
}
