using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>Turns what was tried into evidence: weighs shapes and changes for the hand and the guitar they were tried on, so
/// that effort on one guitar tells of the skill on another.</summary>
/// <param name="hand">The hand.</param>
/// <param name="thumb">True when the thumb may come over the neck.</param>
public sealed class EvidenceMaker(Hand hand, bool thumb)
{
    /// <summary>Clean changes a minute that nobody exceeds: the stroke and the look alone take
    /// <see cref="ChangeWeights.Dwell"/>.</summary>
    public static int MostAMinute { get; } = (int)(60 / ChangeWeights.Default.Dwell);

    /// <summary>The shortest count that tells something, s.</summary>
    public const int ShortestCount = 10;

    /// <summary>The longest count, s.</summary>
    public const int LongestCount = 600;

    /// <summary>The most tries of a shape in one entry.</summary>
    public const int MostTries = 500;

    // What one guitar with a capo makes of shapes; the same few come again and again in a log.
    private readonly Dictionary<(string Guitar, int Capo), Place> _places = [];

    private sealed class Place(NeckGeometry neck, Hand hand, bool thumb)
    {
        public readonly ChangeModel Changes = new(neck);
        public readonly FingeringFinder Finder = new(neck, hand, thumb);
        public readonly Dictionary<(Shape, int), IReadOnlyList<Fingering>> Fingerings = [];
        public readonly Dictionary<(Shape, int, Shape, int), double?> Seconds = [];
        public readonly Dictionary<Fingering, IReadOnlyList<Gate>> Gates = new(ReferenceEqualityComparer.Instance);
    }

    /// <summary>The fingerings a shape may have been played with: the one that is given, or the likeliest; none when this hand
    /// cannot do it.</summary>
    public IReadOnlyList<Fingering> Fingerings(Guitar guitar, int capo, Shape shape, IReadOnlyList<Finger>? fingers = null)
    {
        var place = At(guitar, capo);
        var key = (shape, Packed(fingers));
        if (place.Fingerings.TryGetValue(key, out var known)) return known;
        var likeliest = 6;
        return place.Fingerings[key] = fingers is null ? [.. place.Finder.Find(shape, likeliest)]
            : place.Finder.Weigh(shape, fingers) is { } weighed ? [weighed]
            : [];
    }

    /// <summary>What the reference player needs for a change, s, with the pair of fingerings that is easiest; 0 when nothing
    /// moves, null when this hand cannot do one of the shapes.</summary>
    public double? SecondsFor(Guitar guitar, int capo, (Shape Shape, IReadOnlyList<Finger>? Fingers) from,
        (Shape Shape, IReadOnlyList<Finger>? Fingers) to)
    {
        var key = (from.Shape, Packed(from.Fingers), to.Shape, Packed(to.Fingers));
        var known = At(guitar, capo).Seconds;
        return known.TryGetValue(key, out var seconds) ? seconds : known[key] = SecondsAnew(guitar, capo, from, to);
    }

    private double? SecondsAnew(Guitar guitar, int capo, (Shape Shape, IReadOnlyList<Finger>? Fingers) from,
        (Shape Shape, IReadOnlyList<Finger>? Fingers) to)
    {
        var (before, after) =
            (Fingerings(guitar, capo, from.Shape, from.Fingers), Fingerings(guitar, capo, to.Shape, to.Fingers));
        if (before.Count == 0 || after.Count == 0) return null;
        var changes = At(guitar, capo).Changes;
        return before.SelectMany(f => after.Select(t => changes.Easiness(f, t))).MinBy(p => p.Cost).Seconds;
    }

    /// <summary>Tries of a shape as evidence; null when this hand cannot do it.</summary>
    public Trials? Tries(DateTimeOffset at, Guitar guitar, int capo, Shape shape, IReadOnlyList<Finger>? fingers, int tries,
        int clean) =>
        Fingerings(guitar, capo, shape, fingers) is [var likeliest, ..]
            ? new Trials(at, Gates(guitar, capo, likeliest), tries, clean, shape)
            : null;

    /// <summary>What has to come off for a fingered shape to be clean.</summary>
    public IReadOnlyList<Gate> Gates(Guitar guitar, int capo, Fingering fingering)
    {
        var known = At(guitar, capo).Gates;
        return known.TryGetValue(fingering, out var gates)
            ? gates
            : known[fingering] = [.. FitModel.Demands(fingering).Select(Gate.Of)];
    }

    /// <summary>Fingers as one number; −1 for none.</summary>
    private static int Packed(IReadOnlyList<Finger>? fingers)
    {
        if (fingers is null) return -1;
        var packed = 0;
        for (var i = 0; i < fingers.Count; i++) packed = packed * 6 + (int)fingers[i];
        return packed;
    }

    /// <summary>A pattern played at a tempo as evidence.</summary>
    public static Trials Strum(DateTimeOffset at, StrumPattern pattern, double tempo, bool clean) =>
        Trials.OfStrum(at, pattern.LoadAt(tempo), clean);

    private Place At(Guitar guitar, int capo) =>
        _places.TryGetValue((guitar.Id, capo), out var place)
            ? place
            : _places[(guitar.Id, capo)] = new Place(new NeckGeometry(guitar, capo), hand, thumb);
}
