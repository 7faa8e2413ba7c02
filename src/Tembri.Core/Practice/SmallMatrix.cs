namespace Tembri.Core.Practice;

/// <summary>Linear equations of a few unknowns with a symmetric, positive matrix.</summary>
internal static class SmallMatrix
{
    /// <summary>Solves A·x = b by Cholesky's way.</summary>
    /// <param name="n">How many unknowns.</param>
    /// <param name="a">The matrix by row and column; symmetric, positive definite.</param>
    /// <param name="b">The right side by row.</param>
    public static double[] Solve(int n, Func<int, int, double> a, Func<int, double> b)
    {
        var l = Factor(n, a);
        var x = new double[n];
        for (var i = 0; i < n; i++)
        {
            x[i] = b(i);
            for (var k = 0; k < i; k++) x[i] -= l[i, k] * x[k];
            x[i] /= l[i, i];
        }
        for (var i = n - 1; i >= 0; i--)
        {
            for (var k = i + 1; k < n; k++) x[i] -= l[k, i] * x[k];
            x[i] /= l[i, i];
        }
        return x;
    }

    /// <summary>The inverse.</summary>
    /// <param name="n">Rows and columns.</param>
    /// <param name="a">The matrix by row and column; symmetric, positive definite.</param>
    public static double[,] Inverse(int n, Func<int, int, double> a)
    {
        var inverse = new double[n, n];
        for (var column = 0; column < n; column++)
        {
            var x = Solve(n, a, i => i == column ? 1 : 0);
            for (var i = 0; i < n; i++) inverse[i, column] = x[i];
        }
        return inverse;
    }

    private static double[,] Factor(int n, Func<int, int, double> a)
    {
        const double least = 1e-12;   // rounding must not make a root of a negative number
        var l = new double[n, n];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var sum = a(i, j);
                for (var k = 0; k < j; k++) sum -= l[i, k] * l[j, k];
                l[i, j] = i == j ? Math.Sqrt(Math.Max(least, sum)) : sum / l[j, j];
            }
        }
        return l;
    }
}
