using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Formats.Midi;
using Tembri.Formats.Scores;

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
        if (Begins(data, "MThd"u8)) return (KeptNames.Of(MidiReader.Read(data)), ChartFormat.Midi);
        if (Begins(data, "PK\x03\x04"u8))
            return (KeptNames.Of(MusicXmlReader.Read(UnpackScore(data), cancel)), ChartFormat.Mxl);
        var text = Decode(data);
        var start = text.AsSpan().TrimStart();
        if (ScoreDocument.IsXml(start) || Begins(data, "<\0"u8) || Begins(data, "\0<"u8))
            return (KeptNames.Of(MusicXmlReader.Read(data, cancel)), ChartFormat.MusicXml);
        if (start.StartsWith("{") && start[1..].TrimStart().StartsWith("\""))
            return (KeptNames.Of(ChartJson.Read(Encoding.UTF8.GetBytes(text))), ChartFormat.Json);
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
        // Chords stand as shapes; the key of the header is the one that sounds when a capo says how far they move. Where it
        // could be taken for that of the shapes it says so.
        if (version.Raised == 0) return text;
        var shapes = KeyFinder.Guess([.. version.Chart.Played().Select(s => s.Chord).OfType<Chord>()]);
        var (key, isAlike) = (version.SoundingKey, shapes.Tonic.PitchClass == version.SoundingKey.Tonic.PitchClass);
        return text.Replace($"key: {version.Chart.Key}", $"{(isAlike ? "sounding " : "")}key: {key}", StringComparison.Ordinal);
    }

    private static Chart Sounding(VersionChart version)
    {
        var chart = ChartTransposer.Move(version.Chart, version.SoundingKey, version.Raised, keepPlaces: true);
        return (version.Lift?.Raise(chart) ?? chart) with { RecordCapo = version.Capo, TuningShift = version.TuningShift };
    }

    private static WrittenChart Text(string text) => new(Encoding.UTF8.GetBytes(text), "text/plain; charset=utf-8", ".txt");

    private static WrittenChart Xml(byte[] xml) => new(xml, "application/vnd.recordare.musicxml+xml", ".musicxml");

    private static bool Begins(byte[] data, ReadOnlySpan<byte> with) => data.AsSpan().StartsWith(with);

    private static readonly Encoding WindowsLatin = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;

    /// <summary>The text of a file: UTF-8, UTF-16 with its mark, else Windows-1252, which holds Latin-1.</summary>
    public static string Decode(byte[] data) => Decode(data, out _);

    /// <param name="data">The file.</param>
    /// <param name="isSure">False where nothing but the bytes above 127 told that it is Windows-1252.</param>
    internal static string Decode(byte[] data, out bool isSure)
    {
        isSure = true;
        if (data.AsSpan().StartsWith((byte[])[0xFF, 0xFE])) return Encoding.Unicode.GetString(data, 2, data.Length - 2);
        if (data.AsSpan().StartsWith((byte[])[0xFE, 0xFF])) return Encoding.BigEndianUnicode.GetString(data, 2, data.Length - 2);
        var from = data.AsSpan().StartsWith(Encoding.UTF8.Preamble) ? 3 : 0;
        try { return new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(data, from, data.Length - from); }
        catch (DecoderFallbackException)
        {
            isSure = false;
            return WindowsLatin.GetString(data, from, data.Length - from);
        }
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
