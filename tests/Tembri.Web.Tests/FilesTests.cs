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

    private static Task<List<JsonElement>> BringAsync(Visitor visitor, params (string Name, byte[] Data)[] files) =>
        BringAsync(visitor, Guid.NewGuid(), files);

    private static async Task<List<JsonElement>> BringAsync(Visitor visitor, Guid key, (string Name, byte[] Data)[] files)
    {
        var page = await visitor.PageAsync("/songs/bring");
        using var form = new MultipartFormDataContent
        {
            { new StringContent(page.QuerySelector("main input[name=__RequestVerificationToken]")!.GetAttribute("value")!),
                "__RequestVerificationToken" }
        };
        form.Add(new StringContent(key.ToString()), "RequestKey");
        foreach (var (name, data) in files) form.Add(new ByteArrayContent(data), "files", name);
        using var request = new HttpRequestMessage(HttpMethod.Post, "/songs/bring") { Content = form };
        request.Headers.Add("X-Progress", "lines");
        var answer = await visitor.Client.SendAsync(request);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return [.. (await answer.Content.ReadAsStringAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(l => JsonDocument.Parse(l).RootElement)];
    }

    [Fact]
    public async Task A_package_of_charts_gives_a_line_for_each_and_saves_what_was_read()
    {
        var visitor = await host.VisitNewStudioAsync();
        var charts = Enumerable.Range(0, 40)
            .Select(i => ($"folder/song {i}.txt", $"title: Song {i}\nkey: G\n| G | C | D7 | G |")).ToList();
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
        var desk = await visitor.PageAsync("/songs");
        Assert.Equal(41, desk.QuerySelectorAll(".desk tbody tr").Length);
    }

    [Fact]
    public async Task One_bad_file_never_keeps_the_others_out_and_the_same_request_brings_nothing_twice()
    {
        var visitor = await host.VisitNewStudioAsync();
        var spoiled = Zip(("inside.txt", "title: Inside the Package\n| C | F | G |"));
        // The checksum stands at offset 16 of the entry in the directory.
        spoiled[spoiled.AsSpan().LastIndexOf("PK\x01\x02"u8) + 16] ^= 0xFF;
        (string, byte[])[] files =
        [
            ("nul.txt", "title: With Nul\u0000\n| C | F |"u8.ToArray()),
            ("emoji.txt",
                System.Text.Encoding.UTF8.GetBytes($"title: {string.Concat(Enumerable.Repeat("\U0001F3B8", 100))}\n| C | G |")),
            ("nulls.json", "{\"format\":\"tembri chart\",\"version\":1,\"sections\":[null]}"u8.ToArray()),
            ("four.zip", "PK\x03\x04"u8.ToArray()), ("spoiled.zip", spoiled), ("empty.mid", "MThd"u8.ToArray()),
            ("deep.xml", System.Text.Encoding.UTF8.GetBytes("<score-partwise>" + string.Concat(Enumerable.Repeat("<a>", 500)))),
            ("good.txt", "title: Good One\n| C | F |"u8.ToArray()),
        ];
        var key = Guid.NewGuid();
        foreach (var time in new[] { 1, 2 })
        {
            var lines = (await BringAsync(visitor, key, files)).Skip(1)
                .ToDictionary(l => l.GetProperty("name").GetString()!,
                    l => (Result: l.GetProperty("result").GetString(), Said: l.GetProperty("said").GetString()!));
            Assert.Equal(8, lines.Count);
            foreach (var name in new[] { "nulls.json", "four.zip", "empty.mid", "deep.xml" })
                Assert.True(lines[name] is { Result: "refused", Said.Length: > 15 }, $"{name}: {lines[name]}");
            Assert.Contains("checksum", lines["inside.txt"].Said, StringComparison.Ordinal);
            foreach (var name in new[] { "nul.txt", "emoji.txt", "good.txt" })
                Assert.True(lines[name].Result == "read", $"{name}: {lines[name]}");
            Assert.Equal(3, (await visitor.PageAsync("/songs")).QuerySelectorAll(".desk tbody tr").Length);
        }
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
            var line = (await BringAsync(visitor,
                (file.Content.Headers.ContentDisposition.FileNameStar ?? "chart",
                    await file.Content.ReadAsByteArrayAsync())))[1];
            Assert.True(line.GetProperty("result").GetString() == "read", $"{link}: {line}");
            Assert.StartsWith("Salt on the Sill, in E♭, 6 chords", line.GetProperty("said").GetString(),
                StringComparison.Ordinal);
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
        Assert.Equal(HttpStatusCode.BadRequest,
            (await demo.Client.GetAsync($"/songs/{song}/files?handler=Download&format=wax")).StatusCode);
    }
}
