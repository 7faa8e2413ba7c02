namespace Tembri.Core.Strums;

/// <summary>What a pattern leaves of time for one change. Lengths in beats.</summary>
/// <param name="Free">From the last stroke that must sound to the change: with the strokes let go that <see cref="LetGo"/>
/// names.</param>
/// <param name="AllPlayed">The same with every stroke played.</param>
/// <param name="FallsOn">The stroke the change falls on; <see cref="Stroke.Rest"/> where the pattern has none there and a
/// down-stroke is added.</param>
/// <param name="Count">What is counted there; empty where nothing is.</param>
/// <param name="LetGo">What is counted on the strokes that are let go: they are left out, or ring on open strings.</param>
public sealed record ChangeTime(double Free, double AllPlayed, Stroke FallsOn, string Count, IReadOnlyList<string> LetGo)
{
    private const double Hair = 1e-6;
    private static readonly StrumWeights W = StrumWeights.Default;

    /// <summary>Beats that letting strokes go buys.</summary>
    public double Bought => Free - AllPlayed;

    /// <summary>Works the time out.</summary>
    /// <param name="pattern">The pattern.</param>
    /// <param name="at">Where the change falls, in beats from the start of the cycle; below 0 or beyond its end it goes
    /// round.</param>
    /// <param name="chordBeats">Beats the chord before the change lasts.</param>
    /// <remarks>
    /// Before a change the last stroke that is not an up-stroke, of a picked pattern the last one on a beat, may be let go, and
    /// what follows it; so the fingers are free from the stroke before. Of a lone stroke part must ring.
    /// </remarks>
    public static ChangeTime Of(StrumPattern pattern, double at, double chordBeats)
    {
        var steps = pattern.Steps;
        var (cycle, n) = ((double)pattern.Beats, steps.Count);
        at -= cycle * Math.Floor(at / cycle + Hair);
        var here = n - 1;
        while (here >= 0 && Math.Abs(pattern.At(here) - at) >= 1e-3) here--;
        // Strokes on the chord before, the last one first, and how long before the change they come; its first is there in any
        // case.
        var before = new List<(int Step, double Ago)>();
        var first = FirstFrom(pattern, at);
        for (var k = 1; k <= 2 * n; k++)
        {
            var i = ((first - k) % n + n) % n;
            var ago = at - pattern.At(i);
            while (ago < Hair) ago += cycle;
            if (k > n) ago += cycle;
            if (ago > chordBeats - Hair) break;
            if (steps[i].Sounds) before.Add((i, ago));
        }
        before.Add((-1, chordBeats));
        var last = before.FindIndex(b => b.Step >= 0 && MayBeLast(pattern, b.Step));
        var (free, letGo) =
            last < 0 ? (W.LoneStrokeFree * chordBeats, before[..^1]) : (before[last + 1].Ago, before[..(last + 1)]);
        var most = Math.Max(W.LeastFree, chordBeats * W.MostFreeShare);
        free = Math.Clamp(free, W.LeastFree, most);
        letGo.Reverse();
        var count = pattern.Count;
        return new ChangeTime(
            free, Math.Min(free, Math.Max(W.LeastFree, before[0].Ago)),
            here >= 0 && steps[here].Sounds ? steps[here].Stroke : Stroke.Rest, here >= 0 ? count[here] : "",
            [.. letGo.Select(b => count[b.Step])]);
    }

    private static int FirstFrom(StrumPattern pattern, double at)
    {
        var i = 0;
        while (i < pattern.Steps.Count && pattern.At(i) < at - Hair) i++;
        return i;
    }

    private static bool MayBeLast(StrumPattern pattern, int step) =>
        pattern.IsPicked ? pattern.Level(step) <= 1 : pattern.Steps[step].Stroke != Stroke.Up;
}
