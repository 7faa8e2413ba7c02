using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Classes;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Classes;

public sealed class ClassTests
{
    private static readonly int[] Moves = [-5, -4, -3, -2, -1, 0, 1, 2, 3, 4, 5, 6];

    private static ClassSheet Arrange(ClassRequest request) => new ClassArranger(Known.Builder).Arrange(request);

    private static Chart Song(string text) => ChartReader.Read(text).Chart;

    private static Player Of(double all, double fullBarre = 10) =>
        new() { Skills = Skills.Each(t => t == Technique.FullBarre ? fullBarre : all) };

    /// <summary>Every version by ladders of their own, each at its one capo.</summary>
    private static IEnumerable<(int Capo, int Rung, VersionFit Fit)> Versions(Chart chart, int move, Player player,
        int highestCapo)
    {
        var moved = move == 0 ? chart : ChartTransposer.Move(chart, chart.Key.Transpose(move), move);
        for (var capo = 0; capo <= highestCapo; capo++)
        {
            var ladder = Known.Builder.Build(
                new ArrangementRequest { Chart = moved, Kind = player.Kind, HighestCapo = highestCapo, Capo = capo });
            var graded = new StudentLadder(ladder, player);
            foreach (var rung in ladder.Playable) yield return (capo, rung.Number, graded.FitOf(rung)!);
        }
    }

    [Fact]
    public void No_key_and_no_places_serve_the_worst_off_better_nor_then_all_together()
    {
        var rungs = Gen.Int[1, 5].Array[1, 3].Select(r => (IReadOnlyList<int>)[.. r.Distinct().Order()]);
        // A third of the guitars stand in a tuning of their own, some of them lower as a whole.
        var guitars = Gen.Select(LadderTests.Players, Gen.Int[0, 3 * Tuning.Known.Count - 1], Gen.Int[-2, 0])
            .Select((player, which, lower) =>
                which < Tuning.Known.Count ? player with { Strings = Tuning.Known[which].Tuning.Shift(lower) } : player);
        Gen.Select(LadderTests.Songs, Gen.Select(guitars, rungs).Array[1, 3], Gen.Int[0, 2], Gen.Int[50, 140])
            .Sample((chart, players, highest, tempo) =>
        {
            chart = chart with { Tempo = tempo };
            var request = new ClassRequest
            {
                Chart = chart, Players = [.. players.Select((p, i) => new ClassPlayer($"{i}", p.Item1, p.Item2))],
                HighestCapo = highest, Tempo = tempo
            };
            var best = Moves.Select(move => (Move: move,
                Fits: players.Select(p => Versions(chart, move, p.Item1, highest).Where(v => p.Item2.Contains(v.Rung))
                        .Select(v => v.Fit.Value).DefaultIfEmpty(double.NaN).Max()).ToList()))
                .Where(k => !k.Fits.Any(double.IsNaN)).ToList();
            if (best.Count == 0)
            {
                Assert.Throws<ClassBlockedException>(() => Arrange(request));
                return;
            }
            var sheet = Arrange(request);
            var worst = best.Max(k => k.Fits.Min());
            Assert.Equal(worst, sheet.WorstFit, 1e-9);
            // A beginner's fit may be less than a rounding: then keys are alike for one rounding and not for another.
            double GreatestSum(double rounding) => best.Where(k => k.Fits.Min() >= worst - rounding).Max(k => k.Fits.Sum());
            Assert.InRange(sheet.Parts.Sum(p => p.Fit.Value), GreatestSum(1e-14) - 1e-9, GreatestSum(1e-9) + 1e-9);
            foreach (var (part, (player, allowed)) in sheet.Parts.Zip(players))
            {
                Assert.Contains(part.Rung.Number, allowed);
                Assert.Equal(Versions(chart, sheet.Semitones, player, highest)
                        .Single(v => v.Capo == part.Rung.Capo && v.Rung == part.Rung.Number).Fit.Value, part.Fit.Value, 1e-9);
                // Under the capo the shapes sound in the one key.
                Assert.Equal(sheet.Chart.Key.Tonic.PitchClass,
                    (part.ShapeKey.Tonic.PitchClass + part.Rung.Capo + part.Ladder.Chart.TuningShift + 12) % 12);
                if (player.Strings is { } own) Assert.Equal(own, part.Ladder.Chart.Strings.Shift(part.Ladder.Chart.TuningShift));
                // And what a guitar sounds, as it stands, is in the chords of that key.
                var strings = part.Ladder.Chart.Strings.Shift(part.Ladder.Chart.TuningShift + part.Rung.Capo);
                foreach (var chord in part.Rung.Played.Where(c => c.Choice.Kind == Core.Substitutions.SubstitutionKind.None))
                    Assert.Equal(0, chord.Choice.Fingering.Shape.PitchClassMask(strings) & ~chord.Sounding.PitchClassMask);
            }
        }, iter: 12, threads: 2);
    }

    [Fact]
    public void An_open_tempo_is_the_highest_at_which_all_keep_up()
    {
        var slowed = 0;
        void Check(Chart chart, double one, double other)
        {
            Player[] players = [Of(one), Of(other)];
            var sheet = Arrange(new ClassRequest
            {
                Chart = chart, Players = [.. players.Select((p, i) => new ClassPlayer($"{i}", p, [1, 2]))], HighestCapo = 1
            });
            bool AllKeepUpAt(double tempo) =>
                Moves.Any(move =>
                    players.All(p => Versions(chart, move, p, 1).Any(v => v.Rung <= 2 && v.Fit.ComfortableTempo >= tempo)));
            Assert.InRange(sheet.Tempo, Math.Ceiling(chart.Tempo / 2), chart.Tempo);
            if (sheet.Tempo < chart.Tempo)
            {
                Interlocked.Increment(ref slowed);
                Assert.False(AllKeepUpAt(sheet.Tempo + 1), $"all keep up at {sheet.Tempo + 1}");
            }
            if (sheet.Tempo > Math.Ceiling(chart.Tempo / 2))
                Assert.True(AllKeepUpAt(Math.Floor(sheet.Tempo)), $"not all keep up at {sheet.Tempo}");
        }
        Gen.Select(LadderTests.Songs, Gen.Double[15, 60], Gen.Double[15, 60]).Sample(Check, iter: 8, threads: 2);
        // One that must be slowed down, whatever chance brought.
        Check(Song("key: D\ntempo: 200\n| D Bm G A | F#m Bm Em A |"), 12, 15);
        Assert.True(slowed > 0);
    }

    [Fact]
    public void A_voice_keeps_the_key_within_its_reach_and_a_little_gain_does_not_move_it()
    {
        var song = Song("key: Bb\ntempo: 80\n| Bb | Eb | Gm | F |");
        var ranged = song with { Singer = new(Pitch("C3"), Pitch("C4")), MelodyGiven = new(Pitch("D3"), Pitch("D4")) };
        var sung = Arrange(new ClassRequest { Chart = ranged, Players = [new("a", Of(35), [2])], HighestCapo = 3 });
        Assert.Equal(-2, sung.Semitones);
        Assert.Equal(11, sung.Keys.Count(k => k.Unreached));
        // The record's key stays as long as nobody gains much by leaving it.
        var players = new ClassPlayer[] { new("a", Of(80, 80), [2, 3]), new("b", Of(75, 80), [2, 3]) };
        var exact = Arrange(new ClassRequest { Chart = song, Players = players, Tempo = 80 });
        var near = Arrange(new ClassRequest { Chart = song, Players = players, Tempo = 80, Alike = 0.05 });
        Assert.True(Math.Abs(near.Semitones) <= Math.Abs(exact.Semitones) && near.WorstFit >= exact.WorstFit - 0.05);
        Assert.Equal(0, near.Semitones);

        static Core.Music.Pitch Pitch(string name) =>
            Core.Music.Pitch.TryParse(name, out var pitch) ? pitch : throw new ArgumentException(name);
    }

    [Fact]
    public void Own_capos_and_a_fixed_key_are_kept_and_hard_sections_are_eased()
    {
        var song = Song("key: D\ntempo: 120\n[Verse]\n| D . . . | G . . . | D . . . | A . . . |\n[Bridge]\n| F#7 Bm F#7 Bm | "
            + "C#7 F#m C#7 F#m |\nform: Verse x4, Bridge");
        var sheet = Arrange(new ClassRequest
        {
            Chart = song, Players = [new("weak", Of(20, 0), [4]), new("able", Of(95, 95), [5]) { Capo = 4 }], Semitones = 0,
            Tempo = 120
        });
        Assert.Equal(0, sheet.Semitones);
        Assert.Equal(4, sheet.Parts[1].Rung.Capo);
        var (verse, bridge) = (sheet.Parts[0].Sections[0], sheet.Parts[0].Sections[1]);
        Assert.True(bridge.Good < verse.Good);
        Assert.NotEqual(SectionPart.Plays, bridge.Advice);
        Assert.All(sheet.Parts.SelectMany(p => p.Sections),
            s => Assert.True(s.Advice switch
            {
                SectionPart.Plays => s.Good >= 0.6,
                SectionPart.OneStroke => s.Good < 0.6 && s.WithOneStroke >= 0.6,
                _ => s.Good < 0.6 && s.WithOneStroke < 0.6
            }));
        Assert.All(sheet.Parts[1].Sections, s => Assert.Equal(SectionPart.Plays, s.Advice));
        // What the teacher wants goes before what is advised, and is played.
        var wanted = Arrange(new ClassRequest
        {
            Chart = song,
            Players = [new("weak", Of(20, 0), [4])
            {
                Parts = new Dictionary<int, SectionPart> { [0] = SectionPart.OneStroke, [1] = SectionPart.Plays }
            }], Semitones = 0, Tempo = 120
        }).Parts[0];
        Assert.Equal([SectionPart.OneStroke, SectionPart.Plays], wanted.Sections.Select(s => s.Does));
        Assert.Equal(sheet.Parts[0].Sections.Select(s => s.Advice), wanted.Sections.Select(s => s.Advice));
        Assert.NotEqual(wanted.Rung.Hand, wanted.Eased.Hand);
        Assert.All(sheet.Parts[0].Late, c => Assert.True(c.NeededSeconds > c.AvailableSeconds));
        Assert.NotEmpty(sheet.Parts[0].Late);
    }

    [Fact]
    public void Who_can_play_nothing_that_was_asked_for_is_named()
    {
        var blocked = Assert.Throws<ClassBlockedException>(() => Arrange(new ClassRequest
        {
            Chart = Song("| C | F#7b9 |"), Players = [new("a", Of(50), [1, 2]), new("b", Of(50), [9])], HighestCapo = 0
        }));
        Assert.Equal("b", blocked.Player);
        Assert.Throws<ArgumentException>(() => Arrange(new ClassRequest { Chart = Song("| C |"), Players = [] }));
        Assert.Throws<ArgumentException>(
            () => Arrange(new ClassRequest { Chart = Song("| C |"), Players = [new("a", Of(50), [])] }));
    }
}
