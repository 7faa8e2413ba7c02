using CsCheck;
using Tembri.Core.Charts;
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
                Fingers = s.Fingers + more, Stretch = s.Stretch + more, ShortBarre = s.ShortBarre + more, FullBarre = s.FullBarre + more, Muting = s.Muting + more, Thumb = s.Thumb + more,
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
    public void The_comfortable_tempo_is_where_the_fit_crosses_ninety_percent()
    {
        Gen.Select(LadderTests.Songs, LadderTests.Players).Sample((chart, player) =>
        {
            var ladder = LadderBuilder.Build(new LadderRequest { Chart = chart, Player = player, Capo = 0, HighestCapo = 0 });
            foreach (var fit in ladder.Rungs.Select(r => r.Fit).OfType<VersionFit>())
            {
                if (fit.ComfortableTempo is not { } tempo) { Assert.True(fit.At(30) < 0.9); continue; }
                Assert.True(fit.At(tempo) >= 0.9 - 1e-6);
                if (tempo < 260) Assert.True(fit.At(tempo + 1) <= 0.9 + 1e-6);
            }
        }, iter: 20, threads: 2);
    }

    [Fact]
    public void Every_skill_on_the_students_page_counts_in_some_fit()
    {
        // Two songs with full and short barres, slash basses and sevenths: each skill taken away alone lowers the fit of some rung. (The thumb counts where it is chosen.)
        var charts = new[] { "key: F\ntempo: 100\n| F | Bb | Gm7 | C/E | D/F# | C7 | F |", "key: C\ntempo: 96\n| C | G | Am | F |" }.Select(t => ChartReader.Read(t).Chart).ToList();
        List<double> With(Skills skills) => [.. charts.SelectMany(c => LadderBuilder.Build(new LadderRequest { Chart = c, Capo = 0, Player = new Player { Skills = skills } }).Rungs).Select(r => r.Fit?.Value ?? 0)];
        var able = new Skills { Fingers = 60, Stretch = 60, ShortBarre = 60, FullBarre = 60, Muting = 60, Thumb = 60, Changes = 60, RightHand = 60 };
        var before = With(able);
        foreach (var (name, weaker) in new[] { ("fingers", able with { Fingers = 5 }), ("stretch", able with { Stretch = 5 }), ("short barre", able with { ShortBarre = 5 }), ("full barre", able with { FullBarre = 5 }), ("muting", able with { Muting = 0 }), ("changes", able with { Changes = 5 }), ("right hand", able with { RightHand = 5 }) })
            Assert.True(With(weaker).Zip(before).Any(p => p.First < p.Second - 0.02), $"{name} counts nowhere");
    }

    [Theory]
    [InlineData(0.85, Verdict.Ready)]
    [InlineData(0.8499, Verdict.Growing)]
    [InlineData(0.60, Verdict.Growing)]
    [InlineData(0.5999, Verdict.Strained)]
    public void The_verdict_follows_the_fit(double fit, Verdict verdict) => Assert.Equal(verdict, FitModel.VerdictOf(fit));

    [Fact]
    public void A_slower_changer_needs_twice_the_time_for_thirty_points_less()
    {
        var quick = new Player { Skills = new Skills { Changes = 60 } };
        var slow = new Player { Skills = new Skills { Changes = 30 } };
        Assert.Equal(2, slow.ChangeSlowness / quick.ChangeSlowness, 9);
    }

    [Fact]
    public void Every_meter_has_a_strum_for_every_rung_and_time_to_change()
    {
        foreach (var meter in new[] { "2/4", "3/4", "4/4", "5/4", "6/8", "9/8", "12/8" })
        {
            Assert.True(Meter.TryParse(meter, out var m));
            for (var rung = 1; rung <= 5; rung++)
            {
                var strum = StrumPattern.For(m.Beats, rung, m.IsCompound);
                Assert.Equal(strum.Steps.Length, strum.Beats * strum.StepsPerBeat);
                Assert.Equal(strum.Steps.Length, strum.Strokes.Count);
                Assert.Equal(strum.Steps.Length, strum.Count.Count);
                Assert.InRange(strum.LoadAt(90), 0, 100);
                Assert.True(strum.LoadAt(120) >= strum.LoadAt(80));
                Assert.True(strum.AvailableSeconds(80, 2) > strum.AvailableSeconds(120, 2));
            }
        }
        Assert.Equal(["1", "&", "2", "&", "3", "&", "4", "&"], StrumPattern.For(4, 3, false).Count);
    }

    [Fact]
    public void A_library_is_graded_as_its_versions_are_one_by_one()
    {
        var chart = Tembri.Core.Charts.ChartReader.Read("tempo: 100\nkey: D\n| D | Bm | G A | D | F#m . G . | Em | A7 | D |").Chart;
        CsCheck.Check.Sample(Ladders.LadderTests.Players, player =>
        {
            var ladder = Tembri.Core.Ladders.LadderBuilder.Build(new() { Chart = chart, Player = player, HighestCapo = 2 });
            var rungs = ladder.Rungs.Where(r => r.IsFeasible).ToList();
            var graded = VersionOutline.Grade([player], [.. rungs.Select(r => new VersionOutline(r, chart.Tempo))])[0];
            for (var i = 0; i < rungs.Count; i++) Assert.Equal(rungs[i].Fit!.Value, graded[i], 9);
        }, iter: 30, threads: 2);
    }
}
