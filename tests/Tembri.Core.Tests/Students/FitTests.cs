using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Tests.Shapes;

namespace Tembri.Core.Tests.Students;

public sealed class FitTests
{
    [Fact]
    public void A_clean_shape_gets_likelier_with_every_skill()
    {
        var finder = LoadTests.Finder(Core.Fretboard.Guitar.Steel, Core.Hands.Hand.Medium, 0);
        var fingerings = GripLibrary.All.Select(g => finder.Weigh(g.Shape, g.Fingers)!).ToList();
        Gen.Select(Pick.From(fingerings), LadderTests.Players, Gen.Double[0, 40]).Sample((fingering, player, more) =>
        {
            var s = player.Skills;
            var better = s with
            {
                Fingers = s.Fingers + more, Stretch = s.Stretch + more, ShortBarre = s.ShortBarre + more,
                FullBarre = s.FullBarre + more, Muting = s.Muting + more, Thumb = s.Thumb + more,
            };
            var (before, after) = (FitModel.Clean(fingering, s), FitModel.Clean(fingering, better));
            return before is >= 0 and <= 1 && after is >= 0 and <= 1 && after >= before;
        });
    }

    [Fact]
    public void More_time_never_makes_a_change_later()
    {
        Gen.Select(Gen.Double[0.05, 3], Gen.Double[0.05, 3], Gen.Double[0, 2]).Sample((needed, available, more) =>
            FitModel.InTime(needed, available + more) >= FitModel.InTime(needed, available));
        Assert.Equal(1, FitModel.InTime(0, 0.2));
        Assert.True(FitModel.InTime(1, 1) is > 0.7 and < 0.9);
    }

    [Fact]
    public void The_comfortable_tempo_is_the_highest_at_which_nine_of_ten_changes_are_in_time()
    {
        Gen.Select(LadderTests.Songs, LadderTests.Players).Sample((chart, player) =>
        {
            var ladder =
                Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind, Capo = 0, HighestCapo = 0 });
            foreach (var rung in ladder.Playable)
            {
                // Worked out from the rung: every change with its own chance, at the tempo asked.
                double InTime(double tempo) =>
                    rung.Changes.Sum(
                            c => c.Count * FitModel.InTime(c.Change.Seconds * player.ChangeSlowness, 60 / tempo * c.FreeBeats))
                        / Math.Max(1, rung.Changes.Sum(c => c.Count));
                var fit = new VersionFit(VersionOutline.Of(rung, chart.Tempo), player);
                if (rung.Changes.Count == 0) { Assert.Equal(260, fit.ComfortableTempo); continue; }
                if (fit.ComfortableTempo is not { } tempo)
                {
                    Assert.True(InTime(30) < 0.9 && fit.Verdict != Verdict.Ready);
                    continue;
                }
                Assert.True(InTime(tempo) >= 0.9 - 1e-6);
                if (tempo < 260) Assert.True(InTime(tempo + 1) <= 0.9 + 1e-6);
            }
        }, iter: 20, threads: 2);
    }

    [Fact]
    public void Every_skill_on_the_students_page_counts_in_some_fit()
    {
        // Two songs with full and short barres, slash basses and sevenths: each skill taken away alone lowers the fit of some
        // rung. (The thumb counts where it is chosen.)
        var charts = new[]
        {
            "key: F\ntempo: 100\n| F | Bb | Gm7 | C/E | D/F# | C7 | F |", "key: C\ntempo: 96\n| C | G | Am | F |"
        }.Select(t => ChartReader.Read(t).Chart).ToList();
        List<double> With(Skills skills)
        {
            var player = new Player { Skills = skills };
            return [.. charts.SelectMany(c => new StudentLadder(
                    Known.Builder.Build(new ArrangementRequest { Chart = c, Capo = 0, Kind = player.Kind }), player).Fits)
                .Select(f => f?.Value ?? 0)];
        }
        var able = new Skills
        {
            Fingers = 60, Stretch = 60, ShortBarre = 60, FullBarre = 60, Muting = 60, Thumb = 60, Changes = 60, RightHand = 60
        };
        var before = With(able);
        foreach (var (name, weaker) in new[]
        {
            ("fingers", able with { Fingers = 5 }), ("stretch", able with { Stretch = 5 }),
            ("short barre", able with { ShortBarre = 5 }), ("full barre", able with { FullBarre = 5 }),
            ("muting", able with { Muting = 0 }), ("changes", able with { Changes = 5 }),
            ("right hand", able with { RightHand = 5 })
        })
            Assert.True(With(weaker).Zip(before).Any(p => p.First < p.Second - 0.02), $"{name} counts nowhere");
    }

    /// <summary>A song of C and a short F, with as much asked of F and of the change to it as is given.</summary>
    private static VersionOutline TwoChords(double asked, double seconds, double beatsOfF = 4, int changes = 1) => new(
        90, OutlinedHand.Of(StrumPattern.Parse("Dddd", Meter.Common)),
        [new OutlinedChord("C", 96, 4, [new Demand(Technique.Fingers, 0)]),
            new OutlinedChord("F", beatsOfF, 4, [new Demand(Technique.FullBarre, asked)])],
        [new OutlinedChange(0, 1, changes, seconds, false, 2), new OutlinedChange(1, 0, 20 - changes, 0.2, false, 2)]);

    private static readonly Player Able =
        new() { Skills = new Skills { Fingers = 90, FullBarre = 40, Changes = 50, RightHand = 95 } };

    [Fact]
    public void A_version_is_not_ready_while_its_weakest_link_breaks()
    {
        // F at 52 against a skill of 40: 1/(1 + e^0) = one try of two is clean. It sounds in 4 beats of 100, so the fit hardly
        // falls.
        var weakChord = new VersionFit(TwoChords(52, 0.2), Able);
        Assert.Equal(0.5, weakChord.Clean[1], 1e-9);
        Assert.True(weakChord.Value > 0.95);
        Assert.Equal(Verdict.Growing, weakChord.Verdict);
        Assert.Equal(new ShapeIsHard("F", Technique.FullBarre, 52, 40, NotCleanYet: true), weakChord.Reason);
        // Two tries of three and a hair: 52 − 7·ln 2 = 47.148.
        Assert.Equal(Verdict.Ready, new VersionFit(TwoChords(47.1, 0.2), Able).Verdict);
        Assert.Equal(Verdict.Growing, new VersionFit(TwoChords(47.2, 0.2), Able).Verdict);
        // A frequent change that is late more often than not: there are 2 beats at 90, 1.33 s; one of twenty changes is
        // frequent.
        var late = new VersionFit(TwoChords(0, 1.8), Able);
        Assert.True(late.Value > 0.9 && late.Changes[0].InTime < 0.5);
        Assert.Equal(Verdict.Growing, late.Verdict);
        Assert.Equal(new ChangeIsLate("C", "F", 1.8, 120 / 90.0, 90), late.Reason);
        Assert.Equal(Verdict.Ready, new VersionFit(TwoChords(0, 1.6), Able).Verdict);
    }

    [Theory]
    [InlineData(0, Verdict.Ready)]
    [InlineData(30, Verdict.Growing)]     // F asks 60 of 40: clean in 0.24; 0.76 · 30 of 126 beats lost
    [InlineData(200, Verdict.Strained)]   // the same for two thirds of the song
    public void The_verdict_follows_the_fit(double beatsOfF, Verdict verdict) =>
        Assert.Equal(verdict, new VersionFit(TwoChords(60, 0.2, beatsOfF), Able).Verdict);

    [Fact]
    public void A_slower_changer_needs_twice_the_time_for_twenty_points_less()
    {
        var quick = new Player { Skills = new Skills { Changes = 60 } };
        var slow = new Player { Skills = new Skills { Changes = 40 } };
        Assert.Equal(2, slow.ChangeSlowness / quick.ChangeSlowness, 1e-9);
    }

    [Fact]
    public void A_fit_is_what_the_model_document_says()
    {
        // Worked out here from docs/model.md, from the ladder and not from the outline: beats clean, less what late changes
        // spoil, times the strum.
        var chart = ChartReader.Read("tempo: 100\nkey: D\n| D | Bm | G A | D | F#m . G . | Em | A7 | D |").Chart;
        CsCheck.Check.Sample(LadderTests.Players, player =>
        {
            var ladder = Known.Builder.Build(new() { Chart = chart, Kind = player.Kind, HighestCapo = 2 });
            var graded = new StudentLadder(ladder, player);
            var all = VersionOutline.Grade([player], [.. ladder.Playable.Select(r => VersionOutline.Of(r, chart.Tempo))])[0];
            foreach (var (rung, i) in ladder.Playable.Select((r, i) => (r, i)))
            {
                var flow = rung.Flow;
                var clean = rung.Chords.Select(
                        c => c is PlayedChord played ? FitModel.Clean(played.Choice.Fingering, player.Skills) : 1).ToList();
                var good = clean.Select((c, k) => c * flow.Beats[k]).Sum();
                foreach (var (step, change) in flow.Steps.Zip(rung.Changes))
                {
                    var needed = change.Change.Seconds * Math.Pow(2, (50 - player.Skills.Changes) / 20);
                    var there = 60 / chart.Tempo * change.FreeBeats;
                    var spell = flow.Beats[step.To] / flow.Sequence.Count(s => s.Chord == step.To);
                    var stroke = rung.Strum.Beats / (double)rung.Strum.Steps.Count(s => s.Sounds);
                    var spoilt = Math.Min(spell, stroke + Math.Max(0, needed - there) * chart.Tempo / 60);
                    good -= step.Count * clean[step.To] * (1 - FitModel.InTime(needed, there)) * spoilt;
                }
                var fit = Math.Clamp(good / flow.TotalBeats, 0, 1) * FitModel.Strummed(rung.StrumLoad, player.Skills.RightHand);
                Assert.Equal(fit, graded.FitOf(rung)!.Value, 1e-9);
                Assert.Equal(fit, all[i], 1e-9);
            }
        }, iter: 30, threads: 2);
    }

    [Theory]
    [InlineData(new[] { 0.95, 0.9, 0.7, 0.65, 0.3 }, BarreGoal.Neutral, 3)]    // the lowest growing one above the ready ones
    [InlineData(new[] { 0.95, 0.9, 0.5, 0.4, 0.3 }, BarreGoal.Neutral, 2)]     // nothing grows: the highest ready one
    [InlineData(new[] { 0.5, 0.4, 0.3, 0.2, 0.1 }, BarreGoal.Neutral, 1)]      // nothing is in reach: the lowest
    [InlineData(new[] { 0.7, 0.9, 0.7, 0.65, 0.3 }, BarreGoal.Neutral, 3)]     // what grows below a ready one is behind
    [InlineData(new[] { 0.95, 0.9, 0.7, 0.65, 0.62 }, BarreGoal.Seek, 4)]      // the lowest growing one with a barre
    [InlineData(new[] { 0.95, 0.9, 0.7, 0.5, 0.4 }, BarreGoal.Seek, 3)]        // no barre grows
    [InlineData(new[] { -1, 0.9, -1, 0.65, 0.3 }, BarreGoal.Neutral, 4)]       // blocked rungs are passed
    [InlineData(new[] { 0.95, 0.9, 0.87, 0.86, 0.7 }, BarreGoal.Avoid, 4)]     // the only growing one has a full barre
    [InlineData(new[] { -1, -1, -1, -1, 0.7 }, BarreGoal.Avoid, 5)]            // there is no other
    [InlineData(new[] { -1.0, -1, -1, -1, -1 }, BarreGoal.Neutral, 0)]
    public void The_rung_to_work_on_is_the_next_one_within_reach(double[] fits, BarreGoal wish, int rung) =>
        Assert.Equal(rung == 0 ? null : rung,
            WorkingRung.Of([.. fits.Select(
                    f => f < 0 ? (Verdict?)null : f >= 0.85 ? Verdict.Ready : f >= 0.6 ? Verdict.Growing : Verdict.Strained)],
                i => i >= 3, i => i >= 4, wish));

    /// <summary>A change that is a little late each bar stands in the way more than one that is much too late once: what counts
    /// is how often, times the chance, reckoned here from the seconds alone.</summary>
    [Fact]
    public void The_change_in_the_way_is_the_one_that_is_late_most_often_in_the_song()
    {
        var player = new Player { Skills = new Skills { Fingers = 90, FullBarre = 90, Changes = 50, RightHand = 90 } };
        var hand = OutlinedHand.Of(StrumPattern.Parse("Dddd", Meter.Common));
        string[] names = ["G", "C", "D"];
        var (named, notRarest) = (0, 0);
        Gen.Select(Gen.Int[1, 40], Gen.Double[0.1, 0.6]).Array[3].Sample(changes =>
        {
            var fit = new VersionFit(new VersionOutline(90, hand,
                [.. names.Select(n => new OutlinedChord(n, 40, 4, [new Demand(Technique.Fingers, 5)]))],
                [.. changes.Select((c, i) => new OutlinedChange(i, (i + 1) % 3, c.Item1, c.Item2, false, 1))]), player);
            if (fit.Changes.Any(c => c.InTime < 0.7) || fit.Reason is not ChangeIsLate late) return;
            double[] lost = [.. changes.Select(c => (1 - FitModel.InTime(c.Item2, 60 / 90.0)) * c.Item1)];
            var worst = Array.IndexOf(lost, lost.Max());
            Assert.Equal((names[worst], names[(worst + 1) % 3]), (late.From, late.To));
            named++;
            if (changes[worst].Item1 > changes.Min(c => c.Item1)) notRarest++;
        }, iter: 2000, threads: 1);
        Assert.True(named > 100 && notRarest > 50, $"{named} named, {notRarest} of them not the rarest");
    }

    [Fact]
    public void What_stands_in_the_way_is_what_costs_most_beats()
    {
        var strum = StrumPattern.Parse("Dddd", Meter.Common);
        VersionOutline Outline(double asked, double seconds) => new(
            90, OutlinedHand.Of(strum),
            [new OutlinedChord("F", 16, 4, [new Demand(Technique.FullBarre, asked)]),
                new OutlinedChord("C", 16, 4, [new Demand(Technique.Fingers, 5)])],
            [new OutlinedChange(0, 1, 4, seconds, false, 1), new OutlinedChange(1, 0, 3, 0.2, false, 1)]);
        var player = new Player { Skills = new Skills { Fingers = 60, FullBarre = 40, Changes = 50, RightHand = 90 } };
        Assert.Equal(new WithinReach(90), new VersionFit(Outline(10, 0.1), player).Reason);
        Assert.Equal(new ShapeIsHard("F", Technique.FullBarre, 46, 40), new VersionFit(Outline(46, 0.1), player).Reason);
        Assert.Equal(new ChangeIsLate("F", "C", 2, 60 / 90.0, 90), new VersionFit(Outline(10, 2), player).Reason);
        var weakHand = player with { Skills = player.Skills with { RightHand = 0 } };
        Assert.Equal(new StrumIsHard(strum.LoadAt(90), 0), new VersionFit(Outline(10, 0.1), weakHand).Reason);
    }

    [Fact]
    public void Only_the_change_that_was_counted_is_known_and_only_in_its_direction()
    {
        Shape c = Shape.Parse("x32010"), am = Shape.Parse("x02210"), g = Shape.Parse("320003");
        var measured = new Measured(new Dictionary<Shape, MeasuredShape>(),
            new Dictionary<(Shape, Shape), MeasuredChange> { [(c, am)] = new(6, Math.Log(0.5)) });
        Assert.True(measured.Knows(c, am));
        Assert.All(new (Shape?, Shape?)[] { (am, c), (c, g), (g, am), (null, am), (c, null), (null, null) }, pair =>
        {
            Assert.False(measured.Knows(pair.Item1, pair.Item2));
            Assert.Equal(0.8, measured.Seconds(pair.Item1, pair.Item2, 0.8));
        });
        Assert.False(Measured.None.Knows(c, am));
        Assert.InRange(measured.Seconds(c, am, 0.8), 0.5, 0.8);
        Assert.Equal(0, measured.Seconds(c, am, 0));
    }
}
