using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Arranging;

/// <summary>What can be played for a chord: how unusual each way is, and which limit of a rung it breaks.</summary>
public sealed class CandidateTests
{
    private static readonly string[] Chords = ["C", "G", "F", "Bm", "E7", "Am7", "D/F#", "Gmaj7", "Bb", "C#m7b5", "Asus4",
        "F#dim7", "Eb9", "A5", "Caug", "Dm6", "G/B", "F#m", "E7#9", "Cadd9"];

    private static readonly Lazy<IReadOnlyList<(Chord Chord, FingeringBook Book, IReadOnlyList<Candidate> Candidates)>> All =
        new(
        () =>
    [
        .. from kind in new[] { PlayerKind.Usual, PlayerKind.Usual with { Thumb = true } }
           let book = new FingeringBook(Known.Results, kind.Guitar, kind.Hand, kind.Thumb, 0)
           from name in Chords
           let chord = Chord.Parse(name)
           select (chord, book, new CandidateFinder(Known.Results).For(chord, book, Accompaniment.Record)),
    ]);

    [Fact]
    public void How_unusual_a_candidate_is_adds_up_as_the_document_says()
    {
        var seen = new HashSet<string>();
        double When(bool holds, double points, string what)
        {
            if (holds) seen.Add(what);
            return holds ? points : 0;
        }
        foreach (var (chord, _, candidates) in All.Value)
            foreach (var c in candidates)
            {
                var (frets, origin) = (c.Fingering.Shape.Frets, c.Origin!);
                var (low, high) = (frets.ToList().FindIndex(f => f >= 0), frets.ToList().FindLastIndex(f => f >= 0));
                var stopped = frets.Where(f => f > 0).DefaultIfEmpty().Min();
                var (library, reduction, search) = (origin.Source == ShapeSource.Library, origin.Source == ShapeSource.Reduction,
                    origin.Source == ShapeSource.Search);
                var expected = When(reduction, 6, "reduction") + When(search, 20, "search")
                    + When(c.Kind == SubstitutionKind.ColourRelative, 2, "colour")
                    + When(c.Kind == SubstitutionKind.SharedTones, 6, "shared")
                    + When(c.Kind == SubstitutionKind.PowerChord, 4, "power")
                    + (reduction ? 0.5 * (low - origin.Grip!.Shape.Frets.ToList().FindIndex(f => f >= 0)) : 0)
                    + When(origin.Lifted >= 0, 5, "lifted") + When(origin.Grip is { Rare: true }, 5, "rare")
                    + When(c.Kind is SubstitutionKind.ColourRelative or SubstitutionKind.SharedTones && c.Closeness.WrongBass, 8,
                        "another bass")
                    + When(stopped == 0 && !library, 25, "open strings alone")
                    + (library ? 2 : 6) * (5 - high) + (library ? 0 : 4 * frets.Skip(low).Take(high - low).Count(f => f < 0))
                    + When(search && stopped > 3 && frets.Contains(0), 4, "open under a high hand")
                    + 1.5 * Math.Max(0, stopped - 3);
                Assert.True(Math.Abs(expected - c.Idiom) < 1e-9,
                    $"{chord}: {c.Fingering} {c.Kind} {origin.Source} has {c.Idiom}, not {expected}");
            }
        Assert.Equal(["another bass", "colour", "lifted", "open strings alone", "open under a high hand", "power", "rare",
                "reduction", "search", "shared"], seen.Order());
    }

    [Fact]
    public void Candidates_can_be_taught()
    {
        foreach (var (chord, book, candidates) in All.Value)
        {
            Assert.NotEmpty(candidates);
            foreach (var shape in candidates.GroupBy(c => c.Fingering.Shape))
            {
                var all = book.Of(shape.Key);
                Assert.All(shape, c =>
                {
                    Assert.InRange(c.Fingering.Shape.HighestStopped, 0, 9);
                    Assert.InRange(c.Closeness.Value, 0.3, 1);
                    Assert.True(c.Fingering.SameAs(all[0]) || c.Fingering.Effort <= all[0].Effort + 9, $"{chord} {c.Fingering}");
                    // A barre over four strings and more has all its strings, and no finger is lifted out of it, unless teachers
                    // teach it so.
                    if (c.Fingering.LongestBarre > 3 && c.Origin!.Source != ShapeSource.Library)
                        Assert.True(c.Fingering.Shape is { InteriorMutes: 0, HasOpenString: false } && c.Origin.Lifted < 0,
                            $"{chord} {c.Fingering}");
                });
                // The fingers a teacher writes down are usual; where nobody does, those that cost least are. All others weigh
                // more, the odder they are.
                var isTaught = all.Any(GripLibrary.IsUsual);
                Assert.All(shape, c => Assert.Equal(
                    (isTaught ? GripLibrary.IsUsual(c.Fingering) : c.Fingering.SameAs(all[0]))
                        ? 0 : 18 + 8.0 * c.Fingering.Oddness, c.Habit, 1e-9));
            }
        }
    }

    /// <summary>Where a rung plays open chords whole: all strings of the shape everybody learns, its bass and its tones; another
    /// tone only where ring and little finger stay on the two highest strings.</summary>
    [Fact]
    public void Open_chords_are_whole_or_keep_two_fingers_on_top()
    {
        var strings = new Dictionary<string, int>
        {
            ["G"] = 6, ["E"] = 6, ["Em"] = 6, ["C"] = 5, ["A"] = 5, ["Am"] = 5, ["D"] = 4, ["Dm"] = 4
        };
        var (book, onTop) = (new FingeringBook(Known.Results, PlayerKind.Usual.Guitar, PlayerKind.Usual.Hand, false, 0), 0);
        foreach (var limits in RungLimits.Defaults.Where(l => l.WholeTriads))
            foreach (var (name, all) in strings)
            {
                var chord = Chord.Parse(name);
                var list = new CandidateList(new CandidateFinder(Known.Results).For(chord, book, Accompaniment.Record));
                bool IsOnTop(Candidate c) =>
                    c.Fingering.Shape.ToString()[^2..] == "33"
                        && c.Fingering.Fingers.Select(f => (int)f).TakeLast(2).SequenceEqual([3, 4]);
                bool IsWhole(Candidate c) =>
                    c.Fingering.Shape.Sounding >= all && !c.Closeness.WrongBass && c.Closeness.Missing.Count == 0
                        && (c.Closeness.ForeignMask == 0 || IsOnTop(c));
                var whole = Enumerable.Range(0, list.Count)
                    .Where(v => limits.Allows(list[v]) && IsWhole(list[v])
                        && list[v].Fingering.Shape.HighestStopped <= (limits.HighestFret ?? 99)).ToList();
                if (whole.Count == 0) continue;
                Assert.Equal(whole, Manners.Narrow(list, chord, new Guard(), limits).Order());
                onTop += whole.Count(v => list[v].Closeness.ForeignMask != 0);
            }
        Assert.True(onTop > 0);
    }

    [Fact]
    public void A_rung_refuses_exactly_what_breaks_one_of_its_limits()
    {
        foreach (var c in All.Value.SelectMany(x => x.Candidates))
        {
            // Every limit just where this candidate stands.
            var limits = RungLimits.Defaults[0] with
            {
                MostFingers = c.Fingering.FingerCount, LongestBarre = c.Fingering.LongestBarre, Thumb = c.Fingering.UsesThumb,
                FewestStrings = c.Closeness.Sounding, LoadCeiling = c.Load, ClosenessFloor = c.Closeness.Value,
                Substitutions = [c.Kind],
            };
            Assert.Null(limits.Objection(c));
            Assert.True(limits.Allows(c));
            Assert.Equal(RungLimit.Fingers, (limits with { MostFingers = limits.MostFingers - 1 }).Objection(c));
            Assert.Equal(RungLimit.Barre, (limits with { LongestBarre = limits.LongestBarre - 1 }).Objection(c));
            if (c.Fingering.UsesThumb) Assert.Equal(RungLimit.Thumb, (limits with { Thumb = false }).Objection(c));
            // Nobody plays root and fifth on many strings.
            Assert.Equal(c.ThinByNature ? null : RungLimit.Strings,
                (limits with { FewestStrings = limits.FewestStrings + 1 }).Objection(c));
            Assert.Equal(RungLimit.Load, (limits with { LoadCeiling = c.Load - 1e-9 }).Objection(c));
            Assert.Equal(RungLimit.Closeness, (limits with { ClosenessFloor = c.Closeness.Value + 1e-9 }).Objection(c));
            Assert.Equal(RungLimit.Substitution,
                (limits with { Substitutions = [.. Enum.GetValues<SubstitutionKind>().Where(k => k != c.Kind)] }).Objection(c));
            // What the teacher locked is always allowed; a chord she wants is a substitution, and as close, as she wants it.
            var none = limits with { MostFingers = -1, Substitutions = [], ClosenessFloor = 2 };
            Assert.True(none.Allows(c with { Locked = true }));
            Assert.Null((limits with { Substitutions = [], ClosenessFloor = 2 }).Objection(c with { Wanted = true }));
            Assert.Equal(RungLimit.Fingers, none.Objection(c with { Wanted = true }));
        }
    }

    [Theory]
    [InlineData(1, 2, 1, false, 3, 45, 0.38, 0.51, 5)]
    [InlineData(2, 3, 1, false, 4, 50, 0.50, 0.30, 5)]
    [InlineData(3, 4, 1, false, 4, 58, 0.55, 0, 5)]
    [InlineData(4, 4, 3, true, 4, 72, 0.55, 0, null)]
    [InlineData(5, 4, 6, true, 4, 100, 0.30, 0, null)]
    public void The_rungs_promise_what_the_document_says(int rung, int fingers, int barre, bool thumb, int strings, double load,
        double closeness, double leavesOut, int? fret)
    {
        var limits = RungLimits.Defaults[rung - 1];
        Assert.Equal((rung, fingers, barre, thumb, strings, load, closeness, leavesOut, fret),
            (limits.Number, limits.MostFingers, limits.LongestBarre, limits.Thumb, limits.FewestStrings, limits.LoadCeiling,
                limits.ClosenessFloor, limits.LeavesOutBelow, limits.HighestFret));
        Assert.Equal((rung >= 2, rung >= 3, rung == 5), (limits.WholeTriads, limits.SlashBass, limits.IsRecord));
        Assert.Equal(rung == 5 ? 0.15 : 1, limits.ChangeWeight);
    }
}
