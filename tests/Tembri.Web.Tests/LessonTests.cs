using System.Net;
using System.Net.Http.Headers;
using System.Text;

namespace Tembri.Web.Tests;

/// <summary>Lessons, the day, and calendars in and out.</summary>
public sealed class LessonTests(TembriHost host)
{
    private static readonly DateOnly Today = DateOnly.FromDateTime(DateTime.Today);

    private static string Iso(DateOnly day) => day.ToString("yyyy-MM-dd");

    private static Task<HttpResponseMessage> Add(Visitor visitor, DateOnly day, int weeks, params string[] students) =>
        visitor.PostAsync("/lessons", "/lessons?handler=Add",
        [("day", Iso(day)), ("at", "15:30"), ("minutes", "45"), ("everyWeeks", $"{weeks}"), ("key", $"{Guid.NewGuid()}"),
            .. students.Select(s => ("with", s))]);

    private static async Task<HttpResponseMessage> Bring(Visitor visitor, string calendar)
    {
        var token = (await visitor.PageAsync("/lessons")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute(
            "value")!;
        using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" } };
        var file = new ByteArrayContent(Encoding.UTF8.GetBytes(calendar));
        file.Headers.ContentType = new MediaTypeHeaderValue("text/calendar");
        form.Add(file, "file", "lessons.ics");
        return await visitor.Client.PostAsync("/lessons?handler=Bring", form);
    }

    [Fact]
    public async Task A_lesson_stands_on_its_days_is_moved_is_away_and_free_days_take_it_out()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (fern, reed) = (await visitor.AddStudentAsync("Fern"), await visitor.AddStudentAsync("Reed"));
        Assert.Equal(HttpStatusCode.Redirect, (await Add(visitor, Today, 1, fern, reed)).StatusCode);
        async Task<string> On(DateOnly day) =>
            (await visitor.PageAsync($"/?day={Iso(day)}")).QuerySelector("#today")!.TextContent;
        Assert.Contains("together", await On(Today), StringComparison.Ordinal);
        Assert.Contains("15:30", await On(Today.AddDays(14)), StringComparison.Ordinal);
        Assert.DoesNotContain("15:30", await On(Today.AddDays(1)), StringComparison.Ordinal);
        var lesson = (await visitor.PageAsync("/lessons")).QuerySelector("input[name=lesson]")!.GetAttribute("value")!;
        Task<HttpResponseMessage> Change(string act, DateOnly on, DateOnly? to = null) =>
            visitor.PostAsync("/lessons", "/lessons?handler=Change", ("lesson", lesson), ("on", Iso(on)), ("act", act),
                ("to", to is { } day ? Iso(day) : ""), ("at", "17:00"));
        Assert.Equal(HttpStatusCode.Redirect, (await Change("move", Today.AddDays(7), Today.AddDays(9))).StatusCode);
        Assert.DoesNotContain("15:30", await On(Today.AddDays(7)), StringComparison.Ordinal);
        Assert.Contains("17:00", await On(Today.AddDays(9)), StringComparison.Ordinal);
        await Change("back", Today.AddDays(7));
        Assert.Contains("15:30", await On(Today.AddDays(7)), StringComparison.Ordinal);
        await Change("away", Today.AddDays(14));
        Assert.Contains("away", await On(Today.AddDays(14)), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.BadRequest, (await Change("away", Today.AddDays(1))).StatusCode);
        await visitor.PostAsync("/lessons", "/lessons?handler=Free", ("from", Iso(Today.AddDays(20))),
            ("to", Iso(Today.AddDays(22))), ("name", "kite week"));
        Assert.Contains("kite week", await On(Today.AddDays(21)), StringComparison.Ordinal);
        // Ended, what was stays and what would come goes.
        await visitor.PostAsync("/lessons", "/lessons?handler=Remove", ("lesson", lesson));
        Assert.DoesNotContain("15:30", await On(Today.AddDays(28)), StringComparison.Ordinal);
        // Another studio's students have no lesson here, and its lessons cannot be changed.
        var stranger = await host.VisitNewStudioAsync();
        Assert.Equal(HttpStatusCode.NotFound,
            (await stranger.PostAsync("/lessons", "/lessons?handler=Change", ("lesson", lesson), ("on", Iso(Today)),
                ("act", "away"))).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await Add(stranger, Today, 1, fern)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound,
            (await stranger.PostAsync("/lessons", "/lessons?handler=Remove", ("lesson", lesson))).StatusCode);
        foreach (var (minutes, weeks, who) in new[] { ("2", "1", fern), ("30", "99", fern), ("500", "1", fern) })
            Assert.Equal(HttpStatusCode.BadRequest,
                (await visitor.PostAsync("/lessons", "/lessons?handler=Add", ("day", Iso(Today)), ("at", "15:30"),
                    ("minutes", minutes), ("everyWeeks", weeks), ("with", who))).StatusCode);
    }

    [Fact]
    public async Task A_calendar_taken_out_brings_the_same_lessons_into_another_studio_once()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (fern, reed) = (await visitor.AddStudentAsync("Fern"), await visitor.AddStudentAsync("Reed"));
        await Add(visitor, Today, 1, fern);
        await Add(visitor, Today.AddDays(2), 2, fern, reed);
        await Add(visitor, Today.AddDays(3), 0, reed);
        var weekly = (await visitor.PageAsync("/lessons")).QuerySelectorAll(".list tr")
                .Single(r => r.TextContent.Contains("s at 15:30", StringComparison.Ordinal))
                .QuerySelector("input[name=lesson]")!.GetAttribute("value")!;
        await visitor.PostAsync("/lessons", "/lessons?handler=Change", ("lesson", weekly), ("on", Iso(Today.AddDays(7))),
            ("act", "move"), ("to", Iso(Today.AddDays(8))), ("at", "16:00"));
        await visitor.PostAsync("/lessons", "/lessons?handler=Change", ("lesson", weekly), ("on", Iso(Today.AddDays(14))),
            ("act", "away"));
        var calendar = await visitor.Client.GetStringAsync("/lessons?handler=Ics");
        Assert.StartsWith("BEGIN:VCALENDAR", calendar, StringComparison.Ordinal);
        var other = await host.VisitNewStudioAsync();
        await other.AddStudentAsync("Fern");
        await other.AddStudentAsync("Reed");
        async Task<string> Weeks(Visitor who) =>
            System.Text.RegularExpressions.Regex.Replace(
                (await who.PageAsync("/lessons")).QuerySelector("[aria-labelledby=weeks]")!.TextContent, @"\s+", " ");
        var brought = await Visitor.Read(await Bring(other, calendar));
        Assert.Equal(3,
            brought.QuerySelectorAll("[role=status] li").Count(l => l.TextContent.EndsWith("taken.", StringComparison.Ordinal)));
        Assert.Equal((await Weeks(visitor)).Replace(" (away)", "", StringComparison.Ordinal),
            (await Weeks(other)).Replace(" (away)", "", StringComparison.Ordinal));
        Assert.Equal(3,
            (await Visitor.Read(await Bring(other, calendar))).QuerySelectorAll("[role=status] li")
                .Count(l => l.TextContent.EndsWith("there already.", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData("nonsense", "no calendar")]
    [InlineData("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nEND:VCALENDAR", "no events")]
    [InlineData("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:20261201T150000\r\nDTEND:20261201T153000\r\nSUMMARY:Dentist\r\nEND:VEVENT\r\nEND:VCALENDAR",
        "names no student")]
    [InlineData("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20261201\r\nSUMMARY:Fern\r\nEND:VEVENT\r\nEND:VCALENDAR",
        "no time of day")]
    [InlineData("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:20261201T150000\r\nDTEND:20261201T153000\r\nRRULE:FREQ=DAILY\r\nSUMMARY:Fern\r\nEND:VEVENT\r\nEND:VCALENDAR",
        "by hand")]
    [InlineData("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:20261201T150000\r\nRRULE:FREQ=WEEKLY;COUNT=99999999\r\nSUMMARY:Fern\r\nEND:VEVENT\r\nEND:VCALENDAR",
        "")]
    [InlineData("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:99999999T999999\r\nSUMMARY:Fern", "")]
    public async Task What_a_calendar_cannot_give_is_said(string calendar, string said)
    {
        var visitor = await host.VisitNewStudioAsync();
        await visitor.AddStudentAsync("Fern");
        var answer = await Bring(visitor, calendar);
        Assert.True(answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.BadRequest, $"{answer.StatusCode}");
        Assert.Contains(said, (await Visitor.Read(answer)).Body!.TextContent, StringComparison.Ordinal);
    }
}
