using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Ladders;

/// <summary>What one chord costs among the others of a version, added up anew from docs/model.md, 10.</summary>
internal sealed class CountedParts(Player player, Ladder ladder)
{
    private readonly Core.Changes.ChangeModel _changes = new(new NeckGeometry(player.Guitar, ladder.Capo));

    /// <summary>The shape's share, and the changes from and to it, when the chord is played in a certain way.</summary>
    public double Of(PlayableRung rung, int chord, Candidate c, double weight)
    {
        var sum = weight * (c.Load + rung.Limits.ClosenessWeight * 100 * (1 - c.Closeness.Value)
            + rung.Limits.IdiomWeight * c.Idiom + c.Habit
            + Wish(c, rung, ladder.Guards[((PlayedChord)rung.Chords[chord]).SongChord].StepwiseBass));
        foreach (var step in rung.Flow.Steps.Where(s => s.From == chord || s.To == chord))
        {
            var (from, to) = (step.From == chord ? c : rung.PlayedAs(step.From).Choice,
                step.To == chord ? c : rung.PlayedAs(step.To).Choice);
            var needed = _changes.Seconds(from.Fingering, to.Fingering) * player.Kind.Pace.Slowness;
            var late = Math.Max(0, needed - 60 / 100.0 * rung.Hand.FreeBeats(step));
            var share = step.Count / rung.Song.ChangeCount;
            sum += share * rung.Limits.ChangeWeight * (12 * needed + 50 * late);
            // F♯ and F♯/A♯ have the same tones, so nothing of their change is lost under one shape.
            var heard = rung.Flow.Chords[step.From].PitchClassMask != rung.Flow.Chords[step.To].PitchClassMask;
            if (heard && from.Sound == to.Sound) sum += share * Math.Max(rung.Limits.ClosenessWeight, 1.2) * 100 * 0.5;
        }
        return sum;
    }

    private double Wish(Candidate c, PlayableRung rung, bool stepwiseBass) =>
        (stepwiseBass && c.Closeness.WrongBass ? 5 : 0)
        + (c.Fingering.LongestBarre > Barre.LongestShort && !rung.Limits.IsRecord
            ? player.Barres switch { BarreGoal.Avoid => 10, BarreGoal.Seek => -6, _ => 0 }
            : 0);
}
