namespace Tembri.Browser.Tests;

/// <summary>What a page plays, measured.</summary>
internal static class HeardSound
{
    public const int SampleRate = 22_050;

    /// <summary>A page keeps its player to itself. The tests catch it as it is made: by the clockwork that is set on
    /// it.</summary>
    public const string CatchPlayer = """
        Object.defineProperty(Object.prototype, "clockwork", { configurable: true, set(value) {
          if (this.score) window.caughtPlayer = this;
          Object.defineProperty(this, "clockwork", { value, writable: true, configurable: true, enumerable: true });
        } });
        """;

    /// <summary>How much of a frequency is in the samples (Goertzel, 1958), under a Hann window.</summary>
    public static double Power(ReadOnlySpan<double> samples, double frequency)
    {
        var w = 2 * Math.PI * frequency / SampleRate;
        double re = 0, im = 0;
        for (var i = 0; i < samples.Length; i++)
        {
            var hann = 0.5 - 0.5 * Math.Cos(2 * Math.PI * i / samples.Length);
            re += samples[i] * hann * Math.Cos(w * i);
            im += samples[i] * hann * Math.Sin(w * i);
        }
        return re * re + im * im;
    }

    /// <summary>Frequency of a MIDI pitch, Hz.</summary>
    public static double Frequency(double pitch) => 440 * Math.Pow(2, (pitch - 69) / 12);
}
