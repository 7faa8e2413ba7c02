using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Formats;

namespace Tembri.Browser.Tests;

/// <summary>Charts of every format brought on the page, with the list of what became of them.</summary>
public sealed class FilesJourney(BrowserHost host) : IDisposable
{
    private readonly ChromeDriver _browser = BrowserHost.OpenBrowser();
    private readonly string _folder = Directory.CreateTempSubdirectory("tembri-files").FullName;

    public void Dispose()
    {
        _browser.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    [Fact]
    public void Each_format_is_brought_and_a_damaged_file_is_refused_with_its_reason()
    {
        var wait = new WebDriverWait(_browser, TimeSpan.FromSeconds(20));
        IWebElement Find(string css) => wait.Until(b => b.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed))!;
        var chart = ChartReader.Read("title: Slow Tide\nkey: G\ntempo: 90\n[Verse]\n| G | Em | C | D7 |").Chart;
        var ladder = LadderBuilder.Build(new LadderRequest { Chart = chart, Player = new Player(), Capo = 0, HighestCapo = 0 });
        var files = Enum.GetValues<ChartFormat>().Select(format =>
        {
            var written = format == ChartFormat.Midi ? ChartFiles.Write(new VersionChart(ladder, ladder.Rungs[^1]), format) : ChartFiles.Write(chart, format);
            var path = Path.Combine(_folder, $"{format}{written.Extension}");
            File.WriteAllBytes(path, written.Bytes);
            return path;
        }).ToList();
        File.WriteAllText(Path.Combine(_folder, "cut.musicxml"), "<score-partwise><part id='P1'><measure>");
        files.Add(Path.Combine(_folder, "cut.musicxml"));
        _browser.Navigate().GoToUrl(host.Address + "/account/open");
        Find("#StudioName").SendKeys("Files Studio");
        Find("#Email").SendKeys($"{Guid.NewGuid():N}@studio.example");
        Find("#Password").SendKeys("quiet-blue-door");
        Find("button[type=submit]").Click();
        Find(".desk");
        _browser.Navigate().GoToUrl(host.Address + "/songs/bring");
        _browser.FindElement(By.CssSelector("input[type=file]")).SendKeys(string.Join("\n", files));
        Find("main button[type=submit]").Click();
        wait.Until(b => b.FindElement(By.CssSelector("[role=status] p")).Text == "Done. 7 read, 0 doubtful, 1 refused.");
        var rows = _browser.FindElements(By.CssSelector(".brought tbody tr")).Select(r => r.Text).ToList();
        // What needs an eye stands first, with its reason.
        Assert.StartsWith("cut.musicxml refused", rows[0], StringComparison.Ordinal);
        Assert.Contains("breaks off", rows[0], StringComparison.Ordinal);
        Assert.All(rows.Skip(1), r => Assert.Contains("Slow Tide, in G, 4 chords", r, StringComparison.Ordinal));
        Find(".brought a").Click();
        Find("textarea");
        Assert.Empty(_browser.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level == LogLevel.Severe).Select(l => l.Message));
    }
}
