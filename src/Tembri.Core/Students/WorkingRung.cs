using Tembri.Core.Arranging;

namespace Tembri.Core.Students;

/// <summary>Chooses the rung a student works on.</summary>
internal static class WorkingRung
{
    /// <summary>The lowest growing rung above all ready ones, else the highest ready one, else the lowest of all. Who seeks barres goes to the lowest growing rung with one.</summary>
    /// <param name="fits">Fit of each rung, the first first; null where a rung is blocked.</param>
    /// <param name="hasBarre">Says whether a rung, counted from 0, has a barre.</param>
    /// <param name="wish">What the student wants with barres.</param>
    /// <returns>Number of the rung, from 1; null when all are blocked.</returns>
    public static int? Of(IReadOnlyList<double?> fits, Func<int, bool> hasBarre, BarreGoal wish)
    {
        int? lowest = null, highestReady = null, nextGrowing = null, growingBarre = null;
        for (var i = 0; i < fits.Count; i++)
        {
            if (fits[i] is not { } fit) continue;
            lowest ??= i + 1;
            switch (FitModel.VerdictOf(fit))
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
