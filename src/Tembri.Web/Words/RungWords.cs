using Tembri.Core.Arranging;
using Tembri.Core.Wishes;

namespace Tembri.Web.Words;

/// <summary>Says what is different about a rung.</summary>
internal static class RungWords
{
    /// <summary>A rung's differences in one line.</summary>
    public static string Say(RungWish wish)
    {
        var label = RungLimits.LabelOf(wish.Number);
        if (wish.LeftOut == true) return $"rung {label} left out";
        var words = new List<string>();
        if (wish.LeftOut == false) words.Add("not left out");
        if (wish.Name is { } name) words.Add($"called “{name}”");
        if (wish.AimsAtLoad is { } load) words.Add($"taken in between, near load {load:0}");
        if (wish.MostFingers is { } fingers) words.Add($"{fingers} {(fingers == 1 ? "finger" : "fingers")}");
        if (wish.LongestBarre is { } barre) words.Add(barre <= 1 ? "no barre" : $"barres over {barre} strings");
        if (wish.Thumb is { } thumb) words.Add(thumb ? "thumb allowed" : "no thumb");
        if (wish.FewestStrings is { } strings) words.Add($"{strings} strings at least");
        if (wish.HighestFret is { } fret) words.Add($"up to fret {fret}");
        if (wish.LoadCeiling is { } ceiling) words.Add($"shapes up to load {ceiling:0}");
        if (wish.ClosenessFloor is { } floor) words.Add($"closeness from {100 * floor:0} %");
        if (wish.Substitutions is { } kinds) words.Add($"{kinds.Count} kinds of substitution");
        if (wish.RightHand is { } hand) words.Add(hand == 0 ? "the hand swings freely" : $"strum of rung {hand}");
        return $"rung {label}: {string.Join(", ", words)}";
    }
}
