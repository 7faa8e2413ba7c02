using CsCheck;

namespace Tembri.Core.Tests;

internal static class Pick
{
    /// <summary>One of some values.</summary>
    public static Gen<T> From<T>(params IReadOnlyList<T> values) => Gen.Int[0, values.Count - 1].Select(i => values[i]);
}
