using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;

namespace Tembri.Web.Tests;

public sealed class ApiTests(TembriHost host)
{
    private async Task<(HttpStatusCode Status, JsonElement Body, string Type)> Call(string call, string json)
    {
        var answer =
            await host.Visit().Client.PostAsync($"/api/v1/{call}", new StringContent(json, Encoding.UTF8, "application/json"));
        return (answer.StatusCode, await answer.Content.ReadFromJsonAsync<JsonElement>(),
            answer.Content.Headers.ContentType!.MediaType!);
    }

    [Fact]
    public async Task Chords_are_read_or_said_to_be_unreadable_one_by_one()
    {
        var (status, body, _) = await Call("chords", """{"symbols":["F#m7b5/C","Hm","Cmaj9"]}""");
        Assert.Equal(HttpStatusCode.OK, status);
        var chords = body.GetProperty("chords");
        Assert.Equal("""{"symbol":"F#m7b5/C","ok":true,"name":"F♯m7♭5/C","root":6,"bass":0,"pitchClasses":[6,9,0,4],"degrees":["1","b3","b5","b7"],"error":null,"column":null}""",
            chords[0].GetRawText());
        Assert.False(chords[1].GetProperty("ok").GetBoolean());
        Assert.Equal(1, chords[1].GetProperty("column").GetInt32());
        Assert.Equal([0, 4, 7, 11, 2], chords[2].GetProperty("pitchClasses").EnumerateArray().Select(p => p.GetInt32()));
    }

    [Fact]
    public async Task Fingerings_come_with_barres_load_and_parts()
    {
        var (_, body, _) = await Call("fingerings", """{"shapes":[[1,3,3,2,1,1],[1,4,7,10,13,16]],"top":3,"thumb":false}""");
        var first = body.GetProperty("shapes")[0].GetProperty("fingerings")[0];
        Assert.Equal([1, 3, 4, 2, 1, 1], first.GetProperty("fingers").EnumerateArray().Select(f => f.GetInt32()));
        Assert.Equal("""{"finger":1,"fret":1,"lowString":0,"highString":5}""", first.GetProperty("barres")[0].GetRawText());
        Assert.InRange(first.GetProperty("load").GetDouble(), 67, 81);
        Assert.Contains(first.GetProperty("parts").EnumerateArray(),
            p => p.GetProperty("part").GetString() == "barre" && p.GetProperty("unit").GetString() == "N");
        Assert.Equal(0, body.GetProperty("shapes")[1].GetProperty("fingerings").GetArrayLength());
    }

    [Fact]
    public async Task The_shapes_of_a_chord_begin_with_what_teachers_teach()
    {
        static string Frets(JsonElement s) =>
            string.Concat(
                s.GetProperty("frets").EnumerateArray().Select(f => f.ValueKind == JsonValueKind.Null ? "x" : f.GetRawText()));
        var (_, f, _) = await Call("shapes", """{"chord":"F"}""");
        var first = f.GetProperty("shapes").EnumerateArray().Take(8).Select(Frets).ToList();
        foreach (var shape in new[] { "133211", "xx3211", "xx3210" }) Assert.Contains(shape, first);
        var (_, bm, _) = await Call("shapes", """{"chord":"Bm"}""");
        first = [.. bm.GetProperty("shapes").EnumerateArray().Take(6).Select(Frets)];
        foreach (var shape in new[] { "x24432", "xx4432", "x20202" }) Assert.Contains(shape, first);
        // At capo 3 a sounding E♭ is a C shape.
        var (_, eb, _) = await Call("shapes", """{"chord":"Eb","capo":3}""");
        Assert.Equal("C", eb.GetProperty("shapeName").GetString());
        Assert.Equal("x32010", Frets(eb.GetProperty("shapes")[0]));
    }

    [Fact]
    public async Task A_change_says_what_stays_and_how_long_it_takes()
    {
        var (_, body, _) = await Call("changes",
            """{"from":{"frets":[3,2,0,0,3,3],"fingers":[2,1,0,0,3,4]},"to":{"frets":[null,3,2,0,3,3],"fingers":[0,2,1,0,3,4]}}""");
        Assert.Equal([3, 4], body.GetProperty("parked").EnumerateArray().Select(f => f.GetInt32()));
        Assert.InRange(body.GetProperty("seconds").GetDouble(), 0.2, 0.7);
        // With the fingers left open, the pair is chosen for the change.
        var (_, free, _) = await Call("changes", """{"from":{"frets":[null,0,2,2,2,0]},"to":{"frets":[3,2,0,0,0,3]}}""");
        Assert.Equal(6, free.GetProperty("from").GetProperty("fingers").GetArrayLength());
    }

    [Fact]
    public async Task A_pattern_is_weighed_and_reduced_to_five_rungs()
    {
        var (status, body, _) = await Call("strums", """{"meter":"4/4","pattern":"D-du-udu","tempo":96,"swing":50}""");
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(["D", "-", "d", "u", "-", "u", "d", "u"],
            body.GetProperty("steps").EnumerateArray().Select(s => s.GetString()));
        Assert.Equal(["1", "&", "2", "&", "3", "&", "4", "&"],
            body.GetProperty("count").EnumerateArray().Select(s => s.GetString()));
        var rungs = body.GetProperty("rungs").EnumerateArray().ToList();
        Assert.Equal(["d.......", "D.d.d.d.", "D.dud.du", "D.dududu", "D-du-udu"],
            rungs.Select(r => r.GetProperty("pattern").GetString()));
        Assert.Equal(rungs.Select(r => r.GetProperty("load").GetDouble()).Order(),
            rungs.Select(r => r.GetProperty("load").GetDouble()));
        Assert.Equal(body.GetProperty("load").GetDouble(), rungs[4].GetProperty("load").GetDouble());
        Assert.All(rungs, r => Assert.False(string.IsNullOrEmpty(r.GetProperty("reason").GetString())));
        Assert.Contains("accent on 1", rungs[2].GetProperty("keeps").EnumerateArray().Select(k => k.GetString()));
        Assert.Contains("push before 3", rungs[4].GetProperty("keeps").EnumerateArray().Select(k => k.GetString()));
        Assert.Contains(body.GetProperty("parts").EnumerateArray(), p => p.GetProperty("technique").GetString() == "misses");
    }

    [Fact]
    public async Task A_log_is_replayed_into_skills_with_a_reason_for_each_entry()
    {
        const string Log = """
            {"student":{"skills":{"changes":41}},"entries":[
             {"at":"2026-01-07T15:00:00Z","kind":"strum","pattern":"D-du-udu","meter":"4/4","tempo":90,"clean":true},
             {"at":"2026-01-05T15:00:00Z","kind":"change","from":{"frets":[null,3,2,0,1,0]},"to":{"frets":[3,2,0,0,0,3]},"count":60,"seconds":60},
             {"at":"2026-01-06T15:00:00Z","kind":"shape","shape":{"frets":[1,3,3,2,1,1],"fingers":[1,3,4,2,1,1]},"tries":10,"clean":0}]}
            """;
        var (status, body, _) = await Call("skills", Log);
        Assert.Equal(HttpStatusCode.OK, status);
        var steps = body.GetProperty("steps").EnumerateArray().ToList();
        // In the order of time, each named by its place in what was sent.
        Assert.Equal([1, 2, 0], steps.Select(s => s.GetProperty("entry").GetInt32()));
        var change = Assert.Single(steps[0].GetProperty("changed").EnumerateArray());
        Assert.Equal(("changes", 41), (change.GetProperty("technique").GetString(), change.GetProperty("from").GetDouble()));
        Assert.True(change.GetProperty("to").GetDouble() > 41 && steps[0].GetProperty("expected").GetDouble() < 60);
        Assert.StartsWith("60 clean C to G: changing 41 → ", steps[0].GetProperty("why").GetString(), StringComparison.Ordinal);
        Assert.All(steps[1].GetProperty("changed").EnumerateArray(),
            c => Assert.True(c.GetProperty("to").GetDouble() < c.GetProperty("from").GetDouble()));
        var skills = body.GetProperty("skills");
        Assert.Equal(8, skills.EnumerateObject().Count());
        Assert.True(skills.GetProperty("changes").GetProperty("deviation").GetDouble()
            < skills.GetProperty("thumb").GetProperty("deviation").GetDouble());
        // Without entries: as told, and unsure.
        var (_, empty, _) = await Call("skills", """{"student":{"skills":{"fullBarre":12}},"entries":[]}""");
        Assert.Equal((12, 18),
            (empty.GetProperty("skills").GetProperty("fullBarre").GetProperty("mean").GetDouble(),
                empty.GetProperty("skills").GetProperty("fullBarre").GetProperty("deviation").GetDouble()));
    }

    [Theory]
    [InlineData("skills", """{"student":{}}""", "entries")]
    [InlineData("skills", """{"entries":[{"at":"2026-01-05T15:00:00Z","kind":"dance"}]}""", "entries[0].kind")]
    [InlineData("skills", """{"entries":[{"at":"soon","kind":"shape"}]}""", "entries[0].at")]
    [InlineData("skills",
        """{"entries":[{"at":"2026-01-05T15:00:00Z","kind":"change","from":{"frets":[null,3,2,0,1,0]},"to":{"frets":[3,2,0,0,0,3]},"count":900,"seconds":60}]}""",
        "entries[0].count")]
    [InlineData("skills",
        """{"entries":[{"at":"2026-01-05T15:00:00Z","kind":"shape","shape":{"frets":[3,2,0,0,0,3]},"tries":5,"clean":6}]}""",
        "entries[0].clean")]
    [InlineData("skills",
        """{"entries":[{"at":"2026-01-05T15:00:00Z","kind":"strum","pattern":"Dddd","tempo":9,"clean":true}]}""",
        "entries[0].tempo")]
    [InlineData("skills",
        """{"entries":[{"at":"2026-01-05T15:00:00Z","kind":"shape","shape":{"frets":[1,2,3,4,5,24]},"tries":5,"clean":1}]}""",
        "entries[0].shape.frets")]
    [InlineData("skills", """{"entries":[null]}""", "entries[0]")]
    [InlineData("strums", """{"pattern":"D-du-"}""", "pattern")]
    [InlineData("strums", """{"meter":"4","pattern":"Dddd"}""", "meter")]
    [InlineData("strums", """{"pattern":"Dddd","tempo":0}""", "tempo")]
    [InlineData("strums", """{"pattern":"Dddd","swing":90}""", "swing")]
    [InlineData("figures", """{"notes":[]}""", "notes")]
    [InlineData("figures", """{"notes":[{"pitch":64},{"pitch":20}]}""", "notes[1].pitch")]
    [InlineData("figures", """{"notes":[{"pitch":64,"beats":-1}]}""", "notes[0].beats")]
    [InlineData("figures", """{"notes":[null]}""", "notes[0]")]
    [InlineData("figures", """{"tab":"e|--0--|"}""", "tab")]
    public async Task What_is_no_pattern_or_figure_is_said_by_its_field(string call, string json, string field)
    {
        var (status, body, type) = await Call(call, json);
        Assert.Equal((HttpStatusCode.BadRequest, "application/problem+json"), (status, type));
        Assert.Contains(field, body.GetRawText(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_figure_gets_its_easiest_way_and_others_from_notes_or_tablature()
    {
        static List<int> Pitches(JsonElement path, int capo = 0) =>
            [.. path.EnumerateArray()
                .Select(p => new[] { 40, 45, 50, 55, 59, 64 }[p.GetProperty("string").GetInt32()]
                    + p.GetProperty("fret").GetInt32() + capo)];
        var (status, body, _) = await Call("figures",
            """{"notes":[{"pitch":48,"beats":0.5},{"pitch":50,"beats":0.5},{"pitch":null,"beats":1},{"pitch":52,"beats":0.5},{"pitch":53,"beats":0.5}],"tempo":96}""");
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal([48, 50, 52, 53], Pitches(body.GetProperty("path")));
        var cost = body.GetProperty("cost").GetDouble();
        Assert.NotEqual(0, body.GetProperty("alternatives").GetArrayLength());
        Assert.All(body.GetProperty("alternatives").EnumerateArray(), a =>
        {
            Assert.Equal([48, 50, 52, 53], Pitches(a.GetProperty("path")));
            Assert.True(a.GetProperty("cost").GetDouble() >= cost);
        });
        // Above a capo frets are counted from it.
        var (_, above, _) =
            await Call("figures", """{"notes":[{"pitch":52},{"pitch":55}],"capo":2,"hand":"child","guitar":"half"}""");
        Assert.Equal([52, 55], Pitches(above.GetProperty("path"), 2));
        var (_, tab, _) = await Call("figures",
            """{"tab":"e|---------|\nB|---------|\nG|---------|\nD|-0-2-----|\nA|-----3---|\nE|---------|"}""");
        Assert.Equal([50, 52, 48], Pitches(tab.GetProperty("path")));
    }

    [Fact]
    public async Task A_ladder_answers_everything_the_contract_names()
    {
        var (status, body, _) = await Call("ladder",
            """{"chart":"title: A\ntempo: 96\nkey: Eb\n| Eb | Ab | Bb7 | Xy |","aim":"record","maxCapo":5,"company":"alone","student":{"hand":"child","guitar":"three-quarter","thumb":false,"barres":"avoid","skills":{"fingers":30}}}""");
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(("A", "E♭", "4/4"),
            (body.GetProperty("title").GetString(), body.GetProperty("key").GetString(), body.GetProperty("meter").GetString()));
        Assert.Equal(["E♭", "A♭", "B♭7"], body.GetProperty("chords").EnumerateArray().Select(c => c.GetString()));
        Assert.Equal(6, body.GetProperty("positions").GetArrayLength());
        Assert.All(body.GetProperty("positions").EnumerateArray(),
            p => Assert.Equal((5, 5, 5),
                (p.GetProperty("feasible").GetArrayLength(), p.GetProperty("loads").GetArrayLength(),
                    p.GetProperty("closeness").GetArrayLength())));
        Assert.Equal([1, 2, 3, 4, 5],
            body.GetProperty("rungs").EnumerateArray().Select(r => r.GetProperty("number").GetInt32()));
        var rung = body.GetProperty("rungs")[1];
        foreach (var name in new[]
        {
            "name", "capo", "load", "closeness", "fit", "comfortableTempo", "verdict", "newShapes", "chords", "changes", "strum"
        })
            Assert.True(rung.TryGetProperty(name, out _), name);
        foreach (var name in new[] { "symbol", "shapeName", "frets", "fingers", "load", "closeness", "swap", "reason" })
            Assert.True(rung.GetProperty("chords")[0].TryGetProperty(name, out _), name);
        foreach (var name in new[] { "from", "to", "count", "neededSeconds", "availableSeconds", "pInTime" })
            Assert.True(rung.GetProperty("changes")[0].TryGetProperty(name, out _), name);
        Assert.Equal(4, body.GetProperty("problems")[0].GetProperty("line").GetInt32());
    }

    [Theory]
    [InlineData("chords", """{}""", "symbols")]
    [InlineData("fingerings", """{"shapes":[[1,3,3,2,1,1],[1,3,3,2,1,99]]}""", "shapes[1][5]")]
    [InlineData("fingerings", """{"shapes":[[1,3,3]]}""", "shapes[0]")]
    [InlineData("fingerings", """{"shapes":[[1,3,"a",2,1,1]]}""", "shapes[0][2]")]
    [InlineData("fingerings", """{"shapes":[],"hand":"giant"}""", "hand")]
    [InlineData("fingerings", """{"shapes":[],"capo":14}""", "capo")]
    [InlineData("shapes", """{"chord":"Hm"}""", "chord")]
    [InlineData("changes", """{"from":{"frets":[0,0,0,0,0,0]},"to":{"frets":[1,3,3,2,1,1],"fingers":[1,1,1,1,1,1]}}""",
        "to.fingers")]
    [InlineData("ladder", """{"chart":""}""", "chart")]
    [InlineData("ladder", """{"chart":"| C |","aim":"moon"}""", "aim")]
    [InlineData("ladder", """{"chart":"| C |","student":{"skills":{"fingers":140}}}""", "student.skills.fingers")]
    [InlineData("ladder", """{"chart":"| C |",""", "")]
    [InlineData("convert", """{"chart":"| C |","to":"wax"}""", "to")]
    [InlineData("convert", """{"chart":"| C |","to":"json","rung":7}""", "rung")]
    [InlineData("convert", """{"chart":"| C |","from":"midi","to":"json"}""", "chart")]
    [InlineData("convert", """{"chart":"<score-partwise><part>","to":"json"}""", "chart")]
    public async Task Bad_input_is_answered_with_problem_details_that_name_the_field(string call, string json, string field)
    {
        var (status, body, type) = await Call(call, json);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal("application/problem+json", type);
        Assert.Equal(400, body.GetProperty("status").GetInt32());
        Assert.True(body.GetProperty("detail").GetString()!.Length > 10);
        if (field.Length > 0) Assert.Equal(field, body.GetProperty("field").GetString());
    }

    [Theory]
    [InlineData("bars", "text/plain", "| Eb | Ab |")]
    [InlineData("brackets", "text/plain", "{title: Kites}")]
    [InlineData("over-lyrics", "text/plain", "Eb Ab")]
    [InlineData("musicxml", "application/vnd.recordare.musicxml+xml", "<root-step>E</root-step>")]
    [InlineData("json", "application/json", "tembri chart")]
    [InlineData("midi", "audio/midi", "MThd")]
    public async Task A_chart_is_converted_to_every_format(string to, string media, string holds)
    {
        var answer = await host.Visit().Client.PostAsJsonAsync("/api/v1/convert",
            new { chart = "title: Kites\nkey: Eb\n| Eb | Ab |", from = "auto", to });
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Equal(media, answer.Content.Headers.ContentType!.MediaType);
        Assert.Contains(holds, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        // And back: a ladder of the document is a ladder of the chart.
        if (to is "midi") return;
        var (_, body, _) = await Call("ladder",
            JsonSerializer.Serialize(new { chart = await answer.Content.ReadAsStringAsync(), format = "auto" }));
        Assert.Equal(["E♭", "A♭"], body.GetProperty("chords").EnumerateArray().Select(c => c.GetString()));
    }

    [Fact]
    public async Task A_rung_is_converted_as_its_hand_plays_it()
    {
        var answer = await host.Visit().Client.PostAsJsonAsync("/api/v1/convert",
            new { chart = "title: Kites\nkey: Ab\n| Ab | Db | Eb | Ab |", to = "bars", rung = 2 });
        var text = await answer.Content.ReadAsStringAsync();
        Assert.StartsWith("capo: 1\n", text, StringComparison.Ordinal);
        Assert.Contains("key: A♭", text, StringComparison.Ordinal);
        Assert.Contains("| G |", text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_batch_beyond_the_limit_is_refused()
    {
        var symbols = string.Join(",", Enumerable.Repeat("\"C\"", 5_001));
        var (status, _, _) = await Call("chords", $$"""{"symbols":[{{symbols}}]}""");
        Assert.Equal(HttpStatusCode.BadRequest, status);
    }

    [Fact]
    public async Task The_openapi_document_names_the_six_calls()
    {
        var document = await host.Visit().Client.GetFromJsonAsync<JsonElement>("/openapi/v1.json");
        var paths = document.GetProperty("paths");
        foreach (var call in new[] { "chords", "fingerings", "shapes", "changes", "ladder", "convert" })
            Assert.True(paths.GetProperty($"/api/v1/{call}").TryGetProperty("post", out _), call);
    }

    [Fact]
    public async Task A_class_sounds_in_one_key_and_each_part_is_what_the_students_own_ladder_says()
    {
        const string chart = "key: Eb\\ntempo: 88\\n| Eb | Cm | Ab | Bb7 |";
        const string weak = """{"skills":{"fingers":25,"changes":25,"fullBarre":0}}""",
            able = """{"barres":"seek","skills":{"fingers":70,"changes":70,"fullBarre":60}}""";
        var (status, body, _) = await Call("class",
            $$"""{"chart":"{{chart}}","students":[{"id":"a","student":{{weak}},"rungs":[1,2]},{"id":"b","student":{{able}},"rungs":[5]}],"maxCapo":4,"tempo":88}""");
        Assert.Equal(HttpStatusCode.OK, status);
        var players = body.GetProperty("players").EnumerateArray().ToList();
        Assert.Equal(["a", "b"], players.Select(p => p.GetProperty("id").GetString()));
        Assert.Equal(players.Min(p => p.GetProperty("fit").GetDouble()), body.GetProperty("worstFit").GetDouble(), 0.051);
        Assert.Equal(12, body.GetProperty("keys").GetArrayLength());
        Assert.True(body.GetProperty("keys").EnumerateArray().Max(k => k.GetProperty("worstFit").GetDouble())
            <= body.GetProperty("worstFit").GetDouble() + 0.051);
        // In the record's key without capo it is the ladder's own rung.
        var (_, alone, _) = await Call("class",
            $$"""{"chart":"{{chart}}","students":[{"id":"b","student":{{able}},"rungs":[5],"capo":0}],"semitones":0,"tempo":88}""");
        var (_, ladder, _) = await Call("ladder", $$"""{"chart":"{{chart}}","maxCapo":0,"student":{{able}} }""");
        Assert.Equal(ladder.GetProperty("rungs")[4].GetProperty("fit").GetDouble(),
            alone.GetProperty("players")[0].GetProperty("fit").GetDouble());
        // An open tempo is at most the record's; bad bodies name their field.
        var (_, open, _) = await Call("class",
            $$"""{"chart":"{{chart}}","students":[{"id":"a","student":{{weak}},"rungs":[3]}],"maxCapo":0,"tempo":null}""");
        Assert.InRange(open.GetProperty("tempo").GetDouble(), 44, 88);
        foreach (var (wrong, field) in new[]
        {
            ("""[{"id":"a","rungs":[6]}]""", "students[0].rungs"), ("""[{"id":"a"},{"id":"a"}]""", "students[1].id"),
            ("""[{"id":"a","student":{"skills":{"changes":101}}}]""", "students[0].student.skills.changes")
        })
        {
            var (refused, problem, _) = await Call("class", $$"""{"chart":"{{chart}}","students":{{wrong}}}""");
            Assert.Equal((HttpStatusCode.BadRequest, field), (refused, problem.GetProperty("field").GetString()));
        }
    }

    [Fact]
    public async Task A_road_ends_at_its_goal_and_adds_no_more_than_it_says()
    {
        const string songs =
            """[{"id":"easy","chart":"tempo: 80\n| C | Am | C | Am |"},{"id":"barre","chart":"key: F\ntempo: 80\n| F | Bb | F | C |"},{"id":"hard","chart":"key: Bb\ntempo: 100\n| Bb | Gm | Eb | F7 | Bbmaj7 | Cm |"}]""";
        const string student = """{"barres":"seek","skills":{"fingers":45,"fullBarre":5,"shortBarre":20,"changes":35}}""";
        var (status, body, _) = await Call("road",
            $$"""{"student":{{student}},"songs":{{songs}},"goal":{"song":"hard","rung":5},"steps":4,"maxCapo":0}""");
        Assert.Equal(HttpStatusCode.OK, status);
        var path = body.GetProperty("path").EnumerateArray().ToList();
        Assert.Equal(("hard", 5), (path[^1].GetProperty("song").GetString(), path[^1].GetProperty("rung").GetInt32()));
        Assert.Equal(0, body.GetProperty("gap").GetDouble());
        Assert.All(path, s => Assert.NotEmpty(s.GetProperty("why").GetString()!));
        var (_, direct, _) = await Call("road",
            $$"""{"student":{{student}},"songs":{{songs}},"goal":{"song":"hard","rung":5},"steps":1,"maxCapo":0}""");
        Assert.True(body.GetProperty("price").GetDouble() < direct.GetProperty("price").GetDouble());
        var (_, technique, _) =
            await Call("road", $$"""{"student":{{student}},"songs":{{songs}},"goal":{"technique":"fullBarre","level":99} }""");
        Assert.Equal(("nothingLeadsThere", 0),
            (technique.GetProperty("end").GetString(), technique.GetProperty("path").GetArrayLength()));
        var (_, onward, _) =
            await Call("road", $$"""{"student":{{student}},"songs":{{songs}},"goal":null,"steps":2,"maxCapo":0}""");
        Assert.NotEmpty(onward.GetProperty("path").EnumerateArray().First().GetProperty("adds").EnumerateArray());
        var (refused, problem, _) =
            await Call("road", $$"""{"student":{{student}},"songs":{{songs}},"goal":{"song":"none","rung":5} }""");
        Assert.Equal((HttpStatusCode.BadRequest, "goal"), (refused, problem.GetProperty("field").GetString()));
    }
}
