using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>Bars between bar lines: <c>| F . . . | C . Dm . |</c>.</content>
internal sealed partial class ChartTextRun
{
    private void ReadGrid(string line, int number)
    {
        // A row of chords without bar lines that a sign at its end repeats.
        if (line.TrimEnd().TrimEnd('|') is [.., ':'] closed && closed[..^1] is var whole && !whole.Contains('|')
            && _section?.OpenRepeat is null && ChordsOf(whole) is { Count: > 2 } all
            && all.TrueForAll(p => IsChord(p.Text) || IsHeld(p.Text)))
        {
            ReadOver($"{whole} x2", "", number);
            return;
        }
        var start = line.IndexOf('|', StringComparison.Ordinal);
        // Before the first bar line stands the name of a section, or the first bar of somebody who writes no line there.
        if (!line[..start].TrimEnd().EndsWith(':') && !IsNameInFront(line)
            && (IsChordLine(line[..start])
                || EndingIn(line[..start]) is { Success: true } mark && IsChordLine(line[mark.Length..start])
                || line[..start].Trim().Split(' ', 2) is [var one, var more] && Meter.TryParse(one, out _) && IsChordLine(more)))
            start = 0;
        else if (Meter.TryParse(line[..start].Trim(), out var meter))
        {
            // A meter in front of the first bar of all is that of the song, later on that of the bar it stands before.
            if (_bars == 0) _header.Use(meter);
            else (line, start) = ($"{line[..start]} {line[(start + 1)..]}", 0);
        }
        else if (NameAndFirstBar(line[..start]) is > 0 and var firstBar)
        {
            OpenInFront(new HeadingLine(line[..firstBar].Trim(), 1, firstBar), line[firstBar..], number);
            (line, start) = (new string(' ', firstBar) + line[firstBar..], 0);
        }
        else if (line[..start].Trim().TrimEnd(':', '=', '-', '–', '—', ' ') is { Length: > 0 } label
            && HeadingLine.Counted(label) is var (name, often))
        {
            // A count in front of bars is one behind them.
            if (name.Length == 0 && HeadingLine.CountAt(line) is null) line = $"{line.TrimEnd()} x{often}";
            else OpenInFront(new HeadingLine(name.Length > 0 ? name : label, often, start), line[start..], number);
        }
        // One bar line that only closes a row of chords, as long as nothing says that they share a bar.
        if (line.IndexOf('|') is > 0 and var only && only == line.LastIndexOf('|') && start == 0
            && HeadingLine.CountInFront(line[(only + 1)..]) + only + 1 == line.TrimEnd().Length
            && ChordsOf(line[..only]) is { Count: > 2 } row && row.TrueForAll(p => IsChord(p.Text)))
        {
            ReadOver($"{line[..only]} {line[(only + 1)..]}", "", number);
            return;
        }
        if (BehindBars(line) is not { } behind)
        {
            ReadCells(line, start, number, ReadCell);
            return;
        }
        ReadCells(behind.Line, start, number, ReadCell);
        if (Here(number).Bars is not [.., var last] bars) return;
        bars[^1] = last with { Remarks = [.. last.Remarks, behind.Said] };
        if (!IsTail().IsMatch(behind.Said))
            Problem(number, behind.At + 1,
                $"'{behind.Said}' behind the bars is kept as a remark; what is played there is written as bars.");
    }

    /// <summary>Where the first bar begins behind a name and two blanks or more, in front of the first bar line, <c>Str. 1   Am
    /// E | Am</c>; 0 where no name stands there.</summary>
    private int NameAndFirstBar(string front)
    {
        for (var gap = front.TrimEnd().LastIndexOf("  ", StringComparison.Ordinal); gap > 0;
            gap = front[..gap].TrimEnd().LastIndexOf("  ", StringComparison.Ordinal))
        {
            var (name, bar) = (front[..gap].Trim(), front[gap..]);
            if (!IsChordLine(bar.TrimEnd())) return 0;
            if (name.Length > 0 && char.IsLetter(name[0]) && !IsChord(name.Split(' ')[0]) && !name.Contains('|')) return gap + 2;
        }
        return 0;
    }

    /// <summary>A row of a table with the name of a section in its first cell and its chords in the second, perhaps how often
    /// in the third and a remark in the fourth: <c>| Verse | D A Bm G |</c>, <c>Verse | D A Bm G | 2 | softly</c>.</summary>
    private bool TryTableRow(string line, int number)
    {
        var cells = CellsOf(line);
        var isFramed = line.AsSpan().Trim() is ['|', .., '|'];
        // An empty first cell below one with a name goes on.
        if (isFramed && cells.Length > 2 && cells[0].AsSpan().IsWhiteSpace() && _front is var (name, first, above)
            && above == number - 1 && cells.Skip(1).All(IsChordLine))
        {
            _front = (name, first, number);
            var rest = line.IndexOf('|', line.IndexOf('|') + 1);
            ReadGrid(new string(' ', rest) + line[rest..], number);
            return true;
        }
        if (isFramed && cells.Length > 2 && HeadingLine.IsKnown(cells[0]) && cells.Skip(1).All(IsChordLine)
            && HeadingLine.Alone(cells[0], IsChord, beforeBars: true) is { } named)
        {
            OpenInFront(named, string.Concat(cells.Skip(1)), number);
            var bars = line.IndexOf('|', line.IndexOf('|') + 1);
            ReadGrid(new string(' ', bars) + line[bars..], number);
            return true;
        }
        // With one stroke alone it parts the name from a row of chords, a bar each.
        var isParted = cells.Length == 2 && line.AsSpan().Count('|') == 1 && ChordsOf(cells[1]).Count >= FewestInRow;
        if (cells.Length is < 2 or > 4 || cells.Length == 2 && !isFramed && !isParted) return false;
        if (!HeadingLine.IsKnown(cells[0]) || !IsChordLine(cells[1])) return false;
        var times = cells.Length < 3 ? "1" : cells[2].Trim(' ', 'x', '×', '.', '-', '–');
        if (times.Length == 0) times = "1";
        if (!int.TryParse(times, NumberStyles.None, CultureInfo.InvariantCulture, out var often) || often == 0) return false;
        var heading = HeadingLine.Alone(cells[0], IsChord, beforeBars: true)!;
        if (cells.Length == 4 && cells[3].Trim(' ', '-', '–') is { Length: > 0 } remark)
        {
            if (!LinePatterns.SmallLetters().IsMatch(remark)) return false;
            heading = heading with { Name = $"{heading.Name} ({remark.Replace('(', ' ').Replace(')', ' ').Trim()})" };
        }
        OpenInFront(heading with { Times = Math.Max(heading.Times, often) }, cells[1], number);
        var at = line.IndexOf('|', isFramed ? line.IndexOf('|') + 1 : 0) + 1;
        ReadOver(new string(' ', at) + cells[1].TrimEnd(), "", number);
        return true;
    }

    private const int FewestInRow = 3;   // two chords may share a bar

    /// <summary>A number in brackets behind a chord.</summary>
    [GeneratedRegex(@"(?<=[^\s(])\s\((?<beats>[0-9]{1,2})(?:\sbeats?)?\)")]
    private static partial Regex BeatsApart();

    private void ReadCell(string cell, int offset, int number, ref bool first)
    {
        var remarks = new List<string>();
        var written = cell.Trim();
        var place = new BarSpan(number, offset + cell.IndexOf(written, StringComparison.Ordinal) + 1, written.Length,
            BarNotation.Grid, SpokenChords.WithoutFilling(string.Join(' ', LinePatterns.WordsOf(written).Select(w => w.Text))));
        var beaten = BeatsApart().Replace(cell, m => $"({m.Groups["beats"].Value})".PadRight(m.Length));
        cell = WithoutRemarks(cell, remarks);
        var times = 1;
        if (remarks.FindIndex(r => HeadingLine.CountInFront(r) == r.Length) is >= 0 and var count)
        {
            times = Times(HeadingLine.CountAt(remarks[count])!.Value.Times, number, offset + 1);
            remarks.RemoveAt(count);
        }
        var meter = MeterHere;
        var tokens = Pieces(cell, offset, number, meter.Beats);
        if (tokens.Count > 0 && Meter.TryParse(tokens[0].Text, out var own)) { meter = own; tokens.RemoveAt(0); }
        if (tokens.Count == 1 && BarsFilled(remarks, meter) is > 0 and var filled) times = Times(filled, number, offset + 1);
        // Between bar lines of its own it is the meter from there on.
        if (tokens.Count == 0 && written.Length > 0 && meter != MeterHere)
        {
            UseFromHere(meter, number);
            return;
        }
        if (tokens is [(("/" or "//" or "./." or "𝄎") and var sign, var at0)])
        {
            tokens = [("%", at0)];
            if (place.Content.StartsWith(sign, StringComparison.Ordinal))
                place = place with { Content = "%" + place.Content[sign.Length..] };
        }
        if (tokens is [("%", var column)])
        {
            AddAsBefore(place, first, remarks, "", column);
            first = false;
            PlayAgain(times, number);
            return;
        }
        if (tokens is [_, ("~", _)]) tokens.RemoveAt(1);   // it rings through the bar
        // Nothing but signs that hold: the chord before goes on.
        // One dot alone stands for the whole bar.
        if ((tokens.Count > 1 || tokens is [(".", _)]) && tokens.TrueForAll(t => IsHeld(t.Text))
            && _section?.Bars.LastOrDefault()?.Slots[^1].Symbol is { Length: > 0 } on)
        {
            var held = new Token(on, tokens[0].Column, 0, tokens.Count, "");
            AddBar(MakeBar([held], meter, number, tokens[0].Column, first, "", tokens.Count > 1)
                    with { Remarks = remarks, Span = place }, number);
            first = false;
            PlayAgain(times, number);
            return;
        }
        // Beats behind every chord, where they fill the bar: | Am (3) G (1) |.
        if ((beaten.Contains('(') || DashAndBeats().IsMatch(written.Split(' ')[0]))
            && Pieces(beaten, offset, null) is { Count: > 1 } numbered && BeatsClose(numbered) is { } close
            && (close.Sum() == meter.Beats || close.Sum() == meter.Count) && close.TrueForAll(b => b > 0))
        {
            tokens = [.. numbered.SelectMany((p, i) =>
                Enumerable.Range(0, close[i]).Select(b => (b == 0 ? WithoutBeats(p.Text) : ".", p.Column)))];
            remarks.RemoveAll(r => r.All(char.IsAsciiDigit) || Lasts().IsMatch(r));
        }
        // One chord that fills its bar beside bars whose chords have numbers: | C(2) G(2) | C(4) |.
        if (tokens is [var (alone, where)] && ChordAndBeats().Match(alone) is { Success: true } full
            && full.Groups["beats"].Value == $"{meter.Beats}" && IsChord(full.Groups["chord"].Value)
            && _section?.Bars.Exists(b => b.Span is { } beside && beside.Line == number
                && BeatsClose(Pieces(beside.Content, 0, null)) is not null) == true)
        {
            tokens = [(full.Groups["chord"].Value, where)];
            place = place with { Content = full.Groups["chord"].Value };
        }
        var items = new List<Token>();
        var steps = 0;
        foreach (var (text, at) in tokens)
        {
            if (!RoomInBar(ref steps, items.Count, number, at)) break;
            // Among chords the sign for the bar before is the chord before.
            if ((IsHeld(text) || text == "%") && items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
            // A bar whose beats are all written may begin with the chord before.
            else if (IsHeld(text) && (tokens.Count == meter.Beats || tokens.Count == meter.Count)
                && _section?.Bars.LastOrDefault()?.Slots[^1].Symbol is { Length: > 0 } still)
            {
                items.Add(new Token(still, at, 0, 1, ""));
                // Written elsewhere it says which chord.
                if (place.Content.StartsWith(text, StringComparison.Ordinal))
                    place = place with { Content = still + place.Content[text.Length..] };
            }
            else if (IsHeld(text))
                Problem(number, at, "A dot holds the chord before it, but this bar begins with one; write the chord again.");
            else items.Add(MakeToken(text, at, 1, "", items.Count > 0 ? items[^1].Text : null));
        }
        if (items.Count == 0) return;
        CountStrokes(items, tokens, meter);
        // One chord and the sign for it once more fill the bar, whatever its beats.
        var isOne = items.Count == 1 && tokens.Skip(1).All(t => t.Text == "%");
        AddBar(MakeBar(items, meter, number, items[0].Column, first, "", tokens.Count > items.Count && !isOne)
                with { Remarks = remarks, Span = place }, number);
        first = false;
        PlayAgain(times, number);
    }

    [GeneratedRegex(@"^(?:(?:hold|held|for|lasts?)\s+){0,2}(?<beats>[0-9]{1,2})\s?(?:beats?|counts?|(?<bars>bars?|measures?))$", LinePatterns.AnyCase)]
    private static partial Regex Lasts();

    /// <summary>How many bars a chord alone in its bar fills that is said to last longer, <c>| Am7 (8 beats) |</c>, which is no
    /// remark then; 0 where nothing is said, or what fills no bars.</summary>
    private static int BarsFilled(List<string> remarks, Meter meter)
    {
        var at = remarks.FindIndex(r => Lasts().IsMatch(r));
        if (at < 0 || Lasts().Match(remarks[at]) is not { } said) return 0;
        var number = int.Parse(said.Groups["beats"].ValueSpan, CultureInfo.InvariantCulture);
        var bars = said.Groups["bars"].Success ? number : number % meter.Beats == 0 ? number / meter.Beats : 0;
        if (bars > 0) remarks.RemoveAt(at);
        return bars;
    }

    /// <summary>A bar may say itself that it is played more than once.</summary>
    private void PlayAgain(int times, int number)
    {
        if (_section is not { Bars.Count: > 0 } section) return;
        for (var (i, at) = (1, section.Bars.Count - 1); i < times && !IsFull; i++)
            AddBar(section.Bars[at] with { StartsLine = false }, number, section.Repeats[at]);
    }
}
