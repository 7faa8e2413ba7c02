using Tembri.Core.Chords;

namespace Tembri.Core.Hearing;

/// <summary>Where one beat of the form lies in a recording.</summary>
/// <param name="Beat">Its place in the form.</param>
/// <param name="From">The stretch it starts with.</param>
/// <param name="To">One past its last stretch.</param>
internal readonly record struct PlacedBeat(int Beat, int From, int To);

/// <summary>A form laid along a recording.</summary>
/// <param name="Beats">The beats that are played, in time.</param>
/// <param name="Score">How well it goes, in stretches that agree in full; comparable between keys and tempos.</param>
internal sealed record Alignment(IReadOnlyList<PlacedBeat> Beats, double Score);

/// <summary>Lays a written form along a recording: each beat gets its stretches, from left to right, so that chords agree with
/// what sounds, beats begin where something begins, and no beat is much longer than the others.</summary>
/// <remarks>
/// Dynamic programming over beats with free lengths (a hidden semi-Markov model; Ferguson 1980). A section that is left early,
/// left out or played once more costs a few beats' worth, so that forms which differ from the written one are found.
/// All weights are in beats that agree in full.
/// </remarks>
internal sealed class FormAligner
{
    private static readonly HearingWeights W = HearingWeights.Default;
    private const double Shortest = 0.72, Longest = 1.36;   // of a beat at the tempo
    private const double Most = 1.0;                         // a stretch agrees or not by at most this
    private const float Never = float.NegativeInfinity;
    private const long MostCells = 20_000_000;
    private const double Raster = 0.5;                       // stretches that a length may be off for the raster's sake

    private readonly int _frames;
    private readonly double _step;
    private readonly Dictionary<HeardExpectation, float[]> _sums = [];
    private readonly Chroma[] _scaled;
    private readonly (float Middle, float Spread, float Trust)[] _usual;
    private readonly float[] _onsets;

    private readonly record struct HeardExpectation(string Name, int Semitones);

    /// <summary>Readies a recording.</summary>
    /// <param name="chroma">What sounds in each stretch.</param>
    /// <param name="loudness">How loud each is.</param>
    /// <param name="onsets">What begins when.</param>
    /// <param name="together">Stretches that are taken together, 1 for each alone: coarser is quicker, and enough to tell keys
    /// and tempos apart.</param>
    public FormAligner(IReadOnlyList<Chroma> chroma, IReadOnlyList<float> loudness, OnsetTrack onsets, int together = 1)
    {
        if (together > 1)
        {
            var starts = Enumerable.Range(0, chroma.Count / together).Select(f => f * together).ToList();
            (chroma,
                loudness) = ([.. starts.Select(f => Chroma.Mean(chroma, f, f + together))],
                    [.. starts.Select(f => loudness.Skip(f).Take(together).Average())]);
        }
        (_frames, _step) = (chroma.Count, NoteTrack.Step * together);
        _scaled = [.. chroma.Select(c => c.Scaled())];
        var all =
            HeardChord.All.Where(c => c.Kind is HeardKind.Major or HeardKind.Minor).Select(ChordLikelihood.Expected).ToList();
        var quiet = Quiet(loudness);
        _usual = [.. _scaled.Select((c, f) => loudness[f] < quiet ? default : Usual(all, c))];
        _onsets = [.. Enumerable.Range(0, _frames + 1).Select(f => Math.Min(4, onsets.Near(f * _step, _step / 2)))];
    }

    /// <summary>True when a form can be laid along a recording with the memory there is.</summary>
    /// <param name="form">The form.</param>
    /// <param name="seconds">The recording's length.</param>
    public static bool CanHold(WrittenForm form, double seconds) =>
        form.Beats.Count * (seconds / NoteTrack.Step + 2) <= MostCells;

    /// <summary>The middle between the usual chord and the likeliest of a stretch, the way from it to either, and how far the
    /// stretch is to be trusted: where all chords are about alike, hardly.</summary>
    private static (float, float, float) Usual(List<double[]> all, Chroma scaled)
    {
        var (sum, most) = (0.0, double.NegativeInfinity);
        foreach (var expected in all)
        {
            var value = ChordLikelihood.Of(expected, scaled);
            sum += value;
            most = Math.Max(most, value);
        }
        var half = Math.Max(1e-6, (most - sum / all.Count) / 2);
        return ((float)(most - half), (float)half, (float)Math.Min(1, half / W.TrustedFrom));
    }

    private static float Quiet(IReadOnlyList<float> loudness)
    {
        var sorted = loudness.Order().ToList();
        return sorted.Count == 0 ? 0 : 0.05f * sorted[(int)(0.9 * (sorted.Count - 1))];
    }

    /// <summary>For a chord the sum of how much the stretches before each agree with it.</summary>
    private float[] SumOf(Chord? chord, int semitones)
    {
        var key = new HeardExpectation(chord?.WithoutBass().Name ?? "", chord is null ? 0 : semitones);
        if (_sums.TryGetValue(key, out var known)) return known;
        var sum = new float[_frames + 1];
        var expected = chord is null ? null : ChordLikelihood.Expected(chord.WithoutBass(), semitones);
        for (var f = 0; f < _frames; f++)
            sum[f + 1] = sum[f]
                + (expected is null || _usual[f].Trust == 0
                    ? 0
                    : _usual[f].Trust
                        * (float)Math.Clamp((ChordLikelihood.Of(expected, _scaled[f]) - _usual[f].Middle) / _usual[f].Spread,
                            -Most, Most));
        return _sums[key] = sum;
    }

    /// <summary>Lays a form along the recording.</summary>
    /// <param name="form">The form; not empty.</param>
    /// <param name="semitones">How far the record lies above the chart.</param>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="cancel">Ends the work.</param>
    public Alignment Align(WrittenForm form, int semitones, double tempo, CancellationToken cancel)
    {
        var beats = form.Beats;
        var period = 60 / tempo / _step;
        var sums = beats.Select(b => SumOf(b.Chord, semitones)).ToArray();
        var lengths = beats.Select(b => (Min: Math.Max(1, (int)Math.Ceiling(Shortest * period * b.Length)),
                Max: Math.Max(1, (int)Math.Floor(Longest * period * b.Length)), Whole: period * b.Length)).ToArray();
        var ring = lengths.Max(l => l.Max) + 1;
        var uneven = beats.Select((b, s) => Enumerable.Range(0, lengths[s].Max + 1)
                .Select(d => (float)(W.Uneven
                    * Math.Pow(Math.Max(0, Math.Abs(d - lengths[s].Whole) - Raster) / lengths[s].Whole, 2) * b.Length))
                .ToArray()).ToArray();
        var scale = (float)(1 / period);
        var entered = new float[beats.Count, ring];      // best score with which a beat may start at a stretch
        var reached = new float[beats.Count];            // best score of a beat that ends here
        var back = new ushort[beats.Count, _frames + 1]; // its length
        // how it was entered: 0 from the one before, 1 by a jump, 2 at the start
        var how = new byte[beats.Count, _frames + 1];
        var jumpFrom = new int[_frames + 1];
        var (best, bestBeat, bestFrame) = (Never, -1, 0);
        for (var t = 0; t <= _frames; t++)
        {
            if (t % 32 == 0) cancel.ThrowIfCancellationRequested();
            var (jump, from) = (Never, -1);
            for (var s = 0; s < beats.Count; s++)
            {
                var value = Never;
                var length = 0;
                var sum = sums[s];
                var price = uneven[s];
                for (var d = lengths[s].Min; d <= lengths[s].Max && d <= t; d++)
                {
                    var start = t - d;
                    var v = entered[s, start % ring] + (sum[t] - sum[start]) * scale - price[d];
                    if (v > value) (value, length) = (v, d);
                }
                reached[s] = value;
                back[s, t] = (ushort)length;
                if (value == Never || !form.EndsBar(s)) continue;
                var last = s == beats.Count - 1;
                var leaving = value - (float)(form.EndsPart(s) ? W.Jump : W.JumpInside);
                if (leaving > jump) (jump, from) = (leaving, s);
                if (value - (last ? 0 : form.EndsPart(s) ? W.Cut : W.CutInside) is var ended && ended > best)
                    (best, bestBeat, bestFrame) = ((float)ended, s, t);
            }
            jumpFrom[t] = from;
            for (var s = 0; s < beats.Count; s++)
            {
                var (value, way) = s > 0 ? (reached[s - 1], (byte)0) : (Never, (byte)0);
                if (beats[s].StartsPart && jump > value) (value, way) = (jump, 1);
                var start = s == 0 ? 0 : beats[s].StartsPart ? -(float)W.Cut : beats[s].StartsBar ? -(float)W.CutInside : Never;
                if (start > value) (value, way) = (start, 2);
                entered[s, t % ring] =
                    value + (float)(beats[s].StartsBar ? W.OnsetOnBar + W.OnsetOnBeat : W.OnsetOnBeat) * _onsets[t];
                how[s, t] = way;
            }
        }
        var path = new List<PlacedBeat>();
        for (int s = bestBeat, t = bestFrame; s >= 0;)
        {
            var start = t - back[s, t];
            var way = how[s, start];
            path.Add(new PlacedBeat(s, start, t));
            if (way == 2) break;
            (s, t) = (way == 1 ? jumpFrom[start] : s - 1, start);
        }
        path.Reverse();
        return new Alignment(path, best == Never ? 0 : best * period * _step / NoteTrack.Step);
    }
}
