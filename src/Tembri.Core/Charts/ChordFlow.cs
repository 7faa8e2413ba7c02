using Tembri.Core.Chords;

namespace Tembri.Core.Charts;

/// <summary>A step from one chord to a different one, with how often it happens in the form.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="ShortestBeats">The shortest time, in beats, the chord left lasts before this change.</param>
public sealed record ChordStep(int From, int To, int Count, double ShortestBeats);

/// <summary>A chart seen as chords and the steps between them: what the arranger works on.</summary>
public sealed class ChordFlow
{
    /// <summary>The different chords.</summary>
    public IReadOnlyList<Chord> Chords { get; }

    /// <summary>Beats each chord sounds over the whole form.</summary>
    public IReadOnlyList<double> Beats { get; }

    /// <summary>All beats with a chord.</summary>
    public double TotalBeats { get; }

    /// <summary>Steps between different chords.</summary>
    public IReadOnlyList<ChordStep> Steps { get; }

    /// <summary>Indices of the chords in playing order with their beats; immediate repeats joined.</summary>
    public IReadOnlyList<(int Chord, double Beats)> Sequence { get; }

    /// <summary>Reads the flow off a chart. Silences and unread symbols interrupt nothing: the hand has time to move.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="chords">The chords to number by, when they are more than the chart still plays; those it does not play have 0 beats.</param>
    public ChordFlow(Chart chart, IReadOnlyList<Chord>? chords = null)
    {
        Chords = chords ?? chart.Chords;
        var index = Chords.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);
        var beats = new double[Chords.Count];
        var sequence = new List<(int Chord, double Beats)>();
        var silence = 0.0;
        var steps = new Dictionary<(int, int), (int Count, double Shortest)>();
        foreach (var slot in chart.Played())
        {
            if (slot.Chord is null) { silence += slot.Beats; continue; }
            var chord = index[slot.Chord];
            beats[chord] += slot.Beats;
            if (sequence.Count > 0 && sequence[^1].Chord == chord && silence == 0)
            {
                sequence[^1] = (chord, sequence[^1].Beats + slot.Beats);
                continue;
            }
            if (sequence.Count > 0 && sequence[^1].Chord != chord)
            {
                var key = (sequence[^1].Chord, chord);
                var free = sequence[^1].Beats + silence;
                var (count, shortest) = steps.GetValueOrDefault(key, (0, double.PositiveInfinity));
                steps[key] = (count + 1, Math.Min(shortest, free));
            }
            silence = 0;
            sequence.Add((chord, slot.Beats));
        }
        Beats = beats;
        TotalBeats = beats.Sum();
        Sequence = sequence;
        Steps = [.. steps.Select(s => new ChordStep(s.Key.Item1, s.Key.Item2, s.Value.Count, s.Value.Shortest)).OrderBy(s => s.From).ThenBy(s => s.To)];
    }
}
