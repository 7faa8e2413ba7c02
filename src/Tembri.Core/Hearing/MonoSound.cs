namespace Tembri.Core.Hearing;

/// <summary>Sound of one channel.</summary>
/// <param name="Samples">Amplitudes, nominally −1 to 1.</param>
/// <param name="Rate">Samples a second.</param>
public sealed record MonoSound(float[] Samples, int Rate)
{
    /// <summary>The lowest rate that holds what is listened for: notes up to 2 kHz with their first overtones.</summary>
    public const int LowestRate = 8000;

    /// <summary>The highest rate that is taken.</summary>
    public const int HighestRate = 192_000;

    private const int ZeroCrossings = 16;   // of the kernel, on each side
    private const int Phases = 512;
    private const double PassBand = 0.94;   // of the lower of both half rates

    /// <summary>Length, s.</summary>
    public double Seconds => (double)Samples.Length / Rate;

    /// <summary>The same sound at another rate, by a windowed sinc (Smith &amp; Gossett 1984).</summary>
    /// <param name="rate">Samples a second, above 0.</param>
    /// <param name="cancel">Ends the work.</param>
    public MonoSound At(int rate, CancellationToken cancel = default)
    {
        if (rate == Rate) return this;
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(rate);
        var step = (double)Rate / rate;
        var cut = PassBand * Math.Min(1, 1 / step);
        var half = (int)Math.Ceiling(ZeroCrossings / cut);
        var kernels = Kernels(cut, half);
        var output = new float[(int)(Samples.Length / step)];
        for (var n = 0; n < output.Length; n++)
        {
            if (n % 65_536 == 0) cancel.ThrowIfCancellationRequested();
            var at = n * step;
            var first = (int)at;
            var kernel = kernels[(int)((at - first) * Phases)];
            var from = Math.Max(0, first - half + 1);
            var to = Math.Min(Samples.Length - 1, first + half);
            var sum = 0f;
            for (var i = from; i <= to; i++) sum += Samples[i] * kernel[i - first + half - 1];
            output[n] = sum;
        }
        return new MonoSound(output, rate);
    }

    /// <summary>The same sound at a mean power of a tenth of full scale, squared: what follows need not know how loud it was
    /// recorded.</summary>
    public MonoSound Levelled()
    {
        var power = 0.0;
        foreach (var sample in Samples) power += (double)sample * sample;
        var gain = power > 0 ? (float)(UsualLevel / Math.Sqrt(power / Samples.Length)) : 1;
        return this with { Samples = [.. Samples.Select(s => s * gain)] };
    }

    private const double UsualLevel = 0.1;

    /// <summary>For each fraction of a sample the weights of the samples around it, from <paramref name="half"/> − 1 before
    /// it.</summary>
    private static float[][] Kernels(double cut, int half) => [.. Enumerable.Range(0, Phases).Select(p =>
    {
        var kernel = new float[2 * half];
        var sum = 0.0;
        for (var i = 0; i < kernel.Length; i++)
        {
            var x = i - half + 1 - (p + 0.5) / Phases;
            var sinc = x == 0 ? 1 : Math.Sin(Math.PI * cut * x) / (Math.PI * cut * x);
            var window = 0.5 + 0.5 * Math.Cos(Math.PI * Math.Clamp(x / half, -1, 1));
            kernel[i] = (float)(sinc * window);
            sum += kernel[i];
        }
        for (var i = 0; i < kernel.Length; i++) kernel[i] = (float)(kernel[i] / sum);
        return kernel;
    })];
}
