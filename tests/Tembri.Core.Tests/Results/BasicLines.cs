using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Lessons;
using Tembri.Core.Music;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Charts;
using Tembri.Core.Wishes;
using static Tembri.Core.Tests.Results.ResultLines;

namespace Tembri.Core.Tests.Results;

/// <summary>What everything else stands on: chords and keys, necks and hands, lessons and wishes, a line for each.</summary>
internal static class BasicLines
{
    private static readonly string[] Kinds =
    [
        "", "m", "5", "6", "m6", "6/9", "69", "m69", "7", "maj7", "M7", "Δ", "j7", "m7", "-7", "mM7", "m(maj7)", "9", "maj9", "m9", "add9", "add2",
        "m(add9)", "add4", "add11", "11", "m11", "maj11", "13", "m13", "maj13", "sus", "sus2", "sus4", "7sus4", "7sus2", "9sus4", "13sus4", "sus24",
        "2", "4", "7b5", "7#5", "7+5", "7-9", "7b9", "7#9", "7#11", "7b13", "maj7#11", "maj7b5", "13b9", "7(b9,#11)", "+", "aug", "+7", "aug7", "dim",
        "°", "o7", "dim7", "ø", "ø7", "m7b5", "m7-5", "7alt", "alt", "maj7#5", "no3", "(no5)", "7no5", "omit3", "m7add11", "7add13", "h", "q", "m8",
        "15", "b5", "(b5)", "mb6", "madd9", "sus4add9", "7#9#5", "9#5", "9b5", "/F", "m/G#", "7/D", "/A", "maj7/F", "/X", "/", "((", "m7b", "7b9b9",
    ];

    /// <summary>Each symbol of the corpus and each way to write a kind on three roots: the notes, what it counts as in two keys,
    /// what it is called by sharps and flats; or why it is no chord.</summary>
    public static IEnumerable<string> ChordSymbols()
    {
        var written = MessyCharts.All.Values.SelectMany(c => ChartReader.Read(c.Text).Chart.Sections).SelectMany(s => s.Bars)
            .SelectMany(b => b.Slots).Select(s => s.Symbol).Distinct().Order(StringComparer.Ordinal);
        var (g, fSharp) = (Key.TryParse("G", out var a) ? a : default, Key.TryParse("F#m", out var b) ? b : default);
        foreach (var symbol in new[] { "E", "Bb", "F#" }.SelectMany(root => Kinds.Select(kind => root + kind)).Concat(written))
        {
            var read = ChordReader.Read(symbol);
            yield return read.Chord is not { } c
                ? $"{symbol}: {(read.IsSilence ? "silence" : $"{read.Column} {read.Error}")}"
                : $"{symbol}: {c.Name} {c.Root} {c.Kind} {string.Join(",", c.Degrees.Select(d => $"{d}{d.Role.ToString()[0]}{d.Semitones}"))} bass {c.BassPitchClass} {string.Join(",", c.PitchClasses)} {c.DegreeIn(g)} {c.DegreeIn(fSharp)} {Chord.OfDegree(c.DegreeIn(g), fSharp)?.Name} {c.Named(NoteNames.Sharps).Name} {c.Named(NoteNames.Flats).Name} {c.MoveFifths(3).Name}{(c.IsMinor ? " minor" : "")}{(c.IsDominant ? " dominant" : "")}{(c.IsDiminishedSeventh ? " diminished" : "")}{(c.IsSuspended ? " suspended" : "")}";
        }
    }

    /// <summary>What three or four notes above a bass are called, after nothing and after a chord.</summary>
    public static IEnumerable<string> NotesNamed()
    {
        var key = Key.TryParse("D", out var d) ? d : default;
        var before = Chord.Parse("A7");
        for (var mask = 1; mask < 4096; mask += 2)
            if (int.PopCount(mask) is 3 or 4)
                yield return $"{Convert.ToString(mask, 2)}: {string.Join(" ", ChordNamer.Name(mask, 0, key).Take(3).Select(c => c.Name))}, {ChordNamer.Name(mask, 0, key, before).FirstOrDefault()?.Name}";
    }

    /// <summary>Keys, meters, notes and tunings as they are written, and what is no such thing.</summary>
    public static IEnumerable<string> Written()
    {
        foreach (var text in new[] { "C", "F#m", "Gb", "Ebm", "G#", "A#m", "D# minor", "h", "Bb major", "b", "Cbm", "E#", "Fb", "H", "", "Am7", "fis", "C#" })
            yield return Key.TryParse(text, out var key)
                ? $"key {text}: {key} {key.Signature} {key.FifthsTo(new Key(Note.C, false))} {string.Join(" ", Enumerable.Range(0, 12).Select(n => $"{key.Spell(n)} {key.Transpose(n)}"))} {key.Named(NoteNames.Flats)} {key.Named(NoteNames.Sharps)}"
                : $"key {text}: none";
        foreach (var text in new[] { "4/4", "3/4", "6/8", "12/8", "9/8", "3/8", "2/2", "7/8", "5/4", "1/4", "0/4", "4/3", "33/4", "C", "4", "6/4", "2/16", "4/64", " 4 / 4 " })
            yield return Meter.TryParse(text, out var m) ? $"meter {text}: {m} {m.Beats} {Number(m.BeatInQuarters)} {m.Division}{(m.IsCompound ? " compound" : "")}" : $"meter {text}: none";
        foreach (var text in new[] { "C4", "E2", "Bb3", "F#5", "B#4", "Cb4", "H3", "C", "C10", "A-1", "x" })
            yield return Pitch.TryParse(text, out var p) ? $"pitch {text}: {p} {p.Midi} {p.Move(1, 7)} {Pitch.FromMidi(p.Midi, new Key(Note.C, false))}" : $"pitch {text}: none";
        foreach (var text in new[] { "C3 to E5", "C3-E5", "E5 to C3", "C3", "C3 bis G4", "C3 – G4" })
            yield return PitchRange.TryParse(text, out var r) ? $"range {text}: {r}" : $"range {text}: none";
        foreach (var text in new[] { "standard", "drop D", "Drop C", "DADGAD", "open G", "E A D G B E", "Eb Ab Db Gb Bb Eb", "D A D F# A D", "C G D G B D", "DGDGBD", "E A D G B", "E A D G B E A", "EADGBE", "x", "", "half step down", "F A D G B E" })
            yield return Tuning.TryParse(text, out var t) ? $"tuning {text}: {t.Name} {string.Join(",", t.Strings)} {t.Apart().Known.Name} {t.Apart().Shift} {t.PitchClass(1, 3)}" : $"tuning {text}: none";
    }

    /// <summary>Where fingers land, how wide and how hard it is there, on each guitar with no capo, a low and the highest one;
    /// what hands span; guitars and hands that were measured.</summary>
    public static IEnumerable<string> NecksAndHands()
    {
        foreach (var guitar in Guitar.Presets)
            foreach (var capo in new[] { 0, 3, NeckGeometry.HighestCapo })
            {
                var neck = new NeckGeometry(guitar, capo);
                yield return $"{guitar.Id} capo {capo}: {neck.HighestFret} frets; {string.Join("; ", Enumerable.Range(1, neck.HighestFret).Select(f => $"{Number(neck.WireFromCapo(f))} {Number(neck.WireFromNut(f))} {Number(neck.Landing(f))} {Number(neck.FretSpace(f))} {Number(neck.StringSpacing(f))} {Number(neck.PressForce(0, f))} {Number(neck.PressForce(5, f))}"))}";
            }
        foreach (var (spread, i) in new[] { 70.0, 81, 99.9, 120, 131, 151.9, 170 }.Select((s, i) => (s, i)))
        {
            var hand = Hand.Measured(spread);
            yield return $"{hand.Id} {hand.Name} {Number(hand.Strength)} {Number(hand.FingertipWidth)} {string.Join(" ", Enumerable.Range(1, 4).SelectMany(a => Enumerable.Range(a + 1, 4 - a).Select(b => $"{Number(hand.Comfortable(a, b))} {Number(hand.Greatest(a, b))}")))}";
        }
        foreach (var m in new[] { new GuitarMeasures("steel", 640, 43, 2.5), new("steel", 400, 35, 0.8), new("nylon", 720, 60, 6), new("steel", 399.9, 43, 2), new("steel", 640, 60.1, 2), new("steel", 640, 43, 0.7), new("tin", 640, 43, 2), new("steel", 720.1, 43, 2), new("steel", 640, 34.9, 2), new("steel", 640, 43, 6.1) })
            yield return m.Fault ?? $"{m.ToGuitar().Id} {Number(m.ToGuitar().StringSpreadAtNut)} {Number(m.ToGuitar().ActionAtFret1)} {string.Join(" ", m.ToGuitar().Tensions.Select(t => Number(t)))} {Number(m.ToGuitar().Tuned(-2).Tensions[0])} {Number(m.ToGuitar().Strung(Tuning.DropD).Tensions[0])}";
    }

    /// <summary>Lessons of a spring by rules of every kind, moved, away and in free days; wishes laid over each other.</summary>
    public static IEnumerable<string> LessonsAndWishes()
    {
        var from = new DateOnly(2027, 2, 2);
        LessonChange[] changes =
        [
            new(from.AddDays(7), null, null), new(from.AddDays(14), from.AddDays(16), new TimeOnly(18, 30)),
            new(from.AddDays(1), from.AddDays(2), null), new(from.AddDays(21), from.AddDays(90), null)
        ];
        FreeDays[] free = [new(from.AddDays(28), from.AddDays(35), "spring"), new(from, from, "the first")];
        (int, DateOnly?)[] rules = [(1, null), (2, null), (3, from.AddDays(42)), (0, null), (1, from.AddDays(35))];
        foreach (var (weeks, until) in rules)
            foreach (var (a, b) in new[] { (-20, 60), (14, 14), (15, 41), (0, 0), (80, 100) })
                yield return $"every {weeks} until {until?.DayNumber - from.DayNumber} in {a} to {b}: {string.Join(" ", LessonCalendar.Between(new LessonRule(from, new TimeOnly(15, 0), 30, weeks, until), changes, free, from.AddDays(a), from.AddDays(b)).Select(l => $"{l.On.DayNumber - from.DayNumber}:{l.Day.DayNumber - from.DayNumber} {l.At.ToString("HH:mm", CultureInfo.InvariantCulture)} {l.State} {l.Why}"))}";
        TeacherWishes[] some =
        [
            TeacherWishes.None,
            TeacherWishes.None with { StandIns = [new("Fm7", "Ab")], Grips = [new("G", [3, 2, 0, 0, 0, 3], [2, 1, 0, 0, 0, 3], RungSpan.Up(2))], Rungs = [new RungWish(2) { MostFingers = 3, Thumb = true }], NoThumb = true },
            TeacherWishes.None with { StandIns = [new("Fm7", "F"), new("Bm", "D")], Grips = [new("G", [3, -1, 0, 0, 3, 3], [2, 0, 0, 0, 3, 4], RungSpan.All), new("C", [-1, 3, 2, 0, 3, 0], [0, 3, 2, 0, 4, 0], RungSpan.Up(2), Always: true)], Rungs = [new RungWish(2) { MostFingers = 2, HighestFret = 4 }, new RungWish(4) { Name = "nearly" }] },
            TeacherWishes.None with { Kinds = [new KindBan(SubstitutionKind.PowerChord, RungSpan.Only(1))], Shapes = [new ShapeBan([-1, 3, 2, 0, 1, 0], RungSpan.All)], Instead = [new ChordInstead("2:m7", "5:6", RungSpan.Up(3), "it waits")], Hands = [new HandWish("A", 1, RungSpan.Only(2))], Apart = [new SetApart("2:m", "A")] },
        ];
        foreach (var (x, i) in some.Select((w, i) => (w, i)))
            foreach (var (y, j) in some.Select((w, i) => (w, i)))
                yield return $"{i} {j}: {x.Over(y).ToJson()} {x.With(y).ToJson()} {x.Without(y).ToJson()}{(x.Over(y).IsEmpty ? " empty" : "")}";
        RungSpan[] spans = [RungSpan.All, RungSpan.Only(2), RungSpan.Up(2), RungSpan.Up(3), new(1, 2)];
        foreach (var x in spans) yield return $"{x.From} to {x.To}: {string.Concat(spans.Select(y => $"{(x.Covers(y) ? "c" : "-")}{(x.Meets(y) ? "m" : "-")} "))} {string.Concat(new[] { 0, 1, 2, 2.5, 3, 9 }.Select(h => x.Holds(h) ? "x" : "-"))}";
    }
}
