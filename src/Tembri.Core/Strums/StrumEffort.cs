using Tembri.Core.Shapes;

namespace Tembri.Core.Strums;

/// <summary>The techniques of the right hand that have a weight of their own.</summary>
public enum StrumPart
{
    /// <summary>Movements a second, those that pass the strings as well.</summary>
    Pace,
    /// <summary>Movements on a grid quicker than the hand swings easily.</summary>
    Quick,
    /// <summary>Strokes between the beats.</summary>
    Offbeats,
    /// <summary>Up-strokes.</summary>
    Ups,
    /// <summary>Strokes that pass the strings.</summary>
    Misses,
    /// <summary>Up-strokes that follow on an up-stroke.</summary>
    UpRuns,
    /// <summary>Strokes leaned on.</summary>
    Accents,
    /// <summary>Damped strokes, and strings stopped.</summary>
    Mutes,
    /// <summary>Strings picked one by one.</summary>
    Aim,
    /// <summary>From string to string with the thumb.</summary>
    Jumps,
    /// <summary>Strokes to keep in mind.</summary>
    Length,
}

/// <summary>One technique of a pattern.</summary>
/// <param name="Part">The technique.</param>
/// <param name="Amount">How much of it: movements a second, or strokes, strings, steps; a bar on the average, for
/// <see cref="StrumPart.Length"/> in the cycle.</param>
/// <param name="Effort">What it adds to the effort.</param>
public readonly record struct StrumPartEffort(StrumPart Part, double Amount, double Effort);

/// <summary>What a pattern asks of the hand, at any tempo.</summary>
/// <remarks>
/// Effort is a sum: movements a second, how quick the grid is that each of them needs, and what each technique adds a bar.
/// Taking a stroke away, an accent off, a passed stroke to rest or on to the
/// strings, or a stroke back to its beat never raises it, at any tempo; the reductions of a pattern stand on that. The scale is
/// that of <see cref="Load"/>.
/// </remarks>
public readonly record struct StrumEffort
{
    private static readonly StrumWeights W = StrumWeights.Default;

    /// <summary>Effort that does not depend on the tempo.</summary>
    public required double Fixed { get; init; }

    /// <summary>Movements of the hand in a beat, on the average, by the parts of a beat their grid has: 1, 2, 3, 4 or
    /// 6.</summary>
    public required IReadOnlyList<(int Parts, double ABeat)> Movements { get; init; }

    /// <summary>Takes the effort of a pattern.</summary>
    public static StrumEffort Of(StrumPattern pattern)
    {
        var shortest = pattern.Shortest();
        return new StrumEffort
        {
            Fixed = FixedParts(shortest).Sum(p => p.Effort),
            Movements = [.. Enumerable.Range(0, shortest.Steps.Count).Where(i => shortest.Steps[i].Moves)
                .GroupBy(shortest.GridAt).OrderBy(g => g.Key).Select(g => (g.Key, g.Count() / (double)shortest.Beats))],
        };
    }

    /// <summary>Load at a tempo, 0 to 100.</summary>
    /// <param name="tempo">Beats a minute, above 0.</param>
    public double LoadAt(double tempo)
    {
        var (perSecond, quick) = Motion(tempo);
        return Load.FromEffort(Fixed + W.StrokeASecond * perSecond + W.QuickStroke * quick).Value;
    }

    /// <summary>Movements a second, and a square of what the pace of each one's grid is beyond
    /// <see cref="StrumWeights.QuickFrom"/>: for a hand that moves evenly, (pace − from)².</summary>
    private (double PerSecond, double Quick) Motion(double tempo)
    {
        double perSecond = 0, quick = 0;
        foreach (var (parts, aBeat) in Movements)
        {
            var pace = parts * tempo / 60;
            var over = Math.Max(0, pace - W.QuickFrom);
            perSecond += aBeat * tempo / 60;
            quick += aBeat * over * over / parts;
        }
        return (perSecond, quick);
    }

    /// <summary>The techniques of a pattern at a tempo, those it has none of left out; their efforts add up to that of the
    /// load.</summary>
    public static IReadOnlyList<StrumPartEffort> Parts(StrumPattern pattern, double tempo)
    {
        var (perSecond, quick) = pattern.Effort.Motion(tempo);
        return [.. new[]
        {
            new StrumPartEffort(StrumPart.Pace, perSecond, W.StrokeASecond * perSecond),
            new(StrumPart.Quick, quick, W.QuickStroke * quick)
        }
            .Concat(FixedParts(pattern.Shortest())).Where(p => p.Effort > 0)];
    }

    private static IEnumerable<StrumPartEffort> FixedParts(StrumPattern pattern)
    {
        // Nothing is fixed where the hand does as it likes.
        if (pattern.IsFree) yield break;
        var steps = pattern.Steps;
        var n = steps.Count;
        double A(Func<int, double> amount) => Enumerable.Range(0, n).Sum(amount) / pattern.Bars;
        StrumPartEffort Part(StrumPart part, double amount, double weight) => new(part, amount, amount * weight);
        yield return Part(StrumPart.Offbeats, A(i => steps[i].Sounds && pattern.Level(i) >= 2 ? 1 : 0), W.Offbeat);
        yield return Part(StrumPart.Ups, A(i => steps[i].Stroke == Stroke.Up ? 1 : 0), W.UpStroke);
        // To pass on the way up is what the hand does anyhow; to pass where it would strike takes trust.
        var (passedDown, passedUp) =
            (A(i => IsMiss(i) && pattern.IsDownward(i) ? 1 : 0), A(i => IsMiss(i) && !pattern.IsDownward(i) ? 1 : 0));
        yield return new(StrumPart.Misses, passedDown + passedUp, W.Miss * passedDown + W.LightMiss * passedUp);
        yield return Part(StrumPart.UpRuns, A(i => steps[i].Stroke == Stroke.Up && Before(i).Stroke == Stroke.Up ? 1 : 0),
            W.UpRun);
        var (accents, between) = (A(i => steps[i].Accent ? 1 : 0), A(i => steps[i].Accent && pattern.Level(i) >= 2 ? 1 : 0));
        yield return new(StrumPart.Accents, accents, W.Accent * accents + W.OffbeatAccent * between);
        var (muted, stopped) = (A(i => steps[i].Stroke == Stroke.Muted ? 1 : 0), A(i => steps[i].Stroke == Stroke.Stop ? 1 : 0));
        yield return new(StrumPart.Mutes, muted + stopped, W.Muted * muted + W.Stop * stopped);
        yield return Part(StrumPart.Aim,
            A(i => steps[i].Stroke == Stroke.Pick ? 1 + W.MoreAtOnce * (steps[i].Picks.Length - 1) : 0), W.Aim);
        yield return Part(StrumPart.Jumps, ThumbJumps(steps) / pattern.Bars, W.Jump);
        yield return Part(StrumPart.Length, steps.Count(s => s.Sounds), W.Remember);

        bool IsMiss(int i) => steps[i].Stroke == Stroke.Miss;
        HandStep Before(int i)
        {
            for (var back = 1; back <= n; back++) if (steps[(i - back + n) % n] is { Sounds: true } step) return step;
            return HandStep.Rest;
        }
    }

    /// <summary>Strings the thumb goes from one pick to the next, all round the cycle; each finger has a string of its
    /// own.</summary>
    private static double ThumbJumps(IReadOnlyList<HandStep> steps)
    {
        var places = steps.Where(s => s.HasThumb).Select(s => s.Picks.Max(StringOf)).ToList();
        return places.Select((p, i) => Math.Abs(places[(i + 1) % places.Count] - p)).Sum();
    }

    private static int StringOf(char pick) => pick switch { 'b' => 6, 'a' => 4, _ => pick - '0' };
}
