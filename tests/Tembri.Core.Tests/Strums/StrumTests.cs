using CsCheck;
using Tembri.Core.Music;
using Tembri.Core.Strums;

namespace Tembri.Core.Tests.Strums;

public sealed class StrumTests
{
    private static readonly Meter Three = new(3, 4), Two = new(2, 4), SixEight = new(6, 8);

    private static StrumPattern Pattern(string text, string meter = "4/4", int swing = 50) =>
        Meter.TryParse(meter, out var m) ? StrumPattern.Parse(text, m, swing) : throw new ArgumentException(meter);

    /// <summary>Random patterns that strike something.</summary>
    private static Gen<StrumPattern> Random(Meter meter, int steps, string letters) =>
        Gen.Char[letters].Array[steps].Select(l => new string(l)).Where(t => t.Any(c => "dDuUxXb123".Contains(c)))
            .Select(t => StrumPattern.Parse(t, meter));

    private static readonly Gen<StrumPattern> Short = Gen.OneOf(
        Random(Meter.Common, 8, "DduuU--x.s"), Random(Three, 6, "DduU-x."), Random(SixEight, 6, "Dduu-."),
        Random(Two, 8, "Ddu--x."), Random(Three, 6, "b123.-"), Random(Two, 8, "b1233."));

    private static readonly Gen<StrumPattern> Any = Gen.OneOf(Short, Random(Meter.Common, 16, "DduU-x.s"),
        Random(Three, 12, "Ddu-.b1"), Random(SixEight, 12, "b123a.-"), Random(new Meter(5, 4), 20, "Du-d."),
        Random(Meter.Common, 32, "Ddu-x."));

    [Theory]
    // the passed 3 is struck first, then ups go, then all between the beats
    [InlineData("D-du-udu", "d.......", "D.d.d.d.", "D.dud.du", "D.dududu")]
    // strokes between the beats stay what they are, played down
    [InlineData("-U-U-U-U", null, null, null, ".D.D.D.D")]
    [InlineData("b3212321", "(b321).......", null, "b321....", "b3212321")]
    [InlineData("b.(123).a.(123).", "(b321).......", null, null, "b.(123).a.(123).")]
    public void A_pattern_is_reduced_as_a_teacher_reduces_it(string record, params string?[] below)
    {
        var ladder = StrumLadder.Of(Pattern(record));
        for (var rung = 1; rung <= 4; rung++) if (below[rung - 1] is { } wanted) Assert.Equal(wanted, ladder.At(rung).Notation);
        Assert.Equal(record, ladder.At(5).Notation);
    }

    [Theory]
    [InlineData("(b1)x..", true)]
    [InlineData("(1d)...", false)]   // what is plucked together are strings and the bass, nothing that is struck
    [InlineData("(7b)...", false)]
    [InlineData("(b1...", false)]
    public void Only_strings_are_plucked_together(string pattern, bool isOne) =>
        Assert.Equal(isOne, StrumPattern.TryParse(pattern, Meter.Common, out _, out _));

    [Fact]
    public void No_sub_pattern_keeps_more_of_the_feel_than_the_one_that_is_found() =>
        Short.Sample(record =>
        {
            var ladder = StrumLadder.Of(record);
            for (var rung = 4; rung >= 1; rung--)
            {
                var (above, found) = (ladder.At(rung + 1), ladder.At(rung));
                var candidates =
                    SubPatterns(record, above, rung).Select(steps => StrumFeel.Kept(record, With(record, steps))).ToList();
                // What would be heavier is not played: then the rung above is.
                if (found.Equals(above) && !SubPatterns(record, above, rung).Any(s => s.SequenceEqual(found.Steps))) continue;
                var best = SubPatterns(record, above, rung).MaxBy(steps => StrumFeel.Kept(record, With(record, steps)))!;
                Assert.True(Math.Abs(candidates.Max() - StrumFeel.Kept(record, found)) < 1e-9,
                    $"{record} rung {rung} from {above}: {found} keeps {StrumFeel.Kept(record, found)}, {With(record, best)} "
                        + $"{candidates.Max()}");
                Assert.Contains(SubPatterns(record, above, rung), s => s.SequenceEqual(found.Steps));
            }
        }, iter: 150);

    private static StrumPattern With(StrumPattern record, IEnumerable<HandStep> steps) => record.With(steps);

    /// <summary>Everything a rung may play, by its rules in words, each combination looked at.</summary>
    private static IEnumerable<HandStep[]> SubPatterns(StrumPattern record, StrumPattern above, int rung)
    {
        var n = record.Steps.Count;
        var chosen = new HandStep[n];
        return From(0);

        IEnumerable<HandStep[]> From(int i)
        {
            if (i == n)
            {
                if (MayBe(record, chosen, rung)) yield return [.. chosen];
                yield break;
            }
            foreach (var step in Less(record, above, i, rung))
            {
                chosen[i] = step;
                foreach (var whole in From(i + 1)) yield return whole;
            }
        }
    }

    private static HashSet<HandStep> Less(StrumPattern record, StrumPattern above, int i, int rung)
    {
        var (a, perBar, level) = (above.Steps[i], record.StepsPerBeat * record.Meter.Beats, record.Level(i));
        var all = new HashSet<HandStep> { HandStep.Rest };
        bool Sounds(int from, int count) => Enumerable.Range(from, count).Any(k => above.Steps[k].Sounds);
        if (record.IsPicked) return LessPicked(record, above, i, rung, all);
        if (rung == 1)
        {
            if (level == 0 && Sounds(i, perBar)) all.Add(HandStep.Down);
            return all;
        }
        if (level > (rung == 2 ? 1 : rung == 3 ? 2 : 3)) return all;
        if (a.Stroke == Stroke.Miss && record.IsDownward(i)) all.Add(HandStep.Down);
        if (rung == 2 && !a.Sounds && Sounds(i, record.StepsPerBeat)) all.Add(HandStep.Down);
        if (a.Stroke == Stroke.Stop || a.Sounds && (a.Stroke != Stroke.Muted || rung == 4))
        {
            all.Add(a);
            all.Add(a with { Accent = false });
        }
        if (a.Stroke == Stroke.Up) { all.Add(HandStep.Down); if (rung is 4 or 2) all.Add(a with { Stroke = Stroke.Down }); }
        if (a.Stroke == Stroke.Muted && rung <= 3)
            foreach (var accent in new[] { a.Accent, false })
                all.Add(new HandStep(record.IsDownward(i) || rung == 2 ? Stroke.Down : Stroke.Up, accent));
        if (a.Stroke == Stroke.Muted && rung == 3 && !record.IsDownward(i)) all.Add(HandStep.Down);
        return all;
    }

    private static HashSet<HandStep> LessPicked(StrumPattern record, StrumPattern above, int i, int rung, HashSet<HandStep> all)
    {
        var (a, perBar, level) = (above.Steps[i], record.StepsPerBeat * record.Meter.Beats, record.Level(i));
        static string Fingers(HandStep s) => string.Concat(s.Picks.Where(p => p is '1' or '2' or '3'));
        static string Thumb(HandStep s) => string.Concat(s.Picks.Except(Fingers(s)));
        static string Joined(IEnumerable<HandStep> steps) =>
            string.Concat(steps.SelectMany(s => Fingers(s)).Distinct().OrderDescending());
        if (level > (rung == 1 ? 0 : rung == 2 ? 1 : 2)) return all;
        if (rung == 1)
        {
            if (!above.Steps.Skip(i).Take(perBar).Any(s => s.Sounds)) return all;
            var bar = record.Steps.Skip(i).Take(perBar).ToList();
            all.Add(new HandStep(Stroke.Pick, false,
                string.Concat(bar.SelectMany(s => Thumb(s)).Distinct()
                        .OrderByDescending(p => p is 'b' ? 9 : p is 'a' ? 8 : p - '0').Take(1)) + Joined(bar)));
        }
        else if (rung == 2)
        {
            var from = i;
            while (from % perBar != 0 && Thumb(above.Steps[from]) == "") from--;
            var spell = new List<HandStep> { above.Steps[from] };
            for (var k = from + 1; k % perBar != 0 && Thumb(above.Steps[k]) == ""; k++) spell.Add(above.Steps[k]);
            if (Thumb(a) != "") all.Add(new HandStep(Stroke.Pick, false, Thumb(a)));
            else if (Joined(spell) is { Length: > 0 } rest) all.Add(new HandStep(Stroke.Pick, false, rest));
        }
        else if (a.Sounds)
            foreach (var picks in Thumb(a) != "" && Fingers(a) != "" ? [Thumb(a), Fingers(a)] : new[] { a.Picks })
            {
                all.Add(a with { Picks = picks, Accent = a.Accent && rung == 4 });
                all.Add(new HandStep(Stroke.Pick, false, picks));
            }
        else if (a.Stroke == Stroke.Stop) all.Add(a);
        return all;
    }

    private static bool MayBe(StrumPattern record, HandStep[] q, int rung)
    {
        var (n, perBeat, perBar) = (q.Length, record.StepsPerBeat, record.StepsPerBeat * record.Meter.Beats);
        for (var i = 0; i < n; i++)
        {
            var beat = i - i % perBeat;
            var before = Enumerable.Range(beat, i - beat).Where(k => q[k].Sounds).ToList();
            if (q[i].Stroke == Stroke.Up && (before.Count == 0 || q[before[^1]].Stroke == Stroke.Up)) return false;
            var turned = record.Steps[i].Stroke == Stroke.Up && q[i].Stroke == Stroke.Down && record.Level(i) >= 2;
            if (turned && (before.Count > 0 || i + 1 < n && q[i + 1].Sounds)) return false;
            if (i > 0 && q[i - 1].Stroke == Stroke.Up && record.Steps[i].Stroke == Stroke.Miss && record.IsDownward(i)
                && !q[i].Sounds)
                return false;
            if (rung == 3 && !record.IsPicked && record.Level(i) >= 2 && q[i].Accent) return false;
        }
        for (var bar = 0; bar < n; bar += perBar)
        {
            var between = Enumerable.Range(bar, perBar).Where(i => q[i].Sounds && record.Level(i) >= 2).ToList();
            if (rung == 3 && !record.IsPicked
                && (record.Meter.IsCompound
                    ? between.GroupBy(i => i / perBeat).Any(g => g.Count() > 1)
                    : between.Count > (record.Meter.Beats + 1) / 2))
                return false;
            if (!record.IsPicked) continue;
            List<int> run = [];
            foreach (var step in q.Skip(bar).Take(perBar).Where(s => s.Sounds))
            {
                if (step.HasThumb) { run.Clear(); continue; }
                run.Add(step.Picks[0]);
                if (rung == 2 && run.Count > 1) return false;
                var ways = run.Zip(run.Skip(1)).Select(p => Math.Sign(p.Second - p.First)).Distinct().ToList();
                if (rung == 3 && (ways.Contains(0) || ways.Count > 1)) return false;
            }
        }
        return true;
    }

    [Fact]
    public void Loads_never_fall_from_rung_to_rung_at_any_tempo_and_quicker_is_never_lighter() =>
        Gen.Select(Any, Gen.Double[20, 320]).Sample((record, tempo) =>
        {
            var ladder = StrumLadder.Of(record);
            var loads = ladder.Rungs.Select(r => r.Pattern.LoadAt(tempo)).ToList();
            for (var i = 1; i < 5; i++)
                Assert.True(loads[i] >= loads[i - 1] - 1e-9,
                    $"{record}: {string.Join(' ', ladder.Rungs.Select(r => r.Pattern.Notation))} {string.Join(' ', loads)}");
            Assert.All(ladder.Rungs, r => Assert.True(r.Pattern.LoadAt(tempo * 1.1) >= r.Pattern.LoadAt(tempo)));
            Assert.True(ladder.At(2).Steps.Select((s, i) => !s.Sounds || ladder.At(2).Level(i) <= 1).All(x => x)
                || ladder.At(2).Equals(ladder.At(3)));
            // The parts are what the load is made of.
            var effort = StrumEffort.Parts(record, tempo).Sum(p => p.Effort);
            Assert.Equal(100 * (1 - Math.Exp(-effort / 60)), record.LoadAt(tempo), 1e-6);
        }, iter: 400);

    [Fact]
    public void A_pattern_written_out_is_read_back() =>
        Gen.Select(Any, Gen.Int[50, 75]).Sample((p, swing) =>
        {
            var swung = StrumPattern.Parse(p.Notation, p.Meter, swing);
            Assert.Equal(p.Steps, swung.Steps);
            Assert.Equal(swung.Steps.Count, swung.Count.Count);
            var hand = new SectionHand(swung.Notation, swing, Loudness.Soft);
            Assert.Equal(hand, SectionHand.Read(hand.ToString()));
            Assert.Equal(swung, hand.In(p.Meter));
            Assert.True(Enumerable.Range(0, swung.Steps.Count).All(i => swung.At(i) < swung.At(i + 1)));
        }, iter: 200);

    [Theory]
    // Effort by hand: 3 a movement a second; 1.2 × movements a beat × (parts × beats a second − 3)² / parts where above 3; ups
    // 0.7, between the beats 0.3, passed 2.5 down and 0.4 up, leaned on 0.8, 0.1 a stroke.
    [InlineData("d...", "4/4", 90, 3 * 0.375 + 0.1)]
    [InlineData("Dddd", "4/4", 90, 3 * 1.5 + 0.8 + 0.4)]
    // u after the u before 3: 0.8
    [InlineData("D-du-udu", "4/4", 60, 3 * 2 + 3 * 0.7 + 3 * 0.3 + 2.5 + 0.4 + 0.8 + 0.8 + 0.6)]
    // three parts of 4/3 beats a second: 4, one beyond three
    [InlineData("DduDdu", "6/8", 80, 3 * 4 + 1.2 * 2 * 1 / 3.0 + 2 * 0.7 + 4 * 0.3 + 2 * 0.8 + 0.6)]
    // the thumb goes two strings and back
    [InlineData("b.a.", "4/4", 60, 3 * 0.5 + 2 * 0.5 + 4 * 0.3 + 0.2)]
    [InlineData("(b1).x.", "4/4", 60, 3 * 0.5 + 0.5 * 1.15 + 0.9 + 0.2)]
    // bars that are alike are kept in mind once
    [InlineData("D.du|D.du", "2/4", 60, 3 * 1.5 + 0.7 + 0.3 + 0.8 + 0.3)]
    public void The_load_of_a_pattern_is_what_the_document_says(string pattern, string meter, double tempo, double effort) =>
        Assert.Equal(100 * (1 - Math.Exp(-effort / 60)), Pattern(pattern, meter).LoadAt(tempo), 1e-9);

    [Theory]
    [InlineData("Dddd", 0, 4, 2.0, 1.0, "4")]           // the last down, on 4, may be let go: from the one on 3
    [InlineData("D-dud-du", 0, 4, 2.0, 0.5, "4 &")]     // with the up after it; from the down on 3
    [InlineData("D-du-udu", 0, 4, 1.5, 0.5, "4 &")]     // from the up after 3
    // in the middle of the bar: from the down on 1, three quarters of the chord at most
    [InlineData("D-du-udu", 2, 2, 1.5, 0.5, "2 &")]
    [InlineData("D-du-udu", 1.5, 2, 1.5, 0.5, "2")]     // pushed: on the up, from the down on 1
    [InlineData("D-dud-du", -0.5, 4, 1.5, 0.5, "4")]    // pushed over the bar line: from the down on 3
    [InlineData("d...", 0, 4, 3.0, 3.0, "")]            // a quarter of a lone stroke must ring
    [InlineData("d...", 0, 2, 1.5, 1.5, "")]
    [InlineData("Dddd", 0, 0.25, 0.25, 0.25, "")]       // at least a quarter of a beat
    [InlineData("b3212321", 0, 4, 1.5, 0.5, "4 &")]     // picked: what is on the last beat
    public void There_is_time_for_a_change_from_the_last_stroke_that_must_sound(string pattern, double at, double chord,
        double free, double all, string letGo)
    {
        var time = ChangeTime.Of(Pattern(pattern), at, chord);
        Assert.Equal((free, all, letGo), (time.Free, time.AllPlayed, string.Join(' ', time.LetGo)));
    }

    [Fact]
    public void A_change_on_an_up_stroke_has_less_time_and_letting_go_never_takes_any() =>
        Gen.Select(Any, Gen.Int[0, 31], Gen.Double[0.5, 8]).Sample((p, step, chord) =>
        {
            var time = ChangeTime.Of(p, p.At(step % p.Steps.Count), chord);
            Assert.InRange(time.Free, 0.25, Math.Max(0.25, chord * 0.75));
            Assert.InRange(time.Bought, 0, chord);
            Assert.Equal(p.Steps[step % p.Steps.Count].Sounds, time.FallsOn != Stroke.Rest);
            // A chord that lasts longer never leaves less.
            Assert.True(
                ChangeTime.Of(p, p.At(step % p.Steps.Count), chord + 1).Free >= time.Free - 1e-9 || time.LetGo.Count == 0);
        }, iter: 400);

    [Theory]
    [InlineData("D-du-udu", "4/4", "1 & 2 & 3 & 4 &", "1 2 & 3 & 4 &")]
    [InlineData("D-dud-duD---d-u-", "4/4", "1 e & a 2 e & a 3 e & a 4 e & a", "1 & a 2 & a 3 4 &")]
    [InlineData("DduDdu", "6/8", "1 2 3 4 5 6", "1 2 3 4 5 6")]
    [InlineData("D.uD.uD.uD.u", "4/4", "1 la li 2 la li 3 la li 4 la li", "1 li 2 li 3 li 4 li")]
    [InlineData("D.d.d.D.d.", "5/4", "1 & 2 & 3 & 4 & 5 &", "1 2 3 4 5")]
    [InlineData("Dd", "6/8", "1 4", "1 4")]
    public void The_count_follows_from_the_steps(string pattern, string meter, string count, string spoken)
    {
        Assert.Equal(count, string.Join(' ', Pattern(pattern, meter).Count));
        Assert.Equal(spoken, Pattern(pattern, meter).SpokenCount);
    }

    [Theory]
    [InlineData("", "steps")]
    [InlineData("D-dq", "letter 4")]
    [InlineData("D-du-", "4, 8, 12")]
    [InlineData("----", "Nothing is struck")]
    [InlineData("Dd|D-d-", "both need the same")]
    [InlineData("Dddd|Dddd|Dddd", "two")]
    public void What_is_no_pattern_is_said_with_what_to_write(string text, string advice)
    {
        Assert.False(StrumPattern.TryParse(text, Meter.Common, out _, out var fault));
        Assert.Contains(advice, fault, StringComparison.Ordinal);
    }

    [Fact]
    public void Pieces_cover_the_pattern_and_what_repeats_is_learnt_once()
    {
        Any.Sample(p =>
        {
            var pieces = PatternPieces.Of(p);
            Assert.InRange(pieces.Count, 1, 3);
            Assert.Equal([0, .. pieces.Select(x => x.To)], [.. pieces.Select(x => x.From), p.Steps.Count]);
            foreach (var piece in pieces.Where(x => x.SameAs is not null))
                Assert.Equal(p.Steps.Skip(pieces[piece.SameAs!.Value].From).Take(piece.To - piece.From),
                    p.Steps.Skip(piece.From).Take(piece.To - piece.From));
        }, iter: 200);
        Assert.Equal([(0, 8, (int?)null), (8, 16, null)],
            PatternPieces.Of(Pattern("D-du-udu|D-dud-du")).Select(p => (p.From, p.To, p.SameAs)));
        Assert.Equal([(0, 4, (int?)null), (4, 8, 0)],
            PatternPieces.Of(Pattern("DuduDudu")).Select(p => (p.From, p.To, p.SameAs)));
    }

    [Fact]
    public void About_thirty_patterns_ship_and_every_meter_has_a_usual_one()
    {
        Assert.InRange(ShippedStrum.All.Count, 28, 60);
        Assert.Equal(ShippedStrum.All.Count, ShippedStrum.All.Select(s => s.Id).Distinct().Count());
        foreach (var shipped in ShippedStrum.All)
            Assert.True(Meter.TryParse(shipped.Meter, out var m) && shipped.In(m).Meter == m);
        foreach (var text in new[] { "2/4", "3/4", "4/4", "5/4", "7/4", "6/8", "9/8", "12/8", "7/8", "2/2", "13/4", "1/4" })
        {
            Assert.True(Meter.TryParse(text, out var meter));
            var ladder = StrumLadder.Of(ShippedStrum.UsualFor(meter));
            // One stroke a bar is one stroke a bar, whatever the meter.
            Assert.Single(ladder.At(1).Steps, s => s.Sounds);
        }
    }
}
