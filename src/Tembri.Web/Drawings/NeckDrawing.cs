using System.Globalization;
using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Music;

namespace Tembri.Web.Drawings;

/// <summary>Draws the neck with frets to scale and the load of a rung standing above each capo position.</summary>
public static class NeckDrawing
{
    private const double Width = 1220;
    private const double NeckTop = 74;
    private const double NeckHeight = 26;
    private const double Tallest = 66;

    /// <summary>Draws it.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="names">How keys are named.</param>
    /// <param name="neck">The student's guitar without a capo.</param>
    /// <param name="rung">The rung whose load is shown, 1 to 5.</param>
    /// <param name="address">Makes the address of a position.</param>
    public static Scene Draw(Ladder ladder, NoteNames names, NeckGeometry neck, int rung, Func<int, string> address)
    {
        var last = ladder.Places.Max(p => p.Capo) + 1;
        double X(int fret) => 40 + (Width - 60) * neck.WireFromNut(fret) / neck.WireFromNut(last);
        var marks = new List<Mark>();
        for (var s = 0; s < 6; s++)
            marks.Add(new Line(18, NeckTop + 3 + s * (NeckHeight - 6) / 5, Width - 4, NeckTop + 3 + s * (NeckHeight - 6) / 5,
                0.6 + (s == 5 ? 1.4 : 0.25 * s), Tone.Pencil));
        marks.Add(new Line(X(0), NeckTop, X(0), NeckTop + NeckHeight, 4.5));
        for (var fret = 1; fret <= last; fret++) marks.Add(new Line(X(fret), NeckTop, X(fret), NeckTop + NeckHeight, 1.1));
        foreach (var position in ladder.Places)
        {
            var chosen = position.Capo == ladder.Capo;
            var key = position.ShapeKey.Named(names);
            var x = position.Capo == 0 ? X(0) - 16 : X(position.Capo) - 15;
            // The whole column can be pressed, up to the next one.
            var next = position.Capo == last - 1 ? Width : X(position.Capo + 1) - 15;
            marks.Add(new Link(address(position.Capo), Words(position, key, ladder, rung), chosen,
                [new Slab(x - 3, 0, next - x, NeckTop + NeckHeight + 21, 0, Tone.Clear),
                    .. Column(position, key, ladder, rung, x, chosen)]));
        }
        if (ladder.Capo > 0) marks.Add(new Slab(X(ladder.Capo) - 15, NeckTop - 5, 9, NeckHeight + 10, 3, Tone.Accent));
        return new Scene(Width, NeckTop + NeckHeight + 21, $"Load of rung {RungLimits.LabelOf(rung)} at each capo position.",
            marks);
    }

    private static List<Mark> Column(Place position, Key key, Ladder ladder, int rung, double x, bool chosen)
    {
        var tone = chosen ? Tone.Accent : Tone.Ink;
        var load = position.Rungs[ladder.IndexOf(rung)]?.Load;
        var height = load is null ? 4 : Math.Max(3, Math.Min(1, load.Value / 75) * Tallest);
        var marks = new List<Mark>();
        if (load is null)
            marks.Add(new Line(x + 4.5, NeckTop - 4 - Tallest * 0.8, x + 4.5, NeckTop - 4, 1.2, Tone.Pencil, Broken: true));
        else marks.Add(new Slab(x, NeckTop - 4 - height, 9, height, 0, tone));
        var top = Math.Min(NeckTop - 40, NeckTop - 4 - (load is null ? Tallest * 0.8 : height) + 11);
        marks.Add(new Label(x + 14, top, load is null ? "not possible" : load.Value.ToString("0", CultureInfo.InvariantCulture),
            load is null ? 14 : 18, tone, Anchor.Start, Bold: load is not null));
        marks.Add(new Label(x + 14, top + 16, $"{key} shapes", 14.5, chosen ? Tone.Accent : Tone.Pencil));
        marks.Add(new Label(x + 14, top + 31, position.Barres switch { 0 => "no barre", 1 => "1 barre", var n => $"{n} barres" },
            14.5, chosen ? Tone.Accent : Tone.Pencil));
        marks.Add(new Label(x + 4.5, NeckTop + NeckHeight + 17,
            position.Capo == 0 ? "no capo"
                : position.Capo == ladder.RecommendedCapo ? $"{position.Capo}, advised"
                : $"{position.Capo}", 14, chosen ? Tone.Accent : Tone.Pencil, position.Capo == 0 ? Anchor.Start : Anchor.Middle,
            chosen));
        return marks;
    }

    private static string Words(Place p, Key key, Ladder ladder, int rung) =>
        $"{(p.Capo == 0 ? "No capo" : $"Capo {p.Capo}")}: {key} shapes, "
        + (p.Rungs[ladder.IndexOf(rung)] is { } a
            ? $"load {a.Load.ToString("0", CultureInfo.InvariantCulture)} on rung {RungLimits.LabelOf(rung)}"
            : $"rung {RungLimits.LabelOf(rung)} not possible")
        + $", {p.Barres} full barres as recorded{(p.Capo == ladder.RecommendedCapo ? ", advised" : "")}";
}
