namespace Tembri.Core.Strums;

/// <summary>How much of a pattern's feel a simpler one keeps: the sum its reduction makes as great as it can be.</summary>
/// <remarks>A sum over the steps: what a stroke carries by its place, more for accents and pushes that are still there, a little
/// for a beat that stands in for strokes between the beats.</remarks>
public static class StrumFeel
{
    private static readonly FeelWeights W = FeelWeights.Default;

    /// <summary>What is kept.</summary>
    /// <param name="record">The pattern as recorded.</param>
    /// <param name="other">A pattern of as many steps.</param>
    public static double Kept(StrumPattern record, StrumPattern other) =>
        Enumerable.Range(0, record.Steps.Count).Sum(i => At(record, other.Steps, i));

    private static double At(StrumPattern record, IReadOnlyList<HandStep> other, int i)
    {
        var (p, q) = (record.Steps[i], other[i]);
        if (q.Stroke == Stroke.Stop) return p.Stroke == Stroke.Stop ? W.Stop : 0;
        if (!q.Sounds) return 0;
        if (!p.Sounds && q.Stroke != Stroke.Pick) return record.Level(i) <= 1 && StandsIn(record, other, i) ? W.Moved : W.Filled;
        var kept = OfStep(record, i, q);
        if (p.Sounds && PushedBeat(record, i) is { } beat) kept += W.Push * (other[beat].Sounds ? W.PushFilled : 1);
        return kept;
    }

    /// <summary>What a step carries by itself, pushes apart.</summary>
    internal static double OfStep(StrumPattern record, int i, HandStep q)
    {
        var p = record.Steps[i];
        var place = Place(record, i, q);
        if (p.Stroke == Stroke.Muted && q.Stroke != Stroke.Muted) place *= W.Undamped;
        if (p.Accent && q.Accent) place += W.Accent;
        if (p.Stroke == Stroke.Up && q.Stroke == Stroke.Down) place += W.Turned;
        if (q.Stroke == Stroke.Pick) return place + (q.HasThumb ? W.Thumb : 0) + W.MoreStrings * (q.Picks.Length - 1);
        if (record.Level(i) >= 2 && (i + 1) % record.StepsPerBeat == 0) place += W.OverBeat;
        if (LeadsOver(record, i)) place += W.OverBarLine;
        return place;
    }

    private static double Place(StrumPattern record, int i, HandStep q)
    {
        var (perBar, level) = (record.StepsPerBeat * record.Meter.Beats, record.Level(i));
        return W.Level[level]
            + (level == 1 && (!record.IsPicked || q.Picks.Length > 1) && record.Meter.Beats % 2 == 0 && i % perBar == perBar / 2
                ? W.MiddleOfBar
                : 0);
    }

    private static bool LeadsOver(StrumPattern record, int i) =>
        record.Level(i) >= 2 && (i + 1) % (record.StepsPerBeat * record.Meter.Beats) == 0;

    /// <summary>The beat a stroke pushes: the next one, when the record strikes neither it nor anything between. Null for a
    /// stroke that pushes none.</summary>
    /// <returns>The step of the beat, which may be the first of the cycle.</returns>
    public static int? PushedBeat(StrumPattern record, int step)
    {
        if (record.Level(step) < 2 || !record.Steps[step].Sounds) return null;
        var n = record.Steps.Count;
        for (var j = step + 1; ; j++)
        {
            if (record.Steps[j % n].Sounds) return null;
            if (record.Level(j % n) <= 1) return j % n;
        }
    }

    /// <summary>True when a struck beat stands in for what was struck before or after it between the beats, and no longer
    /// is.</summary>
    private static bool StandsIn(StrumPattern record, IReadOnlyList<HandStep> other, int beat)
    {
        for (var k = beat - 1; k > 0 && k > beat - record.StepsPerBeat; k--)
            if (PushedBeat(record, k) == beat) return !other[k].Sounds || IsLater(record, other, beat);
        return IsLater(record, other, beat);
    }

    private static bool IsLater(StrumPattern record, IReadOnlyList<HandStep> other, int beat)
    {
        var was = false;
        for (var k = beat + 1; k < beat + record.StepsPerBeat; k++)
        {
            if (other[k].Sounds) return false;
            was |= record.Steps[k].Sounds;
        }
        return was;
    }
}
