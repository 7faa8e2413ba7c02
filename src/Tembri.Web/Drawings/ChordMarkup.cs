using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;
using Tembri.Core.Chords;

namespace Tembri.Web.Drawings;

/// <summary>A chord's name as it is set in a line of text. A page has a hundred of them, so it is written straight to
/// it.</summary>
internal sealed class ChordMarkup(Chord chord) : IHtmlContent
{
    /// <inheritdoc/>
    public void WriteTo(TextWriter writer, HtmlEncoder encoder)
    {
        writer.Write("<span class=\"chord\">");
        foreach (var run in ChordText.Runs(chord))
        {
            if (run.Raised) writer.Write("<sup>");
            if (run.IsSign) writer.Write("<span class=\"acc\">");
            encoder.Encode(writer, run.Text);
            if (run.IsSign) writer.Write("</span>");
            if (run.Raised) writer.Write("</sup>");
        }
        writer.Write("</span>\n");   // where one follows the other, a line may end between them
    }
}
