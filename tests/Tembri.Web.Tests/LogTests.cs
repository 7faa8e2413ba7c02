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

/// <summary>A log: explained, corrected, taken out and in, kept as long as the studio says.</summary>
public sealed class LogTests(TembriHost host) : PracticeStudio(host)
{
    private static async Task<HttpResponseMessage> BringAsync(Visitor visitor, string student, byte[] table)
    {
        var token = (await visitor.PageAsync(Log(student)))
                .QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        using var content = new MultipartFormDataContent
        {
            { new StringContent(token), "__RequestVerificationToken" }, { new ByteArrayContent(table), "table", "log.csv" }
        };
        return await visitor.Client.PostAsync($"{Log(student)}?handler=Table", content);
    }

    [Fact]
    public async Task An_entry_is_explained_corrected_and_taken_back_and_the_skills_follow()
    {
        var (visitor, _, student) = await OpenAsync();
        async Task<string> Changing()
        {
            var row = (await visitor.PageAsync(Log(student))).QuerySelectorAll("table.parts tr")
                .First(r => r.TextContent.Contains("Changing in time", StringComparison.Ordinal));
            return row.QuerySelectorAll("td")[2].TextContent;
        }
        var before = await Changing();
        (string, string)[] Form(string count) =>
            [("Form.Kind", "changes"), ("Form.From", "x32010"), ("Form.To", "320003"), ("Form.Count", count),
                ("Form.Seconds", "60")];
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.PostAsync(Log(student), Log(student), Form("60"))).StatusCode);
        var page = await visitor.PageAsync(Log(student));
        Assert.Matches("changing \\d+ → \\d+, because \\d+ were expected", page.QuerySelector(".log-why")!.TextContent);
        var quick = await Changing();
        Assert.True(int.Parse(quick) > int.Parse(before));
        // Corrected: the old one stays readable, the skills are those of the right number.
        var entry = page.QuerySelector("form[action*=TakeBack] input[name=entry]")!.GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync($"{Log(student)}?correct={entry}", $"{Log(student)}?correct={entry}",
                Form("16"))).StatusCode);
        Assert.True(int.Parse(await Changing()) < int.Parse(quick));
        var corrected = await visitor.PageAsync(Log(student));
        Assert.Contains("60 clean", corrected.QuerySelector("main details table s")!.TextContent, StringComparison.Ordinal);
        // Once corrected, the old one is neither put back nor corrected again.
        Assert.Empty(corrected.QuerySelectorAll("form[action*=PutBack]"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity,
            (await visitor.PostAsync(Log(student), $"{Log(student)}?correct={entry}", Form("40"))).StatusCode);
        // Taken back, everything is as at first; put back, as before.
        var slow = await Changing();
        var now = corrected.QuerySelector("form[action*=TakeBack] input[name=entry]")!.GetAttribute("value")!;
        await visitor.PostAsync(Log(student), $"{Log(student)}?handler=TakeBack", ("entry", now));
        Assert.Equal(before, await Changing());
        await visitor.PostAsync(Log(student), $"{Log(student)}?handler=PutBack", ("entry", now));
        Assert.Equal(slow, await Changing());
        // Bad forms say what to do and keep what was typed.
        var refused = await visitor.PostAsync(Log(student), Log(student), ("Form.Kind", "changes"), ("Form.From", "nonsense"),
            ("Form.To", "320003"), ("Form.Count", "31"), ("Form.Seconds", "60"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var again = await Visitor.Read(refused);
        Assert.Contains("is no shape", again.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("nonsense", again.QuerySelector("input[name='Form.From']")!.GetAttribute("value"));
    }

    [Fact]
    public async Task A_log_goes_out_as_a_table_and_comes_in_again_the_same()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        static DateTimeOffset At(int minute) => new(2026, 11, 3, 16, minute, 7, TimeSpan.Zero);
        await HandInAsync(phone, link, null,
            Count(31, at: At(0)),
            new { key = Guid.NewGuid(), at = At(1), kind = "shape", text = "C by itself, \"slow\"\n=1+1",
                to = new { frets = C, fingers = new[] { 0, 3, 2, 0, 1, 0 } }, tries = 10, count = 7, capo = 2, song, rung = 2 },
            new { key = Guid.NewGuid(), at = At(2), kind = "strum", text = "the strum", pattern = "D-du-udu", meter = "4/4",
                swing = 60, tempo = 72, went = false },
            new { key = Guid.NewGuid(), at = At(3), kind = "clean", text = "Verse", song, rung = 2, tempo = 80, went = true,
                from = new { frets = C }, to = new { frets = G }, freeBeats = 0.5 },
            new { key = Guid.NewGuid(), at = At(4), kind = "time", minutes = 14, felt = 3, hurt = true },
            new { key = Guid.NewGuid(), at = At(5), kind = "note", text = "=HYPERLINK(\"x\") Ünïcödé ♭ 字" });
        var table = await visitor.Client.GetByteArrayAsync($"{Log(student)}?handler=Table");
        Assert.Contains("\"'=HYPERLINK", Encoding.UTF8.GetString(table), StringComparison.Ordinal);
        // Into another student of the same studio, in three encodings: once each, and the same table again.
        foreach (var (name, bytes) in new[]
        {
            ("utf8", table),
            ("utf16",
                [.. Encoding.Unicode.GetPreamble(),
                    .. Encoding.Unicode.GetBytes(Encoding.UTF8.GetString(table).TrimStart('\uFEFF'))])
        })
        {
            // The keys are those of the first student's rows; without them the rows are named by what they say.
            var text = name == "utf8" ? Encoding.UTF8.GetString(bytes) : Encoding.Unicode.GetString(bytes);
            var without = string.Join("\r\n",
                text.Split("\r\n").Select(l => System.Text.RegularExpressions.Regex.Replace(l, ",[0-9a-f-]{36}$", ",")));
            var other = await visitor.AddStudentAsync($"Other {name}");
            var encoded = name == "utf8" ? Encoding.UTF8.GetBytes(without) : Encoding.Unicode.GetBytes(without);
            Assert.Equal(HttpStatusCode.OK, (await BringAsync(visitor, other, encoded)).StatusCode);
            var said = await Visitor.Read(await BringAsync(visitor, other, encoded));
            Assert.Contains(name == "utf8" ? "0 entries were taken in; 6 were there already" : "0 entries",
                said.QuerySelector("[role=status].note")!.TextContent, StringComparison.Ordinal);
            if (name != "utf8") continue;
            var back = await visitor.Client.GetStringAsync($"{Log(other)}?handler=Table");
            string Plain(string t) =>
                System.Text.RegularExpressions.Regex.Replace(t.TrimStart('\uFEFF'), ",[0-9a-f-]{36}(?=\r\n|$)", ",")
                    .Replace(",student,", ",teacher,", StringComparison.Ordinal);
            Assert.Equal(Plain(Encoding.UTF8.GetString(table)), Plain(back));
        }
    }

    [Fact]
    public async Task Rows_that_cannot_be_taken_are_named_and_the_others_are_kept()
    {
        var (visitor, _, student) = await OpenAsync();
        var answer = await BringAsync(visitor, student, Encoding.Latin1.GetBytes(
            "at;kind;text;from;to;count;seconds;minutes\n2026-01-05;note;Übung;;;;;\nsoon;note;x;;;;;\n2026-01-06;changes;C to "
                + "G;x32010;320003;900;60;\n2026-01-07;changes;C to "
                + "G;x3201;320003;30;60;\n2026-01-08;time;;;;;;12\n2026-01-09;time;;;;;;twelve\n"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Read(answer);
        Assert.Equal(["line 3", "line 4", "line 5", "line 7"],
            page.QuerySelectorAll("[role=alert] li").Select(li => li.TextContent.Split(':')[0]));
        Assert.Contains("2 entries were taken in", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Übung", page.Body.TextContent, StringComparison.Ordinal);
        foreach (var junk in new[]
        {
            Array.Empty<byte>(), [0, 1, 2, 255, 254], Encoding.UTF8.GetBytes("no,columns,of,ours\n1,2,3,4"),
            Encoding.UTF8.GetBytes("kind\n\"unclosed"), new byte[3 * 1024 * 1024]
        })
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await BringAsync(visitor, student, junk)).StatusCode);
        Assert.Equal(2, await EntriesAsync(visitor, student));
    }

    [Fact]
    public async Task All_of_a_student_is_taken_out_who_looked_is_written_down_and_old_entries_go_by_themselves()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        await HandInAsync(Host.Visit().Client, link, null, Count(31), Count(28, at: DateTimeOffset.UtcNow.AddMonths(-9)));
        await Host.Visit().PageAsync(link);
        using var archive = new ZipArchive(
            new MemoryStream(await visitor.Client.GetByteArrayAsync($"/students/{student}/records?handler=Archive")));
        string Text(string name)
        {
            using var reader = new StreamReader(archive.GetEntry(name)!.Open());
            return reader.ReadToEnd();
        }
        Assert.Equal("Fern", JsonDocument.Parse(Text("student.json")).RootElement.GetProperty("nickname").GetString());
        // what lies before the teacher's numbers is in them
        Assert.Equal(1,
            JsonDocument.Parse(Text("student.json")).RootElement.GetProperty("learnt").GetProperty("entries").GetInt32());
        Assert.Equal(3, Text("practice.csv").Trim().Split('\n').Length);
        Assert.Contains("Low Bridge", Text("songs.json"), StringComparison.Ordinal);
        Assert.DoesNotContain(link.Split('/')[^1], string.Concat(archive.Entries.Select(e => Text(e.FullName))),
            StringComparison.Ordinal);
        var looked = (await visitor.PageAsync($"/students/{student}/records")).Body!.TextContent;
        Assert.Contains("the student, by the link", looked, StringComparison.Ordinal);
        Assert.Contains("everything, taken out", looked, StringComparison.Ordinal);
        // Half a year is kept: the older entry goes, and what is left is learnt from what is left.
        await visitor.PostAsync("/studio", "/studio", ("Form.Name", "Second Studio"), ("Form.NoteNames", "AsKey"),
            ("Form.FretsFromNut", "false"), ("Form.Tunings", "0"), ("Form.KeepsMonths", "6"));
        await Host.Services.GetServices<IHostedService>().OfType<Retention>().Single()
            .SweepAsync(TestContext.Current.CancellationToken);
        Assert.Equal(1, await EntriesAsync(visitor, student));
        Assert.Contains("(1 entries)", (await visitor.PageAsync($"/students/{student}")).Body!.TextContent,
            StringComparison.Ordinal);
    }
}
