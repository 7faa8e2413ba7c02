using Tembri.Core.Music;
namespace Tembri.Core.Charts;

/// <content>Bars between bar lines: <c>| F . . . | C . Dm . |</c>.</content>
internal sealed partial class ChartTextRun
{
    private void ReadGrid(string line, int number)
    {
        var start = line.IndexOf('|', StringComparison.Ordinal);
        // Before the first bar line stands the name of a section, or the first bar of somebody who writes no line there.
        if (!line[..start].TrimEnd().EndsWith(':')
            && (IsChordLine(line[..start])
                || Ending().Match(line[..start]) is { Success: true } mark && IsChordLine(line[mark.Length..start])
                || line[..start].Trim().Split(' ', 2) is [var one, var more] && Meter.TryParse(one, out _) && IsChordLine(more)))
            start = 0;
        else if (Meter.TryParse(line[..start].Trim(), out var meter))
        {
            // A meter in front of the first bar of all is that of the song, later on that of the bar it stands before.
            if (_bars == 0) _header.Use(meter);
            else (line, start) = ($"{line[..start]} {line[(start + 1)..]}", 0);
        }
        else if (line[..start].Trim().TrimEnd(':').TrimEnd() is { Length: > 0 } label
            && HeadingLine.Counted(label) is var (name, often))
            Open(new HeadingLine(name, often, start), number);
        ReadCells(line, start, number, ReadCell);
    }

    private void ReadCell(string cell, int offset, int number, ref bool first)
    {
        var remarks = new List<string>();
        var written = cell.Trim();
        var place = new BarSpan(number, offset + cell.IndexOf(written, StringComparison.Ordinal) + 1, written.Length,
            BarNotation.Grid, string.Join(' ', WordsOf(written).Select(w => w.Text)));
        cell = WithoutRemarks(cell, remarks);
        var tokens = Pieces(cell, offset, number);
        var meter = MeterHere;
        if (tokens.Count > 0 && Meter.TryParse(tokens[0].Text, out var own)) { meter = own; tokens.RemoveAt(0); }
        if (tokens is [(("//" or "./." or "𝄎"), var at0)]) tokens = [("%", at0)];
        if (tokens is [("%", var column)])
        {
            AddAsBefore(place, first, remarks, "", column);
            first = false;
            return;
        }
        var items = new List<Token>();
        var steps = 0;
        foreach (var (text, at) in tokens)
        {
            if (!RoomInBar(ref steps, items.Count, number, at)) break;
            if (IsHeld(text) && items.Count > 0) items[^1] = items[^1] with { Units = items[^1].Units + 1 };
            else if (IsHeld(text))
                Problem(number, at, "A dot holds the chord before it, but this bar begins with one; write the chord again.");
            else items.Add(MakeToken(text, at, 1, "", items.Count > 0 ? items[^1].Text : null));
        }
        if (items.Count == 0) return;
        AddBar(MakeBar(items, meter, number, items[0].Column, first, "", tokens.Count > items.Count)
                with { Remarks = remarks, Span = place }, number);
        first = false;
    }
}
