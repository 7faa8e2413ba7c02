using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Checking;
using static Tembri.Core.Tests.Charts.MessyCharts;

namespace Tembri.Core.Tests.Charts;

/// <summary>Charts as people paste them (<c>tests/corpora/messy/charts.txt</c>): each is read as it says there, and nothing of
/// it is lost in silence.</summary>
public sealed partial class MessyChartTests
{
    public static TheoryData<string> Names => MessyCharts.Names;

    [GeneratedRegex(@"^(form|key|tempo|meter|title|capo|tuning|words): (.*)$")]
    private static partial Regex Fact();

    private static string WordsOf(Chart chart) =>
        string.Concat(chart.Sections.SelectMany(s => s.Bars).Select(b => b.Lead + string.Concat(b.Slots.Select(s => s.Lyric))))
            .Replace(" ", "");

    [Theory]
    [MemberData(nameof(Names))]
    public void A_chart_as_people_paste_it_is_read_or_said(string name)
    {
        var (text, expected) = All[name];
        var (chart, problems) = ChartReader.Read(text);
        var facts = expected.Select(e => Fact().Match(e)).Where(m => m.Success)
            .ToDictionary(m => m.Groups[1].Value, m => m.Groups[2].Value);
        Assert.Equal(expected.Where(e => e[0] is not ('!' or '?') && !Fact().IsMatch(e)),
            chart.Sections.Select(s => $"{s.Name}: {Bars(s)}"));
        Assert.Equal(facts.GetValueOrDefault("form") ?? string.Join(", ", chart.Sections.Select(s => s.Name)), FormOf(chart));
        if (facts.TryGetValue("key", out var key)) Assert.Equal(key, chart.Key.ToString());
        if (facts.TryGetValue("meter", out var meter)) Assert.Equal(meter, chart.Meter.ToString());
        Assert.Equal(facts.GetValueOrDefault("tempo") ?? "90", chart.Tempo.ToString(CultureInfo.InvariantCulture));
        Assert.Equal(facts.GetValueOrDefault("title") ?? "", chart.Title);
        if (facts.TryGetValue("capo", out var capo)) Assert.Equal(capo, chart.RecordCapo.ToString(CultureInfo.InvariantCulture));
        if (facts.TryGetValue("tuning", out var tuning))
            Assert.Equal(tuning, chart.TuningShift.ToString(CultureInfo.InvariantCulture));
        // Words may be parted within a word, where the chord stands.
        if (facts.TryGetValue("words", out var words)) Assert.Equal(words.Replace(" ", ""), WordsOf(chart));
        var said = problems.Select(p => $"! {p.Line}:{p.Column} {p.Message}").ToList();
        var wanted = expected.Where(e => e.StartsWith('!')).ToList();
        Assert.True(said.Count == wanted.Count
            && said.Zip(wanted)
                .All(p => p.First.StartsWith(p.Second[..p.Second.IndexOf(' ', 2)] + " ", StringComparison.Ordinal)
                    && p.First.Contains(p.Second[(p.Second.IndexOf(' ', 2) + 1)..], StringComparison.Ordinal)),
            $"wanted:\n{string.Join('\n', wanted)}\nsaid:\n{string.Join('\n', said)}");
        WithoutChords(text, chart, [.. expected.Where(e => e.StartsWith('?'))]);
        // Written in our own way and read once more it is the same chart.
        if (chart.Sections.Count == 0) return;
        var again = ChartReader.Read(ChartWriter.Write(chart)).Chart;
        Assert.Equal(chart.Sections.Select(s => $"{s.Name}: {Bars(s)}"), again.Sections.Select(s => $"{s.Name}: {Bars(s)}"));
        Assert.Equal(FormOf(chart), FormOf(again));
    }

    /// <summary>What is only assumed to follow another section is in doubt, until the text says so.</summary>
    private static void WithoutChords(string text, Chart chart, List<string> wanted)
    {
        IReadOnlyList<Doubt> Doubts(string of) =>
            [.. DoubtFinder.Find(of, ChartReader.Read(of).Chart)
                .Where(d => d.Id.StartsWith("without chords", StringComparison.Ordinal))];
        var doubts = Doubts(text);
        Assert.Equal(wanted.Count, doubts.Count);
        foreach (var (doubt, said) in doubts.Zip(wanted))
        {
            Assert.StartsWith(said[2..], $"{doubt.Line}:{doubt.Column} {doubt.Message}", StringComparison.Ordinal);
            if (doubt.Mends.Count == 0) continue;
            var mended = doubt.Mends[0].Edits.Aggregate(text, (t, e) => e.Apply(t));
            Assert.DoesNotContain(doubt.Id, Doubts(mended).Select(d => d.Id));
            var after = ChartReader.Read(mended);
            Assert.Equal(chart.Sections.Select(s => $"{s.Name} {s.Like}: {Bars(s)}"),
                after.Chart.Sections.Select(s => $"{s.Name} {s.Like}: {Bars(s)}"));
            Assert.Equal(WordsOf(chart), WordsOf(after.Chart));
            Assert.Equal(FormOf(chart), FormOf(after.Chart));
        }
    }

    /// <summary>A text moved to another key and back holds the same chords, however it is written; what was said of it stays the
    /// same.</summary>
    [Theory]
    [MemberData(nameof(Names))]
    public void A_chart_as_people_paste_it_can_be_moved(string name)
    {
        var (chart, problems) = ChartReader.Read(All[name].Text);
        if (chart.Sections.Count == 0
            || problems.Any(p => p.Message.Contains("begins with a letter", StringComparison.Ordinal)
                || p.Message.Contains("empty place", StringComparison.Ordinal)
                || p.Message.Contains("not understood after", StringComparison.Ordinal)))
            return;
        var up = ChartTextMover.Move(All[name].Text, chart.Key.Transpose(2));
        var moved = ChartReader.Read(up).Chart;
        Assert.Equal(chart.Key.Transpose(2).ToString(), moved.Key.ToString());
        int[] Tones(Chart c) =>
            [.. c.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots).Select(s => s.Chord?.PitchClassMask ?? 0)];
        int Up(int mask) => (mask << 2 | mask >> 10) & 0xFFF;
        Assert.Equal(Tones(chart).Select(Up), Tones(moved));
        Assert.Equal(Tones(chart), Tones(ChartReader.Read(ChartTextMover.Move(up, chart.Key)).Chart));
    }

    /// <summary>Digits of another script are digits: the chart is the same, and no edit of it throws.</summary>
    [Theory]
    [MemberData(nameof(Names))]
    public void Digits_of_another_script_are_read_like_any_others(string name)
    {
        var text = All[name].Text;
        var other = string.Concat(text.Select(c => char.IsAsciiDigit(c) ? (char)('\u0660' + (c - '0')) : c));
        var (was, now) = (ChartReader.Read(text), ChartReader.Read(other));
        Assert.Equal(was.Problems.Select(p => (p.Line, p.Column)), now.Problems.Select(p => (p.Line, p.Column)));
        Assert.Equal(Played(was.Chart), Played(now.Chart));
        foreach (var s in MessyCharts.Some(now.Chart.Sections.Count, 2))
        {
            Assert.True(BarEdits.Write(other, new(s, 0), "F#m7b5") is { Text: not null } or { Fault: not null });
            Assert.True(SectionEdits.Copy(other, s) is { Text: not null } or { Fault: not null });
        }
        ChartTextMover.Move(other, now.Chart.Key.Transpose(2));

        static List<string> Played(Chart c) => [.. c.Form.Select(p => $"{p}"), .. c.Sections.SelectMany(x => x.Bars)
            .SelectMany(b => b.Slots).Select(x => $"{x.Chord?.Name ?? x.Symbol} {x.Beats}"), $"{c.Tempo} {c.Meter} {c.RecordCapo}"];
    }

    /// <summary>A bar written anew on the drawing changes that bar and its repeats and nothing else, or it is said why
    /// not.</summary>
    [Theory]
    [MemberData(nameof(Names))]
    public void A_bar_of_a_chart_as_people_paste_it_can_be_changed(string name)
    {
        var text = All[name].Text;
        var chart = ChartReader.Read(text).Chart;
        foreach (var s in MessyCharts.Some(chart.Sections.Count, 3))
            foreach (var b in MessyCharts.Some(chart.Sections[s].Bars.Count, 4))
            {
                var edited = BarEdits.Write(text, new(s, b), "F#m7b5");
                if (edited.Text is not { } changed) { Assert.True(edited.Fault!.Length > 10); continue; }
                var again = ChartReader.Read(changed).Chart;
                Assert.Equal(chart.Sections.Select(x => x.Name), again.Sections.Select(x => x.Name));
                Assert.EndsWith("m7♭5", Shapes(again, s, b), StringComparison.Ordinal);
                for (var other = 0; other < chart.Sections.Count; other++)
                {
                    Assert.Equal(chart.Sections[other].Bars.Count, again.Sections[other].Bars.Count);
                    for (var bar = 0; bar < chart.Sections[other].Bars.Count; bar++)
                        if (!Shapes(again, other, bar).EndsWith("m7♭5", StringComparison.Ordinal))
                            Assert.Equal(Shapes(chart, other, bar), Shapes(again, other, bar));
                }
            }

        // Above a capo another root sounds than the one that was written, so it is known by its kind.
        static string Shapes(Chart c, int section, int bar) =>
            string.Join(' ', c.Sections[section].Bars[bar].Slots.Select(x => x.Chord?.Name ?? x.Symbol));
    }
}
