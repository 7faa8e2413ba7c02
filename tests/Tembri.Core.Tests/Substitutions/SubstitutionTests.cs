using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Substitutions;

public sealed class SubstitutionTests
{
    private static IEnumerable<string> Names(string chord, SubstitutionKind kind) =>
        SubstitutionFinder.For(Chord.Parse(chord)).Where(s => s.Kind == kind).Select(s => s.Chord.Name);

    [Theory]
    [InlineData("D7b9", SubstitutionKind.DropExtension, "D7", "D")]
    [InlineData("G/B", SubstitutionKind.DropBass, "G")]
    [InlineData("F", SubstitutionKind.ColourRelative, "Fmaj7", "Fadd9")]
    [InlineData("Bm", SubstitutionKind.ColourRelative, "Bm7")]
    [InlineData("E", SubstitutionKind.ColourRelative, "E7")]
    [InlineData("F#m", SubstitutionKind.SharedTones, "A")]
    [InlineData("F", SubstitutionKind.PowerChord, "F5")]
    [InlineData("Cmaj9", SubstitutionKind.DropExtension, "Cmaj7", "C")]
    [InlineData("Am7/G", SubstitutionKind.DropBass, "Am7")]
    [InlineData("Bdim7", SubstitutionKind.SharedTones, "G7")]
    public void The_swaps_teachers_name_are_found(string chord, SubstitutionKind kind, params string[] substitutions) =>
        Assert.All(substitutions, s => Assert.Contains(s, Names(chord, kind)));

    [Theory]
    [InlineData("Bdim", "G7")]
    [InlineData("Am", "C")]
    [InlineData("Am7", "C")]
    [InlineData("Cmaj7", "Em")]
    [InlineData("C6", "Am")]
    [InlineData("G7", "Bdim")]
    [InlineData("C", null)]
    public void The_upper_notes_of_a_chord_are_another_one(string chord, string? other) =>
        Assert.Equal(other is null ? [] : [other], Names(chord, SubstitutionKind.SharedTones));

    [Fact]
    public void Each_swap_keeps_what_its_kind_says()
    {
        var kinds = Pick.From("", "m", "7", "maj7", "m7", "9", "7b9", "sus4", "7sus4", "m7b5", "dim7", "6", "add9", "13", "m9",
            "maj9", "/E", "m/G", "7/F");
        Gen.Select(Pick.From("C", "F#", "Bb", "E", "A"), kinds).Sample((root, kind) =>
        {
            var chord = Chord.Parse(root + kind);
            var substitutions = SubstitutionFinder.For(chord);
            Assert.Equal((SubstitutionKind.None, chord), (substitutions[0].Kind, substitutions[0].Chord));
            Assert.Equal(substitutions.Count, substitutions.Select(s => s.Chord.Name).Distinct().Count());
            foreach (var substitution in substitutions)
            {
                var lost = chord.WithoutBass().PitchClassMask & ~substitution.Chord.PitchClassMask;
                var gained = substitution.Chord.WithoutBass().PitchClassMask & ~chord.PitchClassMask;
                switch (substitution.Kind)
                {
                    case SubstitutionKind.DropBass:
                        Assert.True(substitution.Chord.Bass is null && lost == 0 && gained == 0,
                            $"{chord}: {substitution.Chord}");
                        break;
                    case SubstitutionKind.DropExtension:
                        Assert.True(
                            substitution.Chord.Root == chord.Root && substitution.Chord.Degrees.Count < chord.Degrees.Count + 1,
                            $"{chord}: {substitution.Chord}");
                        break;
                    case SubstitutionKind.PowerChord: Assert.Equal(2, substitution.Chord.Degrees.Count); break;
                    case SubstitutionKind.ColourRelative: Assert.Equal(chord.Root, substitution.Chord.Root); break;
                }
            }
        });
    }

    [Fact]
    public void A_stepwise_bass_is_seen_in_a_walk_down_and_not_in_a_leap()
    {
        Guard Of(string text, string chord)
        {
            var chart = ChartReader.Read(text).Chart;
            var flow = new ChordFlow(chart);
            return GuardFinder.Find(flow, chart.Key)[flow.Chords.ToList().FindIndex(c => c.Name == chord)];
        }
        Assert.True(Of("key: G\n| G | G/F# | Em | C |", "G/F♯").StepwiseBass);
        Assert.True(Of("key: C\n| C | G/B | Am | F |", "G/B").StepwiseBass);
        Assert.False(Of("key: G\n| G | C/E | G | D |", "C/E").StepwiseBass);
        Assert.True(Of("key: G\n| G | D7 | G |", "D7").KeepsThird);
        Assert.False(Of("key: G\n| G | D7 | Em |", "D7").KeepsThird);
        Assert.True(Of("key: A\n| Dsus4 | D | A |", "D").NoSuspension);
    }

    [Fact]
    public void The_first_handful_for_f_and_b_minor_is_what_teachers_teach()
    {
        var book = new FingeringBook(Known.Results, Guitar.Steel, Hand.Medium, true, 0);
        List<string> First(string chord, int count) =>
            [.. new CandidateFinder(Known.Results).For(Chord.Parse(chord), book, Accompaniment.Record)
            .GroupBy(c => c.Fingering.Shape).Select(g => g.MinBy(CandidateFinder.Strangeness)!)
            .OrderBy(CandidateFinder.Strangeness).Take(count).Select(c => c.Fingering.Shape.ToString())];
        foreach (var shape in new[] { "133211", "xx3211", "xx321x", "xx3210", "1x3211" }) Assert.Contains(shape, First("F", 8));
        foreach (var shape in new[] { "x24432", "xx4432", "x20202" }) Assert.Contains(shape, First("Bm", 4));
        // Odd finds rank low, and treble strings are left out last.
        Assert.DoesNotContain("x20402", First("Bm", 10));
        Assert.DoesNotContain("32000x", First("G", 10));
    }

    /// <summary>The one quick chord of a bar goes wherever it stands, and its beats go to the neighbour that sounds most like
    /// it.</summary>
    [Fact]
    public void A_single_passing_chord_goes_from_every_place_of_its_bar()
    {
        var chords = Pick.From("C", "F", "Am", "Em", "Dm", "G");
        Gen.Select(chords.Array[2, 4], Gen.Int[0, 3]).Sample((names, at) =>
        {
            at %= names.Length;
            if (names.Distinct().Count() < names.Length) return;
            // Two beats each, one for the passing chord.
            var written = string.Join(' ', names.Select((n, i) => i == at ? n : $"{n} ."));
            var beats = 2 * names.Length - 1;
            var chart = ChartReader.Read($"key: C\nmeter: {beats}/4\n| {written} |").Chart;
            var thin = PassingChords.LeaveOut(chart, 1.5 / beats).Sections[0].Bars[0].Slots;
            Assert.Equal(names.Where((_, i) => i != at), thin.Select(s => s.Symbol));
            int Shared(int i) =>
                i < 0 || i >= names.Length
                    ? -1
                    : System.Numerics.BitOperations.PopCount(
                        (uint)(Chord.Parse(names[i]).PitchClassMask & Chord.Parse(names[at]).PitchClassMask));
            var keeper = Shared(at - 1) >= Shared(at + 1) ? at - 1 : at + 1;
            Assert.Equal(names.Select((_, i) => i == keeper ? 3.0 : 2).Where((_, i) => i != at), thin.Select(s => s.Beats));
            Assert.Equal(1, PassingChords.BeatsLeftOut(chart, PassingChords.LeaveOut(chart, 1.5 / beats)), 1e-9);
        });
    }

    /// <summary>A dominant that leads on does not stand for the whole bar when the chord it leads from goes; any other longer
    /// chord does.</summary>
    [Theory]
    [InlineData("C", "C G7")]
    [InlineData("Cm", "C G7")]
    [InlineData("F", "G7")]
    [InlineData("D", "G7")]
    [InlineData("G7", "G7")]
    public void A_dominant_that_leads_on_does_not_take_the_place_of_the_chord_before(string next, string kept)
    {
        var thin = PassingChords.LeaveOut(ChartReader.Read($"key: C\n| C G7 . . | {next} |").Chart, 0.3).Sections[0].Bars;
        Assert.Equal(kept, string.Join(' ', thin[0].Slots.Select(s => s.Symbol)));
        // At the end of what is repeated the first chord of the section follows.
        var last = PassingChords.LeaveOut(ChartReader.Read($"key: C\nform: Verse, Verse\n[Verse]\n| {next} | C G7 . . |").Chart,
            0.3).Sections[0].Bars;
        Assert.Equal(kept, string.Join(' ', last[1].Slots.Select(s => s.Symbol)));
    }

    [Fact]
    public void A_longer_chart_thinned_keeps_its_beats_and_its_first_and_last_chords_of_whole_bars()
    {
        var splits = Pick.From("C", "C . Dm .", "C . . G7", "Am . G F", "Dm G7 C F", "2/4 G7", "Asus4 . A .");
        splits.Array[1, 8].Sample(bars =>
        {
            var chart = ChartReader.Read($"key: C\n| {string.Join(" | ", bars)} |").Chart;
            foreach (var below in new[] { 0.26, 0.51 })
            {
                var thin = PassingChords.LeaveOut(chart, below);
                Assert.Equal(chart.Sections[0].Beats, thin.Sections[0].Beats, 1e-9);
                foreach (var (full, kept) in chart.Sections[0].Bars.Zip(thin.Sections[0].Bars))
                {
                    Assert.True(kept.Slots.Count >= 1 && kept.Slots.Count <= full.Slots.Count);
                    Assert.All(kept.Slots, s => Assert.Contains(s.Symbol, full.Slots.Select(f => f.Symbol)));
                }
                Assert.InRange(PassingChords.BeatsLeftOut(chart, thin), 0, chart.Sections[0].Beats / 1.3);
            }
            Assert.Same(chart, PassingChords.LeaveOut(chart, 0));
        });
    }
}
