using System.IO.Compression;
using OpenQA.Selenium;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Formats;

namespace Tembri.Browser.Tests;

/// <summary>Charts of every format brought on the page, with the list of what became of them.</summary>
public sealed class FilesJourney(BrowserHost host) : BrowserTest(host)
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tembri-files").FullName;

    public override void Dispose()
    {
        base.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    [Fact]
    public void Each_format_is_brought_and_a_damaged_file_is_refused_with_its_reason()
    {
        var chart = ChartReader.Read("title: Slow Tide\nkey: G\ntempo: 90\n[Verse]\n| G | Em | C | D7 |").Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        var files = Enum.GetValues<ChartFormat>().Select(format =>
        {
            var written = format == ChartFormat.Midi
                ? ChartFiles.Write(new VersionChart(ladder, ladder.Played(5)), format)
                : ChartFiles.Write(chart, format);
            var path = Path.Combine(_folder, $"{format}{written.Extension}");
            File.WriteAllBytes(path, written.Bytes);
            return path;
        }).ToList();
        File.WriteAllText(Path.Combine(_folder, "cut.musicxml"), "<score-partwise><part id='P1'><measure>");
        files.Add(Path.Combine(_folder, "cut.musicxml"));
        OpenStudio();
        Go("/songs/bring");
        Browser.FindElement(By.CssSelector("input[type=file]")).SendKeys(string.Join("\n", files));
        Find("main button[type=submit]").Click();
        Wait.Until(b => b.FindElement(By.CssSelector("[role=status] p")).Text == "Done. 7 read, 0 doubtful, 1 refused.");
        var rows = Browser.FindElements(By.CssSelector(".brought tbody tr")).Select(r => r.Text).ToList();
        // What needs an eye stands first, with its reason.
        Assert.StartsWith("cut.musicxml refused", rows[0], StringComparison.Ordinal);
        Assert.Contains("breaks off", rows[0], StringComparison.Ordinal);
        Assert.All(rows.Skip(1), r => Assert.Contains("Slow Tide, in G, 4 chords", r, StringComparison.Ordinal));
        CheckWithAxe("bring");
        Find(".brought a").Click();
        Find("textarea");
        Find("a[href$='/files']").Click();
        Find("a[download]");
        CheckWithAxe("files");
        CheckConsole();
    }

    [Fact]
    public void Bringing_many_is_left_off_when_asked_and_what_was_read_stays()
    {
        const int many = 1500;
        var path = Path.Combine(_folder, "all.zip");
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Create))
            for (var i = 0; i < many; i++)
            {
                using var writer = new StreamWriter(zip.CreateEntry($"chart {i:0000}.txt").Open());
                writer.Write($"title: Slow Tide {i}\n[Verse]\n| G | Em | C | D7 |");
            }
        OpenStudio();
        Go("/songs/bring");
        Browser.FindElement(By.CssSelector("input[type=file]")).SendKeys(path);
        Find("main button[type=submit]").Click();
        Until("[role=status] p", e => e.Text.Contains($" of {many}.", StringComparison.Ordinal));
        Find("button[x-on\\:click=cancel]").Click();
        Until("[role=status] p", e => e.Text.StartsWith("Left off.", StringComparison.Ordinal));
        var shown = Browser.FindElements(By.CssSelector(".brought tbody tr")).Count;
        Assert.InRange(shown, 1, many - 1);
        // The server has left off as well: the desk holds what was read, and the number stays.
        int Songs()
        {
            Go("/songs");
            // More than a page of them: the desk says how many there are.
            var stretch = Browser.FindElements(By.CssSelector("nav[aria-label='Pages of songs'] span"));
            return stretch.Count > 0
                ? int.Parse(stretch[0].Text.Split(' ')[^1], System.Globalization.NumberStyles.AllowThousands,
                    System.Globalization.CultureInfo.InvariantCulture)
                : Browser.FindElements(By.CssSelector(".desk .song")).Count;
        }
        var last = -1;
        Wait.Until(_ => last == (last = Songs()));
        Assert.InRange(last, shown, many - 1);
    }
}
