namespace Tembri.Core.Strums;

/// <summary>What the hand does at one step of a pattern.</summary>
public enum Stroke
{
    /// <summary>A down-stroke.</summary>
    Down,
    /// <summary>An up-stroke.</summary>
    Up,
    /// <summary>An accented down-stroke.</summary>
    DownAccent,
    /// <summary>The hand passes the strings without touching them.</summary>
    Miss,
    /// <summary>The strings ring on.</summary>
    Ring,
    /// <summary>A down-stroke over strings that a hand damps.</summary>
    Muted,
}

/// <summary>A strumming pattern: a cycle over one bar.</summary>
public sealed record StrumPattern
{
    private static readonly StrumWeights W = StrumWeights.Default;
    private static readonly Lazy<IReadOnlyList<StrumPattern>> Shipped = new(() => EmbeddedData.Json<List<StrumPattern>>("strums.data.json"));

    /// <summary>The patterns that ship with Tembri, lightest first for each meter.</summary>
    public static IReadOnlyList<StrumPattern> All => Shipped.Value;

    /// <summary>Identifier.</summary>
    public required string Id { get; init; }

    /// <summary>Name in words.</summary>
    public required string Name { get; init; }

    /// <summary>Beats in the bar it fits: 2, 3 or 4.</summary>
    public required int Beats { get; init; }

    /// <summary>Steps in each beat: 1, 2 or 3.</summary>
    public required int StepsPerBeat { get; init; }

    /// <summary>One letter a step: D accented down, d down, u up, - miss, . ring.</summary>
    public required string Steps { get; init; }

    /// <summary>The lowest rung it is meant for.</summary>
    public required int FromRung { get; init; }

    /// <summary>The strokes.</summary>
    public IReadOnlyList<Stroke> Strokes => [.. Steps.Select(c => HandSteps.StrokeOf(c) ?? throw new InvalidOperationException($"'{c}' is no stroke."))];

    /// <summary>The count under each step: <c>1 &amp; 2 &amp;</c>.</summary>
    public IReadOnlyList<string> Count => [.. Enumerable.Range(0, Steps.Length).Select(i => (i % StepsPerBeat) switch
    {
        0 => (i / StepsPerBeat + 1).ToString(System.Globalization.CultureInfo.InvariantCulture),
        1 when StepsPerBeat == 2 => "&",
        1 => "la",
        _ => "li",
    })];

    /// <summary>Load of the right hand at a tempo, 0 to 100.</summary>
    /// <param name="tempo">Beats a minute.</param>
    /// <remarks>Effort from strokes a second, up-strokes, misses and accents; the same scale as <see cref="Shapes.Load"/>.</remarks>
    public double LoadAt(double tempo)
    {
        var strokes = Strokes;
        var struck = strokes.Count(s => s is Stroke.Down or Stroke.Up or Stroke.DownAccent);
        var perSecond = struck / (double)Beats * tempo / 60;
        int Times(Stroke stroke) => strokes.Count(s => s == stroke);
        var effort = W.StrokeASecond * perSecond * (1 + W.QuickStroke * Math.Max(0, perSecond - W.QuickFrom))
            + W.UpStroke * Times(Stroke.Up) + W.Miss * Times(Stroke.Miss) + W.Accent * Times(Stroke.DownAccent);
        return Shapes.Load.FromEffort(effort).Value;
    }

    /// <summary>Beats from a stroke that sounds to the next, on the average.</summary>
    public double BeatsAStroke => Beats / (double)Math.Max(1, Strokes.Count(s => s is Stroke.Down or Stroke.Up or Stroke.DownAccent));

    /// <summary>Seconds free for a change on the first beat: from the last stroke that must sound to the change.</summary>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="slotBeats">Beats the chord before the change lasts.</param>
    public double AvailableSeconds(double tempo, double slotBeats) => 60 / tempo * FreeBeats(slotBeats);

    /// <summary>The same in beats, whatever the tempo.</summary>
    /// <param name="slotBeats">Beats the chord before the change lasts.</param>
    /// <remarks>
    /// Before a change the last down-stroke of the bar may be dropped or ring on open strings, so the fingers are free from the stroke before it; of a lone stroke part must ring.
    /// </remarks>
    public double FreeBeats(double slotBeats)
    {
        var lastDown = Steps.Length - 1;
        while (lastDown > 0 && Steps[lastDown] is not ('d' or 'D')) lastDown--;
        var before = lastDown - 1;
        while (before >= 0 && Steps[before] is not ('d' or 'D' or 'u')) before--;
        var free = before < 0 ? W.LoneStrokeFree * Beats : Beats - before / (double)StepsPerBeat;
        return Math.Clamp(free, W.LeastFree, Math.Max(W.LeastFree, slotBeats * W.MostFreeShare));
    }

    /// <summary>The pattern of an identifier.</summary>
    /// <exception cref="KeyNotFoundException">There is no such pattern.</exception>
    public static StrumPattern Named(string id) => All.FirstOrDefault(p => p.Id == id) ?? throw new KeyNotFoundException($"There is no strum '{id}'.");

    /// <summary>The pattern for a meter and a rung: the richest one meant for that rung or a lower one.</summary>
    /// <param name="beats">Beats a bar; other numbers take the pattern of the nearest meter.</param>
    /// <param name="rung">1 to 5.</param>
    /// <param name="compound">True for 6/8, 9/8, 12/8.</param>
    public static StrumPattern For(int beats, int rung, bool compound)
    {
        var fitting = All.Where(p => p.StepsPerBeat == 3 == compound && p.Beats == beats).ToList();
        if (fitting.Count == 0) fitting = [.. All.Where(p => p.StepsPerBeat == 3 == compound && p.Beats == (compound ? 2 : beats % 3 == 0 ? 3 : 4))];
        return fitting.Where(p => p.FromRung <= rung).OrderBy(p => p.FromRung).Last();
    }
}
