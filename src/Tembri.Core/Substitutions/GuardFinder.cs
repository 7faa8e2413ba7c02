using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Substitutions;

/// <summary>Reads off the chart which substitutions would be wrong whatever their price.</summary>
public static class GuardFinder
{
    /// <summary>The guards of each chord of a flow.</summary>
    /// <param name="flow">The song's chords in order.</param>
    /// <param name="key">The song's key.</param>
    public static IReadOnlyList<Guard> Find(ChordFlow flow, Key key)
    {
        var guards = new Guard[flow.Chords.Count];
        var sequence = flow.Sequence;
        for (var i = 1; i < sequence.Count; i++)
        {
            var (before, here) = (flow.Chords[sequence[i - 1].Chord], flow.Chords[sequence[i].Chord]);
            if (before.IsSuspended && !here.IsSuspended && before.Root.PitchClass == here.Root.PitchClass)
                guards[sequence[i].Chord] = guards[sequence[i].Chord] with { NoSuspension = true };
            if (before.Has(4) && here.Root.PitchClass == key.Tonic.PitchClass && (before.Root.PitchClass + 5) % 12 == here.Root.PitchClass)
                guards[sequence[i - 1].Chord] = guards[sequence[i - 1].Chord] with { KeepsThird = true };
            if (i + 1 < sequence.Count)
            {
                var after = flow.Chords[sequence[i + 1].Chord];
                var first = Step(before, here);
                if (here.Bass is not null && first != 0 && Math.Sign(first) == Math.Sign(Step(here, after)))
                    guards[sequence[i].Chord] = guards[sequence[i].Chord] with { StepwiseBass = true };
            }
        }
        return guards;
    }

    /// <summary>Semitones from one bass to the next when it is a step: −2 to 2; 0 when it is not.</summary>
    private static int Step(Chord from, Chord to)
    {
        var up = (to.BassPitchClass - from.BassPitchClass + 12) % 12;
        return up <= 2 ? up : up >= 10 ? up - 12 : 0;
    }
}
