using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>What one rung plays of a song: all of it, or with passing chords left out.</summary>
public sealed class RungSong
{
    /// <summary>Thins a chart for a rung.</summary>
    /// <param name="chart">The chart as taken down.</param>
    /// <param name="chords">The song's chords, by which all rungs number them.</param>
    /// <param name="leavesOutBelow">See <see cref="RungLimits.LeavesOutBelow"/>.</param>
    public RungSong(Chart chart, IReadOnlyList<Chord> chords, double leavesOutBelow)
    {
        Chart = PassingChords.LeaveOut(chart, leavesOutBelow);
        Flow = new ChordFlow(Chart, chords);
        ChangeCount = Math.Max(1, Flow.Steps.Sum(s => s.Count));
        // A song whose form plays nothing has no beats, and none that are left out.
        Kept = 1 - ArrangerWeights.Default.KeptOfLeftOut
            * PassingChords.BeatsLeftOut(chart, Chart) / Math.Max(1, Flow.TotalBeats);
        var played = new ChordFlow(chart, chords).Beats;
        var written =
            Chart.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots).Select(s => s.Chord).OfType<Chord>().ToHashSet();
        _leavesOut = [.. chords.Select((c, i) => Flow.Beats[i] <= 0 && played[i] > 0 && !written.Contains(c))];
    }

    private readonly bool[] _leavesOut;

    /// <summary>The chart the rung plays.</summary>
    public Chart Chart { get; }

    /// <summary>Its chords and changes.</summary>
    public ChordFlow Flow { get; }

    /// <summary>All changes of the form, 1 or more.</summary>
    public double ChangeCount { get; }

    /// <summary>Share of the chord changes that is kept, 0 to 1.</summary>
    public double Kept { get; }

    /// <summary>True when the song plays the chord and this rung does not, nor writes it in a section that the form leaves
    /// out.</summary>
    public bool LeavesOut(int chord) => _leavesOut[chord];

    /// <summary>Share of the time a chord sounds, 0 to 1.</summary>
    public double Share(int chord) => Flow.TotalBeats > 0 ? Flow.Beats[chord] / Flow.TotalBeats : 1.0 / Flow.Beats.Count;
}
