using System.Globalization;
using Tembri.Core.Ladders;

namespace Tembri.Web.Drawings;

/// <summary>The trade-off of load against closeness: the curve of all best versions, with the rungs beside it.</summary>
public static class TradeOffDrawing
{
    private const double Width = 520, Height = 150, Left = 44, Bottom = 24;

    /// <summary>Draws it.</summary>
    public static Scene Draw(Ladder ladder, int chosen)
    {
        var rungs = ladder.Playable.ToList();
        var most = Math.Ceiling(Math.Max(ladder.TradeOffs.Max(t => t.Load), rungs.Max(r => r.Load)) / 10) * 10;
        var least = Math.Floor(Math.Min(ladder.TradeOffs.Min(t => t.Closeness), rungs.Min(r => r.Closeness)) * 10) / 10;
        double X(double load) => Left + (Width - Left - 16) * load / most;
        double Y(double closeness) => 8 + (Height - Bottom - 8) * (1 - (closeness - least) / Math.Max(0.1, 1 - least));
        var marks = new List<Mark>
        {
            new Line(Left, 8, Left, Height - Bottom, 1, Tone.Rule), new Line(Left, Height - Bottom, Width - 10, Height - Bottom, 1, Tone.Rule),
            new Label(Left - 6, 14, "100 %", 13, Tone.Pencil, Anchor.End), new Label(Left - 6, Height - Bottom, $"{Whole(100 * least)} %", 13, Tone.Pencil, Anchor.End),
            new Label(Left, Height - 6, "load 0", 13, Tone.Pencil), new Label(Width - 10, Height - 6, Whole(most), 13, Tone.Pencil, Anchor.End),
            new Curve([.. ladder.TradeOffs.Select(t => (X(t.Load), Y(t.Closeness)))], 1.6, Tone.Ink),
        };
        foreach (var t in ladder.TradeOffs) marks.Add(new Disc(X(t.Load), Y(t.Closeness), 1.8));
        foreach (var rung in rungs)
        {
            var tone = rung.Limits.Number == chosen ? Tone.Accent : Tone.Ink;
            marks.Add(new Disc(X(rung.Load), Y(rung.Closeness), 5.5, tone, 1.5));
            marks.Add(new Label(X(rung.Load) + 9, Y(rung.Closeness) + 12, rung.Limits.Label, 14, tone, Anchor.Start, Bold: true));
        }
        return new Scene(Width, Height, $"Load against closeness. {string.Join(", ", rungs.Select(r => $"rung {r.Limits.Label} load {Whole(r.Load)} closeness {Whole(100 * r.Closeness)} percent"))}.", marks);
    }

    private static string Whole(double value) => value.ToString("0", CultureInfo.InvariantCulture);
}
