using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Arranging;

/// <summary>What the arranger minimises, worked out here from the model document, and that nothing costs less.</summary>
public sealed class ArrangerTests
{
    /// <summary>A song and its sum: share · (load + closeness weight · lost percent + idiom and smaller terms) plus the time of
    /// the changes.</summary>
    private sealed class Priced
    {
        private readonly Chart _chart;
        private readonly ChordFlow _flow;
        private readonly PlayerKind _kind;
        private readonly IReadOnlyList<Guard> _guards;
        private readonly double _barre;
        private readonly Arranger _arranger;

        public Priced(string chart, BarreGoal wish, double barre)
        {
            _chart = ChartReader.Read(chart).Chart;
            (_flow, _kind, _barre) = (new ChordFlow(_chart), PlayerKind.Usual with { Barres = wish }, barre);
            _guards = GuardFinder.Find(_flow, _chart.Key);
            _arranger = new Arranger(Known.Results, _ => new RungSong(_chart, _flow.Chords, 0), _flow.Chords, _guards, _kind,
                TimedChanges.None, 0, Accompaniment.Record, _chart.Tempo, l => new RightHand(_chart, l));
        }

        /// <summary>Which of the smaller terms came up: a slash bass that moves by step, a full barre that is wished for or not,
        /// a shape that is not the one below.</summary>
        public (bool Bass, bool Barre, bool New) Seen { get; private set; }

        public Arrangement Arrange(RungLimits limits, Arrangement? below = null) =>
            _arranger.Arrange(limits, limits.ClosenessWeight, null, below).Found!;

        /// <summary>The arranger's sum is this one, and none of many other choices costs less.</summary>
        public void IsLeast(RungLimits limits, Arrangement? below)
        {
            var found = Arrange(limits, below);
            Assert.Equal(Sum(limits, below, found.Choices), found.Objective, 1e-4);
            Assert.True(found.IsProved);
            var open = Enumerable.Range(0, _flow.Chords.Count)
                .Select(i => _arranger.CandidatesOf(i).Where(c => _arranger.MayPlay(i, limits, c)).ToList())
                .Select((all, i) => all.Where(c => below is null || c.Closeness.Value >= below.Choices[i].Closeness.Value - 1e-9)
                        .ToList() is { Count: > 0 } kept
                    ? kept
                    : all).ToList();
            Gen.Int[0, 9_999].Array[open.Count].Sample(
                picks => Sum(limits, below, [.. picks.Select((p, i) => open[i][p % open[i].Count])]) >= found.Objective - 1e-4,
                iter: 600);
            // Nor does one that plays one chord or two that follow each other in another way.
            var best = found.Choices.ToArray();
            for (var i = 0; i < open.Count; i++)
                foreach (var other in open[i]) Assert.True(With((i, other)) >= found.Objective - 1e-4, $"{i} {other.Fingering}");
            foreach (var step in _flow.Steps)
                foreach (var from in Lightest(step.From))
                    foreach (var to in Lightest(step.To))
                        Assert.True(With((step.From, from), (step.To, to)) >= found.Objective - 1e-4,
                            $"{from.Fingering} to {to.Fingering}");

            IEnumerable<Candidate> Lightest(int chord) => open[chord].OrderBy(c => Points(limits, below, c, chord)).Take(15);

            double With(params (int Chord, Candidate Choice)[] others)
            {
                var choice = (Candidate[])best.Clone();
                foreach (var (chord, other) in others) choice[chord] = other;
                return Sum(limits, below, choice);
            }
        }

        private readonly Dictionary<RungLimits, RightHand> _hands = [];

        private RightHand HandOf(RungLimits limits)
        {
            lock (_hands)
                return _hands.TryGetValue(limits, out var known) ? known : _hands[limits] = new RightHand(_chart, limits);
        }

        private double Sum(RungLimits limits, Arrangement? below, IReadOnlyList<Candidate> choice) =>
            choice.Select((c, i) => (0.4 / choice.Count + 0.6 * _flow.Beats[i] / _flow.TotalBeats) * Points(limits, below, c, i))
                    .Sum() + _flow.Steps.Sum(step =>
            {
                var (from, to) = (choice[step.From].Fingering, choice[step.To].Fingering);
                var needed = _arranger.Changes.Seconds(from, to) * _kind.Pace.Slowness;
                var late = Math.Max(0, needed - 60 / _chart.Tempo * HandOf(limits).FreeBeats(step));
                // Two chords that sound the same tones: half of the change is not heard.
                var unheard = choice[step.From].Sound == choice[step.To].Sound
                        && _flow.Chords[step.From].PitchClassMask != _flow.Chords[step.To].PitchClassMask
                    ? Math.Max(limits.ClosenessWeight, 1.2) * 50
                    : 0;
                return step.Count / (double)_flow.Steps.Sum(s => s.Count)
                    * (limits.ChangeWeight * (12 * needed + 50 * late) + unheard);
            });

        private double Points(RungLimits limits, Arrangement? below, Candidate c, int i)
        {
            var (bass, barre, isNew) = (_guards[i].StepwiseBass && c.Closeness.WrongBass,
                !limits.IsRecord && c.Fingering.Barres.Any(b => b.Length > 3), below is not null && !c.SameAs(below.Choices[i]));
            Seen = (Seen.Bass || bass, Seen.Barre || barre, Seen.New || isNew);
            return c.Load + limits.ClosenessWeight * 100 * (1 - c.Closeness.Value) + limits.IdiomWeight * c.Idiom + c.Habit
                + (bass ? 5 : 0) + (barre ? _barre : 0)
                + (isNew ? c.Fingering.Shape.Equals(below!.Choices[i].Fingering.Shape) ? 45 : 3 : 0);
        }
    }

    [Fact]
    public void The_arrangement_costs_no_more_than_any_other_choice()
    {
        var song = new Priced("tempo: 100\nkey: G\n| G | Em | C | D7 | G | C | Am7 | D7 |", BarreGoal.Neutral, 0);
        // Where the only change is late, shapes are played that cost much by themselves.
        var hasty = new[] { "B7 Cmaj7", "F#m C", "Bm F", "G#m7 E", "C#m A" }
            .Select(chords => new Priced($"tempo: 300\nkey: G\n1/4\n| {string.Join(" | ", chords.Split(' '))} |", BarreGoal.Neutral, 0))
            .ToList();
        foreach (var limits in RungLimits.Defaults)
        {
            song.IsLeast(limits, null);
            foreach (var pair in hasty) pair.IsLeast(limits, null);
        }
    }

    [Theory]
    [InlineData(BarreGoal.Avoid, 10)]
    [InlineData(BarreGoal.Seek, -6)]
    [InlineData(BarreGoal.Neutral, 0)]
    public void Bass_lines_wishes_and_what_is_new_count_as_the_document_says(BarreGoal wish, double points)
    {
        var song = new Priced("tempo: 90\nkey: C\n| C | G/B | Am | F | C | Bb |", wish, points);
        var below = song.Arrange(RungLimits.Defaults[2]);
        // The fourth rung with long barres allowed, where a wish can be seen; the record is played as it is.
        foreach (var limits in new[] { RungLimits.Defaults[3] with { LongestBarre = 6 }, RungLimits.Defaults[4] })
            foreach (var floor in new[] { null, below }) song.IsLeast(limits, floor);
        // A bass that moves by step is kept wherever there is a shape with it, so nothing is paid for breaking the line here.
        Assert.Equal((false, true, true), song.Seen);
    }

    [Fact]
    public void What_is_let_go_and_made_anew_gives_the_same_ladders()
    {
        // Caches in which candidates and times are let go again and again, in another order each time and by several threads at
        // once, against one that keeps everything.
        var songs = new[]
        {
            "C | Am | F | G7 | Em | Dm", "G | Em | C | D7 | Am7 | Bm", "D | A | Bm | G | F#m | E7", "A7 | D7 | E7 | Gm | C7 | F"
        }
            .Select(s => ChartReader.Read($"tempo: 120\n| {s} | {s} |").Chart).ToList();
        List<ArrangementRequest> requests =
            [.. from pace in new[] { 5, 60, 20 } from chart in songs.Concat(songs.AsEnumerable().Reverse())
            select new ArrangementRequest
            {
                Chart = chart, Kind = PlayerKind.Usual with { Pace = ChangePace.Of(pace) }, HighestCapo = 2
            }];
        static string Text(Ladder l) =>
            $"{l.Capo} {string.Join(" / ", l.Playable.Select(r => string.Join(" ", r.Played.Select(c => $"{c.ShapeChord}{(c.IsSecond ? "*" : "")}={c.Choice.Fingering}"))))}";
        var large = new LadderBuilder(new ResultCache(400_000_000));
        var expected = requests.ConvertAll(r => Text(large.Build(r)));
        foreach (var bytes in new[] { 4_000_000, 8_000_000, 16_000_000 })
        {
            var small = new LadderBuilder(new ResultCache(bytes));
            Parallel.For(0, requests.Count, i => Assert.Equal(expected[i], Text(small.Build(requests[i]))));
        }
    }

    [Fact]
    public void The_score_of_a_place_is_what_the_document_says()
    {
        Gen.Select(LadderTests.Songs, Pick.From(BarreGoal.Avoid, BarreGoal.Neutral, BarreGoal.Seek)).Sample((chart, wish) =>
        {
            var ladder = Known.Builder.Build(new ArrangementRequest
            {
                Chart = chart, Kind = PlayerKind.Usual with { Barres = wish }, HighestCapo = 6, Tuning = 0
            });
            double[] weights = [0.5, 1, 1, 0.8, 0.5];
            // The place that is played has its steps evened out afterwards; its score is from before.
            foreach (var place in ladder.Places.Where(p => p.Capo != ladder.Capo))
            {
                var sum = place.Rungs.Select((a, r) => weights[r]
                            * (a is not { } w
                                ? 60
                                : w.Load + Math.Min(RungLimits.Defaults[r].ClosenessWeight, 1.2) * 100 * (1 - w.Closeness)))
                        .Sum() / 3.8;
                var capo = place.Capo == 0
                    ? 0
                    : 4 + 0.9 * place.Capo + 2.2 * Math.Max(0, place.Capo - 4) + (wish == BarreGoal.Seek ? 3 * place.Capo : 0);
                var barres = wish == BarreGoal.Seek
                    ? 0
                    : 1.2 * place.Barres
                        + (wish == BarreGoal.Avoid ? 8 * (place.Capo > 5 ? 3 : Math.Max(0, place.Barres - 1)) : 0);
                Assert.Equal(sum + capo + barres, place.Score, 1e-9);
            }
            Assert.Equal(ladder.Places.MinBy(p => p.Score)!.Capo, ladder.RecommendedCapo);
        }, iter: 12, threads: 2);
    }
}
