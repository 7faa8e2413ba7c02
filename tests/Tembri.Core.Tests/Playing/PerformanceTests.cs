using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Playing;

public sealed class PerformanceTests
{
    private static (Performance Played, VersionChart Version) Record(string text)
    {
        var reading = ChartReader.Read(text);
        Assert.Empty(reading.Problems);
        var ladder = Known.Builder.Build(
            new ArrangementRequest { Chart = reading.Chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        var version = new VersionChart(ladder, ladder.Played(5));
        return (new Performance(version), version);
    }

    private static string Said(PlayedStroke s) =>
        FormattableString.Invariant($"{s.At:0.##}+{s.Length:0.##}{(s.Up ? "u" : "")} {string.Join(',', s.Notes)}");

    [Fact]
    public void A_picked_pattern_sounds_its_strings_and_each_rings_until_it_is_struck_again()
    {
        // Open C, x32010: C3 48, E3 52, G3 55, C4 60, E4 64; open G, 320003: G2 43, B2 47, D3 50, G3 55, B3 59, G4 67.
        var (played, _) = Record("key: C\n[Verse]\nstrum: b3a2\n| C | G |");
        Assert.Equal(["0+4 48", "1+3 55", "2+2 52", "3+1 60", "4+4 43", "5+3 55", "6+2 47", "7+1 59"],
            played.Strokes.Select(Said));
        // Two at once, a string struck again within the bar, a passed step, the sixth string where the shape leaves it out.
        (played, _) = Record("key: C\n[Verse]\nstrum: (b1)-3-1-6-\n| C |");
        Assert.Equal(["0+2 48,64", "1+3 55", "2+2 64", "3+1 48"], played.Strokes.Select(Said));
    }

    [Fact]
    public void A_damped_stroke_is_short_and_ends_what_rang()
    {
        var (played, _) = Record("key: C\n[Verse]\nstrum: Dxux\n| C |");
        Assert.Equal(["0+1 48,52,55,60,64", "1+0.12 48,52,55,60,64", "2+1u 64,60,55,52", "3+0.12 48,52,55,60,64"],
            played.Strokes.Select(Said));
    }

    [Fact]
    public void Every_note_is_one_of_the_chords_shape_and_ends_with_its_chord_whatever_the_pattern()
    {
        Gen.Char["DduX-.ba123456x"].Array[2, 16].Sample(letters =>
        {
            var pattern = new string(letters).Replace('X', 'x');
            if (pattern.All(c => c is '-' or '.')) pattern = "d" + pattern[1..];
            if (pattern.Length % 4 != 0) pattern = pattern.PadRight(pattern.Length + 4 - pattern.Length % 4, '.');
            var (played, version) = Record($"key: G\n[Verse]\nstrum: {pattern}\n| G . <Em . | C | D7 (hold) |");
            foreach (var chord in played.Chords)
            {
                var mine = played.Strokes.Where(s => s.At >= chord.At - 1e-9 && s.At < chord.At + chord.Length - 1e-9).ToList();
                // The change itself is heard, on the bass of its shape unless the pattern has another string there.
                Assert.Contains(mine, s => Math.Abs(s.At - chord.At) < 1e-9);
                var slot = version.Chart.Sections[0].Bars.SelectMany(b => b.Slots).First(s => s.Chord?.Name == chord.ShapeName);
                var pitches = Performance.Pitches(version.ShapeOf(slot)!, version.Raised);
                Assert.All(mine, s => Assert.Subset(pitches.ToHashSet(), s.Notes.ToHashSet()));
                Assert.All(mine, s => Assert.InRange(s.At + s.Length, s.At + 1e-6, chord.At + chord.Length + 1e-9));
            }
        }, iter: 150);
    }

    [Fact]
    public void A_pattern_that_is_none_is_told_from_one()
    {
        foreach (var good in new[] { "Du", "D-du-udu", "b321", "(b1)2(a12)3", "x.x." }) Assert.NotNull(HandSteps.Read(good));
        foreach (var bad in new[] { "", "D", "boom", "(b", "()", "(D)", "b7", "(b1", new string('d', 65), "b)" })
            Assert.Null(HandSteps.Read(bad));
    }

    [Fact]
    public void A_figure_is_heard_in_place_of_the_strum_and_only_there()
    {
        // Open C and G; the second half of the first bar is a run, hammered at its end, with a note held over the bar line.
        var (played, version) = Record("key: C\n[Verse]\nstrum: Dddd\nfigure: | - - . . A2 B2 hC3 . | . - - - |\n| C | G |");
        Assert.Equal(["0+1 48,52,55,60,64", "1+1 48,52,55,60,64", "2+0.5 45", "2.5+0.5 47", "3+2 48", "5+1 43,47,50,55,59,67",
                "6+1 43,47,50,55,59,67", "7+1 43,47,50,55,59,67"], played.Strokes.Select(Said));
        Assert.True(played.Strokes[4].Strength < played.Strokes[3].Strength);
        Assert.Equal(1, Assert.Single(version.Rung.Figures).Times);
    }

    [Fact]
    public void Lower_rungs_play_less_of_a_figure_and_it_counts_in_the_fit()
    {
        var chart = ChartReader.Read(
            "key: C\ntempo: 90\n[Intro]\nfigure: | C3 D3 E3 F3 G3 F3 E3 D3 |\n| C |\n[Verse]\n| C | G | Am | F |").Chart;
        var ladder =
            Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        List<int> notes = [.. ladder.Playable.Select(r => r.Figures.Single().Played?.Notes.Count ?? 0)];
        Assert.Equal([0, 4, 8, 8, 8], notes);
        var loads = ladder.Playable.Select(r => r.Figures.Single().Load).ToList();
        Assert.Equal(loads.Order(), loads);
        var outline = VersionOutline.Of(ladder.Played(5), chart.Tempo);
        var player = new Player { Skills = new Skills { Fingers = 5, Changes = 60, RightHand = 60 } };
        var without = new VersionOutline(chart.Tempo, outline.Hand,
            [.. outline.Chords.Where(c => !c.Name.StartsWith("figure", StringComparison.Ordinal))], outline.Changes);
        Assert.Equal(outline.Chords.Count - 1, without.Chords.Count);
        Assert.NotEqual(without.Fit(player), outline.Fit(player));
    }

    [Fact]
    public void Loud_and_soft_swing_and_stops_are_heard()
    {
        var (played, _) =
            Record("key: C\n[Verse]\nstrum: dudu, swing 67, soft\nmeter: 2/4\n| C |\n[Chorus]\nstrum: ds, loud\n| C |\n".Replace(
                "meter: 2/4\n", "", StringComparison.Ordinal).Insert(0, "meter: 2/4\n"));
        Assert.Equal([0, 0.67, 1, 1.67, 2], played.Strokes.Select(s => s.At));
        Assert.Equal(0.65, played.Strokes[0].Strength / 0.78, 1e-6);
        // The stop on 2 ends the stroke on 1; after it there is silence.
        Assert.Equal(1, played.Strokes[^1].Length, 1e-9);
        Assert.True(played.Strokes[^1].Strength > played.Strokes[0].Strength);
    }
}
