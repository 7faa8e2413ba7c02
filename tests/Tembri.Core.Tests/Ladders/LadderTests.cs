using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Tests.Ladders;

public sealed class LadderTests
{
    private static readonly string[] Degrees =
        ["I", "ii", "iii", "IV", "V", "vi", "V7", "I/3", "IVmaj7", "ii7", "♭VII", "Isus4"];
    private static readonly string[][] Spelt =
    [
        ["C", "Dm", "Em", "F", "G", "Am", "G7", "C/E", "Fmaj7", "Dm7", "Bb", "Csus4"],
        ["Eb", "Fm", "Gm", "Ab", "Bb", "Cm", "Bb7", "Eb/G", "Abmaj7", "Fm7", "Db", "Ebsus4"],
        ["F#", "G#m", "A#m", "B", "C#", "D#m", "C#7", "F#/A#", "Bmaj7", "G#m7", "E", "F#sus4"],
        ["A", "Bm", "C#m", "D", "E", "F#m", "E7", "A/C#", "Dmaj7", "Bm7", "G", "Asus4"],
    ];

    internal static readonly Gen<Chart> Songs =
        from key in Gen.Int[0, Spelt.Length - 1]
        from chords in Gen.Int[0, Degrees.Length - 1].Array[2, 9]
        from tempo in Gen.Int[60, 150]
        select ChartReader.Read(
            $"tempo: {tempo}\nkey: {Spelt[key][0]}\n| {string.Join(" | ", chords.Select(c => Spelt[key][c]))} |").Chart;

    internal static readonly Gen<Player> Players =
        from hand in Gen.Int[0, 4]
        from guitar in Gen.Int[0, 4]
        from thumb in Gen.Bool
        from barres in Gen.Int[0, 2]
        from skills in Gen.Double[0, 100].Array[8]
        select new Player
        {
            Hand = Hand.Presets[hand], Guitar = Guitar.Presets[guitar], Thumb = thumb, Barres = (BarreGoal)barres,
            Skills = new Skills
            {
                Fingers = skills[0], Stretch = skills[1], ShortBarre = skills[2], FullBarre = skills[3], Muting = skills[4],
                Thumb = skills[5], Changes = skills[6], RightHand = skills[7],
            },
        };

    private static Ladder Build(string chart, Player? player = null, Func<ArrangementRequest, ArrangementRequest>? change = null)
    {
        var request = new ArrangementRequest { Chart = ChartReader.Read(chart).Chart, Kind = (player ?? new Player()).Kind };
        return Known.Builder.Build(change?.Invoke(request) ?? request);
    }

    [Fact]
    public void Along_the_ladder_load_and_closeness_never_fall_and_everything_shown_is_within_range()
    {
        Gen.Select(Songs, Players).Sample((chart, player) =>
        {
            var ladder = Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind, HighestCapo = 3 });
            foreach (var position in ladder.Places)
            {
                var rungs = position.Rungs.OfType<TradeOff>().ToList();
                foreach (var (low, high) in rungs.Zip(rungs.Skip(1)))
                {
                    Assert.True(high.Load >= low.Load - 1e-6,
                        $"load falls from {low.Load} to {high.Load} at capo {position.Capo}");
                    Assert.True(high.Closeness >= low.Closeness - 1e-6,
                        $"closeness falls from {low.Closeness} to {high.Closeness} at capo {position.Capo}");
                }
            }
            Assert.Equal(Enumerable.Range(0, ladder.Rungs.Count), ladder.Rungs.Select(r => ladder.IndexOf(r.Number)));
            Assert.Equal(-1, ladder.IndexOf(ladder.Rungs.Max(r => r.Number) + 1));
            var played = ladder.Playable.ToList();
            var graded = new StudentLadder(ladder, player);
            Assert.All(played.Zip(played.Skip(1)),
                p => Assert.True(p.Second.Load >= p.First.Load - 1e-6 && p.Second.Closeness >= p.First.Closeness - 1e-6));
            foreach (var rung in played)
            {
                var fit = graded.FitOf(rung)!;
                Assert.InRange(fit.Value, 0, 1);
                Assert.InRange(rung.Closeness, 0, 1);
                Assert.Equal(ladder.Flow.Chords.Count, rung.Chords.Count(c => !c.IsSecond));
                // Equal neighbours are merged: the repeated rung is as the other one's limits have it.
                var merged = rung.SameAsBelow || played.Any(r => r.Number == rung.Number + 1 && r.SameAsBelow);
                foreach (var chord in rung.Played.Where(c => !merged && !c.Choice.Locked))
                    Assert.True(LimitsHold(rung.Limits, chord.Choice), $"rung {rung.Limits.Number}: {chord.Choice.Fingering}");
                var tempos = new[] { 50, 80, 110, 160, 220 }.Select(t => fit.At(t)).ToList();
                Assert.All(tempos.Zip(tempos.Skip(1)), p => Assert.True(p.First >= p.Second - 1e-9));
            }
            // What is said to block a rung does break a limit of it, or nothing of that chord fits the hand.
            foreach (var rung in ladder.Rungs.OfType<BlockedRung>())
                if (rung.Nearest is var (candidate, broken)) Assert.Equal(broken, rung.Limits.Objection(candidate));
        }, iter: 40, threads: 2);
    }

    [Fact]
    public void The_trade_off_curve_holds_every_version_that_is_best_for_some_price()
    {
        var options =
            Gen.Select(Gen.Int[0, 40], Gen.Int[0, 20], (load, lost) => new TradeOff(load, 1 - lost / 20.0)).Array[1, 6];
        options.Array[1, 4].Sample(chords =>
        {
            var curve = TradeOffCurve.Of([.. chords.Select(o => (1.0 / chords.Length, (IReadOnlyList<TradeOff>)o))]);
            // Every choice of one option a chord, by brute force.
            IEnumerable<(double Load, double Closeness)> all = [(0, 0)];
            foreach (var o in chords)
                all = all.SelectMany(
                        v => o.Select(x => (v.Load + x.Load / chords.Length, v.Closeness + x.Closeness / chords.Length)))
                    .ToList();
            foreach (var price in new[] { 0.0, 3, 10, 25, 60, 140, 400, 5_000 })
            {
                var best = all.Min(v => v.Load - price * v.Closeness);
                Assert.Equal(best, curve.Min(t => t.Load - price * t.Closeness), 1e-6);
            }
            Assert.All(curve.Zip(curve.Skip(1)),
                p => Assert.True(p.Second.Load > p.First.Load && p.Second.Closeness > p.First.Closeness));
        }, iter: 300);
    }

    [Fact]
    public void A_passing_chord_is_left_out_low_down_its_beats_go_to_a_neighbour_and_the_record_keeps_it()
    {
        var ladder = Build("key: G\ntempo: 90\n| G . . Em7 | C | D . D7 . | G |");
        var low = ladder.Played(1);
        // D and D7 both lead into G; the first of them holds the bar.
        Assert.Equal(["Em7", "D7"], low.Chords.OfType<LeftOutChord>().Select(c => c.Sounding.Name));
        Assert.Equal(16, low.Song.Flow.TotalBeats);
        Assert.True(low.Song.Kept < 1);
        Assert.DoesNotContain(ladder.Played(5).Chords, c => c is LeftOutChord);
        Assert.Equal(1, ladder.Played(5).Song.Kept);
        // First heard on a higher rung, it is new there.
        Assert.True(ladder.Playable.First(r => r.Played.Any(c => c.Sounding.Name == "Em7")).Played.Single(
            c => c.Sounding.Name == "Em7").IsNew);
    }

    /// <summary>A rung that leaves out what the one below leaves out, and plays the rest like it, is the same; a chord that only
    /// a section beside the form writes is still played there.</summary>
    [Fact]
    public void Left_out_on_both_rungs_is_the_same_and_a_section_beside_the_form_keeps_its_chords()
    {
        var ladder = Build("key: Em\ntempo: 92\n| Em | Em . . G | Em | Em |");
        Assert.All(ladder.Playable.Zip(ladder.Playable.Skip(1)), p =>
        {
            string Text(PlayableRung r) =>
                string.Join(' ',
                    r.Chords.Select(c => c is PlayedChord played ? $"{played.Choice.Fingering}{(c.IsSecond ? "*" : "")}" : "-"));
            Assert.Equal(Text(p.First) == Text(p.Second), p.Second.SameAsBelow);
        });
        Assert.Contains(ladder.Playable, r => r.SameAsBelow && r.Chords.Any(c => c is LeftOutChord));
        var beside = Build("key: G\ntempo: 92\nform: Verse\n[Verse]\n| G | C | G . . Em7 | D |\n[Bridge]\n| Em7 | C |");
        foreach (var rung in beside.Playable)
        {
            Assert.DoesNotContain(rung.Chords, c => c is LeftOutChord);
            var written = new VersionChart(beside, rung);
            Assert.All(written.Chart.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots),
                slot => Assert.NotNull(written.ShapeOf(slot)));
        }
        // In the form it is a passing chord all the same.
        Assert.Equal(0, beside.Played(1).Flow.Beats[beside.Flow.Chords.ToList().FindIndex(c => c.Name == "Em7")]);
    }

    [Fact]
    public void A_suspension_and_its_resolution_are_left_in_together()
    {
        var chart = PassingChords.LeaveOut(ChartReader.Read("key: D\n| D | Asus4 . A . | D |").Chart, 0.51);
        Assert.Equal(["Asus4", "A"], chart.Sections[0].Bars[1].Slots.Select(s => s.Chord!.Name));
    }

    [Fact]
    public void A_timed_count_overrides_the_model()
    {
        var chart = "key: C\ntempo: 96\n| C | Am | C | Am |";
        var before = Build(chart, change: r => r with { Capo = 0 }).Played(5);
        var (from, to) = (before.PlayedAs(0).Choice.Fingering.Shape, before.PlayedAs(1).Choice.Fingering.Shape);
        var player = new Player { Timed = new TimedChanges(new Dictionary<(Shape, Shape), double> { [(from, to)] = 31 }) };
        var after = new StudentLadder(Build(chart, player, r => r with { Capo = 0, Timed = player.Timed }), player).Fits[4]!;
        Assert.Equal(60 / 31.0 - 0.30, after.Changes.Single(c => c.From == 0).NeededSeconds, 1e-9);
        Assert.NotEqual(60 / 31.0 - 0.30, after.Changes.Single(c => c.From == 1).NeededSeconds, 3);
    }

    [Fact]
    public void A_ladder_asked_for_at_its_comfortable_tempo_agrees()
    {
        Gen.Select(Songs, Players).Sample((chart, player) =>
        {
            var request = new ArrangementRequest { Chart = chart, Kind = player.Kind, HighestCapo = 2 };
            var graded = new StudentLadder(Known.Builder.Build(request), player);
            foreach (var rung in graded.Ladder.Playable)
            {
                if (graded.FitOf(rung)!.ComfortableTempo is not { } tempo) continue;
                var slow = new StudentLadder(Known.Builder.Build(request with { Chart = chart with { Tempo = tempo } }), player);
                var changes = slow.Fits[rung.Number - 1]!.Changes;
                Assert.True(changes.Sum(c => c.Count * c.InTime) >= 0.9 * changes.Sum(c => c.Count) - 1e-6,
                    $"rung {rung.Number} at {tempo}");
                Assert.Equal(tempo, slow.Fits[rung.Number - 1]!.ComfortableTempo);
            }
        }, iter: 10, threads: 2);
    }

    private static bool LimitsHold(RungLimits limits, Candidate c) =>
        c.Fingering.FingerCount <= limits.MostFingers + 1
            && (c.Fingering.Barres.Count == 0 || c.Fingering.Barres.Max(b => b.Length) <= limits.LongestBarre)
        && (limits.Thumb || !c.Fingering.UsesThumb) && c.Fingering.Shape.Sounding >= 3;

    [Fact]
    public void Every_sounding_string_belongs_to_the_chord_or_is_reported()
    {
        Songs.Sample(chart =>
        {
            var ladder = Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = 2 });
            foreach (var chord in ladder.Playable.SelectMany(r => r.Played))
            {
                // Heard with the capo, in standard tuning, against the chord that should sound.
                var heard = chord.Choice.Fingering.Shape.PitchClassMask(Tuning.Standard, ladder.Capo);
                var foreign = heard & ~chord.Sounding.PitchClassMask;
                var reported = 0;
                for (var p = 0; p < 12; p++)
                    if ((chord.Choice.Closeness.ForeignMask & 1 << p) != 0) reported |= 1 << (p + ladder.Capo) % 12;
                Assert.Equal(foreign, reported);
            }
        }, iter: 25, threads: 2);
    }

    [Fact]
    public void The_four_chords_with_anchor_fingers_are_recognised_in_another_key()
    {
        // Fm7, D♭add9, A♭, E♭sus4 with the capo at the first fret are Em7, Cadd9, G, Dsus4.
        var ladder = Build("key: Ab\ntempo: 76\n| Fm7 | Dbadd9 | Ab | Ebsus4 |");
        Assert.Equal(1, ladder.Capo);
        Assert.Equal("G", ladder.ShapeKey.ToString());
        Assert.Equal(["Em7", "Cadd9", "G", "Dsus4"], ladder.Played(5).Chords.Select(c => c.ShapeChord.Name));
    }

    [Theory]
    [InlineData("key: C\n| C | G | Am | F |", new[] { 0 })]
    [InlineData("key: G\n| G | D | Em | C |", new[] { 0 })]
    [InlineData("key: D\n| D | G | A | D |", new[] { 0 })]
    [InlineData("key: Am\n| Am | G | C | Dm | E |", new[] { 0 })]
    [InlineData("key: F#\n| F# | B | C# | D#m |", new[] { 2, 4 })]
    [InlineData("key: Eb\n| Eb | Ab | Bb | Cm |", new[] { 1, 3 })]
    [InlineData("key: Bb\n| Bb | Eb | F | Gm |", new[] { 1, 3 })]
    [InlineData("key: Ab\n| Ab | Db | Eb | Fm |", new[] { 1 })]
    [InlineData("key: Db\n| Db | Gb | Ab | Bbm |", new[] { 1, 4 })]
    [InlineData("key: B\n| B | E | F# | G#m |", new[] { 2, 4 })]
    [InlineData("key: F\n| F | Bb | C | Dm |", new[] { 1, 3, 5 })]
    [InlineData("key: Fm\n| Fm | Db | Ab | Eb |", new[] { 1 })]
    [InlineData("key: C#m\n| C#m | A | E | B |", new[] { 2, 4 })]
    [InlineData("key: Cm\n| Cm | Ab | Eb | Bb |", new[] { 1, 3 })]
    public void The_capo_is_one_that_teachers_choose(string chart, int[] capos) => Assert.Contains(Build(chart).Capo, capos);

    [Fact]
    public void Power_chords_and_chords_beyond_the_hand_still_have_a_record_rung()
    {
        var power = Build("key: F\n| F5 | Bb5 | C5 | F5 |", change: r => r with { Capo = 0 });
        Assert.All(power.Played(5).Played, c => Assert.Equal(0, c.Choice.Closeness.ForeignMask));
        Assert.IsType<PlayableRung>(power.Rungs[4]);
        var child = new Player { Hand = Hand.Preset("young-child"), Guitar = Guitar.Preset("half") };
        var altered = Build("key: Eb\n| Bb7alt | Ebmaj9 | F13 | Bb7alt |", child, r => r with { Aim = Aim.None });
        Assert.IsType<PlayableRung>(altered.Rungs[4]);
    }

    [Fact]
    public void The_record_rung_plays_what_is_written_wherever_a_hand_can_and_the_ladder_below_gives_way()
    {
        // Odd chords, for which the record is often lighter than what lower rungs would play.
        string[] odd = ["A+", "C6/9", "C5", "F7#11", "D/F#", "E7#9", "G", "Bm7b5", "Am", "Dm(maj7)", "B7b9", "E"];
        Gen.Select(Gen.Int[0, odd.Length - 1].Array[2, 6], Gen.Int[60, 150], Players).Sample((chords, tempo, player) =>
        {
            var request = new ArrangementRequest
            {
                Chart = ChartReader.Read($"key: G\ntempo: {tempo}\n| {string.Join(" | ", chords.Select(c => odd[c]))} |").Chart,
                Kind = player.Kind, Capo = 0, HighestCapo = 1
            };
            var ladder = Known.Builder.Build(request);
            var record = ladder.Played(5);
            foreach (var chord in record.Played.Where(c => !c.IsSecond))
                if (Known.Builder.Alternatives(request, ladder, chord.Index, record.Limits)[0].Objection is null)
                    Assert.Null(record.Limits.Objection(chord.Choice));
            foreach (var (low, high) in ladder.Playable.Zip(ladder.Playable.Skip(1)))
                Assert.True(high.Load >= low.Load - 1e-9 && high.Closeness >= low.Closeness - 1e-9,
                    $"{low.Load} {low.Closeness} above {high.Load} {high.Closeness}");
        }, iter: 250);
    }

    [Fact]
    public void Without_a_capo_there_is_one_position()
    {
        var ladder = Build("key: Eb\n| Eb | Ab | Bb |", change: r => r with { Aim = Aim.None });
        Assert.Equal([0], ladder.Places.Select(p => p.Capo));
    }

    [Fact]
    public void For_a_voice_the_song_moves_by_the_semitones_of_the_chart()
    {
        var ladder = Build("key: G\nvoice: -3\n| G | C | D7 |", change: r => r with { Aim = Aim.Voice });
        Assert.Equal("E", ladder.Chart.Key.ToString());
        Assert.Equal(["E", "A", "B7"], ladder.Flow.Chords.Select(c => c.Name));
    }

    [Fact]
    public void A_record_tuned_down_is_played_with_the_shapes_of_the_higher_key()
    {
        var ladder = Build("key: Eb\ntuning: -1\n| Eb | Ab | Bb |", change: r => r with { Capo = 0 });
        Assert.Equal("E", ladder.ShapeKey.ToString());
    }

    [Fact]
    public void A_suspension_does_not_replace_the_chord_it_resolves_into_and_a_cadence_keeps_its_third()
    {
        var ladder = Build("key: D\n| D | Asus4 A | D | G | Asus4 A | D |");
        foreach (var rung in ladder.Playable)
        {
            var a = rung.Played.Single(c => c.Sounding.Name == "A");
            Assert.False(a.Choice.Played.IsSuspended);
            Assert.DoesNotContain(a.Choice.Closeness.Missing, d => d.Role == Core.Chords.DegreeRole.ThirdOrSuspension);
        }
    }

    [Fact]
    public void Who_seeks_barres_is_led_to_them_and_who_avoids_them_is_not()
    {
        const string chart = "key: F\ntempo: 80\n| F | Dm | Bb | C |";
        var able = new Skills
        {
            Fingers = 60, Stretch = 55, ShortBarre = 48, FullBarre = 46, Muting = 50, Thumb = 0, Changes = 60, RightHand = 50
        };
        var player = new Player { Barres = BarreGoal.Seek, Skills = able };
        var seeks = Build(chart, player);
        Assert.Equal(0, seeks.Capo);
        Assert.Contains(seeks.Played(new StudentLadder(seeks, player).WorkingRung!.Value).Played,
            c => c.Choice.Fingering.Barres.Count > 0);
        var avoids = Build(chart, new Player { Barres = BarreGoal.Avoid, Skills = able });
        Assert.NotEqual(0, avoids.Capo);
    }

    [Fact]
    public void A_request_out_of_range_says_what_is_wrong()
    {
        Assert.Throws<ArgumentException>(() => Build("no chords here"));
        Assert.Throws<ArgumentException>(() => Build("| C |", change: r => r with { HighestCapo = 12 }));
    }
}
