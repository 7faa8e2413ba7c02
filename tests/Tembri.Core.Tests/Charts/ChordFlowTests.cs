using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

public sealed class ChordFlowTests
{
    [Fact]
    public void Beats_changes_and_their_shortest_time_are_counted_over_the_form()
    {
        // Verse: G 4, C 2 D 2, G 4; played twice, so the last G and the first G of the repeat are one.
        var flow = new ChordFlow(ChartReader.Read("form: Verse x2\n[Verse]\n| G | C D | G |").Chart);
        Assert.Equal(["G", "C", "D"], flow.Chords.Select(c => c.Name));
        Assert.Equal([16.0, 4, 4], flow.Beats);
        Assert.Equal(24, flow.TotalBeats);
        Assert.Equal([(0, 1, 2, 4.0), (1, 2, 2, 2.0), (2, 0, 2, 2.0)],
            flow.Steps.Select(s => (s.From, s.To, s.Count, s.ShortestBeats)));
    }

    [Fact]
    public void Silence_gives_the_hand_time()
    {
        var flow = new ChordFlow(ChartReader.Read("| C N.C. | F |").Chart);
        Assert.Equal(4, Assert.Single(flow.Steps).ShortestBeats);
        Assert.Equal(6, flow.TotalBeats);
    }

    [Fact]
    public void The_numbers_of_a_flow_hang_together()
    {
        var chord = Pick.From("C", "F", "G7", "Am", "N.C.", "Xx");
        var song = from bars in chord.Array[1, 4].Array[1,
            8] from times in Gen.Int[1,
                3] select $"form: A x{times}\n[A]\n| {string.Join(" | ", bars.Select(b => string.Join(" ", b)))} |";
        song.Sample(text =>
        {
            var flow = new ChordFlow(ChartReader.Read(text).Chart);
            Assert.Equal(flow.Beats.Sum(), flow.Sequence.Sum(s => s.Beats), 1e-9);
            Assert.All(flow.Steps, s => Assert.True(s.From != s.To && s.Count > 0 && s.ShortestBeats > 0));
            Assert.True(flow.Steps.Sum(s => s.Count) <= Math.Max(0, flow.Sequence.Count - 1));
        });
    }

    [Theory]
    [InlineData("Eb", "C", "Cm7", "Am7")]
    [InlineData("Eb", "D", "Ab/C", "G/B")]
    [InlineData("F#", "E", "A#m", "G♯m")]
    [InlineData("Bm", "Am", "F#7", "E7")]
    [InlineData("Ab", "G", "Dbadd9", "Cadd9")]
    public void Moving_a_chart_to_another_key_spells_it_as_that_key_does(string from, string to, string chord, string moved)
    {
        Assert.True(Key.TryParse(to, out var target));
        var chart = ChartTransposer.Move(ChartReader.Read($"key: {from}\n| {chord} |").Chart, target);
        Assert.Equal(moved, Assert.Single(chart.Chords).Name);
        Assert.Equal(target, chart.Key);
    }

    [Fact]
    public void Moving_there_and_back_is_the_same_chart()
    {
        foreach (var file in Directory.GetFiles(Path.Combine(Repository.Folder, "demo", "songs"), "*.txt"))
        {
            var chart = ChartReader.Read(File.ReadAllText(file)).Chart;
            for (var semitones = 1; semitones <= 11; semitones++)
            {
                var back = ChartTransposer.Move(ChartTransposer.Move(chart, chart.Key.Transpose(semitones)), chart.Key);
                Assert.Equal(chart.Played().Select(s => s.Chord?.PitchClassMask),
                    back.Played().Select(s => s.Chord?.PitchClassMask));
                Assert.Equal(chart.Chords.Count, ChartTransposer.Move(chart, chart.Key.Transpose(semitones)).Chords.Count);
            }
        }
    }

    [Fact]
    public void A_section_is_cut_into_lines_that_lose_no_bar()
    {
        Gen.Select(Gen.Bool.Array[1, 20], Gen.Int[1, 6]).Sample((starts, longest) =>
        {
            var section = new Section("A", [.. starts.Select(s => new Bar(Meter.Common, [new Slot("C", null, 4)], s))]);
            var lines = section.Lines(longest).ToList();
            return lines.Sum(l => l.Count) == starts.Length && lines.All(l => l.Count >= 1 && l.Count <= longest)
                && lines.SelectMany(l => l.Skip(1)).All(b => !b.StartsLine);
        });
    }
}
