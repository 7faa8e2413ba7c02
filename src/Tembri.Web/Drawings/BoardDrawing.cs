using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Web.Drawings;

/// <summary>A fretboard to scale on which a shape is drawn: every place to press, every open string and every string left out
/// leads to the shape with that changed.</summary>
public static class BoardDrawing
{
    /// <summary>Frets that are seen at once.</summary>
    public const int Window = 7;

    private const double Left = 92, Right = 16, Top = 30, Bottom = 30;
    private const double PixelsAMillimetre = 3.55;
    private const double Dot = 12.5;

    /// <summary>Draws it.</summary>
    /// <param name="shape">The shape so far.</param>
    /// <param name="fingering">How it is held; null where no hand can hold it.</param>
    /// <param name="neck">Guitar and capo.</param>
    /// <param name="first">The lowest fret that is seen, counted from the capo.</param>
    /// <param name="leftHanded">True mirrors it.</param>
    /// <param name="below">Frets to add to the numbers.</param>
    /// <param name="address">Makes the address of the shape with one string changed.</param>
    public static Scene Draw(IReadOnlyList<int> shape, Fingering? fingering, NeckGeometry neck, int first, bool leftHanded,
        int below, Func<int, int, string> address)
    {
        var last = Math.Min(first + Window - 1, neck.HighestFret);
        var begin = neck.WireFromCapo(first - 1);
        var gap = neck.StringSpacing(1) * PixelsAMillimetre;
        var length = (neck.WireFromCapo(last) - begin) * PixelsAMillimetre;
        var width = Left + length + Right;
        double Across(double x) => leftHanded ? width - x : x;
        double Wire(int fret) => Across(Left + (neck.WireFromCapo(fret) - begin) * PixelsAMillimetre);
        double At(int fret) => (Wire(fret - 1) * 0.42) + (Wire(fret) * 0.58);
        // The lowest string lies at the bottom, as one looks down on the neck.
        double Y(int s) => Top + gap * (5 - s);
        var marks = new List<Mark>();
        for (var fret = first; fret <= last; fret++)
        {
            marks.Add(new Line(Wire(fret), Top - 4, Wire(fret), Top + 5 * gap + 4, 1.4, Tone.Pencil));
            marks.Add(new Label(At(fret), Top + 5 * gap + 24, $"{fret + below}", 14, Tone.Pencil, Anchor.Middle));
        }
        marks.Add(new Line(Wire(first - 1), Top - 4, Wire(first - 1), Top + 5 * gap + 4, first == 1 ? 6 : 1.4));
        for (var s = 0; s < 6; s++)
            marks.Add(new Line(Across(shape[s] < 0 ? Left : Left - 6), Y(s), Across(width - 4), Y(s),
                shape[s] < 0 ? 1 : 2.6 - 0.3 * s, shape[s] < 0 ? Tone.Pencil : Tone.Ink, shape[s] < 0));
        if (fingering is not null)
            foreach (var barre in fingering.Barres.Where(b => b.Fret >= first && b.Fret <= last))
                marks.Add(new Slab(At(barre.Fret) - Dot * 0.86, Y(barre.HighString) - Dot, Dot * 1.72,
                    (barre.HighString - barre.LowString) * gap + 2 * Dot, Dot * 0.86));
        for (var s = 0; s < 6; s++)
        {
            if (shape[s] > 0 && shape[s] >= first && shape[s] <= last)
            {
                var finger = fingering?.Fingers[s] ?? Finger.None;
                marks.Add(new Disc(At(shape[s]), Y(s), Dot, Tone.Ink));
                if (finger != Finger.None)
                    marks.Add(new Label(At(shape[s]), Y(s) + 5.5, finger == Finger.Thumb ? "T" : $"{(int)finger}", 16,
                        Tone.Paper, Anchor.Middle, Bold: true));
            }
            if (shape[s] > last || shape[s] > 0 && shape[s] < first)
                marks.Add(new Label(Across(shape[s] > last ? width - 18 : Left + 10), Y(s) - 5, $"fret {shape[s] + below}", 13,
                    Tone.Accent, shape[s] > last ? Anchor.End : Anchor.Start));
        }
        for (var s = 0; s < 6; s++)
        {
            var name = $"string {6 - s}";
            marks.Add(Choice(Across(22), Y(s), shape[s] < 0,
                [new Line(Across(22) - 5, Y(s) - 5, Across(22) + 5, Y(s) + 5, 1.8, shape[s] < 0 ? Tone.Ink : Tone.Rule),
                    new Line(Across(22) - 5, Y(s) + 5, Across(22) + 5, Y(s) - 5, 1.8, shape[s] < 0 ? Tone.Ink : Tone.Rule)],
                address(s, -1), $"Leave {name} out", gap));
            marks.Add(Choice(Across(62), Y(s), shape[s] == 0,
                [new Disc(Across(62), Y(s), 6, shape[s] == 0 ? Tone.Ink : Tone.Rule, 1.8)], address(s, 0),
                $"{char.ToUpperInvariant(name[0])}{name[1..]} open", gap));
            for (var fret = first; fret <= last; fret++)
            {
                var (from, to) = (Math.Min(Wire(fret - 1), Wire(fret)), Math.Max(Wire(fret - 1), Wire(fret)));
                var isHere = shape[s] == fret;
                marks.Add(new Link(address(s, isHere ? -1 : fret),
                    isHere ? $"Take {name} off fret {fret + below}" : $"Press {name} at fret {fret + below}", isHere,
                    [new Slab(from + 1, Y(s) - gap / 2, to - from - 2, gap, 0, Tone.Clear)])
                {
                    Key = $"{s}-{fret}"
                });
            }
        }
        return new Scene(width, Top + 5 * gap + Bottom, "The fretboard to scale. Each place on it can be pressed.", marks);
    }

    private static Link Choice(double x, double y, bool isHere, IReadOnlyList<Mark> marks, string address, string name,
        double gap) =>
        new(address, name, isHere, [new Slab(x - 19, y - gap / 2, 38, gap, 0, Tone.Clear), .. marks]);
}
