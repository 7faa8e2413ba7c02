using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

/// <summary>Plans, steps, pain, the first meeting, guitars, the teacher's day.</summary>
public sealed class PracticeTests(TembriHost host) : PracticeStudio(host)
{
    [Fact]
    public async Task Pain_stops_barres_until_the_teacher_clears_it_and_is_never_explained()
    {
        var (visitor, song, student) = await OpenAsync();
        // In A shapes the song has an F sharp minor on its way from chord to chord; another place could spare her that.
        await visitor.PostAsync($"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?handler=Capo",
            ("capo", "3"));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Step", ("song", song), ("rung", "5"));
        var link = await LinkAsync(visitor, student);
        bool HasBarreMinutes(AngleSharp.Html.Dom.IHtmlDocument page) =>
            page.QuerySelectorAll(".plan-day h3")
                .Any(h => h.TextContent.Contains("of barres and stretches", StringComparison.Ordinal));
        Assert.True(HasBarreMinutes(await visitor.PageAsync(Practice(student))));
        await HandInAsync(Host.Visit().Client, link, null,
            new { key = Guid.NewGuid(), kind = "time", minutes = 10, felt = 5, hurt = true });
        var hurt = await visitor.PageAsync(Practice(student));
        Assert.False(HasBarreMinutes(hurt));
        Assert.Contains("see a doctor or a licensed therapist", hurt.QuerySelector(".note")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("something hurts", hurt.QuerySelector(".worked")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Something hurt. No barres", (await Host.Visit().PageAsync(link)).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("care",
            (await visitor.PageAsync($"/?handler=Row&id={student}")).QuerySelector(".today-due, body")!.TextContent,
            StringComparison.Ordinal);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Clear");
        Assert.True(HasBarreMinutes(await visitor.PageAsync(Practice(student))));
    }

    /// <summary>Who hurts comes before all who were only silent, however many they are.</summary>
    [Fact]
    public async Task Who_hurts_is_first_on_the_page_of_the_day()
    {
        var visitor = await Host.VisitNewStudioAsync();
        var longAgo = DateTimeOffset.UtcNow.AddDays(-40);
        var silent = new List<string>();
        for (var i = 1; i <= 7; i++)
        {
            silent.Add(await visitor.AddStudentAsync($"Ash {i}"));
            await HandInAsync(Host.Visit().Client, await LinkAsync(visitor, silent[^1]), null, Count(20, at: longAgo));
        }
        async Task<string> HurtAsync(string name, DateTimeOffset at)
        {
            var student = await visitor.AddStudentAsync(name);
            await HandInAsync(Host.Visit().Client, await LinkAsync(visitor, student), null,
                new { key = Guid.NewGuid(), at, kind = "time", minutes = 10, felt = 5, hurt = true });
            return student;
        }
        var cleared = await HurtAsync("Birch", longAgo);
        await visitor.PostAsync(Practice(cleared), $"{Practice(cleared)}?handler=Clear");
        var hurting = await HurtAsync("Yarrow", longAgo.AddDays(-1));
        var rows = (await visitor.PageAsync("/")).QuerySelectorAll(".today tr").Select(r => r.Id).ToList();
        Assert.Equal(6, rows.Count);
        Assert.Equal($"today-{hurting}", rows[0]);
        // Among those who were only silent it does not count what hurt before.
        Assert.Equal($"today-{silent[0]}", rows[1]);
    }

    [Fact]
    public async Task A_song_is_taken_up_stepped_and_set_aside_with_its_way_kept()
    {
        var (visitor, song, student) = await OpenAsync();
        foreach (var rung in new[] { "3", "2", "2" })
            await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Step", ("song", song), ("rung", rung),
                ("why", "tried"));
        var worked = (await visitor.PageAsync(Practice(student))).QuerySelector(".worked")!;
        Assert.Contains("rung 3 from", worked.TextContent, StringComparison.Ordinal);
        Assert.Equal("2", worked.QuerySelector("select[name=rung] option[selected]")!.GetAttribute("value"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Step", ("song", song),
                ("rung", "88"))).StatusCode);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Aside", ("song", song));
        Assert.Empty((await visitor.PageAsync(Practice(student))).QuerySelectorAll(".worked"));
        // A song that is taken out of the studio leaves what was practised on it.
        await visitor.PostAsync(Log(student), Log(student), ("Form.Kind", "clean"), ("Form.Text", "Verse"), ("Form.Song", song),
            ("Form.Tempo", "80"), ("Form.Rung", "2"));
        await visitor.PostAsync($"/songs/{song}/remove", $"/songs/{song}/remove");
        Assert.Equal(1, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task A_plan_is_changed_mailed_and_taken_out_as_a_calendar()
    {
        var (visitor, song, student) = await OpenAsync();
        var page = await visitor.PageAsync(Practice(student));
        Assert.Equal(7, page.QuerySelectorAll(".plan-day").Length);
        var key = page.QuerySelector(".plan-acts input[name=key]")!.GetAttribute("value")!;
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "LeaveOut"), ("key", key));
        var without = await visitor.PageAsync(Practice(student));
        Assert.DoesNotContain(without.QuerySelectorAll(".plan-acts input[name=key]"), i => i.GetAttribute("value") == key);
        Assert.Contains("taken out", without.QuerySelector(".plan-changed")!.TextContent, StringComparison.Ordinal);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "PutBack"), ("key", key));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Own", ("text", "hum the tune; twice"),
            ("minutes", "2"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Own", ("text", ""),
                ("minutes", "2"))).StatusCode);
        var calendar =
            Ical.Net.Calendar.Load(await visitor.Client.GetStringAsync($"{Practice(student)}?handler=Calendar&days=14"))!;
        Assert.Equal(14, calendar.Events.Count);
        Assert.All(calendar.Events, e => Assert.Contains("hum the tune; twice", e.Description, StringComparison.Ordinal));
        Assert.Equal(14, calendar.Events.Select(e => e.Start!.Date).Distinct().Count());
        Assert.Equal(HttpStatusCode.BadRequest,
            (await visitor.Client.GetAsync($"{Practice(student)}?handler=Calendar&days=9999")).StatusCode);
        // A mail goes to the stand-in, with a link that opens; the address is kept nowhere.
        var mailed = await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Mail", ("to", "fern@home.example"),
            ("withLink", "true"));
        Assert.Contains("on its way", await mailed.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        string? body = null;
        for (var i = 0; i < 100 && body is null; i++)
        {
            await Task.Delay(50, TestContext.Current.CancellationToken);
            await using var scope = Host.Services.CreateAsyncScope();
            body = (await scope.ServiceProvider.GetRequiredService<TembriDbContext>().StandInMails.FirstOrDefaultAsync(
                m => m.To == "fern@home.example", TestContext.Current.CancellationToken))?.Body;
        }
        Assert.Contains("hum the tune", body, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK,
            (await Host.Visit().Client.GetAsync(new Uri(
                body!.Split('\n').Single(l => l.Contains("/my/", StringComparison.Ordinal)).Trim()).AbsolutePath)).StatusCode);
        foreach (var bad in new[] { "nobody", "a@b.example, c@d.example", "x\r\nBcc: y@z.example" })
            Assert.Equal(HttpStatusCode.UnprocessableEntity,
                (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Mail", ("to", bad))).StatusCode);
        // A goal says whether it fits.
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Goal", ("minutes", "15"), ("age", "Child"),
                ("goalSong", song), ("goalRung", "5"),
                ("goalOn", DateTime.Today.AddDays(35).ToString("yyyy-MM-dd")))).StatusCode);
        Assert.Matches("on rung 5 in 35 days:\\s+about \\d+ minutes",
            (await visitor.PageAsync(Practice(student))).Body!.TextContent);
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Goal", ("minutes", "15"), ("age", "Child"),
                ("goalSong", song), ("goalOn", "2020-01-01"))).StatusCode);
    }

    [Fact]
    public async Task A_first_meeting_asks_eight_times_and_what_it_learns_stands_in_the_log()
    {
        var (visitor, _, student) = await OpenAsync();
        var meeting = $"/students/{student}/meeting";
        var page = await visitor.PageAsync(meeting);
        for (var i = 0; i < 8; i++)
        {
            var form = page.QuerySelector("form[data-meeting]")!;
            string Hidden(string name) => form.QuerySelector($"input[name={name}]")?.GetAttribute("value") ?? "";
            List<(string, string)> fields =
                [("done", Hidden("done")), ("what", Hidden("what")), i == 7 ? ("pass", "true") : ("result", "1")];
            if (Hidden("seconds").Length > 0) fields.Add(("seconds", Hidden("seconds")));
            var answer = await visitor.PostAsync(meeting, meeting, [.. fields]);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            page = await Visitor.Read(answer);
        }
        Assert.Contains("enough to begin with", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(7, await EntriesAsync(visitor, student));
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(meeting, $"{meeting}?handler=Hand", ("spread", "30"))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync(meeting, $"{meeting}?handler=Hand", ("spread", "101"))).StatusCode);
        Assert.Contains("Measured: 101 mm", (await visitor.PageAsync(meeting)).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_guitar_of_the_studio_is_measured_and_played()
    {
        var (visitor, _, student) = await OpenAsync();
        (string, string)[] guitar = [("Name", "the wide one"), ("Preset", "classical"), ("Scale", "640"), ("Nut", "54"),
            ("Action", "3.5"), ("RequestKey", Guid.NewGuid().ToString())];
        for (var i = 0; i < 2; i++)
            Assert.Equal(HttpStatusCode.Redirect,
                (await visitor.PostAsync("/studio/guitars", "/studio/guitars", guitar)).StatusCode);
        var row = Assert.Single((await visitor.PageAsync("/studio/guitars")).QuerySelectorAll("table tr td:first-child"));
        Assert.Equal("the wide one", row.TextContent);
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync("/studio/guitars", "/studio/guitars", ("Name", "harp"), ("Preset", "classical"),
                ("Scale", "6400"), ("Nut", "54"), ("Action", "3.5"))).StatusCode);
        var value = (await visitor.PageAsync($"/students/{student}")).QuerySelectorAll("select[name='Form.GuitarId'] option")
            .Single(o => o.TextContent == "the wide one").GetAttribute("value")!;
        (string, string)[] Form(string guitarId) =>
            [("Form.Nickname", "Fern"), ("Form.HandId", "medium"), ("Form.GuitarId", guitarId), ("Form.Barres", "Neutral")];
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync($"/students/{student}", $"/students/{student}", Form(value))).StatusCode);
        Assert.Contains("640 mm scale, 54 mm at the nut",
            (await visitor.PageAsync($"/students/{student}/meeting")).Body!.TextContent, StringComparison.Ordinal);
        // While somebody plays it, it stays.
        var id = value["own:".Length..];
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync("/studio/guitars", $"/studio/guitars/{id}?handler=Remove")).StatusCode);
        // A guitar of another studio is none of hers.
        var stranger = await Host.VisitNewStudioAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.Client.GetAsync($"/studio/guitars/{id}")).StatusCode);
        var hers = await stranger.AddStudentAsync("Reed");
        Assert.Equal(HttpStatusCode.OK,
            (await stranger.PostAsync($"/students/{hers}", $"/students/{hers}", Form(value))).StatusCode);
        Assert.Contains("Choose one of the guitars",
            await (await stranger.PostAsync($"/students/{hers}", $"/students/{hers}", Form(value))).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_teachers_day_says_what_is_due_for_whom()
    {
        var demo = await Host.VisitDemoAsync();
        // Thursday is the fullest day of the demo: four lessons of five students, two of them together.
        var day = DateOnly.FromDateTime(DateTime.Today).AddDays((4 - (int)DateTime.Today.DayOfWeek + 7) % 7);
        var page = await demo.PageAsync($"/?day={day:yyyy-MM-dd}");
        Assert.Equal(4, page.QuerySelectorAll("#today .today-lesson").Length);
        Assert.Equal(5, page.QuerySelectorAll("#today tr[id]").Length);
        Assert.Contains("Class sheet of", page.QuerySelector(".today-class a")!.TextContent, StringComparison.Ordinal);
        async Task<string> Due(string name) =>
            (await Visitor.Read(
                await demo.Client.GetAsync($"/?handler=Row&id={await demo.StudentAsync(name)}"))).Body!.TextContent;
        Assert.Contains("care", await Due("Otis"), StringComparison.Ordinal);
        Assert.Contains("silent", await Due("Sable"), StringComparison.Ordinal);
        Assert.Matches("Salt on the Sill: rung \\d", await Due("Wren"));
    }

    [Fact]
    public async Task Practice_moves_the_fits_and_leaves_the_shapes_until_the_teacher_takes_the_numbers_over()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var ladder = $"/songs/{song}/ladder/{student}";
        async Task<(string Shapes, string Fits)> Seen()
        {
            var page = await visitor.PageAsync(ladder);
            return (string.Join("|", page.QuerySelectorAll("[data-cell] svg").Select(d => d.InnerHtml)),
                string.Join("|", page.QuerySelectorAll(".rung-tail").Select(t => t.TextContent)));
        }
        var before = await Seen();
        await HandInAsync(Host.Visit().Client, link, null, [.. Enumerable.Range(0, 12).Select(i => Count(70 + i))]);
        var after = await Seen();
        Assert.Equal(before.Shapes, after.Shapes);
        Assert.NotEqual(before.Fits, after.Fits);
        // Her own numbers count again when she says so, and what practice says when she takes it over.
        var form = await visitor.PageAsync($"/students/{student}");
        List<(string, string)> Fields(bool uses) =>
        [
            .. form.QuerySelectorAll("#student input[type=range]")
                .Select(i => (i.GetAttribute("name")!, i.GetAttribute("value")!)),
            ("Form.Nickname", "Fern"), ("Form.HandId", "medium"), ("Form.GuitarId", "steel"), ("Form.Barres", "Neutral"),
            ("Form.UsesPractice", uses ? "true" : "false"),
        ];
        await visitor.PostAsync($"/students/{student}", $"/students/{student}", [.. Fields(false)]);
        Assert.Equal(before.Fits, (await Seen()).Fits);
        await visitor.PostAsync($"/students/{student}", $"/students/{student}", [.. Fields(true)]);
        Assert.Equal(after.Fits, (await Seen()).Fits);
        await visitor.PostAsync($"/students/{student}", $"/students/{student}?handler=TakeLearnt");
        var taken = await visitor.PageAsync($"/students/{student}");
        Assert.True(int.Parse(taken.QuerySelector("#skill-Changes")!.GetAttribute("value")!) > 40);
        // From now on the log begins anew for the skills; what was counted is still known, and the plan still knows its days.
        Assert.Contains("What is believed now", (await visitor.PageAsync(Log(student))).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(12, await EntriesAsync(visitor, student));
        Assert.Empty((await visitor.PageAsync(Log(student))).QuerySelectorAll(".log-why"));
    }

    [Fact]
    public async Task A_plan_moved_by_the_teacher_is_the_one_the_student_sees()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        async Task<(string Stamp, List<string> Today, List<string> Tomorrow)> Days()
        {
            var page = await Host.Visit().PageAsync(link);
            var data = JsonDocument.Parse(page.QuerySelector("[data-practice]")!.GetAttribute("data-practice")!).RootElement;
            List<string> Keys(int day) =>
                [.. data.GetProperty("days")[day].GetProperty("items").EnumerateArray()
                    .Select(i => i.GetProperty("key").GetString()!)];
            return (data.GetProperty("stamp").GetString()!, Keys(0), Keys(1));
        }
        var plain = await Days();
        var key = plain.Today.First(k => k != "warm-up");
        var (today, tomorrow) = (DateTime.Today, DateTime.Today.AddDays(1));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "Move"), ("key", key),
            ("from", today.ToString("yyyy-MM-dd")), ("to", tomorrow.ToString("yyyy-MM-dd")));
        var moved = await Days();
        Assert.DoesNotContain(key, moved.Today);
        Assert.Contains(key, moved.Tomorrow);
        // A page that was begun sees that something was changed.
        Assert.NotEqual(plain.Stamp, moved.Stamp);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "MoveBack"), ("key", key));
        Assert.Equal(plain.Today, (await Days()).Today);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "Fix"), ("key", key));
        Assert.Contains("fixed", (await visitor.PageAsync(Practice(student))).QuerySelector(".plan-items")!.TextContent,
            StringComparison.Ordinal);
        foreach (var act in new[] { "Unfix", "First", "NotFirst", "LeaveOut", "PutBack" })
            Assert.Equal(HttpStatusCode.Redirect,
                (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", act),
                    ("key", key))).StatusCode);
        Assert.Equal(plain.Today, (await Days()).Today);
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "Explode"),
                ("key", key))).StatusCode);
    }
}
