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

/// <summary>Students: links, logs, plans, steps, what is kept.</summary>
public sealed class PracticeTests(TembriHost host)
{
    private const string Chart = "title: Low Bridge\nkey: C\ntempo: 84\nform: Verse, Chorus\n\n[Verse]\n| C | Am | F | G |\n\n[Chorus]\n| F | G | C | C |";
    private static readonly int?[] C = [-1, 3, 2, 0, 1, 0], G = [3, 2, 0, 0, 0, 3];

    private async Task<(Visitor Visitor, string Song, string Student)> OpenAsync()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (song, student) = (await visitor.TakeDownAsync(Chart), await visitor.AddStudentAsync("Fern"));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Work", ("song", song));
        return (visitor, song, student);
    }

    private static string Practice(string student) => $"/students/{student}/practice";
    private static string Log(string student) => $"/students/{student}/log";

    private async Task<string> LinkAsync(Visitor visitor, string student, string days = "90")
    {
        var page = await Visitor.Read(await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Link", ("days", days)));
        return new Uri(page.QuerySelector("input[readonly]")!.GetAttribute("value")!).AbsolutePath;
    }

    private static object Count(int count, Guid? key = null, DateTimeOffset? at = null, int seconds = 60) => new
    {
        key = key ?? Guid.NewGuid(), at = at ?? DateTimeOffset.UtcNow, kind = "changes", text = "C to G", from = new { frets = C }, to = new { frets = G }, count, seconds,
    };

    private static async Task<JsonElement> HandInAsync(HttpClient phone, string link, DateTimeOffset? sentAt, params object[] entries)
    {
        var answer = await phone.PostAsJsonAsync($"{link}/entries", new { sentAt = sentAt ?? DateTimeOffset.UtcNow, entries });
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    private static List<bool> Kept(JsonElement answer) => [.. answer.GetProperty("outcomes").EnumerateArray().Select(o => o.GetProperty("kept").GetBoolean())];

    private async Task<int> EntriesAsync(Visitor visitor, string student) => (await visitor.PageAsync(Log(student))).QuerySelectorAll("form[action*=TakeBack]").Length;

    [Fact]
    public async Task A_link_opens_one_students_page_without_an_account_and_says_nothing_to_others()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = host.Visit();
        var answer = await phone.Client.GetAsync(link);
        Assert.Equal(("no-referrer", "noindex, nofollow, noarchive"), (answer.Headers.GetValues("Referrer-Policy").Single(), answer.Headers.GetValues("X-Robots-Tag").Single()));
        var page = await Visitor.Read(answer);
        Assert.Contains("Hello Fern", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Low Bridge", page.Body.TextContent, StringComparison.Ordinal);
        // Nothing leads from there into the studio, and nothing of it opens by the link.
        Assert.DoesNotContain(page.QuerySelectorAll("a[href], form[action]"), e => (e.GetAttribute("href") ?? e.GetAttribute("action"))!.StartsWith("/s", StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.Redirect, (await phone.Client.GetAsync($"/students/{student}")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await phone.Client.GetAsync($"{link}/score/{song}?rung=1")).StatusCode);
        // A song that is not worked on, and one of another studio, have no sound here.
        var other = await visitor.TakeDownAsync("title: Not Mine Yet\n| C | F |");
        foreach (var foreign in new[] { other, await (await host.VisitDemoAsync()).SongAsync("Salt on the Sill") }) Assert.Equal(HttpStatusCode.NotFound, (await phone.Client.GetAsync($"{link}/score/{foreign}?rung=1")).StatusCode);
        // Wrong, cut, changed: closed alike, and in words.
        foreach (var wrong in new[] { "/my/AAAAAAAAAAAAAAAAAAAAAA", link[..^1], $"{link}x", "/my/'--", "/my/%F0%9F%8E%B8" })
        {
            var closed = await phone.Client.GetAsync(wrong);
            Assert.Equal(HttpStatusCode.NotFound, closed.StatusCode);
            Assert.Contains("This link is closed", await closed.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
        // What is stored does not open it.
        await using var scope = host.Services.CreateAsyncScope();
        var stored = await scope.ServiceProvider.GetRequiredService<TembriDbContext>().StudentLinks.SingleAsync(l => l.StudentId == Guid.Parse(student));
        Assert.DoesNotContain(link.Split('/')[^1], JsonSerializer.Serialize(stored), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_link_ends_when_a_new_one_is_made_when_it_is_ended_and_by_itself()
    {
        var (visitor, _, student) = await OpenAsync();
        var phone = host.Visit();
        async Task<HttpStatusCode> Opens(string link) => (await phone.Client.GetAsync(link)).StatusCode;
        var first = await LinkAsync(visitor, student);
        var second = await LinkAsync(visitor, student);
        Assert.Equal((HttpStatusCode.NotFound, HttpStatusCode.OK), (await Opens(first), await Opens(second)));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Revoke");
        Assert.Equal(HttpStatusCode.NotFound, await Opens(second));
        Assert.Equal(HttpStatusCode.NotFound, (await phone.Client.PostAsJsonAsync($"{second}/entries", new { entries = new[] { Count(30) } })).StatusCode);
        var third = await LinkAsync(visitor, student, "30");
        await using (var scope = host.Services.CreateAsyncScope())
            await scope.ServiceProvider.GetRequiredService<TembriDbContext>().StudentLinks.Where(l => l.StudentId == Guid.Parse(student)).ExecuteUpdateAsync(set => set.SetProperty(l => l.EndsAt, DateTimeOffset.UtcNow.AddMinutes(-1)));
        Assert.Equal(HttpStatusCode.NotFound, await Opens(third));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Link", ("days", "99999"))).StatusCode);
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
        var (one, two) = (host.Visit().Client, host.Visit().Client);
        var entries = Enumerable.Range(0, 20).Select(i => Count(20 + i)).ToArray();
        // Two phones with the same twenty and ten of their own each, at the same moment, and everything once more because an answer was lost.
        var (mine, theirs) = (Enumerable.Range(0, 10).Select(_ => Count(30)).ToArray(), Enumerable.Range(0, 10).Select(_ => Count(31)).ToArray());
        for (var again = 0; again < 2; again++)
            await Task.WhenAll(HandInAsync(one, link, null, [.. entries, .. mine]), HandInAsync(two, link, null, [.. theirs, .. entries]));
        Assert.Equal(40, await EntriesAsync(visitor, student));
        // What was learnt was learnt from all forty, whoever came last.
        Assert.Contains("40 entries", (await visitor.PageAsync($"/students/{student}")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_cannot_be_is_refused_with_a_word_and_the_rest_is_kept()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = host.Visit().Client;
        var answer = await HandInAsync(phone, link, null, Count(31), Count(900), Count(31, at: DateTimeOffset.UtcNow.AddDays(3)), Count(31, seconds: 3), new { key = Guid.NewGuid(), kind = "changes", count = 3, seconds = 60 },
            new { key = Guid.NewGuid(), kind = "dance" }, new { key = Guid.NewGuid(), kind = "time", minutes = 15, felt = 2, hurt = false }, new { key = Guid.NewGuid(), kind = "time", minutes = 100000 },
            new { key = Guid.NewGuid(), kind = "shape", to = new { frets = C }, tries = 5, count = 9 }, new { key = Guid.NewGuid(), kind = "note", text = new string('x', 600) });
        Assert.Equal([true, false, false, false, false, false, true, false, false, false], Kept(answer));
        var faults = answer.GetProperty("outcomes").EnumerateArray().Select(o => o.GetProperty("fault").GetString()).ToList();
        Assert.Contains("200 a minute", faults[1], StringComparison.Ordinal);
        Assert.Contains("ahead", faults[2], StringComparison.Ordinal);
        Assert.Equal(2, await EntriesAsync(visitor, student));
        // One that is no entry at all does not keep the others out.
        var (first, last) = (Guid.NewGuid(), Guid.NewGuid());
        var mixed = await HandInAsync(phone, link, null, Count(30, first), new { key = last, kind = "changes", count = "many" }, 7, Count(32));
        Assert.Equal([true, false, false, true], Kept(mixed));
        Assert.Equal(last, mixed.GetProperty("outcomes")[1].GetProperty("key").GetGuid());
        Assert.Equal(4, await EntriesAsync(visitor, student));
        foreach (var junk in new[] { "", "[]", "{\"entries\":[null]}", "{\"entries\":7}", "{\"entries\":[{\"at\":\"yesterday\"}]}", "{\"sentAt\":\"0001-01-01T00:00:00Z\",\"entries\":[{\"at\":\"9999-12-31T23:59:59Z\",\"kind\":\"note\",\"text\":\"x\"}]}" })
            Assert.True((int)(await phone.PostAsync($"{link}/entries", new StringContent(junk, Encoding.UTF8, "application/json"))).StatusCode is 200 or 400, junk);
        Assert.Equal(4, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task A_phone_whose_clock_is_wrong_dates_its_entries_by_the_servers()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = host.Visit().Client;
        // Two years fast: practised an hour ago by its own clock.
        var theirs = DateTimeOffset.UtcNow.AddYears(2);
        var answer = await HandInAsync(phone, link, theirs, Count(31, at: theirs.AddHours(-1)));
        Assert.Equal([true], Kept(answer));
        Assert.True(answer.GetProperty("clockOffSeconds").GetInt32() > 60_000_000);
        var table = await visitor.Client.GetStringAsync($"{Log(student)}?handler=Table");
        Assert.Contains(DateTimeOffset.UtcNow.AddHours(-1).ToString("yyyy-MM-ddTHH:", System.Globalization.CultureInfo.InvariantCulture), table, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_entry_is_explained_corrected_and_taken_back_and_the_skills_follow()
    {
        var (visitor, _, student) = await OpenAsync();
        async Task<string> Changing()
        {
            var row = (await visitor.PageAsync(Log(student))).QuerySelectorAll("table.parts tr").First(r => r.TextContent.Contains("Changing in time", StringComparison.Ordinal));
            return row.QuerySelectorAll("td")[2].TextContent;
        }
        var before = await Changing();
        (string, string)[] Form(string count) => [("Form.Kind", "changes"), ("Form.From", "x32010"), ("Form.To", "320003"), ("Form.Count", count), ("Form.Seconds", "60")];
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync(Log(student), Log(student), Form("60"))).StatusCode);
        var page = await visitor.PageAsync(Log(student));
        Assert.Matches("changing \\d+ → \\d+, because \\d+ were expected", page.QuerySelector(".log-why")!.TextContent);
        var quick = await Changing();
        Assert.True(int.Parse(quick) > int.Parse(before));
        // Corrected: the old one stays readable, the skills are those of the right number.
        var entry = page.QuerySelector("form[action*=TakeBack] input[name=entry]")!.GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync($"{Log(student)}?correct={entry}", $"{Log(student)}?correct={entry}", Form("16"))).StatusCode);
        Assert.True(int.Parse(await Changing()) < int.Parse(quick));
        var corrected = await visitor.PageAsync(Log(student));
        Assert.Contains("60 clean", corrected.QuerySelector("details table s")!.TextContent, StringComparison.Ordinal);
        // Once corrected, the old one is neither put back nor corrected again.
        Assert.Empty(corrected.QuerySelectorAll("form[action*=PutBack]"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(Log(student), $"{Log(student)}?correct={entry}", Form("40"))).StatusCode);
        // Taken back, everything is as at first; put back, as before.
        var slow = await Changing();
        var now = corrected.QuerySelector("form[action*=TakeBack] input[name=entry]")!.GetAttribute("value")!;
        await visitor.PostAsync(Log(student), $"{Log(student)}?handler=TakeBack", ("entry", now));
        Assert.Equal(before, await Changing());
        await visitor.PostAsync(Log(student), $"{Log(student)}?handler=PutBack", ("entry", now));
        Assert.Equal(slow, await Changing());
        // Bad forms say what to do and keep what was typed.
        var refused = await visitor.PostAsync(Log(student), Log(student), ("Form.Kind", "changes"), ("Form.From", "nonsense"), ("Form.To", "320003"), ("Form.Count", "31"), ("Form.Seconds", "60"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var again = await Visitor.Read(refused);
        Assert.Contains("is no shape", again.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("nonsense", again.QuerySelector("input[name='Form.From']")!.GetAttribute("value"));
    }

    [Fact]
    public async Task A_student_takes_back_only_what_is_the_students_own()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = host.Visit().Client;
        await visitor.PostAsync(Log(student), Log(student), ("Form.Kind", "note"), ("Form.Text", "a word of the teacher's"));
        await HandInAsync(phone, link, null, Count(31));
        var ids = (await visitor.PageAsync(Log(student))).QuerySelectorAll("form[action*=TakeBack] input[name=entry]").Select(i => i.GetAttribute("value")!).ToList();
        var answers = new List<HttpStatusCode>();
        foreach (var id in ids) answers.Add((await phone.PostAsync($"{link}/entries/{id}/take-back", null)).StatusCode);
        Assert.Equal([HttpStatusCode.NoContent, HttpStatusCode.NotFound], answers.Order());
        Assert.Equal(1, await EntriesAsync(visitor, student));
    }

    private static async Task<HttpResponseMessage> BringAsync(Visitor visitor, string student, byte[] table)
    {
        var token = (await visitor.PageAsync(Log(student))).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        using var content = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" }, { new ByteArrayContent(table), "table", "log.csv" } };
        return await visitor.Client.PostAsync($"{Log(student)}?handler=Table", content);
    }

    [Fact]
    public async Task A_log_goes_out_as_a_table_and_comes_in_again_the_same()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = host.Visit().Client;
        static DateTimeOffset At(int minute) => new(2026, 11, 3, 16, minute, 7, TimeSpan.Zero);
        await HandInAsync(phone, link, null,
            Count(31, at: At(0)), new { key = Guid.NewGuid(), at = At(1), kind = "shape", text = "C by itself, \"slow\"\n=1+1", to = new { frets = C, fingers = new[] { 0, 3, 2, 0, 1, 0 } }, tries = 10, count = 7, capo = 2, song, rung = 2 },
            new { key = Guid.NewGuid(), at = At(2), kind = "strum", text = "the strum", pattern = "D-du-udu", meter = "4/4", swing = 60, tempo = 72, went = false }, new { key = Guid.NewGuid(), at = At(3), kind = "clean", text = "Verse", song, rung = 2, tempo = 80, went = true, from = new { frets = C }, to = new { frets = G }, freeBeats = 0.5 },
            new { key = Guid.NewGuid(), at = At(4), kind = "time", minutes = 14, felt = 3, hurt = true }, new { key = Guid.NewGuid(), at = At(5), kind = "note", text = "=HYPERLINK(\"x\") Ünïcödé ♭ 字" });
        var table = await visitor.Client.GetByteArrayAsync($"{Log(student)}?handler=Table");
        Assert.Contains("\"'=HYPERLINK", Encoding.UTF8.GetString(table), StringComparison.Ordinal);
        // Into another student of the same studio, in three encodings: once each, and the same table again.
        foreach (var (name, bytes) in new[] { ("utf8", table), ("utf16", [.. Encoding.Unicode.GetPreamble(), .. Encoding.Unicode.GetBytes(Encoding.UTF8.GetString(table).TrimStart('\uFEFF'))]) })
        {
            // The keys are those of the first student's rows; without them the rows are named by what they say.
            var text = name == "utf8" ? Encoding.UTF8.GetString(bytes) : Encoding.Unicode.GetString(bytes);
            var without = string.Join("\r\n", text.Split("\r\n").Select(l => System.Text.RegularExpressions.Regex.Replace(l, ",[0-9a-f-]{36}$", ",")));
            var other = await visitor.AddStudentAsync($"Other {name}");
            var encoded = name == "utf8" ? Encoding.UTF8.GetBytes(without) : Encoding.Unicode.GetBytes(without);
            Assert.Equal(HttpStatusCode.OK, (await BringAsync(visitor, other, encoded)).StatusCode);
            var said = await Visitor.Read(await BringAsync(visitor, other, encoded));
            Assert.Contains(name == "utf8" ? "0 entries were taken in; 6 were there already" : "0 entries", said.QuerySelector("[role=status].note")!.TextContent, StringComparison.Ordinal);
            if (name != "utf8") continue;
            var back = await visitor.Client.GetStringAsync($"{Log(other)}?handler=Table");
            string Plain(string t) => System.Text.RegularExpressions.Regex.Replace(t.TrimStart('\uFEFF'), ",[0-9a-f-]{36}(?=\r\n|$)", ",").Replace(",student,", ",teacher,", StringComparison.Ordinal);
            Assert.Equal(Plain(Encoding.UTF8.GetString(table)), Plain(back));
        }
    }

    [Fact]
    public async Task Rows_that_cannot_be_taken_are_named_and_the_others_are_kept()
    {
        var (visitor, _, student) = await OpenAsync();
        var answer = await BringAsync(visitor, student, Encoding.Latin1.GetBytes(
            "at;kind;text;from;to;count;seconds;minutes\n2026-01-05;note;Übung;;;;;\nsoon;note;x;;;;;\n2026-01-06;changes;C to G;x32010;320003;900;60;\n2026-01-07;changes;C to G;x3201;320003;30;60;\n2026-01-08;time;;;;;;12\n2026-01-09;time;;;;;;twelve\n"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Read(answer);
        Assert.Equal(["line 3", "line 4", "line 5", "line 7"], page.QuerySelectorAll("[role=alert] li").Select(li => li.TextContent.Split(':')[0]));
        Assert.Contains("2 entries were taken in", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Übung", page.Body.TextContent, StringComparison.Ordinal);
        foreach (var junk in new[] { Array.Empty<byte>(), [0, 1, 2, 255, 254], Encoding.UTF8.GetBytes("no,columns,of,ours\n1,2,3,4"), Encoding.UTF8.GetBytes("kind\n\"unclosed"), new byte[3 * 1024 * 1024] })
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await BringAsync(visitor, student, junk)).StatusCode);
        Assert.Equal(2, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task Pain_stops_barres_until_the_teacher_clears_it_and_is_never_explained()
    {
        var (visitor, song, student) = await OpenAsync();
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Step", ("song", song), ("rung", "5"));
        var link = await LinkAsync(visitor, student);
        bool HasBarreMinutes(AngleSharp.Html.Dom.IHtmlDocument page) => page.QuerySelectorAll(".plan-day h3").Any(h => h.TextContent.Contains("of barres and stretches", StringComparison.Ordinal));
        Assert.True(HasBarreMinutes(await visitor.PageAsync(Practice(student))));
        await HandInAsync(host.Visit().Client, link, null, new { key = Guid.NewGuid(), kind = "time", minutes = 10, felt = 5, hurt = true });
        var hurt = await visitor.PageAsync(Practice(student));
        Assert.False(HasBarreMinutes(hurt));
        Assert.Contains("see a doctor or a licensed therapist", hurt.QuerySelector(".note")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("something hurts", hurt.QuerySelector(".worked")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Something hurt. No barres", (await host.Visit().PageAsync(link)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("care", (await visitor.PageAsync($"/today?handler=Row&id={student}")).QuerySelector(".today-due, body")!.TextContent, StringComparison.Ordinal);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Clear");
        Assert.True(HasBarreMinutes(await visitor.PageAsync(Practice(student))));
    }

    [Fact]
    public async Task A_song_is_taken_up_stepped_and_set_aside_with_its_way_kept()
    {
        var (visitor, song, student) = await OpenAsync();
        foreach (var rung in new[] { "3", "2", "2" }) await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Step", ("song", song), ("rung", rung), ("why", "tried"));
        var worked = (await visitor.PageAsync(Practice(student))).QuerySelector(".worked")!;
        Assert.Contains("rung 3 from", worked.TextContent, StringComparison.Ordinal);
        Assert.Equal("2", worked.QuerySelector("select[name=rung] option[selected]")!.GetAttribute("value"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Step", ("song", song), ("rung", "88"))).StatusCode);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Aside", ("song", song));
        Assert.Empty((await visitor.PageAsync(Practice(student))).QuerySelectorAll(".worked"));
        // A song that is taken out of the studio leaves what was practised on it.
        await visitor.PostAsync(Log(student), Log(student), ("Form.Kind", "clean"), ("Form.Text", "Verse"), ("Form.Song", song), ("Form.Tempo", "80"), ("Form.Rung", "2"));
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
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Own", ("text", "hum the tune; twice"), ("minutes", "2"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Own", ("text", ""), ("minutes", "2"))).StatusCode);
        var calendar = Ical.Net.Calendar.Load(await visitor.Client.GetStringAsync($"{Practice(student)}?handler=Calendar&days=14"))!;
        Assert.Equal(14, calendar.Events.Count);
        Assert.All(calendar.Events, e => Assert.Contains("hum the tune; twice", e.Description, StringComparison.Ordinal));
        Assert.Equal(14, calendar.Events.Select(e => e.Start!.Date).Distinct().Count());
        Assert.Equal(HttpStatusCode.BadRequest, (await visitor.Client.GetAsync($"{Practice(student)}?handler=Calendar&days=9999")).StatusCode);
        // A mail goes to the stand-in, with a link that opens; the address is kept nowhere.
        var mailed = await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Mail", ("to", "fern@home.example"), ("withLink", "true"));
        Assert.Contains("on its way", await mailed.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        string? body = null;
        for (var i = 0; i < 100 && body is null; i++)
        {
            await Task.Delay(50, TestContext.Current.CancellationToken);
            await using var scope = host.Services.CreateAsyncScope();
            body = (await scope.ServiceProvider.GetRequiredService<TembriDbContext>().StandInMails.FirstOrDefaultAsync(m => m.To == "fern@home.example", TestContext.Current.CancellationToken))?.Body;
        }
        Assert.Contains("hum the tune", body, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await host.Visit().Client.GetAsync(new Uri(body!.Split('\n').Single(l => l.Contains("/my/", StringComparison.Ordinal)).Trim()).AbsolutePath)).StatusCode);
        foreach (var bad in new[] { "nobody", "a@b.example, c@d.example", "x\r\nBcc: y@z.example" }) Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Mail", ("to", bad))).StatusCode);
        // A goal says whether it fits.
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Goal", ("minutes", "15"), ("age", "Child"), ("goalSong", song), ("goalRung", "5"), ("goalOn", DateTime.Today.AddDays(35).ToString("yyyy-MM-dd")))).StatusCode);
        Assert.Matches("on rung 5 in 35 days:\\s+about \\d+ minutes", (await visitor.PageAsync(Practice(student))).Body!.TextContent);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Goal", ("minutes", "15"), ("age", "Child"), ("goalSong", song), ("goalOn", "2020-01-01"))).StatusCode);
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
            List<(string, string)> fields = [("done", Hidden("done")), ("what", Hidden("what")), i == 7 ? ("pass", "true") : ("result", "1")];
            if (Hidden("seconds").Length > 0) fields.Add(("seconds", Hidden("seconds")));
            var answer = await visitor.PostAsync(meeting, meeting, [.. fields]);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            page = await Visitor.Read(answer);
        }
        Assert.Contains("enough to begin with", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(7, await EntriesAsync(visitor, student));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync(meeting, $"{meeting}?handler=Hand", ("spread", "30"))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync(meeting, $"{meeting}?handler=Hand", ("spread", "101"))).StatusCode);
        Assert.Contains("Measured: 101 mm", (await visitor.PageAsync(meeting)).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_guitar_of_the_studio_is_measured_and_played()
    {
        var (visitor, _, student) = await OpenAsync();
        (string, string)[] guitar = [("Name", "the wide one"), ("Preset", "classical"), ("Scale", "640"), ("Nut", "54"), ("Action", "3.5"), ("RequestKey", Guid.NewGuid().ToString())];
        for (var i = 0; i < 2; i++) Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync("/studio/guitars", "/studio/guitars", guitar)).StatusCode);
        var row = Assert.Single((await visitor.PageAsync("/studio/guitars")).QuerySelectorAll("table tr td:first-child"));
        Assert.Equal("the wide one", row.TextContent);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync("/studio/guitars", "/studio/guitars", ("Name", "harp"), ("Preset", "classical"), ("Scale", "6400"), ("Nut", "54"), ("Action", "3.5"))).StatusCode);
        var value = (await visitor.PageAsync($"/students/{student}")).QuerySelectorAll("select[name='Form.GuitarId'] option").Single(o => o.TextContent == "the wide one").GetAttribute("value")!;
        (string, string)[] Form(string guitarId) => [("Form.Nickname", "Fern"), ("Form.HandId", "medium"), ("Form.GuitarId", guitarId), ("Form.Barres", "Neutral")];
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync($"/students/{student}", $"/students/{student}", Form(value))).StatusCode);
        Assert.Contains("640 mm scale, 54 mm at the nut", (await visitor.PageAsync($"/students/{student}/meeting")).Body!.TextContent, StringComparison.Ordinal);
        // While somebody plays it, it stays.
        var id = value["own:".Length..];
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await visitor.PostAsync("/studio/guitars", $"/studio/guitars/{id}?handler=Remove")).StatusCode);
        // A guitar of another studio is none of hers.
        var stranger = await host.VisitNewStudioAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.Client.GetAsync($"/studio/guitars/{id}")).StatusCode);
        var hers = await stranger.AddStudentAsync("Reed");
        Assert.Equal(HttpStatusCode.OK, (await stranger.PostAsync($"/students/{hers}", $"/students/{hers}", Form(value))).StatusCode);
        Assert.Contains("Choose one of the guitars", await (await stranger.PostAsync($"/students/{hers}", $"/students/{hers}", Form(value))).Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task All_of_a_student_is_taken_out_who_looked_is_written_down_and_old_entries_go_by_themselves()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        await HandInAsync(host.Visit().Client, link, null, Count(31), Count(28, at: DateTimeOffset.UtcNow.AddMonths(-9)));
        await host.Visit().PageAsync(link);
        using var archive = new ZipArchive(new MemoryStream(await visitor.Client.GetByteArrayAsync($"/students/{student}/records?handler=Archive")));
        string Text(string name) { using var reader = new StreamReader(archive.GetEntry(name)!.Open()); return reader.ReadToEnd(); }
        Assert.Equal("Fern", JsonDocument.Parse(Text("student.json")).RootElement.GetProperty("nickname").GetString());
        Assert.Equal(1, JsonDocument.Parse(Text("student.json")).RootElement.GetProperty("learnt").GetProperty("entries").GetInt32());   // what lies before the teacher's numbers is in them
        Assert.Equal(3, Text("practice.csv").Trim().Split('\n').Length);
        Assert.Contains("Low Bridge", Text("songs.json"), StringComparison.Ordinal);
        Assert.DoesNotContain(link.Split('/')[^1], string.Concat(archive.Entries.Select(e => Text(e.FullName))), StringComparison.Ordinal);
        var looked = (await visitor.PageAsync($"/students/{student}/records")).Body!.TextContent;
        Assert.Contains("the student, by the link", looked, StringComparison.Ordinal);
        Assert.Contains("everything, taken out", looked, StringComparison.Ordinal);
        // Half a year is kept: the older entry goes, and what is left is learnt from what is left.
        await visitor.PostAsync("/studio", "/studio", ("Form.Name", "Second Studio"), ("Form.NoteNames", "AsKey"), ("Form.FretsFromNut", "false"), ("Form.Tunings", "0"), ("Form.KeepsMonths", "6"));
        await host.Services.GetServices<IHostedService>().OfType<Retention>().Single().SweepAsync(TestContext.Current.CancellationToken);
        Assert.Equal(1, await EntriesAsync(visitor, student));
        Assert.Contains("(1 entries)", (await visitor.PageAsync($"/students/{student}")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_teachers_day_says_what_is_due_for_whom()
    {
        var demo = await host.VisitDemoAsync();
        var page = await demo.PageAsync("/today");
        Assert.Equal(6, page.QuerySelectorAll("#today tr").Length);
        async Task<string> Due(string name) => (await Visitor.Read(await demo.Client.GetAsync($"/today?handler=Row&id={await demo.StudentAsync(name)}"))).Body!.TextContent;
        Assert.Contains("care", await Due("Otis"), StringComparison.Ordinal);
        Assert.Contains("silent", await Due("Sable"), StringComparison.Ordinal);
        Assert.Matches("Salt on the Sill: rung \\d", await Due("Wren"));
    }
}
