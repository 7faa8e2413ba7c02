using System.IO.Compression;
using System.IO.Hashing;
using System.Xml;
using System.Xml.Linq;

namespace Tembri.Formats;

/// <content>Packed files: never unpacked without end, and only what was packed.</content>
public static partial class ChartFiles
{
    private const int MostEntries = 10_000;

    private static WrittenChart Packed(byte[] xml)
    {
        using var bytes = new MemoryStream();
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Add(string name, ReadOnlySpan<byte> content)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(content);
            }
            Add("META-INF/container.xml",
                "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<container><rootfiles><rootfile full-path=\"score.musicxml\" media-type=\"application/vnd.recordare.musicxml+xml\"/></rootfiles></container>\n"u8);
            Add("score.musicxml", xml);
        }
        return new WrittenChart(bytes.ToArray(), "application/vnd.recordare.musicxml", ".mxl");
    }

    private static byte[] UnpackScore(byte[] data)
    {
        try
        {
            using var zip = Packed(new MemoryStream(data));
            var root = zip.GetEntry("META-INF/container.xml") is { } container
                ? XDocument.Load(XmlReader.Create(new MemoryStream(Unpack(container)),
                        new XmlReaderSettings
                        {
                            DtdProcessing = DtdProcessing.Ignore, XmlResolver = null, MaxCharactersInDocument = 100_000
                        })).Descendants().FirstOrDefault(e => e.Name.LocalName == "rootfile")?.Attribute("full-path")?.Value
                : null;
            var score = (root is null ? null : zip.GetEntry(root))
                ?? zip.Entries.FirstOrDefault(e => e.FullName.EndsWith(".musicxml", StringComparison.OrdinalIgnoreCase)
                    || e.FullName.EndsWith(".xml", StringComparison.OrdinalIgnoreCase)
                        && !e.FullName.StartsWith("META-INF", StringComparison.Ordinal));
            return score is null
                ? throw new FormatException(
                    "This packed file holds no MusicXML; bring many charts at once on the page for that.")
                : Unpack(score);
        }
        catch (Exception e) when (e is InvalidDataException or XmlException or NotSupportedException)
        {
            throw new FormatException(Damaged, e);
        }
    }

    private const string Damaged = "This packed file is damaged; save it again in the program it comes from.";

    /// <summary>Opens a packed file.</summary>
    /// <exception cref="FormatException">It is damaged, or holds more than anybody packs.</exception>
    public static ZipArchive Packed(Stream stream)
    {
        try
        {
            var zip = new ZipArchive(stream, ZipArchiveMode.Read);
            return zip.Entries.Count <= MostEntries
                ? zip
                : throw new FormatException($"This packed file holds more than {MostEntries:N0} files.");
        }
        catch (Exception e) when (e is InvalidDataException or IOException or ArgumentException or NotSupportedException)
        {
            throw new FormatException(Damaged, e);
        }
    }

    /// <summary>Unpacks an entry, but not without end, and only if it is what was packed.</summary>
    /// <exception cref="FormatException">It unpacks to more than a chart can have, or its checksum is wrong.</exception>
    public static byte[] Unpack(ZipArchiveEntry entry)
    {
        try
        {
            var bytes = UnpackWithin(entry);
            return Crc32.HashToUInt32(bytes) == entry.Crc32
                ? bytes
                : throw new FormatException(
                    "The checksum of this packed file is wrong, so it is not what was packed; pack it again.");
        }
        catch (Exception e) when (e is InvalidDataException or IOException or NotSupportedException)
        {
            throw new FormatException(Damaged, e);
        }
    }

    private static byte[] UnpackWithin(ZipArchiveEntry entry)
    {
        if (entry.Length > LargestUnpacked)
            throw new FormatException(
                $"This packed file unpacks to more than {LargestUnpacked / 1_000_000} MB, which no chart does.");
        using var stream = entry.Open();
        var bytes = new byte[entry.Length];
        // The directory says how long it is; a file that is longer or shorter is not what was packed.
        if (stream.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false) < bytes.Length || stream.ReadByte() >= 0)
            throw new InvalidDataException();
        return bytes;
    }
}
