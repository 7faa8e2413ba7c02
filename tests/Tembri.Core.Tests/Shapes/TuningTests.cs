using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;
using Tembri.Core.Shapes;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Shapes;

public sealed class TuningTests
{
    [Theory]
    [InlineData("drop D", "38,45,50,55,59,64")]
    [InlineData("Double Drop D tuning", "38,45,50,55,59,62")]
    [InlineData("DADGAD", "38,45,50,55,57,62")]
    [InlineData("D A D G B E", "38,45,50,55,59,64")]
    [InlineData("D2 G2 D3 G3 B3 D4", "38,43,50,55,59,62")]
    [InlineData("C# G# C# F# A# D#", "37,44,49,54,58,63")]
    public void A_tuning_is_read_by_its_name_or_its_strings(string text, string strings)
    {
        Assert.True(Tuning.TryParse(text, out var tuning));
        Assert.Equal(strings, string.Join(',', tuning.Strings));
        // Written out it is read back.
        Assert.True(Tuning.TryParse(tuning.Name, out var again));
        Assert.Equal(tuning, again);
    }

    [Theory]
    [InlineData("drop D", 0, "drop D")]
    [InlineData("C# G# C# F# A# D#", -1, "C#2 G#2 C#3 F#3 A#3 D#4")]
    [InlineData("half step down", -1, "-1")]
    [InlineData("E A D G B E", 0, null)]
    public void A_chart_says_how_its_guitar_is_tuned_and_is_written_so(string header, int shift, string? written)
    {
        var reading = ChartReader.Read($"key: D\ntuning: {header}\n| D | A |");
        Assert.Empty(reading.Problems);
        Assert.Equal(shift, reading.Chart.TuningShift);
        var back = ChartReader.Read(ChartWriter.Write(reading.Chart)).Chart;
        Assert.Equal((reading.Chart.TuningShift, reading.Chart.Strings), (back.TuningShift, back.Strings));
        if (written is null) Assert.Null(ChartWriter.Tuning(reading.Chart));
        else Assert.NotNull(ChartWriter.Tuning(reading.Chart));
        Assert.Contains("drop D", ChartReader.Read("tuning: drip D\n| D |").Problems.Single().Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Every_grip_of_another_tuning_plays_its_chord_there()
    {
        Assert.Equal(Tuning.Known.Skip(1).Select(k => k.Tuning).ToHashSet(), GripLibrary.ByTuning.Keys.ToHashSet());
        foreach (var (tuning, grips) in GripLibrary.ByTuning)
            foreach (var grip in grips)
            {
                var sounding = grip.Shape.PitchClassMask(tuning);
                Assert.True((sounding & ~grip.Chord.PitchClassMask) == 0,
                    $"{tuning.Name}: {grip.Chord.Name} {grip.Shape} sounds what is not in it");
                Assert.Equal(grip.Chord.BassPitchClass, grip.Shape.BassPitchClass(tuning));
                var third = grip.Chord.Degrees.Where(d => d.Role == DegreeRole.ThirdOrSuspension).ToList();
                Assert.All(third, d => Assert.NotEqual(0, sounding & 1 << (grip.Chord.Root.PitchClass + d.Semitones) % 12));
                Assert.True(new FingeringFinder(new NeckGeometry(Guitar.Steel.Strung(tuning), 0), Core.Hands.Hand.Medium, true)
                        .Weigh(grip.Shape, [.. grip.Fingers]) is not null,
                    $"{tuning.Name}: no hand does {grip.Chord.Name} {grip.Shape}");
            }
    }

    [Fact]
    public void A_string_tuned_down_is_slacker_by_the_square_of_its_pitch()
    {
        var dropped = Guitar.Steel.Strung(Tuning.Known.Single(k => k.Name == "drop D").Tuning);
        Assert.Equal(Guitar.Steel.Tensions[0] * Math.Pow(2, -4 / 12.0), dropped.Tensions[0], 1e-9);
        Assert.Equal(Guitar.Steel.Tensions.Skip(1), dropped.Tensions.Skip(1));
        Assert.True(new NeckGeometry(dropped, 0).PressForce(0, 2) < new NeckGeometry(Guitar.Steel, 0).PressForce(0, 2));
    }

    [Theory]
    [InlineData("drop D", 38)]
    [InlineData("open G", 43)]
    [InlineData("D-A-D-G-A-D", 38)]
    [InlineData("D A D F# B E", 38)]     // a tuning of one's own
    public void A_ladder_in_another_tuning_plays_the_chords_of_the_song(string tuning, int lowest)
    {
        var reading = ChartReader.Read($"key: D\ntempo: 80\ntuning: {tuning}\n| D | G | A | D | Em | A7 | D | D |");
        Assert.Empty(reading.Problems);
        var ladder = Known.Builder.Build(
            new ArrangementRequest { Chart = reading.Chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        var record = ladder.Played(5);
        foreach (var chord in record.Played)
        {
            // What sounds in this tuning is in the chord, third and root heard.
            var sounding = chord.Choice.Fingering.Shape.PitchClassMask(reading.Chart.Strings);
            Assert.Equal(0, sounding & ~chord.ShapeChord.PitchClassMask);
            Assert.NotEqual(0, sounding & 1 << chord.ShapeChord.Root.PitchClass);
        }
        var played = new Performance(new VersionChart(ladder, record));
        var pitches = played.Strokes.SelectMany(s => s.Notes).ToHashSet();
        Assert.True(pitches.Min() >= reading.Chart.Strings.Strings.Min());
        Assert.True(pitches.Min() <= lowest + 12);
        Assert.Equal(record.Chords.Count, record.Played.Count());
        // The ladder stays a ladder.
        foreach (var (below, above) in ladder.Playable.Zip(ladder.Playable.Skip(1)))
            Assert.True(above.Load >= below.Load - 1e-9 && above.Closeness >= below.Closeness - 1e-9);
    }

    [Fact]
    public void In_drop_d_the_d_chord_rings_on_all_strings()
    {
        var found = new ShapeFinder(Known.Results, Tuning.DropD).Taught(Chord.Parse("D"));
        Assert.Contains(found, f => f.Shape.ToString() == "000232" && f.Origin.Source == ShapeSource.Library);
        // Shapes that leave the low string alone are those of standard tuning; those that need it lose it.
        Assert.Contains(new ShapeFinder(Known.Results, Tuning.DropD).Taught(Chord.Parse("Am")),
            f => f.Shape.ToString() == "x02210" && f.Origin.Source == ShapeSource.Library);
        Assert.All(new ShapeFinder(Known.Results, Tuning.DropD).Taught(Chord.Parse("G"))
                .Where(f => f.Origin.Source == ShapeSource.Library), f => Assert.Equal(7, f.Shape.BassPitchClass(Tuning.DropD)));
    }
}
