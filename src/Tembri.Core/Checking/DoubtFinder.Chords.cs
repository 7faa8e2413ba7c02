using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Checking;

/// <content>What is odd about chords: spellings, two ways of writing, suspensions left hanging, guests in the key, sevenths that
/// come once.</content>
public sealed partial class DoubtFinder
{
    private const double RareShare = 0.06;     // a chord that sounds less than this share of the song is a guest
    private const int MostHomes = 100;         // chords of the key that a foreign one may stand for, the longest heard

    private void Spellings()
    {
        var written = Written.ToLookup(s => s.Symbol);
        var found = new HashSet<string>();
        for (var i = 0; i < _played.Count && !IsFull; i++)
        {
            if (_played[i].Chord is not { } chord || _played[i].Line == 0) continue;
            var spelt = _chart.Key.Spell(chord.Root.PitchClass);
            if (spelt == chord.Root) continue;
            // A chord that leads up a semitone to the next letter is spelt for where it goes.
            if (i + 1 < _played.Count && _played[i + 1].Chord is { } next
                && (next.Root.PitchClass - chord.Root.PitchClass + 12) % 12 == 1 && next.Root.Letter != chord.Root.Letter)
                continue;
            // One doubt a symbol: its mend writes it anew everywhere.
            if (!found.Add(_played[i].Symbol)) continue;
            var right =
                new Chord(spelt, chord.Kind, chord.Degrees, chord.Bass is { } bass ? _chart.Key.Spell(bass.PitchClass) : null);
            Add($"spelt {chord.Name}", _played[i], $"{chord.Name} is spelt against the key of {_chart.Key}, which has {spelt}.",
                Some(Write($"write {right.Name}", right.Name, written[_played[i].Symbol])));
        }
    }

    private void TwoWaysOfWriting()
    {
        var spelt = _doubts.Select(d => d.Id).ToHashSet();
        foreach (var same in Written.Where(s => s.Chord is not null)
            .GroupBy(s => (s.Chord!.Root.PitchClass, s.Chord.PitchClassMask, s.Chord.BassPitchClass)))
        {
            var ways =
                same.GroupBy(s => s.Symbol.Replace('♭', 'b').Replace('♯', '#')).OrderByDescending(g => g.Count()).ToList();
            if (ways.Count < 2) continue;
            foreach (var other in ways.Skip(1).Where(w => !spelt.Contains($"spelt {w.First().Chord!.Name}")).Take(MostDoubts))
                Add($"two ways {other.Key}", other.First(),
                    $"{other.Key} and {ways[0].Key} are the same chord, written two ways.",
                    Some(Write($"write {ways[0].Key} everywhere", ways[0].First().Symbol, other)));
        }
    }

    private void SuspensionsThatNeverResolve()
    {
        // What comes after each slot once its chord is over, reckoned from the end.
        var after = new Chord?[_played.Count];
        for (var i = _played.Count - 2; i >= 0; i--)
            after[i] = _played[i + 1].Chord is { } next && next.Equals(_played[i].Chord) ? after[i + 1] : _played[i + 1].Chord;
        bool Resolves(int i) => after[i] is { IsSuspended: false } to && to.Root.PitchClass == _played[i].Chord!.Root.PitchClass;
        foreach (var same in _played.Select((s, i) => (Slot: s, Index: i)).Where(x => x.Slot.Chord is { IsSuspended: true })
            .GroupBy(x => x.Slot.Chord!.Name))
        {
            if (IsFull) return;
            if (same.Any(x => Resolves(x.Index))) continue;
            var chord = same.First().Slot.Chord!;
            var plain =
                new Chord(chord.Root, chord.Has(10) ? "7" : "", Chord.Parse(chord.Has(10) ? "C7" : "C").Degrees, chord.Bass);
            Add($"sus {same.Key}", same.First().Slot,
                $"{same.Key} never resolves to {plain.Name} in this song; often it should.",
                Some(Write($"write {plain.Name}", plain.Name, Written.Where(s => s.Chord?.Name == same.Key))));
        }
    }

    private int Scale
    {
        get
        {
            // in minor the leading note belongs too
            int[] steps = _chart.Key.IsMinor ? [0, 2, 3, 5, 7, 8, 10, 11] : [0, 2, 4, 5, 7, 9, 11];
            return steps.Aggregate(0, (mask, s) => mask | 1 << (_chart.Key.Tonic.PitchClass + s) % 12);
        }
    }

    private void Foreigners()
    {
        var flow = new ChordFlow(_chart);
        var scale = Scale;
        // A dominant that goes where it leads, and a diminished chord on its way, are at home anywhere.
        bool Leads(Chord chord, int position) => flow.Next(position) is >= 0 and var next && (
            chord.Has(4) && (chord.Root.PitchClass + 5) % 12 == flow.Chords[next].Root.PitchClass
                || chord.Has(6) && !chord.Has(7));
        var leading = Enumerable.Range(0, flow.Sequence.Count).Where(p => Leads(flow.Chords[flow.Sequence[p].Chord], p))
            .Select(p => flow.Sequence[p].Chord).ToHashSet();
        var homes = Enumerable.Range(0, flow.Chords.Count).Where(j => (flow.Chords[j].PitchClassMask & ~scale) == 0)
            .OrderByDescending(j => flow.Beats[j]).Take(MostHomes).ToList();
        var written = Written.ToLookup(s => s.Chord);
        for (var i = 0; i < flow.Chords.Count && !IsFull; i++)
        {
            var chord = flow.Chords[i];
            if ((chord.PitchClassMask & ~scale) == 0 || flow.Beats[i] > RareShare * flow.TotalBeats || flow.Beats[i] <= 0)
                continue;
            if (leading.Contains(i)) continue;
            var near = homes.Where(j => j != i && flow.Beats[j] > flow.Beats[i]).Order().Select(j => flow.Chords[j])
                .OrderByDescending(c => c.Root.PitchClass == chord.Root.PitchClass)
                .ThenByDescending(c => System.Numerics.BitOperations.PopCount((uint)(c.PitchClassMask & chord.PitchClassMask)))
                .FirstOrDefault();
            if (near is null
                || near.Root.PitchClass != chord.Root.PitchClass
                    && System.Numerics.BitOperations.PopCount((uint)(near.PitchClassMask & chord.PitchClassMask)) < 2)
                continue;
            var slots = written[chord].ToList();
            if (slots.Count > 0)
                Add($"foreign {chord.Name}", slots[0],
                    $"{chord.Name} is foreign to {_chart.Key} and comes only "
                        + $"{(slots.Count == 1 ? "once" : $"{slots.Count} times")}; {near.Name} would fit.",
                    Some(Write($"write {near.Name}", near.Name, slots)));
        }
    }

    private void LoneSevenths()
    {
        foreach (var root in Written.Where(s => s.Chord is { Bass: null }).GroupBy(s => s.Chord!.Root.PitchClass))
        {
            var plain = root.Where(s => s.Chord!.Degrees.Count == 3 && !s.Chord.IsSuspended).ToList();
            foreach (var seventh in root.Where(
                    s => s.Chord!.Degrees.Count == 4 && s.Chord.Degrees.Any(d => d.Role == DegreeRole.Seventh))
                .GroupBy(s => s.Chord!.Name))
            {
                var same = plain.Where(p => p.Chord!.IsMinor == seventh.First().Chord!.IsMinor).ToList();
                if (seventh.Count() > 1 || same.Count < 3) continue;
                if (IsFull) return;
                var index = _played.FindIndex(s => ReferenceEquals(s, seventh.First()));
                // A seventh that leads on does its work.
                if (index < 0
                    || index + 1 < _played.Count && seventh.First().Chord!.IsDominant && _played[index + 1].Chord is { } next
                        && (next.Root.PitchClass - seventh.First().Chord!.Root.PitchClass + 12) % 12 == 5)
                    continue;
                Add($"seventh {seventh.Key}", seventh.First(),
                    $"{seventh.Key} comes once, {same[0].Chord!.Name} {same.Count} times; the seventh may be optional.",
                    Some(Write($"write {same[0].Symbol}", same[0].Symbol, seventh)));
            }
        }
    }
}
