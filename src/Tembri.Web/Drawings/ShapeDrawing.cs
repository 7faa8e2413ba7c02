using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Web.Drawings;

/// <summary>Draws a fingered shape: strings thicker to the bass, strings left out as broken lines, open strings as rings at the nut.</summary>
public static class ShapeDrawing
{
    private const double StringGap = 13;
    private const double FretGap = 17;
    private const double Side = 17;
    private const double Head = 13;
    private const int FewestFrets = 4;
    private const double SmallestLetters = 12;   // pixels

    /// <summary>The everyday drawing, with equal frets.</summary>
    /// <param name="fingering">Shape and fingers.</param>
    /// <param name="leftHanded">True mirrors it.</param>
    /// <param name="scale">Pixels a unit; 1 gives a drawing about 100 wide.</param>
    /// <param name="below">Frets to add to the numbers: the capo's when they are counted from the nut, else 0.</param>
    public static Scene Draw(Fingering fingering, bool leftHanded, double scale = 1, int below = 0) => Draw(fingering, leftHanded, scale, null, below);

    /// <summary>The large drawing with frets and strings to scale, so that a stretch can be measured on it.</summary>
    public static Scene DrawToScale(Fingering fingering, NeckGeometry neck, bool leftHanded, double pixelsPerMm = 1.5, int below = 0) => Draw(fingering, leftHanded, pixelsPerMm, neck, below);

    private static Scene Draw(Fingering fingering, bool leftHanded, double scale, NeckGeometry? neck, int below)
    {
        var shape = fingering.Shape;
        var first = shape.HighestStopped <= FewestFrets ? 1 : shape.LowestStopped;
        var frets = Math.Max(FewestFrets, shape.HighestStopped - first + 1);
        var last = shape.StringCount - 1;
        // In the drawing to scale a unit is a millimetre.
        double Wire(int fret) => neck is null ? fret * FretGap : neck.WireFromNut(neck.Capo + first - 1 + fret) - neck.WireFromNut(neck.Capo + first - 1);
        var gap = neck is null ? StringGap : neck.StringSpacing(first);
        var unit = neck is null ? 1.0 : 0.72;
        var letters = Math.Max(10.5 * unit, SmallestLetters / scale);
        double side = neck is null ? Side : 13, head = neck is null ? Head : 9;
        double X(int s) => side + gap * (leftHanded ? last - s : s);
        double Y(int fret) => head + (Wire(fret - first + 1) * 0.42 + Wire(fret - first) * 0.58);
        var bottom = head + Wire(frets);
        var marks = new List<Mark>();
        for (var fret = 1; fret <= frets; fret++) marks.Add(new Line(side, head + Wire(fret), side + gap * last, head + Wire(fret), 0.8 * unit, Tone.Pencil));
        marks.Add(new Line(side - 0.8 * unit, head, side + gap * last + 0.8 * unit, head, (first == 1 ? 3.4 : 1) * unit));
        for (var s = 0; s <= last; s++)
        {
            var weight = (2.0 - 1.2 * s / last) * unit;
            var leftOut = shape[s] < 0;
            marks.Add(new Line(X(s), head, X(s), bottom, leftOut ? 0.9 * unit : weight, leftOut ? Tone.Pencil : Tone.Ink, leftOut));
            if (shape[s] == 0) marks.Add(new Disc(X(s), head - 6 * unit, 3 * unit, Tone.Ink, 1.3 * unit));
            if (leftOut)
            {
                marks.Add(new Line(X(s) - 2.6 * unit, head - 8.6 * unit, X(s) + 2.6 * unit, head - 3.4 * unit, 1 * unit, Tone.Pencil));
                marks.Add(new Line(X(s) - 2.6 * unit, head - 3.4 * unit, X(s) + 2.6 * unit, head - 8.6 * unit, 1 * unit, Tone.Pencil));
            }
        }
        if (first > 1 || below > 0) marks.Add(new Label(leftHanded ? side + gap * last + 8 * unit : side - 8 * unit, Y(first) + 4.2 * unit, $"{first + below}", Math.Max(12 * unit, SmallestLetters / scale), Tone.Ink, leftHanded ? Anchor.Start : Anchor.End, Bold: true));
        var radius = 6.3 * unit;
        foreach (var barre in fingering.Barres)
        {
            var (left, right) = (Math.Min(X(barre.LowString), X(barre.HighString)), Math.Max(X(barre.LowString), X(barre.HighString)));
            marks.Add(new Slab(left - radius, Y(barre.Fret) - radius * 0.86, right - left + 2 * radius, radius * 1.72, radius * 0.86));
        }
        for (var s = 0; s <= last; s++)
        {
            var finger = fingering.Fingers[s];
            if (finger == Finger.None || fingering.Barres.Any(b => b.Finger == finger && s != b.LowString)) continue;
            if (fingering.Barres.All(b => b.Finger != finger)) marks.Add(new Disc(X(s), Y(shape[s]), radius));
            marks.Add(new Label(X(s), Y(shape[s]) + letters / 3, finger == Finger.Thumb ? "T" : $"{(int)finger}", letters, Tone.Paper, Anchor.Middle, Bold: true));
        }
        var width = 2 * side + gap * last;
        if (neck is not null) width += Dimension(marks, fingering, neck, width, Y, Math.Max(10, SmallestLetters / scale));
        return new Scene(width, bottom + 3 * unit, Words(fingering, below), marks, scale);
    }

    /// <summary>A measuring line beside the drawing to scale, from the lowest to the highest fret that fingers hold.</summary>
    /// <returns>The width it takes.</returns>
    private static double Dimension(List<Mark> marks, Fingering fingering, NeckGeometry neck, double x, Func<int, double> y, double letters)
    {
        var (low, high) = (fingering.Shape.LowestStopped, fingering.Shape.HighestStopped);
        if (low == high) return 0;
        marks.Add(new Line(x, y(low), x, y(high), 0.7, Tone.Accent));
        marks.Add(new Line(x - 2, y(low), x + 2, y(low), 0.7, Tone.Accent));
        marks.Add(new Line(x - 2, y(high), x + 2, y(high), 0.7, Tone.Accent));
        var millimetres = neck.Landing(high) - neck.Landing(low);
        marks.Add(new Label(x + 4, (y(low) + y(high)) / 2 + 3, $"{millimetres.ToString("0", System.Globalization.CultureInfo.InvariantCulture)} mm", letters, Tone.Accent));
        return 36;
    }

    /// <summary>The shape in words, string by string from the lowest.</summary>
    public static string Words(Fingering fingering, int below = 0)
    {
        var parts = new List<string>();
        for (var s = 0; s < fingering.Shape.StringCount; s++)
        {
            var name = $"string {fingering.Shape.StringCount - s}";
            parts.Add(fingering.Shape[s] switch
            {
                < 0 => $"{name} left out",
                0 => $"{name} open",
                var fret => $"{name} fret {fret + below} {(fingering.Fingers[s] == Finger.Thumb ? "thumb" : $"finger {(int)fingering.Fingers[s]}")}",
            });
        }
        return string.Join(", ", parts);
    }
}
