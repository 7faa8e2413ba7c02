using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Web.Drawings;

/// <summary>Draws a fingered shape: strings thicker to the bass, strings left out as broken lines, open strings as rings at the
/// nut.</summary>
public static class ShapeDrawing
{
    private const int FewestFrets = 4;
    private const double SmallestLetters = 12;   // pixels

    /// <summary>Lengths of a drawing in its units.</summary>
    /// <param name="StringGap">From string to string.</param>
    /// <param name="FretGap">From fret to fret, where they are drawn equal.</param>
    /// <param name="NumberSide">Room beside the lowest string, where the number of the first fret stands.</param>
    /// <param name="OtherSide">Room beside the highest string.</param>
    /// <param name="Head">Room above the nut.</param>
    /// <param name="DotWidth">Half the width of a finger's dot.</param>
    /// <param name="DotHeight">Half its height.</param>
    private readonly record struct Proportions(double StringGap, double FretGap, double NumberSide, double OtherSide,
        double Head, double DotWidth, double DotHeight);

    private static readonly Proportions Everyday = new(13, 17, 17, 17, 13, 6.3, 6.3);

    // Strings stand so close here that a dot which holds a number is higher than wide.
    private static readonly Proportions Narrow = new(9.6, 15.5, 13, 6, 12.5, 4.9, 6.5);

    /// <summary>The everyday drawing, with equal frets.</summary>
    /// <param name="fingering">Shape and fingers.</param>
    /// <param name="leftHanded">True mirrors it.</param>
    /// <param name="scale">Pixels a unit; 1 gives a drawing about 100 wide.</param>
    /// <param name="below">Frets to add to the numbers: the capo's when they are counted from the nut, else 0.</param>
    public static Scene Draw(Fingering fingering, bool leftHanded, double scale = 1, int below = 0) =>
        Draw(fingering, leftHanded, scale, null, below, Everyday);

    /// <summary>The drawing for ladders of many chords, 67 pixels wide; its numbers are as large as in the everyday
    /// one.</summary>
    public static Scene DrawNarrow(Fingering fingering, bool leftHanded, int below = 0) =>
        Draw(fingering, leftHanded, 1, null, below, Narrow);

    /// <summary>The large drawing with frets and strings to scale, so that a stretch can be measured on it.</summary>
    public static Scene DrawToScale(Fingering fingering, NeckGeometry neck, bool leftHanded, double pixelsPerMm = 1.5,
        int below = 0) =>
        Draw(fingering, leftHanded, pixelsPerMm, neck, below, Everyday);

    private static Scene Draw(Fingering fingering, bool leftHanded, double scale, NeckGeometry? neck, int below, Proportions p)
    {
        var shape = fingering.Shape;
        var first = shape.HighestStopped <= FewestFrets ? 1 : shape.LowestStopped;
        var frets = Math.Max(FewestFrets, shape.HighestStopped - first + 1);
        var last = shape.StringCount - 1;
        // In the drawing to scale a unit is a millimetre.
        double Wire(int fret) =>
            neck is null ? fret * p.FretGap : neck.WireFromCapo(first - 1 + fret) - neck.WireFromCapo(first - 1);
        var gap = neck is null ? p.StringGap : neck.StringSpacing(first);
        var unit = neck is null ? 1.0 : 0.72;
        var letters = Math.Max(10.5 * unit, SmallestLetters / scale);
        double side = neck is not null ? 13 : leftHanded ? p.OtherSide : p.NumberSide,
            otherSide = neck is not null ? 13 : leftHanded ? p.NumberSide : p.OtherSide, head = neck is null ? p.Head : 9;
        double X(int s) => side + gap * (leftHanded ? last - s : s);
        double Y(int fret) => head + (Wire(fret - first + 1) * 0.42 + Wire(fret - first) * 0.58);
        var bottom = head + Wire(frets);
        var marks = new List<Mark>();
        for (var fret = 1; fret <= frets; fret++)
            marks.Add(new Line(side, head + Wire(fret), side + gap * last, head + Wire(fret), 0.8 * unit, Tone.Pencil));
        marks.Add(new Line(side - 0.8 * unit, head, side + gap * last + 0.8 * unit, head, (first == 1 ? 3.4 : 1) * unit));
        for (var s = 0; s <= last; s++)
        {
            var weight = (2.0 - 1.2 * s / last) * unit;
            var leftOut = shape[s] < 0;
            marks.Add(
                new Line(X(s), head, X(s), bottom, leftOut ? 0.9 * unit : weight, leftOut ? Tone.Pencil : Tone.Ink, leftOut));
            if (shape[s] == 0) marks.Add(new Disc(X(s), head - 6 * unit, 3 * unit, Tone.Ink, 1.3 * unit));
            if (leftOut)
            {
                marks.Add(
                    new Line(X(s) - 2.6 * unit, head - 8.6 * unit, X(s) + 2.6 * unit, head - 3.4 * unit, 1 * unit, Tone.Pencil));
                marks.Add(
                    new Line(X(s) - 2.6 * unit, head - 3.4 * unit, X(s) + 2.6 * unit, head - 8.6 * unit, 1 * unit, Tone.Pencil));
            }
        }
        if (first > 1 || below > 0)
            marks.Add(new Label(leftHanded ? side + gap * last + 8 * unit : side - 8 * unit, Y(first) + 4.2 * unit,
                $"{first + below}", Math.Max(12 * unit, SmallestLetters / scale), Tone.Ink,
                leftHanded ? Anchor.Start : Anchor.End, Bold: true));
        double dotWidth = p.DotWidth * unit, dotHeight = p.DotHeight * unit;
        foreach (var barre in fingering.Barres)
        {
            var (left, right) =
                (Math.Min(X(barre.LowString), X(barre.HighString)), Math.Max(X(barre.LowString), X(barre.HighString)));
            marks.Add(new Slab(left - dotWidth, Y(barre.Fret) - dotHeight * 0.86, right - left + 2 * dotWidth, dotHeight * 1.72,
                dotHeight * 0.86));
        }
        for (var s = 0; s <= last; s++)
        {
            var finger = fingering.Fingers[s];
            if (finger == Finger.None || fingering.Barres.Any(b => b.Finger == finger && s != b.LowString)) continue;
            if (fingering.Barres.All(b => b.Finger != finger))
                marks.Add(new Slab(X(s) - dotWidth, Y(shape[s]) - dotHeight, 2 * dotWidth, 2 * dotHeight, dotWidth));
            marks.Add(new Label(X(s), Y(shape[s]) + letters / 3, finger == Finger.Thumb ? "T" : $"{(int)finger}", letters,
                Tone.Paper, Anchor.Middle, Bold: true));
        }
        var width = side + otherSide + gap * last;
        if (neck is not null) width += Dimension(marks, fingering, neck, width, Y, Math.Max(10, SmallestLetters / scale));
        return new Scene(width, bottom + 3 * unit, Words(fingering, below), marks, scale);
    }

    /// <summary>A measuring line beside the drawing to scale, from the lowest to the highest fret that fingers hold.</summary>
    /// <returns>The width it takes.</returns>
    private static double Dimension(List<Mark> marks, Fingering fingering, NeckGeometry neck, double x, Func<int, double> y,
        double letters)
    {
        var (low, high) = (fingering.Shape.LowestStopped, fingering.Shape.HighestStopped);
        if (low == high) return 0;
        marks.Add(new Line(x, y(low), x, y(high), 0.7, Tone.Accent));
        marks.Add(new Line(x - 2, y(low), x + 2, y(low), 0.7, Tone.Accent));
        marks.Add(new Line(x - 2, y(high), x + 2, y(high), 0.7, Tone.Accent));
        var millimetres = neck.Landing(high) - neck.Landing(low);
        marks.Add(new Label(x + 4, (y(low) + y(high)) / 2 + 3,
            $"{millimetres.ToString("0", System.Globalization.CultureInfo.InvariantCulture)} mm", letters, Tone.Accent));
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
                var fret =>
                    $"{name} fret {fret + below} "
                        + $"{(fingering.Fingers[s] == Finger.Thumb ? "thumb" : $"finger {(int)fingering.Fingers[s]}")}",
            });
        }
        return string.Join(", ", parts);
    }
}
