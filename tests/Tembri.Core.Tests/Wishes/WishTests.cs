using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;

namespace Tembri.Core.Tests.Wishes;

/// <summary>What a teacher wants is played: other chords, forbidden shapes, own grips, chords set apart, own rungs.</summary>
public sealed class WishTests
{
    private static readonly TeacherWishes None = TeacherWishes.None;

    private static ArrangementRequest Asked(string chart, TeacherWishes wishes) =>
        new() { Chart = ChartReader.Read(chart).Chart, Kind = PlayerKind.Usual, Capo = 0, Wishes = wishes };

    private static Ladder Built(string chart, TeacherWishes wishes) => Known.Builder.Build(Asked(chart, wishes));

    [Fact]
    public void A_degree_is_read_back_to_its_chord_in_every_key()
    {
        Gen.Select(Gen.Int[0, 11], Gen.Bool,
                Pick.From("C", "F#m7b5", "Bb/D", "A7sus4", "Ebmaj9", "C6/9", "Am(maj7)/G#", "Gdim7", "D/F#", "E7#9"))
            .Sample((fifths, minor, symbol) =>
        {
            var key = new Key(new Note(fifths - 5), minor);
            var chord = Chord.Parse(symbol);
            foreach (var asked in new[] { chord, chord.ApartIn("Verse 2") })
            {
                var read = Chord.OfDegree(asked.DegreeIn(key), key)!;
                Assert.Equal((asked.DegreeIn(key), asked.PitchClassMask, asked.BassPitchClass, asked.Section),
                    (read.DegreeIn(key), read.PitchClassMask, read.BassPitchClass, read.Section));
            }
        });
        Assert.All(new[] { "", "x", "7", "7:nonsense", "a:m" },
            text => Assert.Null(Chord.OfDegree(text, new Key(new Note(0), false))));
    }

    [Fact]
    public void A_chord_typed_in_place_of_another_is_played_on_its_rungs_and_on_no_other()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[0, 60], Gen.Int[1, 5], Pick.From("m", "", "7", "sus4", "maj7"), Gen.Int[0, 11])
            .Sample((chart, pick, rung, kind, up) =>
        {
            var index = pick % chart.Chords.Count;
            var degree = chart.Chords[index].DegreeIn(chart.Key);
            var wish = new ChordInstead(degree, $"{up}:{kind}", RungSpan.Only(rung), "because");
            var ladder = Known.Builder.Build(new ArrangementRequest
            {
                Chart = chart, Kind = PlayerKind.Usual, Capo = 0, Wishes = None with { Instead = [wish] }
            });
            var wanted = Chord.OfDegree(wish.Plays, chart.Key)!.Transpose(chart.Key, ladder.ShapeKey);
            foreach (var played in ladder.Playable)
                foreach (var chord in played.Played.Where(c => c.SongChord == index))
                {
                    Assert.Equal(played.Number == rung && wish.Plays != degree, chord.Choice.Wanted && wish.Plays != degree);
                    if (played.Number != rung) continue;
                    Assert.Equal(wanted.PitchClassMask, chord.Choice.Played.PitchClassMask);
                    Assert.Equal(wanted.Root.PitchClass, chord.Choice.Played.Root.PitchClass);
                    Assert.True(chord.IsSecond || chord.Reason == "because");
                }
        }, iter: 25, threads: 2);
    }

    [Fact]
    public void What_is_forbidden_is_never_played()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[0, 60], Gen.Int[0, 9]).Sample((chart, pick, from) =>
        {
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 };
            var free = Known.Builder.Build(request);
            var rungs = free.Playable.ToList();
            if (rungs.Count == 0) return;
            var rung = rungs[from % rungs.Count];
            var played = rung.Played.ToList();
            var shape = played[pick % played.Count].Choice.Fingering.Shape;
            // Shapes and kinds, on one rung or on all.
            foreach (var span in new[] { RungSpan.Only(rung.Limits.Height), RungSpan.All })
            {
                var ladder =
                    Known.Builder.Build(request with { Wishes = None with { Shapes = [new ShapeBan(shape.Frets, span)] } });
                foreach (var r in ladder.Playable.Where(r => span.Holds(r.Limits.Height)))
                    Assert.DoesNotContain(r.Played, c => c.Choice.Fingering.Shape.Equals(shape));
            }
            var kinds = None with { Kinds = [new KindBan(SubstitutionKind.ColourRelative, RungSpan.All),
                new KindBan(SubstitutionKind.PowerChord, RungSpan.All)] };
            foreach (var r in Known.Builder.Build(request with { Wishes = kinds }).Playable)
                Assert.DoesNotContain(r.Played,
                    c => c.Choice.Kind is SubstitutionKind.ColourRelative or SubstitutionKind.PowerChord);
        }, iter: 15, threads: 2);
    }

    [Fact]
    public void When_every_shape_of_a_chord_is_forbidden_the_rung_says_that_the_teacher_forbade_it()
    {
        const string Song = "key: C\n| C | G | C | G |";
        var request = Asked(Song, None);
        var all = Known.Builder.Alternatives(request, Known.Builder.Build(request), 1, RungLimits.Defaults[4])
            .Select(a => a.Candidate.Fingering.Shape).Distinct().ToList();
        var ladder = Built(Song, None with { Shapes = [.. all.Select(s => new ShapeBan(s.Frets, RungSpan.Only(2)))] });
        var blocked = Assert.IsType<BlockedRung>(ladder.Rungs[1]);
        Assert.Equal(("G", RungLimit.Forbidden), (blocked.Chord.Name, blocked.Nearest!.Value.Broken));
        Assert.IsType<PlayableRung>(ladder.Rungs[2]);
    }

    [Fact]
    public void A_stand_in_is_offered_on_every_root_and_not_on_the_record()
    {
        var wishes = None with { StandIns = [new StandIn("B7b9", "F#dim")] };
        foreach (var (song, plays) in new[]
        {
            ("key: Em\n| Em | B7b9 | Em | B7b9 |", "F♯dim"), ("key: Am\n| Am | E7b9 | Am | E7b9 |", "Bdim")
        })
        {
            var request = Asked(song, wishes);
            var ladder = Known.Builder.Build(request);
            var offered = Known.Builder.Alternatives(request, ladder, 1, RungLimits.Defaults[2])
                .Where(a => a.Candidate.Kind == SubstitutionKind.Own).ToList();
            Assert.NotEmpty(offered);
            Assert.All(offered, o => Assert.Equal(plays, o.Candidate.Played.Name));
            Assert.Contains(offered, o => o.Objection is null);
            Assert.All(Known.Builder.Alternatives(request, ladder, 1, RungLimits.Defaults[4])
                    .Where(a => a.Candidate.Kind == SubstitutionKind.Own),
                o => Assert.Equal(RungLimit.Substitution, o.Objection));
            Assert.DoesNotContain(Known.Builder.Alternatives(request, ladder, 0, RungLimits.Defaults[2]),
                a => a.Candidate.Kind == SubstitutionKind.Own);
        }
    }

    /// <summary>A chord of the teacher's own is played where the limits allow it and she did not forbid it, and only
    /// there.</summary>
    [Fact]
    public void A_stand_in_keeps_to_the_limits_and_to_what_is_forbidden()
    {
        const string Song = "key: Am\n| Am | E7b9 | Am | E7b9 |";
        var wishes = None with { StandIns = [new StandIn("B7b9", "F#dim")] };
        var request = Asked(Song, wishes);
        var ladder = Known.Builder.Build(request);
        foreach (var limits in RungLimits.Defaults.Take(4))
        {
            var own = Known.Builder.Alternatives(request, ladder, 1, limits).Where(a => a.Candidate.Kind == SubstitutionKind.Own)
                .ToList();
            Assert.All(own, o => Assert.Equal(limits.Allows(o.Candidate), o.Objection is null));
            // Nothing else is left to play, then not even the stand-in.
            var others = Known.Builder.Alternatives(request, ladder, 1, limits)
                .Where(a => a.Candidate.Kind != SubstitutionKind.Own)
                .Select(a => new ShapeBan(a.Candidate.Fingering.Shape.Frets, RungSpan.Only(limits.Height))).ToList();
            var left = Built(Song, wishes with { Shapes = others }).Rungs[limits.Number - 1];
            if (own.Exists(
                o => o.Objection is null && others.TrueForAll(b => !b.Frets.SequenceEqual(o.Candidate.Fingering.Shape.Frets))))
                Assert.True(limits.Allows(Assert.IsType<PlayableRung>(left).PlayedAs(1).Choice)
                    && ((PlayableRung)left).PlayedAs(1).Choice.Kind == SubstitutionKind.Own);
            var none = Built(Song,
                wishes with { Shapes = [.. others,
                        .. own.Select(o => new ShapeBan(o.Candidate.Fingering.Shape.Frets,
                            RungSpan.Only(limits.Height)))] }).Rungs[limits.Number - 1];
            Assert.Equal(RungLimit.Forbidden, Assert.IsType<BlockedRung>(none).Nearest?.Broken);
        }
    }

    [Fact]
    public void Ones_own_grip_is_played_unless_something_pays_and_then_it_is_said()
    {
        const string Song = "key: G\ntempo: 80\n| G | Em | D | Em | G | Em | D | G |";
        int At(Ladder ladder) => ladder.Flow.Chords.ToList().FindIndex(c => c.Name == "Em");
        var usual = Built(Song, None);
        var own = new OwnGrip("Em", [0, 2, 2, 0, 0, 0], [0, 2, 3, 0, 0, 0], RungSpan.All);
        Assert.NotEqual(own.ToFingers(), usual.Played(3).PlayedAs(At(usual)).Choice.Fingering.Fingers);
        var ladder = Built(Song, None with { Grips = [own] });
        var em = ladder.Played(3).PlayedAs(At(ladder));
        Assert.Equal((own.ToShape(), true),
            (em.Choice.Fingering.Shape, em.Choice.Fingering.Fingers.SequenceEqual(own.ToFingers())));
        Assert.Null(em.OwnGrip);
        // Where a change pays clearly, as from the four-finger G to C and back, another is played, and it is said what it saves.
        var four = new OwnGrip("G", [3, 2, 0, 0, 3, 3], [2, 1, 0, 0, 3, 4], RungSpan.All);
        var quick =
            Built("key: G\ntempo: 150\n| G | C | G | C | G | C | G | C |", None with { Grips = [four] }).Played(3).PlayedAs(0);
        Assert.Equal((four.ToShape(), false),
            (quick.OwnGrip!.Fingering.Shape, quick.Choice.Fingering.Shape.Equals(four.ToShape())));
        Assert.True(quick.SavedSeconds > 1, $"{quick.SavedSeconds} s");
        // On two fingers it cannot be, and nothing is said about it.
        Assert.All(Built("key: G\n| G | C | D | G |", None with { Grips = [four] }).Played(1).Played,
            c => Assert.Null(c.OwnGrip));
        // Always is always, from its rung up.
        var always = Built(Song, None with { Grips = [four with { Always = true, Rungs = RungSpan.Up(2) }] });
        Assert.Equal([false, true, true, true, true],
            always.Playable.Select(
                r => r.PlayedAs(0).Choice.Fingering.Shape.Equals(four.ToShape()) && r.PlayedAs(0).Choice.Locked));
    }

    [Fact]
    public void A_wish_for_a_grip_is_weighed_as_the_document_says()
    {
        // Its own price is that of the lightest other way, less fifteen points of its share, unless it is lighter by itself; the
        // changes are as ever. None of many other choices costs less.
        var chart = ChartReader.Read("tempo: 100\nkey: G\n| G | C | D | Em |").Chart;
        var flow = new ChordFlow(chart);
        var guards = GuardFinder.Find(flow, chart.Key);
        var (kind, limits, share) = (PlayerKind.Usual, RungLimits.Defaults[2], 0.4 / 4 + 0.6 / 4);
        var book = new FingeringBook(Known.Results, kind.Guitar, kind.Hand, kind.Thumb, 0);
        var own = new OwnGrip("Em", [0, 2, 2, 0, 0, 0], [0, 1, 2, 0, 0, 0], RungSpan.All);
        var arranger = new Arranger(
            Known.Results, _ => new RungSong(chart, flow.Chords, 0), flow.Chords, guards, kind, TimedChanges.None, 0,
            Accompaniment.Record, chart.Tempo, l => new RightHand(chart, l), null,
            [.. flow.Chords.Select(c => new ChordWish(None with { Grips = [own] }, c.DegreeIn(chart.Key), c, _ => null,
                new CandidateFinder(Known.Results), book, Accompaniment.Record, 0))]);
        var found = arranger.Arrange(limits, limits.ClosenessWeight).Found!;
        var em = flow.Chords.ToList().FindIndex(c => c.Name == "Em");
        var open = Enumerable.Range(0, 4)
            .Select(i => arranger.CandidatesOf(i).Where(c => arranger.MayPlay(i, limits, c))
                .DistinctBy(c => c.Fingering.ToString()).ToList()).ToList();
        bool IsOwn(Candidate c) => c.Fingering.Shape.Equals(own.ToShape()) && c.Fingering.Fingers.SequenceEqual(own.ToFingers());
        double Sound(Candidate c) => limits.ClosenessWeight * 100 * (1 - c.Closeness.Value);
        double Rest(Candidate c) => c.Load + limits.IdiomWeight * c.Idiom + c.Habit;
        var least = open[em].Where(c => !IsOwn(c)).Min(Rest);
        double Price(Candidate c, int i) => share * (Sound(c) + (i == em && IsOwn(c) ? Math.Min(Rest(c), least) - 15 : Rest(c)));
        double Sum(IReadOnlyList<Candidate> choice) => choice.Select(Price).Sum() + flow.Steps.Sum(step =>
        {
            var needed = arranger.Changes.Seconds(choice[step.From].Fingering, choice[step.To].Fingering) * kind.Pace.Slowness;
            var late = Math.Max(0, needed - 60 / chart.Tempo * new RightHand(chart, limits).FreeBeats(step));
            var unheard = choice[step.From].Sound == choice[step.To].Sound ? Math.Max(limits.ClosenessWeight, 1.2) * 50 : 0;
            return step.Count / (double)flow.Steps.Sum(s => s.Count) * (12 * needed + 50 * late + unheard);
        });
        Assert.True(IsOwn(found.Choices[em]));
        Assert.Equal(Sum(found.Choices), found.Objective, 1e-4);
        Gen.Int[0, 9_999].Array[4].Sample(
            picks => Sum([.. picks.Select((p, i) => open[i][p % open[i].Count])]) >= found.Objective - 1e-4, iter: 600);
    }

    [Fact]
    public void A_chord_set_apart_has_a_column_of_its_own_and_can_be_played_otherwise_there()
    {
        const string Song = "key: G\nform: Verse, Chorus\n\n[Verse]\n| G | D7 | G | D7 |\n\n[Chorus]\n| C | D7 | G | D7 |";
        var wishes =
            None with { Apart = [new SetApart("7:7", "Verse")], Instead = [new ChordInstead("7:7@Verse", "7:", RungSpan.All)] };
        var ladder = Built(Song, wishes);
        Assert.Equal(["D7@Verse", "D7"],
            ladder.Flow.Chords.Where(c => c.Name == "D7").Select(c => c.Section is { } s ? $"{c.Name}@{s}" : c.Name));
        foreach (var rung in ladder.Playable)
        {
            var version = new VersionChart(ladder, rung).Chart;
            Assert.All(version.Sections[0].Bars.Where((_, i) => i % 2 == 1), b => Assert.Equal("D", b.Slots[0].Symbol));
            Assert.All(rung.Played.Where(c => c.Sounding.Name == "D7" && c.Sounding.Section is null),
                c => Assert.False(c.Choice.Wanted));
        }
        // All of the song's time is still there, and a wish for what the chart does not have changes nothing.
        Assert.Equal(Built(Song, None).Flow.TotalBeats, ladder.Flow.TotalBeats);
        Assert.Equal(Built(Song, None).Flow.Chords,
            Built(Song, None with { Apart = [new SetApart("7:7", "Bridge"), new SetApart("1:m", "Verse")] }).Flow.Chords);
    }

    [Fact]
    public void Rungs_are_left_out_and_taken_in_between_and_the_ladder_stays_a_ladder()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[1, 4], Gen.Int[1, 5], Gen.Double[0.2, 0.8]).Sample((chart, below, gone, share) =>
        {
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 };
            var free = Known.Builder.Build(request);
            if (free.Find(below) is not PlayableRung low || free.Find(below + 1) is not PlayableRung high) return;
            var target = low.Load + share * (high.Load - low.Load);
            var wishes = None with { Rungs = [new RungWish(OwnRungs.Between(below)) { AimsAtLoad = target },
                .. gone == below || gone == below + 1 ? [] : new[] { new RungWish(gone) { LeftOut = true } }] };
            var ladder = Known.Builder.Build(request with { Wishes = wishes });
            Assert.Equal(free.Rungs.Count + 1 - (wishes.Rungs.Count - 1), ladder.Rungs.Count);
            Assert.Equal(ladder.Rungs.Select(r => r.Limits.Height).Order(), ladder.Rungs.Select(r => r.Limits.Height));
            Assert.All(wishes.Rungs.Where(w => w.LeftOut == true), w => Assert.Null(ladder.Find(w.Number)));
            var playable = ladder.Playable.ToList();
            for (var i = 1; i < playable.Count; i++)
            {
                Assert.True(playable[i].Load >= playable[i - 1].Load - 1e-6, "load never falls");
                Assert.True(playable[i].Closeness >= playable[i - 1].Closeness - 1e-6, "closeness never falls");
            }
            Assert.Equal(free.Capo, ladder.Capo);
        }, iter: 20, threads: 2);
    }

    [Fact]
    public void A_rung_in_between_comes_near_to_its_load()
    {
        var chart = ChartReader.Read("key: F\ntempo: 90\n| F | Bb | Gm | C7 | Dm | F | Bb | C7 |").Chart;
        var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 };
        var free = Known.Builder.Build(request);
        var wide = free.Playable.Zip(free.Playable.Skip(1)).Where(p => p.Second.Number == p.First.Number + 1)
            .MaxBy(p => p.Second.Load - p.First.Load);
        Assert.True(wide.Second.Load - wide.First.Load > 6, "a wide step");
        var target = (wide.First.Load + wide.Second.Load) / 2;
        var between = Known.Builder.Build(request with { Wishes = None
                with { Rungs = [new RungWish(OwnRungs.Between(wide.First.Number)) { AimsAtLoad = target }] } })
            .Played(OwnRungs.Between(wide.First.Number));
        Assert.InRange(between.Load, target - 4, target + 4);
        Assert.Equal($"{wide.First.Number}½", between.Limits.Label);
    }

    [Fact]
    public void Limits_of_ones_own_hold_and_each_limit_names_what_it_keeps_out()
    {
        const string Song = "key: F\n| F | Bb | Gm | C7 | F |";
        var request = Asked(Song,
            None with { Rungs = [
                new RungWish(3) { LongestBarre = 2, MostFingers = 3, Name = "Three and a half", RightHand = 1 }] });
        var rung = Known.Builder.Build(request).Played(3);
        Assert.Equal(("Three and a half", 3, 1), (rung.Limits.Name, rung.Limits.MostFingers, rung.Limits.StrumRung));
        Assert.Equal(Known.Builder.Build(Asked(Song, None)).Played(1).Strum, rung.Strum);
        Assert.All(rung.Played.Where(c => !c.Choice.Locked),
            c => Assert.True(c.Choice.Fingering.FingerCount <= 3, c.Choice.Fingering.ToString()));
        var kept = Known.Builder.Forbidden(request, Known.Builder.Build(request), RungLimits.Defaults[2]);
        Assert.Contains(kept[RungLimit.Barre], k => k.Shape.Fingering.Shape.ToString() == "133211");
        Assert.All(kept.Where(k => k.Key != RungLimit.Fret),
            limit => Assert.All(limit.Value, k => Assert.Equal(limit.Key, RungLimits.Defaults[2].Objection(k.Shape))));
        Assert.All(kept.GetValueOrDefault(RungLimit.Fret) ?? [],
            k => Assert.True(k.Shape.Fingering.Shape.HighestStopped > RungLimits.Defaults[2].HighestFret));
    }

    [Fact]
    public void Wishes_are_kept_as_text_put_together_and_taken_apart_again()
    {
        var studio = None with { Grips = [new OwnGrip("G", [3, 2, 0, 0, 0, 3], [2, 1, 0, 0, 0, 3], RungSpan.All)],
            Rungs = [new RungWish(2) { Name = "Two", MostFingers = 3 }], NoThumb = true };
        var own = None with
        {
            Grips = [new OwnGrip("G", [3, 2, 0, 0, 3, 3], [2, 1, 0, 0, 3, 4], RungSpan.Up(3), true)],
            Rungs = [new RungWish(2) { MostFingers = 2 }], Instead = [new ChordInstead("0:", "0:7", RungSpan.Only(2.5), "so")],
            Shapes = [new ShapeBan([0, 2, 2, 0, 0, 0], RungSpan.All)],
            Kinds = [new KindBan(SubstitutionKind.PowerChord, RungSpan.Only(1))], StandIns = [new StandIn("B7b9", "F#dim")],
            Apart = [new SetApart("0:", "Verse")],
        };
        foreach (var wishes in new[] { None, studio, own, own.Over(studio) })
            Assert.Equal(wishes.ToJson(), TeacherWishes.Read(wishes.ToJson()).ToJson());
        Assert.All(new[] { null, "", "{", "[]", "null", "7" }, text => Assert.True(TeacherWishes.Read(text).IsEmpty));
        var both = own.Over(studio);
        // The narrower grip stands before the wider one on its rungs; what one rung says and the other does not is both kept.
        Assert.Equal(["320033", "320003"], both.Grips.Select(g => g.ToShape().ToString()));
        Assert.Equal(("Two", 2), (both.Rungs.Single().Name, both.Rungs.Single().MostFingers));
        Assert.True(both.NoThumb);
        Assert.Equal(own.ToJson(), own.With(own).ToJson());
        Assert.True(own.Without(own).IsEmpty);
        Assert.Equal(studio.ToJson(),
            studio.With(own with { Rungs = [], NoThumb = false }).Without(own with { Rungs = [], NoThumb = false }).ToJson());
    }

    [Theory]
    [InlineData("key: C\n| Gsus4 | G | C | C |", 1, "Gsus4", GuardBreak.NothingResolves)]
    [InlineData("key: C\n| F | G7 | C | C |", 1, "Gm7", GuardBreak.NoLeadingTone)]
    [InlineData("key: C\n| C | F | G | C |", 0, "C7", GuardBreak.HomeAsksToGoOn)]
    [InlineData("key: C\n| C | G/B | Am | F |", 1, "G", GuardBreak.BrokenBassLine)]
    [InlineData("key: C\n| Am | Am(maj7) | Am7 | F |", 1, "Am", GuardBreak.BrokenInnerLine)]
    [InlineData("key: C\n| C | F | G | C |", 1, "F#", GuardBreak.FewTonesKept)]
    public void What_speaks_against_a_chord_is_told(string song, int chord, string played, GuardBreak expected)
    {
        var chart = ChartReader.Read(song).Chart;
        var flow = new ChordFlow(chart);
        var guards = GuardFinder.Find(flow, chart.Key);
        Assert.Contains(expected, GuardBreaks.Of(guards[chord], flow.Chords[chord], Chord.Parse(played)));
        Assert.Empty(GuardBreaks.Of(guards[chord], flow.Chords[chord], flow.Chords[chord]));
    }

    [Fact]
    public void A_shape_out_of_reach_names_the_fingers_and_how_far_they_would_be()
    {
        var (neck, hand) = (new Core.Fretboard.NeckGeometry(Core.Fretboard.Guitar.Steel, 0), Hand.Medium);
        foreach (var shape in new[] { "1xx8xx", "17xxxx", "2x0009" }.Select(Shape.Parse))
        {
            Assert.Null(new FingeringFinder(neck, hand, false).Best(shape));
            var far = Reach.Of(shape, neck, hand, false)!;
            Assert.True(far.Millimetres > far.Greatest && far.Low < far.High);
            // A hand so much larger can hold it.
            Assert.NotNull(new FingeringFinder(neck, hand with { Spread = hand.Spread * 1.6 * far.Millimetres / far.Greatest },
                    false).Best(shape));
        }
        Assert.Null(Reach.Of(Shape.Parse("x32010"), neck, hand, false));
        // The least hand that holds it, found half a millimetre after the other, has its fingers at the same two ends.
        foreach (var shape in new[] { "1xx8xx", "2x0009", "x1x6x3", "1x5x7x", "13x8x3" }.Select(Shape.Parse))
        {
            Fingering? held = null;
            for (var spread = hand.Spread; held is null && spread < 600; spread += 0.5)
                held = new FingeringFinder(neck, hand with { Spread = spread }, false).Best(shape);
            var far = Reach.Of(shape, neck, hand, false)!;
            Assert.Equal((held!.Spots[(int)far.Low].Fret, held.Spots[(int)far.High].Fret) is var (low, high)
                    ? neck.Landing(high) - neck.Landing(low) : 0, far.Millimetres, 1e-9);
        }
        // Five places apart that no finger lies across: no hand, however large.
        Assert.Null(Reach.Of(Shape.Parse("543215"), neck, hand, false));
        Assert.Empty(new FingeringFinder(neck, hand with { Spread = 600 }, false).Find(Shape.Parse("543215")));
    }
}
