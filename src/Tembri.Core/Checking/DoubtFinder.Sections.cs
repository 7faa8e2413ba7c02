using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Strums;

namespace Tembri.Core.Checking;

/// <content>What is odd about whole sections: those of a kind that differ, odd lengths, hands that do not fit, what the form
/// leaves out, sections without chords of their own.</content>
public sealed partial class DoubtFinder
{
    private const double AlikeShare = 0.6;     // verses with this share of like bars should be alike

    private void VersesThatDiffer()
    {
        foreach (var kind in _chart.Sections.Where(
                s => s.Kind is SectionKind.Verse or SectionKind.Chorus or SectionKind.PreChorus)
            .GroupBy(s => (s.Kind, s.Bars.Count)))
        {
            var first = kind.First();
            foreach (var other in kind.Skip(1).Where(s => s.Like is null))
            {
                static string Content(Bar bar) =>
                    string.Join(' ', bar.Slots.Select(s => $"{s.Chord?.Name ?? s.Symbol}:{s.Beats}"));
                var differing =
                    Enumerable.Range(0, first.Bars.Count).Where(i => Content(first.Bars[i]) != Content(other.Bars[i])).ToList();
                if (differing.Count == 0 || differing.Count > (1 - AlikeShare) * first.Bars.Count) continue;
                foreach (var i in differing)
                {
                    var (here, there) = (other.Bars[i].Slots, first.Bars[i].Slots);
                    if (here[0].Line == 0) continue;
                    string Names(IReadOnlyList<Slot> slots) => string.Join(' ', slots.Select(s => s.Symbol));
                    // Where the bars are cut alike, one symbol differs and can be taken over.
                    var odd = here.Count == there.Count
                        ? Enumerable.Range(0, here.Count)
                            .Where(s => here[s].Symbol != there[s].Symbol && here[s].Beats == there[s].Beats).ToList()
                        : [];
                    var at = odd.Count > 0 ? here[odd[0]] : here[0];
                    Add($"differs {other.Name} {i + 1}", at,
                        $"Bar {i + 1} of {other.Name} has {Names(here)} where {first.Name} has {Names(there)}.",
                        Some(odd.Count == 1 ? Write($"write {there[odd[0]].Symbol}", there[odd[0]].Symbol, at) : null));
                }
            }
        }
    }

    private void OddLengths()
    {
        var proper = _chart.Sections.Where(s => s.Bars.Count > 2).ToList();
        if (proper.Count < 2) return;
        foreach (var section in proper.Where(s => s.Bars.Count % 2 != 0 && s.Like is null))
            if (proper.Count(s => s.Bars.Count % 2 == 0) >= proper.Count / 2.0
                && section.Bars[0].Slots[0] is { Line: > 0 } first)
                Add($"length {section.Name}", first,
                    $"{section.Name} has {section.Bars.Count} bars, an odd number among sections of "
                        + $"{string.Join(", ", proper.Where(s => s != section).Select(s => s.Bars.Count).Distinct().Order())}; "
                        + "count them again.");
    }

    /// <summary>A pattern of the right hand whose steps do not share the bars of its section is not played.</summary>
    private void HandsThatDoNotFit()
    {
        foreach (var section in _chart.Sections.Where(s => s.Like is null && s.Hand.Steps.Length > 0 && s.Bars.Count > 0))
            if (!StrumPattern.TryParse(section.Hand.Steps, section.UsualMeter, out _, out var fault, section.Hand.Swing))
                Add($"strum {section.Name}", section.Bars[0].Slots[0],
                    $"The strum of {section.Name} is not played: {char.ToLowerInvariant(fault[0])}{fault[1..]}");
    }

    private void LeftOutOfTheForm()
    {
        var line = Array.FindIndex(_lines, ChartHeader.IsForm);
        foreach (var section in _chart.Sections.Where(s => _chart.Form.All(f => f.Section != s.Name)))
        {
            // A list of chords is played where the section itself stands.
            if (section.Name.EndsWith(" chords", StringComparison.OrdinalIgnoreCase)
                && _chart.Sections.Any(s => s.Like == section.Name))
                continue;
            var end = line < 0 ? 0 : ChartHeader.EndOfValue(_lines[line]);
            _doubts.Add(new($"form {section.Name}", Math.Max(1, line + 1), 1, $"The form leaves {section.Name} out.",
                line < 0 ? [] : [new Mend("play it at the end", [new TextEdit(line + 1, end + 1, 0, ", " + section.Name)])]));
        }
    }

    /// <summary>Sections that are played like another one because nothing says what else they play.</summary>
    private void WithoutChords()
    {
        foreach (var group in _chart.Sections.Where(s => s is { IsLikeAssumed: true, Line: > 0 }).GroupBy(s => s.Like!))
        {
            var (sections, names) = (group.ToList(), group.Select(s => s.Name).ToList());
            if (IsFull) return;
            var message = $"{string.Join(", ", names)}: no chords are written, so {group.Key} is played. Write the chords where "
                + "they differ.";
            // Written under a name that stands alone in its line, as long as that names the one it follows.
            var said = $"(same as {group.Key})";
            var alone = HeadingLine.SameAs(said, names[0]) == group.Key
                && sections.TrueForAll(s => s.Line <= _lines.Length && ChartTextRun.IsHeading(LineTidy.Of(_lines[s.Line - 1])));
            _doubts.Add(new($"without chords {names[0]}", sections[0].Line, 1, message, alone
                ? [new Mend("write that they are the same", [.. sections.OrderByDescending(s => s.Line)
                    .Select(s => new TextEdit(s.Line, _lines[s.Line - 1].Length + 1, 0, $"\n{said}"))])]
                : []));
        }
    }
}
