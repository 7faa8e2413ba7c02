using System.Numerics;

namespace Tembri.Formats.Sounding;

/// <summary>A tune played above its chords by the same hands, as on a piano.</summary>
/// <param name="tune">The pitch in the middle of the tune's.</param>
/// <param name="under">The pitch in the middle of those right below it.</param>
internal sealed class TuneAbove(int tune, int under)
{
    private const double Moves = 0.25;      // how often the note on top goes elsewhere while those below stay
    private const int FewestMoves = 4;

    /// <summary>The tune of a part; null where what is on top belongs to the chords.</summary>
    public static TuneAbove? In(IEnumerable<IReadOnlyList<PlayedNote>> places)
    {
        var (stays, tops, seconds, before, last) = (0, new List<int>(), new List<int>(), 0, 0);
        foreach (var here in places)
        {
            var pitches = here.Select(n => n.Pitch).Order().ToList();
            var rest = pitches.Take(pitches.Count - 1).Aggregate(0, (m, p) => m | 1 << p % 12);
            if (BitOperations.PopCount((uint)rest) < SoundedChords.FewestTones) continue;
            if (rest == before)
            {
                stays++;
                if (pitches[^1] != last)
                {
                    tops.Add(pitches[^1]);
                    seconds.Add(pitches[^2]);
                }
            }
            (before, last) = (rest, pitches[^1]);
        }
        return tops.Count >= FewestMoves && tops.Count >= Moves * stays
            ? new TuneAbove(Middle(tops), Middle(seconds))
            : null;
    }

    /// <summary>The notes below the tune; all of them where it is silent. Places are asked for in order.</summary>
    public IReadOnlyList<PlayedNote> Below(IReadOnlyList<PlayedNote> here)
    {
        // The chord goes on while the tune is silent.
        if (_before.SetEquals(here.Select(n => n.Pitch))) return here;
        var top = here.MaxBy(n => n.Pitch)!;
        var rest = here.Where(n => n != top).ToList();
        var isSung = SoundedChords.Tones(rest) >= SoundedChords.FewestTones
            && (top.Pitch - under > tune - top.Pitch || _before.SetEquals(rest.Select(n => n.Pitch)));
        _before = [.. (isSung ? rest : here).Select(n => n.Pitch)];
        return isSung ? rest : here;
    }

    private HashSet<int> _before = [];

    private static int Middle(List<int> pitches) => pitches.Order().ElementAt(pitches.Count / 2);
}
