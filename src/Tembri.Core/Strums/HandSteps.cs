namespace Tembri.Core.Strums;

/// <summary>What the striking hand does at one step of a section's pattern.</summary>
/// <param name="Stroke">The stroke; <see cref="Stroke.Ring"/> for a step that is picked.</param>
/// <param name="Picks">Strings that are picked at once: <c>b</c> the bass string of the shape, <c>a</c> the bass string it alternates with, <c>1</c> to <c>6</c> a string by its number, 1 the highest. Empty for a stroke.</param>
public readonly record struct HandStep(Stroke Stroke, string Picks);

/// <summary>Reads the pattern of a section, strummed or picked: a letter a step, strings picked at once in brackets.</summary>
/// <remarks>The steps share the bar evenly, so their number must be a multiple of its beats: <c>D-du-udu</c>, <c>b3212321</c>, <c>(b1)23a32-</c>.</remarks>
public static class HandSteps
{
    /// <summary>The most steps of a pattern.</summary>
    public const int Most = 64;

    /// <summary>The steps; null when the text is not a pattern.</summary>
    public static IReadOnlyList<HandStep>? Read(string text)
    {
        var steps = new List<HandStep>();
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '(')
            {
                var end = text.IndexOf(')', i);
                if (end < i + 2 || end > i + 7 || !text[(i + 1)..end].All(IsPick)) return null;
                steps.Add(new(Stroke.Ring, text[(i + 1)..end]));
                i = end;
            }
            else if (IsPick(text[i])) steps.Add(new(Stroke.Ring, text[i].ToString()));
            else if (StrokeOf(text[i]) is { } stroke) steps.Add(new(stroke, ""));
            else return null;
        }
        return steps.Count is >= 2 and <= Most ? steps : null;
    }

    /// <summary>The stroke a letter stands for; null when it stands for none.</summary>
    internal static Stroke? StrokeOf(char letter) => letter switch
    {
        'D' => Stroke.DownAccent,
        'd' => Stroke.Down,
        'u' => Stroke.Up,
        'x' => Stroke.Muted,
        '-' => Stroke.Miss,
        '.' => Stroke.Ring,
        _ => null,
    };

    /// <summary>Which strings of a shape a step picks, as indices from the lowest string. A string that is left out gives way to the nearest one that sounds.</summary>
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
