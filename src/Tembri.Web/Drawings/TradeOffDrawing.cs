using System.Globalization;
using Tembri.Core.Ladders;

namespace Tembri.Web.Drawings;

/// <summary>The trade-off of load against closeness: the curve of all best versions, with the rungs beside it.</summary>
public static class TradeOffDrawing
{
    private const double Width = 520, Height = 150, Left = 44, Bottom = 24, PressWidth = 24;

    /// <summary>Draws it.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="chosen">Number of the rung that is looked at.</param>
    /// <param name="between">Makes the address of a rung in between at a load.</param>
    public static Scene Draw(Ladder ladder, int chosen, Func<double, string> between)
    {
        var rungs = ladder.Playable.ToList();
        var most = Math.Ceiling(Math.Max(ladder.TradeOffs.Max(t => t.Load), rungs.Max(r => r.Load)) / 10) * 10;
        var least = Math.Floor(Math.Min(ladder.TradeOffs.Min(t => t.Closeness), rungs.Min(r => r.Closeness)) * 10) / 10;
        double X(double load) => Left + (Width - Left - 16) * load / most;
        double Y(double closeness) => 8 + (Height - Bottom - 8) * (1 - (closeness - least) / Math.Max(0.1, 1 - least));
        var marks = new List<Mark>
        {
            new Line(Left, 8, Left, Height - Bottom, 1, Tone.Rule),
            new Line(Left, Height - Bottom, Width - 10, Height - Bottom, 1, Tone.Rule),
            new Label(Left - 6, 14, "100 %", 13, Tone.Pencil, Anchor.End),
            new Label(Left - 6, Height - Bottom, $"{Whole(100 * least)} %", 13, Tone.Pencil, Anchor.End),
            new Label(Left, Height - 6, "load 0", 13, Tone.Pencil),
            new Label(Width - 10, Height - 6, Whole(most), 13, Tone.Pencil, Anchor.End),
            new Curve([.. ladder.TradeOffs.Select(t => (X(t.Load), Y(t.Closeness)))], 1.6, Tone.Ink),
        };
        foreach (var t in ladder.TradeOffs) marks.Add(new Disc(X(t.Load), Y(t.Closeness), 1.8));
        // Points between two rungs can be pressed, where they stand apart enough to be met.
        var last = double.NegativeInfinity;
        foreach (var t in ladder.TradeOffs.Where(t => rungs.Any(r => !r.Limits.IsBetween && r.Load < t.Load - 1)
            && rungs.Any(r => !r.Limits.IsBetween && r.Load > t.Load + 1)))
        {
            if (X(t.Load) - last < PressWidth) continue;
            last = X(t.Load);
            marks.Add(new Link(between(t.Load), $"A rung in between near load {Whole(t.Load)}", false,
                [new Slab(X(t.Load) - PressWidth / 2, Y(t.Closeness) - PressWidth / 2, PressWidth, PressWidth, 0, Tone.Clear),
                    new Disc(X(t.Load), Y(t.Closeness), 3.4)]));
        }
        foreach (var rung in rungs)
        {
            var tone = rung.Limits.Number == chosen ? Tone.Accent : Tone.Ink;
            marks.Add(new Disc(X(rung.Load), Y(rung.Closeness), 5.5, tone, 1.5));
            marks.Add(
                new Label(X(rung.Load) + 9, Y(rung.Closeness) + 12, rung.Limits.Label, 14, tone, Anchor.Start, Bold: true));
        }
        return new Scene(Width, Height,
            "Load against closeness. "
                + $"{string.Join(", ", rungs.Select(r => $"rung {r.Limits.Label} load {Whole(r.Load)} closeness {Whole(100 * r.Closeness)} percent"))}.",
            marks);
    }

    private static string Whole(double value) => value.ToString("0", CultureInfo.InvariantCulture);
}
