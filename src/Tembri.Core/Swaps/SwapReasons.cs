using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Shapes;

namespace Tembri.Core.Swaps;

/// <summary>Says in one sentence why a chord is played as it is.</summary>
public static class SwapReasons
{
    /// <summary>The name of a kind of swap in words.</summary>
    public static string Name(SwapKind kind) => kind switch
    {
        SwapKind.None => "as recorded",
        SwapKind.OtherFingering => "other fingering",
        SwapKind.FewerStrings => "fewer strings",
        SwapKind.DropBass => "drop slash bass",
        SwapKind.DropExtension => "drop extension",
        SwapKind.ColourRelative => "colour relative",
        SwapKind.SharedTones => "shared tones",
        _ => "power chord",
    };

    /// <summary>The sentence.</summary>
    /// <param name="kind">What is done.</param>
    /// <param name="asked">The chord of the record, at the pitch of the shapes.</param>
    /// <param name="played">The chord played.</param>
    /// <param name="description">Where the shape comes from, in words.</param>
    /// <param name="closeness">What was lost and added.</param>
    /// <param name="guard">What the chart says about the chord.</param>
    public static string For(SwapKind kind, Chord asked, Chord played, string description, ClosenessReport closeness, Guard guard)
    {
        var lost = closeness.Missing.Count == 0 ? "" : $" {List(closeness.Missing.Select(d => Spell(asked, d)))} {(closeness.Missing.Count == 1 ? "is" : "are")} not heard.";
        return kind switch
        {
            SwapKind.None => closeness.Missing.Count == 0 ? $"{asked.Name} as the record has it." : $"{asked.Name} in its usual shape.{lost}",
            SwapKind.OtherFingering => "The same shape with other fingers, for the changes around it.",
            SwapKind.FewerStrings => $"The same chord on fewer strings: {description}.{lost}",
            SwapKind.DropBass => $"The bass {asked.Bass} is left off."
                + (guard.StepwiseBass ? " The bass moves by step here, so the line is lost unless someone else plays it." : closeness.WrongBass ? " Someone else may play it." : ""),
            SwapKind.DropExtension => $"{played.Name} leaves off what colours {asked.Name} and keeps its root.{lost}",
            SwapKind.ColourRelative => $"{played.Name} has the notes of {asked.Name} and {Added(asked, closeness)}.{lost}",
            SwapKind.SharedTones => $"{played.Name} is the upper part of {asked.Name}.{lost}",
            _ => $"Only root and fifth; the record or the voice brings the rest.{lost}",
        };
    }

    private static string Added(Chord asked, ClosenessReport closeness)
    {
        var key = new Key(asked.Root, asked.IsMinor);
        var notes = Enumerable.Range(0, 12).Where(p => (closeness.ForeignMask & 1 << p) != 0).Select(p => key.Spell(p).ToString()).ToList();
        return notes.Count == 0 ? "nothing more" : $"{List(notes)} besides";
    }

    private static string Spell(Chord chord, Degree degree) => chord.Root.MoveFifths(degree.Fifths).ToString();

    private static string List(IEnumerable<string> words)
    {
        var list = words.ToList();
        return list.Count switch { 0 => "", 1 => list[0], _ => string.Join(", ", list.SkipLast(1)) + " and " + list[^1] };
    }
}
