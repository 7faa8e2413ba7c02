using System.IO.Compression;
using System.IO.Hashing;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Ladders;

namespace Tembri.Formats;

/// <summary>The formats a chart can have.</summary>
public enum ChartFormat
{
    /// <summary>Chart text as bar grids.</summary>
    Bars,
    /// <summary>Words with chords in square brackets.</summary>
    Brackets,
    /// <summary>Chords on a line above the words.</summary>
    OverLyrics,
    /// <summary>MusicXML 4.0.</summary>
    MusicXml,
    /// <summary>MusicXML 4.0, zipped.</summary>
    Mxl,
    /// <summary>Standard MIDI file.</summary>
    Midi,
    /// <summary>Everything, as JSON.</summary>
    Json,
}

/// <summary>A chart written in a format.</summary>
/// <param name="Bytes">The file.</param>
/// <param name="MediaType">Its media type.</param>
/// <param name="Extension">Its extension, with the dot.</param>
public sealed record WrittenChart(byte[] Bytes, string MediaType, string Extension);

/// <summary>Reads and writes charts in every format there is.</summary>
public static partial class ChartFiles
{
    /// <summary>The largest file accepted, in bytes.</summary>
    public const int LargestFile = 5_000_000;

    /// <summary>The most a packed file may unpack to, in bytes.</summary>
    public const int LargestUnpacked = 12_000_000;

    private const int MostEntries = 10_000;

    /// <summary>Reads a file, whatever its format: it is told by what the file begins with.</summary>
    /// <param name="data">The file.</param>
    /// <param name="cancel">Ends the reading.</param>
    /// <returns>The chart with the problems found, and the format it had.</returns>
    /// <exception cref="FormatException">Nothing of it can be read; the message says why and what to do.</exception>
    public static (ChartReading Reading, ChartFormat Format) Read(byte[] data, CancellationToken cancel = default)
    {
        if (data.Length == 0) throw new FormatException("This file is empty.");
        if (data.Length > LargestFile)
            throw new FormatException($"This file has {data.Length / 1e6:0.0} MB; {LargestFile / 1_000_000} MB is the most.");
        if (Begins(data, "MThd"u8)) return (MidiReader.Read(data), ChartFormat.Midi);
        if (Begins(data, "PK\x03\x04"u8))
            return (MusicXmlReader.Read(new MemoryStream(UnpackScore(data)), cancel), ChartFormat.Mxl);
        var text = Decode(data);
        var start = text.AsSpan().TrimStart();
        if (start.StartsWith("<")) return (MusicXmlReader.Read(new MemoryStream(data), cancel), ChartFormat.MusicXml);
        if (start.StartsWith("{") && start[1..].TrimStart().StartsWith("\""))
            return (ChartJson.Read(Encoding.UTF8.GetBytes(text)), ChartFormat.Json);
        if (text.Length > ChartLimits.LongestText)
            throw new FormatException(
                $"A chart has at most {ChartLimits.LongestText:N0} characters; this one has {text.Length:N0}.");
        // A stray NUL is dropped; many of them are no text.
        var head = text.AsSpan(0, Math.Min(text.Length, 2_000));
        if (head.Count('\0') > 1 + head.Length / 50)
            throw new FormatException(
                "This is neither text nor a format that is known; bring text, MusicXML, MIDI or a Tembri chart.");
        return (ChartReader.Read(text, cancel), FormatOf(text));
    }

    /// <summary>Reads a chart that came as text: chart text, MusicXML or JSON.</summary>
    /// <exception cref="FormatException">Nothing of it can be read.</exception>
    public static (ChartReading Reading, ChartFormat Format) Read(string text, CancellationToken cancel = default) =>
        Read(Encoding.UTF8.GetBytes(text), cancel);

    /// <summary>Writes the record's chart.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="format">The format; MIDI needs shapes, so it is written from a version.</param>
    public static WrittenChart Write(Chart chart, ChartFormat format) => format switch
    {
        ChartFormat.Bars => Text(ChartWriter.Write(chart)),
        ChartFormat.Brackets => Text(TextWriters.Brackets(chart)),
        ChartFormat.OverLyrics => Text(TextWriters.OverLyrics(chart)),
        ChartFormat.MusicXml => Xml(MusicXmlWriter.Write(chart)),
        ChartFormat.Mxl => Packed(MusicXmlWriter.Write(chart)),
        ChartFormat.Json => new WrittenChart(ChartJson.Write(chart), "application/json", ".json"),
        _ => throw new ArgumentException("A MIDI file is written from a version, which has shapes.", nameof(format)),
    };

    /// <summary>Writes a version: the chords its shapes play, as the hand sees them above the capo; MusicXML has the shapes
    /// drawn, MIDI has them strummed.</summary>
    public static WrittenChart Write(VersionChart version, ChartFormat format) => format switch
    {
        ChartFormat.Midi => new WrittenChart(MidiWriter.Write(version), "audio/midi", ".mid"),
        ChartFormat.MusicXml => Xml(MusicXmlWriter.Write(version)),
        ChartFormat.Mxl => Packed(MusicXmlWriter.Write(version)),
        ChartFormat.Json => Write(Sounding(version), format),
        _ => TextOf(version, format),
    };

    private static WrittenChart TextOf(VersionChart version, ChartFormat format) =>
        Text((version.Raised > 0 ? $"capo: {version.Raised}\n" : "") + WithSoundingKey(version, format));

    private static string WithSoundingKey(VersionChart version, ChartFormat format)
    {
        var text = Encoding.UTF8.GetString(Write(version.Chart, format).Bytes);
        // Chords stand as shapes; the key of the header is the one that sounds when a capo says how far they move.
        return version.Raised > 0
            ? text.Replace($"key: {version.Chart.Key}", $"key: {version.SoundingKey}", StringComparison.Ordinal)
            : text;
    }

    private static Chart Sounding(VersionChart version)
    {
        var chart = ChartTransposer.Move(version.Chart, version.SoundingKey, version.Raised, keepPlaces: true);
        return (version.Lift?.Raise(chart) ?? chart) with { RecordCapo = version.Capo, TuningShift = version.TuningShift };
    }

    /// <summary>What a format cannot hold of a chart, a sentence each; empty when it holds all of it.</summary>
    public static IReadOnlyList<string> Losses(Chart chart, ChartFormat format)
    {
        if (format is ChartFormat.Bars or ChartFormat.Json) return [];
        var losses = new List<string>();
        var bars = chart.Sections.SelectMany(s => s.Bars).ToList();
        if (chart.Sections.Any(s => s.Like is not null))
            losses.Add("Sections written after another are written out, so they no longer follow it.");
        if (format is ChartFormat.MusicXml or ChartFormat.Mxl or ChartFormat.Midi
            && chart.Sections.Any(s => chart.Form.All(f => f.Section != s.Name)))
            losses.Add("Sections that the form does not play are left out.");
        if (format == ChartFormat.OverLyrics)
        {
            if (bars.Any(b => b.Slots.Count > 1 || b.Meter != chart.Meter))
                losses.Add("Lengths of chords and changes of meter are lost: every chord becomes a bar.");
            if (bars.Any(b => b.Remarks.Count > 0 || b.Slots.Any(s => s.IsEarly)))
                losses.Add("Holds, pauses and pushed changes are lost.");
            if (bars.Any(b => b.Melody.Count > 0)) losses.Add("The tune is lost.");
        }
        if (format == ChartFormat.Midi)
        {
            if (bars.Any(b => b.Lead.Length > 0 || b.Slots.Any(s => s.Lyric.Length > 0))) losses.Add("Words are left out.");
            if (bars.Any(b => b.Melody.Count > 0)) losses.Add("The tune is left out.");
            if (bars.Any(b => b.Remarks.Any(IsPace))) losses.Add("Holds, pauses and slow-downs become changes of tempo.");
            if (bars.Any(b => b.Remarks.Any(r => !IsPace(r)))) losses.Add("Remarks are left out.");
            if (bars.Any(b => b.Slots.Any(s => s.IsSilence)))
                losses.Add("Silence (N.C.) is a rest with a mark that other programs show as text.");
            if (bars.Any(b => b.Slots.Any(s => s.IsEarly)))
                losses.Add("Pushed changes stand where they sound, a half beat before the bar, and no longer at the beat they "
                    + "are pushed from.");
            if (chart.Sections.Any(s => s.Strum.Length > 0)) losses.Add("What the hand strums is there as notes only.");
            if (chart.Sections.Any(s => s.Figures.Count > 0)) losses.Add("Riffs and runs are there as notes only.");
            var facts = new List<string>();
            if (chart.TuningShift != 0) facts.Add("the tuning");
            if (chart.RecordCapo != 0) facts.Add("the record's capo");
            if (chart.Recordings.Count > 0) facts.Add("other recordings");
            if (chart.Singer is not null || chart.VoiceShift != 0) facts.Add("what the voice asks for");
            if (chart.MelodyGiven is not null) facts.Add("the reach of the tune");
            if (chart.Extra.Count > 0) facts.Add("other notes in the header");
            if (facts.Count > 0) losses.Add($"Left out: {string.Join(", ", facts)}.");
        }
        if (format is not ChartFormat.OverLyrics && bars.SelectMany(b => b.Slots).Any(s => s.IsUnread))
            losses.Add(format == ChartFormat.Midi
                ? "Chords that nobody could read are silent."
                : "Chords that nobody could read are kept as text only.");
        return losses;
    }

    private static string Semitones(int count) => count == 1 ? "a semitone" : $"{count} semitones";

    private static bool IsPace(string remark) => remark is Bar.Hold or Bar.Pause or Bar.Slow;

    /// <summary>What a format cannot hold of a version, a sentence each; empty when it holds all of it.</summary>
    public static IReadOnlyList<string> Losses(VersionChart version, ChartFormat format)
    {
        var losses = Losses(version.Chart, format).ToList();
        if (format is not (ChartFormat.MusicXml or ChartFormat.Mxl))
            losses.Add(format == ChartFormat.Midi
                ? "Shapes and fingers are heard, not written."
                : "Shapes and fingers are left out; the names of the chords are kept.");
        if (format == ChartFormat.Midi && version.Raised != 0)
            losses.Add("Capo and tuning are heard in the notes, not written.");
        if (format is ChartFormat.Bars or ChartFormat.Brackets or ChartFormat.OverLyrics && version.TuningShift != 0)
            losses.Add(version.Raised switch
            {
                > 0 => $"Capo {version.Capo} and the tuning become one capo {version.Raised} that sounds the same.",
                0 => $"Capo {version.Capo} and the tuning are left out; together they change nothing of what sounds.",
                var low => $"Capo and tuning are left out: read back it sounds {Semitones(-low)} too high.",
            });
        if (version.Lift is { } lift && format is ChartFormat.Bars or ChartFormat.Brackets or ChartFormat.OverLyrics)
            losses.Add($"From {version.Chart.Sections[lift.Section].Name} on the capo goes up: a remark says so, but read back "
                + $"that part sounds {Semitones(lift.Semitones)} too low.");
        return losses;
    }

    private static WrittenChart Text(string text) => new(Encoding.UTF8.GetBytes(text), "text/plain; charset=utf-8", ".txt");

    private static WrittenChart Xml(byte[] xml) => new(xml, "application/vnd.recordare.musicxml+xml", ".musicxml");

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

    private static bool Begins(byte[] data, ReadOnlySpan<byte> with) => data.AsSpan().StartsWith(with);

    private static readonly Encoding WindowsLatin = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;

    /// <summary>The text of a file: UTF-8, UTF-16 with its mark, else Windows-1252, which holds Latin-1.</summary>
    public static string Decode(byte[] data)
    {
        if (data.AsSpan().StartsWith((byte[])[0xFF, 0xFE])) return Encoding.Unicode.GetString(data, 2, data.Length - 2);
        if (data.AsSpan().StartsWith((byte[])[0xFE, 0xFF])) return Encoding.BigEndianUnicode.GetString(data, 2, data.Length - 2);
        var from = data.AsSpan().StartsWith(Encoding.UTF8.Preamble) ? 3 : 0;
        try { return new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(data, from, data.Length - from); }
        catch (DecoderFallbackException) { return WindowsLatin.GetString(data, from, data.Length - from); }
    }

    private static ChartFormat FormatOf(string text)
    {
        var lines = text.Split('\n');
        if (lines.Any(l => l.TrimStart().StartsWith('|'))) return ChartFormat.Bars;
        return lines.Any(l => ChordThenWords().IsMatch(l)) ? ChartFormat.Brackets : ChartFormat.OverLyrics;
    }

    [GeneratedRegex(@"\[[A-G][^\]]*\]\s*\S", RegexOptions.NonBacktracking)]
    private static partial Regex ChordThenWords();
}
