using System.Net;

namespace Tembri.Web.Tests;

/// <summary>Finding songs and students, the class, the road, sets, the first hour.</summary>
public sealed class LibraryTests(TembriHost host)
{
    private static async Task<string[]> Found(Visitor visitor, string query) =>
        [.. (await visitor.PageAsync($"/songs?{query}")).QuerySelectorAll(".desk .song").Select(a => a.TextContent)];

    [Fact]
    public async Task Songs_are_found_by_what_stands_in_them()
    {
        var visitor = await host.VisitNewStudioAsync();
        var first = await visitor.TakeDownAsync("title: The Paper Lantern\nkey: Bb\ntempo: 96\nmeter: 6/8\ntags: campfire, "
            + "Quiet Ones\n[Verse 1]\n| [Bb]Lanterns on the [Gm7]river | [Eb/G]drift | [F]home |");
        await visitor.TakeDownAsync(
            "title: Gravel Road\nkey: Em\ntempo: 120\n[Chorus]\n| [Em]Walking 40 [Bm7b5]long miles | [F#m]home | [B7]again |");
        await visitor.AddStudentAsync("Fern");
        var both = new[] { "Gravel Road", "The Paper Lantern" };
        foreach (var (asked, found) in new (string, string[])[]
        {
            ("q=lantern", ["The Paper Lantern"]), ("q=lanterns+river", ["The Paper Lantern"]), ("q=home", both),
            ("q=Gm7", ["The Paper Lantern"]), ("q=Bm7b5", ["Gravel Road"]), ("q=Eb/G", ["The Paper Lantern"]),
            ("q=in+Bb", ["The Paper Lantern"]), ("q=key+Em", ["Gravel Road"]), ("q=in+E+minor", ["Gravel Road"]),
            ("q=6/8", ["The Paper Lantern"]), ("q=120", ["Gravel Road"]), ("q=gravel+40", ["Gravel Road"]), ("q=40+120", ["Gravel Road"]), ("q=96+120", []), ("q=chorus+home", ["Gravel Road"]),
            ("tag=campfire", ["The Paper Lantern"]),
            ("q=quiet", ["The Paper Lantern"]), ("q=papr+lantrn", ["The Paper Lantern"]), ("q=nothing+of+it", []),
            ("q=%27%29+%7C+drop", []), ("q=%26+%21+%28", both), ("sort=Tempo", ["The Paper Lantern", "Gravel Road"]),
            ("sort=Chords", both), ("q=F%23m", ["Gravel Road"]),
        })
        {
            var names = await Found(visitor, asked);
            Assert.True(names.SequenceEqual(found), $"{asked}: {string.Join(", ", names)}");
        }
        // What a version asks of a hand is known once it is arranged; whoever works off the queue may have arranged the other.
        await visitor.PageAsync($"/songs?handler=Row&song={first}");
        Assert.Contains("The Paper Lantern", await Found(visitor, "technique=capo"));
        Assert.Equal<string[]>(["The Paper Lantern"], await Found(visitor, "q=6/8+capo"));
        Assert.Equal<string[]>([], await Found(visitor, "technique=swing"));
        // Another studio finds none of it.
        Assert.Equal<string[]>([], await Found(await host.VisitNewStudioAsync(), "q=lantern"));
    }

    [Fact]
    public async Task Students_are_found_by_name_by_song_and_by_the_teachers_words()
    {
        var demo = await host.VisitDemoAsync();
        async Task<string[]> Who(string query) =>
            [.. (await demo.PageAsync($"/students?{query}")).QuerySelectorAll(".list tbody th a").Select(a => a.TextContent)];
        Assert.Equal<string[]>(["Juniper", "Moss", "Otis", "Pip", "Sable", "Wren"], await Who(""));
        Assert.Equal<string[]>(["Wren"], await Who("q=wre"));
        Assert.Equal<string[]>(["Otis", "Wren"], await Who("q=salt+on"));
        Assert.Equal("Sable", (await Who("sort=Practised"))[0]);
        Assert.Equal(6, (await Who("sort=Lesson")).Length);
        Assert.Equal<string[]>([], await Who("q=%25"));
    }

    [Fact]
    public async Task A_class_sheet_has_a_row_a_player_is_heard_together_and_says_who_cannot_play()
    {
        var demo = await host.VisitDemoAsync();
        var song = await demo.SongAsync("What the Heron Saw");
        string[] who = [await demo.StudentAsync("Juniper"), await demo.StudentAsync("Moss"), await demo.StudentAsync("Sable")];
        var query = string.Join('&', who.Select(w => $"with={w}"));
        var page = await demo.PageAsync($"/songs/{song}/class?{query}");
        Assert.Equal(["Juniper", "Moss", "Sable"],
            page.QuerySelectorAll(".class-parts tbody th b").Select(b => b.TextContent).Take(3));
        Assert.Contains("left-handed", page.QuerySelector(".class-parts tbody th")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("everyone sounds in", page.QuerySelector(".sheet-title")!.TextContent, StringComparison.Ordinal);
        var keys = page.QuerySelectorAll(".class-below a[href*='key=']").Select(a => a.GetAttribute("href")!).ToList();
        Assert.Equal(12, keys.Count);
        var moved = await demo.PageAsync(keys[0]);
        Assert.Contains("chosen by hand", moved.Body!.TextContent, StringComparison.Ordinal);
        var capo = await demo.PageAsync($"/songs/{song}/class?{query}&capo-{who[0]}=2&rung-{who[0]}=1&tempo=60");
        Assert.Contains("rung 1 · capo 2", capo.QuerySelector(".class-parts tbody th")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("at 60 a minute", capo.QuerySelector(".sheet-title")!.TextContent, StringComparison.Ordinal);
        var score = System.Text.Json.JsonDocument.Parse(
            await demo.Client.GetStringAsync($"/songs/{song}/class?handler=Score&{query}")).RootElement;
        var versions = score.GetProperty("versions");
        Assert.True(versions.GetProperty("rung").GetProperty("strokes").GetArrayLength()
            > versions.GetProperty("record").GetProperty("strokes").GetArrayLength());
        // Without anybody there is a choice, and nonsense in the address is as if it were not there.
        Assert.NotNull((await demo.PageAsync($"/songs/{song}/class?with=x&tempo=-1&key=99")).QuerySelector("input[name=with]"));
    }

    [Fact]
    public async Task The_road_shows_steps_with_reasons_and_what_stands_in_the_way()
    {
        var demo = await host.VisitDemoAsync();
        var (song, student) = (await demo.SongAsync("Gravel and Thyme"), await demo.StudentAsync("Moss"));
        foreach (var title in new[] { "Gravel and Thyme", "Salt on the Sill", "Two Left Shoes", "Paper Kites on Wires" })
            await demo.PageAsync($"/songs?handler=Row&song={await demo.SongAsync(title)}");
        var onward = await demo.PageAsync($"/students/{student}/road");
        Assert.NotEmpty(onward.QuerySelectorAll(".road-steps li"));
        Assert.All(onward.QuerySelectorAll(".road-steps li p:first-of-type"),
            p => Assert.Contains("Adds ", p.TextContent, StringComparison.Ordinal));
        var way = await demo.PageAsync($"/students/{student}/road?song={song}&rung=5&steps=4");
        Assert.Contains("Gravel and Thyme", way.QuerySelectorAll(".road-steps li").Last().TextContent, StringComparison.Ordinal);
        Assert.Contains("This is the goal", way.QuerySelectorAll(".road-steps li").Last().TextContent, StringComparison.Ordinal);
        Assert.Contains("What stands in the way", way.Body!.TextContent, StringComparison.Ordinal);
        Assert.NotEmpty(way.QuerySelectorAll("svg[aria-label*='Map of'] a"));
        Assert.Contains("No song of the library asks as much",
            (await demo.PageAsync($"/students/{student}/road?technique=Thumb&level=100")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK,
            (await demo.Client.GetAsync($"/students/{student}/road?technique=&song=&level=&rung=&steps=")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest,
            (await demo.Client.GetAsync($"/students/{student}/road?steps=nonsense&song=x")).StatusCode);
    }

    [Fact]
    public async Task A_set_is_ordered_kept_against_another_tab_and_played_through_on_the_stage()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (one, two, three) = (await visitor.TakeDownAsync("title: One\nrecord capo: 2\n| C | G |"),
            await visitor.TakeDownAsync("title: Two\n| C | G |"),
            await visitor.TakeDownAsync("title: Three\nrecord capo: 2\n| C | G |"));
        var student = await visitor.AddStudentAsync("Fern");
        var set = (await visitor.PostAsync("/sets", "/sets?handler=New", ("name", "Harvest"),
            ("key", $"{Guid.NewGuid()}"))).Headers.Location!.ToString();
        async Task<string> Version() =>
            (await visitor.PageAsync(set)).QuerySelector("input[name=version]")!.GetAttribute("value")!;
        async Task<string[]> Titles() =>
            [.. (await visitor.PageAsync(set)).QuerySelectorAll(".list tbody th a").Select(a => a.TextContent)];
        foreach (var song in new[] { one, two, three })
            await visitor.PostAsync(set, set, ("act", "add"), ("song", song), ("version", await Version()));
        Assert.Equal<string[]>(["One", "Two", "Three"], await Titles());
        Assert.Contains("2 capo moves", (await visitor.PageAsync(set)).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
        await visitor.PostAsync(set, set, ("act", "order"), ("version", await Version()));
        Assert.Equal<string[]>(["One", "Three", "Two"], await Titles());
        await visitor.PostAsync(set, set, ("act", "up"), ("at", "2"), ("version", await Version()));
        Assert.Equal<string[]>(["One", "Two", "Three"], await Titles());
        Assert.Equal(HttpStatusCode.Conflict,
            (await visitor.PostAsync(set, set, ("act", "out"), ("at", "0"), ("version", "1"))).StatusCode);
        Assert.Equal(3, (await Titles()).Length);
        await visitor.PostAsync(set, set, ("act", "name"), ("name", "Harvest"), ("student", student),
            ("version", await Version()));
        var stage = (await visitor.PageAsync(set)).QuerySelectorAll("a")
            .Single(a => a.TextContent.Contains("On the stage", StringComparison.Ordinal)).GetAttribute("href")!;
        var next = (await visitor.PageAsync(stage)).QuerySelector(".stage-set a[rel=next]")!;
        Assert.StartsWith("Two", next.TextContent, StringComparison.Ordinal);
        Assert.Contains("2 of 3", (await visitor.PageAsync(next.GetAttribute("href")!)).QuerySelector(".stage-set")!.TextContent,
            StringComparison.Ordinal);
        // A song that goes leaves the set, a student that goes leaves the set standing.
        await visitor.PostAsync($"/songs/{two}/remove", $"/songs/{two}/chart?handler=Remove", ("sure", "true"));
        Assert.Equal<string[]>(["One", "Three"], await Titles());
        await visitor.PostAsync($"/students/{student}/erase", $"/students/{student}/erase", ("sure", "true"));
        Assert.Equal(2, (await Titles()).Length);
        Assert.Equal(HttpStatusCode.NotFound, (await (await host.VisitNewStudioAsync()).Client.GetAsync(set)).StatusCode);
    }

    [Fact]
    public async Task An_empty_studio_is_led_to_its_first_sheet_and_its_examples_can_be_cleared_away()
    {
        var visitor = await host.VisitNewStudioAsync();
        async Task<int> Done() => (await visitor.PageAsync("/")).QuerySelectorAll(".first-hour li.done").Length;
        Assert.Equal(0, await Done());
        await visitor.PostAsync("/", "/studio?handler=Examples");
        await visitor.PostAsync("/", "/studio?handler=Examples");
        Assert.Equal(3, (await visitor.PageAsync("/songs")).QuerySelectorAll(".desk .song").Length);
        Assert.Equal(1, await Done());
        var student = await visitor.AddStudentAsync("Fern");
        Assert.Equal(2, await Done());
        var ladder = (await visitor.PageAsync("/")).QuerySelectorAll(".first-hour a")
            .Single(a => a.TextContent == "Open the ladder").GetAttribute("href")!;
        var song = ladder.Split('/')[2];
        await visitor.PageAsync(ladder);
        await visitor.PageAsync($"/songs?handler=Row&song={song}");
        Assert.Equal(3, await Done());
        await visitor.PostAsync($"/students/{student}/practice", $"/students/{student}/practice?handler=Work", ("song", song),
            ("rung", "1"));
        await visitor.PostAsync($"/students/{student}/practice", $"/students/{student}/practice?handler=Link", ("days", "90"));
        Assert.Equal(5, await Done());
        await visitor.PostAsync("/", "/?handler=Begun");
        Assert.Null((await visitor.PageAsync("/")).QuerySelector(".first-hour"));
        await visitor.PostAsync("/", "/studio?handler=ClearExamples");
        Assert.Empty((await visitor.PageAsync("/songs")).QuerySelectorAll(".desk .song"));
        Assert.Contains("The first hour", (await visitor.PageAsync("/guide")).QuerySelector("article")!.TextContent,
            StringComparison.Ordinal);
    }
}
