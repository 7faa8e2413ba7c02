using System.Text.RegularExpressions;

namespace Tembri.Core.Music;

/// <summary>Which of two names a black key goes by.</summary>
public enum NoteNames
{
    /// <summary>As the key of the song has it.</summary>
    AsKey,
    /// <summary>Always a sharp: C♯ D♯ F♯ G♯ A♯.</summary>
    Sharps,
    /// <summary>Always a flat: D♭ E♭ G♭ A♭ B♭.</summary>
    Flats,
}

/// <summary>Gives notes, keys, chords and sentences the names a studio uses. A display matter: names are changed last, since
/// moving to another key needs the key's own.</summary>
public static partial class NoteNaming
{
    // Positions on the line of fifths: F to A♯ hold no flat, G♭ to B no sharp.
    private const int SharpsFrom = -1;
    private const int FlatsFrom = -6;

    /// <summary>A note under the name in use.</summary>
    public static Note Named(this Note note, NoteNames names)
    {
        if (names == NoteNames.AsKey) return note;
        var from = names == NoteNames.Sharps ? SharpsFrom : FlatsFrom;
        return new Note(from + Note.Modulo(note.Fifths - from, 12));
    }

    /// <summary>A key with its tonic under the name in use.</summary>
    public static Key Named(this Key key, NoteNames names) => key with { Tonic = key.Tonic.Named(names) };

    /// <summary>A sentence with all notes and chords in it under the names in use. Alterations such as the ♭5 of m7♭5
    /// stay.</summary>
    public static string Named(string sentence, NoteNames names) =>
        names == NoteNames.AsKey
            ? sentence
            : NoteInWords()
                .Replace(sentence,
                    m => Note.Of(m.Value[0], m.Value[1] == '♯' ? m.Length - 1 : 1 - m.Length).Named(names).ToString());

    [GeneratedRegex(@"(?<![\p{L}\p{N}♭♯])[A-G](?:♭{1,2}|♯{1,2})")]
    private static partial Regex NoteInWords();
}
