namespace Tembri.Core.Strums;

/// <summary>Reads the steps of a pattern: a letter a step, strings picked at once in brackets, a stroke between bars.</summary>
/// <remarks>
/// <c>d u x</c> down, up, damped, in capitals when leaned on; <c>-</c> passed, <c>.</c> at rest while the strings ring, <c>s</c>
/// the strings are stopped; <c>b a 1…6</c> and <c>(b1)</c> as in
/// <see cref="HandStep.Picks"/>: <c>D-du-udu</c>, <c>b3212321</c>, <c>(b1)23a32-</c>, <c>D-du-udu|D-dud-du</c>.
/// </remarks>
public static class HandSteps
{
    /// <summary>The most steps of a pattern.</summary>
    public const int Most = 64;

    private const int MostAtOnce = 6;

    /// <summary>The steps, bars joined; null when the text is not a pattern.</summary>
    public static IReadOnlyList<HandStep>? Read(string text) =>
        ReadBars(text) is { } bars && bars.Sum(b => b.Count) is >= 2 and <= Most ? [.. bars.SelectMany(b => b)] : null;

    /// <summary>The steps bar by bar, as strokes divide them; null when the text is not a pattern.</summary>
    internal static List<List<HandStep>>? ReadBars(string text)
    {
        List<List<HandStep>> bars = [[]];
        for (var i = 0; i < text.Length && bars[^1].Count <= Most; i++)
        {
            if (text[i] == '|') bars.Add([]);
            else if (ReadStep(text, ref i) is { } step) bars[^1].Add(step);
            else return null;
        }
        if (bars.Count > 1 && bars[0].Count == 0) bars.RemoveAt(0);
        if (bars.Count > 1 && bars[^1].Count == 0) bars.RemoveAt(bars.Count - 1);
        return bars;
    }

    /// <summary>Column, from 1, of the first letter that is none of a pattern; 0 when all are.</summary>
    internal static int FirstUnread(string text)
    {
        for (var i = 0; i < text.Length; i++)
        {
            var at = i;
            if (text[i] != '|' && ReadStep(text, ref i) is null) return at + 1;
        }
        return 0;
    }

    private static HandStep? ReadStep(string text, ref int i)
    {
        if (text[i] == '(')
        {
            var end = text.IndexOf(')', i);
            if (end < i + 2 || end > i + 1 + MostAtOnce) return null;
            var picks = text[(i + 1)..end];
            i = end;
            return Picked(picks);
        }
        if (Picked(text[i].ToString()) is { } picked) return picked;
        return StrokeOf(text[i]) is { } stroke ? new HandStep(stroke, char.IsUpper(text[i]) && stroke >= Stroke.Down) : null;
    }

    private static HandStep? Picked(string picks)
    {
        var letters = picks.ToLowerInvariant();
        if (!letters.All(IsPick)) return null;
        return new HandStep(Stroke.Pick, picks != letters, string.Concat(letters.Distinct()));
    }

    private static Stroke? StrokeOf(char letter) => char.ToLowerInvariant(letter) switch
    {
        'd' => Stroke.Down,
        'u' => Stroke.Up,
        'x' => Stroke.Muted,
        's' => Stroke.Stop,
        '-' => Stroke.Miss,
        '.' => Stroke.Rest,
        _ => null,
    };

    /// <summary>Which strings of a shape a step picks, as indices from the lowest string. A string that is left out gives way to
    /// the nearest one that sounds.</summary>
    /// <param name="picks">As in <see cref="HandStep.Picks"/>.</param>
    /// <param name="frets">The shape's frets, lowest string first, negative for a string left out.</param>
    public static IReadOnlyList<int> Strings(string picks, IReadOnlyList<int> frets)
    {
        var sounding = Enumerable.Range(0, frets.Count).Where(s => frets[s] >= 0).ToList();
        if (sounding.Count == 0) return [];
        int String(char pick) => pick switch
        {
            'b' => sounding[0],
            'a' => sounding[Math.Min(1, sounding.Count - 1)],
            _ => sounding.MinBy(s => (Math.Abs(s - (frets.Count - (pick - '0'))), -s)),
        };
        return [.. picks.Select(String).Distinct().Order()];
    }

    private static bool IsPick(char letter) => letter is 'b' or 'a' or (>= '1' and <= '6');
}
