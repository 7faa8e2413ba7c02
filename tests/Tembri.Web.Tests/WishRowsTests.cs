using CsCheck;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Wishes;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Ladders;

namespace Tembri.Web.Tests;

/// <summary>What a teacher decided, as it is stored, as forms have it and as she types it: nothing is lost on the way, and going
/// back takes just what came.</summary>
public sealed class WishRowsTests
{
    private static readonly Gen<RungSpan> Spans = Gen.OneOf(Gen.Int[1, 5].Select(n => RungSpan.Only(n)),
        Gen.Int[1, 5].Select(n => RungSpan.Up(n)), Gen.Const(RungSpan.All));

    private static readonly Gen<TeacherWishes> Wishes = Gen.Select(
        Gen.Select(Gen.Int[0, 6], Spans).Array[0, 3], Gen.Select(Gen.Int[0, 3], Spans).Array[0, 3], Gen.Int[0, 4].Array[0, 2],
        Gen.Select(Gen.Int[1, 5], Gen.Int[1, 4]).Array[0, 2]).Select((shapes, kinds, standIns, rungs) => TeacherWishes.None with
    {
        Shapes = [.. shapes.Select(s => new ShapeBan([0, 2, 2, s.Item1, 0, 0], s.Item2)).DistinctBy(s => (s.Frets[3], s.Rungs))],
        Kinds = [.. kinds.Select(k => new KindBan(RungRow.AllKinds[k.Item1], k.Item2)).Distinct()],
        StandIns = [
            .. standIns.Distinct().Select(n => new StandIn("B7b9", new[] { "F#dim", "Adim", "Cdim", "D#dim", "B7" }[n]))],
        Rungs = [.. rungs.DistinctBy(r => r.Item1).Select(r => new RungWish(r.Item1) { MostFingers = r.Item2 })],
    });

    /// <summary>The wishes in an order of their own: that one came before another means nothing here.</summary>
    private static IEnumerable<string> Lines(TeacherWishes w) =>
        w.Shapes.Select(s => $"{string.Join(",", s.Frets)} {s.Rungs}").Concat(w.Kinds.Select(k => k.ToString()))
            .Concat(w.StandIns.Select(s => s.ToString())).Concat(w.Rungs.Select(r => r.ToString())).Order();

    [Fact]
    public void Going_back_takes_what_the_step_brought_and_brings_what_it_took_whatever_came_meanwhile()
    {
        Gen.Select(Wishes, Wishes, Wishes, Wishes, Gen.Bool).Sample((now, came, went, later, forStudio) =>
        {
            var step = new WiderChange(forStudio, came, went).On(now);
            var done = step.Do(now);
            Assert.Equal(Lines(now), Lines(step.Undo(done)));
            // Kept as text and read again, it is the same step.
            Assert.Equal(step.ToJson(), WiderChange.Read(step.ToJson())!.ToJson());
            // Something else that is wished for meanwhile stays; what the step had to do with goes its own way.
            var other = later.Without(came).Without(went).Without(now);
            Assert.Equal(Lines(now.With(other)), Lines(step.Undo(done.With(other))));
            // A second time it changes nothing, so there is nothing to go back from.
            Assert.True(new WiderChange(forStudio, came, went.Without(came)).On(done) is var again && again.Came.IsEmpty);
        }, iter: 400);
        Assert.Null(WiderChange.Read(""));
    }

    [Fact]
    public void All_that_is_decided_on_a_ladder_comes_back_from_its_state()
    {
        Gen.Select(Gen.Int[-1, 11], Gen.Int[-4, 1], Gen.Bool, Gen.Bool, Gen.Int[0, 2], Wishes,
                Gen.Select(Gen.Int[1, 5], Gen.Int[0, 11], Gen.Int[0, 4]).Array[0, 5])
            .Sample((capo, tuning, up, alone, aim, wishes, shapes) =>
        {
            var choice = new LadderChoice
            {
                Capo = capo < 0 ? null : capo, Tuning = tuning > 0 ? null : tuning, CapoUp = up, CapoIsOfShapes = alone,
                CapoBefore = capo > 5 ? 2 : null, Voice = aim == 1 ? "A2 to E4" : null, Tune = aim == 1 ? "C3 to A3" : null,
                Aim = (Aim)aim, Accompaniment = alone ? Accompaniment.Alone : Accompaniment.Record,
                Wishes = wishes.IsEmpty ? "" : wishes.ToJson(),
            };
            var locks = shapes.Select(s => new LockedShape
            {
                Rung = s.Item1, Chord = $"{s.Item2}:m7@A verse with @ in its name", ShapeTonic = s.Item2, Capo = s.Item3,
                Tuning = choice.Tuning, Frets = [-1, s.Item3, 2, 0, 1, 0], Fingers = [0, 3, 2, 0, 1, 0]
            }).ToList();
            var read = LadderSnapshot.Read(LadderSnapshot.Of(choice, locks).ToJson());
            var (other, song, student) = (new LadderChoice(), Guid.NewGuid(), Guid.NewGuid());
            read.PutInto(other);
            var rows = read.Rows(song, student).ToList();
            Assert.Equal(LadderSnapshot.Of(choice, locks).ToJson(), LadderSnapshot.Of(other, rows).ToJson());
            Assert.All(rows, r => Assert.Equal((song, student), (r.SongId, r.StudentId)));
        }, iter: 200);
        Assert.Equal(LadderSnapshot.Untouched.ToJson(), LadderSnapshot.Of(new LadderChoice(), []).ToJson());
    }

    [Fact]
    public void What_a_form_of_rungs_says_is_what_the_rung_is()
    {
        Gen.Select(Gen.Int[0, 4], Gen.Select(Gen.Int[1, 4], Gen.Int[1, 6], Gen.Bool, Gen.Int[1, 6]),
                Gen.Select(Gen.Int[0, 12], Gen.Int[10, 100], Gen.Int[0, 100], Gen.Int[1, 5]), Gen.Int[0, 63])
            .Sample((which, a, b, kinds) =>
        {
            var usual = RungLimits.Defaults[which];
            Assert.Null(RungRow.From(usual).ToWish(usual, null));
            var row = new RungRow
            {
                Number = usual.Number, Name = $"Rung of {a.Item1}", Fingers = a.Item1, Barre = a.Item2, Thumb = a.Item3,
                Strings = a.Item4, Fret = b.Item1 == 0 ? null : b.Item1, Load = b.Item2, Closeness = b.Item3,
                RightHand = b.Item4,
                Kinds = [.. RungRow.AllKinds.Where((_, i) => (kinds >> i & 1) != 0)],
            };
            var wish = row.ToWish(usual, null)!;
            var changed = OwnRungs.Changed(usual,
                TeacherWishes.Read((TeacherWishes.None with { Rungs = [wish] }).ToJson()).Rungs.Single());
            Assert.Equal(
                (row.Name, row.Fingers, row.Barre, row.Thumb, row.Strings, row.Load, row.Closeness, row.RightHand),
                (changed.Name, changed.MostFingers, changed.LongestBarre, changed.Thumb, changed.FewestStrings,
                    (int)Math.Round(changed.LoadCeiling), (int)Math.Round(100 * changed.ClosenessFloor), changed.StrumRung));
            // Where a rung has a highest fret, any fret is twelve: a limit cannot be wished away, only far off.
            Assert.Equal(row.Fret ?? (usual.HighestFret is null ? null : 12), changed.HighestFret);
            Assert.Equal(row.Kinds, RungRow.From(changed).Kinds);
        }, iter: 300);
        // Left out here, in elsewhere, and the other way round.
        var rung = RungLimits.Defaults[3];
        Assert.True(new RungRow
        {
            Number = 4, LeftOut = true, Name = rung.Name, Fingers = rung.MostFingers, Barre = rung.LongestBarre, Thumb = true,
            Strings = 4, Load = 72, Closeness = 55, RightHand = 4, Kinds = [.. RungRow.AllKinds]
        }.ToWish(rung, null)!.LeftOut);
        var back = RungRow.From(rung).ToWish(rung, null, usuallyLeftOut: true)!;
        Assert.False(back.LeftOut);
        Assert.Equal(5, OwnRungs.Of(RungLimits.Defaults, [back.Over(new RungWish(4) { LeftOut = true })]).Count);
    }

    private static OpenLadder Opened(string chart)
    {
        var player = new Player();
        var request = new ArrangementRequest { Chart = ChartReader.Read(chart).Chart, Kind = player.Kind, Capo = 0 };
        var ladder = new LadderBuilder(new ResultCache()).Build(request);
        return new OpenLadder(
            new Song { Title = "Low Bridge", ChartText = chart, ChartStamp = "", Key = "C", Meter = "4/4" },
            new Student { Nickname = "Fern", HandId = "medium", GuitarId = "steel" }, ChartReader.Read(chart), request,
            new StudentLadder(ladder, player), null, [], TeacherWishes.None);
    }

    [Theory]
    [InlineData("F xx3211", "xx3211", null)]
    [InlineData("  F :  xx3211  xx3211 ", "xx3211", null)]
    [InlineData("F = 133211 134211", "133211", null)]
    [InlineData("F x-3-3-2-1-1", "x33211", null)]
    [InlineData("F", null, "write a chord and its frets")]
    [InlineData("F xx32", null, "write a chord and its frets")]
    [InlineData("Hm 133211", null, "write a chord and its frets")]
    [InlineData("F xxxxxx", null, "write a chord and its frets")]
    [InlineData("F 1xx8xx", null, "cannot hold 1xx8xx")]
    [InlineData("F 133211 111111", null, "cannot hold 133211 with these fingers")]
    [InlineData("D7 xx0212", null, "D7 is not in the version")]
    public void Shapes_are_read_one_a_line_and_what_is_not_one_is_said(string line, string? shape, string? doubt)
    {
        var open = Opened("key: C\n| C | F | G | C |");
        var (made, fault, doubts) = HandReading.Read("mine", "| C | F | G | C |", 0, "\n" + line, 2, open, new ResultCache());
        Assert.Null(fault);
        var played = made!.Rung.Played.Single(c => c.ShapeChord.Name == "F").Choice.Fingering.Shape.ToString();
        if (shape is not null) Assert.Equal((shape, 0), (played, doubts.Count));
        if (doubt is not null) Assert.Contains(doubt, Assert.Single(doubts), StringComparison.Ordinal);
    }

    [Fact]
    public void A_rungs_shapes_as_lines_are_read_back_to_the_same_fingers()
    {
        var open = Opened("key: G\ntempo: 100\n| G | Em7 | Cadd9 | D | Bm | F |");
        foreach (var rung in open.Ladder.Playable)
        {
            var text = ChartWriter.Write(new VersionChart(open.Ladder, rung).Chart);
            var (made, _, doubts) = HandReading.Read("mine", text, rung.Capo, HandReading.Lines(rung), rung.Limits.StrumRung,
                open, new ResultCache());
            Assert.Empty(doubts);
            var lines =
                HandReading.Lines(rung).Split('\n').Select(l => l.Split(' ')).ToDictionary(l => l[0], l => $"{l[1]} {l[2]}");
            Assert.All(made!.Rung.Played, c => Assert.Equal(lines[c.ShapeChord.Name], c.Choice.Fingering.ToString()));
            Assert.Equal(rung.Strum, made.Rung.Strum);
        }
        Assert.Equal("The version has no chord yet. Type its bars, such as | G | Em7 | Cadd9 | D |.",
            HandReading.Read("mine", "words only", 0, "", 3, open, new ResultCache()).Fault);
    }
}
