using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;

namespace Tembri.Web.Words;

/// <summary>Says where a shape comes from, what forbids it on a rung, and what blocks a rung.</summary>
internal static class ShapeWords
{
    /// <summary>Where a shape comes from, such as <c>F with the two lowest strings left out</c>.</summary>
    /// <param name="origin">Where it comes from; null for the teacher's own.</param>
    /// <param name="shape">The shape, whose silent strings are counted.</param>
    /// <param name="names">Names of notes in use.</param>
    public static string Say(ShapeOrigin? origin, Shape shape, NoteNames names)
    {
        if (origin is null) return "the teacher's own shape";
        var chord = origin.Chord.Named(names).Name;
        return origin.Source switch
        {
            ShapeSource.Library => $"{chord}, {origin.Grip!.Family}",
            ShapeSource.Reduction => $"{chord} {Reduced(origin, shape)}",
            _ => $"{chord}, found on the neck",
        };
    }

    private static string Reduced(ShapeOrigin origin, Shape shape)
    {
        if (origin.Lifted < 0) return $"with {LeftOut(shape)}";
        var lifted = $"with the {StringName(origin.Lifted)} string open";
        return origin.LowLeftOut > 0 ? $"{lifted}, {LeftOut(shape)}" : lifted;
    }

    /// <summary>The outer strings that are silent.</summary>
    private static string LeftOut(Shape shape) => (shape.BassString, shape.StringCount - 1 - shape.TrebleString) switch
    {
        (> 0 and var low, > 0 and var high) => $"{Group(low, "lowest")} and {Group(high, "highest")} left out",
        (> 0 and var low, _) => $"{Group(low, "lowest")} left out",
        (_, var high) => $"{Group(high, "highest")} left out",
    };

    private static string Group(int count, string side) => count switch
    {
        1 => $"the {side} string",
        2 => $"the two {side} strings",
        3 => $"the three {side} strings",
        _ => $"the four {side} strings",
    };

    /// <summary>Which string it is, counted from the highest, in words.</summary>
    public static string StringName(int stringFromLow) => (6 - stringFromLow) switch
    {
        1 => "first", 2 => "second", 3 => "third", 4 => "fourth", 5 => "fifth", _ => "sixth",
    };

    /// <summary>Why a candidate is not allowed on a rung. The words finish the sentence "it …".</summary>
    public static string Say(RungLimit broken, Candidate c, RungLimits limits) => broken switch
    {
        RungLimit.Substitution => $"is a substitution ({SubstitutionWords.Name(c)}) this rung does not take",
        RungLimit.Fingers => $"needs {c.Fingering.FingerCount} fingers, the rung has {limits.MostFingers}",
        RungLimit.Barre => $"needs a barre over {c.Fingering.LongestBarre} strings",
        RungLimit.Thumb => "needs the thumb over the neck",
        RungLimit.Strings => $"sounds only {c.Closeness.Sounding} strings",
        RungLimit.Fret => $"goes up to fret {c.Fingering.Shape.HighestStopped}",
        RungLimit.Forbidden => "is not to be played, as you said",
        RungLimit.Load => $"weighs {c.Load:0}, the rung stops at {limits.LoadCeiling:0}",
        _ => $"keeps {100 * c.Closeness.Value:0} % of the sound, the rung asks for {100 * limits.ClosenessFloor:0} %",
    };

    /// <summary>Why a hand cannot hold a shape.</summary>
    /// <param name="far">The fingers that are too far apart; null when there are more places than fingers.</param>
    /// <param name="who">Whose hand.</param>
    public static string Say(TooFar? far, string who) => far is null
        ? "There are more places to press than fingers, also with a finger lying across."
        : string.Create(System.Globalization.CultureInfo.InvariantCulture,
            $"Out of reach: finger {(int)far.Low} to finger {(int)far.High} would be {far.Millimetres:0} mm, {who}’s hand "
                + $"spreads them {far.Greatest:0} mm at the very most.");

    /// <summary>The fingers of a shape from the lowest string on, in a few signs.</summary>
    public static string Fingers(Fingering fingering) => fingering.Fingers.All(f => f == Finger.None)
        ? "no finger"
        : "fingers "
            + string.Join(" ",
                fingering.Fingers.Select(
                    (f, s) => fingering.Shape[s] < 0 ? "×" : f == Finger.None ? "○" : f == Finger.Thumb ? "T" : $"{(int)f}"));

    /// <summary>What blocks a rung at a place.</summary>
    /// <param name="shape">Name of the chord at the pitch of the shapes.</param>
    /// <param name="nearest">What comes nearest and what forbids it.</param>
    /// <param name="limits">The rung.</param>
    public static string Blocked(string shape, (Candidate Candidate, RungLimit Broken)? nearest, RungLimits limits) =>
        nearest is var (candidate, broken)
        ? $"the nearest shape of {shape}, {candidate.Fingering.Shape}, {Say(broken, candidate, limits)}"
        : $"no shape of {shape} fits this hand here; another capo may";

    /// <summary>What blocks a rung, and what would free it.</summary>
    public static string Say(BlockedRung rung, NoteNames names)
    {
        var why = Blocked(rung.ShapeChord.Named(names).Name, rung.Nearest, rung.Limits);
        var elsewhere = rung.FreeAt.Count == 0
            ? "No place frees it; a substitution of your own would."
            : $"Capo {string.Join(", ", rung.FreeAt.Take(4))} would free it.";
        return $"{rung.Chord.Named(names).Name} blocks this rung: {why}. {elsewhere}";
    }
}
