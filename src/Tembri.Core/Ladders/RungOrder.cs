using Tembri.Core.Arranging;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>Keeps a ladder a ladder: no rung weighs less or sounds farther off than the rung below, but for what the teacher
/// put there herself.</summary>
internal sealed class RungOrder(PlaceArranger places)
{
    private static readonly PlaceWeights W = PlaceWeights.Default;
    private const double Hair = 1e-9;
    private const int Halvings = 5;

    /// <summary>True when the arranger chose everything. A rung on which the teacher had her way stands where she put it: the
    /// others do not give way to it.</summary>
    public static bool IsFree(Arrangement? arrangement) =>
        arrangement is not null && arrangement.Choices.All(c => !c.Locked && !c.Wanted);

    /// <summary>True when one rung weighs no less than another and sounds no farther off; where one is not there, nothing is
    /// broken.</summary>
    public static bool IsAbove(Arrangement? a, Arrangement? below) =>
        a is null || below is null || a.Load >= below.Load - Hair && a.Closeness >= below.Closeness - Hair;

    /// <summary>Makes sure a rung neither weighs less nor sounds farther off than the rung below.</summary>
    /// <remarks>Weighing the sound more moves along the supported trade-offs, so load and closeness both rise; if that is not
    /// enough the rung repeats the one below.</remarks>
    public static Arrangement Climb(Arranger arranger, RungLimits limits, Dictionary<int, Candidate> locks, Arrangement below,
        Arrangement found)
    {
        for (var weight = limits.ClosenessWeight * 1.6; !IsAbove(found, below) && weight < limits.ClosenessWeight * 20;
            weight *= 2.2)
            found = arranger.Arrange(limits, weight, locks, below).Found ?? found;
        if (IsAbove(found, below)) return found;
        var repeated = Repeat(arranger, limits, locks, below, found);
        return IsAbove(repeated, below) ? repeated : Repeat(arranger, limits, locks, below, found, whatever: true);
    }

    /// <summary>Plays what another rung plays, as far as this rung may.</summary>
    private static Arrangement Repeat(Arranger arranger, RungLimits limits, Dictionary<int, Candidate> locks, Arrangement other,
        Arrangement here, bool whatever = false)
    {
        var choices = other.Choices.Select((c, i) => locks.GetValueOrDefault(i) ?? Repeated(c, i)).ToList();
        return arranger.Weigh(limits, choices, here.Objective) with
        {
            IsProved = here.IsProved && other.IsProved, LeftOut = here.LeftOut,
        };

        Candidate Repeated(Candidate theirs, int chord)
        {
            if (arranger.Refuses(chord, limits, theirs)) return here.Choices[chord];
            var isHeard = here.Heard(chord) is not null;
            var isAllowed = other.Heard(chord) is not null && arranger.MayPlay(chord, limits, theirs);
            return whatever || !isHeard || isAllowed ? theirs with { Locked = false } : here.Choices[chord];
        }
    }

    /// <summary>A rung that came out heavier than the one above, or closer than it, weighs the sound less; if that is not enough
    /// it repeats the rung below, or, where that is too heavy as well, the one above.</summary>
    public void LowerTooHeavy(Arranger arranger, Arrangement?[] rungs, int capo)
    {
        for (var r = rungs.Length - 2; r >= 0; r--)
        {
            var above = rungs.Skip(r + 1).FirstOrDefault(IsFree);
            if (rungs[r] is not { } here || !IsFree(here) || above is null || IsAbove(above, here)) continue;
            var limits = places.Rungs[r];
            var below = rungs.Take(r).LastOrDefault(IsFree);
            var locks = places.LocksFor(limits, capo);
            for (var weight = limits.ClosenessWeight / 2; weight > 0.02 && !IsAbove(above, here); weight /= 2)
                if (arranger.Arrange(limits, weight, locks, below, above).Found is { } lighter && IsAbove(lighter, below))
                    here = lighter;
            // One finger more than the rung has is nearer to its promise than a thinner chord; a barre where there is none is
            // not.
            var fits = MayLay(limits, above);
            foreach (var (other, whatever) in new[]
            {
                (below, false), (above, false), (fits ? above : below, true), (fits ? below : above, true)
            })
                if (!IsAbove(above, here) && other is not null
                    && Repeat(arranger, limits, locks, other, here, whatever) is var repeated && IsAbove(repeated, below))
                    here = repeated;
            // The record is never changed, so what overtakes it plays it; the rungs below follow.
            rungs[r] = IsAbove(above, here) ? here : Repeat(arranger, limits, locks, above, here, whatever: true);
        }
        // What was left with a barre it may not lay plays the rung below, now that this one gave way as well.
        for (var r = 1; r < rungs.Length - 1; r++)
        {
            var limits = places.Rungs[r];
            if (rungs[r] is not { } here || rungs[r - 1] is not { } below || !IsFree(here) || !IsFree(below)
                || MayLay(limits, here))
                continue;
            var repeated = Repeat(arranger, limits, places.LocksFor(limits, capo), below, here, whatever: true);
            if (IsAbove(repeated, below) && IsAbove(rungs.Skip(r + 1).FirstOrDefault(IsFree), repeated)) rungs[r] = repeated;
        }
    }

    /// <summary>True when no finger lies over more strings than a rung has it, and no thumb is used that it does not have;
    /// shapes of the teacher's are as she wants them.</summary>
    private static bool MayLay(RungLimits limits, Arrangement arrangement) =>
        arrangement.Choices.All(
            c => c.Locked || c.Fingering.LongestBarre <= limits.LongestBarre && (limits.Thumb || !c.Fingering.UsesThumb));

    /// <summary>Uses a rung that hardly differs from the one above to divide a wide step below it, where the song
    /// allows.</summary>
    /// <remarks>For the place that is played only; positions are compared as each rung likes itself best.</remarks>
    public ArrangedPlace EvenOut(ArrangedPlace place)
    {
        var rungs = place.Rungs.ToArray();
        for (var r = rungs.Length - 2; r > 0; r--)
        {
            if (rungs[r - 1] is not { } below || rungs[r] is not { } here || rungs[r + 1] is not { } above || !IsFree(below)
                || !IsFree(here) || !IsFree(above))
                continue;
            if (above.Load - here.Load > W.AlikeLoad || here.Load - below.Load < W.WideStep) continue;
            var limits = places.Rungs[r];
            var locks = places.LocksFor(limits, place.Capo);
            var enough = here.Load - (here.Load - below.Load) / 3;
            // The less the sound weighs, the lighter the version: the weight that just makes a step is found by halving.
            var (low, high) = (W.LowestWeight, limits.ClosenessWeight);
            for (var i = 0; i < Halvings; i++)
            {
                var weight = Math.Sqrt(low * high);
                if (places.ArrangerAt(place.Capo).Arrange(limits, weight, locks, below, above).Found is not { } lighter) break;
                if (lighter.Load > enough) { high = weight; continue; }
                low = weight;
                if (lighter.Load - below.Load >= W.AlikeLoad && IsAbove(lighter, below) && IsAbove(above, lighter))
                    rungs[r] = lighter;
            }
        }
        return place with { Rungs = rungs };
    }
}
