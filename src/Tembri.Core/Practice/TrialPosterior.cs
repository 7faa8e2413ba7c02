using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>What is believed of up to three techniques after some tries: mean and covariance of prior × likelihood, summed over
/// a grid.</summary>
/// <remarks>
/// The trapezoid rule over an even grid, which is exact to many digits for smooth densities that die away, once its step is
/// little more than their width (Trefethen &amp; Weideman 2014). A highest place and its
/// curvature would not do: ten clean tries of ten say "at least so much" and nothing upwards.
/// </remarks>
internal sealed class TrialPosterior
{
    /// <summary>At most this many techniques at once.</summary>
    public const int Most = 3;

    // Standard deviations of the prior that the grid covers on either side, by how many techniques there are: what nobody
    // expected can lie far out.
    private static readonly double[] Reaches = [0, 8, 5, 5];
    // Of the narrower of prior and likelihood, by how many techniques there are: what both give together can be narrower still,
    // and one axis costs little.
    private static readonly double[] Steps = [0, 0.5, 1.0, 1.25];
    private const double LeastChance = 1e-12;
    private const double Nothing = -40;    // logarithm, against the highest seen

    private readonly record struct Axis(double[] Offset, double[] Chance, double[] Log)
    {
        /// <summary>An axis that is not there: one place, where everything comes off.</summary>
        public static readonly Axis None = new([0], [1], [0]);

        public static Axis Of(IReadOnlyList<Gate> gates, double mean, double deviation, double tries, double reach, double step)
        {
            // How far the chance of a gate tells skills apart, with so many tries.
            var telling = gates.Min(g => g.Softness) * 2 / Math.Sqrt(Math.Max(1, tries));
            var nodes = 1 + 2 * (int)Math.Ceiling(reach * deviation / (step * Math.Min(deviation, telling)));
            var offset = new double[nodes];
            var chance = new double[nodes];
            var log = new double[nodes];
            for (var k = 0; k < nodes; k++)
            {
                offset[k] = reach * deviation * (2.0 * k / (nodes - 1) - 1);
                chance[k] = 1;
                foreach (var gate in gates) chance[k] *= gate.Chance(mean + offset[k]);
                log[k] = Math.Log(Math.Max(LeastChance, chance[k]));
            }
            return new Axis(offset, chance, log);
        }
    }

    private readonly double[] _mean;
    private readonly Axis[] _axes;

    /// <summary>Lays the grid.</summary>
    /// <param name="gates">The gates of each technique.</param>
    /// <param name="mean">Prior means of the techniques, at most three.</param>
    /// <param name="deviation">Prior deviations.</param>
    /// <param name="tries">How many tries there are; may be a fraction.</param>
    public TrialPosterior(IReadOnlyList<IReadOnlyList<Gate>> gates, double[] mean, double[] deviation, double tries)
    {
        _mean = mean;
        _axes = [.. Enumerable.Range(0, Most)
            .Select(i => i < mean.Length
                ? Axis.Of(gates[i], mean[i], deviation[i], tries, Reaches[mean.Length], Steps[mean.Length])
                : Axis.None)];
    }

    /// <summary>Takes mean and covariance.</summary>
    /// <param name="precision">Inverse of the prior covariance.</param>
    /// <param name="tries">How many tries; may be a fraction.</param>
    /// <param name="clean">How many were clean.</param>
    /// <param name="otherwise">Chance of all that is not in the grid, 0 to 1.</param>
    public (double[] Mean, double[,] Covariance) Moments(double[,] precision, double tries, double clean, double otherwise)
    {
        var n = _mean.Length;
        double P(int i, int j) => i < n && j < n ? precision[i, j] : 0;
        var (p00, p11, p22, p01, p02, p12) = (P(0, 0), P(1, 1), P(2, 2), P(0, 1), P(0, 2), P(1, 2));
        var (a, b, c) = (_axes[0], _axes[1], _axes[2]);
        var failed = tries - clean;
        // One pass: sums are scaled down whenever a higher place is met.
        var highest = double.NegativeInfinity;
        double sum = 0, s0 = 0, s1 = 0, s2 = 0, s00 = 0, s11 = 0, s22 = 0, s01 = 0, s02 = 0, s12 = 0;
        for (var i = 0; i < a.Offset.Length; i++)
        {
            var x = a.Offset[i];
            for (var j = 0; j < b.Offset.Length; j++)
            {
                var y = b.Offset[j];
                var before = clean * (a.Log[i] + b.Log[j]) - 0.5 * (p00 * x * x + p11 * y * y) - p01 * x * y;
                var chance = a.Chance[i] * b.Chance[j] * otherwise;
                var pull = p02 * x + p12 * y;
                for (var k = 0; k < c.Offset.Length; k++)
                {
                    var z = c.Offset[k];
                    var value = before + clean * c.Log[k] - 0.5 * p22 * z * z - pull * z;
                    // What failed can only lower it.
                    if (value - highest < Nothing) continue;
                    if (failed > 0) value += failed * Math.Log(Math.Max(LeastChance, 1 - chance * c.Chance[k]));
                    if (value - highest < Nothing) continue;
                    if (value > highest)
                    {
                        var down = Math.Exp(highest - value);
                        (sum, s0, s1, s2, s00, s11, s22, s01, s02,
                            s12) = (sum * down, s0 * down, s1 * down, s2 * down, s00 * down, s11 * down, s22 * down, s01 * down,
                                s02 * down, s12 * down);
                        highest = value;
                    }
                    var share = Math.Exp(value - highest);
                    sum += share;
                    (s0, s1, s2) = (s0 + share * x, s1 + share * y, s2 + share * z);
                    (s00, s11, s22) = (s00 + share * x * x, s11 + share * y * y, s22 + share * z * z);
                    (s01, s02, s12) = (s01 + share * x * y, s02 + share * x * z, s12 + share * y * z);
                }
            }
        }
        double[] first = [s0 / sum, s1 / sum, s2 / sum];
        double[,] second = { { s00, s01, s02 }, { s01, s11, s12 }, { s02, s12, s22 } };
        var covariance = new double[n, n];
        for (var i = 0; i < n; i++) for (var j = 0; j < n; j++) covariance[i, j] = second[i, j] / sum - first[i] * first[j];
        return ([.. _mean.Select((m, i) => m + first[i])], covariance);
    }
}
