namespace Tembri.Core.Practice;

/// <summary>A belief about one skill, and what came: mean and variance of both together, summed over an even grid.</summary>
internal static class CountPosterior
{
    private const double Reach = 5;   // standard deviations of the prior on either side
    private const int Nodes = 101;

    /// <summary>Takes the moments of a normal prior times a likelihood.</summary>
    /// <param name="mean">Prior mean.</param>
    /// <param name="deviation">Prior deviation, above 0.</param>
    /// <param name="logLikelihood">Logarithm of the likelihood of a value, up to a constant.</param>
    public static (double Mean, double Variance) Moments(double mean, double deviation, Func<double, double> logLikelihood)
    {
        var offset = new double[Nodes];
        var density = new double[Nodes];
        for (var i = 0; i < Nodes; i++)
        {
            var z = Reach * (2.0 * i / (Nodes - 1) - 1);
            (offset[i], density[i]) = (z * deviation, logLikelihood(mean + z * deviation) - z * z / 2);
        }
        var highest = density.Max();
        var (sum, first, second) = (0.0, 0.0, 0.0);
        for (var i = 0; i < Nodes; i++)
        {
            var share = Math.Exp(density[i] - highest);
            (sum, first, second) = (sum + share, first + share * offset[i], second + share * offset[i] * offset[i]);
        }
        first /= sum;
        return (mean + first, second / sum - first * first);
    }
}
