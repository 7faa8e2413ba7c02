using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;

namespace Tembri.Web.Tests;

/// <summary>A studio out and in again, and programs that read and write it with a key.</summary>
public sealed class ArchiveTests(TembriHost host)
{
    private static Dictionary<string, string> Contents(byte[] archive)
    {
        using var zip = new ZipArchive(new MemoryStream(archive));
        return zip.Entries.ToDictionary(e => e.FullName,
            e => { using var reader = new StreamReader(e.Open()); return reader.ReadToEnd(); });
    }

    private static async Task<HttpResponseMessage> Bring(Visitor visitor, byte[] archive)
    {
        var token = (await visitor.PageAsync("/studio/data"))
                .QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" } };
        var file = new ByteArrayContent(archive);
        file.Headers.ContentType = new MediaTypeHeaderValue("application/zip");
        form.Add(file, "file", "studio.zip");
        return await visitor.Client.PostAsync("/studio/data?handler=Archive", form);
    }

    [Fact]
    public async Task The_demo_studio_taken_out_and_brought_into_an_empty_one_is_the_same_byte_for_byte()
    {
        var demo = await host.VisitDemoAsync();
        // The demo studio is shared by all tests; nobody else looks at this ladder.
        var (song, student) = (await demo.SongAsync("Salt on the Sill"), await demo.StudentAsync("Sable"));
        await demo.PostAsync($"/songs/{song}/ladder/{student}", $"/songs/{song}/ladder/{student}?handler=Take", ("rung", "3"),
            ("chord", "0"), ("capo", "1"), ("frets", "0,2,2,1,0,0"), ("fingers", "0,2,3,1,0,0"));
        var first = await demo.Client.GetByteArrayAsync("/studio/data?handler=Archive");
        var before = Contents(first);
        Assert.Contains($"songs/{song}.txt", before.Keys);
        Assert.True(JsonDocument.Parse(before["entries.json"]).RootElement.GetArrayLength() > 100);
        Assert.Single(JsonDocument.Parse(before["taken-shapes.json"]).RootElement.EnumerateArray(),
            s => s.GetProperty("studentId").GetString() == student);
        Assert.DoesNotContain(before,
            e => e.Value.Contains("digest", StringComparison.OrdinalIgnoreCase)
                && e.Key.EndsWith(".json", StringComparison.Ordinal));
        var empty = await host.VisitNewStudioAsync();
        var brought = await Bring(empty, first);
        Assert.True(brought.StatusCode == HttpStatusCode.OK, await brought.Content.ReadAsStringAsync());
        var after = Contents(await empty.Client.GetByteArrayAsync("/studio/data?handler=Archive"));
        Assert.Equal(before.Keys.Order(), after.Keys.Order());
        foreach (var (name, text) in before) Assert.True(text == after[name], $"{name} differs");
        // It works there: the ladder with the shape that was taken.
        Assert.NotEmpty((await empty.PageAsync($"/songs/{song}/ladder/{student}")).QuerySelectorAll("[data-cell]"));
        // Brought again, nothing is there twice.
        var again = (await Visitor.Read(await Bring(empty, first))).QuerySelectorAll("[role=status] li")
            .Select(l => l.TextContent).ToList();
        Assert.All(again.Skip(1), l => Assert.Contains(": 0 taken", l, StringComparison.Ordinal));
        Assert.Equal(before["songs.json"],
            Contents(await empty.Client.GetByteArrayAsync("/studio/data?handler=Archive"))["songs.json"]);
    }

    [Fact]
    public async Task A_set_goes_to_another_teacher_with_its_songs_and_nothing_else()
    {
        var giver = await host.VisitNewStudioAsync();
        var (one, two) =
            (await giver.TakeDownAsync("title: One Lamp\n| C | G |"), await giver.TakeDownAsync("title: Two Lamps\n| D | A |"));
        await giver.TakeDownAsync("title: Not In It\n| E |");
        await giver.AddStudentAsync("Fern");
        var made = (await giver.PostAsync("/sets", "/sets?handler=New", ("name", "summer"),
            ("key", $"{Guid.NewGuid()}"))).Headers.Location!.ToString();
        foreach (var song in new[] { two, one })
            await giver.PostAsync(made, made, ("act", "add"), ("song", song),
                ("version", (await giver.PageAsync(made)).QuerySelector("input[name=version]")!.GetAttribute("value")!));
        var file = await giver.Client.GetByteArrayAsync($"{made}?handler=Archive");
        Assert.DoesNotContain(Contents(file).Values,
            t => t.Contains("Not In It", StringComparison.Ordinal) || t.Contains("Fern", StringComparison.Ordinal));
        var taker = await host.VisitNewStudioAsync();
        var name = (await taker.PageAsync("/studio")).QuerySelector("h1, h2")!.TextContent;
        Assert.Equal(HttpStatusCode.OK, (await Bring(taker, file)).StatusCode);
        var set = await taker.PageAsync(made);
        Assert.Equal(["Two Lamps", "One Lamp"], set.QuerySelectorAll("table.list th a").Select(a => a.TextContent));
        Assert.Equal(name, (await taker.PageAsync("/studio")).QuerySelector("h1, h2")!.TextContent);
    }

    [Fact]
    public async Task What_is_no_archive_is_refused_and_leaves_nothing_behind()
    {
        var visitor = await host.VisitNewStudioAsync();
        byte[] Zip(params (string Name, string Text)[] entries)
        {
            using var stream = new MemoryStream();
            using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
                foreach (var (name, text) in entries)
                {
                    using var writer = new StreamWriter(zip.CreateEntry(name).Open());
                    writer.Write(text);
                }
            return stream.ToArray();
        }
        const string head =
            """{"form":1,"name":"x","noteNames":"asKey","fretsFromNut":false,"tunings":[0],"wishes":"","sheets":""}""";
        var id = Guid.NewGuid();
        foreach (var (archive, said) in new[]
        {
            (Encoding.UTF8.GetBytes("nonsense"), "no zip archive"), (Zip(("a.txt", "x")), "studio.json is missing"),
            (Zip(("studio.json", "{")), "cannot be read"),
            (Zip(("studio.json", head.Replace("\"form\":1", "\"form\":99"))), "reads form 1"),
            (Zip(("studio.json", head),
                    ("songs.json", $$"""[{"id":"{{id}}","title":"T","chartStamp":"","key":"C","tempo":90,"meter":"4/4"}]""")),
                "is missing"),
            (Zip(("studio.json", head),
                    ("entries.json",
                        $$"""[{"id":"{{id}}","studentId":"{{Guid.NewGuid()}}","at":"2026-01-01T00:00:00Z","kind":"note","text":"x"}]""")),
                "does not hold together"),
            (Zip(("studio.json", head),
                    ("students.json",
                        $$"""[{"id":"{{id}}","nickname":"N","handId":"claw","guitarId":"steel","barres":"neutral","skills":{} }]""")),
                "not known"),
        })
        {
            var answer = await Bring(visitor, archive);
            Assert.True(answer.StatusCode == HttpStatusCode.BadRequest, $"{answer.StatusCode} where “{said}” is meant");
            Assert.Contains(said, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            Assert.Empty((await visitor.PageAsync("/songs")).QuerySelectorAll(".desk tbody tr"));
        }
    }

    [Fact]
    public async Task A_key_reads_and_writes_its_own_studio_and_each_request_counts_once()
    {
        var visitor = await host.VisitNewStudioAsync();
        var made = await Visitor.Read(await visitor.PostAsync("/studio/data", "/studio/data?handler=Key", ("name", "a script")));
        var key = made.QuerySelector("input[readonly]")!.GetAttribute("value")!;
        var client = host.Visit().Client;
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("/api/v1/songs")).StatusCode);
        // A teacher's cookie is no key.
        Assert.Equal(HttpStatusCode.Unauthorized, (await visitor.Client.GetAsync("/api/v1/songs")).StatusCode);
        async Task<(HttpStatusCode Status, JsonElement Body)> Call(HttpMethod method, string path, object? body = null,
            Guid? request = null)
        {
            using var message =
                new HttpRequestMessage(method, $"/api/v1/{path}") { Content = body is null ? null : JsonContent.Create(body) };
            message.Headers.Authorization = new AuthenticationHeaderValue("Bearer", key);
            if (request is { } named) message.Headers.Add("Idempotency-Key", named.ToString());
            var answer = await client.SendAsync(message);
            return (answer.StatusCode, await answer.Content.ReadFromJsonAsync<JsonElement>());
        }
        var twice = Guid.NewGuid();
        var (created, song) =
            await Call(HttpMethod.Post, "songs", new { chart = "title: By Program\ntags: mine\n| C | Am | F | G |" }, twice);
        Assert.Equal(HttpStatusCode.Created, created);
        var (again, same) = await Call(HttpMethod.Post, "songs", new { chart = "title: By Program\n| C |" }, twice);
        Assert.Equal((HttpStatusCode.OK, song.GetProperty("id").GetString()), (again, same.GetProperty("id").GetString()));
        Assert.Equal(1, (await Call(HttpMethod.Get, "songs?q=program")).Body.GetProperty("all").GetInt32());
        var id = song.GetProperty("id").GetString();
        var version = (await Call(HttpMethod.Get, $"songs/{id}")).Body.GetProperty("version").GetUInt32();
        var (written, changed) =
            await Call(HttpMethod.Put, $"songs/{id}", new { chart = "title: By Program\n| C | G |", version });
        Assert.Equal((HttpStatusCode.OK, 2), (written, changed.GetProperty("chords").GetInt32()));
        Assert.Equal(HttpStatusCode.Conflict,
            (await Call(HttpMethod.Put, $"songs/{id}", new { chart = "| F |", version })).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await Call(HttpMethod.Put, $"songs/{id}", new { chart = "| F |" })).Status);
        var (added, student) = await Call(HttpMethod.Post, "students",
            new { nickname = "Fern", player = new { hand = "small", skills = new { changes = 30 } } });
        Assert.Equal(HttpStatusCode.Created, added);
        Assert.Equal("player.skills.changes",
            (await Call(HttpMethod.Post, "students",
                        new { nickname = "Fern", player = new { skills = new { changes = 300 } } })).Body.GetProperty("field")
                .GetString());
        var who = student.GetProperty("id").GetString();
        var entry = new { key = Guid.NewGuid(), kind = "time", minutes = 12, at = DateTimeOffset.UtcNow.AddHours(-1) };
        for (var i = 0; i < 2; i++)
            Assert.True((await Call(HttpMethod.Post, $"students/{who}/entries",
                            new { entries = new object[] { entry } })).Body.GetProperty("outcomes")[0].GetProperty("kept")
                .GetBoolean());
        Assert.Equal(1, (await Call(HttpMethod.Get, $"students/{who}/entries")).Body.GetProperty("all").GetInt32());
        Assert.Equal(7, (await Call(HttpMethod.Get, $"students/{who}/plan")).Body.GetArrayLength());
        Assert.Equal(HttpStatusCode.NotFound, (await Call(HttpMethod.Get, $"students/{Guid.NewGuid()}/plan")).Status);
        // A page beyond the last is empty, not a fault; another studio's song is not there.
        Assert.Equal(0,
            (await Call(HttpMethod.Get, "songs?page=2147483647&size=200")).Body.GetProperty("items").GetArrayLength());
        var foreign = await (await host.VisitNewStudioAsync()).TakeDownAsync("title: Not Yours\n| C |");
        Assert.Equal(HttpStatusCode.NotFound, (await Call(HttpMethod.Get, $"songs/{foreign}")).Status);
        // Ended, it opens nothing.
        var row = (await visitor.PageAsync("/studio/data")).QuerySelector("input[name=id]")!.GetAttribute("value")!;
        await visitor.PostAsync("/studio/data", "/studio/data?handler=End", ("id", row));
        Assert.Equal(HttpStatusCode.Unauthorized, (await Call(HttpMethod.Get, "songs")).Status);
    }
}
