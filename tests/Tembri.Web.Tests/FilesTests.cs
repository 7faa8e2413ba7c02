using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.Json;

namespace Tembri.Web.Tests;

/// <summary>Charts that come in as files and go out as files.</summary>
public sealed class FilesTests(TembriHost host)
{
    private static byte[] Zip(params (string Name, string Text)[] files)
    {
        using var bytes = new MemoryStream();
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, true))
            foreach (var (name, text) in files)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(Encoding.UTF8.GetBytes(text));
            }
        return bytes.ToArray();
    }

    private static async Task<List<JsonElement>> BringAsync(Visitor visitor, params (string Name, byte[] Data)[] files)
    {
        var page = await visitor.PageAsync("/songs/bring");
        using var form = new MultipartFormDataContent { { new StringContent(page.QuerySelector("main input[name=__RequestVerificationToken]")!.GetAttribute("value")!), "__RequestVerificationToken" } };
        foreach (var (name, data) in files) form.Add(new ByteArrayContent(data), "files", name);
        using var request = new HttpRequestMessage(HttpMethod.Post, "/songs/bring") { Content = form };
        request.Headers.Add("X-Progress", "lines");
        var answer = await visitor.Client.SendAsync(request);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return [.. (await answer.Content.ReadAsStringAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => JsonDocument.Parse(l).RootElement)];
    }

    [Fact]
    public async Task A_package_of_charts_gives_a_line_for_each_and_saves_what_was_read()
    {
        var visitor = await host.VisitNewStudioAsync();
        var charts = Enumerable.Range(0, 40).Select(i => ($"folder/song {i}.txt", $"title: Song {i}\nkey: G\n| G | C | D7 | G |")).ToList();
        charts.Add(("folder/doubtful.txt", "| G | Hx | C |"));
        charts.Add(("folder/empty words.txt", "nothing to play here"));
        charts.Add(("__MACOSX/._song", "rubbish"));
        charts.Add(("broken.musicxml", "<score-partwise><part id='P1'>"));
        var lines = await BringAsync(visitor, ("many.zip", Zip([.. charts])));
        Assert.Equal(43, lines[0].GetProperty("total").GetInt32());
        var results = lines.Skip(1).ToLookup(l => l.GetProperty("result").GetString());
        Assert.Equal((40, 1, 2), (results["read"].Count(), results["doubtful"].Count(), results["refused"].Count()));
        Assert.Contains("doubtful", results["doubtful"].Single().GetProperty("said").GetString(), StringComparison.Ordinal);
        Assert.All(results["refused"], r => Assert.True(r.GetProperty("said").GetString()!.Length > 15));
        var desk = await visitor.PageAsync("/");
        Assert.Equal(41, desk.QuerySelectorAll(".desk tbody tr").Length);
    }

    [Fact]
    public async Task What_is_taken_away_can_be_brought_back_in_every_format()
    {
        var demo = await host.VisitDemoAsync();
        var song = await demo.SongAsync("Salt on the Sill");
        var page = await demo.PageAsync($"/songs/{song}/files");
        Assert.Equal(7, page.QuerySelectorAll("a[download]").Length);
        Assert.Contains("nothing is lost", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Words are left out", page.Body.TextContent, StringComparison.Ordinal);
        var visitor = await host.VisitNewStudioAsync();
        foreach (var link in page.QuerySelectorAll("a[download]").Select(a => a.GetAttribute("href")!))
        {
            var file = await demo.Client.GetAsync($"/songs/{song}/files{link}");
            Assert.Equal(HttpStatusCode.OK, file.StatusCode);
            Assert.Equal("attachment", file.Content.Headers.ContentDisposition!.DispositionType);
            var line = (await BringAsync(visitor, (file.Content.Headers.ContentDisposition.FileNameStar ?? "chart", await file.Content.ReadAsByteArrayAsync())))[1];
            Assert.True(line.GetProperty("result").GetString() == "read", $"{link}: {line}");
            Assert.StartsWith("Salt on the Sill, in E♭, 6 chords", line.GetProperty("said").GetString(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task A_rung_is_taken_away_for_a_student_and_strangers_get_nothing()
    {
        var demo = await host.VisitDemoAsync();
        var (song, student) = (await demo.SongAsync("Salt on the Sill"), await demo.StudentAsync("Wren"));
        var rung = await demo.Client.GetAsync($"/songs/{song}/files?handler=Download&format=MusicXml&student={student}&rung=3");
        Assert.Contains("<capo>1</capo>", await rung.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var other = await host.VisitNewStudioAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await other.Client.GetAsync($"/songs/{song}/files")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await demo.Client.GetAsync($"/songs/{song}/files?handler=Download&format=wax")).StatusCode);
    }
}
