using System.Text.RegularExpressions;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using static Tembri.Core.Charts.Editing.EditCheck;

namespace Tembri.Core.Charts.Editing;

/// <summary>Sections that come and go, as changes of a chart's text.</summary>
/// <remarks>Text is written in more ways than can be foreseen, so each change is read again: one that would change another
/// section, or leave something that is not understood, is not made.</remarks>
public static partial class SectionEdits
{
    internal const string Gone = "This section is not in the chart any more.";

    /// <summary>A new section at the end of the text that follows another one.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section it follows, from 0.</param>
    public static Edited Variant(string text, int section)
    {
        var chart = ChartReader.Read(text).Chart;
        if (chart.Sections.ElementAtOrDefault(section) is not { } part) return Edited.Refuse(Gone);
        text = WithNumberWritten(text, chart, part);
        var name = NewName(chart, part.Name);
        // Where its number stands nowhere in the text the first of its name may play the same.
        var alike = chart.Sections.Where(s => s != part && Bars(s) == Bars(part)).Select(s => s.Name);
        return Longer(text, chart, part with { Name = name }, alike.Prepend(part.Name).Select(n => $"[{name}: as {n}]\n"));
    }

    /// <summary>A copy of a section at the end of the text, with bars of its own.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section is copied, from 0.</param>
    public static Edited Copy(string text, int section)
    {
        var chart = ChartReader.Read(text).Chart;
        if (chart.Sections.ElementAtOrDefault(section) is not { } part) return Edited.Refuse(Gone);
        var name = NewName(chart, part.Name);
        var lines = text.Split('\n');
        // As it sounds, or as shapes above the capo; by the names that stand in the text, or by the usual ones.
        var below = ChartTransposer.Move(chart, chart.Key.Transpose(-chart.RecordCapo), -chart.RecordCapo, keepPlaces: true);
        Section[] ways = [AsTyped(lines, below.Sections[section]), AsTyped(lines, part), part, below.Sections[section]];
        return Longer(text, chart, part with { Name = name },
            ways.SelectMany(s => new[] { ChartWriter.Heading(name), $"{name}:\n", $"[{name}]\n" }
                .Select(h => h + Body(s, chart.Meter))));
    }

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
        first = OverBars.WithoutBeats(first);
        if (text.Trim().Length == 0) return Edited.To($"{ChartWriter.Heading(name)}| {first} |");
        var edited = Longer(text, chart, null, [$"{ChartWriter.Heading(name)}| {first} |"]);
        return edited.Text is { } longer && ChartEdits.HasForm(text)
            ? Edited.To(ChartEdits.Form(longer, [.. chart.Form, new FormPart(name, 1)]).Apply(longer))
            : edited;
    }

    /// <summary>The text without a section; it goes out of the form too.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="section">Which section, from 0.</param>
    public static Edited Without(string text, int section)
    {
        text = EditableText.ForLines(text);
        var (chart, problems) = ChartReader.Read(text);
        if (chart.Sections.ElementAtOrDefault(section) is not { } gone) return Edited.Refuse(Gone);
        if (chart.Sections.FirstOrDefault(s => s.Like == gone.Name) is { } follower)
            return Edited.Refuse(
                $"{follower.Name} follows {gone.Name}; take that out first, or make a copy of it that stands on its own.");
        if (chart.Sections.Count == 1) return Edited.Refuse("This is the only section; write another one first.");
        var form = chart.Form.Where(p => p.Section != gone.Name).ToList();
        var rest = form.Count > 0 ? form : [.. chart.Sections.Where(s => s != gone).Select(s => new FormPart(s.Name, 1))];
        var lines = text.Split('\n').ToList();
        // A line of letters would be words without one of its sections.
        if (ChartEdits.FormIn(text) is >= 0 and var told) lines[told] = ChartEdits.Written(rest);
        lines.RemoveRange(gone.Line - 1, EndOf(lines, chart.Sections, gone) - gone.Line + 1);
        // What asks for it once more would be words without it.
        lines.RemoveAll(ChartTextRun.RepeatsAmong(chart.Sections.Select(s => s.Name)).Invoke);
        if (gone.Kind == SectionKind.Chorus && chart.Sections.Count(s => s.Kind == SectionKind.Chorus) == 1)
            lines.RemoveAll(ChartTextRun.IsMarkOfChorus);
        var shorter = string.Join('\n', lines).TrimEnd('\n');
        if (ChartEdits.HasForm(text)
            || form.Count > 0 && !Played(ChartReader.Read(shorter).Chart).SequenceEqual(Played(chart, gone)))
            shorter = ChartEdits.Form(shorter, rest).Apply(shorter);
        var (others, left) = ChartReader.Read(shorter);
        if (NewIn(left, problems) is { } problem)
            return Edited.Refuse($"Without {gone.Name} line {problem.Line} would not be understood any more: {problem.Message}");
        // A number tells a verse only beside others.
        if (others.Sections.Any(s => s.Name == ChartTextRun.Unnamed) && chart.Sections.All(s => s.Name != ChartTextRun.Unnamed))
            return Edited.Refuse(NotAlone);
        // Of two sections of one name the second is called by it then.
        var wanted = chart.Sections.Where(s => s != gone).ToList();
        return others.Sections.Select(Bars).SequenceEqual(wanted.Select(Bars))
            && others.Sections.Select(Words).SequenceEqual(wanted.Select(Words))
            ? Edited.To(shorter)
            : Edited.Refuse(NotAlone);
    }

    /// <summary>What is played when, by its place among the sections, and how often.</summary>
    private static IEnumerable<(int Section, int Times)> Played(Chart chart, Section? without = null)
    {
        var names = chart.Sections.Where(s => s != without).Select(s => s.Name).ToList();
        return chart.Form.Where(p => p.Section != without?.Name).Select(p => (names.IndexOf(p.Section), p.Times));
    }

    /// <summary>The first problem that was not there before; null when there is none.</summary>
    private static ChartProblem? NewIn(IReadOnlyList<ChartProblem> now, IReadOnlyList<ChartProblem> before) =>
        now.FirstOrDefault(p => before.All(b => b.Message != p.Message));

    private const string NotAlone =
        "This is written in a way that cannot be changed from here without changing other sections; change it in the text.";

    /// <summary>An edit of what is said of a section besides its bars, unless it would change bars, words or names.</summary>
    internal static Edited Checked(string text, Edited edited)
    {
        if (edited.Text is not { } changed || changed == text) return edited;
        var (before, after) = (ChartReader.Read(text).Chart, ChartReader.Read(changed).Chart);
        return Known(before).SequenceEqual(Known(after))
            && before.Sections.Select(Words).SequenceEqual(after.Sections.Select(Words))
            ? edited
            : Edited.Refuse(NotAlone);
    }

    /// <summary>The line behind a section: that of the next heading, or of the next bars that have none.</summary>
    internal static int EndOf(List<string> lines, IReadOnlyList<Section> sections, Section section)
    {
        var (end, names) = (section.Line, sections.Select(s => s.Name).ToList());
        var (isHeading, repeats) = (ChartTextRun.HeadingsAmong(names), ChartTextRun.RepeatsAmong(names));
        while (end < lines.Count && !isHeading(lines[end]) && !repeats(lines[end]) && sections.All(s => s.Line != end + 1))
            end++;
        return end;
    }

    /// <summary>The text with a section at its end, written in the first of several ways that is read as what is
    /// meant.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="chart">The chart in it.</param>
    /// <param name="meant">The section, with its new name; null for any.</param>
    /// <param name="ways">How it may be written, heading and bars.</param>
    private static Edited Longer(string text, Chart chart, Section? meant, IEnumerable<string> ways)
    {
        text = EditableText.ForLines(text);
        var known = Known(chart);
        var problems = ChartReader.Read(text).Problems;
        foreach (var way in ways)
        {
            var longer = Appended(text, way);
            var (again, said) = ChartReader.Read(longer);
            if (NewIn(said, problems) is null && again.Sections.Count == chart.Sections.Count + 1
                && Known(again).SkipLast(1).SequenceEqual(known)
                && (meant is null || again.Sections[^1].Name == meant.Name && Plays(again.Sections[^1], meant)))
                return Edited.To(longer);
        }
        return Edited.Refuse(NotAlone);
    }

    private static bool Plays(Section one, Section other) =>
        Bars(one) == Bars(other) && one.Strum == other.Strum
            && one.Figures.Select(f => FigureText.Write(f, one.Bars))
                .SequenceEqual(other.Figures.Select(f => FigureText.Write(f, other.Bars)))
            && one.Bars.Zip(other.Bars).All(p => p.First.Melody.SequenceEqual(p.Second.Melody));

    /// <summary>The section with each chord as it stands in the text.</summary>
    private static Section AsTyped(string[] lines, Section section) =>
        section with
        {
            Bars = [.. section.Bars.Select(b => b with { Slots = [.. b.Slots.Select(s =>
                s.Length > 0 && s.Line > 0 && s.Line <= lines.Length && s.Column - 1 + s.Length <= lines[s.Line - 1].Length
                    ? s with { Symbol = lines[s.Line - 1].Substring(s.Column - 1, s.Length) }
                    : s)] })],
        };

    private static string Body(Section section, Meter meter) =>
        (section.Strum.Length > 0 ? $"strum: {section.Strum}\n" : "")
            + string.Concat(section.Figures.Select(f => FigureText.Write(f, section.Bars) + "\n"))
            + string.Concat(section.Lines(int.MaxValue).Select(l => ChartWriter.Line(l, meter)));

    private static string Appended(string text, string section) =>
        text + (text.AsSpan(text.LastIndexOf('\n') + 1).Trim().Length == 0 ? "\n" : "\n\n") + section;

    /// <summary>The text with the whole name of a second section of its name in its heading, so that another can follow it; the
    /// same text where that would change anything.</summary>
    private static string WithNumberWritten(string text, Chart chart, Section part)
    {
        if (!SecondOfItsName().IsMatch(part.Name) || part.Line == 0) return text;
        var lines = ColumnLines.OneBelowTheOther(text).Split('\n').ToList();
        if (part.Line > lines.Count) return text;
        if (ChartTextRun.IsHeading(LineTidy.Of(lines[part.Line - 1]))) lines.RemoveAt(part.Line - 1);
        lines.Insert(part.Line - 1, $"[{part.Name}]");
        var written = string.Join('\n', lines);
        var after = ChartReader.Read(written).Chart;
        return Known(after).SequenceEqual(Known(chart)) && after.Form.SequenceEqual(chart.Form) ? written : text;
    }

    /// <summary>A number that tells apart sections of one name; it stands nowhere in the text.</summary>
    [GeneratedRegex(@" \([0-9]+\)$")]
    private static partial Regex SecondOfItsName();

    /// <summary>The name with the next number that is free: Verse 1 gives Verse 2, Bridge (half time) gives Bridge 2 (half
    /// time).</summary>
    private static string NewName(Chart chart, string name)
    {
        name = SecondOfItsName().Replace(name, "");
        var remark = name.EndsWith(')') && name.IndexOf(" (", StringComparison.Ordinal) is > 0 and var at ? name[at..] : "";
        name = name[..^remark.Length];
        var stem = name.TrimEnd("0123456789 ".ToCharArray());
        if (stem.Length == 0) stem = name;
        var number = 2;
        // A form may name a section without its remark, so that is to stay free as well.
        while (chart.Sections.Any(s => s.Name.Equals($"{stem} {number}", StringComparison.OrdinalIgnoreCase)
            // Beside Chorus (2) nobody would tell Chorus 2.
            || s.Name.Equals($"{stem} ({number})", StringComparison.OrdinalIgnoreCase)
            || s.Name.StartsWith($"{stem} {number} (", StringComparison.OrdinalIgnoreCase)))
            number++;
        return $"{stem} {number}{remark}";
    }
}
