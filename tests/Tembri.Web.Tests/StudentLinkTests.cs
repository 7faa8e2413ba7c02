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

/// <summary>Links that open a student's page, and what phones hand in.</summary>
public sealed class StudentLinkTests(TembriHost host) : PracticeStudio(host)
{
    [Fact]
    public async Task A_link_opens_one_students_page_without_an_account_and_says_nothing_to_others()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit();
        var answer = await phone.Client.GetAsync(link);
        Assert.Equal(("no-referrer", "noindex, nofollow, noarchive"),
            (answer.Headers.GetValues("Referrer-Policy").Single(), answer.Headers.GetValues("X-Robots-Tag").Single()));
        var page = await Visitor.Read(answer);
        Assert.Contains("Hello Fern", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Low Bridge", page.Body.TextContent, StringComparison.Ordinal);
        // Nothing leads from there into the studio, and nothing of it opens by the link.
        Assert.DoesNotContain(page.QuerySelectorAll("a[href], form[action]"),
            e => (e.GetAttribute("href") ?? e.GetAttribute("action"))!.StartsWith("/s", StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.Redirect, (await phone.Client.GetAsync($"/students/{student}")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await phone.Client.GetAsync($"{link}/score/{song}?rung=1")).StatusCode);
        // A song that is not worked on, and one of another studio, have no sound here.
        var other = await visitor.TakeDownAsync("title: Not Mine Yet\n| C | F |");
        foreach (var foreign in new[] { other, await (await Host.VisitDemoAsync()).SongAsync("Salt on the Sill") })
            Assert.Equal(HttpStatusCode.NotFound, (await phone.Client.GetAsync($"{link}/score/{foreign}?rung=1")).StatusCode);
        // Wrong, cut, changed: closed alike, and in words.
        foreach (var wrong in new[] { "/my/AAAAAAAAAAAAAAAAAAAAAA", link[..^1], $"{link}x", "/my/'--", "/my/%F0%9F%8E%B8" })
        {
            var closed = await phone.Client.GetAsync(wrong);
            Assert.Equal(HttpStatusCode.NotFound, closed.StatusCode);
            Assert.Contains("This link is closed", await closed.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
        // What is stored does not open it.
        await using var scope = Host.Services.CreateAsyncScope();
        var stored = await scope.ServiceProvider.GetRequiredService<TembriDbContext>().StudentLinks.SingleAsync(
            l => l.StudentId == Guid.Parse(student));
        Assert.DoesNotContain(link.Split('/')[^1], JsonSerializer.Serialize(stored), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_link_ends_when_a_new_one_is_made_when_it_is_ended_and_by_itself()
    {
        var (visitor, _, student) = await OpenAsync();
        var phone = Host.Visit();
        async Task<HttpStatusCode> Opens(string link) => (await phone.Client.GetAsync(link)).StatusCode;
        var first = await LinkAsync(visitor, student);
        var second = await LinkAsync(visitor, student);
        Assert.Equal((HttpStatusCode.NotFound, HttpStatusCode.OK), (await Opens(first), await Opens(second)));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Revoke");
        Assert.Equal(HttpStatusCode.NotFound, await Opens(second));
        Assert.Equal(HttpStatusCode.NotFound,
            (await phone.Client.PostAsJsonAsync($"{second}/entries", new { entries = new[] { Count(30) } })).StatusCode);
        var third = await LinkAsync(visitor, student, "30");
        await using (var scope = Host.Services.CreateAsyncScope())
            await scope.ServiceProvider.GetRequiredService<TembriDbContext>().StudentLinks.Where(
                    l => l.StudentId == Guid.Parse(student))
                .ExecuteUpdateAsync(set => set.SetProperty(l => l.EndsAt, DateTimeOffset.UtcNow.AddMinutes(-1)));
        Assert.Equal(HttpStatusCode.NotFound, await Opens(third));
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Link", ("days", "99999"))).StatusCode);
        // With the student goes the link.
        var last = await LinkAsync(visitor, student);
        await visitor.PostAsync($"/students/{student}/erase", $"/students/{student}/erase");
        Assert.Equal(HttpStatusCode.NotFound, await Opens(last));
    }

    [Fact]
    public async Task What_phones_hand_in_is_kept_once_whatever_they_send_twice_or_at_once()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var (one, two) = (Host.Visit().Client, Host.Visit().Client);
        var entries = Enumerable.Range(0, 20).Select(i => Count(20 + i)).ToArray();
        // Two phones with the same twenty and ten of their own each, at the same moment, and everything once more because an
        // answer was lost.
        var (mine, theirs) =
            (Enumerable.Range(0, 10).Select(_ => Count(30)).ToArray(), Enumerable.Range(0, 10).Select(_ => Count(31)).ToArray());
        for (var again = 0; again < 2; again++)
            await Task.WhenAll(HandInAsync(one, link, null, [.. entries, .. mine]),
                HandInAsync(two, link, null, [.. theirs, .. entries]));
        Assert.Equal(40, await EntriesAsync(visitor, student));
        // What was learnt was learnt from all forty, whoever came last.
        Assert.Contains("40 entries", (await visitor.PageAsync($"/students/{student}")).Body!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_cannot_be_is_refused_with_a_word_and_the_rest_is_kept()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        var answer = await HandInAsync(phone, link, null, Count(31), Count(900), Count(31, at: DateTimeOffset.UtcNow.AddDays(3)),
            Count(31, seconds: 3), new { key = Guid.NewGuid(), kind = "changes", count = 3, seconds = 60 },
            new { key = Guid.NewGuid(), kind = "dance" },
            new { key = Guid.NewGuid(), kind = "time", minutes = 15, felt = 2, hurt = false },
            new { key = Guid.NewGuid(), kind = "time", minutes = 100000 },
            new { key = Guid.NewGuid(), kind = "shape", to = new { frets = C }, tries = 5, count = 9 },
            new { key = Guid.NewGuid(), kind = "note", text = new string('x', 600) });
        Assert.Equal([true, false, false, false, false, false, true, false, false, false], Kept(answer));
        var faults = answer.GetProperty("outcomes").EnumerateArray().Select(o => o.GetProperty("fault").GetString()).ToList();
        Assert.Contains("200 a minute", faults[1], StringComparison.Ordinal);
        Assert.Contains("ahead", faults[2], StringComparison.Ordinal);
        Assert.Equal(2, await EntriesAsync(visitor, student));
        // One that is no entry at all does not keep the others out.
        var (first, last) = (Guid.NewGuid(), Guid.NewGuid());
        var mixed = await HandInAsync(phone, link, null, Count(30, first), new { key = last, kind = "changes", count = "many" },
            7, Count(32));
        Assert.Equal([true, false, false, true], Kept(mixed));
        Assert.Equal(last, mixed.GetProperty("outcomes")[1].GetProperty("key").GetGuid());
        Assert.Equal(4, await EntriesAsync(visitor, student));
        foreach (var junk in new[]
        {
            "", "[]", "{\"entries\":[null]}", "{\"entries\":7}", "{\"entries\":[{\"at\":\"yesterday\"}]}",
            "{\"sentAt\":\"0001-01-01T00:00:00Z\",\"entries\":[{\"at\":\"9999-12-31T23:59:59Z\",\"kind\":\"note\",\"text\":\"x\"}]}"
        })
            Assert.True((int)(await phone.PostAsync($"{link}/entries",
                        new StringContent(junk, Encoding.UTF8, "application/json"))).StatusCode is 200 or 400, junk);
        Assert.Equal(4, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task A_phone_whose_clock_is_wrong_dates_its_entries_by_the_servers()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        // Two years fast: practised an hour ago by its own clock.
        var theirs = DateTimeOffset.UtcNow.AddYears(2);
        var answer = await HandInAsync(phone, link, theirs, Count(31, at: theirs.AddHours(-1)));
        Assert.Equal([true], Kept(answer));
        Assert.True(answer.GetProperty("clockOffSeconds").GetInt32() > 60_000_000);
        var table = await visitor.Client.GetStringAsync($"{Log(student)}?handler=Table");
        Assert.Contains(
            DateTimeOffset.UtcNow.AddHours(-1).ToString("yyyy-MM-ddTHH:", System.Globalization.CultureInfo.InvariantCulture),
            table, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_student_takes_back_only_what_is_the_students_own()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        await visitor.PostAsync(Log(student), Log(student), ("Form.Kind", "note"), ("Form.Text", "a word of the teacher's"));
        await HandInAsync(phone, link, null, Count(31));
        var ids = (await visitor.PageAsync(Log(student))).QuerySelectorAll("form[action*=TakeBack] input[name=entry]")
            .Select(i => i.GetAttribute("value")!).ToList();
        var answers = new List<HttpStatusCode>();
        foreach (var id in ids) answers.Add((await phone.PostAsync($"{link}/entries/{id}/take-back", null)).StatusCode);
        Assert.Equal([HttpStatusCode.NoContent, HttpStatusCode.NotFound], answers.Order());
        Assert.Equal(1, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task Without_script_the_page_is_read_and_the_day_handed_in_by_a_form()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit();
        Assert.Equal(HttpStatusCode.OK,
            (await phone.PostAsync(link, link, ("minutes", "12"), ("felt", "3"), ("hurt", "true"))).StatusCode);
        var log = (await visitor.PageAsync(Log(student))).Body!.TextContent;
        Assert.Contains("12 minutes, felt some work, something hurt", log, StringComparison.Ordinal);
        Assert.Contains("by the student", log, StringComparison.Ordinal);
        // A form from elsewhere has no token and is refused; what cannot be is said.
        Assert.Equal(HttpStatusCode.BadRequest,
            (await Host.Visit().Client.PostAsync(link, new FormUrlEncodedContent([new("minutes", "12")]))).StatusCode);
        Assert.Contains("Minutes are 0 to 600",
            await (await phone.PostAsync(link, link, ("minutes", "9999"))).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);
        Assert.Equal(1, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task The_page_can_be_installed_and_kept_and_holds_no_more_than_the_nickname_of_the_student()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        var manifest = await phone.GetAsync($"{link}/app.webmanifest");
        Assert.Equal("application/manifest+json", manifest.Content.Headers.ContentType!.MediaType);
        var said = await manifest.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal((link, link, "standalone"),
            (said.GetProperty("start_url").GetString(), said.GetProperty("scope").GetString(),
                said.GetProperty("display").GetString()));
        Assert.Equal(HttpStatusCode.OK,
            (await phone.GetAsync(said.GetProperty("icons")[0].GetProperty("src").GetString()!)).StatusCode);
        var worker = await phone.GetAsync("/my/worker.js");
        Assert.Equal("text/javascript", worker.Content.Headers.ContentType!.MediaType);
        Assert.Contains("manifest-src 'self'",
            (await phone.GetAsync(link)).Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        var page = await (await phone.GetAsync(link)).Content.ReadAsStringAsync();
        foreach (var private_ in new[] { "Second Studio", "@studio.example", "skill", "teacher's note" })
            Assert.DoesNotContain(private_, page, StringComparison.OrdinalIgnoreCase);
        // The sounds are those of the rung that is worked on; a rung there is none of has none.
        var score = await phone.GetFromJsonAsync<JsonElement>($"{link}/score/{song}?rung=2");
        Assert.Equal("rung 2", score.GetProperty("versions").GetProperty("rung").GetProperty("title").GetString());
        Assert.Equal(HttpStatusCode.NotFound, (await phone.GetAsync($"{link}/score/{song}?rung=77")).StatusCode);
        // What every step hands in is taken as it is.
        var data =
            JsonDocument.Parse(System.Net.WebUtility.HtmlDecode(page.Split("data-practice=\"")[1].Split('"')[0])).RootElement;
        Assert.Equal(7, data.GetProperty("days").GetArrayLength());
        var handed = new List<object>();
        foreach (var view in data.GetProperty("views").EnumerateObject()
            .Where(v => v.Value.GetProperty("kind").GetString() is { Length: > 0 }))
        {
            var entry = view.Value.EnumerateObject().Where(p => p.Name is not ("best" or "section"))
                .ToDictionary(p => p.Name, p => (object)p.Value);
            entry["key"] = Guid.NewGuid();
            if (view.Value.GetProperty("kind").GetString() == "changes") (entry["count"], entry["seconds"]) = (20, 60);
            if (view.Value.GetProperty("kind").GetString() == "shape") (entry["count"], entry["tries"]) = (3, 5);
            handed.Add(entry);
        }
        Assert.True(handed.Count >= 3, $"{handed.Count} steps hand in something");
        Assert.All(Kept(await HandInAsync(phone, link, null, [.. handed])), Assert.True);
        Assert.Equal(handed.Count, await EntriesAsync(visitor, student));
    }
}
