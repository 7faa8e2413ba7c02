using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>Moves a chart to another key, spelt as that key asks.</summary>
public static class ChartTransposer
{
    /// <summary>The chart in another key.</summary>
    public static Chart Move(Chart chart, Key to)
    {
        if (chart.Key == to) return chart;
        Slot MoveSlot(Slot slot)
        {
            if (slot.Chord is null) return slot;
            var moved = slot.Chord.Transpose(chart.Key, to);
            return slot with { Chord = moved, Symbol = moved.Name };
        }
        return chart with
        {
            Key = to,
            Sections = [.. chart.Sections.Select(s => s with { Bars = [.. s.Bars.Select(b => b with { Slots = [.. b.Slots.Select(MoveSlot)] })] })],
        };
    }
}
