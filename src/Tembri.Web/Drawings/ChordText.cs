using Tembri.Core.Chords;

namespace Tembri.Web.Drawings;

/// <summary>A piece of a chord symbol as it is set.</summary>
/// <param name="Text">The characters.</param>
/// <param name="Raised">True for extensions.</param>
/// <param name="IsSign">True for ♭, ♯, ° and ø, which come from another font.</param>
public readonly record struct ChordRun(string Text, bool Raised, bool IsSign);

/// <summary>Splits a chord symbol into runs for setting: upright letters, raised extensions, real signs.</summary>
public static class ChordText
{
    /// <summary>The runs of a chord.</summary>
    public static IReadOnlyList<ChordRun> Runs(Chord chord)
    {
        var runs = new List<ChordRun>();
        Add(runs, chord.Root.ToString(), false);
        var kind = chord.Kind;
        if (kind.StartsWith('m') && !kind.StartsWith("maj", StringComparison.Ordinal))
        {
            Add(runs, "m", false);
            kind = kind[1..];
        }
        Add(runs, kind.Replace("dim", "°", StringComparison.Ordinal), true);
        if (chord.Bass is { } bass) Add(runs, "/" + bass, false);
        return runs;
    }

    private static void Add(List<ChordRun> runs, string text, bool raised)
    {
        var plain = 0;
        for (var i = 0; i < text.Length; i++)
        {
            if (!"♭♯°ø".Contains(text[i])) continue;
            if (i > plain) runs.Add(new(text[plain..i], raised, false));
            runs.Add(new(text[i].ToString(), raised, true));
            plain = i + 1;
        }
        if (plain < text.Length) runs.Add(new(text[plain..], raised, false));
    }
}
