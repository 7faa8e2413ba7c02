using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;

namespace Tembri.Core.Charts.Editing;

/// <summary>Which bar is meant.</summary>
/// <param name="Section">Section as the chart lists them, from 0.</param>
/// <param name="Bar">Bar in that section, from 0; one more than there are is the next new one.</param>
public readonly record struct BarAddress(int Section, int Bar);

/// <summary>Changes of single bars, made where the text has them; words, tune and everything else stay as they were
/// written.</summary>
/// <remarks>A line that gives each chord a bar of its own is written with bar lines as soon as one of its bars needs more than a
/// chord.</remarks>
public static partial class BarEdits
{
    /// <summary>The longest content of one bar, in characters.</summary>
    public const int LongestBar = 200;

    private const int FullLine = 4;
    private const string Gone = "This bar is not in the chart any more; choose another.";
    private const string NotFromHere =
        "This line is written in a way that cannot be changed from here without changing more than this "
            + "bar; change it in the text.";

    /// <summary>Remarks and words of a bar's content.</summary>
    [GeneratedRegex(@"\([^()]*\)|[^\s|()]+")]
    internal static partial Regex Pieces();

    [GeneratedRegex(@"\([^()]*\)")]
    private static partial Regex Remarks();

    /// <summary>A chord in square brackets.</summary>
    [GeneratedRegex(@"\[[^\]]*\]")]
    internal static partial Regex Bracketed();

    /// <summary>Writes a bar anew, or a new last bar of its section.</summary>
    /// <param name="text">Chart text with line feeds.</param>
    /// <param name="at">The bar.</param>
    /// <param name="content">As a cell of a bar grid: chords, dots, a meter of its own, remarks; bar lines between several
    /// bars.</param>
    public static Edited Write(string text, BarAddress at, string content)
    {
        // Names that only the chords show would be lost with those chords.
        text = EditableText.ForBars(ForeignNames.WithNamesSaid(text));
        content = Apart(content);
        return Checked(text, at, BarsIn(content).Length, WriteAnew(text, at, content));
    }

    private static string[] BarsIn(string content) =>
        content.Split('|', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);

    /// <summary>An edit, unless it would change another bar. A bar that only its line written otherwise has lost is still
    /// there.</summary>
    private static Edited Checked(string text, BarAddress at, int bars, Edited edited) => edited switch
    {
        { Fault: Gone } => Edited.Refuse(Find(text, at) is null ? Gone : NotFromHere),
        { Text: { } changed } when changed != text && !EditCheck.ChangesOnly(text, at, changed, bars) =>
            Edited.Refuse(NotFromHere),
        _ => edited,
    };

    private static Edited WriteAnew(string text, BarAddress at, string content)
    {
        if (content.Length == 0)
            return Edited.Refuse("A bar holds at least one chord; write N.C. for silence, or take the bar out.");
        if (content.Length > LongestBar)
            return Edited.Refuse($"{LongestBar} characters are the most for a bar; use bar lines and fewer chords.");
        if (content.AsSpan().IndexOfAny('[', ']', '\n') >= 0)
            return Edited.Refuse("Write chords and dots only, such as C . F . Words are written in the chart's text.");
        var reading = ChartReader.Read(text);
        var chart = reading.Chart;
        content = Tidy(content, reading.Naming);
        if (chart.Sections.ElementAtOrDefault(at.Section) is not { } section || at.Bar < 0 || at.Bar > section.Bars.Count)
            return Edited.Refuse(Gone);
        var lines = new ChartLines(text, reading.Naming);
        if (at.Bar == section.Bars.Count)
            return section.Like is null ? Edited.To(Append(lines, section, content)) : Follows(section);
        if (section.Bars[at.Bar].Span is not { } place) return Edited.Refuse(Gone);
        if (content == Content(chart, at)) return Edited.To(text);
        var notation = BarWriting.Of(place.Notation);
        // Only a grid knows the sign for "as before", and only beside the bar before.
        var first = section.Bars.TakeWhile(b => b.Span != place).Count();
        if (content == "%" && first == 0)
            return Edited.Refuse("There is no bar before this one in its section; write its chords.");
        if (content == "%" && (section.Like is not null || !notation.KnowsAsBefore))
            content = section.Like is null ? Resolved(section, first - 1) : Content(chart, new(at.Section, first - 1));
        if (Follows(section, at.Bar))
        {
            if (content.Contains('|')) return Follows(section);
            lines.Insert(section.Line, $"{at.Bar + 1}: | {content} |");
            return Edited.To(lines.Whole);
        }
        if (!notation.Holds(lines, section, place, content))
        {
            notation.WriteWithBarLines(lines, section, place);
            return lines.Whole == text ? Edited.Refuse(NotFromHere) : Write(lines.Whole, at, content);
        }
        var bars = BarsIn(content);
        Renumber(lines, chart, section, place, bars.Length - 1);
        var inLine = ChartLines.InLine(section, place).IndexOf(place);
        notation.Write(lines, place, bars);
        lines.ChangeTune(place,
            cells => cells.InsertRange(Math.Min(cells.Count, inLine + 1), Enumerable.Repeat("-", bars.Length - 1)));
        return Edited.To(lines.Whole);
    }

    /// <summary>Writes a new last bar of a section: into its last line where there is room, else below it.</summary>
    private static string Append(ChartLines lines, Section section, string content)
    {
        var place = section.Bars[^1].Span!;
        var notation = BarWriting.Of(place.Notation);
        var line = lines.LineOf(place).TrimEnd();
        var written = content == "%" && !notation.KnowsAsBefore ? Resolved(section, section.Bars.Count - 1) : content;
        var hasRoom = ChartLines.InLine(section, place).Count < FullLine && line.EndsWith('|')
            && !line.TrimEnd('|').TrimEnd().EndsWith(':');
        if (hasRoom && notation.Appended(line, written) is { } longer)
        {
            lines.SetLineOf(place, longer);
            return lines.Whole;
        }
        var after = place.Line + (notation.StandsOverWords && lines.HasWordsBelow(place) ? 1 : 0);
        if (lines.TuneOf(place) is >= 0 and var tune) after = tune + 1;
        lines.Insert(after, $"| {written} |");
        return lines.Whole;
    }

    /// <summary>Gives half of a chord's beats to a second one after it, the same at first.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="at">The bar.</param>
    /// <param name="slot">Chord in the bar, from 0.</param>
    /// <param name="content">The bar as typed so far; null for as it stands.</param>
    public static Edited Split(string text, BarAddress at, int slot,
        string? content = null) => Rework(text, at, content, (bar, _) =>
    {
        if (slot < 0 || slot >= bar.Slots.Count) return (null, Gone);
        var units = (int)Math.Round(bar.Slots[slot].Beats * bar.Meter.Division);
        if (units < 2)
            return (null,
                "This chord lasts one division of a beat, the shortest there is; join it with another, "
                    + "or write it into the next bar.");
        // Whole beats stay whole where they can.
        var first = units % (2 * bar.Meter.Division) == 0 || units < 2 * bar.Meter.Division
            ? (units + 1) / 2
            : (units / bar.Meter.Division + 1) / 2 * bar.Meter.Division;
        var whole = bar.Slots[slot];
        return (bar with { Slots = [.. bar.Slots.Take(slot), whole with { Beats = (double)first / bar.Meter.Division },
                whole with { Beats = (double)(units - first) / bar.Meter.Division, IsEarly = false },
                .. bar.Slots.Skip(slot + 1)] }, null);
    });

    /// <summary>Lets a chord sound on through the beats of the next one, which goes.</summary>
    public static Edited Join(string text, BarAddress at, int slot, string? content = null) =>
        Rework(text, at, content, (bar, _) =>
        slot < 0 || slot + 1 >= bar.Slots.Count
            ? (null, "There is no chord after this one in its bar to join it with; go to the one before.")
            : (bar with { Slots = [.. bar.Slots.Take(slot),
                    bar.Slots[slot] with { Beats = bar.Slots[slot].Beats + bar.Slots[slot + 1].Beats },
                    .. bar.Slots.Skip(slot + 2)] }, null));

    /// <summary>Gives one bar a meter; its chords keep their beats, the last ones give way or take what is new.</summary>
    public static Edited SetMeter(string text, BarAddress at, Meter meter,
        string? content = null) => Rework(text, at, content, (bar, _) =>
    {
        var shortest = 1.0 / meter.Division;
        if (bar.Slots.Count * shortest > meter.Beats + 1e-9)
            return (null, $"{meter} has no room for {bar.Slots.Count} chords; join some first.");
        var even = bar.Slots.All(s => Math.Abs(s.Beats - bar.Slots[0].Beats) < 1e-9) && meter.Beats % bar.Slots.Count == 0;
        var left = (double)meter.Beats;
        var slots = new List<Slot>();
        foreach (var (s, i) in bar.Slots.Select((s, i) => (s, i)))
        {
            var after = bar.Slots.Count - 1 - i;
            var beats = even ? (double)meter.Beats / bar.Slots.Count
                : after == 0 ? left
                : Math.Max(shortest, Math.Min(Math.Floor(s.Beats * meter.Division) / meter.Division, left - after * shortest));
            left -= beats;
            slots.Add(s with { Beats = beats });
        }
        return (bar with { Meter = meter, Slots = slots }, null);
    });

    /// <summary>Puts a bar after another one, with its last chord to begin with.</summary>
    public static Edited Add(string text, BarAddress at)
    {
        text = EditableText.ForBars(text);
        if (Find(text, at) is not { } found) return Edited.Refuse(Gone);
        if (found.Section.Like is not null) return Follows(found.Section);
        var same = Resolved(found.Section, at.Bar);
        // A bar may hold nothing that could be read as a chord.
        var chord = Read(same, found.Chart.Meter).Slots is [.., var last] ? last.Symbol : "N.C.";
        return Write(text, at, $"{found.Span.Content} | {chord}");
    }

    /// <summary>Takes a bar out. In a section that follows another one the bar follows again.</summary>
    public static Edited Remove(string text, BarAddress at)
    {
        text = EditableText.ForBars(text);
        return Checked(text, at, 0, TakenOut(text, at));
    }

    private static Edited TakenOut(string text, BarAddress at)
    {
        if (Find(text, at) is not { } found) return Edited.Refuse(Gone);
        var (chart, section, place, naming) = found;
        var lines = new ChartLines(text, naming);
        if (section.Like is not null)
            return section.OwnBars.Contains(at.Bar + 1) ? Edited.To(FollowAgain(lines, section, at.Bar)) : Follows(section);
        if (section.Bars.All(b => b.Span == place))
            return Edited.Refuse("A section keeps at least one bar; write another chord into it, or take the section out.");
        // A bar that goes on from the one before says its chords itself before that one goes.
        var next = Enumerable.Range(1, section.Bars.Count - 1).FirstOrDefault(b =>
            section.Bars[b - 1].Span == place && section.Bars[b].Span != place && EditCheck.GoesOn(section.Bars[b]));
        if (next > 0 && section.Bars[next].Span is { Content: var content })
        {
            var sign = content.Split(' ')[0];
            var before = sign == "%" ? Remarks().Replace(Resolved(section, next), "") : section.Bars[next].Slots[0].Symbol;
            var said = Write(text, new(at.Section, next), before + content[sign.Length..]);
            return said.Text is { } spelt && spelt != text ? TakenOut(spelt, at)
                : said.Fault is null ? Edited.Refuse(NotFromHere)
                : said;
        }
        var notation = BarWriting.Of(place.Notation);
        var inLine = ChartLines.InLine(section, place);
        if (notation.Extent(lines.LineOf(place), place, place == inLine[^1]) is not { } extent)
        {
            notation.WriteWithBarLines(lines, section, place);
            return lines.Whole == text ? Edited.Refuse(NotFromHere) : TakenOut(lines.Whole, at);
        }
        Renumber(lines, chart, section, place, -1);
        if (inLine.Count == 1)
        {
            if (lines.TuneOf(place) is >= 0 and var tune) lines.RemoveAt(tune);
            lines.RemoveAt(place.Line - 1);
            return Edited.To(lines.Whole);
        }
        lines.ChangeTune(place, cells => { if (inLine.IndexOf(place) < cells.Count) cells.RemoveAt(inLine.IndexOf(place)); });
        var line = lines.LineOf(place);
        var left = line.Remove(extent.From, extent.To - extent.From);
        // The bar line that stood between two bars was the only one.
        if (inLine.Count == 2 && !left.Contains('|') && line.Contains('|'))
        {
            var begin = lines.BarsAt(line);
            left = $"{left[..begin]}| {left[begin..].Trim()} |";
        }
        lines.SetLineOf(place, left);
        return Edited.To(lines.Whole);
    }

    private static Edited Rework(string text, BarAddress at, string? content, Func<Bar, Chart, (Bar? Bar, string? Fault)> change)
    {
        text = EditableText.ForBars(text);
        if (Find(text, at) is not { } found) return Edited.Refuse(Gone);
        var isTyped = content is not null;
        content = Tidy(content ?? found.Span.Content, found.Naming);
        if (content is "" or "%") content = Resolved(found.Section, at.Bar);
        if (content.Contains('|') || Read(content, found.Chart.Meter) is not { Slots.Count: > 0 } bar)
            return Edited.Refuse("Change one bar at a time; write its chords first.");
        var (changed, fault) = change(bar, found.Chart);
        if (changed is null) return Edited.Refuse(fault!);
        var edited = Write(text, at, ChartWriter.WriteBar(changed, found.Chart.Meter, false));
        // What nobody typed is understood.
        return isTyped || edited.Text is not { } again
            || ChartReader.Read(again).Problems.Count <= ChartReader.Read(text).Problems.Count
            ? edited
            : Edited.Refuse(NotFromHere);
    }

    private static bool Follows(Section section, int bar) => section.Like is not null && !section.OwnBars.Contains(bar + 1);

    private static Edited Follows(Section section) =>
        Edited.Refuse($"{section.Name} follows {section.Like}; change it there, or work on a copy.");
}
