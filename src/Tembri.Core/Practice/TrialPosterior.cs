using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>What is believed of a few techniques after some tries: mean and covariance of prior × likelihood, summed over a grid.</summary>
/// <remarks>
/// The trapezoid rule over an even grid, which is exact to many digits for smooth densities that die away (Trefethen &amp; Weideman 2014). A highest place and its curvature would not do: ten clean tries of ten say
/// "at least so much" and nothing upwards.
/// </remarks>
internal sealed class TrialPosterior
{
    private const double Reach = 5;   // standard deviations of the prior that the grid covers on either side
    private const double LeastChance = 1e-12;
    private static readonly int[] Nodes = [1, 51, 27, 17];   // along each technique, by how many there are
    private readonly int _n, _nodes;
    private readonly double[] _mean;
    private readonly double[][] _offset, _chance;   // from the mean, and what the gates of the technique let through, by technique and node

    /// <summary>Lays the grid.</summary>
    /// <param name="gates">The gates of each technique.</param>
    /// <param name="mean">Prior means of the techniques, at most three.</param>
    /// <param name="deviation">Prior deviations.</param>
    public TrialPosterior(IReadOnlyList<IReadOnlyList<Gate>> gates, double[] mean, double[] deviation)
    {
        (_n, _mean) = (mean.Length, mean);
        _nodes = Nodes[_n];
        _offset = [.. deviation.Select(d => Enumerable.Range(0, _nodes).Select(k => Reach * d * (2.0 * k / (_nodes - 1) - 1)).ToArray())];
        _chance = [.. _offset.Select((offsets, i) => offsets.Select(o => gates[i].Aggregate(1.0, (c, g) => c * g.Chance(mean[i] + o))).ToArray())];
    }

    /// <summary>At most this many techniques at once.</summary>
    public const int Most = 3;

    /// <summary>Takes mean and covariance.</summary>
    /// <param name="precision">Inverse of the prior covariance.</param>
    /// <param name="tries">How many tries; may be a fraction.</param>
    /// <param name="clean">How many were clean.</param>
    /// <param name="otherwise">Chance of all that is not in the grid, 0 to 1.</param>
    public (double[] Mean, double[,] Covariance) Moments(double[,] precision, double tries, double clean, double otherwise)
    {
        var points = 1;
        for (var i = 0; i < _n; i++) points *= _nodes;
        var density = new double[points];
        var highest = double.NegativeInfinity;
        Span<double> offset = stackalloc double[Most];
        for (var p = 0; p < points; p++)
        {
            var chance = At(p, offset) * otherwise;
            var value = clean * Math.Log(Math.Max(LeastChance, chance)) + (tries - clean) * Math.Log(Math.Max(LeastChance, 1 - chance));
            for (var i = 0; i < _n; i++) for (var j = 0; j < _n; j++) value -= 0.5 * precision[i, j] * offset[i] * offset[j];
            density[p] = value;
            highest = Math.Max(highest, value);
        }
        var (sum, first, second) = (0.0, new double[_n], new double[_n, _n]);
        for (var p = 0; p < points; p++)
        {
            if (highest - density[p] > 40) continue;   // e^−40 of the highest is nothing
            At(p, offset);
            var share = Math.Exp(density[p] - highest);
            sum += share;
            for (var i = 0; i < _n; i++)
            {
                first[i] += share * offset[i];
                for (var j = 0; j <= i; j++) second[i, j] += share * offset[i] * offset[j];
            }
        }
        var covariance = new double[_n, _n];
        for (var i = 0; i < _n; i++) for (var j = 0; j <= i; j++) covariance[i, j] = covariance[j, i] = second[i, j] / sum - first[i] / sum * (first[j] / sum);
        return ([.. first.Select((f, i) => _mean[i] + f / sum)], covariance);
    }

    /// <summary>The offsets of a point of the grid, and what its gates let through.</summary>
    private double At(int point, Span<double> offset)
    {
        var chance = 1.0;
        for (var i = 0; i < _n; i++)
        {
            var k = point % _nodes;
            point /= _nodes;
            offset[i] = _offset[i][k];
            chance *= _chance[i][k];
        }
        return chance;
    }
}
