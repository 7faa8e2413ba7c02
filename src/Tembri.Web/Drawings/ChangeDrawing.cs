using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>One change on one neck to scale: where fingers were as rings, where they go as dots, and the way of each
/// between.</summary>
public static class ChangeDrawing
{
    private const double Left = 26, Right = 12, Top = 18, Bottom = 26, Dot = 9.5;
    private const double WidestMm = 190;

    /// <summary>Draws it.</summary>
    /// <param name="change">The change.</param>
    /// <param name="neck">Guitar and capo.</param>
    /// <param name="leftHanded">True mirrors it.</param>
    /// <param name="below">Frets to add to the numbers.</param>
    /// <param name="width">Pixels there are.</param>
    public static Scene Draw(Core.Changes.Change change, NeckGeometry neck, bool leftHanded, int below, double width)
    {
        var (from, to) = (change.From, change.To);
        var lowest = new[] { from.Shape.LowestStopped, to.Shape.LowestStopped }.Where(f => f > 0).DefaultIfEmpty(1).Min();
        var highest = Math.Max(4, Math.Max(from.Shape.HighestStopped, to.Shape.HighestStopped));
        var first = highest <= 5 ? 1 : lowest;
        var last = Math.Max(highest, first + 3);
        var begin = neck.WireFromCapo(first - 1);
        var scale = (width - Left - Right) / Math.Max(1, Math.Min(WidestMm, neck.WireFromCapo(last) - begin));
        scale = Math.Min(scale, 3.1);
        var gap = neck.StringSpacing(first) * scale;
        double Across(double x) => leftHanded ? width - x : x;
        double Wire(int fret) => Across(Left + (neck.WireFromCapo(fret) - begin) * scale);
        double X(int fret) => Wire(fret - 1) * 0.42 + Wire(fret) * 0.58;
        double Y(int s) => Top + gap * (5 - s);
        var marks = new List<Mark>();
        for (var fret = first; fret <= last; fret++)
        {
            marks.Add(new Line(Wire(fret), Top - 3, Wire(fret), Y(0) + 3, 1.1, Tone.Pencil));
            marks.Add(new Label(X(fret), Y(0) + 20, $"{fret + below}", 14, Tone.Pencil, Anchor.Middle));
        }
        marks.Add(new Line(Wire(first - 1), Top - 3, Wire(first - 1), Y(0) + 3, first == 1 ? 5 : 1.1));
        for (var s = 0; s < 6; s++)
            marks.Add(new Line(Across(Left - 4), Y(s), Across(width - 4), Y(s), to.Shape[s] < 0 ? 0.9 : 2.2 - 0.25 * s,
                to.Shape[s] < 0 ? Tone.Pencil : Tone.Ink, to.Shape[s] < 0));
        for (var f = 1; f <= 5; f++)
        {
            var (was, goes) = (from.Spots[f], to.Spots[f]);
            (double X, double Y) Middle(FingerSpot spot) => (X(spot.Fret), (Y(spot.Low) + Y(spot.High)) / 2);
            if (was.Fret > 0 && was.Packed != goes.Packed)
                marks.Add(new Slab(X(was.Fret) - Dot, Y(was.High) - Dot, 2 * Dot, Y(was.Low) - Y(was.High) + 2 * Dot, Dot,
                    Tone.Paper));
            if (was.Fret > 0 && was.Packed != goes.Packed)
                marks.Add(new Slab(X(was.Fret) - Dot, Y(was.High) - Dot, 2 * Dot, Y(was.Low) - Y(was.High) + 2 * Dot, Dot,
                    Tone.Pencil, 1.6));
            if (was.Fret > 0 && goes.Fret > 0 && was.Packed != goes.Packed)
            {
                var (a, b) = (Middle(was), Middle(goes));
                var length = Math.Sqrt((a.X - b.X) * (a.X - b.X) + (a.Y - b.Y) * (a.Y - b.Y));
                if (length < 2 * Dot + 4) continue;
                var (ux, uy) = ((b.X - a.X) / length, (b.Y - a.Y) / length);
                var (tipX, tipY) = (b.X - ux * (Dot + 2), b.Y - uy * (Dot + 2));
                marks.Add(new Line(a.X + ux * (Dot + 1), a.Y + uy * (Dot + 1), tipX - ux * 5, tipY - uy * 5, 2, Tone.Accent));
                marks.Add(new Area([(tipX, tipY), (tipX - ux * 9 - uy * 4.5, tipY - uy * 9 + ux * 4.5),
                        (tipX - ux * 9 + uy * 4.5, tipY - uy * 9 - ux * 4.5)], Tone.Accent));
            }
        }
        for (var f = 1; f <= 5; f++)
        {
            var goes = to.Spots[f];
            if (goes.Fret == 0) continue;
            marks.Add(new Slab(X(goes.Fret) - Dot, Y(goes.High) - Dot, 2 * Dot, Y(goes.Low) - Y(goes.High) + 2 * Dot, Dot));
            marks.Add(new Label(X(goes.Fret), Y(goes.Low) + 4.6, f == (int)Finger.Thumb ? "T" : $"{f}", 13.5, Tone.Paper,
                Anchor.Middle, Bold: true));
        }
        for (var f = 1; f <= 5; f++)
        {
            var was = from.Spots[f];
            if (was.Fret == 0 || was.Packed == to.Spots[f].Packed
                || to.Spots.ToArray().Any(t => t.Fret == was.Fret && t.Low <= was.Low && t.High >= was.Low))
                continue;
            marks.Add(new Label(X(was.Fret), Y(was.Low) + 4.6, f == (int)Finger.Thumb ? "T" : $"{f}", 13.5, Tone.Pencil,
                Anchor.Middle));
        }
        return new Scene(width, Y(0) + Bottom,
            $"{LadderWords.Say(change)}. Before: {ShapeDrawing.Words(from, below)}. After: {ShapeDrawing.Words(to, below)}.",
            marks);
    }
}
