using Tembri.Core.Chords;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Web.Words;

/// <summary>Chords and shapes as they are read out, for those who learn by ear or read with a screen reader.</summary>
internal static class Spelling
{
    private static readonly (string Sign, string Word)[] Signs =
    [
        ("maj", " major "), ("sus", " suspended "), ("add", " added "), ("dim", " diminished "), ("aug", " augmented "),
        ("no", " without "), ("♭", " flat "), ("♯", " sharp "), ("°", " diminished "), ("ø", " half diminished "),
        ("+", " augmented "), ("/", " over "), ("(", " "), (")", " "),
    ];

    /// <summary>A chord as it is read out, such as <c>F sharp minor 7 flat 5</c>.</summary>
    public static string Say(Chord chord)
    {
        var kind = chord.Kind;
        var minor = kind.StartsWith('m') && !kind.StartsWith("maj", StringComparison.Ordinal);
        var said =
            $"{Spelt(chord.Root.ToString())} {(minor ? "minor" : kind.Length == 0 ? "major" : "")} "
                + $"{Spelt(minor ? kind[1..] : kind)}{(chord.Bass is { } bass ? $" over {Spelt(bass.ToString())}" : "")}";
        return string.Join(' ', said.Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    private static string Spelt(string text)
    {
        foreach (var (sign, word) in Signs) text = text.Replace(sign, word, StringComparison.Ordinal);
        return text;
    }

    /// <summary>A shape finger by finger: what each presses, what rings open, what is left alone.</summary>
    /// <param name="fingering">Shape and fingers.</param>
    /// <param name="below">Frets to add to the numbers: the capo's when they are counted from the nut, else 0.</param>
    public static string Say(Fingering fingering, int below = 0)
    {
        var shape = fingering.Shape;
        string Name(int s) => $"string {shape.StringCount - s}";
        var said = new List<string>();
        foreach (var group in Enumerable.Range(0, shape.StringCount).Where(s => shape[s] > 0)
            .GroupBy(s => (Finger: fingering.Fingers[s], Fret: shape[s]))
            .OrderBy(g => g.Key.Finger == Finger.Thumb ? 0 : (int)g.Key.Finger))
        {
            var strings = group.ToList();
            var who = group.Key.Finger switch
            {
                Finger.Thumb => "the thumb",
                Finger.Index => "index finger",
                Finger.Middle => "middle finger",
                Finger.Ring => "ring finger",
                _ => "little finger"
            };
            var where = strings.Count == 1
                ? Name(strings[0])
                : $"strings {shape.StringCount - strings[0]} to {shape.StringCount - strings[^1]}";
            said.Add($"{who}{(strings.Count > 1 ? " laid across" : " on")} {where}, fret {group.Key.Fret + below}");
        }
        string Strings(IEnumerable<int> which) =>
            Lists.And(which.Select(s => (shape.StringCount - s).ToString(System.Globalization.CultureInfo.InvariantCulture)));
        var open = Enumerable.Range(0, shape.StringCount).Where(s => shape[s] == 0).ToList();
        var left = Enumerable.Range(0, shape.StringCount).Where(s => shape[s] < 0).ToList();
        if (open.Count > 0) said.Add($"open {(open.Count == 1 ? "string" : "strings")} {Strings(open)}");
        if (left.Count > 0) said.Add($"leave {(left.Count == 1 ? "string" : "strings")} {Strings(left)} alone");
        var text = string.Join("; ", said);
        return text.Length == 0 ? "" : $"{char.ToUpperInvariant(text[0])}{text[1..]}.";
    }
}
