using Tembri.Core.Chords;
using Tembri.Core.Fretboard;

namespace Tembri.Core.Shapes;

/// <summary>Where a shape comes from, the most teachable first.</summary>
public enum ShapeSource
{
    /// <summary>A grip of the library.</summary>
    Library,
    /// <summary>A grip with strings left out or a finger lifted.</summary>
    Reduction,
    /// <summary>Found by searching the fretboard.</summary>
    Search,
}

/// <summary>Where a shape comes from and what was done to it.</summary>
/// <param name="Source">Where it comes from.</param>
/// <param name="Chord">The chord it plays.</param>
/// <param name="Grip">The grip it is or was made from; null for a shape that was searched.</param>
/// <param name="LowLeftOut">Strings left out on the low side of the grip.</param>
/// <param name="HighLeftOut">Strings left out on the high side.</param>
/// <param name="Lifted">The string whose finger was lifted so that it sounds open, 0 for the lowest; −1 for none.</param>
public sealed record ShapeOrigin(ShapeSource Source, Chord Chord, Grip? Grip, int LowLeftOut = 0, int HighLeftOut = 0,
    int Lifted = -1);

/// <summary>A shape for a chord with where it came from.</summary>
/// <param name="Shape">The shape.</param>
/// <param name="Origin">Where it comes from.</param>
public sealed record FoundShape(Shape Shape, ShapeOrigin Origin);

/// <summary>All teachable shapes of a chord: the library's grips, their reductions, and the rest by search.</summary>
/// <remarks>Shapes are what the hand sees; a capo does not change them. Results are kept, since songs share chords. Safe for
/// several threads.</remarks>
public sealed class ShapeFinder
{
    private const int FewestStrings = 3;
    private const int SearchWindow = 4;      // frets a search may span
    private const int SearchHighest = 10;
    private const int ShapeBytes = 160;

    private static readonly ResultKind<(Tuning Tuning, string Chord), IReadOnlyList<FoundShape>> TaughtShapes =
        new("taught shapes", 0.06, found => ShapeBytes * (long)found.Count, 30 * ShapeBytes);

    private static readonly ResultKind<(Tuning Tuning, string Chord), IReadOnlyList<FoundShape>> SearchedShapes =
        new("searched shapes", 0.06, found => ShapeBytes * (long)found.Count, 100 * ShapeBytes);

    private readonly ResultCache _cache;
    private readonly Tuning _tuning;
    private readonly bool _sameIntervals;
    private readonly int _shift;

    /// <summary>Prepares a finder.</summary>
    /// <param name="cache">Where shapes are kept.</param>
    /// <param name="tuning">The tuning.</param>
    public ShapeFinder(ResultCache cache, Tuning tuning)
    {
        (_cache, _tuning) = (cache, tuning);
        _shift = tuning.Strings[0] - Tuning.Standard.Strings[0];
        _sameIntervals = tuning.Strings.Count == 6 && tuning.Equals(Tuning.Standard.Shift(Math.Clamp(_shift, -12, 12)));
    }

    /// <summary>The tuning the shapes are for.</summary>
    public Tuning Tuning => _tuning;

    /// <summary>Grips and their reductions that play a chord as written.</summary>
    /// <param name="chord">The chord as the fretboard sounds it without a capo.</param>
    public IReadOnlyList<FoundShape> Taught(Chord chord) =>
        _cache.GetOrAdd(TaughtShapes, (_tuning, chord.Name), _ => FindTaught(chord));

    /// <summary>Shapes of the chord that no grip covers, found in windows of four frets with open strings.</summary>
    public IReadOnlyList<FoundShape> Searched(Chord chord) =>
        _cache.GetOrAdd(SearchedShapes, (_tuning, chord.Name), _ => Search(chord));

    private IReadOnlyList<FoundShape> FindTaught(Chord chord)
    {
        if (!_sameIntervals) return FindTaughtElsewhere(chord);
        var found = new Dictionary<Shape, FoundShape>();
        // The library is written for standard tuning; a guitar tuned down k plays the grip of the chord k higher.
        var gripChord = _shift == 0 ? chord : Respell(chord, -_shift);
        var grips = (gripChord.IsDiminishedSeventh && gripChord.Bass is null ? Rotations(gripChord) : [gripChord])
            .SelectMany(c => GripLibrary.For(c, 12)).DistinctBy(g => g.Shape).ToList();
        foreach (var grip in grips) found.TryAdd(grip.Shape, new(grip.Shape, new(ShapeSource.Library, gripChord, grip)));
        foreach (var grip in grips)
            foreach (var (shape, low, high, lifted) in Reductions(grip.Shape, chord))
                found.TryAdd(shape, new(shape, new(ShapeSource.Reduction, gripChord, grip, low, high, lifted)));
        return [.. found.Values];
    }

    /// <summary>In another tuning: what is taught there, and what standard tuning teaches on the strings that are tuned as
    /// there.</summary>
    private IReadOnlyList<FoundShape> FindTaughtElsewhere(Chord chord)
    {
        var (known, shift) = _tuning.Apart();
        if (known.Strings.Count != Tuning.Standard.Strings.Count) return [];
        var gripChord = shift == 0 ? chord : Respell(chord, -shift);
        var found = new Dictionary<Shape, FoundShape>();
        var own = GripLibrary.For(gripChord, known, 12).ToList();
        foreach (var grip in own) found.TryAdd(grip.Shape, new(grip.Shape, new(ShapeSource.Library, gripChord, grip)));
        var changed =
            Enumerable.Range(0, known.Strings.Count).Where(s => known.Strings[s] != Tuning.Standard.Strings[s]).ToArray();
        foreach (var grip in GripLibrary.For(gripChord, 12).DistinctBy(g => g.Shape))
        {
            var rest = changed.Where(s => grip.Shape[s] >= 0).ToArray();
            if (rest.Length == 0) found.TryAdd(grip.Shape, new(grip.Shape, new(ShapeSource.Library, gripChord, grip)));
            else if (rest.All(
                    s => Array.TrueForAll([.. Enumerable.Range(0, s)], below => grip.Shape[below] < 0 || rest.Contains(below)))
                && grip.Shape.Sounding - rest.Length >= FewestStrings)
            {
                // The low strings that are tuned otherwise are left out.
                var shape = grip.Shape.Without(rest);
                if (_tuning.PitchClass(shape.BassString, shape[shape.BassString]) == chord.BassPitchClass)
                    found.TryAdd(shape, new(shape, new(ShapeSource.Reduction, gripChord, grip, rest.Length)));
            }
        }
        foreach (var grip in own)
            foreach (var (shape, low, high, lifted) in Reductions(grip.Shape, chord))
                found.TryAdd(shape, new(shape, new(ShapeSource.Reduction, gripChord, grip, low, high, lifted)));
        return [.. found.Values];
    }

    /// <summary>A diminished seventh named on each of its tones.</summary>
    private static IEnumerable<Chord> Rotations(Chord chord) => [chord, .. new[] { 3, 6, 9 }.Select(up => Respell(chord, up))];

    private static Chord Respell(Chord chord, int semitones) =>
        chord.MoveFifths(Music.Note.FromPitchClass(chord.Root.PitchClass + semitones).Fifths - chord.Root.Fifths);

    private IEnumerable<(Shape Shape, int Low, int High, int Lifted)> Reductions(Shape shape, Chord chord)
    {
        int low = shape.BassString, high = shape.TrebleString;
        for (var bass = 0; bass <= 3; bass++)
            for (var treble = 0; treble <= 2; treble++)
            {
                if (bass + treble == 0 || low + bass > high - treble) continue;
                if (shape[low + bass] < 0 || shape[high - treble] < 0) continue;
                var left = 0;
                for (var s = low + bass; s <= high - treble; s++) if (shape[s] >= 0) left++;
                if (left < FewestStrings) continue;
                int[] rest = [.. Enumerable.Range(0, low + bass),
                    .. Enumerable.Range(high - treble + 1, shape.StringCount - 1 - high + treble)];
                yield return (shape.Without(rest), bass, treble, -1);
            }
        // Lifting the finger of one string where its open string belongs to the chord.
        for (var s = low; s <= high; s++)
        {
            if (shape[s] <= 0 || (chord.PitchClassMask & 1 << _tuning.PitchClass(s, 0)) == 0) continue;
            var frets = shape.Frets.ToArray();
            frets[s] = 0;
            var lifted = new Shape(frets);
            if (lifted.LowestStopped > 3) continue;
            yield return (lifted, 0, 0, s);
            if (low == s || lifted.Sounding - (s - low) < FewestStrings) continue;
            for (var bass = 1; bass <= 2; bass++)
            {
                if (lifted.Sounding - bass < FewestStrings || shape[low + bass] < 0) continue;
                yield return (lifted.Without([.. Enumerable.Range(0, low + bass)]), bass, 0, s);
            }
        }
    }

    private IReadOnlyList<FoundShape> Search(Chord chord)
    {
        var mask = chord.PitchClassMask;
        var needed = chord.Degrees.Where(
            d => d.Role is DegreeRole.ThirdOrSuspension or DegreeRole.Seventh or DegreeRole.Root or DegreeRole.AlteredFifth)
            .Aggregate(0, (m, d) => m | 1 << (chord.Root.PitchClass + d.Semitones) % 12);
        var strings = _tuning.Strings.Count;
        var found = new HashSet<Shape>();
        var frets = new int[strings];
        for (var window = 1; window <= SearchHighest; window++)
            for (var bass = 0; bass <= strings - 4; bass++)
                for (var treble = strings - 1; treble >= Math.Max(bass + 3, strings - 2); treble--)
                {
                    Array.Fill(frets, Shape.LeftOut);
                    Fill(bass, bass, treble, window, 0);
                }
        // Three treble strings under few fingers: for first fingers the root may be left to others.
        if (strings == 6)
        {
            needed =
                chord.Degrees.Where(d => d.Role is DegreeRole.ThirdOrSuspension or DegreeRole.Seventh or DegreeRole.AlteredFifth)
                .Aggregate(0, (m, d) => m | 1 << (chord.Root.PitchClass + d.Semitones) % 12);
            for (var window = 1; window <= 4; window++)
            {
                Array.Fill(frets, Shape.LeftOut);
                Fill(3, -1, 5, window, 0);
            }
        }
        var origin = new ShapeOrigin(ShapeSource.Search, chord, null);
        return [.. found.Select(s => new FoundShape(s, origin))];

        void Fill(int s, int bass, int treble, int window, int sounding, int above = 0)
        {
            // Four fingers, and one of them may hold two strings.
            if (above > 5) return;
            if (s > treble)
            {
                if ((needed & ~sounding) != 0 || !Pressable(frets, window)) return;
                found.Add(new Shape(frets));
                return;
            }
            // Under a high window only open strings of the outer bass ring well; a mix far up the neck is kept out by the search
            // height.
            for (var fret = 0; fret < window + SearchWindow; fret = fret == 0 ? window : fret + 1)
            {
                var pitchClass = _tuning.PitchClass(s, fret);
                if ((mask & 1 << pitchClass) == 0) continue;
                if (s == bass && pitchClass != chord.BassPitchClass) continue;
                frets[s] = fret;
                Fill(s + 1, bass, treble, window, sounding | 1 << pitchClass, fret > window ? above + 1 : above);
            }
            frets[s] = Shape.LeftOut;
        }
    }

    /// <summary>A quick necessary test: the lowest fret is the window's, and four fingers can be enough.</summary>
    private static bool Pressable(int[] frets, int window)
    {
        int atLowest = 0, above = 0, firstLow = -1, lastLow = -1, opens = 0;
        for (var s = 0; s < frets.Length; s++)
        {
            if (frets[s] == window) { atLowest++; if (firstLow < 0) firstLow = s; lastLow = s; }
            else if (frets[s] > window) above++;
            else if (frets[s] == 0) opens++;
        }
        if (atLowest == 0 || opens > 0 && window > 7) return false;
        var barred = true;
        for (var s = firstLow; s <= lastLow; s++) barred &= frets[s] != 0;
        return (barred ? 1 : atLowest) + above <= 5;
    }
}
