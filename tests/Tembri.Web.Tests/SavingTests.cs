using System.Net;
using System.Text.Json;

namespace Tembri.Web.Tests;

/// <summary>What is acknowledged is stored, once, and nothing else is; whatever is refused says so with its own
/// status.</summary>
public sealed class SavingTests(TembriHost host)
{
    private static async Task<JsonElement> Json(HttpResponseMessage answer) =>
        JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement;

    private static HttpRequestMessage FromScript(HttpMethod method, string address, HttpContent? content = null)
    {
        var request = new HttpRequestMessage(method, address) { Content = content };
        request.Headers.Add("X-Tembri", "script");
        return request;
    }

    [Fact]
    public async Task Who_is_signed_out_gets_401_from_every_form_and_fragment_and_nothing_is_stored()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Slow Tide\n| A | D |");
        var page = await visitor.PageAsync($"/songs/{song}/chart");
        string Value(string name) => page.QuerySelector($"input[name={name}]")!.GetAttribute("value")!;
        var (token, version) = (Value("__RequestVerificationToken"), Value("Version"));
        await visitor.PostAsync("/", "/account/sign-out");
        FormUrlEncodedContent Form() =>
            new([KeyValuePair.Create("Text", "title: Slow Tide\n| E |"), KeyValuePair.Create("Version", version),
                KeyValuePair.Create("to", "C"), KeyValuePair.Create("__RequestVerificationToken", token)]);
        foreach (var handler in new[] { "Keep", "Move", "Act", "Check", "Mend" })
            foreach (var scripted in new[] { true, false })
            {
                var address = $"/songs/{song}/chart?handler={handler}";
                var answer = await visitor.Client.SendAsync(scripted
                    ? FromScript(HttpMethod.Post, address, Form())
                    : new HttpRequestMessage(HttpMethod.Post, address) { Content = Form() });
                Assert.True(answer.StatusCode == HttpStatusCode.Unauthorized, $"{handler}: {answer.StatusCode}");
                if (scripted) Assert.Equal("application/problem+json", answer.Content.Headers.ContentType!.MediaType);
                else Assert.Contains("You are signed out", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            }
        var fragment = FromScript(HttpMethod.Get, $"/songs?handler=Row&song={song}");
        fragment.Headers.Add("HX-Request", "true");
        Assert.Equal(HttpStatusCode.Unauthorized, (await visitor.Client.SendAsync(fragment)).StatusCode);
        // A person who opens a page is led to the sign-in.
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.Client.GetAsync($"/songs/{song}/chart")).StatusCode);
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        await using var command = new Npgsql.NpgsqlCommand($"select chart_text from songs where id = '{song}'", connection);
        Assert.Equal("title: Slow Tide\n| A | D |", await command.ExecuteScalarAsync());
    }

    [Fact]
    public async Task A_form_sent_five_times_at_once_makes_one_song_and_one_student()
    {
        var visitor = await host.VisitNewStudioAsync();
        async Task<HashSet<string>> SendFive(string address, params (string Name, string Value)[] fields)
        {
            var page = await visitor.PageAsync(address);
            var all = fields.Concat([("RequestKey", page.QuerySelector("input[name=RequestKey]")!.GetAttribute("value")!),
                ("__RequestVerificationToken",
                    page.QuerySelector("main input[name=__RequestVerificationToken]")!.GetAttribute("value")!)]);
            var pairs = all.Select(f => KeyValuePair.Create(f.Item1, f.Item2)).ToList();
            var answers = await Task.WhenAll(
                Enumerable.Range(0, 5).Select(_ => visitor.Client.PostAsync(address, new FormUrlEncodedContent(pairs))));
            Assert.All(answers, a => Assert.Equal(HttpStatusCode.Redirect, a.StatusCode));
            return [.. answers.Select(a => a.Headers.Location!.ToString().Split('?')[0])];
        }
        Assert.Single(await SendFive("/songs/new", ("Text", "title: Once\n| C |"), ("Version", "0")));
        Assert.Single(await SendFive("/students/new", ("Form.Nickname", "Fern"), ("Form.HandId", "medium"),
            ("Form.GuitarId", "steel"), ("Form.Barres", "Neutral")));
        var desk = await visitor.PageAsync("/songs");
        Assert.Single(desk.QuerySelectorAll(".desk .song"));
        Assert.Single(desk.QuerySelectorAll(".desk thead a"));
    }

    [Fact]
    public async Task Twenty_decisions_on_one_ladder_at_once_are_one_done_and_nineteen_told()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (song, student) = (await visitor.TakeDownAsync("| C | F | G |"), await visitor.AddStudentAsync("Fern"));
        var ladder = $"/songs/{song}/ladder/{student}";
        var page = await visitor.PageAsync(ladder);
        var token = page.QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        Task<HttpResponseMessage> Decide(int capo, int revision, string? step = null) =>
            visitor.Client.PostAsync($"{ladder}?handler=Capo", new FormUrlEncodedContent(
            new[]
            {
                ("capo", capo.ToString()), ("revision", revision.ToString()), ("__RequestVerificationToken", token),
                ("step", step ?? "")
            }.Select(f => KeyValuePair.Create(f.Item1, f.Item2))));
        var answers = await Task.WhenAll(Enumerable.Range(0, 20).Select(i => Decide(i % 10, 0)));
        Assert.Equal(1, answers.Count(a => a.StatusCode == HttpStatusCode.Redirect));
        Assert.Equal(19, answers.Count(a => a.StatusCode == HttpStatusCode.Conflict));
        Assert.Contains("changed in another tab",
            (await Visitor.Read(answers.First(a => a.StatusCode == HttpStatusCode.Conflict)))
                .QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        // An old tab does not win either; the same step sent again counts once.
        Assert.Equal(HttpStatusCode.Conflict, (await Decide(2, 0)).StatusCode);
        var step = Guid.NewGuid().ToString();
        Assert.Equal(HttpStatusCode.Redirect, (await Decide(2, 1, step)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Decide(2, 1, step)).StatusCode);
        Assert.Equal("2", (await visitor.PageAsync(ladder)).QuerySelector("input[name=revision]")!.GetAttribute("value"));
    }

    [Fact]
    public async Task A_save_whose_answer_was_lost_can_be_sent_again_and_an_older_one_is_refused()
    {
        var visitor = await host.VisitNewStudioAsync();
        var page = $"/songs/{await visitor.TakeDownAsync("title: Slow Tide\n| A |")}/chart";
        var version = (await visitor.PageAsync(page)).QuerySelector("input[name=Version]")!.GetAttribute("value")!;
        Task<HttpResponseMessage> Keep(string text) =>
            visitor.PostAsync(page, $"{page}?handler=Keep", ("Text", text), ("Version", version));
        var first = (await Json(await Keep("title: Slow Tide\n| B |"))).GetProperty("version").GetUInt32();
        var again = await Keep("title: Slow Tide\n| B |");
        Assert.Equal((HttpStatusCode.OK, first), (again.StatusCode, (await Json(again)).GetProperty("version").GetUInt32()));
        Assert.Equal(HttpStatusCode.Conflict, (await Keep("title: Slow Tide\n| C |")).StatusCode);
    }

    [Fact]
    public async Task Settings_of_the_studio_know_their_version()
    {
        var visitor = await host.VisitNewStudioAsync();
        var version = (await visitor.PageAsync("/studio")).QuerySelector("input[name='Form.Version']")!.GetAttribute("value")!;
        Task<HttpResponseMessage> Save(string name) =>
            visitor.PostAsync("/studio", "/studio", ("Form.Name", name), ("Form.NoteNames", "Sharps"),
                ("Form.FretsFromNut", "true"), ("Form.Tunings", "0"), ("Form.Version", version));
        Assert.Equal(HttpStatusCode.Redirect, (await Save("First Tab")).StatusCode);
        var old = await Save("Old Tab");
        Assert.Equal(HttpStatusCode.Conflict, old.StatusCode);
        var shown = await Visitor.Read(old);
        Assert.Contains("changed in another tab", shown.QuerySelector("[role=alert]")!.TextContent, StringComparison.Ordinal);
        // What was chosen stands there still, with the version that saves it knowingly.
        Assert.Equal("Old Tab", shown.QuerySelector("input[name='Form.Name']")!.GetAttribute("value"));
        Assert.NotEqual(version, shown.QuerySelector("input[name='Form.Version']")!.GetAttribute("value"));
        Assert.Contains("First Tab", (await visitor.PageAsync("/studio")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("title: a\u0001b\u0007\n[C]x\u000Bword", "title: ab\n[C]xword")]
    [InlineData("title: a\uFFFEb\n| C |", "title: ab\n| C |")]
    public async Task Characters_that_break_xml_or_the_database_are_dropped_on_saving(string text, string stored)
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync(text);
        Assert.Equal(stored,
            (await visitor.PageAsync($"/songs/{song}/chart")).QuerySelector("textarea")!.TextContent.TrimStart('\n'));
        Assert.Equal(HttpStatusCode.OK,
            (await visitor.Client.GetAsync($"/songs/{song}/files?handler=Download&format=MusicXml")).StatusCode);
    }

    [Fact]
    public async Task A_title_is_never_cut_inside_a_letter()
    {
        var visitor = await host.VisitNewStudioAsync();
        // 79 letters of two units each and one more make 159 units; the next would end at 161.
        var title = "x" + string.Concat(Enumerable.Repeat("\U0001F3B8", 90));
        await visitor.TakeDownAsync($"title: {title}\n| C |");
        var shown = (await visitor.PageAsync("/songs")).QuerySelector(".desk .song")!.TextContent;
        Assert.Equal("x" + string.Concat(Enumerable.Repeat("\U0001F3B8", 79)), shown);
    }

    [Fact]
    public async Task Odd_numbers_and_unknown_handlers_get_their_own_answers()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (song, student) = (await visitor.TakeDownAsync("| C | F |"), await visitor.AddStudentAsync("Fern"));
        var ladder = $"/songs/{song}/ladder/{student}";
        foreach (var (address, status) in new[]
        {
            ($"{ladder}?capo=99", 400), ($"{ladder}?capo=-1", 400), ($"{ladder}?capo=2147483648", 400),
            ($"{ladder}?rung=abc", 400), ($"{ladder}?handler=Dance", 404), ($"/songs/{song}/places/{student}?tuning=1e308", 400),
            ($"/songs/{song}/listen/{student}?capo=99", 400), ("/songs?handler=Row&song=nonsense", 400),
            ($"/songs/{song}/chart?handler=Dance", 404), ("/nothing/here", 404),
            ($"/songs/{song}/files?handler=Download&format=99", 400),
        })
        {
            var answer = await visitor.Client.GetAsync(address);
            Assert.True((int)answer.StatusCode == status, $"{address}: {answer.StatusCode}");
            Assert.Contains("<h1", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
        foreach (var (address, fields, status) in new (string, (string, string)[], int)[]
        {
            ($"{ladder}?handler=Capo", [("capo", "99")], 400), ($"{ladder}?handler=Capo", [("capo", "2147483648")], 400),
            ($"{ladder}?handler=Place", [("capo", "1"), ("tuning", "1e308")], 400),
            ($"{ladder}?handler=Aim", [("aim", "77"), ("company", "Alone")], 400),
            ($"{ladder}?handler=Take", [("rung", "1"), ("chord", "2147483648"), ("capo", "0"), ("frets", "0"), ("fingers", "0")],
                400),
            ($"{ladder}?handler=Dance", [], 404), ($"{ladder}", [], 405),
            ($"/students/{student}?handler=Keep", [("Form.Nickname", "F"), ("Form.Fingers", "1e308")], 422),
            ($"/students/{student}?handler=Keep", [("Form.Nickname", "F"), ("Form.Barres", "9")], 422),
            ("/studio", [("Form.Name", "x"), ("Form.NoteNames", "2147483648"), ("Form.Tunings", "0")], 200),
        })
        {
            var answer = await visitor.PostAsync("/studio", address, fields);
            Assert.True((int)answer.StatusCode == status, $"{address} {fields.FirstOrDefault()}: {answer.StatusCode}");
        }
        Assert.Equal("Fern", (await visitor.PageAsync($"/students/{student}")).QuerySelector("h1")!.TextContent);
    }

    [Fact]
    public async Task Removing_while_others_change_ends_in_a_clear_answer_for_each()
    {
        var visitor = await host.VisitNewStudioAsync();
        for (var round = 0; round < 4; round++)
        {
            var (song, student) = (await visitor.TakeDownAsync("| C | F |"), await visitor.AddStudentAsync("Fern"));
            var page = await visitor.PageAsync($"/songs/{song}/chart");
            string Value(string name) => page.QuerySelector($"main input[name={name}]")!.GetAttribute("value")!;
            Task<HttpResponseMessage> Send(string address, params (string, string)[] fields) =>
                visitor.Client.PostAsync(address,
                    new FormUrlEncodedContent(fields.Append(("__RequestVerificationToken", Value("__RequestVerificationToken")))
                        .Select(f => KeyValuePair.Create(f.Item1, f.Item2))));
            var answers = await Task.WhenAll(
                Send($"/songs/{song}/chart?handler=Keep", ("Text", "| G |"), ("Version", Value("Version"))),
                Send($"/songs/{song}/chart?handler=Remove", ("sure", "true")),
                Send($"/songs/{song}/ladder/{student}?handler=Capo", ("capo", "2")),
                Send($"/students/{student}/erase"), Send($"/songs/{song}/chart?handler=Remove", ("sure", "true")),
                Send($"/students/{student}?handler=Keep", ("Form.Nickname", "New"), ("Form.Version", "1")),
                visitor.Client.GetAsync($"/songs?handler=Row&song={song}"));
            Assert.All(answers,
                a => Assert.True((int)a.StatusCode is 200 or 302 or 404 or 409,
                    $"{a.RequestMessage!.RequestUri}: {a.StatusCode}"));
        }
    }

    [Theory]
    [InlineData("GET", "/api/v1/nothing", 404)]
    [InlineData("GET", "/api/v1/ladder", 405)]
    [InlineData("POST", "/api/v1/ladder", 415)]
    public async Task The_api_answers_faults_of_addresses_methods_and_media_as_problem_details(string method, string address,
        int status)
    {
        var answer = await host.Visit().Client.SendAsync(new HttpRequestMessage(new HttpMethod(method), address)
        {
            Content = method == "POST" ? new StringContent("x") : null
        });
        Assert.Equal((status, "application/problem+json"),
            ((int)answer.StatusCode, answer.Content.Headers.ContentType!.MediaType));
        var body = await Json(answer);
        Assert.Equal(status, body.GetProperty("status").GetInt32());
        Assert.True(body.GetProperty("detail").GetString()!.Length > 20);
    }

    [Fact]
    public async Task A_song_of_more_chords_than_can_be_arranged_is_refused_in_words_by_the_api_and_said_on_its_page()
    {
        var chart = string.Join('\n',
            new[]
            {
                "C", "D", "E", "F", "G", "A", "B"
            }.Select(r =>
                "| " + string.Join(" | ", new[] { "", "m", "7", "m7", "maj7", "sus4", "9", "6" }.Select(k => r + k)) + " |"));
        var answer = await host.Visit().Client.PostAsync("/api/v1/ladder",
            new StringContent(JsonSerializer.Serialize(new { chart }), System.Text.Encoding.UTF8, "application/json"));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("56 different chords", (await Json(answer)).GetProperty("detail").GetString(), StringComparison.Ordinal);
        var visitor = await host.VisitNewStudioAsync();
        var (song, student) = (await visitor.TakeDownAsync(chart), await visitor.AddStudentAsync("Fern"));
        Assert.Contains("56 different chords",
            (await visitor.PageAsync($"/songs/{song}/chart")).QuerySelector("#reading")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.Client.GetAsync($"/songs/{song}/ladder/{student}")).StatusCode);
    }

    [Fact]
    public async Task What_a_chart_was_before_is_kept_shown_and_brought_back()
    {
        var visitor = await host.VisitNewStudioAsync();
        const string First = "title: Slow Tide\nkey: A\n| A | D | E |";
        var song = await visitor.TakeDownAsync(First);
        var (page, past) = ($"/songs/{song}/chart", $"/songs/{song}/history");
        async Task<string> Version() =>
            (await visitor.PageAsync(page)).QuerySelector("input[name=Version]")!.GetAttribute("value")!;
        async Task<string> Text() => (await visitor.PageAsync(page)).QuerySelector("textarea")!.TextContent;
        Assert.Contains("Nothing yet", (await visitor.PageAsync(past)).Body!.TextContent, StringComparison.Ordinal);
        // One sitting: the text before it is kept, not each word of it.
        foreach (var text in new[] { "title: Slow Tide\nkey: A\n| A | Dm | E |", "title: Slow Tide\nkey: A\n| A | Dm | E7 |" })
            Assert.Equal(HttpStatusCode.OK,
                (await visitor.PostAsync(page, $"{page}?handler=Keep", ("Text", text),
                    ("Version", await Version()))).StatusCode);
        var shown = await visitor.PageAsync(past);
        Assert.Contains("one line that is not there today",
            Assert.Single(shown.QuerySelectorAll("main details summary")).TextContent, StringComparison.Ordinal);
        Assert.Contains("› | A | D | E |", shown.QuerySelector("main details pre")!.TextContent, StringComparison.Ordinal);
        // A page that is out of date brings nothing back.
        var stale = await visitor.PostAsync(past, past, ("number", "1"), ("version", "1"));
        Assert.Equal(HttpStatusCode.Conflict, stale.StatusCode);
        Assert.Contains("| E7 |", await Text(), StringComparison.Ordinal);
        var back = await visitor.PostAsync(past, past, ("number", "1"),
            ("version", shown.QuerySelector("main details input[name=version]")!.GetAttribute("value")!));
        Assert.Equal(HttpStatusCode.Redirect, back.StatusCode);
        Assert.Equal(First, (await Text()).ReplaceLineEndings("\n"));
        // The chart it replaced is in the history now.
        Assert.Contains("| E7 |", (await visitor.PageAsync(past)).QuerySelector("main details pre")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(2, (await visitor.PageAsync(past)).QuerySelectorAll("main details").Length);
        // A word in the same sitting adds nothing; another text pasted over all of it does.
        foreach (var (text, states) in new[] { (First + " |", 2), ("title: Other\n| G |", 3) })
        {
            await visitor.PostAsync(page, $"{page}?handler=Keep", ("Text", text), ("Version", await Version()));
            Assert.Equal(states, (await visitor.PageAsync(past)).QuerySelectorAll("main details").Length);
        }
    }

    [Fact]
    public async Task The_forms_of_a_chart_lead_to_its_own_page()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Slow Tide\n| A | D | E |");
        var chart = await visitor.PageAsync($"/songs/{song}/chart");
        // Without script a button sends its form where the page says: to this song, never to that of a new one.
        Assert.DoesNotContain("/songs/new", chart.QuerySelector("main")!.InnerHtml, StringComparison.Ordinal);
        var remove = (await visitor.PageAsync($"/songs/{song}/remove")).QuerySelector("main form")!.GetAttribute("action")!;
        var removed = await visitor.PostAsync($"/songs/{song}/remove", remove, ("sure", "true"));
        Assert.Equal(HttpStatusCode.Redirect, removed.StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Client.GetAsync($"/songs/{song}/chart")).StatusCode);
    }
}
