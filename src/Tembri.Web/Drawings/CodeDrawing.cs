using QRCoder;

namespace Tembri.Web.Drawings;

/// <summary>A text as a QR code (ISO/IEC 18004), to be read by a phone.</summary>
public static class CodeDrawing
{
    private const double Side = 220;

    /// <summary>Draws it with the quiet border that readers need.</summary>
    /// <param name="text">What is read off it.</param>
    /// <param name="words">What the drawing is, for those who do not see it.</param>
    public static Scene Draw(string text, string words)
    {
        var matrix = QRCodeGenerator.GenerateQrCode(text, QRCodeGenerator.ECCLevel.M).ModuleMatrix;
        var module = Side / matrix.Count;
        var marks = new List<Mark> { new Slab(0, 0, Side, Side, 0, Tone.Paper) };
        for (var y = 0; y < matrix.Count; y++)
            for (var x = 0; x < matrix.Count; x++)
            {
                // Dark modules side by side are one bar, so that no hairline parts them.
                if (!matrix[y][x]) continue;
                var from = x;
                while (x + 1 < matrix.Count && matrix[y][x + 1]) x++;
                marks.Add(new Slab(from * module, y * module, (x - from + 1) * module, module + 0.2, 0));
            }
        return new Scene(Side, Side, words, marks);
    }
}
