using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
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
        var ladder = Known.Builder.Build(new ArrangementRequest { Chart = reading.Chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        var version = new VersionChart(ladder, ladder.Played(5));
        return (new Performance(version), version);
    }

    private static string Said(PlayedStroke s) => FormattableString.Invariant($"{s.At:0.##}+{s.Length:0.##}{(s.Up ? "u" : "")} {string.Join(',', s.Notes)}");

    [Fact]
    public void A_picked_pattern_sounds_its_strings_and_each_rings_until_it_is_struck_again()
    {
        // Open C, x32010: C3 48, E3 52, G3 55, C4 60, E4 64; open G, 320003: G2 43, B2 47, D3 50, G3 55, B3 59, G4 67.
        var (played, _) = Record("key: C\n[Verse]\nstrum: b3a2\n| C | G |");
        Assert.Equal(["0+4 48", "1+3 55", "2+2 52", "3+1 60", "4+4 43", "5+3 55", "6+2 47", "7+1 59"], played.Strokes.Select(Said));
        // Two at once, a string struck again within the bar, a passed step, the sixth string where the shape leaves it out.
        (played, _) = Record("key: C\n[Verse]\nstrum: (b1)-3-1-6-\n| C |");
        Assert.Equal(["0+2 48,64", "1+3 55", "2+2 64", "3+1 48"], played.Strokes.Select(Said));
    }

    [Fact]
    public void A_damped_stroke_is_short_and_ends_what_rang()
    {
        var (played, _) = Record("key: C\n[Verse]\nstrum: Dxux\n| C |");
        Assert.Equal(["0+1 48,52,55,60,64", "1+0.12 48,52,55,60,64", "2+1u 64,60,55,52", "3+0.12 48,52,55,60,64"], played.Strokes.Select(Said));
    }

    [Fact]
    public void Every_note_is_one_of_the_chords_shape_and_ends_with_its_chord_whatever_the_pattern()
    {
        Gen.Char["DduX-.ba123456x"].Array[2, 16].Sample(letters =>
        {
            var pattern = new string(letters).Replace('X', 'x');
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
        foreach (var bad in new[] { "", "D", "boom", "(b", "()", "(D)", "b7", "(b1", new string('d', 65), "b)" }) Assert.Null(HandSteps.Read(bad));
    }
}
