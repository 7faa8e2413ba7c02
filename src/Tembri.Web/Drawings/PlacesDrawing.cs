using System.Globalization;
using Tembri.Core.Ladders;
using Tembri.Core.Music;

namespace Tembri.Web.Drawings;

/// <summary>The map of places: load of each rung over the capo's fret, a line a rung, the heavier the thicker.</summary>
public static class PlacesDrawing
{
    private const double Width = 1180, Height = 300, Left = 54, Right = 120, Top = 26, Bottom = 44;

    /// <summary>Draws it.</summary>
    /// <param name="ladder">A ladder with its positions.</param>
    /// <param name="names">How keys are named.</param>
    /// <param name="address">Where the place of a capo is looked at.</param>
    public static Scene Draw(Ladder ladder, NoteNames names, Func<int, string> address)
    {
        var positions = ladder.Places.OrderBy(p => p.Capo).ToList();
        var most = Math.Max(40, Math.Ceiling(positions.SelectMany(p => p.Rungs).Max(r => r?.Load ?? 0) / 10) * 10);
        double X(int index) => Left + (Width - Left - Right) * (positions.Count == 1 ? 0.5 : index / (positions.Count - 1.0));
        double Y(double load) => Top + (Height - Top - Bottom) * (1 - load / most);
        // The whole column can be pressed.
        var column =
            positions.Count == 1 ? Width - Left - Right : Math.Min(2 * Left, (Width - Left - Right) / (positions.Count - 1.0));
        var marks = new List<Mark>();
        for (var load = 0; load <= most; load += 20)
        {
            marks.Add(new Line(Left, Y(load), Width - Right, Y(load), 0.8, Tone.Rule));
            marks.Add(
                new Label(Left - 8, Y(load) + 5, load.ToString(CultureInfo.InvariantCulture), 14, Tone.Pencil, Anchor.End));
        }
        marks.Add(new Label(0, 14, "load", 14, Tone.Pencil));   // beside, where "advised" may stand at no capo
        foreach (var (position, i) in positions.Select((p, i) => (p, i)))
        {
            var advised = position.Capo == ladder.RecommendedCapo;
            var used = position.Capo == ladder.Capo;
            var inside = new List<Mark>
            {
                new Slab(X(i) - column / 2, 0, column, Height, 0, Tone.Clear),
                new Label(X(i), Height - 24,
                    position.Capo == 0 ? "no capo" : position.Capo.ToString(CultureInfo.InvariantCulture), 15,
                    advised ? Tone.Accent : Tone.Ink, Anchor.Middle, Bold: advised || used),
                new Label(X(i), Height - 7, position.ShapeKey.Named(names).ToString(), 14, Tone.Pencil, Anchor.Middle),
            };
            if (used) inside.Add(new Slab(X(i) - 30, Top - 8, 60, Height - Top + 7, 3, Tone.Ink, 1.2));
            if (advised) inside.Add(new Label(X(i), Top - 12, "advised", 14, Tone.Accent, Anchor.Middle, Bold: true));
            marks.Add(new Link(address(position.Capo),
                Words(position, position.ShapeKey.Named(names)) + (advised ? ", advised" : ""), used, inside));
            if (advised) marks.Add(new Line(X(i), Top - 4, X(i), Height - Bottom, 1.4, Tone.Accent));
        }
        for (var rung = 0; rung < ladder.Rungs.Count; rung++)
        {
            var weight = 0.8 + 0.75 * rung;
            // A gap where the rung cannot be played.
            for (var i = 0; i + 1 < positions.Count; i++)
                if (positions[i].Rungs[rung] is { } here && positions[i + 1].Rungs[rung] is { } next)
                    marks.Add(new Line(X(i), Y(here.Load), X(i + 1), Y(next.Load), weight));
            for (var i = 0; i < positions.Count; i++)
                if (positions[i].Rungs[rung] is { } at) marks.Add(new Disc(X(i), Y(at.Load), 2 + 0.5 * rung));
        }
        Name(marks, ladder, positions, Y, X);
        return new Scene(Width, Height,
            "Load of each rung over the capo. " + string.Join(". ", positions.Select(p => Words(p, p.ShapeKey.Named(names))))
                + ".", marks);
    }

    /// <summary>The lines are named at their right end, pushed apart where they meet; one that ends before, where it
    /// ends.</summary>
    private static void Name(List<Mark> marks, Ladder ladder, List<Place> positions, Func<double, double> y, Func<int, double> x)
    {
        var ends = Enumerable.Range(0, ladder.Rungs.Count)
            .Select(r => (Rung: r, At: positions.FindLastIndex(p => p.Rungs[r] is not null))).Where(e => e.At >= 0)
            .Select(e => (e.Rung, e.At, Y: y(positions[e.At].Rungs[e.Rung]!.Value.Load))).OrderBy(e => e.At)
            .ThenBy(e => Math.Round(e.Y)).ThenByDescending(e => e.Rung);
        foreach (var group in ends.GroupBy(e => e.At))
        {
            var last = double.NegativeInfinity;
            foreach (var (rung, at, height) in group)
            {
                last = Math.Max(height, last + 15);
                marks.Add(new Label(x(at) + 12, last + 5, $"{ladder.Rungs[rung].Limits.Label} {ladder.Rungs[rung].Limits.Name}",
                    14, Tone.Ink));
            }
        }
    }

    private static string Words(Place position, Key key) =>
        $"{(position.Capo == 0 ? "no capo" : $"capo {position.Capo}")}, {key} shapes, loads "
            + $"{string.Join(", ", position.Rungs.Select(r => r is null ? "not possible" : r.Value.Load.ToString("0", CultureInfo.InvariantCulture)))}";
}
