using Tembri.Core.Charts.Reading;
using Microsoft.AspNetCore.Hosting;
using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;
using Npgsql;

namespace Tembri.Web.Tests;

/// <summary>Sheets as PDF, read back by poppler: pages, fonts, the order of the text, nothing beyond the margins, nothing below
/// nine points.</summary>
public sealed class PaperTests(TembriHost host)
{
    private static string Run(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var text = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, $"{program}: {process.StandardError.ReadToEnd()}");
        return text;
    }

    private sealed record Read(string Info, string Fonts, string Text, string Boxes);

    private static async Task<Read> ReadAsync(Visitor visitor, string address)
    {
        var answer = await visitor.Client.GetAsync(address);
        Assert.Equal((HttpStatusCode.OK, "application/pdf"), (answer.StatusCode, answer.Content.Headers.ContentType?.MediaType));
        var file = Path.Combine(Path.GetTempPath(), $"tembri-{Guid.NewGuid():N}.pdf");
        try
        {
            await File.WriteAllBytesAsync(file, await answer.Content.ReadAsByteArrayAsync());
            return new Read(Run("pdfinfo", file), Run("pdffonts", file), Run("pdftotext", file, "-"),
                Run("pdftotext", "-bbox", file, "-"));
        }
        finally { File.Delete(file); }
    }

    private static int Pages(Read read) => int.Parse(Regex.Match(read.Info, @"Pages:\s+(\d+)").Groups[1].Value);

    private static void AssertWellSet(Read read, double width, double height)
    {
        Assert.Contains("Tagged:          yes", read.Info, StringComparison.Ordinal);
        foreach (var font in read.Fonts.Split('\n').Skip(2).Where(l => l.Trim().Length > 0))
            Assert.Matches(@"\syes\s+yes\s+yes\s", font);
        foreach (Match word in Regex.Matches(read.Boxes,
            "xMin=\"([\\d.-]+)\" yMin=\"([\\d.-]+)\" xMax=\"([\\d.-]+)\" yMax=\"([\\d.-]+)\">([^<]*)<"))
        {
            double At(int g) => double.Parse(word.Groups[g].Value, System.Globalization.CultureInfo.InvariantCulture);
            Assert.True(At(1) >= 30 && At(3) <= width - 30 && At(2) >= 25 && At(4) <= height - 25,
                $"“{word.Groups[5].Value}” lies beyond the margins: {word.Value}");
            // A box is as high as the font's lines, a little more than its size.
            Assert.True(At(4) - At(2) >= 9, $"“{word.Groups[5].Value}” is set too small: {word.Value}");
        }
    }

    [Theory]
    [InlineData("Whole", "a4", 595, 842)]
    [InlineData("Whole", "letter", 612, 792)]
    [InlineData("Chart", "a4", 595, 842)]
    [InlineData("Shapes", "a4", 595, 842)]
    [InlineData("Words", "a4", 595, 842)]
    [InlineData("Form", "letter", 612, 792)]
    [InlineData("Spoken", "a4", 595, 842)]
    public async Task A_sheet_is_tagged_has_its_fonts_keeps_its_margins_and_its_order(string kind, string paper, double width,
        double height)
    {
        var visitor = await host.VisitDemoAsync();
        foreach (var (song, student) in new[]
        {
            ("What the Heron Saw", "Wren"), ("Clockmaker's Waltz", "Juniper"), ("Down the Cellar Stair", "Sable")
        })
        {
            var (id, who) = (await visitor.SongAsync(song), await visitor.StudentAsync(student));
            var read = await ReadAsync(visitor, $"/songs/{id}/sheet/{who}?handler=Pdf&rung=3&kind={kind}&paper={paper}");
            AssertWellSet(read, width, height);
            Assert.Contains($"for {student}", read.Text, StringComparison.Ordinal);
            Assert.StartsWith(song, read.Text.TrimStart(), StringComparison.Ordinal);
            Assert.Contains("see a doctor or a licensed therapist", Regex.Replace(read.Text, @"\s+", " "),
                StringComparison.Ordinal);
            string[] order = kind switch
            {
                "Whole" => ["Right hand", "New in this version", "Form", "Chart"],
                "Form" => ["Form", "Chart"],
                "Spoken" => ["The shapes, finger by finger", "The right hand", "The form", "The chords, bar by bar"],
                _ => []
            };
            var at = order.Select(h => Regex.Match(read.Text, $@"[\n\f]{h}") is { Success: true } m ? m.Index : -1).ToList();
            Assert.True(at.All(a => a > 0) && at.SequenceEqual(at.Order()), $"{kind}: {string.Join(' ', at)}");
            Assert.InRange(Pages(read), 1, kind == "Whole" ? 3 : 2);
        }
    }

    [Fact]
    public async Task A_booklet_has_every_rung_large_print_is_larger_and_odd_letters_are_not_lost()
    {
        var visitor = await host.VisitNewStudioAsync();
        var song = await visitor.TakeDownAsync("title: Žluťoučký δρόμος Ωδή\nkey: F#m\ntempo: 84\n[Verse]\n| [F#m7b5]Привет, ♭ "
            + "und ♯ | [Bdim7/D]averyveryverylongwordwithoutanyspacethatgoesonandonandonandonandonandonandonandonandonandon | "
            + "[C#7]ok | [F#m]𝄞 |");
        var student = await visitor.AddStudentAsync("Fern");
        var one = await ReadAsync(visitor, $"/songs/{song}/sheet/{student}?handler=Pdf&rung=3");
        AssertWellSet(one, 595, 842);
        foreach (var word in new[] { "Žluťoučký", "δρόμος", "Привет", "♭", "averyvery" })
            Assert.Contains(word, one.Text, StringComparison.Ordinal);
        var large = await ReadAsync(visitor, $"/songs/{song}/sheet/{student}?handler=Pdf&rung=3&large=true&kind=Whole");
        AssertWellSet(large, 595, 842);
        Assert.True(Pages(large) >= Pages(one));
        var booklet = await ReadAsync(visitor, $"/songs/{song}/sheet/{student}?handler=Pdf&rungs=2&rungs=3&rungs=5");
        Assert.True(Pages(booklet) >= 3);
        foreach (var rung in new[] { "rung 2", "rung 3", "rung 5" })
            Assert.Contains(rung, booklet.Text, StringComparison.Ordinal);
        // With a code the sheet leads to the student's page, and an earlier link ends.
        var coded =
            await visitor.PostAsync($"/songs/{song}/sheet/{student}", $"/songs/{song}/sheet/{student}?handler=Pdf&rung=3");
        Assert.Equal("application/pdf", coded.Content.Headers.ContentType!.MediaType);
        var address = Regex.Match(System.Text.Encoding.Latin1.GetString(await coded.Content.ReadAsByteArrayAsync()),
            @"/my/[\w-]{20,}").Value;
        Assert.Equal(HttpStatusCode.OK, (await host.Visit().Client.GetAsync(address)).StatusCode);
    }

    [Fact]
    public async Task A_set_is_one_booklet_with_its_order_and_its_capos()
    {
        var demo = await host.VisitDemoAsync();
        var sets = await demo.PageAsync("/sets");
        foreach (var set in sets.QuerySelectorAll(".today-songs a").Select(a => (a.GetAttribute("href")!, a.TextContent)))
        {
            var page = await demo.PageAsync(set.Item1);
            var songs = page.QuerySelectorAll(".list tbody th a").Select(a => a.TextContent).ToList();
            Assert.NotEmpty(songs);
            var read = await ReadAsync(demo, $"{set.Item1}?handler=Pdf");
            AssertWellSet(read, 595, 842);
            Assert.True(Pages(read) > songs.Count);
            var at = songs.Select((s, i) => read.Text.IndexOf($"{i + 1}. {s}", StringComparison.Ordinal)).ToList();
            Assert.True(at.All(a => a >= 0) && at.SequenceEqual(at.Order()));
        }
    }

    [Fact]
    public async Task A_class_is_a_page_for_the_wall_and_a_sheet_for_each()
    {
        var demo = await host.VisitDemoAsync();
        var song = await demo.SongAsync("What the Heron Saw");
        var read = await ReadAsync(demo,
            $"/songs/{song}/class?handler=Pdf&with={await demo.StudentAsync("Juniper")}&with={await demo.StudentAsync("Sable")}");
        AssertWellSet(read, 842, 842);
        Assert.Contains("everyone sounds in", read.Text, StringComparison.Ordinal);
        Assert.True(read.Text.IndexOf("for Juniper ·", StringComparison.Ordinal)
            < read.Text.IndexOf("for Sable ·", StringComparison.Ordinal));
        Assert.True(Pages(read) >= 3);
    }

    [Fact]
    public async Task A_chart_on_paper_is_read_back_with_its_chords_on_their_syllables()
    {
        var visitor = await host.VisitNewStudioAsync();
        const string chart =
            "title: The Kite at Noon\nkey: G\ntempo: 90\n\n[Verse]\n| [G]Over the | [Em7]hill and the | [C/E]harbour it | "
                + "[D]goes, |\n| [G]pulling the | [Bm]thread of the | [Am7]day to a | [D7]close. |\n\n[Chorus]\n| [C]Higher, | "
                + "[G]higher | [F#m7b5]still. | [D]Ho. |";
        var song = await visitor.TakeDownAsync(chart);
        var student = await visitor.AddStudentAsync("Fern");
        // The rung as recorded without capo sounds as it is written.
        var pdf = await (await visitor.Client.GetAsync(
            $"/songs/{song}/sheet/{student}?handler=Pdf&rung=5&kind=Words")).Content.ReadAsByteArrayAsync();
        var texts = Formats.PdfCharts.Read(pdf);
        var read = Core.Charts.Reading.ChartReader.Read(Assert.Single(texts)).Chart;
        Assert.Equal("The Kite at Noon", read.Title);
        Assert.Equal(["Verse", "Chorus"], read.Sections.Select(s => s.Name).Take(2));
        var slots =
            read.Sections.Take(2).SelectMany(s => s.Bars).SelectMany(b => b.Slots).Where(s => s.Chord is not null).ToList();
        Assert.Equal(12, slots.Count);
        Assert.StartsWith("Over", slots[0].Lyric.Trim(), StringComparison.Ordinal);
        Assert.StartsWith("thread", slots[5].Lyric.Trim(), StringComparison.Ordinal);
        Assert.StartsWith("still", slots[10].Lyric.Trim(), StringComparison.Ordinal);
        // A booklet is several songs; what holds no text, and what is no PDF, is said.
        var booklet = await (await visitor.Client.GetAsync(
            $"/songs/{song}/sheet/{student}?handler=Pdf&rungs=3&rungs=5&kind=Words")).Content.ReadAsByteArrayAsync();
        Assert.Equal(2, Formats.PdfCharts.Read(booklet).Count);
        Assert.Contains("damaged",
            Assert.Throws<FormatException>(() => Formats.PdfCharts.Read("%PDF-1.7 nonsense"u8.ToArray())).Message,
            StringComparison.Ordinal);
        for (var cut = 10; cut < pdf.Length; cut += pdf.Length / 23)
            try { _ = Formats.PdfCharts.Read(pdf[..cut]); } catch (FormatException) { }
    }

    [Fact]
    public async Task Sheets_of_a_week_are_made_in_the_background_told_and_left_off()
    {
        var visitor = await host.VisitNewStudioAsync();
        var (song, student) =
            (await visitor.TakeDownAsync("title: Slow Ferry\n| C | Am | F | G |"), await visitor.AddStudentAsync("Fern"));
        Assert.Equal(HttpStatusCode.BadRequest, (await visitor.PostAsync("/sheets", "/sheets", ("with", student))).StatusCode);
        await visitor.PostAsync($"/students/{student}/practice", $"/students/{student}/practice?handler=Work", ("song", song),
            ("rung", "2"));
        var waiting = (await visitor.PostAsync("/sheets", "/sheets", ("with", student))).Headers.Location!.ToString();
        Assert.Contains("0 of 1", (await visitor.PageAsync(waiting)).QuerySelector("#job")!.TextContent,
            StringComparison.Ordinal);
        await visitor.PostAsync("/sheets", $"{waiting}?handler=Cancel");
        Assert.Contains("Stopped", (await visitor.PageAsync(waiting)).QuerySelector("#job")!.TextContent,
            StringComparison.Ordinal);
        // Who waits for paper does not wait behind a studio that is being arranged: the worker of the arranging cannot cross off
        // the song it made as long as somebody holds the order.
        await visitor.PostAsync("/songs/new", "/songs?handler=Arrange");
        var leaving = TestContext.Current.CancellationToken;
        string ordered;
        await using (var holding = new NpgsqlConnection(host.ConnectionString))
        {
            await holding.OpenAsync(leaving);
            await using var held = await holding.BeginTransactionAsync(leaving);
            await using var hold = new NpgsqlCommand($"select 1 from arranging_orders where song_id = '{song}' for update", holding);
            Assert.Equal(1, await hold.ExecuteScalarAsync(leaving));
            // It waits for as long as the order is held, however long that is.
            await using var worker = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")
                .UseSetting("ConnectionStrings:Tembri", $"{host.ConnectionString};Command Timeout=600"));
            using var running = worker.CreateClient();
            var until = DateTime.UtcNow.AddSeconds(120);
            async Task UntilAsync(Func<Task<bool>> isThere)
            {
                while (!await isThere() && DateTime.UtcNow < until) await Task.Delay(300, leaving);
            }
            await UntilAsync(async () =>
                (long)(await host.AskAsync($"select count(*) from arranged_ladders where song_id = '{song}'"))! > 0);
            ordered = (await visitor.PostAsync("/sheets", "/sheets", ("with", student))).Headers.Location!.ToString();
            await UntilAsync(async () => (await visitor.PageAsync(ordered)).QuerySelector("#job a.button-main") is not null);
        }
        var read = await ReadAsync(visitor, $"{ordered}?handler=Pdf");
        Assert.Contains("Slow Ferry", read.Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Client.GetAsync($"{waiting}?handler=Pdf")).StatusCode);
        var stranger = await host.VisitNewStudioAsync();
        foreach (var address in new[] { ordered, $"{ordered}?handler=Pdf" })
            Assert.Equal(HttpStatusCode.NotFound, (await stranger.Client.GetAsync(address)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.PostAsync("/sheets", $"{ordered}?handler=Cancel")).StatusCode);
    }
}
