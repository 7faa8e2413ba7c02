using PdfSharp.Drawing;
using PdfSharp.Pdf;
using PdfSharp.UniversalAccessibility;
using Tembri.Core.Chords;
using Tembri.Web.Drawings;

namespace Tembri.Web.Sheets;

/// <summary>Words in one face and size. Lengths in points.</summary>
/// <param name="Text">The words.</param>
/// <param name="Size">Size of the letters.</param>
/// <param name="Face">The face.</param>
/// <param name="Tone">How dark.</param>
/// <param name="Raise">How far above the line.</param>
internal sealed record Run(string Text, double Size, PaperFace Face = PaperFace.Sans, Tone Tone = Tone.Ink, double Raise = 0);

/// <summary>Draws on a page, or only measures. Nothing it sets is smaller than <see cref="SmallestLetters"/>. Lengths in
/// points.</summary>
internal sealed class Pen(PaperFonts fonts, XGraphics graphics, StructureBuilder? tags = null, PdfPage? page = null)
{
    /// <summary>The smallest letters on paper.</summary>
    public const double SmallestLetters = 9;

    /// <summary>Points in a pixel of a drawing.</summary>
    public const double PointsAPixel = 0.75;

    /// <summary>How high the letters of a size stand above the line, as a share.</summary>
    public const double Ascent = 0.78;

    private const double RaisedSize = 0.74, Raised = 0.34;

    /// <summary>The runs of a chord's name, its extensions raised.</summary>
    public static IEnumerable<Run> Of(Chord chord, double size, Tone tone = Tone.Ink) => ChordText.Runs(chord)
        .Select(r => new Run(r.Text, r.Raised ? Math.Max(SmallestLetters, RaisedSize * size) : size, PaperFace.Serif, tone,
            r.Raised ? Raised * size : 0));

    /// <summary>The width of words.</summary>
    public double Width(Run run) =>
        fonts.Pieces(run.Text, run.Face)
            .Sum(p => graphics.MeasureString(p.Text, PaperFonts.Font(p.File, Math.Max(SmallestLetters, run.Size))).Width);

    /// <summary>The width of words beside each other.</summary>
    public double Width(IEnumerable<Run> runs) => runs.Sum(Width);

    /// <summary>Sets words beside each other on a line.</summary>
    /// <param name="runs">The words.</param>
    /// <param name="x">Where they begin.</param>
    /// <param name="line">The line they stand on.</param>
    /// <returns>Where they end.</returns>
    public double Set(IEnumerable<Run> runs, double x, double line)
    {
        foreach (var run in runs)
            foreach (var (text, file) in fonts.Pieces(run.Text, run.Face))
            {
                var font = PaperFonts.Font(file, Math.Max(SmallestLetters, run.Size));
                graphics.DrawString(text, font, Brush(run.Tone), x, line - run.Raise);
                x += graphics.MeasureString(text, font).Width;
            }
        return x;
    }

    /// <summary>A straight line.</summary>
    public void Rule(double x1, double y1, double x2, double y2, double weight, Tone tone = Tone.Ink) =>
        graphics.DrawLine(new XPen(Grey(tone), weight), x1, y1, x2, y2);

    /// <summary>Makes a place lead to an address.</summary>
    public void Lead(double x, double y, double width, double height, string address)
    {
        if (page is null) return;
        page.AddWebLink(new PdfRectangle(graphics.Transformer.WorldToDefaultPage(new XRect(x, y, width, height))), address);
    }

    /// <summary>Draws within an element of the document's structure, for those who have it read out.</summary>
    public void Tagged(PdfBlockLevelElementTag tag, Action draw)
    {
        tags?.BeginElement(tag);
        draw();
        tags?.End();
    }

    /// <summary>Draws a picture that is said in words.</summary>
    public void Figure(string words, double x, double y, double width, double height, Action draw)
    {
        if (words.Length == 0) tags?.BeginArtifact();
        else tags?.BeginElement(PdfIllustrationElementTag.Figure, words, new XRect(x, y, width, height));
        draw();
        tags?.End();
    }

    /// <summary>Draws what is no part of the text, such as rules and page numbers.</summary>
    public void Beside(Action draw)
    {
        tags?.BeginArtifact();
        draw();
        tags?.End();
    }

    /// <summary>Paints a drawing.</summary>
    /// <param name="scene">The drawing.</param>
    /// <param name="x">Its left edge.</param>
    /// <param name="y">Its upper edge.</param>
    /// <param name="scale">Points a unit of the drawing.</param>
    public void Paint(Scene scene, double x, double y, double scale) =>
        Figure(scene.Words, x, y, scene.Width * scale, scene.Height * scale, () => Marks(scene.Marks, x, y, scale));

    private void Marks(IReadOnlyList<Mark> marks, double x, double y, double scale)
    {
        foreach (var mark in marks)
            switch (mark)
            {
                case Line l:
                    var pen = new XPen(Grey(l.Tone), l.Weight * scale) { LineCap = XLineCap.Round };
                    if (l.Broken) (pen.DashStyle, pen.DashPattern) = (XDashStyle.Custom, [1.2, 3.4]);
                    graphics.DrawLine(pen, x + l.X1 * scale, y + l.Y1 * scale, x + l.X2 * scale, y + l.Y2 * scale);
                    break;
                case Disc d:
                    var round = new XRect(x + (d.X - d.Radius) * scale, y + (d.Y - d.Radius) * scale, 2 * d.Radius * scale,
                        2 * d.Radius * scale);
                    if (d.Weight > 0) graphics.DrawEllipse(new XPen(Grey(d.Tone), d.Weight * scale), round);
                    else graphics.DrawEllipse(Brush(d.Tone), round);
                    break;
                case Slab s when s.Tone != Tone.Clear:
                    var (box, corner) = (new XRect(x + s.X * scale, y + s.Y * scale, s.Width * scale, s.Height * scale),
                        new XSize(2 * s.Round * scale, 2 * s.Round * scale));
                    if (s.Weight > 0) graphics.DrawRoundedRectangle(new XPen(Grey(s.Tone), s.Weight * scale), box, corner);
                    else if (s.Round > 0) graphics.DrawRoundedRectangle(Brush(s.Tone), box, corner);
                    else graphics.DrawRectangle(Brush(s.Tone), box);
                    break;
                case Area a:
                    graphics.DrawPolygon(Brush(a.Tone), [.. a.Points.Select(p => new XPoint(x + p.X * scale, y + p.Y * scale))],
                        XFillMode.Winding);
                    break;
                case Curve c:
                    graphics.DrawLines(new XPen(Grey(c.Tone), c.Weight * scale),
                        [.. c.Points.Select(p => new XPoint(x + p.X * scale, y + p.Y * scale))]);
                    break;
                case Label l:
                    Held([new Run(l.Text, Exactly(l.Size * scale), l.Bold ? PaperFace.Bold : PaperFace.Sans, l.Tone)], l.Anchor,
                        x + l.X * scale, y + l.Y * scale);
                    break;
                case Symbol s:
                    Held(Of(s.Chord, s.Size * scale, s.Tone), Anchor.Middle, x + s.X * scale, y + s.Y * scale);
                    break;
                case Inset i:
                    Marks(i.Scene.Marks, x + i.X * scale, y + i.Y * scale, scale * i.Scene.Scale);
                    break;
                case Link l:
                    Marks(l.Marks, x, y, scale);
                    break;
            }
    }

    private static double Exactly(double size) => Math.Max(SmallestLetters, size);

    private void Held(IEnumerable<Run> runs, Anchor anchor, double x, double line)
    {
        var set = runs.ToList();
        var width = Width(set);
        Set(set, anchor switch { Anchor.Middle => x - width / 2, Anchor.End => x - width, _ => x }, line);
    }

    private static XSolidBrush Brush(Tone tone) => new(Grey(tone));

    // Printers have one ink.
    private static XColor Grey(Tone tone) =>
        tone switch
        {
            Tone.Paper => XColors.White,
            Tone.Pencil => XColor.FromGrayScale(0.25),
            Tone.Rule => XColor.FromGrayScale(0.65),
            _ => XColors.Black
        };
}
