using System.Net;
using System.Text;
using System.Text.Json;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Tests.Hearing;

namespace Tembri.Web.Tests;

/// <summary>A recording over HTTP: the call of the API, and the page that keeps what was heard and raises doubts.</summary>
public sealed class RecordTests(TembriHost host)
{
    private const string Written =
        "title: Two Lanterns\ntempo: 100\nform: Verse, Chorus, Verse, Chorus\n\n[Verse]\n| G | Em | Am | D |\n\n[Chorus]\n| C | "
            + "G | Am . D . | G |\n";
    private static readonly byte[] Played = Tones.Wave(Tones.Play(
        ChartReader.Read(Written.Replace("| Em | Am |", "| Em | C |", StringComparison.Ordinal)).Chart, 100, semitones: -1));

    private static MultipartFormDataContent Form(byte[]? audio, string? chart = null)
    {
        var form = new MultipartFormDataContent();
        if (audio is not null) form.Add(new ByteArrayContent(audio), "audio", "song.wav");
        if (chart is not null) form.Add(new StringContent(chart), "chart");
        return form;
    }

    private async Task<(HttpStatusCode Status, JsonElement Body)> Hear(HttpContent content)
    {
        var answer = await host.Visit().Client.PostAsync("/api/v1/hearing", content);
        return (answer.StatusCode, JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement);
    }

    [Fact]
    public async Task The_call_answers_as_the_contract_has_it()
    {
        var (status, body) = await Hear(Form(Played, Written));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal((-1, true), (body.GetProperty("semitones").GetInt32(), body.GetProperty("matches").GetBoolean()));
        Assert.Equal(100, body.GetProperty("tempo").GetDouble(), 1.0);
        Assert.InRange(body.GetProperty("cents").GetDouble(), -5, 5);
        var bars = body.GetProperty("bars").EnumerateArray().ToList();
        Assert.Equal(16, bars.Count);
        Assert.Equal(("Verse", 1, 2),
            (bars[8].GetProperty("section").GetString(), bars[8].GetProperty("bar").GetInt32(),
                bars[8].GetProperty("pass").GetInt32()));
        Assert.Equal(bars[0].GetProperty("end").GetDouble(), bars[1].GetProperty("start").GetDouble());
        var wrong = Assert.Single(body.GetProperty("places").EnumerateArray(), p => !p.GetProperty("agrees").GetBoolean());
        Assert.Equal(("Verse", 3, 1, "Am"),
            (wrong.GetProperty("section").GetString(), wrong.GetProperty("bar").GetInt32(), wrong.GetProperty("slot").GetInt32(),
                wrong.GetProperty("written").GetString()));
        Assert.StartsWith("C", wrong.GetProperty("heard").GetString(), StringComparison.Ordinal);
        Assert.Equal(JsonValueKind.Null, body.GetProperty("draft").ValueKind);
        var (_, drafted) = await Hear(Form(Played, " "));
        Assert.Contains("[Part A]", drafted.GetProperty("draft").GetString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_cannot_be_listened_to_is_said()
    {
        var cases = new (HttpContent Content, string Field, string Word)[]
        {
            (Form(null, Written), "audio", "no recording"),
            (Form(Encoding.UTF8.GetBytes("no sound at all"), Written), "audio", "export"),
            (Form([], Written), "audio", "wave file"),
            (Form(Tones.Wave(new(new float[12_000], 8000)), Written), "audio", "at least"),
            (Form(Tones.Wave(new(new float[90_000], 8000)), Written), "audio", "silent"),
            (Form(Played, "no chart, only words"), "chart", ""),
            (Form(Played[..2000], Written), "audio", "at least"),
        };
        foreach (var (content, field, word) in cases)
        {
            var (status, body) = await Hear(content);
            Assert.Equal(HttpStatusCode.BadRequest, status);
            Assert.Equal(field, body.GetProperty("field").GetString());
            Assert.Contains(word, body.GetProperty("detail").GetString(), StringComparison.OrdinalIgnoreCase);
        }
    }

    [Fact]
    public async Task What_was_heard_is_kept_raises_a_doubt_that_one_edit_settles_and_is_forgotten()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync(Written);
        var page = await visitor.PageAsync($"/songs/{song}/record");
        Assert.Null(page.QuerySelector(".record-told"));
        async Task<HttpResponseMessage> Listen(byte[] audio, string? token)
        {
            using var request =
                new HttpRequestMessage(HttpMethod.Post, $"/songs/{song}/record/listen") { Content = Form(audio) };
            if (token is not null) request.Headers.Add("X-Tembri-Token", token);
            return await visitor.Client.SendAsync(request);
        }
        var token = page.QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.BadRequest, (await Listen(Played, null)).StatusCode);
        Assert.Contains("\"fault\"", await (await Listen([1, 2, 3], token)).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);
        var lines =
            (await (await Listen(Played, token)).Content.ReadAsStringAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Contains("\"done\"", lines[0], StringComparison.Ordinal);
        Assert.Equal("""{"heard":true}""", lines[^1]);
        var told = (await visitor.PageAsync($"/songs/{song}/record")).QuerySelector("main")!.TextContent;
        Assert.Contains("a half step lower than the chart", told, StringComparison.Ordinal);
        Assert.Contains("Verse, bar 3", told, StringComparison.Ordinal);
        // The doubt stands in the chart, with the edit that settles it; the chart that has it raises it no more.
        var chart = await visitor.PageAsync($"/songs/{song}/chart");
        var doubt = chart.QuerySelectorAll(".doubt")
            .Single(d => d.TextContent.Contains("the record sounds like C", StringComparison.Ordinal));
        var edits = doubt.QuerySelector("button[name=mend]")!.GetAttribute("value")!;
        var mended = Songs.ReadChart.Apply(chart.QuerySelector("textarea")!.TextContent, edits)!;
        Assert.Contains("| G | Em | C", mended, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.PostAsync($"/songs/{song}/chart", $"/songs/{song}/chart", ("Text", mended),
                ("Version", chart.QuerySelector("input[name=Version]")!.GetAttribute("value")!))).StatusCode);
        Assert.DoesNotContain("the record sounds like",
            (await visitor.PageAsync($"/songs/{song}/chart")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        // Listen knows where the bars lie; findings that came spoilt with an archive are as if they were not there.
        Assert.Equal(16,
            JsonDocument.Parse((await visitor.PageAsync($"/songs/{song}/listen")).QuerySelector("[data-own]")!.GetAttribute(
                "data-bars")!).RootElement.GetArrayLength());
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        await using var findings = new Npgsql.NpgsqlCommand("select findings from song_hearings where song_id = $1", connection)
        {
            Parameters = { new() { Value = Guid.Parse(song) } }
        };
        var kept = (string)(await findings.ExecuteScalarAsync())!;
        foreach (var spoilt in new[]
        {
            "{}", "[]", "null", "{\"matches\":true}", kept.Replace("\"notes\":[", "\"notes\":[1,", StringComparison.Ordinal),
            kept.Replace("\"course\":[[", "\"course\":[[1,1],[", StringComparison.Ordinal),
            kept.Replace("\"section\":\"Verse\"", "\"section\":null", StringComparison.Ordinal)
        })
        {
            Assert.NotEqual(kept, spoilt);
            await using var spoil = new Npgsql.NpgsqlCommand("update song_hearings set findings = $2 where song_id = $1",
                connection)
            {
                Parameters = { new() { Value = Guid.Parse(song) }, new() { Value = spoilt } }
            };
            Assert.Equal(1, await spoil.ExecuteNonQueryAsync());
            foreach (var part in new[] { "record", "listen", "chart" })
                Assert.Null((await visitor.PageAsync($"/songs/{song}/{part}")).QuerySelector(".record-told, [data-own]"));
        }
        await visitor.PostAsync($"/songs/{song}/record", $"/songs/{song}/record?handler=Forget");
        Assert.Null((await visitor.PageAsync($"/songs/{song}/record")).QuerySelector(".record-told"));
    }

    [Fact]
    public async Task A_draft_of_a_new_song_says_that_it_is_one()
    {
        var visitor = await host.VisitNewStudioAsync();
        using var request = new HttpRequestMessage(HttpMethod.Post, "/songs/draft-from-record") { Content = Form(Played) };
        request.Headers.Add("X-Tembri-Token",
            (await visitor.PageAsync("/songs/new")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute(
                "value")!);
        var last = (await (await visitor.Client.SendAsync(request)).Content.ReadAsStringAsync())
            .Split('\n', StringSplitOptions.RemoveEmptyEntries)[^1];
        var draft = JsonDocument.Parse(last).RootElement.GetProperty("draft").GetString()!;
        Assert.Contains("{note: a first draft by ear, to be checked}", draft, StringComparison.Ordinal);
        var chart = ChartReader.Read(draft);
        Assert.Empty(chart.Problems);
        Assert.Contains(chart.Chart.Chords, c => c.Name == "G♭");
        Assert.Equal(100, chart.Chart.Tempo, 2.0);
    }

    [Fact]
    public async Task Nobody_listens_into_the_song_of_another()
    {
        var song = await (await host.VisitNewStudioAsync()).TakeDownAsync(Written);
        var other = await host.VisitNewStudioAsync();
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/songs/{song}/record/listen") { Content = Form(Played) };
        request.Headers.Add("X-Tembri-Token",
            (await other.PageAsync("/songs/new")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute(
                "value")!);
        Assert.Equal(HttpStatusCode.NotFound, (await other.Client.SendAsync(request)).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized,
            (await host.Visit().Client.PostAsync($"/songs/{song}/record/listen", Form(Played))).StatusCode);
    }
}
