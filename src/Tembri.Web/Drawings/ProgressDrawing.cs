using System.Globalization;

namespace Tembri.Web.Drawings;

/// <summary>Something measured on days.</summary>
/// <param name="Name">What it is.</param>
/// <param name="Points">When and how much, the oldest first.</param>
public sealed record ProgressLine(string Name, IReadOnlyList<(DateTimeOffset At, double Value)> Points);

/// <summary>Progress over time: a line for each thing measured, named at its end.</summary>
public static class ProgressDrawing
{
    private const double Width = 560, Height = 190, Left = 40, Right = 150, Top = 12, Bottom = 26, NameHeight = 17;

    /// <summary>Draws it.</summary>
    /// <param name="lines">The lines, at most a few.</param>
    /// <param name="unit">What the numbers are.</param>
    /// <param name="bars">True to draw bars from the ground, for what adds up.</param>
    public static Scene Draw(IReadOnlyList<ProgressLine> lines, string unit, bool bars = false)
    {
        var all = lines.SelectMany(l => l.Points).ToList();
        if (all.Count == 0) return new Scene(Width, 1, "nothing yet", []);
        var (from, to) = (all.Min(p => p.At), all.Max(p => p.At));
        var span = Math.Max(1, (to - from).TotalDays);
        var step = Step(all.Max(p => p.Value));
        var most = Math.Max(step, Math.Ceiling(all.Max(p => p.Value) / step) * step);
        double X(DateTimeOffset at) => Left + (Width - Left - Right) * (at - from).TotalDays / span;
        double Y(double value) => Height - Bottom - (Height - Bottom - Top) * value / most;
        var marks = new List<Mark>();
        for (var value = 0.0; value <= most + 1e-9; value += step)
        {
            marks.Add(new Line(Left, Y(value), Width - Right, Y(value), 1, Tone.Rule));
            marks.Add(new Label(Left - 6, Y(value) + 5, Whole(value), 14, Tone.Pencil, Anchor.End));
        }
        marks.Add(new Label(Left, Height - 6, Day(from), 14, Tone.Pencil));
        if (span > 1) marks.Add(new Label(Width - Right, Height - 6, Day(to), 14, Tone.Pencil, Anchor.End));
        // Names stand at the ends of their lines, moved apart where they would meet.
        var names = new List<(double Y, string Name, bool Last)>();
        foreach (var (line, i) in lines.Select((l, i) => (l, i)).Where(x => x.l.Points.Count > 0))
        {
            var tone = i == 0 ? Tone.Ink : Tone.Pencil;
            var weight = i == 0 ? 2.4 : 1.4;
            for (var p = 0; p < line.Points.Count; p++)
            {
                var (at, value) = line.Points[p];
                if (bars) marks.Add(new Line(X(at), Y(0), X(at), Y(value), 7, tone));
                else
                {
                    if (p > 0)
                        marks.Add(new Line(X(line.Points[p - 1].At), Y(line.Points[p - 1].Value), X(at), Y(value), weight, tone,
                            Broken: i > 1));
                    marks.Add(new Disc(X(at), Y(value), i == 0 ? 3 : 2.4, tone));
                }
            }
            names.Add((Y(line.Points[^1].Value) + 5, $"{line.Name} {Whole(line.Points[^1].Value)}", i == 0));
        }
        var below = double.NegativeInfinity;
        foreach (var (y, name, bold) in names.OrderBy(n => n.Y))
        {
            var at = Math.Max(y, below + NameHeight);
            marks.Add(new Label(Width - Right + 10, at, name, 15, Tone.Ink, Anchor.Start, bold));
            below = at;
        }
        var words = string.Join("; ",
            lines.Where(l => l.Points.Count > 0)
                .Select(l =>
                    $"{l.Name}: from {Whole(l.Points[0].Value)} on {Day(l.Points[0].At)} to {Whole(l.Points[^1].Value)} on "
                        + $"{Day(l.Points[^1].At)}"));
        return new Scene(Width, Height, $"{unit}. {words}.", marks);
    }

    private static double Step(double most) =>
        most switch { <= 10 => 5, <= 25 => 10, <= 60 => 20, <= 150 => 50, _ => Math.Pow(10, Math.Floor(Math.Log10(most))) };

    private static string Whole(double value) => value.ToString("0", CultureInfo.InvariantCulture);

    private static string Day(DateTimeOffset at) => at.ToString("d MMM", CultureInfo.InvariantCulture);
}
