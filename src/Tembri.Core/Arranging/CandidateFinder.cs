using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Swaps;

namespace Tembri.Core.Arranging;

/// <summary>Gathers every way to play a chord: all swaps, all their shapes, the best fingerings of each.</summary>
public static class CandidateFinder
{
    private const double FingeringSlack = 9;    // effort a further fingering may cost beyond the first
    private const int MostSearched = 48;
    private const double UnusualFingers = 8;
    private const double LeastCloseness = 0.3;
    private const int ReachableHighest = 9;     // chords of a song stay in the lower part of the neck
    private const int FirstPosition = 4;        // frets in which the usual shape of a chord is looked for first
    private static readonly KeptResults<(string Chord, Company Company, Tuning Tuning, int Melody), IReadOnlyList<ShapeChoice>> Known = new(24, choices => 200L * choices.Count, shared: true);

    private static readonly KeptResults<(string Chord, Company Company, FingeringBook Book, Tuning Tuning, int Melody), CandidateList> KnownCandidates = new(48, list => 220L * list.Count, shared: true);

    private sealed record ShapeChoice(SwapKind Kind, Chord Played, FoundShape Found, ClosenessReport Closeness);

    /// <summary>All candidates for a chord, unsorted; shapes the hand cannot do are left out, and those that keep next to nothing of the chord.</summary>
    /// <param name="chord">The chord at the pitch of the shapes (the sounding chord moved down by the capo).</param>
    /// <param name="book">The player's fingerings at this capo.</param>
    /// <param name="company">Who plays along.</param>
    /// <param name="tuning">Open strings; standard when null.</param>
    public static IReadOnlyList<Candidate> For(Chord chord, FingeringBook book, Company company, Tuning? tuning = null) => ListFor(chord, book, company, tuning ?? Tuning.Standard, 0);

    /// <summary>The same with the tune over the chord, as <see cref="Closeness.Of"/> takes it.</summary>
    internal static CandidateList ListFor(Chord chord, FingeringBook book, Company company, Tuning tuning, int melody) =>
        KnownCandidates.GetOrAdd((chord.Name, company, book, tuning, melody), key => new CandidateList(Find(chord, book, company, key.Tuning, key.Melody)));

    /// <summary>How little a candidate is what teachers teach first: unusual, heavy, or far from the chord; 0 is the most teachable.</summary>
    public static double Strangeness(Candidate c) => 1.5 * c.Idiom + 0.12 * c.Load + 60 * (1 - c.Closeness.Value) + 1.6 * Math.Max(0, c.Fingering.Shape.LowestStopped - 2);

    private static IEnumerable<Candidate> Find(Chord chord, FingeringBook book, Company company, Tuning tuning, int melody)
    {
        foreach (var choice in Choices(chord, company, tuning, melody))
        {
            var fingerings = book.Of(choice.Found.Shape);
            // What teachers teach for the shape counts as usual; where they teach nothing, the lightest does.
            var taught = fingerings.Any(f => GripLibrary.IsUsual(f.Shape, f.Fingers));
            for (var i = 0; i < fingerings.Count; i++)
            {
                if (i > 0 && fingerings[i].Effort - fingerings[0].Effort > FingeringSlack) break;
                var kind = i > 0 && choice.Kind == SwapKind.None ? SwapKind.OtherFingering : choice.Kind;
                yield return new Candidate(kind, choice.Played, fingerings[i], choice.Found.Source, choice.Found.Description, choice.Closeness,
                    Idiom(choice, fingerings[i]) + (GripLibrary.IsUsual(choice.Found.Shape, fingerings[i].Fingers) || !taught && i == 0 ? 0 : UnusualFingers),
                    ThinByNature: chord.Degrees.Count <= 2);
            }
        }
    }

    /// <summary>Makes the candidate for a shape the teacher chose, whatever it is.</summary>
    /// <param name="chord">The chord at the pitch of the shapes.</param>
    /// <param name="fingering">The fingering chosen.</param>
    /// <param name="company">Who plays along.</param>
    /// <param name="melody">The tune over the chord, as <see cref="Closeness.Of"/> takes it.</param>
    public static Candidate Locked(Chord chord, Fingering fingering, Company company, int melody = 0)
    {
        var choice = Choices(chord, company, Tuning.Standard, melody).FirstOrDefault(c => c.Found.Shape.Equals(fingering.Shape));
        return choice is not null
            ? new Candidate(choice.Kind, choice.Played, fingering, choice.Found.Source, choice.Found.Description, choice.Closeness, 0, Locked: true)
            : new Candidate(SwapKind.None, chord, fingering, ShapeSource.Search, "the teacher's own shape", Closeness.Of(fingering.Shape, chord, Tuning.Standard, 0, company, Fullest(chord, Tuning.Standard), melody), 0, Locked: true);
    }

    private static IReadOnlyList<ShapeChoice> Choices(Chord chord, Company company, Tuning tuning, int melody) => Known.GetOrAdd((chord.Name, company, tuning, melody), key =>
    {
        var finder = ShapeFinder.For(key.Tuning);
        var choices = new Dictionary<Shape, ShapeChoice>();
        var fullest = Fullest(chord, key.Tuning);
        void Add(SwapKind kind, Chord played, FoundShape found)
        {
            if (found.Shape.HighestStopped > ReachableHighest || choices.ContainsKey(found.Shape)) return;
            if (kind == SwapKind.None && found.Source == ShapeSource.Reduction) kind = SwapKind.FewerStrings;
            var closeness = Closeness.Of(found.Shape, chord, key.Tuning, 0, key.Company, fullest, key.Melody);
            if (closeness.Value >= LeastCloseness) choices[found.Shape] = new ShapeChoice(kind, played, found, closeness);
        }
        foreach (var swap in SwapFinder.For(chord))
            foreach (var found in finder.Taught(swap.Chord)) Add(swap.Kind, swap.Chord, found);
        var searched = finder.Searched(chord)
            .OrderBy(f => f.Shape.LowestStopped + (f.Shape.HighestStopped - f.Shape.LowestStopped) * 1.5 + (f.Shape.StringCount - 1 - f.Shape.TrebleString) * 2 + f.Shape.Frets.Count(x => x > 0) * 0.8)
            .ThenBy(f => f.Shape.ToString(), StringComparer.Ordinal).Take(MostSearched);
        foreach (var found in searched) Add(SwapKind.None, chord, found);
        return [.. choices.Values];
    });

    /// <summary>Strings of the fullest shape taught for a chord in the first four frets, or anywhere when there is none; 4 to 6.</summary>
    private static int Fullest(Chord chord, Tuning tuning)
    {
        var taught = ShapeFinder.For(tuning).Taught(chord).Where(f => f.Source == ShapeSource.Library).Select(f => f.Shape).ToList();
        var low = taught.Where(s => s.HighestStopped <= FirstPosition && s.Sounding >= 4).ToList();
        return Math.Clamp((low.Count > 0 ? low : taught).Select(s => s.Sounding).DefaultIfEmpty(chord.Degrees.Count > 3 ? 4 : 5).Max(), 4, 6);
    }

    private static double Idiom(ShapeChoice choice, Fingering fingering)
    {
        var shape = choice.Found.Shape;
        var points = choice.Found.Source switch { ShapeSource.Library => 0.0, ShapeSource.Reduction => 6.0, _ => 20.0 };
        points += choice.Kind switch { SwapKind.ColourRelative => 2, SwapKind.SharedTones => 6, SwapKind.PowerChord => 4, _ => 0 };
        if (choice.Found.Source == ShapeSource.Reduction) points += 0.5 * (shape.BassString - choice.Found.Grip!.Shape.BassString);
        if (choice.Found.Lifted) points += 5;
        if (choice.Found.Grip is { Rare: true }) points += 5;
        // A relative over another bass is heard as another chord: G6 over E is E minor.
        if (choice.Kind is SwapKind.ColourRelative or SwapKind.SharedTones && choice.Closeness.WrongBass) points += 8;
        // Open strings alone are hardly a chord to teach, however easy.
        if (fingering.FingerCount == 0 && !fingering.UsesThumb) points += 25;
        points += (choice.Found.Source == ShapeSource.Library ? 2.0 : 6.0) * (shape.StringCount - 1 - shape.TrebleString);
        if (choice.Found.Source != ShapeSource.Library) points += 4.0 * shape.InteriorMutes;
        // Open strings under a hand far up the neck are a colour of their own.
        if (choice.Found.Source == ShapeSource.Search && shape.HasOpenString && shape.LowestStopped > 3) points += 4;
        points += Math.Max(0, fingering.Shape.LowestStopped - 3) * 1.5;
        return points;
    }
}
