using System.Globalization;
using Tembri.Core.Figures;
using Tembri.Core.Hands;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>A figure on six lines, the highest string on top: frets where they fall in the bar, drawn to length, with the
/// fingers beneath.</summary>
public static class FigureDrawing
{
    private const double Beat = 62, Line6 = 15, Top = 16, Left = 26, Right = 10;
    private const double FingersAt = Top + 5 * Line6 + 22, CountAt = FingersAt + 18;
    private const int Strings = 6;

    /// <summary>Draws it.</summary>
    /// <param name="figure">The figure, its notes with string and fret.</param>
    /// <param name="path">The way over the neck.</param>
    /// <param name="beatsOf">Length in beats of each bar from the figure's first.</param>
    /// <param name="below">Semitones added to the frets that are written; 0 counts from the capo.</param>
    public static Scene Draw(Figure figure, FigurePath path, Func<int, double?> beatsOf, int below = 0)
    {
        var (marks, edges) = (new List<Mark>(), new List<double> { 0 });
        for (var bar = 0; edges[^1] < figure.To - 1e-6; bar++) edges.Add(edges[^1] + Math.Max(1, beatsOf(bar) ?? 4));
        // What lies before the first beat with a note needs no room.
        var from = Math.Floor(figure.From + 1e-6);
        var width = Left + (edges[^1] - from) * Beat + Right;
        double X(double at) => Left + (at - from) * Beat;
        for (var s = 0; s < Strings; s++)
            marks.Add(new Line(Left - 12, Y(s), width - Right, Y(s), 0.8 + 0.16 * (Strings - 1 - s), Tone.Rule));
        foreach (var edge in edges.Where(e => e > from))
            marks.Add(new Line(X(edge) - 8, Top - 4, X(edge) - 8, Y(0) + 4, 1.4, Tone.Pencil));
        for (var beat = from; beat < edges[^1] - 1e-6; beat++)
        {
            var inBar = beat - edges.FindLast(e => e <= beat + 1e-6);
            marks.Add(new Label(X(beat), CountAt, (inBar + 1).ToString("0", CultureInfo.InvariantCulture), 15, Tone.Pencil,
                Anchor.Middle));
        }
        for (var i = 0; i < figure.Notes.Count; i++) AddNote(marks, figure, path, i, X, below);
        return new Scene(width, CountAt + 8, Say(figure, path), marks);
    }

    private static double Y(int stringIndex) => Top + (Strings - 1 - stringIndex) * Line6;

    private static void AddNote(List<Mark> marks, Figure figure, FigurePath path, int i, Func<double, double> x, int below)
    {
        var (note, place) = (figure.Notes[i], path.Places[i]);
        var (at, y) = (x(note.At), Y(place.String));
        // Length as ink: how far the note rings.
        marks.Add(new Line(at, y, x(note.At + note.Beats) - 7, y, 3.2, Tone.Pencil));
        if (note.How == Ornament.Held) return;
        if (i > 0 && note.How is Ornament.Hammer or Ornament.Pull or Ornament.Slide)
        {
            var before = x(figure.Notes[i - 1].At);
            if (note.How == Ornament.Slide)
                marks.Add(new Line(before + 9, y + (path.Places[i - 1].Fret < place.Fret ? 4 : -4), at - 9,
                    y + (path.Places[i - 1].Fret < place.Fret ? -4 : 4), 1.8));
            else
                marks.Add(new Curve([.. Enumerable.Range(0, 13)
                        .Select(k => (before + (at - before) * k / 12, y - 9 - 6 * Math.Sin(Math.PI * k / 12)))], 1.5,
                    Tone.Ink));
        }
        var text = (place.Fret + (place.Fret == 0 ? 0 : below)).ToString(CultureInfo.InvariantCulture);
        marks.Add(new Slab(at - 4.5 * text.Length - 1.5, y - 8, 9 * text.Length + 3, 16, 2, Tone.Paper));
        marks.Add(new Label(at, y + 5.5, text, 16, Tone.Ink, Anchor.Middle, true));
        if (note.How == Ornament.Bend) marks.Add(new Curve([(at + 8, y), (at + 14, y - 4), (at + 16, y - 13)], 1.6, Tone.Ink));
        if (place.Finger != Finger.None)
            marks.Add(new Label(at, FingersAt, ((int)place.Finger).ToString(CultureInfo.InvariantCulture), 15, Tone.Ink,
                Anchor.Middle));
    }

    /// <summary>The figure read out: string, fret and finger of each note.</summary>
    private static string Say(Figure figure, FigurePath path) =>
        "On six lines: "
            + string.Join(", ",
                figure.Notes.Select((n, i) => n.How == Ornament.Held ? "held" : FigureWords.Say(n, path.Places[i])));
}
