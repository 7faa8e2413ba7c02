using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Ladders;

/// <summary>What is done beyond one shape a chord: second shapes, even steps, changes that must be heard, the tune, the
/// voice.</summary>
public sealed class LadderRefinementTests
{
    private static Ladder Build(string chart, Player? player = null, Aim aim = Aim.Record, int? capo = null, int highest = 9) =>
        Known.Builder.Build(new ArrangementRequest
        {
            Chart = ChartReader.Read(chart).Chart, Kind = (player ?? new Player()).Kind, Aim = aim, Capo = capo,
            HighestCapo = highest
        });

    [Fact]
    public void A_second_shape_saves_more_than_its_price()
    {
        var found = 0;
        // Chords of one length, so that the time for a change does not depend on where it happens.
        Gen.Select(LadderTests.Songs.Where(c => new ChordFlow(c).Sequence.All(s => s.Beats == 4)), LadderTests.Players)
            .Sample((chart, player) =>
        {
            var ladder =
                Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind, Capo = 0, HighestCapo = 0 });
            var parts = new CountedParts(player, ladder);
            foreach (var rung in ladder.Playable)
                foreach (var second in rung.Played.Where(c => c.IsSecond))
                {
                    Interlocked.Increment(ref found);
                    var usual = rung.PlayedAs(second.SongChord).Choice;
                    double Cost(Candidate c) => parts.Of(rung, second.Index, c,
                        0.6 * rung.Flow.Beats[second.Index] / rung.Flow.TotalBeats);
                    var price = second.Choice.Fingering.Shape.Equals(usual.Fingering.Shape) ? 0.5 : 1.5;
                    Assert.True(Cost(usual) - Cost(second.Choice) >= price - 1e-4,
                        $"{usual.Fingering} → {second.Choice.Fingering} before {second.Before}: {Cost(usual)} → "
                            + $"{Cost(second.Choice)}, rung {rung.Number}, "
                            + $"{string.Join(" ", rung.Played.Select(c => $"{c.ShapeChord}{(c.IsSecond ? "*" : "")} {c.Choice.Fingering} {c.Choice.Habit}"))}");
                    Assert.True(rung.Limits.Objection(second.Choice) is null || rung.Limits.IsRecord);
                }
        }, iter: 150, threads: 2);
        Assert.True(found > 10, $"only {found} second shapes came up");
    }

    [Fact]
    public void A_locked_chord_keeps_its_one_shape()
    {
        // A slow beginner at a quick tempo, where second fingerings pay.
        var player = new Player { Skills = new Skills { Changes = 5 } };
        var chart = ChartReader.Read("tempo: 140\nkey: A\n| A | D | A | E | A | Bm | A | F#m |").Chart;
        var request = new ArrangementRequest { Chart = chart, Kind = player.Kind, Capo = 0, HighestCapo = 0 };
        var free = Known.Builder.Build(request);
        Assert.Contains(free.Playable, r => r.Chords.Any(c => c.IsSecond));
        var locks = free.Playable.SelectMany(r => r.Played.Where(c => c.IsSecond).Select(c => r.PlayedAs(c.SongChord)).Distinct()
            .Select(c => new ShapeLock(r.Limits.Number, c.Sounding.DegreeIn(chart.Key), free.ShapeKey.Tonic.PitchClass,
                c.Choice.Fingering.Shape, c.Choice.Fingering.Fingers))).ToList();
        var locked = Known.Builder.Build(request with { Locks = locks });
        foreach (var rung in locked.Playable)
            Assert.DoesNotContain(rung.Chords,
                c => c.IsSecond && locks.Any(l => l.Rung == rung.Limits.Number && l.Chord == c.Sounding.DegreeIn(chart.Key)));
    }

    [Fact]
    public void A_wide_step_below_two_like_rungs_is_divided()
    {
        const string Song = "tempo: 76\nkey: C\n| Cmaj7 | F#m7 | Bm | Cmaj7 | F#m7 | Bm |";
        var ladder = Build(Song, capo: 0, highest: 0);
        var loads = ladder.Playable.Select(r => r.Load).ToList();
        // The same place looked at while another is played, which leaves its steps as they come.
        var undivided = Build(Song, capo: 1, highest: 1).Places[0].Rungs.Select(r => r!.Value.Load).ToList();
        Assert.True(undivided[1] - undivided[0] > 5 && undivided[2] - undivided[1] < 1.5, string.Join(" ", undivided));
        Assert.True(loads[1] > loads[0] + 2 && loads[1] < undivided[1] - 2, string.Join(" ", loads));
        Assert.Equal(loads[..3], ladder.Places[0].Rungs.Take(3).Select(r => r!.Value.Load));
    }

    [Fact]
    public void Chords_that_follow_each_other_are_not_all_played_by_one_open_shape()
    {
        var ladder = Build("tempo: 80\nkey: G\n| G | Em | G | Em | G | Em | C | G |", capo: 0, highest: 0);
        foreach (var rung in ladder.Playable)
            Assert.False(rung.Played.Single(c => c.Sounding.Name == "G").Choice.Fingering.Shape.Equals(
                    rung.Played.Single(c => c.Sounding.Name == "Em").Choice.Fingering.Shape), $"rung {rung.Limits.Number}");
    }

    [Fact]
    public void A_foreign_tone_that_rubs_against_the_tune_costs_closeness()
    {
        // Fmaj7 for F adds an E; the tune holds the F above it, or sings the E itself.
        var (fmaj7, f) = (Shape.Parse("xx3210"), Chord.Parse("F"));
        double With(int mask) => Closeness.Of(fmaj7, f, Tuning.Standard, melody: mask).Value;
        Assert.True(With(1 << 5) < With(0) - 0.05);
        Assert.True(With(1 << 4) > With(0));
        Assert.Equal(With(0), With(1 << 9), 1e-9);                                    // an A has nothing to do with it
        var plain = Shape.Parse("xx3211");
        Assert.Equal(Closeness.Of(plain, f, Tuning.Standard).Value, Closeness.Of(plain, f, Tuning.Standard, melody: 0xFFF).Value,
            9);
    }

    [Fact]
    public void The_tune_reaches_the_arranger_at_the_pitch_of_the_shapes()
    {
        const string Bars = "tempo: 90\nkey: C\n| C | F | C | F |\n";
        foreach (var capo in new[] { 0, 5 })
        {
            var without = Build(Bars, capo: capo).Played(3).PlayedAs(1).Choice;
            var sung = Build(Bars + "~ | - | F4 | - | F4 |", capo: capo).Played(3).PlayedAs(1).Choice;
            // Whatever is chosen, its closeness is what the tune leaves of it.
            var (root, chord) = ((5 - capo + 12) % 12, Chord.Parse(capo == 0 ? "F" : "C"));
            Assert.Equal(
                Closeness.Of(sung.Fingering.Shape, chord, Tuning.Standard, 0, Accompaniment.Record, 6, 1 << root).ForeignMask,
                sung.Closeness.ForeignMask);
            Assert.True((sung.Closeness.ForeignMask & 1 << (root + 11) % 12) == 0, $"capo {capo}: {sung.Fingering} rubs");
            Assert.True(capo != 0 || (without.Closeness.ForeignMask & 1 << 4) != 0,
                "without the tune the open first string is welcome");
        }
    }

    [Theory]
    [InlineData("voice: A2 to E4\nmelody: E3 to B4", 5, 5)]       // seven down, or five up and sung an octave lower: the nearer
    [InlineData("voice: C3 to C5\nmelody: E3 to G3", -11, 11)]    // wide voice: a key near the middle of some octave
    public void The_song_is_moved_to_where_the_voice_can_sing_it(string header, int least, int most)
    {
        var ladder = Build($"key: C\ntempo: 90\n{header}\n| C | F | G | Am |", aim: Aim.Voice);
        Assert.InRange(ladder.VoiceShift, least, most);
        var (singer, tune) = (ladder.Chart.Singer!.Value, ladder.Chart.MelodyRange!.Value);
        Assert.Contains(new[] { -12, 0, 12 },
            octave => tune.Low.Midi + octave >= singer.Low.Midi && tune.High.Midi + octave <= singer.High.Midi);
        Assert.Equal(((ladder.VoiceShift % 12) + 12) % 12, ladder.Chart.Key.Tonic.PitchClass);
    }

    [Fact]
    public void A_tune_wider_than_the_voice_goes_where_it_sticks_out_least_and_semitones_are_taken_as_they_are()
    {
        var wide = VoiceKeys.For(VoiceWish.Of(ChartReader.Read("key: C\nvoice: C3 to C4\nmelody: C3 to F4\n| C |").Chart));
        Assert.True(wide[0].Semitones is <= 0 and >= -5 && wide[0].Price >= 5 * 12);
        Assert.Equal([(-3, 0.0)], VoiceKeys.For(VoiceWish.Of(ChartReader.Read("key: C\nvoice: -3\n| C |").Chart)));
        Assert.Equal("A", Build("key: C\nvoice: -3\n| C | F |", aim: Aim.Voice).Chart.Key.ToString());
        // The reach of the tune is read off the tune where it is not given.
        Assert.Equal("E4 to G4", ChartReader.Read("key: C\n| C | G |\n~ | E4 . G4 . | - |").Chart.MelodyRange.ToString());
    }
}
