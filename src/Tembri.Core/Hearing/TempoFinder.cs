namespace Tembri.Core.Hearing;

/// <summary>Finds beats and their tempo without a chart.</summary>
internal static class TempoFinder
{
    private const double Slowest = 40, Fastest = 240, Usual = 105, Spread = 0.9;   // beats a minute; octaves
    private const double Tightness = 100;

    /// <summary>Tempos that the sound repeats itself at, the likeliest first, with how strongly.</summary>
    /// <param name="onsets">What begins when.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<(double Tempo, double Strength)> Candidates(OnsetTrack onsets, int most)
    {
        var x = onsets.Strength;
        var (shortest, longest) = ((int)(60 / Fastest / OnsetTrack.Step), (int)(60 / Slowest / OnsetTrack.Step) + 1);
        var alike = new double[4 * longest + 4];
        for (var lag = shortest - 2; lag < alike.Length && lag < x.Length; lag++)
        {
            var sum = 0.0;
            for (var i = lag; i < x.Length; i++) sum += x[i] * x[i - lag];
            alike[lag] = sum / x.Length;
        }
        // A beat is where its multiples repeat as well; lags are no whole stretches, so they are read between.
        double At(double lag)
        {
            var i = (int)lag;
            return i + 1 < alike.Length ? Math.Max(alike[i] + (lag - i) * (alike[i + 1] - alike[i]), 0) : 0;
        }
        var found = new List<(double Tempo, double Strength)>();
        for (var tempo = Slowest; tempo <= Fastest; tempo *= 1.004)
        {
            var lag = 60 / tempo / OnsetTrack.Step;
            var strength = (At(lag) + 0.7 * At(2 * lag) + 0.5 * At(4 * lag))
                * Math.Exp(-0.5 * Math.Pow(Math.Log2(tempo / Usual) / Spread, 2));
            found.Add((tempo, strength));
        }
        var peaks = new List<(double Tempo, double Strength)>();
        for (var i = 1; i < found.Count - 1; i++)
            if (found[i].Strength > found[i - 1].Strength && found[i].Strength >= found[i + 1].Strength) peaks.Add(found[i]);
        return [.. peaks.OrderByDescending(p => p.Strength).Take(most)];
    }

    /// <summary>Beats at about a tempo: strong beginnings, evenly apart (Ellis 2007, by dynamic programming).</summary>
    /// <returns>Their moments, s.</returns>
    public static IReadOnlyList<double> Beats(OnsetTrack onsets, double tempo)
    {
        var x = onsets.Strength;
        var period = 60 / tempo / OnsetTrack.Step;
        var (score, before) = (new double[x.Length], new int[x.Length]);
        for (var i = 0; i < x.Length; i++)
        {
            var (best, from) = (0.0, -1);
            for (var j = Math.Max(0, (int)(i - 2 * period)); j <= i - period / 2; j++)
            {
                var off = Math.Log((i - j) / period);
                var value = score[j] - Tightness * off * off;
                if (value > best) (best, from) = (value, j);
            }
            score[i] = x[i] + best;
            before[i] = from;
        }
        var last = Enumerable.Range(Math.Max(0, x.Length - (int)(1.5 * period)), Math.Min(x.Length, (int)(1.5 * period)))
            .DefaultIfEmpty(-1).MaxBy(i => i < 0 ? double.MinValue : score[i]);
        var beats = new List<double>();
        for (var i = last; i >= 0; i = before[i]) beats.Add(i * OnsetTrack.Step);
        beats.Reverse();
        return beats;
    }
}
