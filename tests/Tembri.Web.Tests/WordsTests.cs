using Tembri.Core.Charts.Reading;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Web.Songs;
using Tembri.Web.Words;

namespace Tembri.Web.Tests;

/// <summary>What Core found, in words.</summary>
public sealed class WordsTests
{
    private static readonly ResultCache Results = new();

    [Fact]
    public void Leaving_out_the_bass_of_a_walk_down_is_said_to_break_the_line()
    {
        var asked = Chord.Parse("G/F#");
        var report = Closeness.Of(Shape.Parse("320003"), asked, Tuning.Standard);
        var fingering = new FingeringBook(Results, Guitar.Steel, Hand.Medium, true, 0).Of(Shape.Parse("320003"))[0];
        var dropped = new Candidate(SubstitutionKind.DropBass, Chord.Parse("G"), fingering, null, report, 0);
        Assert.Contains("line is lost", SubstitutionWords.Say(dropped, asked, new Guard(false, false, true), NoteNames.AsKey),
            StringComparison.Ordinal);
        Assert.DoesNotContain("line", SubstitutionWords.Say(dropped, asked, default, NoteNames.AsKey), StringComparison.Ordinal);
    }

    [Fact]
    public void Every_rung_of_every_pattern_has_a_name_and_a_reason()
    {
        var random = new Random(7);
        var patterns =
            ShippedStrum.All.Select(s => s.In(Meter.TryParse(s.Meter, out var meter) ? meter : Meter.Common)).ToList();
        foreach (var letters in new[] { "DduU-x.s", "b123a-s.", "dubs.-X" })
            patterns.AddRange(Enumerable.Range(0, 60)
                .Select(i => StrumPattern.Parse("d"
                        + new string(
                            [.. Enumerable.Range(1, i % 2 == 0 ? 7 : 15).Select(_ => letters[random.Next(letters.Length)])]),
                    Meter.Common)));
        foreach (var pattern in patterns)
        {
            var ladder = StrumLadder.Of(pattern);
            Assert.False(string.IsNullOrWhiteSpace(StrumWords.Name(pattern)));
            for (var rung = 1; rung <= 5; rung++)
            {
                var reason = StrumWords.Reason(pattern, ladder.At(Math.Min(5, rung + 1)), ladder.At(rung), rung);
                Assert.Matches("^[A-Z].*\\.$", reason);
                if (rung < 5 && ladder.At(rung).Notation != ladder.At(rung + 1).Notation)
                    Assert.DoesNotContain("There is nothing between", reason, StringComparison.Ordinal);
            }
        }
    }

    [Fact]
    public void Every_candidate_has_a_reason_in_one_or_two_sentences()
    {
        var book = new FingeringBook(Results, Guitar.Steel, Hand.Medium, true, 0);
        foreach (var symbol in new[]
        {
            "F", "Bm", "G", "Am", "D/F#", "Am/G", "G7b9", "Ebmaj7", "C#m7b5", "Asus4", "Bdim7", "C+", "A7", "Dm7", "E5", "F6"
        })
        {
            var chord = Chord.Parse(symbol);
            foreach (var c in new CandidateFinder(Results).For(chord, book, Accompaniment.Alone))
            {
                var reason = SubstitutionWords.Say(c, chord, default, NoteNames.AsKey);
                Assert.EndsWith(".", reason, StringComparison.Ordinal);
                Assert.InRange(reason.Length, 10, 200);
                CheckAgainstTheNotes(reason, c, chord);
            }
        }
    }

    /// <summary>Each thing that is said is held against frets and tuning, which know nothing of how it was found.</summary>
    private static void CheckAgainstTheNotes(string reason, Candidate c, Chord asked)
    {
        int[] open = [4, 9, 2, 7, 11, 4];
        var frets = c.Fingering.Shape.Frets;
        var sounding = frets.Select((f, s) => f < 0 ? -1 : (open[s] + f) % 12).ToList();
        var notes = sounding.Where(p => p >= 0).ToHashSet();
        var chordNotes = asked.Degrees.Select(d => (asked.Root.PitchClass + d.Semitones) % 12).ToHashSet();
        string[] counts =
            ["", "the lowest string", "the two lowest strings", "the three lowest strings", "the four lowest strings"];
        var silent = frets.TakeWhile(f => f < 0).Count();
        for (var n = 1; n < counts.Length; n++)
            if (reason.Contains(counts[n] + " left", StringComparison.Ordinal)
                || reason.Contains(counts[n] + " and", StringComparison.Ordinal))
                Assert.True(silent == n, $"{reason} {c.Fingering}");
        if (reason.Contains("fewer strings", StringComparison.Ordinal))
            Assert.True(c.Fingering.Shape.Sounding < c.Origin!.Grip!.Shape.Sounding, $"{reason} {c.Fingering}");
        if (reason.Contains("has the notes of", StringComparison.Ordinal))
            Assert.True(chordNotes.IsSubsetOf(notes), $"{reason} {c.Fingering}");
        if (reason.Contains("is the upper part of", StringComparison.Ordinal))
            Assert.True(c.Played.Degrees.All(d => chordNotes.Contains((c.Played.Root.PitchClass + d.Semitones) % 12)),
                $"{reason} {c.Fingering}");
        if (reason.Contains("keeps its root", StringComparison.Ordinal)) Assert.Contains(asked.Root.PitchClass, notes);
        if (reason.Contains("as the record has it", StringComparison.Ordinal))
            Assert.True(chordNotes.IsSubsetOf(notes) && notes.IsSubsetOf(chordNotes.Append(asked.BassPitchClass)),
                $"{reason} {c.Fingering}");
        // What is missing is said, and only that; so is a bass that is another note.
        if (c.Kind is SubstitutionKind.OtherFingering) return;
        Assert.Equal(!chordNotes.IsSubsetOf(notes), reason.Contains("not heard", StringComparison.Ordinal));
        // The lowest note, which is not always on the lowest string.
        int[] pitches = [40, 45, 50, 55, 59, 64];
        var lowest = frets.Select((f, s) => f < 0 ? int.MaxValue : pitches[s] + f).Min() % 12;
        if (lowest != asked.BassPitchClass && notes.Contains(asked.BassPitchClass) && c.Kind != SubstitutionKind.DropBass
            && c.Closeness.WrongBass)
            Assert.Contains("is not in the bass", reason, StringComparison.Ordinal);
        if (reason.Contains("is not in the bass", StringComparison.Ordinal))
            Assert.True(asked.BassPitchClass != lowest, $"{reason} {c.Fingering} {c.Kind} {c.Closeness}");
    }

    [Theory]
    [InlineData("xx0003", "G with the two lowest strings left out")]
    [InlineData("320003", "G, G-form")]
    [InlineData("3x0003", null)]
    public void A_shape_says_where_it_came_from(string shape, string? words)
    {
        var found = new ShapeFinder(Results, Tuning.Standard).Taught(Chord.Parse("G"))
            .FirstOrDefault(f => f.Shape.Equals(Shape.Parse(shape)));
        if (words is null) Assert.Null(found);
        else Assert.StartsWith(words, ShapeWords.Say(found!.Origin, found.Shape, NoteNames.AsKey), StringComparison.Ordinal);
    }

    [Fact]
    public void What_stands_in_the_way_is_told_with_the_names_of_notes_in_use()
    {
        Assert.Equal("The change E♭ → A♭m7 needs 1.3 s, there are 0.9 s at 96.",
            FitWords.Say(new ChangeIsLate("E♭", "A♭m7", 1.31, 0.92, 96), NoteNames.AsKey));
        Assert.Equal("The change D♯ → G♯m7 needs 1.3 s, there are 0.9 s at 96.",
            FitWords.Say(new ChangeIsLate("E♭", "A♭m7", 1.31, 0.92, 96), NoteNames.Sharps));
        // The alteration in the name of a chord is no note and stays.
        Assert.Equal("F♯m7♭5 asks 61 of the short barre, the skill is 20.",
            FitWords.Say(new ShapeIsHard("G♭m7♭5", Technique.ShortBarre, 60.7, 20), NoteNames.Sharps));
        Assert.Equal("The strum asks 33 of the right hand, the skill is 20.",
            FitWords.Say(new StrumIsHard(33.2, 20), NoteNames.Flats));
        Assert.Equal("Every shape and change is within reach at 88.", FitWords.Say(new WithinReach(88), NoteNames.AsKey));
    }

    [Fact]
    public void The_chart_to_try_is_read_without_a_word()
    {
        var read = ReadChart.Of(ReadChart.Example);
        Assert.Empty(read.Problems);
        Assert.Empty(read.Doubts);
        var chart = read.Reading.Chart;
        Assert.Equal(("The Lantern Bend", 92.0, 2, "A"), (chart.Title, chart.Tempo, chart.RecordCapo, chart.Key.ToString()));
        Assert.Equal(["Intro x1", "Verse 1 x1", "Chorus x2", "Outro x1"], chart.Form.Select(p => $"{p.Section} x{p.Times}"));
        Assert.Equal([4, 4, 4, 4], chart.Sections.Select(s => s.Bars.Count));
    }

    [Theory]
    [InlineData("| D . . Em |", "D··, Em")]
    [InlineData("| D . Em . |", "D, Em")]           // shared evenly
    [InlineData("| D |", "D")]
    [InlineData("| D . . Em . . A . |", "D1½, Em1½, A")]
    [InlineData("| D . . . . . Em . |", "D··, Em")]
    public void How_long_chords_last_is_shown_where_they_do_not_share_a_bar_evenly(string text, string shown)
    {
        var bar = Tembri.Core.Charts.Reading.ChartReader.Read(text).Chart.Sections[0].Bars[0];
        Assert.Equal(shown, string.Join(", ", bar.Slots.Select(s => s.Symbol + BeatDots.Of(bar, s))));
    }
}
