using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>The lines that hold bars: grids, words with chords in brackets, chords over words, and the tune under any of them.</summary>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"\s*\|\s*\(?\s*(?:[x×]\s*(?<times>\d{1,2})|(?<times>\d{1,2})\s*[x×])\s*\)?\s*$", RegexOptions.NonBacktracking)]
    private static partial Regex LineTimes();

    [GeneratedRegex(@"\S+", RegexOptions.NonBacktracking)]
    private static partial Regex Words();

    [GeneratedRegex(@"\(([^()]*)\)", RegexOptions.NonBacktracking)]
    private static partial Regex Remark();

    /// <summary>The words of a text with where they begin.</summary>
    internal static IReadOnlyList<(string Text, int Offset)> WordsOf(string text) => [.. Words().Matches(text).Select(m => (m.Value, m.Index))];

    private readonly record struct Token(string Text, int Column, int Units, string Lyric, bool IsEarly = false);

    /// <summary>In a section written after another: from this bar on the line's bars take the places of that one's.</summary>
    private void ReadOwnBars(string line, Match label, int number)
    {
        var before = label.Length - 1;   // the bar line itself is no part of the label
        var rest = new string(' ', before) + line[before..];
        if (_section is not { Like: not null } section)
        {
            Problem(number, 1, $"A bar number stands only in a section that is written after another, such as [Verse 2: as Verse 1]; take {label.Groups["bar"].Value} away.");
            section = Here(number);
        }
        var from = section.Bars.Count;
        if (rest.Contains('[')) ReadBrackets(rest, number);
        else ReadGrid(rest, number);
        if (section.Like is null) return;
        var first = int.Parse(label.Groups["bar"].Value, CultureInfo.InvariantCulture);
        for (var i = from; i < section.Bars.Count; i++) section.OwnBars[first + i - from] = section.Bars[i];
        _line = new(section.Bars.Count - from, i => section.OwnBars[first + i].Beats, (i, tune) => section.OwnBars[first + i] = section.OwnBars[first + i] with { Melody = tune });
        section.RemoveFrom(from);
    }

    private void ReadGrid(string line, int number)
    {
        var times = 1;
        if (LineTimes().Match(line) is { Success: true } repeat)
        {
            times = Math.Clamp(int.Parse(repeat.Groups["times"].Value, CultureInfo.InvariantCulture), 1, ChartLimits.MostTimes);
            line = line[..repeat.Index] + "|";
        }
        var start = line.IndexOf('|', StringComparison.Ordinal);
        // Before the first bar line stands the name of a section, or the first bar of somebody who writes no line there.
        if (!line[..start].TrimEnd().EndsWith(':') && IsChordLine(line[..start])) start = 0;
        else if (Meter.TryParse(line[..start].Trim(), out var meter))
        {
            // A meter in front of the first bar of all is that of the song, later on that of the bar it stands before.
            if (_bars == 0) _header.Use(meter);
            else (line, start) = ($"{line[..start]} {line[(start + 1)..]}", 0);
        }
        else if (line[..start].Trim().TrimEnd(':').TrimEnd() is { Length: > 0 } label) Open(label, 1, number);
        var section = Here(number);
        var from = section.Bars.Count;
        var first = true;
        var closed = false;
        var end = line.TrimEnd().Length;
        foreach (var (text, offset) in Cells(line, start))
        {
            if (IsFull) break;
            var cell = text;
            var at = offset;
            if (cell.StartsWith(':'))
            {
                section.OpenRepeat = (section.Bars.Count, number, at + 1);
                (cell, at) = (cell[1..], at + 1);
            }
            var closes = cell.TrimEnd().EndsWith(':');
            if (closes) cell = cell.TrimEnd()[..^1];
            if (cell.Trim().Length > 0) ReadCell(cell, at, number, ref first);
            else if (cell.Length > 0 && !closes && at > start && at + cell.Length < end && section.Bars.Count > 0)
            {
                // A bar that is drawn and left empty lasts like the one before, and nobody knows whether that was meant.
                Problem(number, at + 1, "This bar is empty; it is read like the bar before. Write % to say so, or N.C. for silence.");
                ReadCell("%", at, number, ref first);
            }
            // A count after a repeat sign says how often in all.
            if (closes) RepeatBars(section, section.OpenRepeat?.Bar ?? 0, times > 1 ? times : 2, number);
            closed |= closes;
        }
        EndLine(section, from);
        if (times > 1 && !closed) RepeatBars(section, from, times, number);
    }

    /// <summary>A line of the tune belongs to the bars of the line above, and to their repeats.</summary>
    private void ReadMelody(string line, int number)
    {
        if (_line is not { } above)
        {
            Problem(number, 1, "A line of the tune stands right under the bars it belongs to, one line of tune for a line of bars; write the bars first.");
            return;
        }
        var start = line.IndexOf(MelodyLine.Mark, StringComparison.Ordinal) + 1;
        var cells = Cells(line, start).Where(c => c.Text.Trim().Length > 0).ToList();
        if (cells.Count > above.Count) Problem(number, cells[above.Count].Offset + 2, $"The tune has {cells.Count} bars, the line above {above.Count}; what is more is left out.");
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
            for (var b = from; b < end; b++) AddBar(section.Bars[b], line, section.Repeats[b]);
        section.OpenRepeat = null;
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

    private void ReadCell(string cell, int offset, int number, ref bool first)
    {
        var remarks = new List<string>();
        var written = cell.Trim();
        var place = new BarSpan(number, offset + cell.IndexOf(written, StringComparison.Ordinal) + 1, written.Length, BarNotation.Grid, string.Join(' ', WordsOf(written).Select(w => w.Text)));
        // Brackets that stand alone and hold no chord are remarks; the column of what follows stays the same.
        cell = Remark().Replace(cell, m =>
        {
            if (m.Index > 0 && cell[m.Index - 1] != ' ' || ChordReader.Read(m.Groups[1].Value.Trim()).Ok || m.Groups[1].Value.Trim().Length == 0) return m.Value;
            remarks.Add(m.Groups[1].Value.Trim());
            return new string(' ', m.Length);
        });
        var tokens = Words().Matches(cell).Select(m => (m.Value, Column: offset + m.Index + 1)).ToList();
        var meter = _header.Meter;
        if (tokens.Count > 0 && Meter.TryParse(tokens[0].Value, out var own)) { meter = own; tokens.RemoveAt(0); }
        if (tokens is [("%", var column)])
        {
            if (Here(number).Bars is [.., var previous]) AddBar(previous with { Slots = [.. previous.Slots.Select(s => s with { Lyric = "" })], StartsLine = first, Lead = "", Melody = [], Remarks = remarks, Span = place }, number);
            else Problem(number, column, "% repeats the bar before, but there is none yet; write its chords.");
            first = false;
            return;
        }
        var items = new List<Token>();
        var steps = 0;
        foreach (var (text, at) in tokens)
        {
            if (!RoomInBar(ref steps, items.Count, number, at)) break;
            if (text is "." or "-" or "·" && items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
            else if (text is "." or "-" or "·") Problem(number, at, "A dot holds the chord before it, but this bar begins with one; write the chord again.");
            else items.Add(MakeToken(text, at, 1, "", items.Count > 0 ? items[^1].Text : null));
        }
        if (items.Count == 0) return;
        AddBar(MakeBar(items, meter, number, items[0].Column, first, "", tokens.Count > items.Count) with { Remarks = remarks, Span = place }, number);
        first = false;
    }

    /// <summary>Counts a chord or dot that is to come into a bar; false, and said, when the bar is full.</summary>
    private bool RoomInBar(ref int steps, int chords, int line, int column)
    {
        if (steps++ < ChartLimits.MostStepsInBar && chords < ChartLimits.MostChordsInBar) return true;
        Problem(line, column, $"A bar has at most {ChartLimits.MostChordsInBar} chords and {ChartLimits.MostStepsInBar} beats or parts of beats; put a bar line before this. The rest of the bar is left out.");
        return false;
    }

    private Bar MakeBar(List<Token> items, Meter meter, int line, int column, bool startsLine, string lead, bool dotted)
    {
        var beats = (double)meter.Beats;
        double[] lengths;
        if (dotted)
        {
            var units = items.Sum(i => i.Units);
            var unit = units == meter.Beats * meter.Division ? 1.0 / meter.Division : units == meter.Beats * 4 && !meter.IsCompound ? 0.25 : 1.0;
            lengths = [.. items.Select(i => i.Units * unit)];
            if (Math.Abs(lengths.Sum() - beats) > 1e-6)
                Problem(line, column, $"This bar has {units} beats, but {meter} has {meter.Beats}; add or take away dots, or write its own meter first, such as '{units}/4'.");
        }
        else if (Fits(beats / items.Count, meter)) lengths = [.. items.Select(_ => beats / items.Count)];
        else
        {
            lengths = Spread(items.Count, meter);
            Problem(line, column, $"{items.Count} chords cannot share the {meter.Beats} beats of {meter} evenly; show the beats with dots, such as '{InDots(items, lengths, meter)}'.");
        }
        return new Bar(meter, [.. items.Select((item, i) => MakeSlot(item, lengths[i], line))], startsLine, lead);
    }

    /// <summary>The bar as it was read, written with dots.</summary>
    private static string InDots(List<Token> items, double[] lengths, Meter meter)
    {
        var unit = lengths.All(l => Math.Abs(l - Math.Round(l)) < 1e-9) ? 1.0 : 1.0 / meter.Division;
        return string.Join(' ', items.Select((item, i) => item.Text + string.Concat(Enumerable.Repeat(" .", (int)Math.Round(lengths[i] / unit) - 1))));
    }

    private static bool Fits(double beats, Meter meter) => Math.Abs(beats * meter.Division - Math.Round(beats * meter.Division)) < 1e-9;

    private static double[] Spread(int count, Meter meter)
    {
        var division = count <= meter.Beats ? 1 : meter.Division;
        var units = Math.Max(count, meter.Beats * division);
        return [.. Enumerable.Range(0, count).Select(i => (units / count + (i < units % count ? 1 : 0)) / (double)division)];
    }

    /// <summary>A chord as written: <c>&lt;</c> before it makes it come early, <c>/B</c> alone keeps the chord before over another bass.</summary>
    private Token MakeToken(string text, int column, int units, string lyric, string? before)
    {
        var early = text.Length > 1 && text[0] == '<';
        if (early) (text, column) = (text[1..], column + 1);
        if (text.Length > 1 && text[0] == '/' && (before ?? _section?.Bars.LastOrDefault()?.Slots[^1].Symbol) is { } known && ChordReader.Read(known).Chord is { } chord)
            text = chord.WithoutBass().Name + text;
        return new Token(text, column, units, lyric, early);
    }

    private Slot MakeSlot(Token item, double beats, int line)
    {
        var reading = ChordReader.Read(item.Text);
        if (!reading.Ok) Problem(line, item.Column + reading.Column - 1, reading.Error!);
        return new Slot(item.Text, reading.Chord, beats, item.Lyric, line, item.Column) { IsEarly = item.IsEarly };
    }

    private void ReadBrackets(string line, int number)
    {
        var first = true;
        var (before, from) = (_section, _section?.Bars.Count ?? 0);
        foreach (var (cell, offset) in Cells(line, 0))
        {
            if (IsFull) break;
            var barred = line.Contains('|');
            var steps = 0;
            var meter = _header.Meter;
            var items = new List<Token>();
            var content = new List<string>();
            var places = new List<BarSpan>();
            var dotted = false;
            var open = cell.IndexOf('[', StringComparison.Ordinal);
            var lead = (open < 0 ? cell : cell[..open]).Trim();
            if (open >= 0 && lead.Split(' ')[0] is { } word && Meter.TryParse(word, out var own)) { meter = own; lead = lead[word.Length..].Trim(); content.Add(word); }
            var remarks = new List<string>();
            while (open >= 0 && barred && lead.StartsWith('(') && lead.IndexOf(')') is > 0 and var end)
            {
                remarks.Add(lead[1..end].Trim());
                content.Add($"({remarks[^1]})");
                lead = lead[(end + 1)..].Trim();
            }
            while (open >= 0)
            {
                var close = cell.IndexOf(']', open);
                if (close < 0)
                {
                    Problem(number, offset + open + 1, "This square bracket is never closed; write ] after the chord.");
                    break;
                }
                var next = cell.IndexOf('[', close);
                var lyric = next < 0 ? cell[(close + 1)..] : cell[(close + 1)..next];
                var words = cell[(open + 1)..close].Split(' ', StringSplitOptions.RemoveEmptyEntries);
                if (barred && !RoomInBar(ref steps, items.Count, number, offset + open + 1)) break;
                steps += Math.Max(0, words.Length - 1);
                if (words.Length > 1 && words.Skip(1).All(w => w is "." or "·")) dotted = true;
                else if (words.Length > 1) words = [string.Join(' ', words)];
                if (words.Length == 0) Problem(number, offset + open + 1, "There is nothing between these brackets; write a chord or take them away.");
                else
                {
                    items.Add(MakeToken(words[0], offset + open + 2, words.Length, lyric, items.Count > 0 ? items[^1].Text : null));
                    content.AddRange(words);
                    places.Add(new BarSpan(number, offset + open + 1, (next < 0 ? cell.TrimEnd().Length : next) - open, BarNotation.Bracket, string.Join(' ', words)));
                }
                open = next;
            }
            if (items.Count == 0) { if (lead.Length > 0) Hold(lead); continue; }
            var written = cell.Trim();
            if (barred) places = [new BarSpan(number, offset + cell.IndexOf(written, StringComparison.Ordinal) + 1, written.Length, BarNotation.Words, string.Join(' ', content))];
            foreach (var (group, place) in (barred ? [items] : items.Select(i => new List<Token> { i })).Zip(places))
            {
                group[^1] = group[^1] with { Lyric = group[^1].Lyric.TrimEnd() };
                AddBar(MakeBar(group, meter, number, group[0].Column, first, lead, dotted && barred) with { Remarks = remarks, Span = place }, number);
                first = false;
                lead = "";
            }
        }
        if (_section is { } section) EndLine(section, section == before ? from : 0);
    }

    [GeneratedRegex(@"[^\s,]+", RegexOptions.NonBacktracking)]
    private static partial Regex Symbols();

    [GeneratedRegex(@"^[A-H][#b♯♭]?(?:maj|min|dim|aug|sus|add|m|M|[0-9]|[#b♯♭()/+°øΔ-]|[A-H])*$", RegexOptions.NonBacktracking)]
    private static partial Regex LikeAChord();

    /// <summary>What stands between the dashes, arrows and commas of a line of chords.</summary>
    private static List<Match> ChordsOf(string line) => [.. Symbols().Matches(line).Where(m => m.Value is not ("-" or "–" or "—" or "->" or "→"))];

    /// <summary>True for a line of chords. A symbol that cannot be read does not make words of the others as long as it looks like a chord.</summary>
    private static bool IsChordLine(string line)
    {
        var words = ChordsOf(line);
        var read = words.Count(w => ChordReader.Read(w.Value).Ok);
        return words.Count > 0 && (read == words.Count || read >= 2 && 2 * read >= words.Count && words.All(w => LikeAChord().IsMatch(w.Value) || ChordReader.Read(w.Value).Ok));
    }

    /// <summary>Whether the line may stand as the words under a chord line: it is none of the kinds of line that say something of their own.</summary>
    internal static bool IsLyricLine(string line) =>
        line.Trim().Length > 0 && !line.Contains('[') && !line.Contains('|') && !IsRemark(line) && !line.TrimStart().StartsWith(MelodyLine.Mark)
        && !IsChordLine(line) && NamedChordsIn(line) is null && !SectionLine().IsMatch(line) && !PlainHeading().IsMatch(line)
        && !StrumLine().IsMatch(line) && !ChartHeader.IsHeader(line);

    private static bool IsRemark(string line) => line.TrimStart().StartsWith('#') && !line.Contains('|');

    /// <summary>A section's name and its chords in one line, "Intro: C G Am".</summary>
    private static Match? NamedChordsIn(string line) =>
        NamedChords().Match(line) is { Success: true } named && IsChordLine(named.Groups["chords"].Value) ? named : null;

    private void ReadOver(string chords, string words, int number)
    {
        var marks = ChordsOf(chords);
        var first = true;
        for (var i = 0; i < marks.Count && !IsFull; i++)
        {
            var from = Math.Min(marks[i].Index, words.Length);
            var to = i + 1 < marks.Count ? Math.Min(marks[i + 1].Index, words.Length) : words.Length;
            var lead = i == 0 ? words[..from].Trim() : "";
            var item = new Token(marks[i].Value, marks[i].Index + 1, 1, words[from..to].TrimEnd());
            AddBar(MakeBar([item], _header.Meter, number, item.Column, first, lead, false) with { Span = new BarSpan(number, item.Column, item.Text.Length, BarNotation.Over, item.Text) }, number);
            first = false;
        }
    }
}
