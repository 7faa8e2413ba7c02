using System.Numerics;
using Tembri.Core.Charts;
using Tembri.Core.Chords;

namespace Tembri.Core.Substitutions;

/// <summary>Leaves quick passing chords out of a chart; their beats go to the neighbour in their bar that sounds most like
/// them.</summary>
public static class PassingChords
{
    /// <summary>The chart with short chords left out.</summary>
    /// <param name="chart">The chart as taken down.</param>
    /// <param name="below">A chord that lasts less than this share of its bar is left out when another chord of the bar can
    /// hold; 0 leaves all in.</param>
    /// <remarks>
    /// The longest chord of a bar stays, of equally long ones the first; a dominant that leads into what follows in the form
    /// does not stay where the chord it leads from goes. A suspension
    /// and its resolution stay together.
    /// </remarks>
    public static Chart LeaveOut(Chart chart, double below)
    {
        if (below <= 0) return chart;
        return chart with
        {
            Sections = [.. chart.Sections.Select(s => s with { Bars = [.. s.Bars.Select((b, i) =>
                Thin(b, i + 1 < s.Bars.Count ? s.Bars[i + 1].Slots.FirstOrDefault()?.Chord : After(chart, s), below))] })],
        };
    }

    /// <summary>How many beats of the form play a chord that was left out.</summary>
    public static double BeatsLeftOut(Chart chart, Chart thinned)
    {
        var lost = 0.0;
        foreach (var part in chart.Form)
        {
            if (chart.SectionNamed(part.Section) is not { } full || thinned.SectionNamed(part.Section) is not { } thin) continue;
            for (var i = 0; i < full.Bars.Count; i++)
            {
                var kept = thin.Bars[i].Slots.Select(s => s.Chord).ToHashSet();
                lost += part.Times
                    * full.Bars[i].Slots.Where(s => s.Chord is not null && !kept.Contains(s.Chord)).Sum(s => s.Beats);
            }
        }
        return lost;
    }

    /// <summary>The chord that follows a section in the form: its own first one where it is repeated.</summary>
    private static Chord? After(Chart chart, Section section)
    {
        for (var i = 0; i < chart.Form.Count; i++)
        {
            if (chart.Form[i].Section != section.Name) continue;
            var next = chart.Form[i].Times > 1 ? section
                : i + 1 < chart.Form.Count ? chart.SectionNamed(chart.Form[i + 1].Section)
                : null;
            if (next?.Bars.FirstOrDefault()?.Slots.FirstOrDefault()?.Chord is { } chord) return chord;
        }
        return null;
    }

    private static Bar Thin(Bar bar, Chord? next, double below)
    {
        var slots = bar.Slots.ToList();
        if (slots.Count < 2 || slots.Any(s => s.Chord is null)) return bar;
        var beats = slots.Sum(s => s.Beats);
        var anchor = slots.Select((s, i) => (s, i)).OrderByDescending(x => x.s.Beats).ThenBy(x => x.i).First().s;
        // A dominant does not stay where the chord it leads from goes.
        if (!ReferenceEquals(anchor, slots[0]) && LeadsInto(anchor.Chord!, next)) anchor = slots[0];
        for (var i = slots.Count - 1; i >= 0; i--)
        {
            if (slots.Count == 1) break;
            var slot = slots[i];
            if (ReferenceEquals(slot, anchor) || slot.Beats >= below * beats - 1e-9 || IsSuspensionPair(slots, i)) continue;
            var (before, after) = (i > 0 ? slots[i - 1] : null, i + 1 < slots.Count ? slots[i + 1] : null);
            var toBefore =
                after is null || before is not null && Shared(before.Chord!, slot.Chord!) >= Shared(after.Chord!, slot.Chord!);
            if (toBefore)
            {
                slots[i - 1] = Join(before!, slot.Beats, (before!.Lyric.TrimEnd() + " " + slot.Lyric).Trim(), ref anchor);
            }
            else
            {
                slots[i + 1] = Join(after!, slot.Beats, (slot.Lyric.TrimEnd() + " " + after!.Lyric).Trim(), ref anchor);
            }
            slots.RemoveAt(i);
        }
        return bar with { Slots = slots };
    }

    private static Slot Join(Slot keeper, double beats, string lyric, ref Slot anchor)
    {
        var joined = keeper with { Beats = keeper.Beats + beats, Lyric = lyric };
        if (ReferenceEquals(keeper, anchor)) anchor = joined;
        return joined;
    }

    private static bool LeadsInto(Chord chord, Chord? next) =>
        next is not null && chord.Has(4) && (chord.Root.PitchClass + 5) % 12 == next.Root.PitchClass;

    private static bool IsSuspensionPair(List<Slot> slots, int i) =>
        i + 1 < slots.Count && Resolves(slots[i].Chord!, slots[i + 1].Chord!)
            || i > 0 && Resolves(slots[i - 1].Chord!, slots[i].Chord!);

    private static bool Resolves(Chord suspension, Chord chord) =>
        suspension.IsSuspended && !chord.IsSuspended && suspension.Root.PitchClass == chord.Root.PitchClass;

    private static int Shared(Chord a, Chord b) => BitOperations.PopCount((uint)(a.PitchClassMask & b.PitchClassMask));
}
