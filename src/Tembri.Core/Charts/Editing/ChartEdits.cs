using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts.Editing;

/// <summary>Changes of a chart's form and of what a section says besides its bars, as changes of its text; everything else of
/// the text stays as it was written.</summary>
public static class ChartEdits
{
    /// <summary>Writes another form: its header line is replaced, or added where there is none.</summary>
    public static TextEdit Form(string text, IReadOnlyList<FormPart> form) => FormSpan.In(text).Write(form);

    /// <summary>Where a text has its form, or is to have it: found once for all the changes that are offered.</summary>
    /// <param name="Line">Line, from 1.</param>
    /// <param name="Length">Characters of the line that is there; 0 for a new one.</param>
    public readonly record struct FormSpan(int Line, int Length)
    {
        /// <summary>Finds it.</summary>
        public static FormSpan In(string text)
        {
            var lines = text.Split('\n');
            var at = FormIn(text);
            if (at >= 0) return new(at + 1, lines[at].TrimEnd('\r').Length);
            // After the last header line above the bars.
            var last = -1;
            var first = ChartReader.Read(text).Chart.Sections is [{ Line: > 0 and var line }, ..] ? line - 1 : lines.Length;
            for (var i = 0; i < first && !lines[i].Contains('|') && !lines[i].TrimStart().StartsWith('['); i++)
                if (ChartReader.IsHeaderLine(lines[i])) last = i;
            return new(last + 1 < lines.Length ? last + 2 : 1, 0);
        }

        /// <summary>Writes a form there.</summary>
        public TextEdit Write(IReadOnlyList<FormPart> form)
        {
            var written = Written(form);
            return new TextEdit(Line, 1, Length, Length > 0 ? written : written + "\n");
        }
    }

    /// <summary>A part of the form moved, repeated or left out.</summary>
    /// <param name="form">The form.</param>
    /// <param name="part">Which part, from 0.</param>
    /// <param name="by">How far it moves, negative for earlier.</param>
    /// <returns>The new form, or null when the part cannot move there.</returns>
    public static IReadOnlyList<FormPart>? Moved(IReadOnlyList<FormPart> form, int part, int by)
    {
        var to = part + by;
        if (to < 0 || to >= form.Count) return null;
        var moved = form.ToList();
        moved.RemoveAt(part);
        moved.Insert(to, form[part]);
        return moved;
    }

    /// <summary>A part of the form played more or less often; with none left it goes out of the form.</summary>
    public static IReadOnlyList<FormPart> Repeated(IReadOnlyList<FormPart> form, int part, int more)
    {
        var changed = form.ToList();
        var times = Math.Clamp(form[part].Times + more, 0, 20);
        if (times == 0) changed.RemoveAt(part);
        else changed[part] = form[part] with { Times = times };
        return changed;
    }

    /// <summary>Writes what the right hand does in a section: its line is replaced, added, or taken out when nothing is said any
    /// more.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section, from 0.</param>
    /// <param name="hand">What is written.</param>
    public static Edited Hand(string text, int section, SectionHand hand) =>
        SectionEdits.Checked(text,
            OwnLine(HandInEachSection(EditableText.ForLines(text)), section, ChartTextRun.IsStrum, 0,
                hand == SectionHand.None ? null : $"strum: {hand}"));

    /// <summary>The text with what the hand does said in each section, where it was said once at the head: then one of them can
    /// be changed, or say nothing.</summary>
    private static string HandInEachSection(string text)
    {
        var sections = ChartReader.Read(text).Chart.Sections;
        if (sections.Count == 0) return text;
        var lines = text.Split('\n').ToList();
        var head = lines.FindIndex(ChartTextRun.IsHeading) is >= 0 and var heading ? heading : lines.Count;
        if (sections[0].Line > 0) head = Math.Min(head, sections[0].Line - 1);
        var said = Enumerable.Range(0, head).Where(i => ChartTextRun.IsStrum(lines[i])).ToList();
        if (said.Count == 0 || sections.Count == 1 && IsUnnamed(lines, sections[0])) return text;
        // From the last section up, so that lines above stay where they are; one that follows another plays what that plays.
        foreach (var section in sections.Where(s => s is { Line: > 0, Like: null }).OrderByDescending(s => s.Line))
        {
            var (from, to, begin) = LinesOf(lines, sections, section);
            if (Enumerable.Range(from, to - from).Any(i => ChartTextRun.IsStrum(lines[i]) && !said.Contains(i))) continue;
            // Before bars without a heading it would stand at the head again.
            lines.Insert(IsUnnamed(lines, section) ? to : begin, lines[said[^1]]);
        }
        foreach (var line in said.AsEnumerable().Reverse()) lines.RemoveAt(line);
        return string.Join('\n', lines);
    }

    /// <summary>Bars that stand under no heading: what is said at the head is said of them.</summary>
    private static bool IsUnnamed(List<string> lines, Section section) =>
        section.Line == 0
            || (section.Name == ChartTextRun.Unnamed || section.Name.StartsWith($"{ChartTextRun.Unnamed} (", StringComparison.Ordinal))
                && !ChartTextRun.IsHeading(lines[section.Line - 1]);

    /// <summary>The lines of a section behind its heading, to the next heading, and before which of them one that is added
    /// stands.</summary>
    private static (int From, int To, int Begin) LinesOf(List<string> lines, IReadOnlyList<Section> sections, Section section)
    {
        var isUnnamed = IsUnnamed(lines, section);
        var to = section.Line == 0 ? lines.Count : SectionEdits.EndOf(lines, sections, section);
        if (!isUnnamed)
        {
            // Chords beside the name keep the words that stand below them.
            var keepsWords = section.Line < to && section.Bars.SelectMany(b => b.Slots).Any(s => s.Line == section.Line)
                && ChartTextRun.IsLyricLine(lines[section.Line], default)
                && !ChartTextRun.RepeatsAmong(sections.Select(s => s.Name))(lines[section.Line]);
            return (section.Line, to, section.Line + (keepsWords ? 1 : 0));
        }
        var bars = section.Bars.SelectMany(b => b.Slots).Select(s => s.Line).Where(l => l > 0).DefaultIfEmpty(1).Min();
        // At the head it would be said of all sections.
        return (section == sections[0] ? 0 : section.Line - 1, to, sections.Count > 1 ? to : bars - 1);
    }

    /// <summary>Writes a figure of a section: its line is replaced, added, or taken out.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section, from 0.</param>
    /// <param name="number">Which of its figures in the order of the text, from 0; one more than it has adds one.</param>
    /// <param name="line">The line, as <see cref="FigureText.Write"/> gives it; null to take it out.</param>
    public static Edited Figure(string text, int section, int number, string? line) =>
        SectionEdits.Checked(text,
            OwnLine(EditableText.ForLines(text), section, FigureText.IsFigure, number, line));

    /// <summary>Replaces, adds or takes out one of a section's lines that say something besides its bars.</summary>
    private static Edited OwnLine(string text, int section, Predicate<string> isOne, int number, string? line)
    {
        var sections = ChartReader.Read(text).Chart.Sections;
        if (sections.ElementAtOrDefault(section) is not { } part) return Edited.Refuse(SectionEdits.Gone);
        var lines = text.Split('\n').ToList();
        var (from, to, begin) = LinesOf(lines, sections, part);
        var known = Enumerable.Range(from, to - from).Where(i => isOne(lines[i])).ToList();
        if (number < known.Count)
        {
            if (line is null) lines.RemoveAt(known[number]);
            else lines[known[number]] = line;
        }
        else if (line is not null) lines.Insert(known.Count > 0 ? known[^1] + 1 : begin, line);
        return Edited.To(string.Join('\n', lines));
    }

    /// <summary>A form as the line that says it.</summary>
    internal static string Written(IReadOnlyList<FormPart> form) =>
        "form: " + string.Join(", ", form.Select(p => p.Times > 1 ? $"{p.Section} x{p.Times}" : p.Section));

    internal static bool HasForm(string text) => FormIn(text) >= 0;

    /// <summary>The line of the form, from 0; −1 for none.</summary>
    internal static int FormIn(string text) => ChartReader.Read(text).FormLine - 1;
}
