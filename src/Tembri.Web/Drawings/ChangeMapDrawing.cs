using System.Globalization;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Students;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>The changes of a version: its shapes in a ring, in the order the song brings them, joined by their changes; the
/// wider a band the more often, accented where it is late.</summary>
/// <remarks>Shapes stand on an ellipse at equal distances along it, and bands bend inward from a smaller one, so that no band
/// crosses a shape, whichever shapes it joins; a label stands where it covers neither shape nor label, or is left to the
/// table.</remarks>
public static class ChangeMapDrawing
{
    /// <summary>The most shapes that stand in the ring; the rarest are left to the table.</summary>
    public const int Most = 14;

    private const double Width = 810, Height = 560;
    private const double BoxWidth = 68, BoxHeight = 104;
    private const double CentreX = Width / 2, CentreY = Height / 2;
    private const double Wide = Width / 2 - BoxWidth / 2 - 6, Tall = Height / 2 - BoxHeight / 2 - 4;
    private const double Clear = 9;             // between a shape and the bands
    private const double LabelSize = 14;
    private const double PressRadius = 13;

    /// <summary>A rectangle that nothing else may cover.</summary>
    private readonly record struct Box(double Left, double Top, double Right, double Bottom)
    {
        public bool Meets(Box o) => Left < o.Right && o.Left < Right && Top < o.Bottom && o.Top < Bottom;
    }

    /// <summary>A pair of shapes with the changes between them.</summary>
    private sealed record Pair(int A, int B, int Count, FittedChange Worst, int Change);

    /// <summary>Draws it.</summary>
    /// <param name="rung">The version.</param>
    /// <param name="fit">How it fits the student.</param>
    /// <param name="leftHanded">True mirrors the shapes.</param>
    /// <param name="below">Frets to add to the numbers.</param>
    /// <param name="names">Names of notes in use.</param>
    /// <param name="chosen">The change that is open, by its index; null for none.</param>
    /// <param name="address">Makes the address of a change.</param>
    public static Scene Draw(PlayableRung rung, VersionFit fit, bool leftHanded, int below, NoteNames names, int? chosen,
        Func<int, string> address)
    {
        var shown = Shown(rung);
        var at = Places(shown);
        var pairs = PairsOf(fit, at);
        var marks = new List<Mark>();
        var taken = at.Values.Select(BoxOf).ToList();
        var most = Math.Max(1, pairs.Select(p => p.Count).DefaultIfEmpty().Max());
        // Late ones and frequent ones find room for their label first.
        foreach (var pair in pairs.OrderBy(p => IsLate(p.Worst) ? 1 : 0).ThenBy(p => p.Count))
        {
            var tone = IsLate(pair.Worst) ? Tone.Accent : Tone.Rule;
            var isChosen = chosen is { } c && rung.Changes[c] is var open
                && (open.From == pair.A && open.To == pair.B || open.From == pair.B && open.To == pair.A);
            var weight = 1.6 + 6 * Math.Sqrt(pair.Count / (double)most);
            var curve = CurveOf(at[pair.A], at[pair.B]);
            // A straight band is as thin as a line: its middle can be pressed as well as all of it.
            List<Mark> band = [new Disc(curve[curve.Count / 2].X, curve[curve.Count / 2].Y, PressRadius, Tone.Clear),
                new Curve(curve, Math.Max(weight + 10, 18), Tone.Clear), new Curve(curve, weight, tone)];
            if (isChosen) band.Add(new Curve(curve, 2.2, Tone.Ink));
            marks.Add(new Link(address(pair.Change), Words(rung, pair, names), isChosen, band));
        }
        foreach (var pair in pairs.OrderByDescending(p => IsLate(p.Worst)).ThenByDescending(p => p.Count))
        {
            var text = Text(pair);
            if (Place(CurveOf(at[pair.A], at[pair.B]), text, taken) is not var (x, y)) continue;
            marks.Add(new Label(x, y, text, LabelSize, IsLate(pair.Worst) ? Tone.Accent : Tone.Ink, Anchor.Middle,
                IsLate(pair.Worst))
            {
                HasHalo = true
            });
        }
        foreach (var chord in shown)
        {
            var (x, y) = at[chord.Index];
            marks.Add(
                new Symbol(x, y - BoxHeight / 2 + 17, chord.ShapeChord.Named(names), 19, chord.IsNew ? Tone.Accent : Tone.Ink));
            if (chord.IsSecond) marks.Add(new Label(x + 30, y - BoxHeight / 2 + 17, "′", 17));
            marks.Add(
                new Inset(x - 33.5, y - BoxHeight / 2 + 21, ShapeDrawing.DrawNarrow(chord.Choice.Fingering, leftHanded, below)));
        }
        return new Scene(Width, Height,
            $"The changes of rung {rung.Limits.Label}: "
                + $"{string.Join("; ", pairs.OrderByDescending(p => p.Count).Select(p => Words(rung, p, names)))}.",
            marks);
    }

    /// <summary>The chords that stand in the ring, in the order of the song.</summary>
    public static IReadOnlyList<PlayedChord> Shown(PlayableRung rung)
    {
        var played = rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).ToList();
        if (played.Count > Most)
            played = [.. played.OrderByDescending(c => rung.Flow.Beats[c.Index]).ThenBy(c => c.Index).Take(Most)];
        // A second shape stands beside the usual one of its chord.
        return [.. played.OrderBy(c => c.SongChord).ThenBy(c => c.Index)];
    }

    /// <summary>True when a change is late more often than not.</summary>
    public static bool IsLate(FittedChange change) => change.NeededSeconds > change.AvailableSeconds;

    /// <summary>Points at equal distances along the ellipse, from the upper left on, the way a clock goes.</summary>
    private static Dictionary<int, (double X, double Y)> Places(IReadOnlyList<PlayedChord> shown)
    {
        const int Steps = 720;
        (double X, double Y) On(double turn) => (CentreX - Wide * Math.Cos(turn), CentreY - Tall * Math.Sin(turn));
        var along = new double[Steps + 1];
        for (var i = 1; i <= Steps; i++)
        {
            var (a, b) = (On(2 * Math.PI * (i - 1) / Steps), On(2 * Math.PI * i / Steps));
            along[i] = along[i - 1] + Math.Sqrt((a.X - b.X) * (a.X - b.X) + (a.Y - b.Y) * (a.Y - b.Y));
        }
        var places = new Dictionary<int, (double, double)>();
        for (var n = 0; n < shown.Count; n++)
        {
            var wanted = along[Steps] * ((n + 0.5) / shown.Count + 0.0) % along[Steps];
            var i = Array.FindIndex(along, d => d >= wanted);
            places[shown[n].Index] = On(2 * Math.PI * i / Steps);
        }
        return places;
    }

    private static Box BoxOf((double X, double Y) p) =>
        new(p.X - BoxWidth / 2, p.Y - BoxHeight / 2, p.X + BoxWidth / 2, p.Y + BoxHeight / 2);

    private static List<Pair> PairsOf(VersionFit fit, Dictionary<int, (double X, double Y)> at)
    {
        var pairs = new SortedDictionary<(int, int), Pair>();
        for (var i = 0; i < fit.Changes.Count; i++)
        {
            var change = fit.Changes[i];
            if (!at.ContainsKey(change.From) || !at.ContainsKey(change.To)) continue;
            var key = (Math.Min(change.From, change.To), Math.Max(change.From, change.To));
            pairs[key] = pairs.TryGetValue(key, out var known)
                ? change.InTime < known.Worst.InTime
                    ? known with { Count = known.Count + change.Count, Worst = change, Change = i }
                    : known with { Count = known.Count + change.Count }
                : new Pair(key.Item1, key.Item2, change.Count, change, i);
        }
        return [.. pairs.Values];
    }

    /// <summary>From inside of one shape to inside of the other, bent towards the middle.</summary>
    private static IReadOnlyList<(double X, double Y)> CurveOf((double X, double Y) a, (double X, double Y) b)
    {
        var (middleX, middleY) = ((a.X + b.X) / 2, (a.Y + b.Y) / 2);
        // The nearer two shapes stand, the more their band has to give way to what lies between them.
        var far = Math.Sqrt((a.X - b.X) * (a.X - b.X) + (a.Y - b.Y) * (a.Y - b.Y)) / (2 * Wide);
        var pull = Math.Clamp(0.95 - 0.8 * far, 0.15, 0.8);
        var (controlX, controlY) = (middleX + (CentreX - middleX) * pull, middleY + (CentreY - middleY) * pull);
        var (from, to) = (Towards(a, (controlX, controlY)), Towards(b, (controlX, controlY)));
        var points = new List<(double, double)>();
        for (var i = 0; i <= 24; i++)
        {
            var t = i / 24.0;
            points.Add(((1 - t) * (1 - t) * from.X + 2 * t * (1 - t) * controlX + t * t * to.X,
                (1 - t) * (1 - t) * from.Y + 2 * t * (1 - t) * controlY + t * t * to.Y));
        }
        return points;
    }

    /// <summary>Where a band of a shape begins: at the edge of its box towards where the band bends.</summary>
    private static (double X, double Y) Towards((double X, double Y) p, (double X, double Y) bend)
    {
        var (dx, dy) = (bend.X - p.X, bend.Y - p.Y);
        var share = Math.Min(Math.Abs(dx) < 1e-6 ? double.PositiveInfinity : (BoxWidth / 2 + Clear) / Math.Abs(dx),
            Math.Abs(dy) < 1e-6 ? double.PositiveInfinity : (BoxHeight / 2 + Clear) / Math.Abs(dy));
        share = Math.Min(share, 0.9);
        return (p.X + dx * share, p.Y + dy * share);
    }

    private static readonly double[] Along = [0.5, 0.42, 0.58, 0.34, 0.66, 0.26, 0.74, 0.2, 0.8];

    private static (double X, double Y)? Place(IReadOnlyList<(double X, double Y)> curve, string text, List<Box> taken)
    {
        var (half, last) = (text.Length * LabelSize * 0.25 + 3, curve.Count - 1);
        foreach (var t in Along)
        {
            var (x, y) = curve[(int)Math.Round(t * last)];
            var box = new Box(x - half, y - 9, x + half, y + 9);
            if (box.Left < 2 || box.Right > Width - 2 || taken.Exists(box.Meets)) continue;
            taken.Add(box);
            return (x, y + 5);
        }
        return null;
    }

    private static string Text(Pair pair) => IsLate(pair.Worst)
        ? string.Create(CultureInfo.InvariantCulture,
            $"{pair.Count}×, needs {pair.Worst.NeededSeconds:0.0#} s, has {pair.Worst.AvailableSeconds:0.0#}")
        : string.Create(CultureInfo.InvariantCulture, $"{pair.Count}×, {pair.Worst.NeededSeconds:0.0#} s");

    private static string Words(PlayableRung rung, Pair pair, NoteNames names)
    {
        string Name(int chord) => rung.Chords[chord].ShapeChord.Named(names).Name;
        var change = rung.Changes[pair.Change];
        return string.Create(CultureInfo.InvariantCulture,
            $"{Name(change.From)} to {Name(change.To)}, {pair.Count} times between them, needs {pair.Worst.NeededSeconds:0.00} "
                + $"seconds of {pair.Worst.AvailableSeconds:0.00}{(IsLate(pair.Worst) ? ", late" : "")}: "
                + $"{LadderWords.Say(change.Change)}");
    }
}
