using System.IO.Compression;
using System.Runtime.CompilerServices;
using Tembri.Core.Charts;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Formats;

namespace Tembri.Web.Songs;

/// <summary>What became of one chart that was brought.</summary>
/// <param name="Name">Name of its file.</param>
/// <param name="Result"><c>read</c>, <c>doubtful</c> (something needs the teacher's eye) or <c>refused</c>.</param>
/// <param name="Said">Its title and what there is to say.</param>
/// <param name="SongId">The song, when there is one now.</param>
internal sealed record BroughtChart(string Name, string Result, string Said, Guid? SongId);

/// <summary>Takes charts in any format into the studio, one by one, each saved as soon as it is read.</summary>
internal sealed class SongBringer(TembriDbContext context, TimeProvider clock)
{
    /// <summary>The most charts taken in one go.</summary>
    public const int MostCharts = 2_000;

    /// <summary>Brings files; packed ones with everything in them.</summary>
    public async IAsyncEnumerable<BroughtChart> BringAsync(IEnumerable<IFormFile> files, [EnumeratorCancellation] CancellationToken cancel)
    {
        var count = 0;
        foreach (var file in files)
        {
            await foreach (var (name, open) in OpenAsync(file, cancel))
            {
                cancel.ThrowIfCancellationRequested();
                if (++count > MostCharts)
                {
                    yield return new(name, "refused", $"{MostCharts:N0} charts are the most in one go; bring the rest in another.", null);
                    yield break;
                }
                yield return await TakeAsync(name, open, cancel);
            }
        }
    }

    /// <summary>How many charts there are in files.</summary>
    public static int Count(IEnumerable<IFormFile> files) => files.Sum(f =>
    {
        try { return Pack(f) is { } zip ? Entries(zip).Count() : 1; }
        catch (InvalidDataException) { return 1; }
    });

    private static async IAsyncEnumerable<(string Name, Func<byte[]> Open)> OpenAsync(IFormFile file, [EnumeratorCancellation] CancellationToken cancel)
    {
        ZipArchive? zip = null;
        var damaged = false;
        try { zip = Pack(file); }
        catch (InvalidDataException) { damaged = true; }
        if (damaged)
        {
            yield return (file.FileName, () => throw new FormatException("This packed file is damaged; pack it again."));
            yield break;
        }
        if (zip is null)
        {
            using var bytes = new MemoryStream();
            await using var stream = file.OpenReadStream();
            if (file.Length <= ChartFiles.LargestFile) await stream.CopyToAsync(bytes, cancel);
            yield return (file.FileName, () => file.Length > ChartFiles.LargestFile ? throw new FormatException($"This file has {file.Length / 1e6:0.0} MB; {ChartFiles.LargestFile / 1_000_000} MB is the most.") : bytes.ToArray());
            yield break;
        }
        using (zip)
            foreach (var entry in Entries(zip)) yield return (entry.FullName, () => ChartFiles.Unpack(entry));
    }

    /// <summary>A packed collection of charts; null for a single chart, packed MusicXML included.</summary>
    private static ZipArchive? Pack(IFormFile file)
    {
        Span<byte> head = stackalloc byte[4];
        using (var peek = file.OpenReadStream())
            if (peek.ReadAtLeast(head, 4, throwOnEndOfStream: false) < 4 || !head.SequenceEqual("PK\x03\x04"u8)) return null;
        var zip = new ZipArchive(file.OpenReadStream(), ZipArchiveMode.Read);
        if (zip.GetEntry("META-INF/container.xml") is null) return zip;
        zip.Dispose();
        return null;
    }

    private static IEnumerable<ZipArchiveEntry> Entries(ZipArchive zip) =>
        zip.Entries.Where(e => e.Length > 0 && !e.FullName.EndsWith('/') && !e.FullName.Split('/').Any(p => p.StartsWith('.') || p == "__MACOSX"));

    private async Task<BroughtChart> TakeAsync(string path, Func<byte[]> open, CancellationToken cancel)
    {
        var name = Path.GetFileName(path.Replace('\\', '/'));
        try
        {
            var data = open();
            var (reading, format) = ChartFiles.Read(data);
            if (reading.Chart.Chords.Count == 0) return new(name, "refused", reading.Problems.Select(p => p.Message).FirstOrDefault() ?? "There are no chords in it.", null);
            var chart = reading.Chart.Title.Length > 0 ? reading.Chart : reading.Chart with { Title = Path.GetFileNameWithoutExtension(name) };
            var isText = format is ChartFormat.Bars or ChartFormat.Brackets or ChartFormat.OverLyrics;
            // Text stays as it was written; a title that it lacks is put before it.
            var text = !isText ? ChartWriter.Write(chart) : (reading.Chart.Title.Length > 0 ? "" : $"title: {chart.Title}\n") + ChartFiles.Decode(data);
            if (text.Length > ChartLimits.LongestText) return new(name, "refused", $"Written out this chart has more than {ChartLimits.LongestText:N0} characters.", null);
            var song = new Song { Title = "", ChartText = "", Key = "", Meter = "" };
            SongText.Apply(song, text, clock.GetUtcNow());
            song.ProblemCount = Math.Max(song.ProblemCount, reading.Problems.Count);
            context.Songs.Add(song);
            await context.SaveChangesAsync(cancel);
            context.ChangeTracker.Clear();
            var said = $"{song.Title}, in {song.Key}, {song.ChordCount} chords";
            return song.ProblemCount == 0 ? new(name, "read", said, song.Id) : new(name, "doubtful", $"{said}; {reading.Problems.Select(p => p.Message).FirstOrDefault() ?? "something needs your eye"}", song.Id);
        }
        catch (FormatException e) { return new(name, "refused", e.Message, null); }
        catch (InvalidDataException) { return new(name, "refused", "This file is damaged inside its package; pack it again.", null); }
    }
}
