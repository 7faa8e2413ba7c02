using Tembri.Core.Arranging;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>Where to go from the rung a student works on.</summary>
public enum Step
{
    /// <summary>On: it is right for now.</summary>
    Stay,
    /// <summary>It goes: the next rung may be taken up.</summary>
    Up,
    /// <summary>It is too much for now: the rung below plays the same song.</summary>
    Down,
}

/// <summary>Why.</summary>
public enum StepReason
{
    /// <summary>Nothing was practised on this rung yet.</summary>
    NothingYet,
    /// <summary>The skills say it should go; nobody has played it through yet.</summary>
    NotPlayedYet,
    /// <summary>It is ready, and played.</summary>
    Ready,
    /// <summary>It is ready, and there is none above.</summary>
    Top,
    /// <summary>It is ready, but what comes next has barres while something hurts, or while they are to be avoided.</summary>
    NextHasBarres,
    /// <summary>It is ready, but the student wants to sing along, and it does not go with room to spare.</summary>
    NotYetWithSinging,
    /// <summary>It is ready, but what comes next would be far too much yet.</summary>
    NextIsMuch,
    /// <summary>It grows.</summary>
    Growing,
    /// <summary>It is too much after days of trying.</summary>
    TooMuch,
    /// <summary>It has barres, and something hurts.</summary>
    HasBarres,
}

/// <summary>What is advised about the rung.</summary>
/// <param name="Step">Where to.</param>
/// <param name="Reason">Why.</param>
/// <param name="To">The rung advised; null to stay.</param>
/// <param name="NewShapes">Chords with shapes that are new on it, as indices among its chords.</param>
/// <param name="Barres">How many of those are full barres, how many short ones.</param>
public sealed record StepAdvice(Step Step, StepReason Reason, PlayableRung? To, IReadOnlyList<int> NewShapes,
    (int Full, int Short) Barres)
{
    private const int DaysOfTrying = 4;
    private const double HardlyEver = 0.15;
    // of the song's tempo, at which nine of ten changes have to be in time to have a mind free for words
    private const double RoomToSing = 1.1;

    /// <summary>What was practised on the rung since it was taken up.</summary>
    /// <param name="Days">On how many days.</param>
    /// <param name="Played">Stretches that went clean at nine tenths of the song's tempo or more.</param>
    public readonly record struct Evidence(int Days, int Played);

    /// <summary>Advises.</summary>
    /// <param name="graded">The ladder, graded for the student of today.</param>
    /// <param name="number">The rung that is worked on.</param>
    /// <param name="evidence">What was practised on it.</param>
    /// <param name="hurts">True while something hurts.</param>
    /// <param name="sings">True when the student wants to sing along.</param>
    public static StepAdvice Of(StudentLadder graded, int number, Evidence evidence, bool hurts = false, bool sings = false)
    {
        var rungs = graded.Ladder.Playable.ToList();
        var at = rungs.FindIndex(r => r.Number == number);
        if (at < 0) at = Math.Max(0, rungs.FindLastIndex(r => r.Number <= number));
        if (rungs.Count == 0) return new StepAdvice(Step.Stay, StepReason.NothingYet, null, [], (0, 0));
        var rung = rungs[at];
        var fit = graded.FitOf(rung)!;
        StepAdvice Stay(StepReason why) => new(Step.Stay, why, null, [], (0, 0));
        // Rungs that play the same are no step.
        var below = rungs.Take(at).LastOrDefault(r => !SameShapes(r, rung));
        var above = rungs.Skip(at + 1).FirstOrDefault(r => !SameShapes(r, rung) || !r.Strum.Equals(rung.Strum));
        if (hurts && HasBarre(rung) && rungs.Take(at).LastOrDefault(r => !HasBarre(r)) is { } without)
            return Go(Step.Down, StepReason.HasBarres, rung, without);
        if (fit.Verdict == Verdict.Ready)
        {
            if (evidence.Days == 0) return Stay(StepReason.NothingYet);
            if (evidence.Played == 0) return Stay(StepReason.NotPlayedYet);
            if (above is null) return Stay(StepReason.Top);
            if (sings && (fit.ComfortableTempo ?? 0) < RoomToSing * rung.Song.Chart.Tempo)
                return Stay(StepReason.NotYetWithSinging);
            if ((hurts || graded.Player.Barres == BarreGoal.Avoid)
                && Barred(rung, above).Full + (hurts ? Barred(rung, above).Short : 0) > 0)
                return Stay(StepReason.NextHasBarres);
            if (IsMuch(above, graded.FitOf(above)!) && graded.Player.Barres != BarreGoal.Seek)
                return Stay(StepReason.NextIsMuch);
            return Go(Step.Up, StepReason.Ready, rung, above);
        }
        if (IsMuch(rung, fit) && evidence.Days >= DaysOfTrying && (evidence.Played == 0 || fit.Verdict != Verdict.Ready)
            && below is not null)
            return Go(Step.Down, StepReason.TooMuch, rung, below);
        return Stay(evidence.Days == 0 ? StepReason.NothingYet : StepReason.Growing);
    }

    /// <summary>True when a rung is more than practice will mend soon: strained, or with a chord that hardly ever
    /// sounds.</summary>
    public static bool IsMuch(PlayableRung rung, VersionFit fit) =>
        fit.Verdict == Verdict.Strained || rung.Played.Any(c => rung.Flow.Beats[c.Index] > 0 && fit.Clean[c.Index] < HardlyEver);

    private static StepAdvice Go(Step step, StepReason why, PlayableRung from, PlayableRung to) =>
        new(step, why, to, NewShapesOf(from, to), Barred(from, to));

    /// <summary>Chords of a rung whose shapes another does not have.</summary>
    private static List<int> NewShapesOf(PlayableRung from, PlayableRung to)
    {
        var known = from.Played.Where(c => from.Flow.Beats[c.Index] > 0).Select(c => c.Choice.Fingering.Shape).ToHashSet();
        return [.. to.Played.Where(c => to.Flow.Beats[c.Index] > 0 && !known.Contains(c.Choice.Fingering.Shape))
            .DistinctBy(c => c.Choice.Fingering.Shape).Select(c => c.Index)];
    }

    /// <summary>Barres of a rung that another does not have: the same strings under one finger instead of two are one as
    /// well.</summary>
    private static (int Full, int Short) Barred(PlayableRung from, PlayableRung to)
    {
        static IEnumerable<Shapes.Fingering> Sounding(PlayableRung rung) =>
            rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).Select(c => c.Choice.Fingering);
        var known = Sounding(from).Select(f => f.ToString()).ToHashSet();
        var barres = Sounding(to).Where(f => !known.Contains(f.ToString())).DistinctBy(f => f.ToString())
            .Select(f => f.LongestBarre).ToList();
        return (barres.Count(b => b > Shapes.Barre.LongestShort), barres.Count(b => b is > 1 and <= Shapes.Barre.LongestShort));
    }

    private static bool HasBarre(PlayableRung rung) =>
        rung.Played.Any(c => rung.Flow.Beats[c.Index] > 0 && c.Choice.Fingering.LongestBarre > 1);

    private static bool SameShapes(PlayableRung a, PlayableRung b) =>
        a.Played.Select(c => c.Choice.Fingering.ToString()).ToHashSet()
            .SetEquals(b.Played.Select(c => c.Choice.Fingering.ToString()));
}
