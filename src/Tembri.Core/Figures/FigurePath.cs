using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Core.Figures;

/// <summary>Where a note of a figure is played.</summary>
/// <param name="String">Index of the string, 0 the lowest.</param>
/// <param name="Fret">Fret from the capo; 0 for the open string.</param>
/// <param name="Finger">The finger; none for the open string.</param>
/// <param name="Position">The fret over which the index finger is.</param>
public readonly record struct FigurePlace(int String, int Fret, Finger Finger, int Position);

/// <summary>A way over the neck.</summary>
/// <param name="Places">A place for each note.</param>
/// <param name="Cost">Its cost; see <see cref="FigureWeights"/>.</param>
/// <param name="Load">How heavy the figure is played this way, 0 to 100.</param>
public sealed record FigurePath(IReadOnlyList<FigurePlace> Places, double Cost, double Load);

/// <summary>What is asked of a way over the neck.</summary>
/// <param name="Notes">The notes, at the pitch of the strings without capo.</param>
/// <param name="Tempo">Beats a minute.</param>
/// <param name="Position">The fret over which the index finger stays; null for any.</param>
/// <param name="Held">The chord shape around the figure; null for none.</param>
/// <param name="Places">True to keep to the strings and frets the notes were written with.</param>
public sealed record FigureTask(IReadOnlyList<FigureNote> Notes, double Tempo, int? Position = null, Fingering? Held = null,
    bool Places = true);

/// <summary>Finds the easiest way of a figure over the neck, exactly: over every string, fret, finger and position of the hand,
/// note by note.</summary>
/// <remarks>
/// The sum of what each place costs (weak fingers, height, press force) and of what lies between two notes (shifts and stretches
/// in mm, one finger on two strings, strings the picking hand crosses),
/// shifts and leaps by how quickly the notes follow. A shortest path through the places of each note (Bellman, 1957).
/// </remarks>
public sealed class FigurePathFinder(NeckGeometry neck, Hand hand, Tuning? tuning = null)
{
    private const int Window = 3;          // frets a hand in one position is looked for within, for other ways
    private const int MostOthers = 4;
    private static readonly FigureWeights W = FigureWeights.Default;
    private readonly Tuning _tuning = tuning ?? neck.Guitar.Strings;

    /// <summary>The easiest way; null when a note lies outside the neck, or outside what is asked.</summary>
    public FigurePath? Find(FigureTask task) => Find(task, task.Position ?? 1, task.Position ?? neck.HighestFret);

    /// <summary>Other ways, each in another part of the neck, the easiest first; the easiest of all is not among them.</summary>
    public IReadOnlyList<FigurePath> Others(FigureTask task)
    {
        if (Find(task) is not { } best) return [];
        var found = new List<FigurePath> { best };
        for (var low = 1; low <= neck.HighestFret; low += 2)
            if (Find(task, low, low + Window) is { } path
                && found.TrueForAll(
                    f => !f.Places.Select(p => (p.String, p.Fret)).SequenceEqual(path.Places.Select(p => (p.String, p.Fret)))))
                found.Add(path);
        return [.. found.Skip(1).OrderBy(f => f.Cost).Take(MostOthers)];
    }

    private FigurePath? Find(FigureTask task, int lowest, int highest)
    {
        var notes = task.Notes;
        if (notes.Count == 0) return new FigurePath([], 0, 0);
        var layers = new FigurePlace[notes.Count][];
        for (var i = 0; i < layers.Length; i++)
        {
            layers[i] = PlacesOf(notes[i], task, lowest, highest);
            if (layers[i].Length == 0) return null;
        }
        var from = new int[notes.Count][];
        var costs = Array.ConvertAll(layers[0], p => Of(notes[0], p, task));
        for (var i = 1; i < layers.Length; i++)
        {
            var next = new double[layers[i].Length];
            from[i] = new int[next.Length];
            var pace = Pace(notes[i - 1], notes[i], task.Tempo);
            for (var b = 0; b < next.Length; b++)
            {
                var (least, at) = (double.PositiveInfinity, -1);
                for (var a = 0; a < costs.Length; a++)
                {
                    if (costs[a] >= least) continue;
                    var sum = costs[a] + Between(layers[i - 1][a], layers[i][b], notes[i], pace);
                    if (sum < least - 1e-12) (least, at) = (sum, a);
                }
                next[b] = least + Of(notes[i], layers[i][b], task);
                from[i][b] = at;
            }
            costs = next;
        }
        var end = Array.IndexOf(costs, costs.Min());
        if (double.IsPositiveInfinity(costs[end])) return null;
        var (places, cost) = (new FigurePlace[notes.Count], costs[end]);
        for (var i = notes.Count - 1; i >= 0; i--)
        {
            places[i] = layers[i][end];
            if (i > 0) end = from[i][end];
        }
        return new FigurePath(places, cost, LoadOf(notes, cost, task.Tempo));
    }

    /// <summary>What a given way costs; positive infinity for one that cannot be played.</summary>
    public double CostOf(FigureTask task, IReadOnlyList<FigurePlace> places)
    {
        var sum = 0.0;
        for (var i = 0; i < places.Count; i++)
        {
            sum += Of(task.Notes[i], places[i], task);
            if (i > 0)
                sum += Between(places[i - 1], places[i], task.Notes[i], Pace(task.Notes[i - 1], task.Notes[i], task.Tempo));
        }
        return sum;
    }

    /// <summary>Every place of a note: strings, fingers and positions of the hand.</summary>
    public FigurePlace[] PlacesOf(FigureNote note, FigureTask task) =>
        PlacesOf(note, task, task.Position ?? 1, task.Position ?? neck.HighestFret);

    private FigurePlace[] PlacesOf(FigureNote note, FigureTask task, int lowest, int highest)
    {
        var places = new List<FigurePlace>();
        var top = Math.Min(highest, neck.HighestFret);
        for (var s = 0; s < _tuning.Strings.Count; s++)
        {
            var fret = note.Pitch.Midi - _tuning.Strings[s];
            if (fret < 0 || fret > neck.HighestFret) continue;
            if (task.Places && note.Where is { } written && (written.String != s || written.Fret != fret)) continue;
            if (fret == 0)
            {
                for (var p = lowest; p <= top; p++) places.Add(new FigurePlace(s, 0, Finger.None, p));
                continue;
            }
            for (var finger = 1; finger <= 4; finger++)
            {
                // A finger a fret, the index one lower and the little one higher at a price.
                var (first, last) = (fret - finger + 1 - (finger == 4 ? 1 : 0), fret - finger + 1 + (finger == 1 ? 1 : 0));
                for (var p = Math.Max(first, lowest); p <= Math.Min(last, top); p++)
                    places.Add(new FigurePlace(s, fret, (Finger)finger, p));
            }
        }
        return [.. places];
    }

    private double Of(FigureNote note, FigurePlace place, FigureTask task)
    {
        if (place.Fret == 0) return note.How == Ornament.Bend ? double.PositiveInfinity : 0;
        var cost = place.Finger switch { Finger.Little => W.Little, Finger.Ring => W.Ring, _ => 0 };
        cost += W.Height * Math.Max(0, place.Fret - W.HeightFrom) + W.Force * neck.PressForce(place.String, place.Fret);
        if (place.Fret != place.Position + (int)place.Finger - 1) cost += W.Reach;
        if (note.How == Ornament.Bend && (place.Finger is Finger.Index or Finger.Little)) cost += W.WeakBend;
        if (task.Held is not { } held) return cost;
        var fingers = held.Fingers;
        if (place.String < fingers.Count && held.Shape[place.String] == place.Fret) return Math.Max(0, cost + W.InShape);
        for (var s = 0; s < fingers.Count; s++) if (fingers[s] == place.Finger) return cost + W.LeavesShape;
        return cost;
    }

    private static double Pace(FigureNote a, FigureNote b, double tempo) =>
        Math.Clamp(W.UsualSeconds / Math.Max(1e-3, (b.At - a.At) * 60 / tempo), W.PaceBounds[0], W.PaceBounds[1]);

    /// <summary>What lies between two notes.</summary>
    private double Between(FigurePlace a, FigurePlace b, FigureNote note, double pace)
    {
        if (!Allows(a, b, note.How)) return double.PositiveInfinity;
        if (note.How == Ornament.Held) return a.Position == b.Position && a.Finger == b.Finger ? 0 : double.PositiveInfinity;
        var cost = note.How is Ornament.Hammer or Ornament.Pull or Ornament.Slide
            ? 0
            : W.StringStep * Math.Abs(a.String - b.String) * pace;
        var sameFinger = a.Finger == b.Finger && a.Fret > 0;
        if (a.Position != b.Position)
        {
            var way = Math.Abs(neck.Landing(a.Position) - neck.Landing(b.Position));
            var isGuided = sameFinger && a.String == b.String && b.Fret > 0;
            cost += pace * (W.Shift + W.ShiftMm * way)
                * (isGuided ? W.GuidedShift : a.Fret == 0 || b.Fret == 0 ? W.OpenShift : 1);
        }
        if (a.Fret == 0 || b.Fret == 0) return cost;
        if (sameFinger) return a.String == b.String ? cost : cost + W.Leap * pace;
        var (low, high) = a.Finger < b.Finger ? ((int)a.Finger, (int)b.Finger) : ((int)b.Finger, (int)a.Finger);
        if (a.Position == b.Position)
        {
            var spread = Math.Abs(neck.Landing(a.Fret) - neck.Landing(b.Fret));
            var over = (spread - hand.Comfortable(low, high)) / (hand.Greatest(low, high) - hand.Comfortable(low, high));
            if (over > 1) return double.PositiveInfinity;
            if (over > 0) cost += W.Stretch * Math.Pow(over, 1.5);
        }
        return cost;
    }

    /// <summary>True when two places go with how the second note is played.</summary>
    private static bool Allows(FigurePlace a, FigurePlace b, Ornament how) => how switch
    {
        Ornament.Hammer => a.String == b.String && b.Fret > a.Fret && a.Finger != b.Finger,
        Ornament.Pull => a.String == b.String && b.Fret < a.Fret && a.Finger != b.Finger,
        Ornament.Slide => a.String == b.String && a.Fret > 0 && b.Fret > 0 && a.Finger == b.Finger,
        Ornament.Held => a.String == b.String && a.Fret == b.Fret,
        _ => true,
    };

    /// <summary>How heavy a figure is at a tempo: notes a second, how quick they are, what the way costs a second, ornaments,
    /// and notes to keep in mind.</summary>
    /// <param name="notes">The notes.</param>
    /// <param name="cost">What the way costs.</param>
    /// <param name="tempo">Beats a minute.</param>
    public static double LoadOf(IReadOnlyList<FigureNote> notes, double cost, double tempo)
    {
        var struck = notes.Count(n => n.How != Ornament.Held);
        if (struck == 0) return 0;
        var seconds = Math.Max(1e-3, (notes[^1].At + notes[^1].Beats - notes[0].At) * 60 / tempo);
        var pace = struck / seconds;
        var quickest = notes.Zip(notes.Skip(1)).Where(p => p.Second.How != Ornament.Held)
            .Select(p => 1 / Math.Max(1e-3, (p.Second.At - p.First.At) * 60 / tempo)).DefaultIfEmpty(0).Average();
        var over = Math.Max(0, quickest - W.QuickFrom);
        var ornaments = notes.Count(n => n.How is not (Ornament.None or Ornament.Held));
        return Load.FromEffort(W.NotesASecond * pace + W.Quick * over * over + W.Way * cost / seconds
            + W.Ornament * ornaments / seconds + W.Remember * struck).Value;
    }
}
