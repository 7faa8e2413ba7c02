namespace Tembri.Core.Hearing;

/// <summary>Finds by how much a recording is tuned away from 440 Hz.</summary>
internal static class TuningFinder
{
    private const double Lowest = 110, Highest = 1400;   // Hz, where partials are true and narrow
    private const int EveryFrame = 3;
    private const float AboveAround = 3;

    /// <summary>The distance from the nearest semitone grid, −50 to 50 cents: the mean direction of all partials, each by its
    /// strength.</summary>
    public static double Cents(Spectrogram spectra, CancellationToken cancel)
    {
        var magnitudes = new float[spectra.Bins];
        var (x, y) = (0.0, 0.0);
        var (low, high) = ((int)(Lowest / spectra.BinWidth), Math.Min(spectra.Bins - 3, (int)(Highest / spectra.BinWidth)));
        for (var frame = 0; frame < spectra.Frames; frame += EveryFrame)
        {
            cancel.ThrowIfCancellationRequested();
            spectra.Read(frame, magnitudes);
            var mean = 0f;
            for (var i = low; i <= high; i++) mean += magnitudes[i];
            mean /= high - low + 1;
            for (var i = low; i <= high; i++)
            {
                var m = magnitudes[i];
                if (m < AboveAround * mean || m < magnitudes[i - 1] || m < magnitudes[i + 1]) continue;
                var (a, b, c) =
                    (MathF.Log(magnitudes[i - 1] + 1e-9f), MathF.Log(m + 1e-9f), MathF.Log(magnitudes[i + 1] + 1e-9f));
                var bend = a - 2 * b + c;
                var peak = (i + (bend < 0 ? 0.5 * (a - c) / bend : 0)) * spectra.BinWidth;
                var turn = 2 * Math.PI * 12 * Math.Log2(peak / 440);
                x += Math.Sqrt(m) * Math.Cos(turn);
                y += Math.Sqrt(m) * Math.Sin(turn);
            }
        }
        return x == 0 && y == 0 ? 0 : 100 * Math.Atan2(y, x) / (2 * Math.PI);
    }
}
