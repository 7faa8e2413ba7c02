using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>What all lines of bars share: cells with repeats and counts around them, bars made of chords, the tune under
/// them.</content>
internal sealed partial class ChartTextRun
{
    private readonly record struct Token(string Text, int Column, int Length, int Units, string Lyric, bool IsEarly = false);

    /// <summary>In a section written after another: from this bar on the line's bars take the places of that one's.</summary>
    private void ReadOwnBars(string line, Match label, int number)
    {
        var before = label.Length - 1;   // the bar line itself is no part of the label
        var rest = new string(' ', before) + line[before..];
        if (_section is not { Like: not null } section)
        {
            Problem(number, 1,
                "A bar number stands only in a section that is written after another, such as [Verse 2: as Verse 1]; take "
                    + $"{label.Groups["bar"].Value} away.");
            section = Here(number);
        }
        if (int.Parse(label.Groups["bar"].Value, CultureInfo.InvariantCulture) == 0)
        {
            Problem(number, label.Groups["bar"].Index + 1, "Bars are counted from 1; this line is left out.");
            return;
        }
        var from = section.Bars.Count;
        if (rest.Contains('[')) ReadBrackets(rest, number);
        else ReadGrid(rest, number);
        if (section.Like is null) return;
        var first = int.Parse(label.Groups["bar"].Value, CultureInfo.InvariantCulture);
        for (var i = from; i < section.Bars.Count; i++) section.OwnBars[first + i - from] = section.Bars[i];
        _line = new(section.Bars.Count - from, i => section.OwnBars[first + i].Beats,
            (i, tune) => section.OwnBars[first + i] = section.OwnBars[first + i] with { Melody = tune });
        section.RemoveFrom(from);
    }

    /// <summary>Reads what stands between two bar lines.</summary>
    private delegate void CellReader(string cell, int offset, int number, ref bool first);

    /// <summary>Reads the cells of a line with what stands around them: repeats, endings, signs, a count behind the
    /// last.</summary>
    private void ReadCells(string line, int start, int number, CellReader read)
    {
        var times = 1;
        var last = line.LastIndexOf('|');
        if (HeadingLine.CountAt(line[(last + 1)..]) is { At: 0 } count)
        {
            times = Times(count.Times, number, last + 2 + count.NumberAt);
            line = line[..(last + 1)];
        }
        var section = Here(number);
        var (from, since) = (section.Bars.Count, section.Bars.Count);
        var first = true;
        var closed = false;
        var end = line.TrimEnd().Length;
        var parting = BetweenRows(line, start);
        foreach (var (text, offset) in Cells(line, start))
        {
            if (IsFull) break;
            if (offset == parting) continue;
            var (cell, at) = (text, offset);
            if (cell.StartsWith(':'))
            {
                CloseEndings(section);
                section.OpenRepeat = (section.Bars.Count, number, at + 1);
                (cell, at) = (cell[1..], at + 1);
            }
            if (TakeEnding(section, cell, number) is { } skipped) (cell, at) = (cell[skipped..], at + skipped);
            if (TrySign(cell, at, number)) continue;
            // A count between bar lines is that of the bars since the one before it.
            if (cell.Trim() is { Length: > 1 } said && HeadingLine.CountInFront(said) == said.Length
                && section.Bars.Count > since && HeadingLine.CountAt(cell) is { Times: > 1 } often)
            {
                RepeatBars(section, since, Times(often.Times, number, at + 1 + often.NumberAt), number);
                since = section.Bars.Count;
                continue;
            }
            var closes = cell.TrimEnd().EndsWith(':');
            if (closes) cell = cell.TrimEnd()[..^1];
            if (cell.Contains('(') && section.Bars.Count > 0 && WithoutRemarks(cell, null).Trim().Length == 0)
                ReadRemarks(section, cell, at, number, isLast: at + cell.Length >= end, ref first);
            else if (cell.Trim().Length > 0) read(cell, at, number, ref first);
            else if (cell.Length > 0 && !closes && section.Ending is not { IsClosed: true } && at > start
                && at + cell.Length < end && section.Bars.Count > 0)
            {
                // A bar that is drawn and left empty lasts like the one before, and nobody knows whether that was meant.
                Problem(number, at + 1,
                    "This bar is empty; it is read like the bar before. Write % to say so, or N.C. for silence.");
                ReadCell("%", at, number, ref first);
            }
            // A count after a repeat sign says how often in all.
            if (closes && section.Ending is not null) section.Ending.IsClosed = true;
            else if (closes)
            {
                RepeatBars(section, section.OpenRepeat?.Bar ?? 0, times > 1 ? times : 2, number);
                section.ClosedAt = times > 1 ? null : section.Bars.Count;
            }
            closed |= closes;
        }
        EndLine(section, from);
        if (times > 1 && !closed) RepeatBars(section, since, times, number);
    }

    /// <summary>A cell that holds nothing but remarks: behind the last bar they belong to it, elsewhere it is an empty
    /// bar.</summary>
    private void ReadRemarks(OpenSection section, string cell, int offset, int number, bool isLast, ref bool first)
    {
        var remarks = new List<string>();
        WithoutRemarks(cell, remarks);
        if (isLast)
        {
            section.Bars[^1] = section.Bars[^1] with { Remarks = [.. section.Bars[^1].Remarks, .. remarks] };
            return;
        }
        var written = cell.Trim();
        var column = offset + cell.IndexOf(written, StringComparison.Ordinal) + 1;
        Problem(number, column,
            "This bar has no chord; it is read like the bar before. Write % to say so, or N.C. for silence.");
        AddAsBefore(new BarSpan(number, column, written.Length, BarNotation.Grid, $"% {written}"), first, remarks, "", column);
        first = false;
    }

    /// <summary>Adds the bar before once more, with words of its own.</summary>
    private void AddAsBefore(BarSpan place, bool first, IReadOnlyList<string> remarks, string words, int column)
    {
        if (Here(place.Line).Bars is [.., var previous])
            AddBar(previous with { Slots = [.. previous.Slots.Select((s, i) => s with { Lyric = i == 0 ? words : "" })],
                    StartsLine = first, Lead = "", Melody = [], Remarks = remarks, Span = place }, place.Line);
        else Problem(place.Line, column, "% repeats the bar before, but there is none yet; write its chords.");
    }

    /// <summary>A line of the tune belongs to the bars of the line above, and to their repeats.</summary>
    private void ReadMelody(string line, int number)
    {
        if (_line is not { } above)
        {
            Problem(number, 1,
                "A line of the tune stands right under the bars it belongs to, one line of tune for a "
                    + "line of bars; write the bars first.");
            return;
        }
        var start = line.IndexOf(MelodyLine.Mark, StringComparison.Ordinal) + 1;
        var cells = Cells(line, start).Where(c => c.Text.Trim().Length > 0).ToList();
        if (cells.Count > above.Count)
            Problem(number, cells[above.Count].Offset + 2,
                $"The tune has {cells.Count} bars, the line above {above.Count}; what is more is left out.");
        for (var i = 0; i < Math.Min(cells.Count, above.Count); i++)
        {
            var (text, offset) = cells[i];
            above.SetTune(i, MelodyLine.Read(text, above.Beats(i), (at, message) => Problem(number, offset + at + 1, message)));
        }
        _line = null;   // a line of bars has one tune
    }

    private void EndLine(OpenSection section, int from)
    {
        var written = Enumerable.Range(from, section.Bars.Count - from).Where(b => section.Repeats[b] == b).ToList();
        if (written.Count == 0) return;
        _line = new(written.Count, i => section.Bars[written[i]].Beats, (i, tune) =>
        {
            for (var b = written[i]; b < section.Bars.Count; b++)
                if (section.Repeats[b] == written[i]) section.Bars[b] = section.Bars[b] with { Melody = tune };
        });
    }

    private void RepeatBars(OpenSection section, int from, int times, int line)
    {
        var end = section.Bars.Count;
        for (var i = 1; i < times && !IsFull; i++)
            for (var b = from; b < end; b++) AddBar(Repeated(section, b, isAlone: end - from == 1), line, section.Repeats[b]);
        section.OpenRepeat = null;
    }

    /// <summary>A bar once more; one alone goes on in its line.</summary>
    private static Bar Repeated(OpenSection section, int bar, bool isAlone) =>
        isAlone ? section.Bars[bar] with { StartsLine = false } : section.Bars[bar];

    /// <summary>Where two bar lines with a blank between them part a line into rows of as many bars,
    /// <c>| G | D | | Em | C |</c>; −1 where an empty bar is one.</summary>
    private static int BetweenRows(string line, int start)
    {
        if (line.IndexOf("| |", start, StringComparison.Ordinal) is not (>= 0 and var at)
            || line.IndexOf("| |", at + 1, StringComparison.Ordinal) >= 0)
            return -1;
        int before = 0, after = 0;
        foreach (var (text, offset) in Cells(line, start))
            if (text.AsSpan().Trim() is not ("" or ":"))
                if (offset <= at) before++;
                else after++;
        return before == after && before > 1 ? at + 1 : -1;
    }

    private static IEnumerable<(string Text, int Offset)> Cells(string line, int start)
    {
        var from = start;
        while (from < line.Length)
        {
            var end = line.IndexOf('|', from);
            if (end < 0) end = line.Length;
            yield return (line[from..end], from);
            from = end + 1;
        }
    }

    /// <summary>Counts a chord or dot that is to come into a bar; false, and said, when the bar is full.</summary>
    private bool RoomInBar(ref int steps, int chords, int line, int column)
    {
        if (steps++ < ChartLimits.MostStepsInBar && chords < ChartLimits.MostChordsInBar) return true;
        Problem(line, column,
            $"A bar has at most {ChartLimits.MostChordsInBar} chords and {ChartLimits.MostStepsInBar} beats or parts of beats; "
                + "put a bar line before this. The rest of the bar is left out.");
        return false;
    }

    private Bar MakeBar(List<Token> items, Meter meter, int line, int column, bool startsLine, string lead, bool dotted)
    {
        var beats = (double)meter.Beats;
        double[] lengths;
        if (dotted)
        {
            var units = items.Sum(i => i.Units);
            var unit = units == meter.Beats * meter.Division ? 1.0 / meter.Division
                : units == meter.Beats * 4 && !meter.IsCompound ? 0.25
                : 1.0;
            lengths = [.. items.Select(i => i.Units * unit)];
            if (Math.Abs(lengths.Sum() - beats) > 1e-6)
                Problem(line, column,
                    $"This bar has {units} beats, but {meter} has {meter.Beats}; add or take away dots, or write its own meter "
                        + $"first, such as '{units}/4'.");
        }
        else if (Fits(beats / items.Count, meter)) lengths = [.. items.Select(_ => beats / items.Count)];
        else
        {
            lengths = Spread(items.Count, meter);
            Problem(line, column,
                $"{items.Count} chords cannot share the {meter.Beats} beats of {meter} evenly; show the beats with dots, such "
                    + $"as '{InDots(items, lengths, meter)}'.");
        }
        return new Bar(meter, [.. items.Select((item, i) => MakeSlot(item, lengths[i], line))], startsLine, lead);
    }

    /// <summary>The bar as it was read, written with dots.</summary>
    private static string InDots(List<Token> items, double[] lengths, Meter meter)
    {
        var unit = lengths.All(l => Math.Abs(l - Math.Round(l)) < 1e-9) ? 1.0 : 1.0 / meter.Division;
        return string.Join(' ',
            items.Select(
                (item, i) => item.Text + string.Concat(Enumerable.Repeat(" .", (int)Math.Round(lengths[i] / unit) - 1))));
    }

    private static bool Fits(double beats, Meter meter) =>
        Math.Abs(beats * meter.Division - Math.Round(beats * meter.Division)) < 1e-9;

    private static double[] Spread(int count, Meter meter)
    {
        var division = count <= meter.Beats ? 1 : meter.Division;
        var units = Math.Max(count, meter.Beats * division);
        return [.. Enumerable.Range(0, count).Select(i => (units / count + (i < units % count ? 1 : 0)) / (double)division)];
    }

    /// <summary>A chord as written: <c>&lt;</c> before it makes it come early, <c>/B</c> alone keeps the chord before over
    /// another bass.</summary>
    private Token MakeToken(string text, int column, int units, string lyric, string? before)
    {
        var early = text.Length > 1 && text[0] == '<';
        if (early) (text, column) = (text[1..], column + 1);
        var length = text.Length;
        text = Naming.InEnglish(text);
        if (text.Length > 1 && text[0] == '/' && (before ?? _section?.Bars.LastOrDefault()?.Slots[^1].Symbol) is { } known
            && ChordReader.Read(known).Chord is { } chord)
            text = chord.WithoutBass().Name + text;
        return new Token(text, column, length, units, lyric, early);
    }

    private Slot MakeSlot(Token item, double beats, int line)
    {
        var reading = ChordReader.Read(item.Text);
        if (item.Text == Slot.Unknown)
            Problem(line, item.Column, "An empty place: write its chord, or let a recording of the song say it (Record).");
        else if (!reading.Ok) Problem(line, item.Column + reading.Column - 1, reading.Error!);
        return new Slot(item.Text, reading.Chord, beats, item.Lyric, line, item.Column)
        {
            IsEarly = item.IsEarly, Length = item.Length
        };
    }
}
