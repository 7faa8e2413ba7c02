using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Tests.Shapes;

namespace Tembri.Core.Tests.Planning;

/// <summary>Days of practice, and where to go from a rung.</summary>
public sealed class PlanTests
{
    private static readonly DateOnly Monday = new(2026, 11, 2);
    private static readonly DateTimeOffset Noon = new(2026, 11, 2, 12, 0, 0, TimeSpan.Zero);

    private static Skills All(double skill) => Skills.Each(t => t == Technique.FullBarre ? skill / 2 : skill);

    private static StudentLadder Ladder(Chart chart, double skill, BarreGoal barres = BarreGoal.Neutral,
        Measured? measured = null)
    {
        var player =
            new Player { Skills = All(skill), ArrangedBy = new Skills(), Barres = barres, Measured = measured ?? Measured.None };
        return new StudentLadder(
            Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind, Capo = 0, HighestCapo = 0 }),
            player);
    }

    private static PlanSong? Song(StudentLadder graded, int rung, string key = "song") =>
        graded.Ladder.Find(rung) is PlayableRung playable ? new PlanSong(key, key, playable, graded.FitOf(playable)!) : null;

    private static readonly Gen<PlanRequest?> Requests = Gen.Select(Gen.Select(LadderTests.Songs, LadderTests.Songs),
            Gen.Int[5, 90], Gen.Int[1, 5], Gen.Int[1, 60], Gen.Bool, Gen.Bool)
        .Select((charts, skill, rung, minutes, child, hurts) =>
    {
        var songs = new[] { charts.Item1, charts.Item2 }.Select((c, i) => Song(Ladder(c, skill), rung, $"song {i}"))
            .OfType<PlanSong>().ToList();
        return songs.Count == 0
            ? null
            : new PlanRequest
            {
                Songs = songs, Skills = All(skill), MinutesADay = minutes, From = Monday, Days = 7,
                AgeGroup = child ? AgeGroup.Child : AgeGroup.Grown, Hurts = hurts
            };
    });

    [Fact]
    public void A_plan_keeps_to_its_minutes_and_to_the_dose_of_barres_and_stretches()
    {
        Requests.Sample(request =>
        {
            if (request is null) return;
            var days = PracticePlan.Make(request);
            Assert.Equal(Enumerable.Range(0, 7).Select(Monday.AddDays), days.Select(d => d.On));
            foreach (var day in days)
            {
                Assert.True(day.Minutes <= request.MinutesADay, $"{day.Minutes} of {request.MinutesADay}");
                Assert.All(day.Items, i => Assert.True(i.Minutes >= 1));
                Assert.Equal(day.Items.Count, day.Items.Select(i => i.Key).Distinct().Count());
                // Worked out from the shapes: what lies across strings or reaches far.
                bool Hard(PlanItem item)
                {
                    var chords = item.Kind switch
                    {
                        PlanKind.Shape => [item.Chord!.Value],
                        PlanKind.Pair => new[]
                        {
                            item.Song!.Rung.Changes[item.Change!.Value].From, item.Song.Rung.Changes[item.Change.Value].To
                        },
                        _ => []
                    };
                    return chords.Select(c => item.Song!.Rung.PlayedAs(c).Choice.Fingering)
                        .Any(f => f.LongestBarre > 1
                            || FitModel.Demands(f).Any(d => d.Technique == Technique.Stretch && d.Points >= 40));
                }
                var hard = day.Items.Where(Hard).Sum(i => i.Minutes);
                Assert.Equal(hard, day.HardMinutes);
                Assert.True(hard <= PracticePlan.HardMinutes(request.Skills, request.AgeGroup, request.Hurts));
                if (request.Hurts) Assert.Equal(0, hard);
                // While something hurts no barre comes in a section or a whole song either.
                if (request.Hurts)
                    Assert.All(day.Items.Where(i => i.Kind is PlanKind.Section or PlanKind.Form), i => Assert.All(
                        i.Kind == PlanKind.Form
                            ? i.Song!.Rung.Played.Where(c => i.Song.Rung.Flow.Beats[c.Index] > 0)
                            : i.Song!.Order.Sections.Single(s => s.Section == i.Section).Chords.Select(
                                c => i.Song.Rung.PlayedAs(c)),
                        c => Assert.False(c.Choice.Fingering.LongestBarre > 1)));
                // Nobody plays longer than is good before a break.
                var since = 0;
                for (var i = 0; i < day.Items.Count; i++)
                {
                    since = i > 0 && day.BreaksAfter.Contains(i - 1) ? day.Items[i].Minutes : since + day.Items[i].Minutes;
                    Assert.True(since <= Math.Max(request.AgeGroup == AgeGroup.Child ? 12 : 25, day.Items[i].Minutes));
                }
                // New shapes come before changes, changes before sections, sections before the whole.
                var kinds = day.Items.Where(i => i.Why is not ComesBack and not TeacherWants).Select(i => i.Kind).ToList();
                Assert.Equal(kinds.Order(), kinds);
                Assert.True(day.Items.Count(i => i is { Kind: PlanKind.Shape, Why: NotCleanYet }) <= 2 * request.Songs.Count);
            }
            Assert.Equal(days.SelectMany(d => d.Items), PracticePlan.Make(request).SelectMany(d => d.Items));
        }, iter: 40, threads: 2);
        Assert.True(
            PracticePlan.HardMinutes(All(50), AgeGroup.Child, false) < PracticePlan.HardMinutes(All(50), AgeGroup.Grown, false));
        Assert.Equal(0, PracticePlan.HardMinutes(All(90), AgeGroup.Grown, true));
    }

    [Fact]
    public void What_the_teacher_changes_in_a_plan_holds()
    {
        Requests.Sample(request =>
        {
            if (request is null || request.MinutesADay < 5) return;
            var first =
                PracticePlan.Make(request)[0].Items.Where(i => i.Kind is not PlanKind.WarmUp && !i.IsHardOnTheHand).ToList();
            if (first.Count == 0) return;
            var item = first[0];
            IReadOnlyList<PlanDay> With(PlanWishes wishes) => PracticePlan.Make(request with { Wishes = wishes });
            Assert.All(With(new PlanWishes { LeftOut = [item.Key] }),
                d => Assert.DoesNotContain(d.Items, i => i.Key == item.Key));
            Assert.All(With(new PlanWishes { Fixed = [item.Key] }),
                d => Assert.Contains(d.Items, i => i.Key == item.Key && i.IsFixed));
            var moved = With(new PlanWishes { Moved = [new MovedItem(item.Key, Monday, Monday.AddDays(1))] });
            Assert.DoesNotContain(moved[0].Items, i => i.Key == item.Key);
            Assert.Contains(moved[1].Items, i => i.Key == item.Key);
            Assert.Equal(item.Key,
                With(new PlanWishes { First = [item.Key] })[0].Items.First(i => i.Kind != PlanKind.WarmUp).Key);
            Assert.All(With(new PlanWishes { Own = [new OwnItem("a", "hum the tune", 2)] }),
                d => Assert.Contains(d.Items, i => i is { Kind: PlanKind.Own, Minutes: 2, Text: "hum the tune" }));
        }, iter: 25, threads: 2);
    }

    [Fact]
    public void What_was_learnt_comes_back_after_longer_and_longer_intervals()
    {
        var chart = ChartReader.Read("title: Small Door\nkey: C\ntempo: 80\n[Verse]\n| C | Am | C | Am |").Chart;
        var song = Song(Ladder(chart, 90), 2)!;
        var shape = song.Rung.PlayedAs(0).Choice.Fingering.Shape;
        int? ComesBackAfter(int timesInARow)
        {
            var done = new PracticeDays();
            for (var i = 0; i < timesInARow; i++) done.Add(PracticeItem.Shape(shape), Monday.AddDays(-timesInARow + i), true);
            var days = PracticePlan.Make(
                new PlanRequest { Songs = [song], Skills = All(90), MinutesADay = 30, From = Monday, Days = 28, Done = done });
            return days.FirstOrDefault(
                    d => d.Items.Any(i => i.Key == PracticeItem.Shape(shape) && i.Why is ComesBack))?.On.DayNumber
                - Monday.AddDays(-1).DayNumber;
        }
        Assert.Equal([1, 2, 4, 7, 14, 28], Enumerable.Range(1, 6).Select(n => ComesBackAfter(n)!.Value));
        // A day on which it did not go begins again.
        var failed = new PracticeDays();
        for (var i = 5; i > 1; i--) failed.Add("x", Monday.AddDays(-i), true);
        failed.Add("x", Monday.AddDays(-1), false);
        Assert.Equal(0, failed.InARow("x"));
    }

    [Fact]
    public void Songs_take_turns_and_the_tempo_rises_although_the_plan_is_made_anew_each_day()
    {
        var easy = ChartReader.Read("title: Small Door\nkey: G\ntempo: 200\n[Verse]\n| G | Em | C | D |").Chart;
        // Sure fingers, slow changes.
        var slow = new Player { Skills = Skills.Each(t => t == Technique.Changes ? 25 : 85), ArrangedBy = new Skills() };
        var graded = new StudentLadder(
            Known.Builder.Build(new ArrangementRequest { Chart = easy, Kind = slow.Kind, Capo = 0, HighestCapo = 0 }), slow);
        var rung = (PlayableRung)graded.Ladder.Rungs.First(r => r is PlayableRung);
        var fit = graded.FitOf(rung)!;
        PlanDay On(int day, params PlanSong[] songs) =>
            PracticePlan.Make(new PlanRequest
            {
                Songs = songs, Skills = slow.Skills, MinutesADay = 10, From = Monday.AddDays(day), Days = 1
            })[0];
        // Two songs, each day's plan made on that day: both come first in turn.
        PlanSong[] two = [new("a", "a", rung, fit), new("b", "b", rung, fit)];
        var first = Enumerable.Range(0, 4).Select(d => On(d, two).Items.First(i => i.Song is not null).Song!.Key).ToList();
        Assert.Equal(2, first.Distinct().Count());
        Assert.Equal(first[0], first[2]);
        // What went clean yesterday is asked a step quicker today, never beyond the record, never below what is comfortable.
        double Tempo(double? went) =>
            On(0, two[0] with { WentAt = went }).Items.Single(i => i.Kind == PlanKind.Form).Tempo!.Value;
        var comfortable = fit.ComfortableTempo!.Value;
        Assert.True(comfortable < 190, $"{comfortable}");
        Assert.Equal(comfortable, Tempo(null));
        Assert.Equal(comfortable, Tempo(comfortable / 2));
        Assert.Equal(Math.Round((comfortable + 4) * 1.03), Tempo(comfortable + 4));
        Assert.Equal(200, Tempo(199));
    }

    [Fact]
    public void What_is_fixed_comes_every_day_also_once_it_is_learnt()
    {
        var graded = Ladder(ChartReader.Read(
                "title: Small Door\nkey: G\ntempo: 60\n[Verse]\n| G | Em | C | D |\n[Chorus]\n| C | G | C | G |").Chart, 95);
        var song = Song(graded, 2)!;
        var (c, s) = (song.Rung.Changes.First(x => x.Change.Seconds > 0), song.Rung.Hand.Main);
        string[] keys =
        [
            PracticeItem.Shape(song.Rung.PlayedAs(0).Choice.Fingering.Shape),
            PracticeItem.Change(song.Rung.PlayedAs(c.From).Choice.Fingering.Shape,
                song.Rung.PlayedAs(c.To).Choice.Fingering.Shape),
            PracticeItem.Strum(s.Notation), PracticeItem.Section("song", 1), PracticeItem.Form("song"),
        ];
        var plain = PracticePlan.Make(new PlanRequest { Songs = [song], Skills = All(95), MinutesADay = 20, From = Monday });
        // Nothing of it but the whole is needed any more: the fit says so.
        Assert.All(keys[..^1], key => Assert.DoesNotContain(plain[0].Items, i => i.Key == key));
        var wanted = PracticePlan.Make(new PlanRequest
        {
            Songs = [song], Skills = All(95), MinutesADay = 20, From = Monday, Wishes = new PlanWishes { Fixed = keys }
        });
        Assert.All(wanted,
            day => Assert.All(keys, key => Assert.Contains(day.Items, i => i.Key == key && i.IsFixed && i.Why is TeacherWants)));
    }

    [Fact]
    public void Wishes_read_back_as_they_were_written_and_nonsense_is_no_wish()
    {
        var text = Gen.String[Gen.Char.AlphaNumeric, 1, 12];
        Gen.Select(text.Array[0, 4], text.Array[0, 4], Gen.Select(text, text, Gen.Int[1, 60]).Array[0, 3],
                Gen.Select(text, Gen.Int[0, 20], Gen.Int[0, 20]).Array[0, 3]).Sample((left, first, own, moved) =>
        {
            var wishes = new PlanWishes
            {
                LeftOut = left, First = first, Fixed = left, Own = [.. own.Select(o => new OwnItem(o.Item1, o.Item2, o.Item3))],
                Moved = [.. moved.Select(m => new MovedItem(m.Item1, Monday.AddDays(m.Item2), Monday.AddDays(m.Item3)))],
            };
            var back = PlanWishes.Read(wishes.ToJson());
            return back.LeftOut.SequenceEqual(left) && back.Fixed.SequenceEqual(left) && back.First.SequenceEqual(first)
                && back.Own.SequenceEqual(wishes.Own) && back.Moved.SequenceEqual(wishes.Moved) && back.IsNone == wishes.IsNone;
        });
        Assert.Equal("", PlanWishes.None.ToJson());
        Assert.All(new[] { "", null, "{", "[]", "7", "\"x\"" }, junk => Assert.True(PlanWishes.Read(junk).IsNone));
    }

    [Fact]
    public void A_step_is_advised_when_it_was_played_and_never_toward_barres_while_something_hurts()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[5, 95], Gen.Int[1, 5], Gen.Int[0, 8], Gen.Int[0, 3], Gen.Bool)
            .Sample((chart, skill, number, days, played, hurts) =>
        {
            var graded = Ladder(chart, skill);
            if (graded.Ladder.Find(number) is not PlayableRung rung) return;
            var advice = StepAdvice.Of(graded, number, new StepAdvice.Evidence(days, Math.Min(days, played)), hurts);
            bool Barred(PlayableRung r) => r.Played.Any(c => r.Flow.Beats[c.Index] > 0 && c.Choice.Fingering.LongestBarre > 1);
            if (advice.Step == Step.Up)
            {
                Assert.Equal(Verdict.Ready, graded.FitOf(rung)!.Verdict);
                Assert.True(days > 0 && played > 0 && advice.To!.Number > number);
                Assert.False(hurts && Barred(advice.To) && !Barred(rung));
                // What it adds is what the lower rung does not play.
                Assert.All(advice.NewShapes,
                    c => Assert.DoesNotContain(rung.Played,
                        p => rung.Flow.Beats[p.Index] > 0
                            && p.Choice.Fingering.Shape.Equals(advice.To.PlayedAs(c).Choice.Fingering.Shape)));
            }
            if (advice.Step == Step.Down) Assert.True(advice.To!.Number < number);
            if (hurts && Barred(rung) && graded.Ladder.Playable.Any(r => r.Number < number && !Barred(r)))
                Assert.Equal((Step.Down, StepReason.HasBarres), (advice.Step, advice.Reason));
            if (days == 0) Assert.NotEqual(Step.Up, advice.Step);
        }, iter: 60, threads: 2);
        // Nothing practised, practised but not played, played: three answers for one rung that is ready.
        var easy = Ladder(ChartReader.Read("title: Small Door\nkey: G\ntempo: 60\n[Verse]\n| G | Em | C | D |").Chart, 95);
        Assert.Equal([StepReason.NothingYet, StepReason.NotPlayedYet],
            new[] { (0, 0), (3, 0) }.Select(e => StepAdvice.Of(easy, 1, new StepAdvice.Evidence(e.Item1, e.Item2)).Reason));
        Assert.Equal(Step.Up, StepAdvice.Of(easy, 1, new StepAdvice.Evidence(3, 1)).Step);
    }

    [Fact]
    public void More_skill_never_takes_more_practice_to_a_goal()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[5, 80], Gen.Int[0, 15], Gen.Int[1, 5]).Sample((chart, skill, more, number) =>
        {
            GoalForecast? Of(double s) =>
                Ladder(chart, s) is var g && g.Ladder.Find(number) is PlayableRung r
                    ? GoalForecast.Of(r, g.FitOf(r)!, All(s), 35)
                    : null;
            if (Of(skill) is not { } now || Of(skill + more) is not { } better) return;
            Assert.True(better.Minutes <= now.Minutes + 1e-9);
            Assert.Equal(25, now.PracticeDays);   // five days in seven
            Assert.Equal(now.MinutesADay, (int)Math.Ceiling(now.Minutes / 25));
        }, iter: 40, threads: 2);
    }

    [Fact]
    public void A_change_is_stuck_when_it_is_counted_for_weeks_and_gets_no_quicker()
    {
        var (c, f) = (Shape.Parse("x32010"), Shape.Parse("xx3211"));
        IReadOnlyList<StuckChange> Of(Func<int, int> count, int times = 12, Func<Shape, Shape, double, bool>? enough = null) =>
            StuckChange.Of(
                Enumerable.Range(0, times).Select(i => new ChangeCount(Noon.AddDays(-24 + 2 * i), 1, count(i), 60, (c, f))),
                Noon, enough ?? ((_, _, _) => false));
        Assert.Equal((20.0, 20.0),
            Of(i => 19 + i % 3 % 2 * 2 + (i % 3 == 2 ? 1 : 0)).Select(s => (Math.Round(s.Now), Math.Round(s.Before))).Single());
        Assert.Empty(Of(i => 20 + i));
        Assert.Empty(Of(_ => 20, times: 5));
        Assert.Empty(Of(_ => 20, enough: (_, _, _) => true));
    }

    [Fact]
    public void What_was_measured_of_a_shape_and_of_a_change_counts_beside_the_skills_and_more_the_more_it_is()
    {
        var chart = ChartReader.Read("title: Small Door\nkey: C\ntempo: 100\n[Verse]\n| C | F | C | F |").Chart;
        var plain = Ladder(chart, 30);
        var rung = plain.Ladder.Playable.First(r => r.Number >= 2);
        var fit = plain.FitOf(rung)!;
        var (from, to) = (rung.PlayedAs(rung.Changes[0].From).Choice.Fingering.Shape,
            rung.PlayedAs(rung.Changes[0].To).Choice.Fingering.Shape);
        VersionFit With(double tries, double clean, double counts, double seconds) => Ladder(chart, 30, measured: new Measured(
            new Dictionary<Shape, MeasuredShape> { [to] = new(tries, clean) },
            new Dictionary<(Shape, Shape), MeasuredChange> { [(from, to)] = new(counts, Math.Log(seconds)) })).FitOf(rung)!;
        var chord = rung.Changes[0].To;
        // (6·predicted + clean) / (6 + tries), by hand.
        Assert.Equal((6 * fit.Clean[chord] + 20) / 26, With(20, 20, 1, 0.4).Clean[chord], 1e-9);
        Assert.Equal((6 * fit.Clean[chord] + 0) / 26, With(20, 0, 1, 0.4).Clean[chord], 1e-9);
        // One count weighs as much as the prediction: the geometric mean.
        Assert.Equal(Math.Sqrt(fit.Changes[0].NeededSeconds * 0.4), With(1, 1, 1, 0.4).Changes[0].NeededSeconds, 1e-9);
        Assert.InRange(With(1, 1, 60, 0.4).Changes[0].NeededSeconds, 0.39, 0.42);
        Assert.True(With(40, 40, 20, 0.2).Value > fit.Value && With(40, 0, 20, 4).Value < fit.Value);
    }

    [Fact]
    public void A_log_is_kept_short_and_reads_back_the_same()
    {
        var (c, f) = (Shape.Parse("x32010"), Shape.Parse("xx3211"));
        var finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
        List<Evidence> log =
        [
            Trials.OfShape(Noon.AddDays(-42), finder.Find(c, 1)[0], 10, 8), Trials.OfShape(Noon, finder.Find(c, 1)[0], 10, 6),
            new ChangeCount(Noon, 0.9, 30, 60, (c, f)), new ChangeCount(Noon, 0.9, 0, 60, (c, f)),
        ];
        var (learnt, _) = Learnt.From(All(40), log, Noon);
        var measured = Learnt.FromJson(learnt.ToJson())!.ToMeasured();
        // Six weeks ago counts half.
        Assert.Equal(15, measured.Shapes[c].Tries, 1e-6);
        Assert.Equal(10, measured.Shapes[c].Clean, 1e-6);
        Assert.Equal((1, Math.Log(60 / 30.0 - 0.30)),
            (Math.Round(measured.Changes[(c, f)].Counts, 6), measured.Changes[(c, f)].LogSeconds));
        Assert.Equal(learnt.Skills, Learnt.FromJson(learnt.ToJson())!.Skills);
        Assert.Null(Learnt.FromJson("{nonsense"));
    }

    [Fact]
    public void A_measured_hand_and_a_measured_guitar_lie_between_what_is_known()
    {
        foreach (var preset in Hand.Presets)
        {
            var same = Hand.Measured(preset.Spread);
            Assert.Equal(preset.Strength, same.Strength, 0.04);
            Assert.Equal(preset.Spread, same.Spread, 2.0);
        }
        Gen.Double[Hand.SmallestSpread, Hand.LargestSpread - 5].Sample(
            spread => Hand.Measured(spread).Strength <= Hand.Measured(spread + 5).Strength);
        Assert.Throws<ArgumentOutOfRangeException>(() => Hand.Measured(20));
        foreach (var preset in Guitar.Presets) Assert.Equal(preset, GuitarMeasures.Of(preset).ToGuitar());
        // Higher strings press harder, a shorter neck stretches less; tension goes with the square of the length.
        var high = (GuitarMeasures.Of(Guitar.Steel) with { ActionAtFret12 = 3.3 }).ToGuitar();
        var shorter = (GuitarMeasures.Of(Guitar.Steel) with { ScaleLength = 324 * 2 * 0.9 }).ToGuitar();
        double Load(Guitar guitar) => LoadTests.Finder(guitar, Hand.Medium, 0).Find(Shape.Parse("133211"), 1)[0].Load.Value;
        Assert.True(Load(high) > Load(Guitar.Steel) && Load(shorter) < Load(Guitar.Steel));
        Assert.Equal(Guitar.Steel.Tensions[0] * 0.81, shorter.Tensions[0], 1e-6);
        Assert.NotNull(new GuitarMeasures("steel", 200, 43, 2).Fault);
        Assert.Null(GuitarMeasures.FromJson("{\"preset\":\"harp\"}"));
    }
}
