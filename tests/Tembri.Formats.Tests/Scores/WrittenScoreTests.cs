using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;

namespace Tembri.Formats.Tests.Scores;

/// <summary>Habits of programs that write files, each with each: nothing of a song is lost without a word.</summary>
public sealed class WrittenScoreTests
{
    private const int Files = 60;   // in each of these
    public static TheoryData<int> Seeds => [.. Enumerable.Range(0, 6).Select(i => i * Files)];

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_score_however_it_is_engraved_has_its_chords_words_and_order(int from)
    {
        foreach (var score in Enumerable.Range(from, Files).Select(s => new WrittenScore(s)))
        {
            var ((chart, problems), _) = ChartFiles.Read(score.Bytes);
            Assert.True(Same(score.Bars, chart), score.Text);
            Assert.True(
                score.Sung.SequenceEqual(chart.PlayedBars().Select(b => $"{b.Lead} {string.Concat(b.Slots.Select(s => s.Lyric))}".Trim())), score.Text);
            Assert.Equal(score.Title, chart.Title);
            Assert.Equal(score.Quarters, Quarters(chart), 0.1);
            Assert.Subset(chart.Sections.Select(s => s.Name.ToUpperInvariant()).ToHashSet(),
                score.Sections.Select(s => s.ToUpperInvariant()).ToHashSet());
            Assert.Empty(problems);
            IsKeptAsText(chart);
        }
    }

    [Fact]
    public void A_score_with_parts_inside_measures_is_the_same_score()
    {
        foreach (var score in Enumerable.Range(5_000, 20).Select(s => new WrittenScore(s)))
        {
            var root = XElement.Parse(score.Text[score.Text.IndexOf("<score", StringComparison.Ordinal)..]);
            var parts = root.Elements("part").ToList();
            var measures = parts[0].Elements("measure").Select((m, i) => new XElement("measure", m.Attributes(),
                parts.Select(p => new XElement("part", p.Attributes(), p.Elements("measure").ElementAt(i).Nodes()))));
            var timewise = new XElement("score-timewise", root.Elements().Where(e => e.Name != "part"), measures);
            var ((chart, problems), _) = ChartFiles.Read(timewise.ToString());
            Assert.True(Same(score.Bars, chart), score.Text);
            Assert.Empty(problems);
        }
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_midi_file_however_it_is_made_has_its_chords(int from)
    {
        var (all, right) = (0, 0);
        foreach (var file in Enumerable.Range(from, Files).Select(s => new WrittenMidi(s)))
        {
            var ((chart, problems), _) = ChartFiles.Read(file.Bytes);
            Assert.Equal(file.Quarters, Quarters(chart), 0.2);
            IsKeptAsText(chart);
            if (file.Title is not null) Assert.Equal(file.Title, chart.Title);
            Assert.Subset(chart.Sections.Select(s => s.Name).ToHashSet(), file.Sections.ToHashSet());
            // Notes that follow one another, and chords below a tune of the same hands, are told as well as can be.
            if (file.IsHard)
            {
                all++;
                if (problems.Count > 0 || Same(file.Bars, chart)) right++;
                continue;
            }
            Assert.True(Same(file.Bars, chart), $"{file.Habits}\n{string.Join(" | ", file.Bars)}\n{string.Join(" | ", Written(chart))}");
            Assert.Empty(problems);
        }
        Assert.True(right >= 0.9 * all, $"{right} of {all}");
    }

    [Fact]
    public void Chords_of_a_score_without_symbols_are_named_by_its_notes_and_that_is_said()
    {
        string Note(string pitch, bool isChord, string more = "") =>
            $"<note>{(isChord ? "<chord/>" : "")}<pitch><step>{pitch[0]}</step><octave>{pitch[1]}</octave></pitch><duration>4</duration>{more}</note>";
        string Chord(string pitches) => string.Concat(pitches.Split(' ').Select((p, i) => Note(p, i > 0)));
        const string Begin = "<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time>";
        // A voice as it sounds, and a part that is written a tone above it.
        var xml = "<score-partwise><part-list/><part id=\"P1\">"
            + $"<measure number=\"1\">{Begin}</attributes>{Note("E5", false, "<lyric><text>salt</text></lyric>")}</measure><measure number=\"2\">{Note("F5", false)}</measure></part>"
            + $"<part id=\"P2\"><measure number=\"1\">{Begin}<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>{Chord("D3 B3 D4 G4 B4")}</measure>"
            + $"<measure number=\"2\">{Chord("A3 C4 E4 A4")}</measure></part></score-partwise>";
        var ((chart, problems), _) = ChartFiles.Read(xml);
        Assert.Equal(["F/C", "Gm"], chart.Played().Select(s => s.Chord!.Name));
        Assert.Equal("salt", chart.Played().First().Lyric);
        Assert.Contains("no chord symbols", Assert.Single(problems).Message, StringComparison.Ordinal);
        // Sung alone it is a tune: nothing is made up.
        var (alone, _) = ChartFiles.Read(xml[..xml.IndexOf("<part id=\"P2\"", StringComparison.Ordinal)] + "</score-partwise>");
        Assert.Empty(alone.Chart.Played().Select(s => s.Chord).OfType<Chord>());
        Assert.Contains("nothing to arrange", Assert.Single(alone.Problems).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_word_that_goes_on_at_the_next_chord_is_written_as_one()
    {
        var chart = ChartReader.Read("| [C]light in the [G]win[Am]dow | [F]gar- | [G]den |\n").Chart;
        var xml = Encoding.UTF8.GetString(ChartFiles.Write(chart, ChartFormat.MusicXml).Bytes);
        Assert.Equal(["single light in the", "begin win", "end dow", "begin gar", "end den"],
            XElement.Parse(xml[xml.IndexOf("<score", StringComparison.Ordinal)..]).Descendants("lyric")
                .Select(l => $"{l.Element("syllabic")!.Value} {l.Element("text")!.Value}"));
        Assert.Equal(["light in the window", "gar-", "den"],
            ChartFiles.Read(xml).Reading.Chart.PlayedBars().Select(b => string.Concat(b.Slots.Select(s => s.Lyric))));
        var over = Encoding.UTF8.GetString(ChartFiles.Write(chart, ChartFormat.OverLyrics).Bytes);
        Assert.Contains("C            G  Am  F    G\nlight in the window gar- den", over, StringComparison.Ordinal);
    }

    /// <summary>Rehearsal marks may say anything; what chart text has other uses for is called otherwise, which is said where it
    /// is more than a sign.</summary>
    [Theory]
    [InlineData("E♭", "Part E♭", true)]
    [InlineData("3x", "Part 1", true)]
    [InlineData("x2", "Part 1", true)]
    [InlineData("key: C", "key C", false)]
    [InlineData("Verse: quiet", "Verse quiet", false)]
    [InlineData("Chorus (x2)", "Chorus", true)]
    [InlineData("H", "Part H", true)]
    [InlineData("Gtr. solo", "Gtr. solo", false)]
    [InlineData("A:", "A", false)]
    public void Any_name_of_a_section_is_kept_as_text(string mark, string name, bool isSaid)
    {
        var xml = new WrittenScore(1).Text.Replace(">A<", $">{mark}<", StringComparison.Ordinal);
        var ((chart, problems), _) = ChartFiles.Read(xml);
        Assert.Equal((name, name), (chart.Sections[0].Name, chart.Form[0].Section));
        Assert.Equal(isSaid, problems.Any(p => p.Message.Contains($"{mark} is {name}", StringComparison.Ordinal)));
        var kept = ChartReader.Read(Encoding.UTF8.GetString(ChartFiles.Write(chart, ChartFormat.Bars).Bytes));
        Assert.Empty(kept.Problems);
        Assert.Equal(SampleCharts.Facts(chart), SampleCharts.Facts(kept.Chart));
    }

    [Fact]
    public void A_name_that_is_given_is_not_taken_and_what_follows_a_section_goes_on_following_it()
    {
        var chart = ChartReader.Read("[Verse]\n| G | D |\n\n[Chorus]\n| C | G |\n\n[Bridge]\n| Em | C |\n\n[Last: as Verse]\n").Chart;
        Assert.Equal("Verse", chart.Sections[3].Like);
        var names = new Dictionary<string, string> { ["Verse"] = "E♭", ["Chorus"] = "3x", ["Bridge"] = "Part 2", ["Last"] = "Last" };
        var odd = chart with
        {
            Sections = [.. chart.Sections.Select(s => s with
                {
                    Name = names[s.Name], Like = s.Like is null ? null : names[s.Like]
                })],
            Form = [.. chart.Form.Select(p => p with { Section = names[p.Section] })],
        };
        var ((kept, _), _) = ChartFiles.Read(ChartFiles.Write(odd, ChartFormat.Json).Bytes);
        // The third had the name the second would be given, and keeps it.
        Assert.Equal(["Part E♭", "Part 3", "Part 2", "Last"], kept.Sections.Select(s => s.Name));
        Assert.Equal(kept.Sections.Select(s => s.Name), kept.Form.Select(p => p.Section));
        Assert.Equal("Part E♭", kept.Sections[3].Like);
        IsKeptAsText(kept);
    }

    /// <summary>Each word that is sung, and what is printed above, may be one that chart text has other uses for.</summary>
    [Theory]
    [InlineData("oh:", "oh꞉")]
    [InlineData("http://example.org", "http://example.org")]
    [InlineData("<b>", "‹b›")]
    [InlineData("[C]", "(C)")]
    [InlineData("|", "/")]
    [InlineData("2x", "2x")]
    [InlineData("Chorus", "Chorus")]
    [InlineData("© Orla Venn", "© Orla Venn")]
    public void Any_words_are_kept_as_text(string word, string kept)
    {
        var escaped = new XText(word).ToString();
        var score = new WrittenScore(8);
        var text = score.Text.Replace("<words>Gently</words>", $"<words>{escaped}</words>", StringComparison.Ordinal);
        var lyrics = Regex.Replace(text, "single</syllabic><text>[^<]*<", $"single</syllabic><text>{escaped}<");
        Assert.NotEqual(score.Text, lyrics);
        var ((chart, problems), _) = ChartFiles.Read(lyrics);
        Assert.Empty(problems);
        Assert.Contains(chart.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots),
            s => s.Lyric.Contains(kept.TrimEnd('꞉'), StringComparison.Ordinal));
        IsKeptAsText(chart);
    }

    [Fact]
    public void A_name_in_angle_brackets_is_a_chart_and_no_xml() =>
        Assert.Equal(["C", "G"], ChartFiles.Read("<Intro>\n| C | G |\n").Reading.Chart.Played().Select(s => s.Symbol));

    /// <summary>What was brought is kept as chart text.</summary>
    private static void IsKeptAsText(Chart chart)
    {
        var text = Encoding.UTF8.GetString(ChartFiles.Write(chart, ChartFormat.Bars).Bytes);
        var (kept, problems) = ChartReader.Read(text);
        Assert.True(problems.Count == 0, $"{text}\n{string.Join("; ", problems.Select(p => p.Message))}");
        Assert.Equal(SampleCharts.Facts(chart), SampleCharts.Facts(kept));
    }

    private static double Quarters(Chart chart) => chart.Tempo * (chart.Meter.IsCompound ? 1.5 : 4.0 / chart.Meter.Unit);

    private static IEnumerable<string> Written(Chart chart) =>
        chart.PlayedBars().Select(b => string.Join(' ', b.Slots.Select(s => string.Create(CultureInfo.InvariantCulture, $"{s.Symbol}:{s.Beats:0.##}"))));

    /// <summary>Whether bars have the same tones for as many beats.</summary>
    private static bool Same(IReadOnlyList<string> bars, Chart chart) =>
        bars.Select(Tones).SequenceEqual(Written(chart).Select(Tones));

    private static string Tones(string bar) => string.Join(' ', bar.Split(' ').Select(slot =>
    {
        var colon = slot.LastIndexOf(':');
        return ChordReader.Read(slot[..colon]).Chord is { } chord ? $"{chord.PitchClassMask}/{chord.BassPitchClass}{slot[colon..]}" : slot;
    }));
}
