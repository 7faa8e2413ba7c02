using Tembri.Core.Charts;

namespace Tembri.Web.Words;

/// <summary>How long a chord lasts, in the dots a chart writes.</summary>
internal static class BeatDots
{
    /// <summary>Beats a chord is held after its first, and 1 for half a beat more; nothing where the chords of the bar share it evenly.</summary>
    public static (int Whole, int Half) Of(Bar bar, Slot slot)
    {
        if (!IsUneven(bar)) return (0, 0);
        var whole = (int)Math.Floor(slot.Beats + 1e-9);
        return (Math.Max(0, whole - 1), slot.Beats - whole > 0.1 || slot.Beats < 0.9 ? 1 : 0);
    }

    /// <summary>True for a bar whose chords do not last alike.</summary>
    public static bool IsUneven(Bar bar) => bar.Slots.Any(s => Math.Abs(s.Beats - bar.Slots[0].Beats) > 1e-6);
}
