using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using CsvHelper;
using Tembri.Core.Charts;
using Tembri.Core.Shapes;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>A row of a table that could not be taken.</summary>
/// <param name="Number">Which line of the file it is, from 1.</param>
/// <param name="Fault">What is wrong, and what to do.</param>
public sealed record RowFault(int Number, string Fault);

/// <summary>A log as a table of comma-separated values (RFC 4180), out and in again.</summary>
internal static class LogTable
{
    /// <summary>The most bytes of a table.</summary>
    public const int LargestFile = 2 * 1024 * 1024;

    private const int LongestRow = 16 * 1024;

    private static readonly string[] Columns =
    [
        "at", "kind", "by", "song", "rung", "text", "tempo", "from", "from fingers", "to", "to fingers", "capo", "count",
        "seconds", "tries", "went", "free beats", "pattern", "meter", "swing",
        "minutes", "felt", "hurt", "guitar", "key",
    ];

    /// <summary>Writes entries, the oldest first; UTF-8 with a mark, so that programs for tables read it as that.</summary>
    /// <param name="entries">The entries.</param>
    /// <param name="titles">Titles of songs.</param>
    public static byte[] Write(IEnumerable<PracticeEntry> entries, IReadOnlyDictionary<Guid, string> titles)
    {
        using var bytes = new MemoryStream();
        using (var writer = new StreamWriter(bytes, new UTF8Encoding(true)))
        using (var csv = CsvWriter.Create(writer, new CsvWriterOptions { NewLine = "\r\n" }))
        {
            csv.WriteRecord(Columns);
            foreach (var e in entries) csv.WriteRecord([.. Fields(e, titles).Select(f => Escaped(f ?? ""))]);
        }
        return bytes.ToArray();
    }

    private static IEnumerable<string?> Fields(PracticeEntry e, IReadOnlyDictionary<Guid, string> titles)
    {
        static string? Number(IFormattable? n) => n?.ToString(null, CultureInfo.InvariantCulture);
        static string? Frets(int[]? frets) => frets is null ? null : new Shape(frets).ToString();
        static string? Fingers(int[]? fingers) => fingers is null ? null : string.Concat(fingers);
        return
        [
            e.At.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ss.fffZ", CultureInfo.InvariantCulture),
            e.Kind.ToString().ToLowerInvariant(), e.By.ToString().ToLowerInvariant(),
            e.SongId is { } song ? titles.GetValueOrDefault(song) : null, e.Rung == 0 ? null : Number(e.Rung), e.Text,
            Number(e.Tempo), Frets(e.FromFrets), Fingers(e.FromFingers), Frets(e.ToFrets), Fingers(e.ToFingers),
            e.Capo == 0 ? null : Number(e.Capo), Number(e.Count), Number(e.Seconds), Number(e.Tries),
            e.Went switch { true => "yes", false => "no", _ => null }, Number(e.FreeBeats), e.Pattern, e.Meter, Number(e.Swing),
            Number(e.Minutes), Number(e.Felt), e.Hurt ? "yes" : null, e.Guitar, (e.RequestKey ?? e.Id).ToString(),
        ];
    }

    /// <summary>Reads a table.</summary>
    /// <param name="bytes">The file: UTF-8, UTF-16 with a mark, or Windows' Latin letters; commas, semicolons or tabs
    /// between.</param>
    /// <param name="songs">The studio's songs by title.</param>
    /// <returns>The rows that can be taken with their line, and what is wrong with the others.</returns>
    public static (IReadOnlyList<(int Line, NewEntry Entry)> Rows, IReadOnlyList<RowFault> Faults) Read(byte[] bytes,
        ILookup<string, Guid> songs)
    {
        var (rows, faults) = (new List<(int, NewEntry)>(), new List<RowFault>());
        var text = Text(bytes);
        using var csv = CsvReader.FromText(text, new CsvReaderOptions
        {
            Separator = SeparatorOf(text), HasHeader = true, NormalizeHeaderName = h => h.Trim().ToLowerInvariant(),
            FieldCountMismatch = CsvFieldCountHandling.Allow, MissingField = CsvMissingFieldHandling.ReturnEmpty,
            SkipEmptyLines = true, TrackLineNumbers = true, MaxRecordSize = LongestRow,
        });
        if (text.AsSpan().Trim().Length > 0) csv.ReadHeader();
        if (text.AsSpan().Trim().Length == 0
            || !csv.Headers.Any(h => h.Trim().Equals("kind", StringComparison.OrdinalIgnoreCase)))
            return ([],
                [new RowFault(1,
                    $"The first line names the columns; “at” and “kind” at least. Known are: {string.Join(", ", Columns)}.")]);
        while (csv.Read())
        {
            var line = (int)csv.LineNumber;
            if (rows.Count + faults.Count >= Logbook.LargestBatch)
                return (rows,
                    [.. faults,
                        new RowFault(line, $"A file has at most {Logbook.LargestBatch} rows; bring the rest as another file.")]);
            try { rows.Add((line, ReadRow(csv, songs))); }
            catch (FormatException e) { faults.Add(new RowFault(line, e.Message)); }
        }
        return (rows, faults);
    }

    private static NewEntry ReadRow(CsvReader csv, ILookup<string, Guid> songs)
    {
        string? Field(string name) =>
            csv.TryGetFieldIndex(name, out var at) && at < csv.FieldCount && csv.GetString(at) is var value
                    && !string.IsNullOrWhiteSpace(value)
                ? Unescaped(value.Trim())
                : null;
        int? Whole(string name) =>
            Field(name) is not { } text ? null
                : int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var n) ? n
                : throw new FormatException($"“{text}” under “{name}” is no whole number.");
        bool? Yes(string name) => Field(name)?.ToLowerInvariant() switch
        {
            null => null, "yes" or "true" or "1" => true, "no" or "false" or "0" => false,
            var other => throw new FormatException($"“{other}” under “{name}” is neither yes nor no."),
        };
        EntryShape? Side(string name) =>
            Field(name) is not { } text ? null
                : TryShape(text) is { } shape ? new EntryShape([.. shape.Frets], FingersOf(Field($"{name} fingers")))
                : throw new FormatException($"“{text}” under “{name}” is no shape; write a fret a string, such as x32010.");
        if (Field("at") is not { } at)
            throw new FormatException("The day is missing under “at”; write it such as 2026-01-05 or 2026-01-05T15:00:00Z.");
        if (!DateTimeOffset.TryParse(at, CultureInfo.InvariantCulture,
            DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal, out var time))
            throw new FormatException($"“{at}” under “at” is no day; write it such as 2026-01-05 or 2026-01-05T15:00:00Z.");
        double? free = Field("free beats") is not { } beats ? null
            : double.TryParse(beats, NumberStyles.Float, CultureInfo.InvariantCulture, out var f) && f is > 0 and < 100 ? f
            : throw new FormatException($"“{beats}” under “free beats” is no number of beats.");
        var title = Field("song");
        var read = new NewEntry
        {
            At = time, Kind = Field("kind"), Song = title is null ? null : songs[title].Select(s => (Guid?)s).FirstOrDefault(),
            Rung = Whole("rung"), Text = Field("text"), Tempo = Whole("tempo"), From = Side("from"), To = Side("to"),
            Count = Whole("count"), Seconds = Whole("seconds"), Tries = Whole("tries"), Went = Yes("went"), FreeBeats = free,
            Pattern = Field("pattern"), Meter = Field("meter"), Swing = Whole("swing"), Capo = Whole("capo"),
            Minutes = Whole("minutes"), Felt = Whole("felt"), Hurt = Yes("hurt"), Guitar = Field("guitar"),
        };
        // A row without a key is named by what it says, so that the same table brought twice counts once.
        return read with { Key = Field("key") is not { } key
                ? KeyOf(string.Join("\n", Enumerable.Range(0, csv.FieldCount).Select(csv.GetString)))
            : Guid.TryParse(key, out var given) ? given
            : throw new FormatException($"“{key}” under “key” is no key; leave it empty.") };
    }

    private static Guid KeyOf(string row) => new(SHA256.HashData(Encoding.UTF8.GetBytes(row)).AsSpan(0, 16));

    /// <summary>What parts the fields of the first line most often: a comma, a semicolon, or a tab.</summary>
    private static char SeparatorOf(string text)
    {
        var first = text.AsSpan(0, text.AsSpan().IndexOfAny('\r', '\n') is >= 0 and var end ? end : text.Length);
        var (commas, semicolons, tabs) = (first.Count(','), first.Count(';'), first.Count('\t'));
        return tabs > Math.Max(commas, semicolons) ? '\t' : semicolons > commas ? ';' : ',';
    }

    // A program for tables takes what begins so for a formula.
    private static bool LooksLikeFormula(string text) => text.Length > 0 && text[0] is '=' or '@' or '+' or '-' or '\t' or '\r';

    private static string Escaped(string text) => LooksLikeFormula(text.TrimStart('\'')) ? $"'{text}" : text;

    // What was written so that a program for tables takes it for no formula.
    private static string Unescaped(string text) =>
        text.StartsWith('\'') && LooksLikeFormula(text.TrimStart('\'')) ? text[1..] : text;

    private static Shape? TryShape(string text)
    {
        try { return Shape.Parse(text) is { StringCount: 6 } shape ? shape : null; }
        catch (FormatException) { return null; }
        catch (ArgumentException) { return null; }
    }

    private static int[]? FingersOf(string? text) =>
        text is null ? null
            : text.Length == 6 && text.All(c => c is >= '0' and <= '5') ? [.. text.Select(c => c - '0')]
            : throw new FormatException($"“{text}” are no fingers; write six numbers from 0 to 5, such as 032010.");

    /// <summary>The text of a file: by its mark, as UTF-8, else as Windows' Latin letters.</summary>
    private static string Text(byte[] bytes)
    {
        if (bytes is [0xFF, 0xFE, ..]) return Encoding.Unicode.GetString(bytes, 2, bytes.Length - 2);
        if (bytes is [0xFE, 0xFF, ..]) return Encoding.BigEndianUnicode.GetString(bytes, 2, bytes.Length - 2);
        var from = bytes is [0xEF, 0xBB, 0xBF, ..] ? 3 : 0;
        try { return new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes, from, bytes.Length - from); }
        catch (DecoderFallbackException) { return Encoding.Latin1.GetString(bytes, from, bytes.Length - from); }
    }
}
