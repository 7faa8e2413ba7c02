using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>Chords with words: in square brackets among them, or in a line above them.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>A meter of its own in front of what a bar holds.</summary>
    [GeneratedRegex(@"^\s*[0-9]{1,2}/[0-9]{1,2}\s+(?=\S)")]
    private static partial Regex MeterInFront();

    private void ReadBrackets(string line, int number)
    {
        if (line.Contains('|'))
        {
            var end = line.LastIndexOf('|');
            ReadCells(line, 0, number, (string cell, int offset, int at, ref bool first) =>
            {
                if (cell.Contains('[')) ReadBracketCell(cell, offset, at, barred: true, ref first);
                else if (cell.Trim() == "%" || IsChordLine(MeterInFront().Replace(cell, ""))) ReadCell(cell, offset, at, ref first);
                else if (line.IndexOf('|') is var begin && (offset <= begin || offset > end)) Hold(cell.Trim());
                else
                {
                    // Words between two bar lines are sung through a bar, whatever it plays.
                    var words = cell.Trim();
                    var column = offset + cell.IndexOf(words, StringComparison.Ordinal) + 1;
                    Problem(at, column,
                        "This bar has words but no chord; it is read like the bar before. Write its chord in square brackets.");
                    AddAsBefore(new BarSpan(at, column, words.Length, BarNotation.Words, "%"), first, [], words, column);
                    first = false;
                }
            });
            return;
        }
        var times = CountBehindWords(line) is { } count ? Times(count.Times, number, count.NumberAt + 1) : 1;
        if (CountBehindWords(line) is { } behind) line = line[..behind.At];
        var (before, from, isFirst) = (_section, _section?.Bars.Count ?? 0, true);
        ReadBracketCell(line, 0, number, barred: false, ref isFirst);
        if (_section is not { } section) return;
        EndLine(section, section == before ? from : 0);
        if (times > 1) RepeatBars(section, section == before ? from : 0, times, number);
    }

    /// <summary>A count behind words, where "twice" may be one of them: only x2, 2x or what stands in round brackets.</summary>
    private static (int Times, int At, int NumberAt)? CountBehindWords(string line) =>
        HeadingLine.CountAt(line) is { At: > 0, Times: > 1 } count
                && (line.AsSpan(count.At).ContainsAny('(', '×', '*') || line.AsSpan(count.At).ContainsAny("x0123456789"))
            ? count
            : null;

    /// <summary>A number that counts beats behind a chord; no chord has it behind a blank.</summary>
    [GeneratedRegex("^(?:[1-4]|8|12|16)$")]
    private static partial Regex BeatsAlone();

    private void ReadBracketCell(string cell, int offset, int number, bool barred, ref bool first)
    {
        var steps = 0;
        var meter = MeterHere;
        var items = new List<Token>();
        var content = new List<string>();
        var places = new List<BarSpan>();
        var dotted = false;
        var open = cell.IndexOf('[', StringComparison.Ordinal);
        var lead = (open < 0 ? cell : cell[..open]).Trim();
        if (open >= 0 && lead.Split(' ')[0] is { } word && Meter.TryParse(word, out var own))
        {
            meter = own;
            lead = lead[word.Length..].Trim();
            content.Add(word);
        }
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
            else if (words is [var named, var beats] && IsChord(named) && BeatsAlone().IsMatch(beats))
            {
                words = [named];
                if (barred || beats != $"{meter.Beats}")
                    Problem(number, offset + open + 2,
                        $"{beats} behind {named} is read as beats and left out; write them as dots between bar lines, such as | {named} . . . |.");
            }
            else if (words.Length > 1) words = [string.Join(' ', words)];
            if (words is [var only] && !IsChord(only) && Word().IsMatch(only))
            {
                Problem(number, offset + open + 2, $"'{only}' is no chord and is left out; write a remark in round brackets.");
                if (items.Count > 0) items[^1] = items[^1] with { Lyric = items[^1].Lyric.TrimEnd() + " " + lyric.TrimStart() };
                else lead = $"{lead} {lyric}".Trim();
            }
            else if (words.Length == 0)
                Problem(number, offset + open + 1, "There is nothing between these brackets; write a chord or take them away.");
            else
            {
                items.Add(MakeToken(words[0], offset + open + 2, words.Length, lyric, items.Count > 0 ? items[^1].Text : null));
                content.AddRange(words);
                places.Add(new BarSpan(number, offset + open + 1, (next < 0 ? cell.TrimEnd().Length : next) - open,
                    BarNotation.Bracket, string.Join(' ', words)));
            }
            open = next;
        }
        if (items.Count == 0)
        {
            if (lead.Length > 0) Hold(lead);
            return;
        }
        var written = cell.Trim();
        if (barred)
            places = [new BarSpan(number, offset + cell.IndexOf(written, StringComparison.Ordinal) + 1, written.Length,
                BarNotation.Words, string.Join(' ', content))];
        foreach (var (group, place) in (barred ? [items] : items.Select(i => new List<Token> { i })).Zip(places))
        {
            group[^1] = group[^1] with { Lyric = group[^1].Lyric.TrimEnd() };
            AddBar(MakeBar(group, meter, number, group[0].Column, first, lead, dotted && barred)
                    with { Remarks = remarks, Span = place }, number);
            first = false;
            lead = "";
        }
    }

    private void ReadOver(string chords, string words, int number, bool isNamed = false)
    {
        if (HeadingLine.CountedParts(chords) is { } parts)
        {
            // Each part where it stands, with the words under it.
            foreach (var (from, to) in parts)
                ReadOver(new string(' ', from) + chords[from..to].TrimEnd(' ', ',', ';'),
                    from >= words.Length ? "" : new string(' ', from) + words[from..(to == parts[^1].To ? words.Length : Math.Min(to, words.Length))],
                    number);
            return;
        }
        ReadOverPart(chords, words, number, isNamed);
    }

    private void ReadOverPart(string chords, string words, int number, bool isNamed)
    {
        var times = 1;
        if (HeadingLine.CountAt(chords) is { At: > 0 } count)
        {
            times = Times(count.Times, number, count.NumberAt + 1);
            chords = chords[..count.At];
        }
        else if (CountBehindWords(words) is { } sung)
        {
            times = Times(sung.Times, number + 1, sung.NumberAt + 1);
            words = words[..sung.At];
        }
        (chords, var groupAt) = Ungrouped(chords);
        var pieces = WithoutSeparators(ChordsOf(chords));
        var close = BeatsClose(pieces);
        if (close is not null) pieces = [.. pieces.Select(p => (WithoutBeats(p.Text), p.Column))];
        var remarks = new List<string>();
        WithoutRemarks(chords, remarks);
        var section = Here(number);
        var from = section.Bars.Count;
        var items = new List<Token>();
        var columns = pieces.Where(p => !IsHeld(p.Text)).Select(p => p.Column).ToList();
        var spread = columns.Count > 1 && AreSpread(chords, words, isNamed)
            ? columns.Zip(SpreadOver(columns, chords.TrimEnd().Length, words)).ToDictionary()
            : [];
        int Above(int column) => Math.Min(spread.GetValueOrDefault(column, column - 1), words.Length);
        for (var i = 0; i < pieces.Count; i++)
        {
            var (text, column) = pieces[i];
            if (IsHeld(text))
            {
                if (items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
                continue;
            }
            var next = pieces.Skip(i + 1).FirstOrDefault(p => !IsHeld(p.Text));
            var (start, end) = (Above(column), next.Text is null ? words.Length : Above(next.Column));
            if (text == "%")
            {
                if ((items.Count > 0 ? items[^1].Text : section.Bars.LastOrDefault()?.Slots[^1].Symbol) is { } before)
                    items.Add(new Token(before, column, 0, 1, words[start..end].TrimEnd()));
                else Problem(number, column, "% repeats the bar before, but there is none yet; write its chords.");
            }
            else if (WithoutDoubt(text, column, number) is var kept)
                items.Add(
                    MakeToken(kept.Text, kept.Column, 1, words[start..end].TrimEnd(), items.Count > 0 ? items[^1].Text : null));
        }
        CountStrokes(items, pieces, MeterHere);
        HoldLast(items, MeterHere);
        var first = true;
        var bars = close is null ? TakeBeats(items, chords, number)
            : TakeBeats(items, close, ($"({close[0]})", pieces[0].Column + pieces[0].Text.Length), number);
        remarks.RemoveAll(r => BeatsInBrackets().IsMatch($" ({r})") || LengthOfEach().IsMatch($" ({r})"));
        var dotted = items.Exists(i => i.Units > 1);
        for (int i = 0, taken; i < items.Count && !IsFull; i += taken)
        {
            // Chords without beats last a bar each; with beats they fill bars as the meter has it.
            taken = 1;
            for (var beats = items[i].Units; dotted && beats < MeterHere.Beats && i + taken < items.Count; taken++)
                beats += items[i + taken].Units;
            var bar = items.GetRange(i, taken);
            var begin = bar[0].IsEarly ? bar[0].Column - 1 : bar[0].Column;
            // A sign for "as before" is a bar of its own, of one character.
            var end = !dotted ? bar[0].Column - 1 + Math.Max(1, bar[0].Length)
                : i + taken < items.Count ? items[i + taken].Column - 1
                : chords.TrimEnd().Length;
            var content = chords[(begin - 1)..end].TrimEnd();
            // Written anew, it says which chord it keeps.
            var whole = content is ['/', _, ..] ? bar[0].Text + content[bar[0].Length..] : content;
            var lead = i == 0 ? words[..Above(pieces[0].Column)].Trim() : "";
            var place = new BarSpan(number, begin, content.Length, BarNotation.Over, SpokenChords.WithoutFilling(whole));
            AddBar(MakeBar(bar, MeterHere, number, begin, first, lead, dotted) with { Span = place }, number);
            PlayAgain(bars?[i] ?? 1, number);
            first = false;
        }
        if (remarks.Count > 0 && section.Bars.Count > from) section.Bars[^1] = section.Bars[^1] with { Remarks = remarks };
        // A count behind chords in brackets is theirs alone.
        if (groupAt is { } group && !dotted) from = Math.Min(section.Bars.Count, from + items.Count(i => i.Column <= group));
        if (times > 1) RepeatBars(section, from, times, number);
    }

    /// <summary>The words under a line of chords that have the name of their section in front of them without a colon,
    /// <c>Chorus  Pump it up</c>, which is opened; null where there are none.</summary>
    private string? WordsBesideName(List<(string Text, int Number)> lines, ref int at, string chords, string next)
    {
        var head = next.AsSpan().TrimStart();
        var end = head.IndexOf("  ");
        if (end is <= 0 or > LongestNaming || next.AsSpan().ContainsAny('[', '|')
            || ChordsOf(chords) is not [{ Column: var column }, ..])
            return null;
        var rest = next.Length - head[end..].TrimStart().Length;
        var words = new string(' ', rest) + next[rest..];
        if (rest == next.Length || column <= rest || IsChordLine(words) || !IsLyrics(words)
            || !HeadingLine.IsKnown(head[..end].ToString())
            || HeadingLine.Alone(head[..end].ToString(), IsChord, beforeBars: false) is not { } name)
            return null;
        Open(name, lines[++at].Number);
        return words;
    }

    /// <summary>The words under a line of chords that have the name of their section in front of them, which is opened; empty
    /// where there are none.</summary>
    private string WordsBehindName(List<(string Text, int Number)> lines, ref int at, string chords, string next)
    {
        if (next.Contains('[') || HeadingLine.WithWords(next) is not { } label
            || ChordsOf(chords) is not [{ Column: var column }, ..] || column <= label.RestAt
            || !lines[at].Text.AsSpan(0, column - 1).IsWhiteSpace())
            return "";
        Open(label, lines[++at].Number);
        return new string(' ', label.RestAt) + next[label.RestAt..];
    }
}
