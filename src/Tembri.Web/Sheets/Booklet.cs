using PdfSharp;
using PdfSharp.Drawing;
using PdfSharp.Pdf;
using PdfSharp.UniversalAccessibility;
using Tembri.Web.Drawings;

namespace Tembri.Web.Sheets;

/// <summary>A sheet within a booklet: what stands on it, and what its pages are called.</summary>
/// <param name="Name">For the outline and the foot of the page.</param>
/// <param name="Blocks">What stands on it, in order.</param>
internal sealed record PaperSheet(string Name, IReadOnlyList<Block> Blocks)
{
    /// <summary>True for a sheet that lies across.</summary>
    public bool Across { get; init; }

    /// <summary>How much larger than usual the words are: 1, or 1.5 for large print.</summary>
    public double Print { get; init; } = 1;
}

/// <summary>Sheets as one PDF: fonts embedded, tagged, with an outline; each on the fewest pages on which nothing is smaller
/// than <see cref="Pen.SmallestLetters"/>.</summary>
internal sealed class Booklet(PaperFonts fonts)
{
    private const double Margin = 36, Foot = 22, Hair = 0.01;   // points
    private static readonly double[] Factors = [1, 0.95, 0.9, 0.86];

    /// <summary>Writes the booklet.</summary>
    /// <param name="title">Title of the document.</param>
    /// <param name="sheets">Its sheets, each on pages of its own.</param>
    /// <param name="isLetter">True for US Letter, false for A4.</param>
    /// <param name="told">Told after each sheet how many are done.</param>
    /// <param name="cancel">Ends the work.</param>
    public byte[] Write(string title, IEnumerable<PaperSheet> sheets, bool isLetter, Action<int>? told = null,
        CancellationToken cancel = default)
    {
        var document = new PdfDocument();
        document.Info.Title = title;
        document.Info.Creator = "Tembri";
        var access = UAManager.ForDocument(document);
        document.Language = "en";
        var done = 0;
        foreach (var sheet in sheets)
        {
            cancel.ThrowIfCancellationRequested();
            Write(document, access.StructureBuilder, sheet, isLetter);
            told?.Invoke(++done);
        }
        using var stream = new MemoryStream();
        document.Save(stream);
        return stream.ToArray();
    }

    private void Write(PdfDocument document, StructureBuilder tags, PaperSheet sheet, bool isLetter)
    {
        var paper = PageSizeConverter.ToSize(isLetter ? PageSize.Letter : PageSize.A4);
        var (wide, tall) = sheet.Across ? (paper.Height, paper.Width) : (paper.Width, paper.Height);
        var pages = Fit(sheet, wide - 2 * Margin, tall - 2 * Margin - Foot);
        for (var number = 0; number < pages.Count; number++)
        {
            var page = document.AddPage();
            (page.Size, page.Orientation) =
                (isLetter ? PageSize.Letter : PageSize.A4, sheet.Across ? PageOrientation.Landscape : PageOrientation.Portrait);
            using var graphics = XGraphics.FromPdfPage(page);
            if (number == 0) document.Outlines.Add(sheet.Name, page, true);
            var pen = new Pen(fonts, graphics, tags, page);
            var y = Margin;
            foreach (var slice in pages[number])
            {
                slice.Draw(pen, Margin, y);
                y += slice.Height;
            }
            var name = pages.Count == 1 ? sheet.Name : $"{sheet.Name} · {number + 1} of {pages.Count}";
            pen.Beside(() => pen.Set([new Run(name, Pen.SmallestLetters, PaperFace.Sans, Tone.Pencil)], Margin, tall - Margin));
        }
    }

    /// <summary>The largest size at which a sheet needs the fewest pages.</summary>
    private List<List<Slice>> Fit(PaperSheet sheet, double width, double height)
    {
        var measure = new Pen(fonts,
            XGraphics.CreateMeasureContext(new XSize(width, height), XGraphicsUnit.Point, XPageDirection.Downwards));
        List<List<Slice>>? best = null;
        foreach (var factor in sheet.Print > 1 ? [1] : Factors)
        {
            var pages = Paged([.. sheet.Blocks.SelectMany(b => b.Slices(measure, width, factor * sheet.Print))], height);
            if (best is null || pages.Count < best.Count) best = pages;
            if (best.Count == 1) break;
        }
        return best!;
    }

    /// <summary>Slices on pages: what keeps the next never ends a page.</summary>
    private static List<List<Slice>> Paged(List<Slice> slices, double height)
    {
        var (pages, used) = (new List<List<Slice>> { new() }, 0.0);
        for (var first = 0; first < slices.Count;)
        {
            var last = first;
            while (slices[last].KeepsNext && last + 1 < slices.Count) last++;
            var chunk = slices.GetRange(first, last - first + 1);
            first = last + 1;
            if (used > 0 && used + chunk.Sum(s => s.Height) > height + Hair) { pages.Add([]); used = 0; }
            foreach (var slice in chunk)
            {
                // Only what is higher than a page together is parted.
                if (used > 0 && used + slice.Height > height + Hair) { pages.Add([]); used = 0; }
                pages[^1].Add(slice);
                used += slice.Height;
            }
        }
        return pages;
    }
}
