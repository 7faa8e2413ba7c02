using Tembri.Core.Arranging;

namespace Tembri.Core.Students;

/// <summary>Chooses the rung a student works on.</summary>
internal static class WorkingRung
{
    /// <summary>
    /// The lowest growing rung above all ready ones, else the highest ready one, else the lowest of all. Who seeks barres goes
    /// to the lowest growing rung with one; who avoids them is led to no rung with a full one,
    /// unless there is no other.
    /// </summary>
    /// <param name="verdicts">The verdict on each rung, the first first; null where a rung is blocked.</param>
    /// <param name="hasBarre">Says whether a rung, counted from 0, has a barre.</param>
    /// <param name="hasFullBarre">Says whether a rung has a full one.</param>
    /// <param name="wish">What the student wants with barres.</param>
    /// <returns>Which rung, counted from 1; null when all are blocked.</returns>
    public static int? Of(IReadOnlyList<Verdict?> verdicts, Func<int, bool> hasBarre, Func<int, bool> hasFullBarre,
        BarreGoal wish)
    {
        if (wish == BarreGoal.Avoid
            && Of([.. verdicts.Select((v, i) => v is null || hasFullBarre(i) ? null : v)], hasBarre, hasFullBarre,
                BarreGoal.Neutral) is { } without)
            return without;
        int? lowest = null, highestReady = null, nextGrowing = null, growingBarre = null;
        for (var i = 0; i < verdicts.Count; i++)
        {
            if (verdicts[i] is not { } verdict) continue;
            lowest ??= i + 1;
            switch (verdict)
            {
                case Verdict.Ready: (highestReady, nextGrowing) = (i + 1, null); break;
                case Verdict.Growing:
                    nextGrowing ??= i + 1;
                    if (growingBarre is null && hasBarre(i)) growingBarre = i + 1;
                    break;
            }
        }
        return (wish == BarreGoal.Seek ? growingBarre : null) ?? nextGrowing ?? highestReady ?? lowest;
    }
}
