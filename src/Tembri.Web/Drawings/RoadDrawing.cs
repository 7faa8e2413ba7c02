using System.Globalization;
using Tembri.Core.Arranging;
using Tembri.Core.Music;
using Tembri.Core.Roads;
using Tembri.Web.Ladders;

namespace Tembri.Web.Drawings;

/// <summary>The library as a map: how much is new in a version to the right, how quick it is upward; the road goes through it
/// from step to step.</summary>
internal static class RoadDrawing
{
    private const double Width = 1180, Height = 330, Left = 46, Right = 24, Top = 24, Bottom = 44;
    private const int MostDots = 600;
    private const double LetterWidth = 7.6, LineHeight = 17;

    /// <summary>Draws it.</summary>
    /// <param name="open">The road.</param>
    /// <param name="names">How notes are named.</param>
    /// <param name="address">Where a version is looked at.</param>
    public static Scene Draw(OpenRoad open, NoteNames names, Func<RoadVersion, string> address)
    {
        var versions = open.Map.Request.Versions;
        var added = versions.Select((_, i) => open.Map.NewIn(i)).ToList();
        var most = Math.Max(2, Math.Ceiling(added.OrderBy(a => a).ElementAt((int)(0.97 * (added.Count - 1)))));
        var (slow, quick) = (versions.Min(v => v.Outline.Tempo) - 6, versions.Max(v => v.Outline.Tempo) + 6);
        // What is near is spread wider than what is far.
        double X(double things) => Left + (Width - Left - Right) * Math.Sqrt(Math.Min(most, things) / most);
        double Y(double tempo) => Height - Bottom - (Height - Top - Bottom) * (tempo - slow) / Math.Max(1, quick - slow);
        var marks = new List<Mark>
        {
            new Line(Left, Height - Bottom, Width - Right, Height - Bottom, 0.8, Tone.Rule),
            new Label(Left, Height - 6, "new things in a version, by weight", 14, Tone.Pencil),
            new Label(0, 14, "a minute", 14, Tone.Pencil)
        };
        foreach (var things in new[] { 0, 1, 2, 4, 8, 16, 32 }.Where(t => t <= most))
        {
            marks.Add(new Line(X(things), Top, X(things), Height - Bottom, 0.6, Tone.Rule));
            marks.Add(new Label(X(things), Height - Bottom + 18, things.ToString(CultureInfo.InvariantCulture), 14, Tone.Pencil,
                Anchor.Middle));
        }
        for (var tempo = Math.Ceiling(slow / 20) * 20; tempo <= quick; tempo += 20)
            marks.Add(new Label(Left - 8, Y(tempo) + 5, tempo.ToString("0", CultureInfo.InvariantCulture), 14, Tone.Pencil,
                Anchor.End));
        foreach (var (version, i) in versions.Select((v, i) => (v, i)).OrderBy(x => added[x.i]).Take(MostDots))
        {
            var radius = 2 + 0.7 * Math.Min(5, version.Rung);
            var dot = added[i] < RoadWeights.Default.LeastStep
                ? new Disc(X(added[i]), Y(version.Outline.Tempo), radius, Tone.Pencil)
                : new Disc(X(added[i]), Y(version.Outline.Tempo), radius, Tone.Pencil, 1.2);
            marks.Add(new Link(address(version),
                $"{open.Titles[version.Song].Title}, rung {RungLimits.LabelOf(version.Rung)}, "
                    + $"{added[i].ToString("0.0", CultureInfo.InvariantCulture)} new",
                false, [new Slab(dot.X - 13, dot.Y - 13, 26, 26, 0, Tone.Clear), dot]));
        }
        var at = versions.Select((v, i) => (v, i)).ToDictionary(x => (x.v.Song, x.v.Rung), x => x.i);
        var way = open.Road.Steps.Select(
                s => (Step: s, X: X(added[at[(s.Version.Song, s.Version.Rung)]]), Y: Y(s.Version.Outline.Tempo))).ToList();
        foreach (var (a, b) in way.Zip(way.Skip(1))) marks.Add(new Line(a.X, a.Y, b.X, b.Y, 2, Tone.Accent));
        var taken = new List<(double X, double Y, double Width)>();
        for (var i = 0; i < way.Count; i++)
        {
            var (step, x, y) = way[i];
            marks.Add(new Disc(x, y, 11, Tone.Accent));
            marks.Add(
                new Label(x, y + 5, (i + 1).ToString(CultureInfo.InvariantCulture), 14, Tone.Paper, Anchor.Middle, Bold: true));
            var text = $"{open.Titles[step.Version.Song].Title}, {RungLimits.LabelOf(step.Version.Rung)}";
            var wide = text.Length * LetterWidth;
            var left = x + 16 + wide > Width;
            // Names step aside from each other.
            var line = y + 5;
            while (taken.Exists(t => Math.Abs(t.Y - line) < LineHeight && t.X < (left ? x - 16 : x + 16 + wide)
                    && t.X + t.Width > (left ? x - 16 - wide : x + 16)) && line > Top)
                line -= LineHeight;
            taken.Add((left ? x - 16 - wide : x + 16, line, wide));
            marks.Add(new Label(left ? x - 16 : x + 16, line, text, 15, Tone.Ink, left ? Anchor.End : Anchor.Start, Bold: true)
            {
                HasHalo = true
            });
        }
        var words =
            $"Map of {versions.Count} versions by how much is new in them. The road: "
                + $"{string.Join("; ", open.Road.Steps.Select((s, i) => $"{i + 1} {open.Titles[s.Version.Song].Title}, rung {RungLimits.LabelOf(s.Version.Rung)}"))}.";
        return new Scene(Width, Height, words, marks);
    }
}
