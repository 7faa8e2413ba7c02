using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;

namespace Tembri.Formats.Scores;

/// <summary>Opens MusicXML: in any encoding, as a file or as pasted text, partwise or timewise.</summary>
/// <remarks>Nothing outside the file is ever fetched and no entities are expanded.</remarks>
internal static partial class ScoreDocument
{
    private const int DeepestElement = 60;
    private const int MostNodes = 400_000;       // elements and attributes; a long piano score has about 100,000

    /// <summary>True for text that is XML and no chart: one that begins with a section's name in angle brackets is a
    /// chart.</summary>
    public static bool IsXml(ReadOnlySpan<char> text)
    {
        text = text.Trim();
        if (text.StartsWith("<?xml", StringComparison.OrdinalIgnoreCase) || text.StartsWith("<!")
            || text.StartsWith("<score-", StringComparison.OrdinalIgnoreCase)) return true;
        if (!text.StartsWith("<")) return false;
        var name = text[1..];
        name = name[..Math.Max(0, name.IndexOfAny(" />\r\n\t"))];
        return name.Length > 0 && (text.EndsWith($"</{name}>") || text.EndsWith("/>") && text.IndexOf('>') == text.Length - 1);
    }

    /// <summary>Opens a document.</summary>
    /// <param name="data">The file.</param>
    /// <param name="cancel">Ends the reading.</param>
    /// <returns>Its root, <c>score-partwise</c>, with lines and columns.</returns>
    /// <exception cref="FormatException">It is no MusicXML, or not well-formed, or too deep.</exception>
    public static XElement Open(byte[] data, CancellationToken cancel)
    {
        try
        {
            using var reader = Reader(data);
            using var shallow = new ShallowXmlReader(reader, DeepestElement, MostNodes, cancel);
            var root = XDocument.Load(shallow, LoadOptions.SetLineInfo).Root;
            return root?.Name.LocalName switch
            {
                "score-partwise" => root,
                "score-timewise" => Partwise(root),
                "html" => throw new FormatException("This is a web page; copy the song from it and paste it as text."),
                _ => throw new FormatException("This XML is not MusicXML; it should begin with score-partwise."),
            };
        }
        catch (XmlException e)
        {
            throw new FormatException($"The XML breaks off or is damaged at line {e.LineNumber}: {e.Message.Split(" Line ")[0]}",
                e);
        }
    }

    private static XmlReader Reader(byte[] data)
    {
        var settings = new XmlReaderSettings
        {
            DtdProcessing = DtdProcessing.Ignore, XmlResolver = null, MaxCharactersFromEntities = 0,
            MaxCharactersInDocument = ChartFiles.LargestUnpacked, IgnoreComments = true, IgnoreProcessingInstructions = true,
        };
        // Text that was pasted is not in the encoding it names any more, and may begin with a blank line, which a declaration
        // may not; the places of what follows stay.
        var text = ChartFiles.Decode(data, out var isSure);
        return isSure && !text.AsSpan(0, Math.Min(4, text.Length)).Contains('\0')
            ? XmlReader.Create(new StringReader(Declaration().Replace(text, m => Blank().Replace(m.Value, " "))), settings)
            : XmlReader.Create(new MemoryStream(data), settings);
    }

    /// <summary>The same score with measures inside parts instead of parts inside measures.</summary>
    private static XElement Partwise(XElement timewise)
    {
        var root = new XElement("score-partwise", timewise.Elements().Where(e => e.Name.LocalName != "measure"));
        var parts = new Dictionary<string, XElement>();
        foreach (var measure in timewise.Elements("measure").ToList())
            foreach (var part in measure.Elements("part").ToList())
            {
                var id = part.Attribute("id")?.Value ?? "";
                if (!parts.TryGetValue(id, out var own))
                    root.Add(parts[id] = own = new XElement("part", new XAttribute("id", id)));
                // What was read from the file knows its line; a copy would not.
                part.Name = "measure";
                part.RemoveAttributes();
                part.Add(measure.Attributes());
                part.Remove();
                own.Add(part);
            }
        return root;
    }

    [GeneratedRegex(@"^\s{0,1000}<\?xml[^>]{0,200}\?>", RegexOptions.IgnoreCase)]
    private static partial Regex Declaration();

    [GeneratedRegex(@"[^\r\n]", RegexOptions.NonBacktracking)]
    private static partial Regex Blank();
}
