using Tembri.Core.Chords;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>What a teacher would not play whatever it costs: rules that narrow what a rung allows for a chord, each as long as
/// something is left.</summary>
internal static class Manners
{
    private static readonly ArrangerWeights W = ArrangerWeights.Default;

    private static readonly Lazy<Dictionary<(int Root, bool Minor), int>> OpenTriads = new(() => GripLibrary.All
        .Where(g => !g.Movable && g.Shape.HasOpenString && g.Chord.Bass is null && g.Chord.Degrees.Count == 3 && g.Chord.Has(7)
            && (g.Chord.Has(4) || g.Chord.Has(3)))
        .GroupBy(g => (g.Chord.Root.PitchClass, g.Chord.IsMinor)).ToDictionary(g => g.Key, g => g.Max(x => x.Shape.Sounding)));

    /// <summary>Strings of the open shape every beginner learns for a chord; 0 when there is none.</summary>
    private static int OpenTriadStrings(Chord chord) =>
        chord.Bass is null && chord.Degrees.Count == 3 && chord.Has(7) && (chord.Has(4) || chord.Has(3))
            ? OpenTriads.Value.GetValueOrDefault((chord.Root.PitchClass, chord.IsMinor))
            : 0;

    /// <summary>The candidates of a chord that a rung plays.</summary>
    /// <param name="list">All candidates.</param>
    /// <param name="chord">The chord, at the pitch of the shapes.</param>
    /// <param name="guard">What the chart forbids.</param>
    /// <param name="limits">The rung.</param>
    public static int[] Narrow(CandidateList list, Chord chord, Guard guard, RungLimits limits)
    {
        int[] Within(RungLimits wider, Predicate<int> rule) =>
            [.. Enumerable.Range(0, list.Count).Where(v => wider.Allows(list[v]) && Allowed(list[v], guard) && rule(v))];
        var open = Array.FindAll(list.Open(limits), v => Allowed(list[v], guard));
        // What four strings cannot play, as Fm without a barre, three may, rather than that the rung is blocked.
        if (open.Length == 0 && !limits.IsRecord)
        {
            var thin = limits with { FewestStrings = limits.FewestStringsAtNeed };
            open = Within(thin, _ => true);
            if (open.Length == 0)
                open = Within(thin with { MostFingers = Math.Min(MostFingers, limits.MostFingers + 1) }, _ => true);
        }
        var root = chord.Root.PitchClass;
        bool Holds(int v, int semitones) => (list.Sound[v] >> (root + semitones) % 12 & 1) != 0;
        bool HoldsRoot(int v) => Holds(v, 0);
        bool IsKnown(int v) => HoldsRoot(v) && list[v].Closeness.Missing.All(d => d.Role != DegreeRole.ThirdOrSuspension);
        // A chord is known by its root and its third. Where two fingers cannot hold them, as in F, one more may.
        if (limits.FingersForRootAndThird is { } fingers && !Array.Exists(open, IsKnown)
            && Within(limits with { MostFingers = fingers }, IsKnown) is { Length: > 0 } known)
            open = known;
        open = Keep(open, HoldsRoot);
        // Home is where nothing asks to go on: no seventh, and no fourth that waits for the third.
        bool Waits(int v) => !chord.Has(5) && Holds(v, 5) && !Holds(v, 3) && !Holds(v, 4);
        if (guard.IsTonic) open = Keep(open, v => !Holds(v, 10) && !Waits(v));
        if (guard.Line != 0)
        {
            bool KeepsLine(int v) => Line(chord, list[v], guard.Line);
            if (limits.FingersForLines is { } more && !Array.Exists(open, KeepsLine)
                && Within(limits with { MostFingers = more }, KeepsLine) is { Length: > 0 } kept)
                open = kept;
            open = Keep(open, KeepsLine);
        }
        if (limits.WholeTriads && OpenTriadStrings(chord) is > 0 and var strings)
            open = Keep(open, v => IsWhole(list[v], strings));
        if (chord.Bass is not null && limits.SlashBass || guard.StepwiseBass)
        {
            bool HasBass(int v) => !list[v].Closeness.WrongBass;
            bool HasBassBelow(int v) =>
                HasBass(v) && list[v].Fingering.Shape.HighestStopped <= (limits.HighestFret ?? int.MaxValue);
            if (guard.StepwiseBass && limits.FingersForLines is { } more && !Array.Exists(open, HasBassBelow)
                && Within(limits with { MostFingers = more }, HasBassBelow) is { Length: > 0 } kept)
                open = kept;
            open = Keep(open, HasBass);
        }
        if (limits.HighestFret is { } highest) open = Keep(open, v => list[v].Fingering.Shape.HighestStopped <= highest);
        if (open.Length > 0 || !limits.IsRecord) return open;
        // The record rung plays a chord that this hand cannot do in full as nearly as it can.
        int[] possible = [.. Enumerable.Range(0, list.Count).Where(v => Allowed(list[v], guard))];
        var nearest = possible.Select(v => list[v].Closeness.Value).DefaultIfEmpty().Max();
        return Array.FindAll(possible, v => list[v].Closeness.Value >= nearest - W.NearEnough);
    }

    /// <summary>True when the chart does not forbid a candidate.</summary>
    public static bool Allowed(Candidate c, Guard guard)
    {
        if (guard.NoSuspension && c.Played.IsSuspended) return false;
        return !guard.KeepsThird || !c.Played.Has(11) && c.Closeness.Missing.All(d => d.Role != DegreeRole.ThirdOrSuspension);
    }

    private static bool Line(Chord chord, Candidate c, int line)
    {
        for (var above = 0; above < 12; above++)
            if ((line & 1 << above) != 0 && (c.Sound & 1 << (chord.Root.PitchClass + above) % 12) == 0) return false;
        return true;
    }

    /// <summary>All strings of the open shape, its bass and its tones; another tone only in the family of G, Em7 and Cadd9,
    /// where ring and little finger stay on the two highest strings.</summary>
    private static bool IsWhole(Candidate c, int strings) =>
        c.Closeness.Sounding >= strings && !c.Closeness.WrongBass && c.Closeness.Missing.Count == 0
            && (c.Closeness.ForeignMask == 0 || HasAnchorsOnTop(c.Fingering));

    private static bool HasAnchorsOnTop(Fingering fingering)
    {
        var (shape, ring, little) = (fingering.Shape, fingering.Spots[3], fingering.Spots[4]);
        return shape.TrebleString == shape.StringCount - 1 && ring.Fret == 3 && little.Fret == 3
            && ring.High == shape.TrebleString - 1 && little.Low == shape.TrebleString;
    }

    /// <summary>What keeps a rule, or everything where nothing does.</summary>
    private static int[] Keep(int[] open, Predicate<int> rule) =>
        Array.FindAll(open, rule) is { Length: > 0 } kept ? kept : open;

    private const int MostFingers = 4;   // a hand has no more
}
