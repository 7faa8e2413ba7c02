using Tembri.Core.Music;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>How strong each of the twelve notes sounds at a place: a stroke each, with what the written and the heard chord have below.</summary>
internal static class NotesDrawing
{
    private const double Width = 17, Height = 34, Foot = 30;
    /// <summary>A note by itself: as the key spells it, but a white key by its plain letter.</summary>
    public static string Name(int pitchClass, Key key, NoteNames names)
    {
        var plain = "C D EF G A B"[pitchClass];
        return plain == ' ' ? NoteNaming.Named(key.Spell(pitchClass).ToString(), names) : plain.ToString();
    }

    /// <summary>Draws.</summary>
    /// <param name="notes">Strengths from C, the strongest 1.</param>
    /// <param name="written">Pitch classes of the written chord, bit n for n.</param>
    /// <param name="heard">Those of the heard one.</param>
    /// <param name="key">The key of the chart: it spells them.</param>
    /// <param name="names">How notes are written.</param>
    public static Scene Draw(IReadOnlyList<double> notes, int written, int heard, Key key, NoteNames names)
    {
        var marks = new List<Mark> { new Line(0, Height, 12 * Width, Height, 1, Tone.Rule) };
        for (var p = 0; p < 12; p++)
        {
            var x = (p + 0.5) * Width;
            var isHeard = (heard >> p & 1) == 1;
            marks.Add(new Line(x, Height, x, Height - Math.Max(0.5, notes[p] * (Height - 3)), 6, isHeard ? Tone.Ink : Tone.Pencil));
            marks.Add(new Label(x, Height + 13, Name(p, key, names), 11, isHeard ? Tone.Ink : Tone.Pencil, Anchor.Middle, isHeard));
            if ((written >> p & 1) == 1) marks.Add(new Disc(x, Height + 22, 3, Tone.Ink, 1.2));
            if (isHeard) marks.Add(new Disc(x, Height + 22, (written >> p & 1) == 1 ? 1.5 : 3));
        }
        var strongest = notes.Select((n, p) => (n, p)).OrderByDescending(x => x.n).Take(4).Select(x => Name(x.p, key, names));
        return new Scene(12 * Width, Height + Foot, $"Strongest at this place: {string.Join(", ", strongest)}", marks);
    }
}
