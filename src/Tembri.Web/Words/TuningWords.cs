using Tembri.Core.Charts;
using Tembri.Core.Fretboard;

namespace Tembri.Web.Words;

/// <summary>Says how a guitar is tuned.</summary>
internal static class TuningWords
{
    /// <summary>The same in few words, where there is little room: a name without its strings.</summary>
    public static string Short(Chart chart) =>
        Tuning.Known.Any(k => k.Tuning.Equals(chart.Strings)) && chart.TuningShift == 0 && !chart.Strings.Equals(Tuning.Standard)
            ? chart.Strings.Name
            : Say(chart);

    /// <summary>How a song's guitar is tuned; empty for standard tuning.</summary>
    public static string Say(Chart chart)
    {
        var shift = chart.TuningShift;
        var away = shift == 0
            ? ""
            : $"{Math.Abs(shift)} {(Math.Abs(shift) == 1 ? "semitone" : "semitones")} {(shift < 0 ? "down" : "up")}";
        if (chart.Strings.Equals(Tuning.Standard)) return away;
        var strings =
            string.Join(" ", chart.Strings.Shift(shift).Strings.Select(s => Core.Figures.FigureLine.PitchOf(s).Note.ToString()));
        var isNamed = Tuning.Known.Any(k => k.Tuning.Equals(chart.Strings));
        return $"{(isNamed ? $"{chart.Strings.Name} ({strings})" : strings)}{(away.Length > 0 && isNamed ? $", {away}" : "")}";
    }
}
