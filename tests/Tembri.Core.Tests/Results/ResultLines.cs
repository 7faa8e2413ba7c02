using System.Globalization;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;

namespace Tembri.Core.Tests.Results;

/// <summary>What the model gives for made-up songs, hands and students, a line for each thing a teacher could see.</summary>
internal static class ResultLines
{
    private static readonly PlayerKind[] Kinds =
    [
        PlayerKind.Usual,
        PlayerKind.Usual with { Hand = Hand.Preset("child"), Guitar = Guitar.Preset("three-quarter"), Barres = BarreGoal.Avoid,
            Pace = Core.Changes.ChangePace.Of(20) },
        PlayerKind.Usual with { Hand = Hand.Preset("large"), Thumb = true, Barres = BarreGoal.Seek,
            Pace = Core.Changes.ChangePace.Of(80) },
    ];

    private static readonly Player[] Students =
    [
        Having(fingers: 35, stretch: 30, shortBarre: 20, fullBarre: 12, muting: 30, thumb: 5, changes: 30, rightHand: 32),
        Having(fingers: 60, stretch: 52, shortBarre: 55, fullBarre: 48, muting: 50, thumb: 30, changes: 58, rightHand: 55),
    ];

    private static Player Having(int fingers, int stretch, int shortBarre, int fullBarre, int muting, int thumb, int changes,
        int rightHand) => new()
    {
        Skills = new Skills
        {
            Fingers = fingers, Stretch = stretch, ShortBarre = shortBarre, FullBarre = fullBarre, Muting = muting, Thumb = thumb,
            Changes = changes, RightHand = rightHand
        }
    };

    /// <summary>The demo songs by the names of their files.</summary>
    internal static IEnumerable<(string Song, string Text)> Songs() =>
        Directory.GetFiles(Path.Combine(Repository.Folder, "demo", "songs"), "*.txt").Order(StringComparer.Ordinal)
            .Select(f => (Path.GetFileNameWithoutExtension(f), File.ReadAllText(f)));

    /// <summary>A number as it is written down.</summary>
    internal static string Number(double? value) => value is { } v ? v.ToString("0.00", CultureInfo.InvariantCulture) : "none";

    private static string Hands(Fingering f) =>
        $"{f.Shape} {string.Concat(f.Fingers.Select(x => (int)x))} {Number(f.Effort)}";

    /// <summary>For each grip that is taught, and what it becomes with strings left out, how hands of three kinds finger it: the
    /// usual ways first, with their effort and its parts.</summary>
    public static IEnumerable<string> Fingerings()
    {
        // Wider than most hands as well: then it is said which fingers are too far apart.
        var wide = new[] { "1x0050", "x15xx6", "153xxx", "x1x60x", "16xx50", "x2x7x2", "13566x", "1x35x7", "x24x68", "246xxx", "1xx567", "x1357x" }
            .Select(Shape.Parse);
        var shapes = GripLibrary.All.SelectMany(g => Fewer(g.Shape).Prepend(g.Shape)).Concat(wide).DistinctBy(s => s.ToString())
            .OrderBy(s => s.ToString(), StringComparer.Ordinal).ToList();
        foreach (var (kind, capo) in Kinds.Zip([0, 0, 5]))
        {
            var finder = new FingeringFinder(new NeckGeometry(kind.Guitar, capo), kind.Hand, kind.Thumb);
            foreach (var shape in shapes)
            {
                var found = finder.Find(shape, 3);
                yield return $"{kind.Hand.Id} {shape}: {string.Join(" | ", found.Select(Hands))}";
                if (found.Count == 0 && Reach.Of(shape, finder.Model.Neck, kind.Hand, kind.Thumb) is { } far)
                    yield return $"  too far {far.Low} {far.High} {Number(far.Millimetres)} {Number(far.Greatest)}";
                if (found.Count > 0 && kind == Kinds[0])
                    yield return $"  parts {string.Join(" ", found[0].Parts.Select(p => $"{p.Kind} {Number(p.Effort)}"))}";
            }
        }

        static IEnumerable<Shape> Fewer(Shape shape)
        {
            if (shape.Sounding > 4) yield return shape.Without(shape.BassString);
            if (shape.Sounding > 3) yield return shape.Without(shape.TrebleString);
            if (shape.Sounding > 4 && shape[shape.TrebleString - 1] >= 0) yield return shape.Without(shape.TrebleString - 1);
        }
    }

    /// <summary>For each kind of chord, on E, A and B flat, what may stand in for it, and how near the first shape that is
    /// taught for each comes.</summary>
    public static IEnumerable<string> Substitutes()
    {
        string[] kinds = ["", "m", "5", "6", "m6", "69", "7", "maj7", "m7", "m(maj7)", "9", "maj9", "m9", "add9", "m(add9)", "11", "m11", "13", "sus2", "sus4",
            "7sus4", "9sus4", "7b5", "7#5", "7b9", "7#9", "7#11", "maj7#11", "13b9", "+", "dim", "dim7", "m7b5", "7alt", "maj7#5", "add4"];
        foreach (var name in new[] { "E", "A", "Bb" }.SelectMany(root => kinds.Select(kind => root + kind))
            .Concat(["E/G#", "Am/E", "C/G", "D7/C", "Bb/D", "Fmaj7/A", "Em/D"]))
        {
            var chord = Chord.Parse(name);
            yield return $"{name}: {string.Join(" ", SubstitutionFinder.For(chord).Select(s => $"{s.Kind}={s.Chord.Name} {Near(s.Chord, chord)}"))}";
        }

        static string Near(Chord played, Chord asked) => GripLibrary.For(played, 12).FirstOrDefault() is { } grip
            ? string.Join(" ", new[] { Accompaniment.Record, Accompaniment.Alone }.Select(a =>
                Number(Closeness.Of(grip.Shape, asked, Tuning.Standard, 0, a).Value)))
            : "-";
    }

    /// <summary>Versions written by hand beside the ladder: as long as the song, shorter and longer, with shapes of their own,
    /// moved and with a capo.</summary>
    public static IEnumerable<string> HandMades()
    {
        const string record = "title: T\nkey: G\ntempo: 92\n[A]\n| G | D7 | C | D7 | G | Em | C D7 | G |\n[B]\n| Am7 | F#m7b5 B7 | Em | C |";
        var usual = new ArrangementRequest { Chart = ChartReader.Read(record).Chart, Kind = PlayerKind.Usual, Capo = 0 };
        var finder = new FingeringFinder(new NeckGeometry(usual.Kind.Guitar, 0), usual.Kind.Hand, usual.Kind.Thumb);
        foreach (var (words, text, capo, own) in new[]
        {
            ("as it is", record, 0, ""), ("two chords", "key: G\n| G | D7 | G | D7 | G | Em | D7 | G | Em | D7 | Em | G |", 0, ""),
            ("shorter", "key: G\n| G | D7 | C | D7 | Em | C | G | Am | Em | C |", 0, ""),
            ("longer", "key: G\n| G | D7 | C | C | D7 | G | Em | C D7 | G | G | Am7 | F#m7b5 B7 | Em | C | C |", 0, ""),
            ("bars with others", "key: G\n| G5 | D | Cadd9 | D | Bb | Em7 | Cadd9 D | G5 | Am | B7 | Em7 | Fmaj7 |", 0, "355433"),
            ("a fourth up", "key: C\n| C | G7 | F | G7 | C | Am | F G7 | C | Dm7 | Bm7b5 E7 | Am | F |", 0, ""),
            ("capo 3", "key: E\n| E | B7 | A | B7 | E | C#m | A B7 | E | F#m7 | D#m7b5 G#7 | C#m | A |", 3, ""),
            ("a whole tone down", "key: A\n[A]\nfigure: | 5/0 h5/2 4/2 . |\n| A | E7 | D | E7 | A | F#m | D E7 | A |", 0, ""),
            ("a whole tone down, capo 2", "key: G\n| G | D7 | C | D7 | G | Em | C D7 | G | Am7 | B7 | Em | C |", 2, ""),
        })
        {
            var shapes = own.Length == 0 ? [] : new Dictionary<string, Fingering> { ["G5"] = finder.Best(Shape.Parse(own))! };
            var request = words.Contains("down", StringComparison.Ordinal) ? usual with { Tuning = -2 } : usual;
            var ladder = Known.Builder.Build(request);
            var made = HandMade.Of(new HandWriting("mine", ChartReader.Read(text).Chart, capo, shapes, 3), request, ladder, Known.Results);
            yield return $"{words}: {made.Semitones} semitones, {made.LeftOutBars} left out, {made.AddedBars} added, beside {made.Beside.Number}, better {made.Better?.Number}";
            foreach (var bar in made.Bars)
                yield return $" {bar.Section} {bar.Bar} by {bar.Own?.ToString(CultureInfo.InvariantCulture) ?? "none"} {Number(bar.Load)} {Number(bar.Closeness)}, rung {Number(bar.RungLoad)} {Number(bar.RungCloseness)} {string.Join(" ", bar.Chords.Select(c => c.Name))}";
            var graded = Students.Select(s => new StudentLadder(made.Ladder, s)).ToList();
            foreach (var line in Of(made.Rung, made.Ladder, graded)) yield return line;
        }
    }

    private sealed record Asked(string Song, string Words, ArrangementRequest Request);

    private static IEnumerable<Asked> Requests()
    {
        foreach (var (song, text) in Songs())
        {
            var chart = ChartReader.Read(text).Chart;
            foreach (var kind in Kinds) yield return new Asked(song, kind.Key, new() { Chart = chart, Kind = kind });
        }
        foreach (var (words, text) in new[]
        {
            ("borrowed and passing", "title: T\nkey: Eb\ntempo: 132\n[A]\n| Eb Edim7 | Fm7 Bb7b9 | Gm7b5 C7#5 | Fm7 Abm6 |\n| Eb/G Gbdim7 | Fm9 Bb13 | Eb6 Bb7sus4 | Eb . . Bb7 |"),
            ("fast pairs", "title: T\nkey: F#\ntempo: 168\nmeter: 3/4\n[A]\n| F# . C#/E# | D#m7 | B | G#m7 C#7 . |\n[B]\n| Bmaj7 | A#m7 | G#m7 | C#7sus4 |"),
            ("two shapes of one chord", "title: T\nkey: G\ntempo: 104\n[A]\n| G C | G Am | G D/F# | Em |\n[B]\n| G5 | F5 | C/E | G/B |"),
            ("figures", "title: T\nkey: A\ntempo: 112\n[Riff]\nfigure: | 5/0 h5/2 4/2 p4/0 s4/4 . b3/2 - | 6/3 6/0 . h6/2 6/3 . A4 C5 |\n| A | D |\n[High]\nfigure: | 1/12 h1/15 p1/12 2/15 s2/13 . 3/14 b3/16 | . . 1/17 - - - |\n| E7 | A |\n| D . E | A . . E7 |")
        })
        {
            var chart = ChartReader.Read(text).Chart;
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual };
            yield return new Asked(words, "as it is", request);
            yield return new Asked(words, "alone", request with { Accompaniment = Accompaniment.Alone });
            yield return new Asked(words, "capo 2", request with { Capo = 2 });
            yield return new Asked(words, "a whole tone down", request with { Tuning = -2 });
            yield return new Asked(words, "timed", request with { Timed = Timed });
            yield return new Asked(words, "as the teacher wants it", request with { Wishes = Wishes });
            yield return new Asked(words, "with rungs of her own", request with { Wishes = OwnLadder, Kind = Kinds[2] });
        }
    }

    /// <summary>A song whose tune rubs against what could be played, free and with shapes that the teacher chose.</summary>
    private static IEnumerable<Asked> Chosen()
    {
        var chart = ChartReader.Read("title: T\nkey: C\ntempo: 88\n[A]\n| C F | Fmaj7 | G7 | C |\n~ | E4 F4 | F4 E4 | D4 B3 | C4 |").Chart;
        var free = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual };
        foreach (var (words, request) in new[] { ("a tune", free), ("a tune, a whole tone down", free with { Tuning = -2 }) })
        {
            yield return new Asked(words, "free", request);
            var ladder = Known.Builder.Build(request);
            yield return new Asked(words, "chosen", request with
            {
                Capo = ladder.Capo,
                Locks = [.. ladder.Played(4).Played.Where(c => !c.IsSecond).Take(3).Select(c => new ShapeLock(2,
                    c.Sounding.DegreeIn(ladder.Chart.Key), ladder.ShapeKey.Tonic.PitchClass, c.Choice.Fingering.Shape))]
            });
        }
    }

    private static readonly TeacherWishes Wishes = TeacherWishes.None with
    {
        Grips = [new OwnGrip("G", [3, -1, 0, 0, 3, 3], [2, 0, 0, 0, 3, 4], RungSpan.All),
            new OwnGrip("C", [-1, 3, 2, 0, 3, 0], [0, 3, 2, 0, 4, 0], RungSpan.Up(2), Always: true)],
        Kinds = [new KindBan(SubstitutionKind.PowerChord, RungSpan.Only(1))], StandIns = [new StandIn("Fm7", "Ab")],
    };

    private static readonly TeacherWishes OwnLadder = TeacherWishes.None with
    {
        Instead = [new ChordInstead("2:m7", "5:6", RungSpan.Up(3)), new ChordInstead("7:7", "7:sus4", RungSpan.All, "it waits"),
            new ChordInstead("2:m@A", "5:", RungSpan.Only(2))],
        Shapes = [new ShapeBan([-1, 3, 2, 0, 1, 0], RungSpan.All), new ShapeBan([3, 2, 0, 0, 0, 3], RungSpan.Only(2))],
        Rungs = [new RungWish(OwnRungs.Between(2)) { AimsAtLoad = 24 },
            new RungWish(3) { MostFingers = 3, LongestBarre = 2, HighestFret = 4 },
            new RungWish(4) { Name = "nearly", RightHand = 2, FewestStrings = 4 }],
        Hands = [new HandWish("A", 1, RungSpan.Only(2))], Apart = [new SetApart("2:m", "A")], NoThumb = true,
    };

    private static readonly Core.Changes.TimedChanges Timed = new(new Dictionary<(Shape, Shape), double>
    {
        [(Shape.Parse("x32010"), Shape.Parse("320003"))] = 12, [(Shape.Parse("320003"), Shape.Parse("x02210"))] = 70
    });

    /// <summary>For each song and kind of player all places, and of each rung what a ladder shows: chords with fingers, changes
    /// with their times, the strum, and how it fits two students and is learnt by them.</summary>
    public static IEnumerable<string> Ladders()
    {
        foreach (var (song, words, request) in Requests().Concat(Chosen()))
        {
            var ladder = Known.Builder.Build(request);
            yield return $"{song}, {words}: capo {ladder.Capo} of {ladder.RecommendedCapo}, {ladder.ShapeKey}";
            foreach (var place in ladder.Places)
                yield return $" at {place.Capo} {Number(place.Score)} {place.Barres} {string.Join(" ", place.Rungs.Select(r => r is { } t ? $"{Number(t.Load)} {Number(t.Closeness)}" : "none"))}";
            yield return $" trade-offs {string.Join(" ", ladder.TradeOffs.Select(t => $"{Number(t.Load)} {Number(t.Closeness)}"))}";
            var students = Students.Select(s => new StudentLadder(ladder, s)).ToList();
            foreach (var rung in ladder.Rungs)
                foreach (var line in Of(rung, ladder, students))
                    yield return line;
            yield return $" to work on {string.Join(" ", students.Select(s => s.WorkingRung))}";
        }
    }

    private static IEnumerable<string> Of(Rung any, Ladder ladder, IReadOnlyList<StudentLadder> students)
    {
        if (any is not PlayableRung rung)
        {
            var blocked = (BlockedRung)any;
            yield return $" {any.Number} blocked by {blocked.ShapeChord.Name}, {blocked.Nearest?.Broken}, free at {string.Join(" ", blocked.FreeAt)}";
            yield break;
        }
        yield return $" {rung.Number} load {Number(rung.Load)} close {Number(rung.Closeness)} strum {rung.Strum} {Number(rung.StrumLoad)}{(rung.SameAsBelow ? " same" : "")}{(rung.IsProved ? "" : " unproved")}";
        foreach (var chord in rung.Chords)
            yield return chord is PlayedChord c
                ? $"  {c.ShapeChord.Name}{(c.IsSecond ? $" before {c.Before?.Name ?? "the end"}" : "")} {c.Choice.Kind} {c.Choice.Played.Name} {Hands(c.Choice.Fingering)} idiom {Number(c.Choice.Idiom)} habit {Number(c.Choice.Habit)} close {Number(c.Choice.Closeness.Value)}{(c.OwnGrip is { } grip ? $" own {Hands(grip.Fingering)} {Number(c.SavedSeconds)}" : "")}{(c.Choice.Wanted ? " wanted" : "")}{(c.IsNew ? " new" : c.IsChanged ? " changed" : "")}"
                : $"  {chord.ShapeChord.Name} left out";
        foreach (var change in rung.Changes)
            yield return $"  {rung.Chords[change.From].ShapeChord.Name} {rung.Chords[change.To].ShapeChord.Name} {change.Count} times {Number(change.Change.Seconds)} s {change.Change.Blocks} blocks {change.Change.Anchors.Count} {change.Change.Guides.Count} {Number(change.Change.ShiftMm)} mm, free {Number(change.FreeBeats)} timed {Number(change.TimedSeconds)}";
        foreach (var figure in rung.Figures)
            yield return $"  figure {figure.Section} {figure.Number} {Number(figure.Load)} {figure.Times} times {figure.Octaves} {string.Join(" ", figure.Played?.Notes.Select(n => $"{n.Pitch} {Number(n.At)} {Number(n.Beats)} {n.How}") ?? ["left out"])} at {string.Join(" ", figure.Path?.Places.Select(f => $"{f.String}/{f.Fret}/{(int)f.Finger}/{f.Position}") ?? [])}";
        foreach (var (student, i) in students.Select((s, i) => (s, i)))
        {
            var fit = student.FitOf(rung)!;
            yield return $"  student {i} {fit.Verdict} {Number(fit.Value)} comfortable {Number(fit.ComfortableTempo)} strummed {Number(fit.Strummed)} because {Words(fit.Reason)}";
            yield return $"   clean {string.Join(" ", fit.Clean.Select(c => Number(c)))} in time {string.Join(" ", fit.Changes.Select(c => Number(c.InTime)))}";
            var order = LearningOrder.Of(rung, fit);
            yield return $"   learns {string.Join(" ", order.Shapes.Select(s => s.Chord))} then {string.Join(" ", order.Changes.Select(c => c.Change))}";
        }
    }

    private static string Words(FitReason reason) => reason switch
    {
        ShapeIsHard r => $"{r.Chord} {r.Technique} {Number(r.Asked)}{(r.NotCleanYet ? " not clean" : "")}",
        ChangeIsLate r => $"{r.From} {r.To} {Number(r.NeededSeconds)} {Number(r.AvailableSeconds)}",
        StrumIsHard r => $"strum {Number(r.Load)}",
        _ => "nothing",
    };

    /// <summary>A fortnight's plan for two students with three songs each.</summary>
    public static IEnumerable<string> Plans()
    {
        var songs = new[] { "harbour-lullaby", "two-left-shoes", "paper-kites" }.Select(song =>
            (Song: song, Ladder: Known.Builder.Build(new()
            {
                Chart = ChartReader.Read(File.ReadAllText(Path.Combine(Repository.Folder, "demo", "songs", song + ".txt"))).Chart,
                Kind = Students[0].Kind
            }))).ToList();
        foreach (var (student, i) in Students.Select((s, i) => (s, i)))
            foreach (var (minutes, age, hurts) in new[]
            {
                (12, AgeGroup.Child, false), (25, AgeGroup.Grown, false), (40, AgeGroup.Grown, true)
            })
            {
                yield return $"student {i}, {minutes} minutes, {age}{(hurts ? ", hurts" : "")}";
                var days = PracticePlan.Make(new PlanRequest
                {
                    Songs = [.. songs.Select((s, n) =>
                    {
                        var graded = new StudentLadder(s.Ladder, student);
                        var rung = s.Ladder.Played(graded.WorkingRung is { } w && n == 0 ? w : 2 + n);
                        return new PlanSong(s.Song, s.Song, rung, graded.FitOf(rung)!);
                    })],
                    Skills = student.Skills, AgeGroup = age, MinutesADay = minutes, From = new DateOnly(2026, 11, 2), Days = 14,
                    Hurts = hurts,
                });
                foreach (var day in days)
                    yield return $" {string.Join("; ", day.Items.Select(item => $"{item.Kind} {item.Song?.Key} {item.Chord} {item.Change} {item.Section} {item.Minutes} min {Number(item.Tempo)} {item.Why.GetType().Name}{(item.IsHardOnTheHand ? " hard" : "")}"))}, breaks {string.Join(" ", day.BreaksAfter)}";
            }
    }

    /// <summary>How each strum that ships becomes easier, and what it weighs at three tempos.</summary>
    public static IEnumerable<string> Strums()
    {
        foreach (var strum in ShippedStrum.All)
        {
            Assert.True(Core.Music.Meter.TryParse(strum.Meter, out var meter));
            var pattern = strum.In(meter);
            yield return $"{strum.Id}: {string.Join(" ", new[] { 60, 96, 150 }.Select(t => Number(StrumEffort.Of(pattern).LoadAt(t))))}";
            foreach (var rung in StrumLadder.Of(pattern).Rungs)
                yield return $" {rung.Number} {rung.Pattern} keeps {Number(rung.Kept)}{(rung.SameAsBelow ? " same" : "")} {Number(StrumEffort.Of(rung.Pattern).LoadAt(96))}";
        }
    }
}
