using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;

namespace Tembri.Core.Tests.Ladders;

/// <summary>Shapes the teacher took: they stay, follow their chord, and rest where other shapes are played.</summary>
public sealed class LockTests
{
    [Fact]
    public void A_locked_shape_stays_and_the_rest_is_arranged_around_it()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[1, 5], Gen.Int[0, 60]).Sample((chart, rung, pick) =>
        {
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 };
            var index = pick % chart.Chords.Count;
            var options =
                Known.Builder.Alternatives(request, Known.Builder.Build(request), index, RungLimits.Defaults[rung - 1]);
            var taken = options[pick % options.Count].Candidate.Fingering;
            var tonic = chart.Key.Transpose(-chart.TuningShift).Tonic.PitchClass;
            var ladder = Known.Builder.Build(request with { Locks = [
                new ShapeLock(rung, chart.Chords[index].DegreeIn(chart.Key), tonic, taken.Shape, taken.Fingers)] });
            if (ladder.Rungs[rung - 1] is not PlayableRung played) return;
            if (played.Chords[index] is not PlayedChord chord) return;
            Assert.True(chord.Choice.Locked);
            Assert.Equal(taken.ToString(), chord.Choice.Fingering.ToString());
        }, iter: 40, threads: 2);
    }

    [Fact]
    public void A_lock_follows_its_chord_when_the_song_is_moved_and_the_same_shapes_are_played()
    {
        // B♭ in F, played as A in E at capo 1; the song a tone higher is played by the same shapes at capo 3.
        var chart = ChartReader.Read("key: F\n| F | Bb | C7 | F/A |").Chart;
        var taken = new ShapeLock(3, "5:", 4, Shape.Parse("x0222x"));
        Ladder Of(Chart song, int capo) =>
            Known.Builder.Build(new ArrangementRequest { Chart = song, Kind = PlayerKind.Usual, Capo = capo, Locks = [taken] });
        foreach (var (song, capo) in new[] { (chart, 1), (ChartTransposer.Move(chart, chart.Key.Transpose(2), 2), 3) })
        {
            var chord = Of(song, capo).Played(3).Played.Single(c => c.Choice.Locked);
            Assert.Equal(("A", "x0222x"), (chord.ShapeChord.Name, chord.Choice.Fingering.Shape.ToString()));
        }
        Assert.DoesNotContain(Of(chart, 3).Playable.SelectMany(r => r.Played), c => c.Choice.Locked);
    }

    [Fact]
    public void A_lock_rests_while_the_capo_is_elsewhere()
    {
        var lockAtNut = new ShapeLock(3, "0:", 0, Shape.Parse("x35553"));
        var ladder = Known.Builder.Build(new ArrangementRequest
        {
            Chart = ChartReader.Read("key: C\n| C | F | G | C |").Chart, Kind = PlayerKind.Usual, Capo = 5, Locks = [lockAtNut]
        });
        Assert.DoesNotContain(ladder.Playable.SelectMany(r => r.Played), c => c.Choice.Locked);
    }
}
