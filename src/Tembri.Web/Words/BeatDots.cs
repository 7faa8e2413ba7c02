using System.Globalization;
using Tembri.Core.Charts;

namespace Tembri.Web.Words;

/// <summary>How long a chord lasts: a dot for each beat it is held, as a chart writes it, or its beats as a number where they
/// are not whole.</summary>
internal static class BeatDots
{
    /// <summary>What stands behind a chord; nothing where the chords of the bar share it evenly.</summary>
    public static string Of(Bar bar, Slot slot)
    {
        if (!IsUneven(bar)) return "";
        var whole = Math.Round(slot.Beats);
        if (Math.Abs(slot.Beats - whole) < 1e-6) return new string('·', Math.Max(0, (int)whole - 1));
        var floor = Math.Floor(slot.Beats);
        return Math.Abs(slot.Beats - floor - 0.5) < 1e-6
            ? $"{(floor > 0 ? floor.ToString(CultureInfo.InvariantCulture) : "")}½"
            : slot.Beats.ToString("0.##", CultureInfo.InvariantCulture);
    }

    /// <summary>True for a bar whose chords do not last alike.</summary>
    public static bool IsUneven(Bar bar) => bar.Slots.Any(s => Math.Abs(s.Beats - bar.Slots[0].Beats) > 1e-6);
}
