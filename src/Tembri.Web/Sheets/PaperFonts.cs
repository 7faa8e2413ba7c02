using System.Buffers.Binary;
using PdfSharp.Drawing;
using PdfSharp.Fonts;
using PdfSharp.Pdf;
using Tembri.Web.Setup;

namespace Tembri.Web.Sheets;

/// <summary>The faces of paper.</summary>
internal enum PaperFace { Serif, Italic, Sans, Bold }

/// <summary>The fonts that are embedded in sheets: those of the screen, and behind them a font that has the signs and letters
/// they lack.</summary>
internal sealed class PaperFonts : IFontResolver
{
    private static readonly string[] Files = ["paper-serif", "paper-italic", "paper-sans", "paper-bold", Behind];
    private const string Behind = "paper-signs";
    private readonly Dictionary<string, byte[]> _fonts = [];
    private readonly Dictionary<string, HashSet<int>> _covers = [];

    public PaperFonts(IWebHostEnvironment environment, AssetNames assets)
    {
        foreach (var file in Files)
        {
            using var stream =
                environment.WebRootFileProvider.GetFileInfo(assets[$"fonts/{file}.ttf"].TrimStart('/')).CreateReadStream();
            using var memory = new MemoryStream();
            stream.CopyTo(memory);
            _fonts[file] = memory.ToArray();
            _covers[file] = Covered(_fonts[file]);
        }
        // One resolver for the whole process is what the library asks for.
        GlobalFontSettings.FontResolver ??= this;
    }

    public FontResolverInfo? ResolveTypeface(string familyName, bool isBold, bool isItalic) =>
        _fonts.ContainsKey(familyName) ? new FontResolverInfo(familyName) : null;

    public byte[]? GetFont(string faceName) => _fonts.GetValueOrDefault(faceName);

    /// <summary>A font of a size in points.</summary>
    public static XFont Font(string file, double size) =>
        new(file, size, XFontStyleEx.Regular, new XPdfFontOptions(PdfFontEncoding.Unicode, PdfFontEmbedding.TryComputeSubset));

    /// <summary>A text in pieces that one font each can set; what none has becomes a question mark.</summary>
    public IEnumerable<(string Text, string File)> Pieces(string text, PaperFace face)
    {
        var own = Files[(int)face];
        var file = "";
        var runes = new System.Text.StringBuilder();
        foreach (var rune in text.EnumerateRunes())
        {
            var value = rune.Value is '\t' or '\u00A0' ? ' ' : rune.Value;
            if (value < ' ' || rune.Value == 0x200B) continue;
            var fits = _covers[own].Contains(value) ? own : _covers[Behind].Contains(value) ? Behind : null;
            if (fits is null) (fits, value) = (own, '?');
            if (fits != file && runes.Length > 0)
            {
                yield return (runes.ToString(), file);
                runes.Clear();
            }
            file = fits;
            runes.Append(char.ConvertFromUtf32(value));
        }
        if (runes.Length > 0) yield return (runes.ToString(), file);
    }

    /// <summary>The characters a font has: the tables of formats 4 and 12 of its character map (OpenType, table cmap).</summary>
    private static HashSet<int> Covered(byte[] font)
    {
        var covered = new HashSet<int>();
        int Short(int at) => BinaryPrimitives.ReadUInt16BigEndian(font.AsSpan(at));
        int Long(int at) => (int)BinaryPrimitives.ReadUInt32BigEndian(font.AsSpan(at));
        for (var t = 0; t < Short(4); t++)
        {
            var entry = 12 + 16 * t;
            if (System.Text.Encoding.ASCII.GetString(font, entry, 4) != "cmap") continue;
            var cmap = Long(entry + 8);
            for (var s = 0; s < Short(cmap + 2); s++)
            {
                var table = cmap + Long(cmap + 4 + 8 * s + 4);
                if (Short(table) == 12)
                    for (var g = 0; g < Long(table + 12); g++)
                        for (var c = Long(table + 16 + 12 * g); c <= Long(table + 20 + 12 * g); c++) covered.Add(c);
                if (Short(table) != 4) continue;
                var segments = Short(table + 6) / 2;
                for (var g = 0; g < segments; g++)
                {
                    var (end, start) = (Short(table + 14 + 2 * g), Short(table + 16 + 2 * segments + 2 * g));
                    for (var c = start; c <= end && c != 0xFFFF; c++) covered.Add(c);
                }
            }
        }
        return covered;
    }
}
