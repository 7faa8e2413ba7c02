using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Music;

public sealed class NoteNamingTests
{
    private static IEnumerable<Note> AllNotes => Enumerable.Range(-15, 35).Select(f => new Note(f));

    [Fact]
    public void A_name_in_use_keeps_the_pitch_and_holds_no_other_sign()
    {
        foreach (var note in AllNotes)
        {
            Assert.Equal(note, note.Named(NoteNames.AsKey));
            foreach (var (names, sign) in new[] { (NoteNames.Sharps, 1), (NoteNames.Flats, -1) })
            {
                var named = note.Named(names);
                Assert.Equal(note.PitchClass, named.PitchClass);
                Assert.Contains(named.Accidental, new[] { 0, sign });
                Assert.Equal(named, named.Named(names));
            }
        }
    }

    [Fact]
    public void Sentences_name_notes_and_chords_alike_and_leave_alterations_and_words_alone()
    {
        foreach (var root in AllNotes.Where(n => Math.Abs(n.Accidental) < 2))
            foreach (var kind in new[] { "", "m7♭5", "7♯9", "maj7", "°7" })
                foreach (var names in new[] { NoteNames.Sharps, NoteNames.Flats })
                {
                    var chord =
                        Chord.Parse(root + kind.Replace("°", "dim", StringComparison.Ordinal) + "/" + root.MoveFifths(4));
                    Assert.Equal($"The change {chord.Named(names).Name} → {root.Named(names)} needs 1.1 s, ABBA♭ does not.",
                        NoteNaming.Named($"The change {chord.Name} → {root} needs 1.1 s, ABBA♭ does not.", names));
                }
        Assert.Equal("A♭ stays", NoteNaming.Named("A♭ stays", NoteNames.AsKey));
    }

    [Fact]
    public void A_chart_moves_to_another_key_under_the_names_in_use_and_back_to_the_same_pitches()
    {
        const string text = "key: C\n| C | Am | F/A | G7 |";
        Assert.Equal("key: D#\n| D# | Cm | G#/C | A#7 |",
            ChartTextMover.Move(text, new Key(Note.Of('E', -1), false), NoteNames.Sharps));
        Assert.Equal("key: Gb\n| Gb | Ebm | B/Eb | Db7 |",
            ChartTextMover.Move(text, new Key(Note.Of('F', 1), false), NoteNames.Flats));
        Assert.Equal("key: Eb\n| Eb | Cm | Ab/C | Bb7 |", ChartTextMover.Move(text, new Key(Note.Of('E', -1), false)));
        foreach (var names in new[] { NoteNames.Sharps, NoteNames.Flats })
            foreach (var fifths in Enumerable.Range(-6, 13))
            {
                var there = ChartTextMover.Move(text, new Key(new Note(fifths), false), names);
                var back = ChartTextMover.Move(there, new Key(Note.C, false), names);
                int[] Pitches(string t) => [.. ChartReader.Read(t).Chart.Played().Select(s => s.Chord!.PitchClassMask)];
                Assert.Equal(Pitches(text), Pitches(back));
            }
    }
}
