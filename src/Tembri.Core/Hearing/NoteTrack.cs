namespace Tembri.Core.Hearing;

/// <summary>Which notes sound when: for each stretch of a sound the strength of each note, overtones taken off.</summary>
/// <remarks>
/// A spectrum with three bins a semitone is cleared of what lies evenly around each bin (drums, breath), as Mauch &amp; Dixon
/// 2010 do, and then explained by notes with fading overtones, none negative: Lee &amp; Seung's rule
/// (2001) for the least squares. Low notes are read from stretches twice as long.
/// </remarks>
internal sealed class NoteTrack
{
    /// <summary>The rate sounds are listened to at.</summary>
    public const int Rate = 11025;

    /// <summary>Samples from stretch to stretch.</summary>
    public const int Hop = 512;

    /// <summary>Seconds from stretch to stretch.</summary>
    public const double Step = (double)Hop / Rate;

    /// <summary>The lowest note that is listened for: E, 41 Hz.</summary>
    public const int LowestNote = 28;

    /// <summary>How many notes are.</summary>
    public const int Notes = 64;

    private const int PerNote = 3;
    private const int LowestBin = LowestNote * PerNote - 2;
    private const int Bins = (Notes + 20) * PerNote;
    private const int ShortWindow = 4096, LongWindow = 8192;
    private const double LongBelow = 50;   // MIDI
    private const int Around = 18;         // bins on each side
    private const int Overtones = 8;
    private const float Fading = 0.8f;
    private const int Rounds = 12;

    private readonly float[] _notes;

    /// <summary>Stretches; the middle of stretch n lies at n·<see cref="Step"/> seconds.</summary>
    public int Frames { get; }

    /// <summary>By how much the sound is tuned away from 440 Hz, −50 to 50 cents.</summary>
    public double Cents { get; }

    /// <summary>Loudness of each stretch: the mean magnitude of its spectrum.</summary>
    public float[] Loudness { get; }

    private NoteTrack(float[] notes, float[] loudness, double cents) =>
        (_notes, Loudness, Cents, Frames) = (notes, loudness, cents, loudness.Length);

    /// <summary>The strengths of the notes of a stretch, from <see cref="LowestNote"/>.</summary>
    public ReadOnlySpan<float> At(int frame) => _notes.AsSpan(frame * Notes, Notes);

    /// <summary>Listens.</summary>
    /// <param name="sound">At <see cref="Rate"/>.</param>
    /// <param name="cancel">Ends the work.</param>
    public static NoteTrack Of(MonoSound sound, CancellationToken cancel = default)
    {
        var (shorter, longer) = (new Spectrogram(sound, ShortWindow, Hop), new Spectrogram(sound, LongWindow, Hop));
        var cents = TuningFinder.Cents(shorter, cancel);
        var (fromShort, fromLong) = (Mapping(shorter, cents), Mapping(longer, cents));
        var frames = shorter.Frames;
        var (notes, loudness) = (new float[frames * Notes], new float[frames]);
        float[] one = new float[shorter.Bins], two = new float[longer.Bins], bins = new float[Bins], clear = new float[Bins];
        var explain = new Explainer();
        for (var frame = 0; frame < frames; frame++)
        {
            if (frame % 16 == 0) cancel.ThrowIfCancellationRequested();
            shorter.Read(frame, one);
            longer.Read(frame, two);
            var split = (int)((LongBelow - LowestNote) * PerNote);
            for (var b = 0; b < Bins; b++) bins[b] = Mapped(b < split ? fromLong[b] : fromShort[b], b < split ? two : one);
            loudness[frame] = bins.Sum() / Bins;
            Clear(bins, clear);
            explain.Read(clear, notes.AsSpan(frame * Notes, Notes));
        }
        return new NoteTrack(notes, loudness, cents);
    }

    /// <summary>For each bin on the scale of notes the bins of the spectrum with their weights.</summary>
    private static (int First, float[] Weights)[] Mapping(Spectrogram spectra,
        double cents) => [.. Enumerable.Range(0, Bins).Select(b =>
    {
        double Hertz(double bin) => 440 * Math.Pow(2, ((bin + LowestBin) / PerNote - 69 + cents / 100) / 12);
        var centre = Hertz(b);
        var width = Math.Max(Hertz(b + 1) - centre, spectra.BinWidth);
        var first = Math.Max(0, (int)Math.Ceiling((centre - width) / spectra.BinWidth));
        var last = Math.Min(spectra.Bins - 1, (int)Math.Floor((centre + width) / spectra.BinWidth));
        var weights = new float[Math.Max(1, last - first + 1)];
        for (var i = 0; i < weights.Length; i++)
            weights[i] = (float)Math.Max(1e-6, 1 - Math.Abs((first + i) * spectra.BinWidth - centre) / width);
        var sum = weights.Sum();
        return (Math.Min(first, spectra.Bins - weights.Length), weights.Select(w => w / sum).ToArray());
    })];

    private static float Mapped((int First, float[] Weights) mapping, float[] magnitudes)
    {
        var sum = 0f;
        for (var i = 0; i < mapping.Weights.Length; i++) sum += mapping.Weights[i] * magnitudes[mapping.First + i];
        return sum;
    }

    /// <summary>Takes off the mean around each bin, and divides by the root of how much it varies there: what is left stands
    /// out, and loud regions do not hide quiet ones.</summary>
    private static void Clear(float[] bins, float[] clear)
    {
        double sum = 0, squares = 0;
        var (from, to) = (0, -1);
        for (var b = 0; b < Bins; b++)
        {
            while (to < Math.Min(Bins - 1, b + Around)) { to++; sum += bins[to]; squares += (double)bins[to] * bins[to]; }
            while (from < b - Around) { sum -= bins[from]; squares -= (double)bins[from] * bins[from]; from++; }
            var count = to - from + 1;
            var mean = sum / count;
            var deviation = Math.Sqrt(Math.Max(0, squares / count - mean * mean));
            clear[b] = deviation > 1e-7 && bins[b] > mean ? (float)((bins[b] - mean) / Math.Sqrt(deviation)) : 0;
        }
    }

    /// <summary>Explains a cleared spectrum by notes with overtones.</summary>
    private sealed class Explainer
    {
        private readonly (int Bin, float Weight)[][] _profiles;
        private readonly float[] _made = new float[Bins], _first = new float[Notes];

        public Explainer() => _profiles = [.. Enumerable.Range(0, Notes).Select(n => Profile(n).ToArray())];

        private static IEnumerable<(int, float)> Profile(int note)
        {
            var weight = 1f;
            for (var k = 1; k <= Overtones; k++, weight *= Fading)
            {
                var bin = (note + LowestNote) * PerNote + PerNote * 12 * Math.Log2(k) - LowestBin;
                var at = (int)Math.Round(bin);
                for (var i = at - 1; i <= at + 1; i++)
                    if (i is >= 0 and < Bins) yield return (i, weight * (float)Math.Max(0.15, 1 - 0.62 * Math.Abs(i - bin)));
            }
        }

        public void Read(float[] clear, Span<float> notes)
        {
            for (var n = 0; n < Notes; n++)
            {
                var sum = 0f;
                foreach (var (bin, weight) in _profiles[n]) sum += weight * clear[bin];
                notes[n] = _first[n] = sum;
            }
            for (var round = 0; round < Rounds; round++)
            {
                Array.Clear(_made);
                for (var n = 0; n < Notes; n++)
                {
                    if (notes[n] < 1e-5f) continue;
                    foreach (var (bin, weight) in _profiles[n]) _made[bin] += notes[n] * weight;
                }
                for (var n = 0; n < Notes; n++)
                {
                    if (notes[n] < 1e-5f) { notes[n] = 0; continue; }
                    var explained = 1e-6f;
                    foreach (var (bin, weight) in _profiles[n]) explained += weight * _made[bin];
                    notes[n] *= _first[n] / explained;
                }
            }
        }
    }
}
