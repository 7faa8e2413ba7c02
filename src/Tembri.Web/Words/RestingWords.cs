using Tembri.Core.Ladders;
using Tembri.Data.Ladders;

namespace Tembri.Web.Words;

/// <summary>Says which of the shapes a teacher took are not played at a place, and where they are.</summary>
internal static class RestingWords
{
    /// <summary>A note for each cause; none when every shape is played.</summary>
    public static IEnumerable<string> Say(IReadOnlyList<LockedShape> taken, Ladder ladder)
    {
        var degrees = ladder.Flow.Chords.Select(c => c.DegreeIn(ladder.Chart.Key)).ToHashSet();
        var (away, gone) = (taken.Where(l => degrees.Contains(l.Chord) && l.ShapeTonic != ladder.ShapeKey.Tonic.PitchClass).ToList(), taken.Count(l => !degrees.Contains(l.Chord)));
        if (away.Count > 0)
        {
            var capos = ladder.Places.Where(p => away.Exists(l => l.ShapeTonic == p.ShapeKey.Tonic.PitchClass)).Select(p => p.Capo == 0 ? "no capo" : $"capo {p.Capo}").ToList();
            var back = capos.Count == 0 ? "" : $" {(away.Count == 1 ? "It comes" : "They come")} back at {string.Join(" or ", capos)}.";
            yield return $"{Rest(away.Count)}: {(away.Count == 1 ? "it was" : "they were")} taken among other shapes than those played here.{back}";
        }
        if (gone > 0) yield return $"{Rest(gone)}: the chart has {(gone == 1 ? "its chord" : "their chords")} no more. {(gone == 1 ? "It comes" : "They come")} back with {(gone == 1 ? "it" : "them")}.";
    }

    private static string Rest(int count) => count == 1 ? "One shape you took rests" : $"{count} shapes you took rest";
}
