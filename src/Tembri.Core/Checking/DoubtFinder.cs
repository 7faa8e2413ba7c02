using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Checking;

/// <summary>Looks through a chart for what may be wrong: charts found anywhere often are.</summary>
/// <remarks>Every doubt comes from the chart itself, none from a list of songs. What the teacher keeps (<c>{kept: …}</c>) stays
/// quiet.</remarks>
public sealed partial class DoubtFinder
{
    private const string Kept = "kept";
    private const int MostDoubts = 300;
    private const int LongestName = 3;         // letters a foreign name of a note has more than the English one
    private readonly string[] _lines;
    private readonly Chart _chart;
    private readonly List<Doubt> _doubts = [];
    private readonly List<Slot> _played;
    private ChartNaming _writtenIn;

    private DoubtFinder(string text, Chart chart)
    {
        _lines = text.Replace("\r\n", "\n", StringComparison.Ordinal).Split('\n');
        _chart = chart;
        _played = [.. chart.Played()];
        Written = [.. chart.Sections.Where(s => s.Like is null).SelectMany(s => s.Bars).SelectMany(b => b.Slots)
            .Where(s => s.Line > 0).DistinctBy(s => (s.Line, s.Column))];
    }

    /// <summary>The doubts of a chart, in the order of its text.</summary>
    /// <param name="text">The chart's text, which the chart was read from.</param>
    /// <param name="chart">The chart.</param>
    /// <param name="evenKept">True to have those as well that the teacher keeps.</param>
    /// <param name="names">How notes are named; spellings are in doubt only when the key decides.</param>
    /// <param name="written">By which names the text calls its notes; mends are written in them.</param>
    /// <param name="heard">What a recording has at written chords; null without one.</param>
    public static IReadOnlyList<Doubt> Find(string text, Chart chart, bool evenKept = false, NoteNames names = NoteNames.AsKey,
        ChartNaming written = default, IReadOnlyList<HeardChordPlace>? heard = null)
    {
        var finder = new DoubtFinder(text, chart) { _writtenIn = written };
        finder.BarsThatDoNotAddUp();
        finder.BarsSharedByHalves();
        // A studio that names notes its own way does not go by the key.
        if (names == NoteNames.AsKey) finder.Spellings();
        finder.TwoWaysOfWriting();
        finder.VersesThatDiffer();
        finder.SuspensionsThatNeverResolve();
        finder.Foreigners();
        finder.LoneSevenths();
        finder.OddLengths();
        finder.LeftOutOfTheForm();
        finder.WithoutChords();
        finder.HandsThatDoNotFit();
        finder.HeardOtherwise(heard ?? []);
        var kept = chart.Extra.Where(e => e.Name.Equals(Kept, StringComparison.OrdinalIgnoreCase)).Select(e => e.Value)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        return [.. finder._doubts.Where(d => evenKept || !kept.Contains(d.Id)).DistinctBy(d => (d.Id, d.Line, d.Column))
            .OrderBy(d => d.Line).ThenBy(d => d.Column)];
    }

    /// <summary>Keeps a doubtful thing as it is: a line in the header says so.</summary>
    public static TextEdit Keep(string text, Doubt doubt)
    {
        var lines = text.Split('\n');
        var last = Array.FindLastIndex(lines, ChartReader.IsHeaderLine);
        return new TextEdit(last + 2, 1, 0, $"{{{Kept}: {doubt.Id}}}\n") is var edit && last + 2 <= lines.Length
            ? edit
            : new TextEdit(1, 1, 0, $"{{{Kept}: {doubt.Id}}}\n");
    }

    private bool IsFull => _doubts.Count >= MostDoubts;

    private void Add(string id, Slot at, string message, params IEnumerable<Mend> mends)
    {
        if (!IsFull) _doubts.Add(new(id, at.Line, at.Column, message, [.. mends]));
    }

    /// <summary>The slots of the text, each once however often it is played.</summary>
    private List<Slot> Written { get; }

    /// <summary>The change that writes another symbol for some slots; null when one of them cannot be found in the
    /// text.</summary>
    private Mend? Write(string words, string symbol, params IEnumerable<Slot> slots)
    {
        var edits = new List<TextEdit>();
        foreach (var slot in slots.DistinctBy(s => (s.Line, s.Column)).OrderByDescending(s => s.Line)
            .ThenByDescending(s => s.Column))
        {
            var line = slot.Line <= _lines.Length ? _lines[slot.Line - 1] : "";
            // A bass run such as /B stands for a chord that is not written out.
            if (LengthOf(slot, line) is not { } length) return null;
            edits.Add(new TextEdit(slot.Line, slot.Column, length, _writtenIn.FromEnglish(symbol)));
        }
        return edits.Count == 0 ? null : new Mend(words, edits);
    }

    /// <summary>How long a slot's symbol is in its line, by the names the text has; null when something else stands
    /// there.</summary>
    private int? LengthOf(Slot slot, string line)
    {
        for (var length = Math.Min(line.Length - slot.Column + 1, slot.Symbol.Length + LongestName); length > 0; length--)
            if (_writtenIn.InEnglish(line.Substring(slot.Column - 1, length)) == slot.Symbol) return length;
        return null;
    }

    private static IEnumerable<Mend> Some(params Mend?[] mends) => mends.OfType<Mend>();

    private void BarsThatDoNotAddUp()
    {
        foreach (var section in _chart.Sections.Where(s => s.Like is null))
            foreach (var (bar, i) in section.Bars.Select((b, i) => (b, i)))
            {
                if (Math.Abs(bar.Beats - bar.Meter.Beats) < 1e-6 || bar.Slots[0] is not { Line: > 0 } first) continue;
                var beats = bar.Beats.ToString("0.##", CultureInfo.InvariantCulture);
                var whole = Math.Abs(bar.Beats - Math.Round(bar.Beats)) < 1e-6 && !bar.Meter.IsCompound;
                Add($"beats {section.Name} {i + 1}", first,
                    $"Bar {i + 1} of {section.Name} has {beats} beats, {bar.Meter} has {bar.Meter.Beats}.",
                    whole
                        ? [new Mend($"write it as a bar of {beats}/{bar.Meter.Unit}",
                            [new TextEdit(first.Line, first.Column, 0, $"{beats}/{bar.Meter.Unit} ")])]
                        : []);
            }
    }

    /// <summary>Two chords in a bar of three, five or seven beats share it to the half beat; most who write so mean whole
    /// ones.</summary>
    private void BarsSharedByHalves()
    {
        var shared = _chart.Sections.Where(s => s.Like is null)
            .SelectMany(s => s.Bars.Select((b, i) => (Section: s.Name, Bar: b, Number: i + 1)))
            .Where(x => x.Bar is { Slots: [{ Line: > 0, Length: > 0 } a, { Length: > 0 } b], Span.Notation: BarNotation.Grid }
                && !x.Bar.Meter.IsCompound && x.Bar.Meter.Beats % 2 == 1 && Math.Abs(a.Beats - b.Beats) < 1e-6
                && Math.Abs(a.Beats + b.Beats - x.Bar.Meter.Beats) < 1e-6)
            .DistinctBy(x => (x.Bar.Slots[0].Line, x.Bar.Slots[0].Column)).ToList();
        foreach (var same in shared.GroupBy(x => x.Bar.Meter))
        {
            var ((section, bar, number), half) = (same.First(), same.Key.Beats / 2);
            var more = same.Count() > 1 ? $", as in {same.Count() - 1} more" : "";
            Add($"shared {same.Key}", bar.Slots[0],
                $"{bar.Slots[0].Symbol} and {bar.Slots[1].Symbol} share bar {number} of {section} evenly, {half}½ beats each{more}; "
                    + "show the beats with dots where it is meant otherwise.",
                Longer(0, $"{half + 1} + {half} beats"), Longer(1, $"{half} + {half + 1} beats"));

            // The longer one has a beat more than the other; a dot for each beat behind its first.
            Mend Longer(int longer, string words) => new(words,
                [.. same.SelectMany(x => x.Bar.Slots).Select((slot, i) => (Slot: slot, Dots: half - (i % 2 == longer ? 0 : 1)))
                    .Where(x => x.Dots > 0).OrderByDescending(x => x.Slot.Line).ThenByDescending(x => x.Slot.Column)
                    .Select(x => new TextEdit(x.Slot.Line, x.Slot.Column + x.Slot.Length, 0,
                        string.Concat(Enumerable.Repeat(" .", x.Dots))))]);
        }
    }

    /// <summary>Chords that a recording does not have. A place of the text that several sections share is written anew only when
    /// the recording has the same other chord in all of them.</summary>
    private void HeardOtherwise(IReadOnlyList<HeardChordPlace> heard)
    {
        var there = heard.Select(h => (Heard: h, Slot: SlotOf(h))).Where(h => h.Slot is { Line: > 0 });
        foreach (var place in there.GroupBy(h => (h.Slot!.Line, h.Slot.Column)))
        {
            if (place.FirstOrDefault(h => !h.Heard.Agrees) is not { Slot: { } slot, Heard: var first }) continue;
            var otherwise = place.Select(h => h.Heard).FirstOrDefault(h => h.Agrees || h.Chord != first.Chord);
            var bar = first.Bar + 1;
            Add($"heard {first.Section} {bar}.{first.Slot + 1} {first.Written}", slot,
                otherwise is null
                    ? first.Message
                    : $"{first.Message} It is written together with {otherwise.Section}, which has it otherwise: give "
                        + $"{first.Section} a bar of its own, such as {bar}: | {first.Chord} |.",
                otherwise is null ? Some(Write($"write {first.Chord}", first.Chord, slot)) : []);
        }
    }

    /// <summary>The slot of a place; null when the chart does not have what was written there any more.</summary>
    private Slot? SlotOf(HeardChordPlace place) =>
        _chart.SectionNamed(place.Section) is { } section && place.Bar < section.Bars.Count
                && place.Slot < section.Bars[place.Bar].Slots.Count && section.Bars[place.Bar].Slots[place.Slot] is var slot
                && slot.Symbol == place.Written
            ? slot
            : null;
}
