using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>The lines that hold bars: grids, words with chords in brackets, chords over words, and the tune under any of them.</summary>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"\S+", RegexOptions.NonBacktracking)]
    private static partial Regex Words();

    [GeneratedRegex(@"\(([^()]*)\)", RegexOptions.NonBacktracking)]
    private static partial Regex Remark();

    /// <summary>The words of a text with where they begin.</summary>
    internal static IReadOnlyList<(string Text, int Offset)> WordsOf(string text) => [.. Words().Matches(text).Select(m => (m.Value, m.Index))];

    private readonly record struct Token(string Text, int Column, int Length, int Units, string Lyric, bool IsEarly = false);

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
        _line = new(section.Bars.Count - from, i => section.OwnBars[first + i].Beats, (i, tune) => section.OwnBars[first + i] = section.OwnBars[first + i] with { Melody = tune });
        section.RemoveFrom(from);
    }

    private void ReadGrid(string line, int number)
    {
        var times = 1;
        if (line.LastIndexOf('|') is var last && HeadingLine.CountAt(line[(last + 1)..]) is { At: 0 } count)
        {
            times = Times(count.Times, number, last + 2 + count.NumberAt);
            line = line[..(last + 1)];
        }
        var start = line.IndexOf('|', StringComparison.Ordinal);
        // Before the first bar line stands the name of a section, or the first bar of somebody who writes no line there.
        if (!line[..start].TrimEnd().EndsWith(':') && (IsChordLine(line[..start]) || line[..start].Trim().Split(' ', 2) is [var one, var more] && Meter.TryParse(one, out _) && IsChordLine(more))) start = 0;
        else if (Meter.TryParse(line[..start].Trim(), out var meter))
        {
            // A meter in front of the first bar of all is that of the song, later on that of the bar it stands before.
            if (_bars == 0) _header.Use(meter);
            else (line, start) = ($"{line[..start]} {line[(start + 1)..]}", 0);
        }
        else if (line[..start].Trim().TrimEnd(':').TrimEnd() is { Length: > 0 } label && HeadingLine.Counted(label) is var (name, often)) Open(new HeadingLine(name, often, start), number);
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
                CloseEndings(section);
                section.OpenRepeat = (section.Bars.Count, number, at + 1);
                (cell, at) = (cell[1..], at + 1);
            }
            if (TakeEnding(section, cell, number) is { } skipped) (cell, at) = (cell[skipped..], at + skipped);
            if (TrySign(cell, at, number)) continue;
            var closes = cell.TrimEnd().EndsWith(':');
            if (closes) cell = cell.TrimEnd()[..^1];
            if (cell.Trim().Length > 0) ReadCell(cell, at, number, ref first);
            else if (cell.Length > 0 && !closes && section.Ending is not { IsClosed: true } && at > start && at + cell.Length < end && section.Bars.Count > 0)
            {
                // A bar that is drawn and left empty lasts like the one before, and nobody knows whether that was meant.
                Problem(number, at + 1, "This bar is empty; it is read like the bar before. Write % to say so, or N.C. for silence.");
                ReadCell("%", at, number, ref first);
            }
            // A count after a repeat sign says how often in all.
            if (closes && section.Ending is not null) section.Ending.IsClosed = true;
            else if (closes) RepeatBars(section, section.OpenRepeat?.Bar ?? 0, times > 1 ? times : 2, number);
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
        cell = WithoutRemarks(cell, remarks);
        var tokens = Pieces(cell, offset, number);
        var meter = MeterHere;
        if (tokens.Count > 0 && Meter.TryParse(tokens[0].Text, out var own)) { meter = own; tokens.RemoveAt(0); }
        if (tokens is [(("//" or "./." or "𝄎"), var at0)]) tokens = [("%", at0)];
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
            if (IsHeld(text) && items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
            else if (IsHeld(text)) Problem(number, at, "A dot holds the chord before it, but this bar begins with one; write the chord again.");
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
        var length = text.Length;
        text = ForeignNames.InEnglish(text, Names);
        if (text.Length > 1 && text[0] == '/' && (before ?? _section?.Bars.LastOrDefault()?.Slots[^1].Symbol) is { } known && ChordReader.Read(known).Chord is { } chord)
            text = chord.WithoutBass().Name + text;
        return new Token(text, column, length, units, lyric, early);
    }

    private Slot MakeSlot(Token item, double beats, int line)
    {
        var reading = ChordReader.Read(item.Text);
        if (!reading.Ok) Problem(line, item.Column + reading.Column - 1, reading.Error!);
        return new Slot(item.Text, reading.Chord, beats, item.Lyric, line, item.Column) { IsEarly = item.IsEarly, Length = item.Length };
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
            var meter = MeterHere;
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
                if (words is [var only] && !IsChord(only) && Word().IsMatch(only))
                {
                    Problem(number, offset + open + 2, $"'{only}' is no chord and is left out; write a remark in round brackets.");
                    if (items.Count > 0) items[^1] = items[^1] with { Lyric = items[^1].Lyric.TrimEnd() + " " + lyric.TrimStart() };
                    else lead = $"{lead} {lyric}".Trim();
                }
                else if (words.Length == 0) Problem(number, offset + open + 1, "There is nothing between these brackets; write a chord or take them away.");
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

    [GeneratedRegex(@"^[A-H][#b♯♭]?(?:maj|min|dim|aug|sus|add|m|M|[0-9]|[#b♯♭()/+°øΔ-]|[A-H])*$", RegexOptions.NonBacktracking)]
    private static partial Regex LikeAChord();

    [GeneratedRegex(@"^\p{L}*\p{Ll}{3}", RegexOptions.NonBacktracking)]
    private static partial Regex Word();

    [GeneratedRegex(@"^[A-G]o$", RegexOptions.NonBacktracking)]
    private static partial Regex GoOrDo();

    /// <summary>True for a line of chords. A symbol that cannot be read does not make words of the others as long as it looks like a chord.</summary>
    private bool IsChordLine(string line)
    {
        // A line is asked about several times in a row, as itself and as the next one.
        foreach (var (known, answer) in _asked) if (ReferenceEquals(known, line)) return answer;
        var isChords = FindChordLine(line);
        _asked[_nextAsked++ % _asked.Length] = (line, isChords);
        return isChords;
    }

    private readonly (string? Line, bool IsChords)[] _asked = new (string?, bool)[4];
    private int _nextAsked;

    private bool FindChordLine(string line)
    {
        if (!line.Contains('(') && LongWord().IsMatch(line)) return false;
        var words = ChordsOf(line);
        int read = 0, like = 0, held = 0, odd = 0;
        foreach (var (text, _) in words)
        {
            if (IsHeld(text) || text == "%") held++;
            else if (IsChord(text)) read++;
            else if (LikeAChord().IsMatch(text)) like++;
            else if (text.Length <= LongestOdd && char.IsUpper(text[0]) && !Word().IsMatch(text)) odd++;
            else return false;
        }
        return read > 0 && like + odd == 0 || read >= 2 && read >= like + odd && odd == 0 || read >= 3 && odd == 1;
    }

    /// <summary>Longer than anything that stands in a symbol.</summary>
    [GeneratedRegex(@"\p{Ll}{7}", RegexOptions.NonBacktracking)]
    private static partial Regex LongWord();

    private const int LongestOdd = 6;   // letters of a symbol nobody knows among chords

    /// <summary>The same for a line of a chart with the names used here.</summary>
    internal static bool IsLyricLine(string line) => new ChartTextRun().IsLyrics(LineTidy.Of(line));

    /// <summary>True for a line that names a section. A chord in square brackets is none.</summary>
    internal static bool IsHeading(string line) => HeadingLine.Alone(line, symbol => ChordReader.Read(symbol).Ok, beforeBars: false) is not null;

    /// <summary>Whether the line may stand as the words under a chord line: it is none of the kinds of line that say something of their own.</summary>
    private bool IsLyrics(string line) =>
        line.Trim().Length > 0 && !line.Contains('[') && !line.Contains('|') && !IsRemark(line) && !line.TrimStart().StartsWith(MelodyLine.Mark)
        && (!IsChordLine(line) || ChordsOf(line).Exists(w => GoOrDo().IsMatch(w.Text))) && HeadingLine.WithBars(line, IsChord, IsChordLine) is null && HeadingLine.Alone(line, IsChord, beforeBars: false) is null
        && !StrumLine().IsMatch(line) && !ChartHeader.IsHeader(line) && PageDebris.Of(line, IsChord) is null;

    private static bool IsRemark(string line) => line.TrimStart().StartsWith('#') && !line.Contains('|') && !HeadingLine.IsKnown(line);

    /// <summary>What stands between the dashes, arrows and commas of a line of chords, a count behind it aside.</summary>
    private List<(string Text, int Column)> ChordsOf(string line) =>
        [.. Pieces(WithoutRemarks(HeadingLine.CountAt(line) is { At: > 0 } count ? line[..count.At] : line, null), 0, null).Where(p => p.Text is not ("-" or "–" or "—" or "‒" or "―" or "->" or "=>" or ">" or "→" or "⇒" or "•" or "·" or "*" or "~"))];

    private void ReadOver(string chords, string words, int number)
    {
        var times = HeadingLine.CountAt(chords) is { At: > 0 } count ? Times(count.Times, number, count.NumberAt + 1) : 1;
        var pieces = WithoutSeparators(ChordsOf(chords));
        var remarks = new List<string>();
        WithoutRemarks(HeadingLine.CountAt(chords) is { At: > 0 } behind ? chords[..behind.At] : chords, remarks);
        var section = Here(number);
        var from = section.Bars.Count;
        var items = new List<Token>();
        for (var i = 0; i < pieces.Count; i++)
        {
            var (text, column) = pieces[i];
            if (IsHeld(text))
            {
                if (items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
                continue;
            }
            var next = pieces.Skip(i + 1).FirstOrDefault(p => !IsHeld(p.Text));
            var (start, end) = (Math.Min(column - 1, words.Length), next.Text is null ? words.Length : Math.Min(next.Column - 1, words.Length));
            if (text == "%")
            {
                if ((items.Count > 0 ? items[^1].Text : section.Bars.LastOrDefault()?.Slots[^1].Symbol) is { } before) items.Add(new Token(before, column, 0, 1, words[start..end].TrimEnd()));
                else Problem(number, column, "% repeats the bar before, but there is none yet; write its chords.");
            }
            else if (WithoutDoubt(text, column, number) is var kept) items.Add(MakeToken(kept.Text, kept.Column, 1, words[start..end].TrimEnd(), items.Count > 0 ? items[^1].Text : null));
        }
        var first = true;
        var dotted = items.Exists(i => i.Units > 1);
        for (int i = 0, taken; i < items.Count && !IsFull; i += taken)
        {
            // Chords without beats last a bar each; with beats they fill bars as the meter has it.
            taken = 1;
            for (var beats = items[i].Units; dotted && beats < MeterHere.Beats && i + taken < items.Count; taken++) beats += items[i + taken].Units;
            var bar = items.GetRange(i, taken);
            var (begin, end) = (bar[0].Column, i + taken < items.Count ? items[i + taken].Column - 1 : chords.TrimEnd().Length);
            var content = taken == 1 && !dotted ? chords.Substring(begin - 1, WordLength(chords, begin - 1)) : chords[(begin - 1)..end].TrimEnd();
            var lead = i == 0 ? words[..Math.Min(pieces[0].Column - 1, words.Length)].Trim() : "";
            AddBar(MakeBar(bar, MeterHere, number, begin, first, lead, dotted) with { Span = new BarSpan(number, begin, content.Length, BarNotation.Over, content) }, number);
            first = false;
        }
        if (remarks.Count > 0 && section.Bars.Count > from) section.Bars[^1] = section.Bars[^1] with { Remarks = remarks };
        if (times > 1) RepeatBars(section, from, times, number);
    }

    /// <summary>A piece of a line with blanks in place of its remarks: brackets that stand alone and hold no chord.</summary>
    private string WithoutRemarks(string text, List<string>? remarks) => !text.Contains('(') ? text : Remark().Replace(text, m =>
    {
        var inside = m.Groups[1].Value.Trim();
        if (m.Index > 0 && text[m.Index - 1] != ' ' || inside.Length == 0 || IsChord(inside)) return m.Value;
        remarks?.Add(inside);
        return new string(' ', m.Length);
    });

    private static int WordLength(string line, int from)
    {
        var end = from;
        while (end < line.Length && line[end] is not (' ' or ',')) end++;
        return end - from;
    }
}
