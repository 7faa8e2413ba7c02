using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;

namespace Tembri.Core.Figures;

/// <summary>Reads and writes a figure as one line: notes that share a bar evenly, <c>.</c> holds the note before, <c>-</c> is
/// silence; bars between strokes.</summary>
/// <remarks>
/// A note is a pitch or a string and a fret: <c>E3</c>, <c>6/3</c> (string 6, fret 3). In front of it <c>h</c> hammered,
/// <c>p</c> pulled, <c>s</c> slid, <c>b</c> bent: <c>| 4/2 h4/4 p4/2 - | E3 . . sG3 |</c>.
/// </remarks>
public static partial class FigureLine
{
    private const int MostWords = 96;   // of one bar
    private static readonly Note[] Sharps =
        [.. Enumerable.Range(0, 12).Select(p => Key.TryParse("E", out var e) ? e.Spell(p) : default)];

    [GeneratedRegex(@"^(?<string>[1-6])/(?<fret>[0-9]{1,2})$")]
    private static partial Regex Place();

    /// <summary>Reads the notes.</summary>
    /// <param name="cells">The line behind its name.</param>
    /// <param name="beatsOf">Length in beats of each bar, counted from the figure's first; null beyond the section's
    /// end.</param>
    /// <param name="strings">The open strings where strings and frets are counted.</param>
    /// <param name="problem">Told the offset of a word that cannot be read, and what to write.</param>
    public static IReadOnlyList<FigureNote> Read(string cells, Func<int, double?> beatsOf, Tuning strings,
        Action<int, string> problem)
    {
        var notes = new List<FigureNote>();
        var (bar, start, offset) = (0, 0.0, 0);
        foreach (var cell in cells.Split('|'))
        {
            var (from, words) = (offset, WordsOf(cell));
            offset += cell.Length + 1;
            if (words.Count == 0) continue;
            if (beatsOf(bar) is not { } beats)
            {
                problem(from, "The figure is longer than its section; what is more is left out.");
                break;
            }
            if (words.Count > MostWords)
                problem(from, $"A bar of a figure has at most {MostWords} notes, dots and rests; this bar is left out.");
            else AddBar(words, start, beats, from, strings, notes, problem);
            start += beats;
            bar++;
        }
        if (notes.Count > Figure.MostNotes)
        {
            problem(0, $"A figure has at most {Figure.MostNotes} notes; what is more is left out.");
            notes.RemoveRange(Figure.MostNotes, notes.Count - Figure.MostNotes);
        }
        return notes;
    }

    private static void AddBar(List<(string Text, int Offset)> words, double start, double beats, int from, Tuning strings,
        List<FigureNote> notes, Action<int, string> problem)
    {
        var unit = beats / words.Count;
        // A dot at the head of a bar holds what rings over the bar line.
        var held = notes.Count > 0 && Math.Abs(notes[^1].At + notes[^1].Beats - start) < 1e-6;
        for (var i = 0; i < words.Count; i++)
        {
            var (text, at) = (words[i].Text, start + i * unit);
            if (text == ".")
            {
                if (held && i == 0) notes.Add(new FigureNote(notes[^1].Pitch, at, unit, Ornament.Held, notes[^1].Where));
                else if (held) notes[^1] = notes[^1] with { Beats = notes[^1].Beats + unit };
                continue;
            }
            held = NoteOf(text, strings) is not null;
            if (NoteOf(text, strings) is { } note) notes.Add(note with { At = at, Beats = unit });
            else if (text != "-")
                problem(from + words[i].Offset,
                    $"'{text}' is not a note of a figure; write a pitch such as E3, or string and fret such as 6/3, with h, p, "
                        + "s or b in front for hammered, pulled, slid, bent; a dot holds, - is silence.");
        }
    }

    private static FigureNote? NoteOf(string text, Tuning strings)
    {
        Ornament? how = text[0] switch
        {
            'h' => Ornament.Hammer,
            'p' => Ornament.Pull,
            's' => Ornament.Slide,
            'b' => Ornament.Bend,
            _ => null
        };
        var rest = how is null ? text : text[1..];
        if (Place().Match(rest) is { Success: true } place)
        {
            var (number, fret) = (int.Parse(place.Groups["string"].Value, CultureInfo.InvariantCulture),
                int.Parse(place.Groups["fret"].Value, CultureInfo.InvariantCulture));
            if (fret > NeckGeometry.MostFrets) return null;
            var midi = strings.Strings[6 - number] + fret;
            return new FigureNote(PitchOf(midi), 0, 0, how ?? Ornament.None, new StringFret(6 - number, fret));
        }
        return Pitch.TryParse(rest, out var pitch) && pitch.Midi is >= 0 and <= 127
            ? new FigureNote(pitch, 0, 0, how ?? Ornament.None)
            : null;
    }

    /// <summary>A pitch by its MIDI number, spelt with sharps.</summary>
    /// <param name="midi">0 to 127.</param>
    public static Pitch PitchOf(int midi)
    {
        var note = Sharps[Note.Modulo(midi, 12)];
        return new Pitch(note, 0) is var low ? new Pitch(note, (midi - low.Midi) / 12) : default;
    }

    /// <summary>Writes the notes so that <see cref="Read"/> gives them again.</summary>
    /// <param name="figure">The figure.</param>
    /// <param name="beatsOf">Length in beats of each bar, counted from the figure's first.</param>
    public static string Write(Figure figure, Func<int, double?> beatsOf)
    {
        var cells = new List<string>();
        var start = 0.0;
        for (var bar = 0; beatsOf(bar) is { } beats && start < figure.To - 1e-6; bar++)
        {
            var (from, to) = (start, start + beats);
            cells.Add(WriteBar(
                [.. figure.Notes.Where(n => n.At > from - 1e-6 && n.At < to - 1e-6).Select(n => n with { At = n.At - from })],
                beats));
            start = to;
        }
        return $"| {string.Join(" | ", cells)} |";
    }

    private static string WriteBar(List<FigureNote> notes, double beats)
    {
        if (notes.Count == 0) return "-";
        // The fewest words that share the bar and have a word at every note; a bar that has none is written as finely as can be.
        var count = Enumerable.Range(1, MostWords)
            .FirstOrDefault(c => notes.TrueForAll(
                    n => IsWhole(n.At * c / beats) && (n.At + n.Beats > beats - 1e-6 || IsWhole((n.At + n.Beats) * c / beats))),
                MostWords);
        var unit = beats / count;
        var words = new string[count];
        Array.Fill(words, "-");
        foreach (var note in notes)
        {
            var from = (int)Math.Round(note.At / unit);
            var to = Math.Min(words.Length, Math.Max(from + 1, (int)Math.Round((note.At + note.Beats) / unit)));
            for (var i = from; i < to; i++) words[i] = i == from && note.How != Ornament.Held ? Written(note) : ".";
        }
        return string.Join(' ', words);
    }

    private static string Written(FigureNote note)
    {
        var how = note.How switch
        {
            Ornament.Hammer => "h",
            Ornament.Pull => "p",
            Ornament.Slide => "s",
            Ornament.Bend => "b",
            _ => ""
        };
        return how
            + (note.Where is { } place
                ? string.Create(CultureInfo.InvariantCulture, $"{6 - place.String}/{place.Fret}")
                : note.Pitch.ToString());
    }

    private static bool IsWhole(double x) => Math.Abs(x - Math.Round(x)) < 1e-6;

    private static List<(string Text, int Offset)> WordsOf(string cell)
    {
        var words = new List<(string, int)>();
        for (var i = 0; i < cell.Length; i++)
        {
            if (char.IsWhiteSpace(cell[i])) continue;
            var from = i;
            while (i < cell.Length && !char.IsWhiteSpace(cell[i])) i++;
            words.Add((cell[from..i], from));
        }
        return words;
    }
}
