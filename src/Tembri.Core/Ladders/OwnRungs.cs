using Tembri.Core.Arranging;
using Tembri.Core.Wishes;

namespace Tembri.Core.Ladders;

/// <summary>The rungs of a ladder as a teacher wants them: changed, left out, taken in between.</summary>
public static class OwnRungs
{
    /// <summary>Rungs taken in between are numbered so that 25 lies between 2 and 3.</summary>
    public static int Between(int below) => below * 10 + 5;

    /// <summary>Applies wishes to rungs.</summary>
    /// <param name="rungs">The default rungs, the lowest first.</param>
    /// <param name="wishes">What is different.</param>
    /// <returns>The rungs, the lowest first; at least one, since the last that is left cannot be left out.</returns>
    public static IReadOnlyList<RungLimits> Of(IReadOnlyList<RungLimits> rungs, IReadOnlyList<RungWish> wishes)
    {
        if (wishes.Count == 0) return rungs;
        var all =
            rungs.Select(r => wishes.FirstOrDefault(w => w.Number == r.Number) is { } wish ? Changed(r, wish) : r).ToList();
        foreach (var wish in wishes.Where(w => w.Number > 9 && w.AimsAtLoad is not null))
        {
            if (all.Find(r => r.Number == wish.Number / 10 + 1) is not { } above
                || all.Find(r => r.Number == wish.Number / 10) is not { } below)
                continue;
            var between = Changed(Joined(below, above) with { Number = wish.Number,
                    Name = $"Before {char.ToLowerInvariant(above.Name[0])}{above.Name[1..]}", AimsAtLoad = wish.AimsAtLoad,
                    RightHand = wish.Number / 10 }, wish);
            all.Insert(all.IndexOf(above), between);
        }
        var kept = all.Where(r => !wishes.Any(w => w.Number == r.Number && w.LeftOut == true)).ToList();
        return kept.Count > 0 ? kept : [all[^1]];
    }

    /// <summary>What two rungs allow together: what is played in between may be like either.</summary>
    private static RungLimits Joined(RungLimits below, RungLimits above) => above with
    {
        MostFingers = Math.Max(below.MostFingers, above.MostFingers),
        LongestBarre = Math.Max(below.LongestBarre, above.LongestBarre), Thumb = below.Thumb || above.Thumb,
        FewestStrings = Math.Min(below.FewestStrings, above.FewestStrings),
        FewestStringsAtNeed = Math.Min(below.FewestStringsAtNeed, above.FewestStringsAtNeed),
        LoadCeiling = Math.Max(below.LoadCeiling, above.LoadCeiling),
        ClosenessFloor = Math.Min(below.ClosenessFloor, above.ClosenessFloor),
        LeavesOutBelow = Math.Min(below.LeavesOutBelow, above.LeavesOutBelow),
        HighestFret = below.HighestFret is { } a && above.HighestFret is { } b ? Math.Max(a, b) : null,
        WholeTriads = below.WholeTriads && above.WholeTriads, SlashBass = below.SlashBass && above.SlashBass,
        ClosenessWeight = Math.Sqrt(below.ClosenessWeight * above.ClosenessWeight),
        IdiomWeight = (below.IdiomWeight + above.IdiomWeight) / 2,
        Substitutions = [.. below.Substitutions.Union(above.Substitutions)],
        Motto = $"between {below.Name.ToLowerInvariant()} and {above.Name.ToLowerInvariant()}",
    };

    /// <summary>A rung with what is different about it.</summary>
    public static RungLimits Changed(RungLimits rung, RungWish wish) => rung with
    {
        Name = string.IsNullOrWhiteSpace(wish.Name) ? rung.Name : wish.Name,
        MostFingers = wish.MostFingers ?? rung.MostFingers,
        // Who sets the fingers means them: no chord takes more.
        FingersForRootAndThird = wish.MostFingers is null ? rung.FingersForRootAndThird : null,
        FingersForLines = wish.MostFingers is null ? rung.FingersForLines : null,
        LongestBarre = wish.LongestBarre ?? rung.LongestBarre,
        Thumb = wish.Thumb ?? rung.Thumb,
        FewestStrings = wish.FewestStrings ?? rung.FewestStrings,
        FewestStringsAtNeed = wish.FewestStrings is { } strings
            ? Math.Min(strings, rung.FewestStringsAtNeed)
            : rung.FewestStringsAtNeed,
        HighestFret = wish.HighestFret ?? rung.HighestFret,
        LoadCeiling = wish.LoadCeiling ?? rung.LoadCeiling,
        ClosenessFloor = wish.ClosenessFloor ?? rung.ClosenessFloor,
        Substitutions = wish.Substitutions ?? rung.Substitutions,
        RightHand = wish.RightHand ?? rung.RightHand,
    };
}
