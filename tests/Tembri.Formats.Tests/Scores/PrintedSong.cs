using Tembri.Core.Chords;
using Tembri.Core.Tests.Charts;
using UglyToad.PdfPig.Content;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Fonts.Standard14Fonts;
using UglyToad.PdfPig.Writer;

namespace Tembri.Formats.Tests.Scores;

/// <summary>A made-up song printed as a PDF: in letters of one width or of many, large or small, in one column or two, with and
/// without a large title, with pages numbered or named. Each habit is drawn by chance, so that they meet.</summary>
internal sealed class PrintedSong
{
    private static readonly (Standard14Font Plain, Standard14Font Bold)[] Fonts =
    [
        (Standard14Font.Helvetica, Standard14Font.HelveticaBold), (Standard14Font.TimesRoman, Standard14Font.TimesBold),
        (Standard14Font.Courier, Standard14Font.CourierBold),
    ];

    private readonly PdfDocumentBuilder _document = new();
    private readonly PdfDocumentBuilder.AddedFont _plain, _bold;
    private readonly double _size, _height;
    private readonly int _foot;
    private PdfPageBuilder _page;
    private int _pages;

    /// <summary>What is printed; null where it has letters these fonts lack.</summary>
    public static string? Text(int seed)
    {
        // What is left of the source of a page is on no paper.
        var text = new PastedSong(seed).Text.ReplaceLineEndings("\n").Replace("<br>", "", StringComparison.Ordinal)
            .Replace("<pre>\n", "", StringComparison.Ordinal).Replace("\n</pre>", "", StringComparison.Ordinal)
            .Replace("\\\n", "\n", StringComparison.Ordinal).TrimEnd('\\').Replace('\u00A0', ' ');
        return text.All(char.IsAscii) ? text : null;
    }

    /// <summary>The file.</summary>
    public byte[] Bytes { get; }

    public PrintedSong(int seed, string text)
    {
        var chance = new Random(seed);
        var (plain, bold) = Fonts[chance.Next(Fonts.Length)];
        (_plain, _bold) = (_document.AddStandard14Font(plain), _document.AddStandard14Font(bold));
        _size = new[] { 9.0, 11, 12, 14 }[chance.Next(4)];
        var step = _size * new[] { 1.15, 1.3, 1.5 }[chance.Next(3)];
        (_height, _foot) = (chance.Next(3) == 0 ? 300 : 842, chance.Next(3));
        var (isLarge, areBold) = (chance.Next(2) == 0, chance.Next(2) == 0);
        var lines = text.Split('\n').Select(l => l.TrimEnd()).ToArray();
        _page = Page();
        var two = chance.Next(3) == 0 && _height > 800 && lines.All(l => Width(l, l.Length) < 240);
        var (x, y, top) = (50.0, _height - 50, _height - 50);
        for (var i = 0; i < lines.Length; i++)
        {
            var isAbove = IsAbove(lines, i);
            if (y - (isAbove ? step : 0) < 50)
            {
                // A second column begins beside what is below the title, and is worth beginning for several lines only.
                if (two && x < 100 && lines.Skip(i).Count(l => l.Length > 0) >= 8)
                    (x, y) = (310, top - (_pages == 1 ? 2 * step : 0));
                else (_page, x, y) = (Page(), 50, top);
            }
            if (isAbove) PrintOver(lines[i], lines[i + 1], x, y);
            else if (lines[i].Length > 0)
            {
                var isTitle = i == 0 && isLarge;
                var font = isTitle || areBold && lines[i].Length < 14 ? _bold : _plain;
                _page.AddText(lines[i], isTitle ? _size * 1.6 : _size, new PdfPoint(x, y), font);
            }
            y -= i == 0 && isLarge ? 1.8 * step : step;
        }
        Bytes = _document.Build();
    }

    private PdfPageBuilder Page()
    {
        var page = _document.AddPage(595, _height);
        _pages++;
        if (_foot > 0) page.AddText(_foot == 1 ? $"{_pages}" : $"Page {_pages}", _size, new PdfPoint(480, 20), _plain);
        if (_foot == 2) page.AddText("Songs for Tuesday", _size, new PdfPoint(50, 20), _plain);
        return page;
    }

    private static bool IsAbove(string[] lines, int at) =>
        at + 1 < lines.Length && Chords(lines[at]) && lines[at + 1].Length > 0 && !Chords(lines[at + 1])
        && !lines[at + 1].Contains('[');

    private static bool Chords(string line) =>
        line.Split(' ', StringSplitOptions.RemoveEmptyEntries) is { Length: > 0 } words
        && words.All(w => ChordReader.Read(w.Trim('(', ')')).Chord is not null || w == "|");

    /// <summary>How wide the beginning of a line is.</summary>
    private double Width(string line, int letters)
    {
        var text = line.PadRight(letters)[..letters];
        return text.Length == 0 ? 0 : _page.MeasureText(text, _size, new PdfPoint(0, 0), _plain)[^1].EndBaseLine.X;
    }

    /// <summary>Chords, each where the syllable below it begins.</summary>
    private void PrintOver(string chords, string words, double x, double y)
    {
        var last = 0.0;
        for (var at = 0; at < chords.Length; at++)
        {
            if (chords[at] == ' ') continue;
            var end = chords.IndexOf(' ', at) is >= 0 and var space ? space : chords.Length;
            var from = Math.Max(last, Width(words, at));
            _page.AddText(chords[at..end], _size, new PdfPoint(x + from, y), _plain);
            last = from + Width(chords[at..end] + " ", end - at + 1);
            at = end;
        }
    }
}
