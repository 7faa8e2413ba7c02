using Tembri.Core.Music;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts.Editing;

/// <summary>Changes of a chart's form and sections, as changes of its text; everything else of the text stays as it was
/// written.</summary>
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
            var at = Array.FindIndex(lines, IsForm);
            if (at >= 0) return new(at + 1, lines[at].TrimEnd('\r').Length);
            // After the last header line above the bars.
            var last = -1;
            for (var i = 0; i < lines.Length && !lines[i].Contains('|') && !lines[i].TrimStart().StartsWith('['); i++)
                if (ChartReader.IsHeaderLine(lines[i])) last = i;
            return new(last + 1 < lines.Length ? last + 2 : 1, 0);
        }

        /// <summary>Writes a form there.</summary>
        public TextEdit Write(IReadOnlyList<FormPart> form)
        {
            var written = "form: " + string.Join(", ", form.Select(p => p.Times > 1 ? $"{p.Section} x{p.Times}" : p.Section));
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

    /// <summary>A new section at the end of the text that follows another one.</summary>
    public static TextEdit Variant(string text, Chart chart, Section section) =>
        Append(text, $"[{NewName(chart, section.Name)}: as {section.Name}]\n");

    /// <summary>A copy of a section at the end of the text, with bars of its own.</summary>
    public static TextEdit Copy(string text, Chart chart, Section section) =>
        Append(text,
            $"[{NewName(chart, section.Name)}]\n" + (section.Strum.Length > 0 ? $"strum: {section.Strum}\n" : "")
                + string.Concat(section.Figures.Select(f => FigureText.Write(f, section.Bars) + "\n"))
                + string.Concat(section.Lines(int.MaxValue).Select(l => ChartWriter.Line(l, chart.Meter))));

    /// <summary>A new section at the end of the text and of the form, with one bar to begin with.</summary>
    /// <param name="text">Chart text; may be empty.</param>
    /// <param name="name">Its name.</param>
    public static Edited NewSection(string text, string name)
    {
        name = string.Join(' ', name.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        if (name.Length is 0 or > 58 || name.AsSpan().IndexOfAny("[]|:,") >= 0)
            return Edited.Refuse("Give the section a name of at most 58 letters, such as Verse 2 or Bridge.");
        var chart = ChartReader.Read(text).Chart;
        if (chart.SectionNamed(name) is not null)
            return Edited.Refuse($"There is a {name} already; choose another name, or play that one again in the form.");
        var first = chart.Sections.Count == 0 ? chart.Key.ToString().Replace('♭', 'b').Replace('♯', '#')
            : BarEdits.Content(chart, new(0, 0)).Split(' ')
                    .FirstOrDefault(w => w[0] is not ('(' or '%') && !Meter.TryParse(w, out _)) ?? "N.C.";
        // In square brackets a name that is a chord would be one.
        var heading = Chords.ChordReader.Read(name.Split(' ')[0]).Ok ? $"{name}:" : $"[{name}]";
        var longer = text.Trim().Length == 0 ? $"{heading}\n| {first} |" : Append(text, $"{heading}\n| {first} |").Apply(text);
        return Edited.To(HasForm(text) ? Form(longer, [.. chart.Form, new FormPart(name, 1)]).Apply(longer) : longer);
    }

    /// <summary>The text without a section; it goes out of the form too.</summary>
    public static Edited Without(string text, int section)
    {
        var chart = ChartReader.Read(text).Chart;
        if (chart.Sections.ElementAtOrDefault(section) is not { } gone)
            return Edited.Refuse("This section is not in the chart any more.");
        if (chart.Sections.FirstOrDefault(s => s.Like == gone.Name) is { } follower)
            return Edited.Refuse(
                $"{follower.Name} follows {gone.Name}; take that out first, or make a copy of it that stands on its own.");
        if (chart.Sections.Count == 1) return Edited.Refuse("This is the only section; write another one first.");
        var lines = text.Split('\n').ToList();
        var end = gone.Line;
        while (end < lines.Count && !ChartTextRun.IsHeading(lines[end]) && chart.Sections.All(s => s.Line != end + 1)) end++;
        lines.RemoveRange(gone.Line - 1, end - gone.Line + 1);
        var shorter = string.Join('\n', lines).TrimEnd('\n');
        if (!HasForm(text)) return Edited.To(shorter);
        var form = chart.Form.Where(p => p.Section != gone.Name).ToList();
        return Edited.To(Form(shorter,
                form.Count > 0 ? form : [.. chart.Sections.Where(s => s != gone).Select(s => new FormPart(s.Name, 1))])
            .Apply(shorter));
    }

    /// <summary>Writes what the right hand does in a section: its line is replaced, added, or taken out when nothing is said any
    /// more.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section, from 0.</param>
    /// <param name="hand">What is written.</param>
    public static Edited Hand(string text, int section, SectionHand hand) =>
        OwnLine(HandInEachSection(text), section, ChartTextRun.IsStrum, 0, hand == SectionHand.None ? null : $"strum: {hand}");

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
            var (from, to, begin) = LinesOf(lines, section);
            if (Enumerable.Range(from, to - from).Any(i => ChartTextRun.IsStrum(lines[i]) && !said.Contains(i))) continue;
            // Before bars without a heading it would stand at the head again.
            lines.Insert(IsUnnamed(lines, section) ? to : begin, lines[said[^1]]);
        }
        foreach (var line in said.AsEnumerable().Reverse()) lines.RemoveAt(line);
        return string.Join('\n', lines);
    }

    /// <summary>Bars that stand under no heading: what is said at the head is said of them.</summary>
    private static bool IsUnnamed(List<string> lines, Section section) =>
        section.Line == 0 || section.Name == ChartTextRun.Unnamed && !ChartTextRun.IsHeading(lines[section.Line - 1]);

    /// <summary>The lines of a section behind its heading, to the next heading, and before which of them one that is added
    /// stands.</summary>
    private static (int From, int To, int Begin) LinesOf(List<string> lines, Section section)
    {
        var isUnnamed = IsUnnamed(lines, section);
        var to = section.Line;
        while (to < lines.Count && (section.Line == 0 || !ChartTextRun.IsHeading(lines[to]))) to++;
        if (!isUnnamed) return (section.Line, to, section.Line);
        var bars = section.Bars.SelectMany(b => b.Slots).Select(s => s.Line).Where(l => l > 0).DefaultIfEmpty(1).Min();
        return (0, to, bars - 1);
    }

    /// <summary>Writes a figure of a section: its line is replaced, added, or taken out.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section, from 0.</param>
    /// <param name="number">Which of its figures in the order of the text, from 0; one more than it has adds one.</param>
    /// <param name="line">The line, as <see cref="FigureText.Write"/> gives it; null to take it out.</param>
    public static Edited Figure(string text, int section, int number, string? line) =>
        OwnLine(text, section, FigureText.IsFigure, number, line);

    /// <summary>Replaces, adds or takes out one of a section's lines that say something besides its bars.</summary>
    private static Edited OwnLine(string text, int section, Predicate<string> isOne, int number, string? line)
    {
        if (ChartReader.Read(text).Chart.Sections.ElementAtOrDefault(section) is not { } part)
            return Edited.Refuse("This section is not in the chart any more.");
        var lines = text.Split('\n').ToList();
        var (from, to, begin) = LinesOf(lines, part);
        var known = Enumerable.Range(from, to - from).Where(i => isOne(lines[i])).ToList();
        if (number < known.Count)
        {
            if (line is null) lines.RemoveAt(known[number]);
            else lines[known[number]] = line;
        }
        else if (line is not null) lines.Insert(known.Count > 0 ? known[^1] + 1 : begin, line);
        return Edited.To(string.Join('\n', lines));
    }

    private static bool HasForm(string text) => text.Split('\n').Any(IsForm);

    private static bool IsForm(string line) =>
        line.TrimStart().TrimStart('{').TrimStart().StartsWith("form", StringComparison.OrdinalIgnoreCase)
            && ChartReader.IsHeaderLine(line);

    private static TextEdit Append(string text, string section)
    {
        var last = text.AsSpan(text.LastIndexOf('\n') + 1);
        return new TextEdit(text.AsSpan().Count('\n') + 1, last.Length + 1, 0,
            (last.Trim().Length == 0 ? "\n" : "\n\n") + section);
    }

    /// <summary>The name with the next number that is free: Verse 1 gives Verse 2, Bridge gives Bridge 2.</summary>
    private static string NewName(Chart chart, string name)
    {
        var stem = name.TrimEnd("0123456789 ".ToCharArray());
        if (stem.Length == 0) stem = name;
        var number = 2;
        while (chart.SectionNamed($"{stem} {number}") is not null) number++;
        return $"{stem} {number}";
    }
}
