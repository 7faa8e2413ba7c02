using Tembri.Core.Ladders;

namespace Tembri.Core.Tests.Ladders;

/// <summary>What the tests of this assembly share: one cache and one builder, since pure functions may share what they
/// know.</summary>
internal static class Known
{
    public static readonly ResultCache Results = new();

    public static readonly LadderBuilder Builder = new(Results);
}
