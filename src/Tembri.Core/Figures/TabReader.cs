using System.Text.RegularExpressions;
using Tembri.Core.Fretboard;

namespace Tembri.Core.Figures;

/// <summary>Reads tablature: six lines, the highest string on top, frets as numbers, bars between strokes. Several staves one
/// after another are one figure.</summary>
/// <remarks>How long a note is follows from where it stands: a bar is shared by its columns, to the nearest quarter or third of
/// a beat.</remarks>
public static partial class TabReader
{
    private const int Strings = 6;
    private const int MostLead = 2;        // columns between a bar line and the first beat
    private const double LooseColumns = 2; // columns of a half beat where there are no bars

    [GeneratedRegex(@"^\s*(?:[A-Ga-g][#b♯♭]?[0-9]?)?\s*(?<bar>[|:‖])?")]
    private static partial Regex Label();

    /// <summary>What was read.</summary>
    /// <param name="Notes">The notes, in beats from the first bar.</param>
    /// <param name="Bars">How many bars it has.</param>
    /// <param name="Problems">What could not be read, in words.</param>
    public sealed record Reading(IReadOnlyList<FigureNote> Notes, int Bars, IReadOnlyList<string> Problems);

    private readonly record struct Sign(int Column, int String, int Fret, Ornament How);

    /// <summary>Reads tablature.</summary>
    /// <param name="text">The lines.</param>
    /// <param name="beats">Beats of a bar.</param>
    /// <param name="parts">Parts a beat is divided in at most: 4, in compound meters 6.</param>
    /// <param name="strings">The open strings, six of them; standard when null.</param>
    public static Reading Read(string text, int beats, int parts = 4, Tuning? strings = null)
    {
        var (notes, problems) = (new List<FigureNote>(), new List<string>());
        var lines = text.ReplaceLineEndings("\n").Split('\n').Select(l => l.TrimEnd())
            .Where(l => l.Contains('-') && l.Count(c => c is '-' or '|' || char.IsAsciiDigit(c)) * 2 >= l.Trim().Length)
            .ToList();
        if (lines.Count == 0 || lines.Count % Strings != 0)
            return new Reading([], 0,
                [$"Tablature has {Strings} lines for each stave, the highest string on top; "
                    + $"{(lines.Count == 0 ? "none was found" : $"{lines.Count} were found")}."]);
        var bar = 0;
        for (var stave = 0; stave < lines.Count; stave += Strings)
            bar = ReadStave(lines.GetRange(stave, Strings), bar, beats, parts, strings ?? Tuning.Standard, notes, problems);
        if (notes.Count > Figure.MostNotes)
        {
            problems.Add($"A figure has at most {Figure.MostNotes} notes; what is more is left out.");
            notes.RemoveRange(Figure.MostNotes, notes.Count - Figure.MostNotes);
        }
        return new Reading(notes, Math.Max(1, bar), problems);
    }

    private static int ReadStave(List<string> lines, int bar, int beats, int parts, Tuning tuning, List<FigureNote> notes,
        List<string> problems)
    {
        // What stands before the first bar line or dash names the string.
        var starts =
            lines.Select(l => Label().Match(l) is var m && m.Groups["bar"].Success ? m.Groups["bar"].Index : m.Length).ToList();
        var rows = lines.Select((l, i) => l[starts[i]..]).ToList();
        var width = rows.Max(r => r.Length);
        rows = [.. rows.Select(r => r.PadRight(width, '-'))];
        var strokes = Enumerable.Range(0, width).Where(c => rows.Count(r => r[c] is '|' or '‖') >= Strings / 2).ToList();
        var signs = rows.SelectMany((r, i) => SignsOf(r, Strings - 1 - i)).OrderBy(s => s.Column).ThenByDescending(s => s.String)
            .ToList();
        var edges = strokes.Where(c => c > 0 || strokes.Count > 1).ToList();
        if (edges.Count == 0 || edges[0] > 1) edges.Insert(0, -1);
        if (edges[^1] < width - 2) edges.Add(width);
        for (var b = 0; b + 1 < edges.Count; b++)
        {
            var (from, to) = (edges[b] + 1, edges[b + 1]);
            var here = signs.FindAll(s => s.Column >= from && s.Column < to);
            if (to - from < 2) continue;
            var at = bar * (double)beats;
            AddBar(here, from, to, strokes.Count > 0, at, beats, parts, tuning, notes, problems);
            bar += strokes.Count > 0
                ? 1
                : (int)Math.Max(1, Math.Ceiling(((notes.Count > 0 ? notes[^1].At + notes[^1].Beats : beats) - at) / beats));
        }
        return bar;
    }

    private static void AddBar(List<Sign> signs, int from, int to, bool isBar, double start, int beats, int parts, Tuning tuning,
        List<FigureNote> notes, List<string> problems)
    {
        if (signs.Count == 0) return;
        var lead = Math.Min(MostLead, signs[0].Column - from);
        double At(int column) =>
            isBar
                ? Math.Round((column - from - lead) * (double)beats / Math.Max(1, to - from - lead) * parts) / parts
                : (column - from - lead) / (2 * LooseColumns);
        var together = signs.GroupBy(s => s.Column).ToList();
        foreach (var group in together.Where(g => g.Count() > 1))
            problems.Add(
                $"{group.Count()} notes stand at one place in bar {(int)(start / beats) + 1}; the highest one is kept.");
        var kept = together.Select(g => g.First()).ToList();
        for (var i = 0; i < kept.Count; i++)
        {
            var at = At(kept[i].Column);
            var end = i + 1 < kept.Count ? At(kept[i + 1].Column) : isBar ? beats : at + 0.5;
            if (end - at < 1.0 / parts - 1e-9) end = at + 1.0 / parts;
            if (notes.Count > 0 && start + at < notes[^1].At + 1e-9) continue;
            if (notes.Count > 0 && notes[^1].At + notes[^1].Beats > start + at)
                notes[^1] = notes[^1] with { Beats = start + at - notes[^1].At };
            var midi = tuning.Strings[kept[i].String] + kept[i].Fret;
            notes.Add(new FigureNote(FigureLine.PitchOf(midi), start + at, end - at, kept[i].How,
                new StringFret(kept[i].String, kept[i].Fret)));
        }
    }

    private static IEnumerable<Sign> SignsOf(string row, int stringIndex)
    {
        var how = Ornament.None;
        for (var i = 0; i < row.Length; i++)
        {
            if (char.IsAsciiDigit(row[i]))
            {
                var from = i;
                while (i + 1 < row.Length && char.IsAsciiDigit(row[i + 1]) && i + 1 - from < 2) i++;
                var fret = int.Parse(row.AsSpan(from, i - from + 1), System.Globalization.CultureInfo.InvariantCulture);
                if (fret <= NeckGeometry.MostFrets) yield return new Sign(from, stringIndex, fret, how);
                how = Ornament.None;
            }
            else
                how = row[i] switch
                {
                    'h' => Ornament.Hammer,
                    'p' => Ornament.Pull,
                    '/' or '\\' or 's' => Ornament.Slide,
                    'b' or '^' => Ornament.Bend,
                    '-' or '|' => Ornament.None,
                    _ => how
                };
        }
    }
}
