using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>A note of the tune.</summary>
/// <param name="Pitch">As it sounds on the record.</param>
/// <param name="At">Beats from the start of its bar, 0 or more.</param>
/// <param name="Beats">Length in beats, above 0.</param>
public readonly record struct MelodyNote(Pitch Pitch, double At, double Beats);

/// <summary>Reads and writes one bar of the tune: pitches that share the bar evenly, <c>.</c> holds the note before, <c>-</c> is
/// silence.</summary>
internal static class MelodyLine
{
    /// <summary>What a line of the tune begins with; it stands under the bars it belongs to.</summary>
    public const char Mark = '~';

    private static readonly double[] Units = [1, 1 / 2.0, 1 / 3.0, 1 / 4.0, 1 / 6.0, 1 / 8.0, 1 / 12.0];

    /// <summary>Reads a bar.</summary>
    /// <param name="cell">The words between two bar lines.</param>
    /// <param name="beats">Length of the bar in beats.</param>
    /// <param name="problem">Told the offset of a word that is no pitch; it then counts as silence.</param>
    public static IReadOnlyList<MelodyNote> Read(string cell, double beats, Action<int, string> problem)
    {
        var words = LinePatterns.WordsOf(cell);
        if (words.Count > ChartLimits.MostNotesInBar)
        {
            problem(words[ChartLimits.MostNotesInBar].Offset,
                $"A bar of the tune has at most {ChartLimits.MostNotesInBar} notes, dots and rests; this bar is left out.");
            return [];
        }
        var unit = beats / Math.Max(1, words.Count);
        var notes = new List<MelodyNote>();
        var held = false;
        for (var i = 0; i < words.Count; i++)
        {
            if (words[i].Text == ".")
            {
                if (held) notes[^1] = notes[^1] with { Beats = notes[^1].Beats + unit };
                continue;
            }
            held = Pitch.TryParse(words[i].Text, out var pitch);
            if (held) notes.Add(new MelodyNote(pitch, i * unit, unit));
            else if (words[i].Text != "-")
                problem(words[i].Offset,
                    $"'{words[i].Text}' is not a note of the tune; write one such as E4 or Bb3, a dot "
                        + "to hold it, or - for silence.");
        }
        return notes;
    }

    /// <summary>Writes a bar so that <see cref="Read"/> gives the same notes, as far as twelfths of a beat go.</summary>
    public static string Write(IReadOnlyList<MelodyNote> notes, double beats)
    {
        if (notes.Count == 0) return "-";
        var unit = Units.FirstOrDefault(u => IsWhole(beats / u) && notes.All(n => IsWhole(n.At / u) && IsWhole(n.Beats / u)),
            Units[^1]);
        var words = new string[Math.Max(1, (int)Math.Round(beats / unit))];
        Array.Fill(words, "-");
        foreach (var note in notes)
        {
            var from = (int)Math.Round(note.At / unit);
            var to = Math.Min(words.Length, (int)Math.Round((note.At + note.Beats) / unit));
            for (var i = from; i < to; i++) words[i] = i == from ? note.Pitch.ToString() : ".";
        }
        return string.Join(' ', words);
    }

    private static bool IsWhole(double x) => Math.Abs(x - Math.Round(x)) < 1e-6;
}
