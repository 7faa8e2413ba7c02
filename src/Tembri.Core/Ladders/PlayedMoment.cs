using Tembri.Core.Charts;
using Tembri.Core.Music;

namespace Tembri.Core.Ladders;

/// <summary>A bar as it is played: when each of its chords sounds.</summary>
/// <param name="Section">The section.</param>
/// <param name="Bar">The bar in it.</param>
/// <param name="Beats">Its length.</param>
/// <param name="Chords">Chord and where it begins and ends, as shares of the bar.</param>
internal sealed record PlayedMoment(int Section, int Bar, double Beats,
    IReadOnlyList<(int Chord, double From, double To)> Chords)
{
    /// <summary>The bars of a chart in the order they are played.</summary>
    public static List<PlayedMoment> Of(Chart chart, ChordFlow flow)
    {
        var moments = new List<PlayedMoment>();
        foreach (var (section, bar) in chart.PlayedPlaces())
        {
            var slots = chart.Sections[section].Bars[bar].Slots;
            var (beats, at) = (Math.Max(1e-9, slots.Sum(s => s.Beats)), 0.0);
            var chords = new List<(int, double, double)>();
            for (var i = 0; i < slots.Count; i++)
            {
                var (from, to) = (at / beats, (at + slots[i].Beats) / beats);
                if (flow.ChordAt(moments.Count, i) is >= 0 and var chord) chords.Add((chord, from, to));
                at += slots[i].Beats;
            }
            moments.Add(new PlayedMoment(section, bar, beats, chords));
        }
        return moments;
    }
}
