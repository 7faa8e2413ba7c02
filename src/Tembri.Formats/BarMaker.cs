using Tembri.Core.Charts;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>Makes the chords of bars out of places in time; what goes on over a bar line is carried into the next bar.</summary>
internal sealed class BarMaker
{
    private const double Hair = 1e-6;
    private Slot? _carried;

    /// <summary>The slots of the next bar.</summary>
    /// <param name="chords">Chords with the beat they come at, in order.</param>
    /// <param name="length">Length of the bar in beats.</param>
    /// <param name="meter">Its meter.</param>
    /// <param name="lineIsFree">True when there is a next bar and no chord begins it: a chord one division before is then pushed
    /// over the line. Silence is never pushed.</param>
    public List<Slot> Next(List<(double At, Slot Slot)> chords, double length, Meter meter, bool lineIsFree)
    {
        Slot? pushed = null;
        if (lineIsFree && chords is [.., { Slot.IsSilence: false }]
            && Math.Abs(chords[^1].At - (length - 1.0 / meter.Division)) < Hair)
        {
            pushed = chords[^1].Slot;
            chords.RemoveAt(chords.Count - 1);
        }
        if (chords.Count == 0 || chords[0].At > Hair) chords.Insert(0, (0, _carried ?? new Slot("N.C.", null, 0)));
        var slots = new List<Slot>();
        for (var i = 0; i < chords.Count; i++)
        {
            var beats = (i + 1 < chords.Count ? chords[i + 1].At : length) - chords[i].At;
            if (beats > Hair) slots.Add(chords[i].Slot with { Beats = beats });
        }
        _carried = pushed is null ? slots[^1] with { IsEarly = false, Lyric = "" } : pushed with { IsEarly = true };
        return slots;
    }
}
