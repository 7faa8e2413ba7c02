namespace Tembri.Core.Hearing;

/// <summary>How much begins when: the rise of the spectrum from stretch to stretch, on a logarithmic scale, above what is usual
/// around it.</summary>
internal sealed class OnsetTrack
{
    /// <summary>Samples from stretch to stretch, at <see cref="NoteTrack.Rate"/>.</summary>
    public const int Hop = 128;

    /// <summary>Seconds from stretch to stretch.</summary>
    public const double Step = (double)Hop / NoteTrack.Rate;

    private const int Window = 1024;
    private const int Bands = 36;
    private const double LowestBand = 40;      // Hz
    private const float Compression = 1000;
    private const int Around = 40;             // stretches on each side, half a second

    /// <summary>The strengths; their mean square is 1.</summary>
    public float[] Strength { get; }

    private OnsetTrack(float[] strength) => Strength = strength;

    /// <summary>Strength of what begins near a moment.</summary>
    /// <param name="seconds">The moment.</param>
    /// <param name="reach">How far off at most, s; a few hundredths of a second when left out.</param>
    public float Near(double seconds, double reach = 2 * Step)
    {
        var (at, far) = ((int)Math.Round(seconds / Step), Math.Max(1, (int)Math.Round(reach / Step)));
        var best = 0f;
        for (var i = Math.Max(0, at - far); i <= Math.Min(Strength.Length - 1, at + far); i++)
            best = Math.Max(best, Strength[i]);
        return best;
    }

    /// <summary>The moment of the strongest beginning near a moment, weighed by how near it is; the moment itself when nothing
    /// begins there.</summary>
    /// <param name="seconds">The moment.</param>
    /// <param name="reach">How far off, s.</param>
    public double Snap(double seconds, double reach)
    {
        var (best, value) = (seconds, 0.0);
        for (var i = Math.Max(0, (int)Math.Ceiling((seconds - reach) / Step));
            i < Strength.Length && i * Step <= seconds + reach; i++)
        {
            var off = (i * Step - seconds) / reach;
            var worth = Strength[i] * (1 - 0.7 * off * off);
            if (worth > value) (best, value) = (i * Step, worth);
        }
        return value > 0.5 ? best : seconds;
    }

    /// <summary>Listens.</summary>
    /// <param name="sound">At <see cref="NoteTrack.Rate"/>.</param>
    /// <param name="cancel">Ends the work.</param>
    public static OnsetTrack Of(MonoSound sound, CancellationToken cancel = default)
    {
        var spectra = new Spectrogram(sound, Window, Hop);
        var edges = Enumerable.Range(0, Bands + 1)
            .Select(
                b => (int)Math.Round(LowestBand * Math.Pow(sound.Rate / 2.0 / LowestBand, (double)b / Bands) / spectra.BinWidth))
            .ToArray();
        var magnitudes = new float[spectra.Bins];
        float[] before = new float[Bands], now = new float[Bands];
        var rise = new float[spectra.Frames];
        for (var frame = 0; frame < rise.Length; frame++)
        {
            if (frame % 64 == 0) cancel.ThrowIfCancellationRequested();
            spectra.Read(frame, magnitudes);
            for (var b = 0; b < Bands; b++)
            {
                var sum = 0f;
                for (var i = edges[b]; i <= Math.Max(edges[b], edges[b + 1] - 1) && i < magnitudes.Length; i++)
                    sum += magnitudes[i];
                now[b] = MathF.Log(1 + Compression * sum);
                if (frame > 0) rise[frame] += Math.Max(0, now[b] - before[b]);
            }
            (before, now) = (now, before);
        }
        return new OnsetTrack(AboveUsual(rise));
    }

    private static float[] AboveUsual(float[] rise)
    {
        var above = new float[rise.Length];
        double sum = 0, squares = 0;
        var (from, to) = (0, -1);
        for (var i = 0; i < rise.Length; i++)
        {
            while (to < Math.Min(rise.Length - 1, i + Around)) sum += rise[++to];
            while (from < i - Around) sum -= rise[from++];
            above[i] = (float)Math.Max(0, rise[i] - sum / (to - from + 1));
            squares += above[i] * above[i];
        }
        var scale = (float)Math.Sqrt(squares / Math.Max(1, rise.Length));
        if (scale > 0) for (var i = 0; i < above.Length; i++) above[i] /= scale;
        return above;
    }
}
