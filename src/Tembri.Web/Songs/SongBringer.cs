using System.IO.Compression;
using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Formats;
using Tembri.Web.Computing;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;

namespace Tembri.Web.Songs;

/// <summary>What became of one chart that was brought.</summary>
/// <param name="Name">Name of its file.</param>
/// <param name="Result"><c>read</c>, <c>doubtful</c> (something needs the teacher's eye) or <c>refused</c>.</param>
/// <param name="Said">Its title and what there is to say.</param>
/// <param name="SongId">The song, when there is one now.</param>
internal sealed record BroughtChart(string Name, string Result, string Said, Guid? SongId);

/// <summary>Takes charts in any format into the studio, one by one, each saved as soon as it is read.</summary>
internal sealed class SongBringer(TembriDbContext context, ArrangingOrders orders, ComputeLanes lanes, TimeProvider clock,
    ILogger<SongBringer> log)
{
    /// <summary>The most charts taken in one go.</summary>
    public const int MostCharts = 2_000;

    /// <summary>Brings files; packed ones with everything in them.</summary>
    /// <param name="files">The files.</param>
    /// <param name="request">Names the request, so that the same one sent again brings nothing twice.</param>
    /// <param name="cancel">Ends it between two charts.</param>
    public async IAsyncEnumerable<BroughtChart> BringAsync(IEnumerable<IFormFile> files, Guid request,
        [EnumeratorCancellation] CancellationToken cancel)
    {
        var count = 0;
        foreach (var file in files)
        {
            await foreach (var (name, open) in OpenAsync(file, cancel))
            {
                cancel.ThrowIfCancellationRequested();
                if (++count > MostCharts)
                {
                    yield return new(name, "refused",
                        $"{MostCharts:N0} charts are the most in one go; bring the rest in another.", null);
                    yield break;
                }
                yield return await TakeAsync(name, open, KeyOf(request, count, name), cancel);
            }
        }
    }

    /// <summary>How many charts there are in files.</summary>
    public static int Count(IEnumerable<IFormFile> files) => files.Sum(f =>
    {
        try
        {
            using var zip = Pack(f);
            return zip is null ? 1 : Entries(zip).Count();
        }
        catch (FormatException) { return 1; }
    });

    private static async IAsyncEnumerable<(string Name, Func<byte[]> Open)> OpenAsync(IFormFile file,
        [EnumeratorCancellation] CancellationToken cancel)
    {
        ZipArchive? zip = null;
        string? fault = null;
        try { zip = Pack(file); }
        catch (FormatException e) { fault = e.Message; }
        if (fault is not null)
        {
            yield return (file.FileName, () => throw new FormatException(fault));
            yield break;
        }
        if (zip is null)
        {
            using var bytes = new MemoryStream();
            await using var stream = file.OpenReadStream();
            if (file.Length <= ChartFiles.LargestFile) await stream.CopyToAsync(bytes, cancel);
            if (PdfCharts.IsPdf(bytes.GetBuffer().AsSpan(0, (int)bytes.Length)))
            {
                foreach (var song in SongsOf(file.FileName, bytes.ToArray(), cancel)) yield return song;
                yield break;
            }
            yield return (file.FileName,
                () => file.Length > ChartFiles.LargestFile
                    ? throw new FormatException(
                        $"This file has {file.Length / 1e6:0.0} MB; {ChartFiles.LargestFile / 1_000_000} MB is the most.")
                    : bytes.ToArray());
            yield break;
        }
        using (zip)
            foreach (var entry in Entries(zip))
            {
                if (!entry.FullName.EndsWith(".pdf", StringComparison.OrdinalIgnoreCase))
                    yield return (entry.FullName, () => ChartFiles.Unpack(entry));
                else foreach (var song in SongsOf(entry.FullName, ChartFiles.Unpack(entry), cancel)) yield return song;
            }
    }

    /// <summary>The songs of a PDF, each as a chart of its own.</summary>
    private static IReadOnlyList<(string Name, Func<byte[]> Open)> SongsOf(string name, byte[] data, CancellationToken cancel)
    {
        try
        {
            var texts = PdfCharts.Read(data, cancel);
            return [.. texts.Select((t, i) => (texts.Count == 1 ? name : $"{Path.GetFileNameWithoutExtension(name)} {i + 1}.pdf",
                (Func<byte[]>)(() => Encoding.UTF8.GetBytes(t))))];
        }
        catch (FormatException e)
        {
            var fault = e.Message;
            return [(name, () => throw new FormatException(fault))];
        }
    }

    /// <summary>A packed collection of charts; null for a single chart, packed MusicXML included.</summary>
    private static ZipArchive? Pack(IFormFile file)
    {
        Span<byte> head = stackalloc byte[4];
        using (var peek = file.OpenReadStream())
            if (peek.ReadAtLeast(head, 4, throwOnEndOfStream: false) < 4 || !head.SequenceEqual("PK\x03\x04"u8)) return null;
        var zip = ChartFiles.Packed(file.OpenReadStream());
        if (zip.GetEntry("META-INF/container.xml") is null) return zip;
        zip.Dispose();
        return null;
    }

    private static IEnumerable<ZipArchiveEntry> Entries(ZipArchive zip) =>
        zip.Entries.Where(e =>
            e.Length > 0 && !e.FullName.EndsWith('/') && !e.FullName.Split('/').Any(p => p.StartsWith('.') || p == "__MACOSX"));

    /// <summary>One file, whatever becomes of it: a fault in it is told with its reason and the others are brought all the
    /// same.</summary>
    private async Task<BroughtChart> TakeAsync(string path, Func<byte[]> open, Guid key, CancellationToken cancel)
    {
        var name = PlainText.Cut(PlainText.OneLine(Path.GetFileName(path.Replace('\\', '/'))), ChartLimits.LongestName);
        try
        {
            var data = open();
            var (song, said) = await lanes.ForPageAsync(work => Read(name, data, work.Cancel), cancel);
            return song is null ? new(name, "refused", said, null) : await KeepAsync(name, song, said, key, cancel);
        }
        catch (FormatException e) { return new(name, "refused", e.Message, null); }
        catch (TooBusyException e) { return new(name, "refused", e.Message, null); }
        catch (Exception e) when (!DatabaseFaults.IsOutage(e) && e is not OperationCanceledException)
        {
            log.LogError("A brought file could not be read: {Fault}", e.GetType().Name);
            return new(name, "refused",
                "Something in this file could not be understood; bring it in another format, or paste its text.", null);
        }
        finally { context.ChangeTracker.Clear(); }
    }

    private (Song? Song, string Said) Read(string name, byte[] data, CancellationToken cancel)
    {
        var (reading, format) = ChartFiles.Read(data, cancel);
        if (reading.Chart.Chords.Count == 0)
            return (null, reading.Problems.Select(p => p.Message).FirstOrDefault() ?? "There are no chords in it.");
        var chart = reading.Chart.Title.Length > 0
            ? reading.Chart
            : reading.Chart with { Title = Path.GetFileNameWithoutExtension(name) };
        var isText = format is ChartFormat.Bars or ChartFormat.Brackets or ChartFormat.OverLyrics;
        // Text stays as it was written; a title that it lacks is put before it.
        var text = !isText
            ? ChartWriter.Write(chart)
            : (reading.Chart.Title.Length > 0 ? "" : $"title: {chart.Title}\n") + ChartFiles.Decode(data);
        if (text.Length > ChartLimits.LongestText)
            return (null, $"Written out this chart has more than {ChartLimits.LongestText:N0} characters.");
        var song = SongText.New();
        SongText.Apply(song, text, clock.GetUtcNow());
        song.ProblemCount = Math.Max(song.ProblemCount, reading.Problems.Count);
        return (song, reading.Problems.Select(p => p.Message).FirstOrDefault() ?? "something was not understood");
    }

    private async Task<BroughtChart> KeepAsync(string name, Song song, string doubt, Guid key, CancellationToken cancel)
    {
        // The same files sent again under the same key are the same songs.
        if (await context.Songs.AsNoTracking().Where(s => s.RequestKey == key).FirstOrDefaultAsync(cancel) is { } before)
            song = before;
        else
        {
            song.RequestKey = key;
            context.AddOwned(song);
            await context.SaveChangesAsync(cancel);
            await orders.OrderAsync(song.Id, cancel);
        }
        var said = $"{song.Title}, in {song.Key}, {song.ChordCount} {(song.ChordCount == 1 ? "chord" : "chords")}";
        return song.ProblemCount == 0 ? new(name, "read", said, song.Id) : new(name, "doubtful", $"{said}; {doubt}", song.Id);
    }

    /// <summary>Names one file of a request.</summary>
    private static Guid KeyOf(Guid request, int number, string name) =>
        new(SHA256.HashData(Encoding.UTF8.GetBytes($"{request} {number} {name}")).AsSpan(0, 16));
}
