using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;

namespace Tembri.Core.Tests.Ladders;

/// <summary>Places that a step does not touch are known from before; what is known gives the same ladder as what is worked out
/// anew.</summary>
public sealed class KnownPlacesTests
{
    /// <summary>All of a ladder that a teacher sees.</summary>
    private static string Text(Ladder l) => string.Join("\n",
        $"{l.Capo} {l.RecommendedCapo} {l.ShapeKey}",
        string.Join(" ",
            l.Places.Select(p =>
                $"{p.Capo}:{p.Score:0.000000}:{p.Barres}:{string.Join(",", p.Rungs.Select(r => r is { } t ? $"{t.Load:0.0000}/{t.Closeness:0.0000}" : "-"))}")),
        string.Join(" / ", l.Rungs.Select(r => r is PlayableRung p
            ? $"{p.Number} {p.Load:0.000000} {p.Closeness:0.000000} "
                + $"{string.Join(" ", p.Played.Select(c => $"{c.ShapeChord}{(c.IsSecond ? "*" : "")}={c.Choice.Fingering}{(c.Choice.Locked ? "!" : "")}{(c.IsNew ? "+" : "")}"))}"
            : $"{r.Number} blocked")));

    [Fact]
    public void A_ladder_with_places_known_from_before_is_the_one_that_is_worked_out_anew()
    {
        Gen.Select(LadderTests.Songs, Gen.Select(Gen.Int[0, 10], Gen.Int[0, 60], Gen.Int[1, 5]).Array[4])
            .Sample((chart, steps) =>
        {
            // Steps a teacher may make one after another on one song, all with one cache.
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = 4 };
            var known = new LadderBuilder(new ResultCache());
            var ladder = known.Build(request);
            foreach (var (what, pick, rung) in steps)
            {
                var index = pick % chart.Chords.Count;
                var degree = chart.Chords[index].DegreeIn(chart.Key);
                request = what switch
                {
                    0 => request with { Capo = pick % 5 },
                    1 => request with { Capo = null },
                    2 => request with { Aim = request.Aim == Aim.None ? Aim.Record : Aim.None },
                    3 => request with { Accompaniment = request.Accompaniment == Accompaniment.Alone
                        ? Accompaniment.Record
                        : Accompaniment.Alone },
                    4 => request with { Wishes = request.Wishes
                        with { Instead = [new ChordInstead(degree, "0:", RungSpan.Only(rung))] } },
                    5 => request
                        with { Wishes = request.Wishes with { Rungs = [new RungWish(rung) { MostFingers = 2 + pick % 3 }] } },
                    6 => request with { Kind = request.Kind with { Pace = ChangePace.Of(pick) } },
                    7 => request with { Tuning = -(pick % 3) },
                    8 => request with { Strings = pick % 7 == 6 ? null : Tuning.Known[pick % 7].Tuning },
                    9 => request with { Kind = request.Kind
                        with { Strings = pick % 7 == 6 ? null : Tuning.Known[pick % 7].Tuning.Shift(-(pick % 3)) } },
                    _ => Taken(known, request, ladder, index, rung, pick),
                };
                ladder = known.Build(request);
                Assert.Equal(Text(new LadderBuilder(new ResultCache()).Build(request)), Text(ladder));
            }
        }, iter: 12, threads: 2);
    }

    /// <summary>A tuning that is decided on, and a guitar that stands in one, give the ladder of a record that was played
    /// so.</summary>
    [Fact]
    public void A_ladder_in_a_tuning_chosen_is_that_of_a_song_which_has_it()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[0, Tuning.Known.Count - 1], Gen.Int[-2, 0]).Sample((chart, which, shift) =>
        {
            var strings = Tuning.Known[which].Tuning;
            var usual = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = 3 };
            var recorded = Known.Builder.Build(usual with { Chart = chart with { Strings = strings } });
            Assert.Equal(Text(recorded), Text(Known.Builder.Build(usual with { Strings = strings })));
            var standing = usual with { Kind = usual.Kind with { Strings = strings.Shift(shift) } };
            var owned = Known.Builder.Build(standing);
            Assert.Equal((strings, shift), (owned.Chart.Strings, owned.Chart.TuningShift));
            // The strings sound the song's chords wherever the capo is: nothing is heard that the whole guitar's tuning moved.
            foreach (var rung in owned.Playable)
                foreach (var chord in rung.Played.Where(c => c.Choice.Kind == Core.Substitutions.SubstitutionKind.None))
                    Assert.Equal(0,
                        chord.Choice.Fingering.Shape.PitchClassMask(strings.Shift(shift + owned.Capo))
                            & ~chord.Sounding.PitchClassMask);
            // What is decided for the song goes before how the guitar stands.
            Assert.Equal(Text(Known.Builder.Build(usual with { Strings = Tuning.DropD })),
                Text(Known.Builder.Build(standing with { Strings = Tuning.DropD })));
        }, iter: 15, threads: 2);
    }

    [Fact]
    public void Another_tuning_pays_by_the_scores_of_its_best_place_and_grips_of_ones_own_rest_in_it()
    {
        var chart = ChartReader.Read("key: D\ntempo: 80\n| D5 | G5/D | D5 | A5/D |").Chart;
        // D held whole over the fifth fret: nobody's way in open D.
        var grip = new OwnGrip("D5", [-1, 5, 7, 7, -1, -1], [0, 1, 3, 4, 0, 0], RungSpan.Up(1), Always: true);
        var request = new ArrangementRequest
        {
            Chart = chart, Kind = PlayerKind.Usual, Wishes = TeacherWishes.None with { Grips = [grip] }
        };
        var here = Known.Builder.Build(request);
        Assert.All(here.Playable.SelectMany(r => r.Played).Where(c => c.ShapeChord.Name == "D5"),
            c => Assert.Equal("x577xx", c.Choice.Fingering.Shape.ToString()));
        var others =
            Tuning.Known.Skip(1).Select(k => (k.Tuning, Known.Builder.Build(request with { Strings = k.Tuning }))).ToList();
        Assert.All(others.SelectMany(o => o.Item2.Playable).SelectMany(r => r.Played),
            c => Assert.NotEqual("x577xx", c.Choice.Fingering.Shape.ToString()));
        var compared = TuningComparison.Of(here, others);
        Assert.Equal(compared.OrderByDescending(c => c.Gain), compared);
        foreach (var c in compared)
        {
            var ladder = others.Single(o => o.Tuning.Equals(c.Tuning)).Item2;
            Assert.Equal(here.Places.Min(p => p.Score) - ladder.Places.Min(p => p.Score) - 5, c.Gain, 1e-9);
            Assert.Equal(c.Gain > 0, c.Pays);
        }
        Assert.True(compared[0].Pays);
    }

    private static ArrangementRequest Taken(LadderBuilder builder, ArrangementRequest request, Ladder ladder, int index,
        int rung, int pick)
    {
        if (ladder.Find(rung) is not PlayableRung { Limits: var limits } || index >= ladder.Flow.Chords.Count) return request;
        var offered = builder.Alternatives(request, ladder, index, limits);
        var taken = offered[pick % offered.Count].Candidate.Fingering;
        var locked = new ShapeLock(rung, ladder.Flow.Chords[index].DegreeIn(ladder.Chart.Key), ladder.ShapeKey.Tonic.PitchClass,
            taken.Shape, taken.Fingers);
        return request with { Capo = ladder.Capo,
            Locks = [.. request.Locks.Where(l => l.Rung != rung || l.Chord != locked.Chord || l.ShapeTonic != locked.ShapeTonic),
                locked] };
    }

    [Fact]
    public void A_rung_the_teacher_changed_stands_where_she_put_it_and_the_others_stay_as_they_were()
    {
        // A poor chord on the fourth rung: rungs 1 to 3 and 5 keep load and closeness, which the old order would have made give
        // way.
        var request = new ArrangementRequest
        {
            Chart = ChartReader.Read("key: C\ntempo: 90\n| C | F | G7 | Am | F | G7 | C | C |").Chart, Kind = PlayerKind.Usual,
            Capo = 0
        };
        var free = Known.Builder.Build(request);
        foreach (var wish in new[] { "2:m", "6:dim", "9:" })
        {
            var wished = Known.Builder.Build(request
                with { Wishes = TeacherWishes.None with { Instead = [new ChordInstead("5:", wish, RungSpan.Only(4))] } });
            foreach (var number in new[] { 1, 2, 3 })
                Assert.Equal((free.Played(number).Load, free.Played(number).Closeness),
                    (wished.Played(number).Load, wished.Played(number).Closeness));
            Assert.True(wished.Played(4).Closeness < free.Played(4).Closeness);
            Assert.All(wished.Played(5).Played, c => Assert.False(c.Choice.Wanted));
        }
    }
}
