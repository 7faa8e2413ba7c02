using Tembri.Core.Ladders;
using Tembri.Data.Ladders;

namespace Tembri.Web.Words;

/// <summary>Says which of the shapes a teacher took are not played at a place, and where they are.</summary>
internal static class RestingWords
{
    /// <summary>A note for each cause; none when every shape is played.</summary>
    /// <param name="all">The shapes that were taken.</param>
    /// <param name="ladder">The ladder.</param>
    /// <param name="strings">The tuning it is played in, where it is not the song's.</param>
    public static IEnumerable<string> Say(IReadOnlyList<LockedShape> all, Ladder ladder, string? strings)
    {
        var elsewhere = all.Where(l => l.Strings != strings).ToList();
        if (elsewhere.Count > 0)
            yield return $"{Rest(elsewhere.Count)}: {(elsewhere.Count == 1 ? "it was" : "they were")} taken in another tuning "
                + $"({string.Join(", ", elsewhere.Select(l => l.Strings ?? "the song’s").Distinct())}), and "
                + $"{(elsewhere.Count == 1 ? "comes" : "come")} back with it.";
        var taken = all.Where(l => l.Strings == strings).ToList();
        var degrees = ladder.Flow.Chords.Select(c => c.DegreeIn(ladder.Chart.Key)).ToHashSet();
        // What was decided for a chord the chart has no more is offered to be carried over; the ladder page says so.
        var away = taken.Where(l => degrees.Contains(l.Chord) && l.ShapeTonic != ladder.ShapeKey.Tonic.PitchClass).ToList();
        if (away.Count > 0)
        {
            var capos = ladder.Places.Where(p => away.Exists(l => l.ShapeTonic == p.ShapeKey.Tonic.PitchClass))
                .Select(p => p.Capo == 0 ? "no capo" : $"capo {p.Capo}").ToList();
            var back =
                capos.Count == 0 ? "" : $" {(away.Count == 1 ? "It comes" : "They come")} back at {string.Join(" or ", capos)}.";
            yield return $"{Rest(away.Count)}: {(away.Count == 1 ? "it was" : "they were")} taken among other shapes than those "
                + $"played here.{back}";
        }
    }

    private static string Rest(int count) => count == 1 ? "One shape you took rests" : $"{count} shapes you took rest";
}
