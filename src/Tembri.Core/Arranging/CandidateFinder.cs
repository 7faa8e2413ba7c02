using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>Gathers every way to play a chord: all substitutions, all their shapes, the best fingerings of each.</summary>
public sealed class CandidateFinder(ResultCache cache)
{
    private static readonly IdiomWeights W = IdiomWeights.Default;
    private const int MostSearched = 48;
    private const int ReachableHighest = 9;     // chords of a song stay in the lower part of the neck
    private const int FirstPosition = 4;        // frets in which the usual shape of a chord is looked for first
    private const int ChoiceBytes = 120;
    private const int CandidateBytes = 130;

    private static readonly ResultKind<ChoiceKey, IReadOnlyList<ShapeChoice>> ShapeChoices =
        new("shapes with their closeness", 0.10, choices => ChoiceBytes * (long)choices.Count, 100 * ChoiceBytes);

    private static readonly ResultKind<CandidateKey, CandidateList> Lists =
        new("candidates", 0.26, list => CandidateBytes * (long)list.Count, 150 * CandidateBytes);

    private readonly record struct ChoiceKey(string Chord, Accompaniment Accompaniment, Tuning Tuning, int Melody);

    private sealed record ShapeChoice(SubstitutionKind Kind, Chord Played, FoundShape Found, ClosenessReport Closeness);

    /// <summary>All candidates for a chord, unsorted; shapes the hand cannot do are left out, and those that keep next to
    /// nothing of the chord.</summary>
    /// <param name="chord">The chord at the pitch of the shapes (the sounding chord moved down by the capo).</param>
    /// <param name="book">The player's fingerings at this capo.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="tuning">Open strings; those of the guitar when null.</param>
    public IReadOnlyList<Candidate> For(Chord chord, FingeringBook book, Accompaniment accompaniment, Tuning? tuning = null) =>
        ListFor(chord, book, accompaniment, tuning ?? book.Neck.Guitar.Strings, 0);

    /// <summary>The same with the tune over the chord, as <see cref="Closeness.Of"/> takes it.</summary>
    internal CandidateList ListFor(Chord chord, FingeringBook book, Accompaniment accompaniment, Tuning tuning, int melody) =>
        cache.GetOrAdd(Lists, new CandidateKey(chord.Name, accompaniment, book.Key, tuning, melody),
            _ => new CandidateList(Find(chord, book, accompaniment, tuning, melody)));

    /// <summary>How little a candidate is what teachers teach first: unusual, heavy, or far from the chord; 0 is the most
    /// teachable.</summary>
    public static double Strangeness(Candidate c) =>
        1.5 * (c.Idiom + c.Habit) + 0.12 * c.Load + 60 * (1 - c.Closeness.Value)
            + 1.6 * Math.Max(0, c.Fingering.Shape.LowestStopped - 2);

    private List<Candidate> Find(Chord chord, FingeringBook book, Accompaniment accompaniment, Tuning tuning, int melody)
    {
        var thin = chord.Degrees.Count <= 2;
        var candidates = new List<Candidate>(256);
        foreach (var choice in Choices(chord, accompaniment, tuning, melody))
        {
            var fingerings = book.Of(choice.Found.Shape);
            // What teachers teach for the shape counts as usual; where they teach nothing, what people use does.
            var taught = false;
            for (var i = 0; i < fingerings.Count; i++) taught |= GripLibrary.IsUsual(fingerings[i]);
            for (var i = 0; i < fingerings.Count; i++)
            {
                if (i > 0 && fingerings[i].Effort - fingerings[0].Effort > W.FingeringSlack) continue;
                if (IsBrokenBarre(fingerings[i], choice.Found.Origin)) continue;
                var usual = taught ? GripLibrary.IsUsual(fingerings[i]) : i == 0;
                var kind = !usual && choice.Kind == SubstitutionKind.None ? SubstitutionKind.OtherFingering : choice.Kind;
                candidates.Add(new Candidate(kind, choice.Played, fingerings[i], choice.Found.Origin, choice.Closeness,
                    Idiom(choice, fingerings[i]), usual ? 0 : W.UnusualFingers + W.OddFingers * fingerings[i].Oddness,
                    ThinByNature: thin));
            }
        }
        return candidates;
    }

    /// <summary>A long barre out of which a finger was lifted, or with a silent or an open string in it, is played by
    /// nobody.</summary>
    private static bool IsBrokenBarre(Fingering fingering, ShapeOrigin origin) =>
        fingering.LongestBarre > Barre.LongestShort && origin.Source != ShapeSource.Library
            && (origin.Lifted >= 0 || fingering.Shape.InteriorMutes > 0 || fingering.Shape.HasOpenString);

    /// <summary>Makes the candidate for a shape the teacher chose, whatever it is.</summary>
    /// <param name="chord">The chord at the pitch of the shapes.</param>
    /// <param name="fingering">The fingering chosen.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="melody">The tune over the chord, as <see cref="Closeness.Of"/> takes it.</param>
    /// <param name="strings">Open strings; standard when null.</param>
    public Candidate Locked(Chord chord, Fingering fingering, Accompaniment accompaniment, int melody = 0,
        Tuning? strings = null)
    {
        strings ??= Tuning.Standard;
        var choice = Choices(chord, accompaniment, strings, melody).FirstOrDefault(c => c.Found.Shape.Equals(fingering.Shape));
        return choice is not null
            ? new Candidate(choice.Kind, choice.Played, fingering, choice.Found.Origin, choice.Closeness, 0, Locked: true)
            : new Candidate(SubstitutionKind.None, chord, fingering, null,
                Closeness.Of(fingering.Shape, chord, strings, 0, accompaniment, Fullest(chord, strings), melody), 0,
                Locked: true);
    }

    /// <summary>How near any shape comes to a chord, on the scale candidates are weighed by.</summary>
    public ClosenessReport ClosenessOf(Chord chord, Shape shape, Accompaniment accompaniment, int melody = 0,
        Tuning? strings = null) =>
        new ClosenessScale(chord, strings ?? Tuning.Standard, 0, accompaniment, Fullest(chord, strings ?? Tuning.Standard),
                melody).Of(shape);

    /// <summary>Everything that plays another chord in place of one, weighed against the one it stands for; shapes that are an
    /// odd way to play the other are left out.</summary>
    /// <param name="chord">The chord on the record, at the pitch of the shapes.</param>
    /// <param name="other">The chord played.</param>
    /// <param name="book">The player's fingerings at this capo.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="melody">The tune over the chord, as <see cref="Closeness.Of"/> takes it.</param>
    public IReadOnlyList<Candidate> Playing(Chord chord, Chord other, FingeringBook book, Accompaniment accompaniment,
        int melody = 0)
    {
        var strings = book.Neck.Guitar.Strings;
        var scale = new ClosenessScale(chord, strings, 0, accompaniment, Fullest(other, strings), melody);
        return [.. ListFor(other, book, accompaniment, strings, melody)
            .Where(c => c.Kind is SubstitutionKind.None or SubstitutionKind.OtherFingering or SubstitutionKind.FewerStrings)
            .Select(c =>
                c with { Kind = other.Equals(chord) ? c.Kind : SubstitutionKind.Own, Closeness = scale.Of(c.Fingering.Shape) })];
    }

    private IReadOnlyList<ShapeChoice> Choices(Chord chord, Accompaniment accompaniment, Tuning tuning,
        int melody) => cache.GetOrAdd(ShapeChoices, new(chord.Name, accompaniment, tuning, melody), _ =>
    {
        var finder = new ShapeFinder(cache, tuning);
        var choices = new Dictionary<Shape, ShapeChoice>();
        var scale = new ClosenessScale(chord, tuning, 0, accompaniment, Fullest(chord, tuning), melody);
        void Add(SubstitutionKind kind, Chord played, FoundShape found)
        {
            if (found.Shape.HighestStopped > ReachableHighest || choices.ContainsKey(found.Shape)) return;
            if (kind == SubstitutionKind.None && found.Origin.Source == ShapeSource.Reduction)
                kind = SubstitutionKind.FewerStrings;
            var closeness = scale.Of(found.Shape);
            if (closeness.Value >= W.LeastCloseness) choices[found.Shape] = new ShapeChoice(kind, played, found, closeness);
        }
        foreach (var substitution in SubstitutionFinder.For(chord))
            foreach (var found in finder.Taught(substitution.Chord)) Add(substitution.Kind, substitution.Chord, found);
        var searched = finder.Searched(chord)
            .OrderBy(f => f.Shape.LowestStopped + (f.Shape.HighestStopped - f.Shape.LowestStopped) * 1.5
                + (f.Shape.StringCount - 1 - f.Shape.TrebleString) * 2 + f.Shape.Frets.Count(x => x > 0) * 0.8)
            .ThenBy(f => f.Shape.ToString(), StringComparer.Ordinal).Take(MostSearched);
        foreach (var found in searched) Add(SubstitutionKind.None, chord, found);
        return [.. choices.Values];
    });

    /// <summary>Strings of the fullest shape taught for a chord in the first four frets, or anywhere when there is none; 4 to
    /// 6.</summary>
    private int Fullest(Chord chord, Tuning tuning)
    {
        var taught = new ShapeFinder(cache, tuning).Taught(chord).Where(f => f.Origin.Source == ShapeSource.Library)
            .Select(f => f.Shape).ToList();
        var low = taught.Where(s => s.HighestStopped <= FirstPosition && s.Sounding >= 4).ToList();
        return Math.Clamp(
            (low.Count > 0 ? low : taught).Select(s => s.Sounding).DefaultIfEmpty(chord.Degrees.Count > 3 ? 4 : 5).Max(), 4, 6);
    }

    private static double Idiom(ShapeChoice choice, Fingering fingering)
    {
        var shape = choice.Found.Shape;
        var origin = choice.Found.Origin;
        var isGrip = origin.Source == ShapeSource.Library;
        var points = origin.Source switch { ShapeSource.Library => 0.0, ShapeSource.Reduction => W.Reduction, _ => W.Search };
        points += choice.Kind switch
        {
            SubstitutionKind.ColourRelative => W.ColourRelative,
            SubstitutionKind.SharedTones => W.SharedTones,
            SubstitutionKind.PowerChord => W.PowerChord,
            _ => 0,
        };
        if (origin.Source == ShapeSource.Reduction)
            points += W.ReductionBassString * (shape.BassString - origin.Grip!.Shape.BassString);
        if (origin.Lifted >= 0) points += W.Lifted;
        if (origin.Grip is { Rare: true }) points += W.Rare;
        var isRelative = choice.Kind is SubstitutionKind.ColourRelative or SubstitutionKind.SharedTones;
        if (isRelative && choice.Closeness.WrongBass) points += W.RelativeOverAnotherBass;
        if (fingering.FingerCount == 0 && !fingering.UsesThumb && !isGrip) points += W.OpenStringsAlone;
        points += (isGrip ? W.TrebleLeftOutOfGrip : W.TrebleLeftOut) * (shape.StringCount - 1 - shape.TrebleString);
        if (!isGrip) points += W.InnerMute * shape.InteriorMutes;
        if (origin.Source == ShapeSource.Search && shape.HasOpenString && shape.LowestStopped > W.HighFret)
            points += W.OpenUnderHighHand;
        points += Math.Max(0, shape.LowestStopped - W.HighFret) * W.FretAboveHigh;
        return points;
    }
}

/// <summary>All that the candidates of a chord depend on.</summary>
internal readonly record struct CandidateKey(string Chord, Accompaniment Accompaniment, BookKey Book, Tuning Tuning, int Melody);
