using PdfSharp.UniversalAccessibility;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Web.Drawings;
using Tembri.Web.Words;

namespace Tembri.Web.Sheets;

/// <summary>A piece of a page that is never cut.</summary>
/// <param name="Height">Its height with the space below it, points.</param>
/// <param name="Draw">Draws it with its upper left corner at a place.</param>
/// <param name="KeepsNext">True when what follows comes on the same page.</param>
internal sealed record Slice(double Height, Action<Pen, double, double> Draw, bool KeepsNext = false);

/// <summary>Something that stands on paper. Sizes are multiplied by a factor when a sheet is set smaller or larger. Lengths in
/// points.</summary>
internal abstract record Block
{
    /// <summary>Size of the text at factor 1.</summary>
    public const double Body = 11, Small = 10.5;

    /// <summary>The slices it makes at a width.</summary>
    /// <param name="pen">Measures.</param>
    /// <param name="width">Width there is.</param>
    /// <param name="factor">How much larger than at 1 its words are.</param>
    public abstract IEnumerable<Slice> Slices(Pen pen, double width, double factor);

    /// <summary>Runs in lines no wider than a width; a word that is wider alone is parted.</summary>
    protected static List<List<Run>> Lines(Pen pen, IEnumerable<Run> runs, double width)
    {
        var (lines, line, used) = (new List<List<Run>>(), new List<Run>(), 0.0);
        foreach (var run in runs)
            foreach (var word in Words(run.Text))
            {
                var piece = run with { Text = word };
                var wide = pen.Width(piece with { Text = word.TrimEnd() });
                if (used > 0 && used + wide > width) { lines.Add(line); (line, used) = ([], 0); }
                if (used == 0) piece = piece with { Text = piece.Text.TrimStart() };
                while (pen.Width(piece with { Text = piece.Text.TrimEnd() }) > width && piece.Text.Length > 1)
                {
                    var fits = piece.Text.Length;
                    while (fits > 1 && pen.Width(piece with { Text = piece.Text[..fits] }) > width) fits--;
                    lines.Add([piece with { Text = piece.Text[..fits] }]);
                    piece = piece with { Text = piece.Text[fits..] };
                }
                line.Add(piece);
                used += pen.Width(piece);
            }
        if (line.Count > 0) lines.Add(line);
        return lines;
    }

    private static IEnumerable<string> Words(string text)
    {
        for (var from = 0; from < text.Length;)
        {
            var to = from;
            while (to < text.Length && text[to] != ' ') to++;
            while (to < text.Length && text[to] == ' ') to++;
            yield return text[from..to];
            from = to;
        }
    }
}

/// <summary>A paragraph.</summary>
internal sealed record Paragraph(IReadOnlyList<Run> Runs, PdfBlockLevelElementTag Tag = PdfBlockLevelElementTag.Paragraph,
    double After = 5, bool Ruled = false, bool KeepsNext = false, string? Address = null) : Block
{
    private const double Leading = 1.3;

    public Paragraph(string text, double size = Body, PaperFace face = PaperFace.Sans,
        Tone tone = Tone.Ink) : this([new Run(text, size, face, tone)])
    {
    }

    public static Paragraph Title(string text) =>
        new([new Run(text, 25, PaperFace.Serif)], PdfBlockLevelElementTag.Heading1, 2, KeepsNext: true);

    public static Paragraph Heading(string text) =>
        new([new Run(text, 14.5, PaperFace.Serif)], PdfBlockLevelElementTag.Heading2, 4, Ruled: true, KeepsNext: true);

    public static Paragraph Part(string text, string more = "") =>
        new([new Run(text, 12.5, PaperFace.Serif),
                .. more.Length == 0 ? [] : new[] { new Run(" " + more, Body, PaperFace.Italic, Tone.Pencil) }],
            PdfBlockLevelElementTag.Heading3, 2, KeepsNext: true);

    public override IEnumerable<Slice> Slices(Pen pen, double width, double factor)
    {
        var lines = Lines(pen, Runs.Select(r => r with { Size = r.Size * factor, Raise = r.Raise * factor }), width);
        var heights = lines.Select(l => Leading * l.Max(r => Math.Max(Pen.SmallestLetters, r.Size))).ToList();
        // Long texts go over pages in pieces of some lines.
        const int atOnce = 12;
        for (var first = 0; first < lines.Count; first += atOnce)
        {
            var (from, to) = (first, Math.Min(lines.Count, first + atOnce));
            var isLast = to == lines.Count;
            yield return new Slice(heights.Skip(from).Take(to - from).Sum() + (isLast ? After + (Ruled ? 3 : 0) : 0),
                (p, x, y) => p.Tagged(Tag, () =>
            {
                for (var i = from; i < to; i++)
                {
                    var end = p.Set(lines[i], x, y + heights[i] * Pen.Ascent);
                    if (Address is { } address) p.Lead(x, y, end - x, heights[i], address);
                    y += heights[i];
                }
                if (Ruled) p.Rule(x, y + 1, x + width, y + 1, 0.7);
            }), KeepsNext);
        }
    }
}

/// <summary>A drawing, set smaller where it is wider than the page.</summary>
internal sealed record Picture(Scene Scene, double After = 6, bool KeepsNext = false) : Block
{
    public override IEnumerable<Slice> Slices(Pen pen, double width, double factor)
    {
        var scale = Math.Min(width / Scene.Width, Scene.Scale * Pen.PointsAPixel * Math.Max(1, factor));
        yield return new Slice(Scene.Height * scale + After, (p, x, y) => p.Paint(Scene, x, y, scale), KeepsNext);
    }
}

/// <summary>A shape with its name above and words below.</summary>
internal sealed record ShapeCell(Chord Name, Scene Scene, IReadOnlyList<Run> Below, string Above = "");

/// <summary>Shapes beside each other, in as many rows as they need.</summary>
internal sealed record ShapeRows(IReadOnlyList<ShapeCell> Cells) : Block
{
    private const double Gap = 9, NameSize = 15, BelowSize = Small;

    public override IEnumerable<Slice> Slices(Pen pen, double width, double factor)
    {
        var scale = Pen.PointsAPixel * Math.Max(1, factor);
        var sized = Cells.Select(c => (Cell: c,
                Below: c.Below.Select(r => r with { Size = r.Size * factor, Raise = r.Raise * factor }).ToList(),
                Name: Name(c, factor).ToList())).ToList();
        var wide = sized.Select(c => Math.Min(width,
                    Math.Max(c.Cell.Scene.Width * c.Cell.Scene.Scale * scale, Math.Max(pen.Width(c.Name), pen.Width(c.Below))))
                + Gap).DefaultIfEmpty().Max();
        var inRow = Math.Max(1, (int)((width + Gap) / wide));
        foreach (var row in sized.Chunk(inRow))
        {
            var (name, below) = (NameSize * factor * 1.35, row.Any(c => c.Below.Count > 0) ? BelowSize * factor * 1.3 : 0);
            var tall = row.Max(c => c.Cell.Scene.Height * c.Cell.Scene.Scale * scale);
            yield return new Slice(name + tall + below + 8, (p, x, y) =>
            {
                foreach (var (cell, under, named) in row)
                {
                    var middle = x + (wide - Gap) / 2;
                    p.Tagged(PdfBlockLevelElementTag.Paragraph,
                        () => p.Set(named, middle - p.Width(named) / 2, y + name * Pen.Ascent));
                    p.Paint(cell.Scene, middle - cell.Scene.Width * cell.Scene.Scale * scale / 2, y + name,
                        cell.Scene.Scale * scale);
                    if (under.Count > 0)
                        p.Tagged(PdfBlockLevelElementTag.Paragraph,
                            () => p.Set(under, middle - p.Width(under) / 2, y + name + tall + below * Pen.Ascent));
                    x += wide;
                }
            });
        }
    }

    private static IEnumerable<Run> Name(ShapeCell cell, double factor) =>
        cell.Above.Length == 0
            ? Pen.Of(cell.Name, NameSize * factor)
            : [.. Pen.Of(cell.Name, NameSize * factor),
                new Run($" {cell.Above}", Small * factor, PaperFace.Italic, Tone.Pencil)];
}

/// <summary>A line of a chart: bars with their chords, and words under them.</summary>
internal sealed record ChartLine(IReadOnlyList<Bar> Bars, Func<Chord, Chord> Named, bool Words, bool KeepsNext = false,
    int BarsInALine = 4) : Block
{
    private const double ChordSize = 13.5, Inside = 5, Gap = 9;

    public override IEnumerable<Slice> Slices(Pen pen, double width, double factor)
    {
        var cells = Bars.Select(b => Cell(b, pen, factor)).ToList();
        // Bars share the line by what stands in them; a line that holds more than the page is parted between bars.
        for (var first = 0; first < cells.Count;)
        {
            var (count, used) = (0, 0.0);
            while (first + count < cells.Count && (count == 0 || used + cells[first + count].Width <= width))
                used += cells[first + count++].Width;
            var row = cells.Skip(first).Take(count).ToList();
            first += count;
            var share = Math.Max(0, width - used) / Math.Max(count, Math.Min(BarsInALine, Bars.Count));
            var words = row.Any(c => c.Slots.Exists(s => s.Lyric.Count > 0)) ? Body * 1.3 * factor : 0;
            var chords = ChordSize * 1.4 * factor;
            var lines = row.SelectMany(c => c.Slots).Max(s => s.Lyric.Count);
            yield return new Slice(chords + lines * words + 5, (p, x, y) => p.Tagged(PdfBlockLevelElementTag.Paragraph, () =>
            {
                foreach (var cell in row)
                {
                    p.Rule(x, y + 1, x, y + chords + lines * words, 0.8);
                    var at = x + Inside;
                    foreach (var (runs, lyric, slotWidth) in cell.Slots)
                    {
                        p.Set(runs, at, y + chords * Pen.Ascent);
                        for (var l = 0; l < lyric.Count; l++) p.Set(lyric[l], at, y + chords + l * words + words * Pen.Ascent);
                        at += slotWidth + Gap;
                    }
                    x += cell.Width + share;
                }
            }), KeepsNext);
        }
    }

    private const double WidestLyric = 210;

    private (double Width, List<(List<Run> Chord, List<List<Run>> Lyric, double Width)> Slots) Cell(Bar bar, Pen pen,
        double factor)
    {
        var slots = new List<(List<Run>, List<List<Run>>, double)>();
        List<List<Run>> Set(string text) =>
            Words && text.Trim().Length > 0 ? Lines(pen, [new Run(text.Trim(), Body * factor)], WidestLyric * factor) : [];
        if (Words && bar.Lead.Trim().Length > 0)
        {
            var lead = Set(bar.Lead);
            slots.Add(([], lead, lead.Max(pen.Width)));
        }
        foreach (var slot in bar.Slots)
        {
            List<Run> runs = [];
            if (slot.IsEarly) runs.Add(new Run("‹", Small * factor, PaperFace.Sans, Tone.Pencil));
            if (slot.Chord is { } chord) runs.AddRange(Pen.Of(Named(chord), ChordSize * factor));
            else runs.Add(new Run(slot.IsSilence ? "N.C." : slot.Symbol, Small * factor, PaperFace.Sans, Tone.Pencil));
            if (BeatDots.Of(bar, slot) is { Length: > 0 } lasts)
                runs.Add(new Run(" " + lasts, Small * factor, PaperFace.Sans, Tone.Pencil));
            var lyric = Set(slot.Lyric);
            slots.Add((runs, lyric, Math.Max(pen.Width(runs), lyric.Select(pen.Width).DefaultIfEmpty().Max())));
        }
        foreach (var remark in bar.Remarks)
        {
            List<Run> said = [new Run(remark, Small * factor, PaperFace.Italic, Tone.Pencil)];
            slots.Add((said, [], pen.Width(said)));
        }
        return (2 * Inside + slots.Sum(s => s.Item3 + Gap), slots);
    }
}

/// <summary>Some blocks that stand together on a page.</summary>
internal sealed record Together(IReadOnlyList<Block> Blocks) : Block
{
    public override IEnumerable<Slice> Slices(Pen pen, double width, double factor)
    {
        var slices = Blocks.SelectMany(b => b.Slices(pen, width, factor)).ToList();
        return slices.Select((s, i) => i + 1 < slices.Count ? s with { KeepsNext = true } : s);
    }
}

/// <summary>A line of words with the chords above the syllables they come on; bars without words show their chords
/// alone.</summary>
internal sealed record WordLine(IReadOnlyList<Bar> Bars, Func<Chord, Chord> Named) : Block
{
    private const double ChordSize = 12.5, LyricSize = 12;

    public override IEnumerable<Slice> Slices(Pen pen, double width, double factor)
    {
        // A chord never overtakes the next: what is above keeps what is below apart.
        var cells = new List<(List<Run> Chord, Run Lyric, double Width)>();
        foreach (var bar in Bars)
        {
            if (bar.Lead.Trim().Length > 0) cells.Add(([], new Run(bar.Lead.Trim(), LyricSize * factor), 0));
            foreach (var slot in bar.Slots)
                cells.Add((slot.Chord is { } chord
                        ? [.. Pen.Of(Named(chord), ChordSize * factor)]
                        : [new Run(slot.IsSilence ? "N.C." : slot.Symbol, Small * factor, Tone: Tone.Pencil)],
                    new Run(slot.Lyric.Trim(), LyricSize * factor), 0));
        }
        var space = pen.Width(new Run("n", LyricSize * factor));
        cells = [.. cells.SelectMany(c => Parted(pen, c.Chord, c.Lyric, width))
            .Select(c => (c.Chord, c.Lyric, Math.Max(pen.Width(c.Chord) + space, pen.Width(c.Lyric) + space * 0.6)))];
        var (above, below) = (ChordSize * 1.3 * factor, LyricSize * 1.35 * factor);
        for (var first = 0; first < cells.Count;)
        {
            var (count, used) = (0, 0.0);
            while (first + count < cells.Count && (count == 0 || used + cells[first + count].Width <= width))
                used += cells[first + count++].Width;
            var row = cells.GetRange(first, count);
            first += count;
            var hasWords = row.Exists(c => c.Lyric.Text.Length > 0);
            yield return new Slice(above + (hasWords ? below : 0) + 4,
                (p, x, y) => p.Tagged(PdfBlockLevelElementTag.Paragraph, () =>
            {
                foreach (var (chord, lyric, wide) in row)
                {
                    p.Set(chord, x, y + above * Pen.Ascent);
                    if (lyric.Text.Length > 0) p.Set([lyric], x, y + above + below * Pen.Ascent);
                    x += wide;
                }
            }));
        }
    }

    /// <summary>Words that are wider than the page go on in the next line, without a chord.</summary>
    private static IEnumerable<(List<Run> Chord, Run Lyric)> Parted(Pen pen, List<Run> chord, Run lyric, double width)
    {
        if (lyric.Text.Length == 0 || pen.Width(lyric) <= width) return [(chord, lyric)];
        return Lines(pen, [lyric], width * 0.95)
            .Select(
                (l, i) => (i == 0 ? chord : (List<Run>)[], lyric with { Text = string.Concat(l.Select(r => r.Text)).Trim() }));
    }
}
