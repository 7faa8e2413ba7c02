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
        for (var i = 0; i < guards.Length; i++)
            if (flow.Chords[i] is var chord && chord.Root.PitchClass == key.Tonic.PitchClass && !chord.Has(10))
                guards[i] = guards[i] with { IsTonic = true };
        FindLines(flow, guards);
        for (var i = 1; i < sequence.Count; i++)
        {
            var (before, here) = (flow.Chords[sequence[i - 1].Chord], flow.Chords[sequence[i].Chord]);
            if (before.IsSuspended && !here.IsSuspended && before.Root.PitchClass == here.Root.PitchClass)
                guards[sequence[i].Chord] = guards[sequence[i].Chord] with { NoSuspension = true };
            if (before.Has(4) && here.Root.PitchClass == key.Tonic.PitchClass
                && (before.Root.PitchClass + 5) % 12 == here.Root.PitchClass)
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

    /// <summary>Inner lines: three chords or more over one root of which each differs from the one before by a tone that moves a
    /// semitone.</summary>
    private static void FindLines(ChordFlow flow, Guard[] guards)
    {
        var sequence = flow.Sequence;
        for (var from = 0; from < sequence.Count;)
        {
            var to = from;
            while (to + 1 < sequence.Count
                && Moves(flow.Chords[sequence[to].Chord], flow.Chords[sequence[to + 1].Chord]) != default)
                to++;
            if (to - from >= 2)
                for (var i = from; i <= to; i++)
                {
                    var tones = i < to ? Moves(flow.Chords[sequence[i].Chord], flow.Chords[sequence[i + 1].Chord]).Left : 0;
                    if (i > from) tones |= Moves(flow.Chords[sequence[i - 1].Chord], flow.Chords[sequence[i].Chord]).Reached;
                    guards[sequence[i].Chord] = guards[sequence[i].Chord] with { Line = guards[sequence[i].Chord].Line | tones };
                }
            from = Math.Max(to, from + 1);
        }
    }

    /// <summary>The tone that moves a semitone between two chords over one root, as bits above the root; nothing when they
    /// differ by more.</summary>
    private static (int Left, int Reached) Moves(Chord from, Chord to)
    {
        if (from.Root.PitchClass != to.Root.PitchClass || from.BassPitchClass != to.BassPitchClass) return default;
        static int Above(Chord c) => c.Degrees.Aggregate(0, (mask, d) => mask | 1 << d.Semitones % 12);
        var (a, b) = (Above(from), Above(to));
        var (left, reached) = (a & ~b, b & ~a);
        // The octave itself may begin a line: minor to minor with a major seventh adds the seventh a semitone under the root.
        if (left == 0 && reached is 1 << 11) return (1, reached);
        if (reached == 0 && left is 1 << 11) return (left, 1);
        if (System.Numerics.BitOperations.PopCount((uint)left) != 1
            || System.Numerics.BitOperations.PopCount((uint)reached) != 1)
            return default;
        var step = Math.Abs(
            System.Numerics.BitOperations.TrailingZeroCount(left) - System.Numerics.BitOperations.TrailingZeroCount(reached));
        return step is 1 or 11 ? (left, reached) : default;
    }

    /// <summary>Semitones from one bass to the next when it is a step: −2 to 2; 0 when it is not.</summary>
    private static int Step(Chord from, Chord to)
    {
        var up = (to.BassPitchClass - from.BassPitchClass + 12) % 12;
        return up <= 2 ? up : up >= 10 ? up - 12 : 0;
    }
}
