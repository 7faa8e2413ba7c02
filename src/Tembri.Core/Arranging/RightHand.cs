using System.Collections.Concurrent;
using Tembri.Core.Charts;
using Tembri.Core.Strums;
using Tembri.Core.Wishes;

namespace Tembri.Core.Arranging;

/// <summary>What the right hand plays of a song on one rung: a pattern for each section.</summary>
public sealed class RightHand
{
    private readonly StrumLadder[] _ladders;
    private readonly int[] _rungs;
    private readonly StrumPattern[] _patterns;
    private readonly double[] _beats;
    private readonly ConcurrentDictionary<ChordStep, double> _free = new(ReferenceEqualityComparer.Instance);

    /// <summary>Chooses the patterns.</summary>
    /// <param name="chart">The song.</param>
    /// <param name="limits">The rung; its own right hand unless the teacher wants another.</param>
    /// <param name="wishes">What the teacher wants of the right hand; null for nothing.</param>
    /// <param name="ladders">The ladders of the sections, as <see cref="LaddersOf"/> gives them; null to work them out.</param>
    public RightHand(Chart chart, RungLimits limits, TeacherWishes? wishes = null, StrumLadder[]? ladders = null)
    {
        _ladders = ladders ?? LaddersOf(chart);
        _rungs = [.. chart.Sections.Select(s => RungOf(s.Name, limits, wishes?.Hands ?? []))];
        _patterns = [.. _ladders.Select((l, i) => l.At(_rungs[i]))];
        _beats = new double[_patterns.Length];
        foreach (var (section, bar) in chart.PlayedPlaces()) _beats[section] += chart.Sections[section].Bars[bar].Beats;
        Main = _patterns.Length == 0
            ? ShippedStrum.UsualFor(chart.Meter)
            : _patterns.Zip(_beats).GroupBy(x => x.First).MaxBy(g => g.Sum(x => x.Second))!.Key;
        var all = _beats.Sum();
        Shares = all <= 0
            ? [(Main, 1)]
            : [.. _patterns.Zip(_beats).Where(x => x.Second > 0).GroupBy(x => x.First)
                .Select(g => (g.Key, g.Sum(x => x.Second) / all))];
    }

    /// <summary>The right hand's own ladder of each section; all rungs share them.</summary>
    /// <param name="chart">The song.</param>
    /// <param name="cache">Where reductions are kept; null to work them out.</param>
    public static StrumLadder[] LaddersOf(Chart chart, ResultCache? cache = null) =>
        [.. chart.Sections.Select(s => StrumLadder.Of(s.RecordedHand, cache))];

    /// <summary>The pattern that is played longest.</summary>
    public StrumPattern Main { get; }

    /// <summary>Each pattern that is played, with its share of the time, 0 to 1.</summary>
    public IReadOnlyList<(StrumPattern Pattern, double Share)> Shares { get; }

    /// <summary>The pattern of a section.</summary>
    /// <param name="section">Its place in the chart.</param>
    public StrumPattern In(int section) => _patterns[section];

    /// <summary>The rung of the right hand in a section: 1 to 5, or <see cref="StrumLadder.Free"/>.</summary>
    public int RungIn(int section) => _rungs[section];

    /// <summary>The same song with another rung of the right hand in every section.</summary>
    /// <param name="chart">The song.</param>
    /// <param name="rung">1 to 5, or <see cref="StrumLadder.Free"/>.</param>
    public RightHand On(Chart chart, int rung) => new(chart, RungLimits.Defaults[^1] with { RightHand = rung }, null, _ladders);

    /// <summary>The same song with other rungs of the right hand in some sections.</summary>
    /// <param name="chart">The song.</param>
    /// <param name="rungs">By the section's place in the chart: 1 to 5, or <see cref="StrumLadder.Free"/>.</param>
    public RightHand With(Chart chart, IReadOnlyDictionary<int, int> rungs) => new(
        chart, RungLimits.Defaults[^1],
        TeacherWishes.None with { Hands = [
            .. chart.Sections.Select((s, i) => new HandWish(s.Name, rungs.GetValueOrDefault(i, _rungs[i]), RungSpan.All))] },
        _ladders);

    /// <summary>The right hand's own ladder in a section.</summary>
    public StrumLadder LadderIn(int section) => _ladders[section];

    /// <summary>Load at a tempo, 0 to 100: the mean over the time each pattern is played.</summary>
    public double LoadAt(double tempo) => Shares.Sum(s => s.Share * s.Pattern.LoadAt(tempo));

    /// <summary>Beats from a stroke that sounds to the next, on the average.</summary>
    public double BeatsAStroke => Shares.Sum(s => s.Share * s.Pattern.BeatsAStroke);

    /// <summary>Beats there are for a change, at its hardest place.</summary>
    public double FreeBeats(ChordStep step) => _free.GetOrAdd(step, s => Hardest(s).Time.Free);

    /// <summary>Where the least time is for a change, and how much.</summary>
    public (ChangePlace Place, ChangeTime Time) Hardest(ChordStep step)
    {
        if (step.Places.Count == 0) return (default, ChangeTime.Of(Main, 0, step.ShortestBeats));
        return step.Places.Select(p => (Place: p, Time: p.TimeWith(_patterns[p.Section]))).MinBy(x => x.Time.Free);
    }

    private static int RungOf(string section, RungLimits limits, IReadOnlyList<HandWish> wishes) =>
        wishes.FirstOrDefault(
                w => w.Rungs.Holds(limits.Height) && w.Section.Equals(section, StringComparison.OrdinalIgnoreCase))?.Hand
            ?? Math.Clamp(limits.StrumRung, StrumLadder.Free, StrumLadder.Top);
}
