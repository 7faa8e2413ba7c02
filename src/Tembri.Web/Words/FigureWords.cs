using Tembri.Core.Figures;
using Tembri.Core.Hands;
using Tembri.Core.Music;

namespace Tembri.Web.Words;

/// <summary>Says what a figure plays.</summary>
internal static class FigureWords
{
    /// <summary>A note by string, fret and finger.</summary>
    public static string Say(FigureNote note, FigurePlace place)
    {
        var how = note.How switch
        {
            Ornament.Hammer => "hammered to ",
            Ornament.Pull => "pulled to ",
            Ornament.Slide => "slid to ",
            Ornament.Bend => "bent to ",
            _ => ""
        };
        return how
            + (place.Fret == 0
                ? $"string {6 - place.String} open"
                : $"string {6 - place.String} fret "
                    + $"{place.Fret}{(place.Finger == Finger.None ? "" : $" finger {(int)place.Finger}")}");
    }

    /// <summary>The rungs of a figure by name.</summary>
    public static string Rung(int rung) =>
        rung switch { 1 => "left out", 2 => "the first note of each beat", 3 or 4 => "a simpler rhythm", _ => "as recorded" };

    /// <summary>Where a way lies: the lowest and the highest fret it touches.</summary>
    public static string Where(FigurePath path)
    {
        var frets = path.Places.Where(p => p.Fret > 0).Select(p => p.Fret).ToList();
        var open = path.Places.Any(p => p.Fret == 0);
        if (frets.Count == 0) return "open strings only";
        return $"{(frets.Min() == frets.Max() ? $"fret {frets.Min()}" : $"frets {frets.Min()} to {frets.Max()}")}{(open ? " and open strings" : "")}";
    }

    /// <summary>Said of a figure that is played an octave away; empty for one that is not.</summary>
    public static string Octave(int octaves) =>
        octaves switch
        {
            > 0 => ", an octave higher than on the record, which lies below the strings here",
            < 0 => ", an octave lower than on the record, which lies above the neck here",
            _ => ""
        };

    /// <summary>Pitches in order, for those who play by ear.</summary>
    public static string Pitches(Figure figure, NoteNames names) =>
        string.Join(" ", figure.Notes.Where(n => n.How != Ornament.Held).Select(n => n.Pitch.Note.Named(names).ToString()));
}
