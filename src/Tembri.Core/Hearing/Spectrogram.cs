using NWaves.Transforms;
using NWaves.Windows;

namespace Tembri.Core.Hearing;

/// <summary>Magnitudes of short stretches of a sound, a stretch every hop.</summary>
internal sealed class Spectrogram
{
    private readonly float[] _samples;
    private readonly float[] _window;
    private readonly RealFft _fft;
    private readonly float[] _block, _real, _imaginary;

    /// <summary>Samples from one stretch to the next.</summary>
    public int Hop { get; }

    /// <summary>Stretches; the middle of stretch n lies at n hops.</summary>
    public int Frames { get; }

    /// <summary>Hz from one bin to the next.</summary>
    public double BinWidth { get; }

    /// <summary>Bins of a stretch, from 0 Hz.</summary>
    public int Bins { get; }

    public Spectrogram(MonoSound sound, int size, int hop)
    {
        (_samples, Hop, Frames) = (sound.Samples, hop, sound.Samples.Length / hop + 1);
        (_fft, _window, _block) = (new RealFft(size), Window.OfType(WindowType.Hann, size), new float[size]);
        Bins = size / 2 + 1;
        BinWidth = (double)sound.Rate / size;
        (_real, _imaginary) = (new float[Bins], new float[Bins]);
        // A sine of amplitude 1 has the magnitude 1.
        var gain = 2f / _window.Sum();
        for (var i = 0; i < _window.Length; i++) _window[i] *= gain;
    }

    /// <summary>Fills the magnitudes of a stretch.</summary>
    /// <param name="frame">The stretch, from 0.</param>
    /// <param name="magnitudes">At least <see cref="Bins"/> long.</param>
    public void Read(int frame, Span<float> magnitudes)
    {
        var start = frame * Hop - _block.Length / 2;
        for (var i = 0; i < _block.Length; i++)
        {
            var at = start + i;
            _block[i] = at >= 0 && at < _samples.Length ? _samples[at] * _window[i] : 0;
        }
        _fft.Direct(_block, _real, _imaginary);
        for (var i = 0; i < Bins; i++) magnitudes[i] = MathF.Sqrt(_real[i] * _real[i] + _imaginary[i] * _imaginary[i]);
    }
}
