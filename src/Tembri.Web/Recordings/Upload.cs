using Microsoft.AspNetCore.WebUtilities;
using Microsoft.Net.Http.Headers;
using Tembri.Core.Charts;
using Tembri.Core.Hearing;
using Tembri.Formats;
using Tembri.Web.Computing;

namespace Tembri.Web.Recordings;

/// <summary>A recording that came with a request, read in memory: nothing of it reaches a disk.</summary>
/// <param name="Sound">The recording.</param>
/// <param name="Fields">The other fields of the form.</param>
internal sealed record Upload(MonoSound Sound, IReadOnlyDictionary<string, string> Fields);

/// <summary>Takes recordings in, a few at a time, since each fills memory while it is worked on.</summary>
internal sealed class Uploads
{
    /// <summary>The largest request: ten minutes of two channels at 48,000 samples of 24 bits.</summary>
    public const long LargestRequest = 180L * 1024 * 1024;

    /// <summary>How many recordings are held at once for pages, and as many for strangers who call the API: neither takes the
    /// others' room.</summary>
    public const int AtOnce = 2;

    private const int LongestField = 400_000;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private static readonly TimeSpan LongestArrival = TimeSpan.FromMinutes(2);
    private readonly SemaphoreSlim _pages = new(AtOnce), _strangers = new(AtOnce);

    /// <summary>Works on the recording of a form.</summary>
    /// <param name="request">The request; its body is a form with a file <c>audio</c>.</param>
    /// <param name="ofStranger">True for a call of the API.</param>
    /// <param name="work">What is done with it.</param>
    /// <exception cref="FormatException">There is no such form, or the file cannot be read; the message says what to
    /// do.</exception>
    /// <exception cref="TooBusyException">Others are listening; the caller may come back.</exception>
    public async Task<T> WithAsync<T>(HttpRequest request, bool ofStranger, Func<Upload, Task<T>> work,
        CancellationToken leaving)
    {
        var room = ofStranger ? _strangers : _pages;
        if (!await room.WaitAsync(Patience, leaving))
            throw new TooBusyException("Other recordings are being listened to at this moment. Try again shortly.",
                TimeSpan.FromSeconds(5));
        try { return await work(await ArrivedAsync(request, leaving)); }
        finally { room.Release(); }
    }

    /// <summary>Reads the form; one that trickles in would keep others out, so it has a time.</summary>
    private static async Task<Upload> ArrivedAsync(HttpRequest request, CancellationToken leaving)
    {
        using var late = new CancellationTokenSource(LongestArrival);
        using var end = CancellationTokenSource.CreateLinkedTokenSource(leaving, late.Token);
        try { return await ReadAsync(request, end.Token); }
        catch (OperationCanceledException) when (!leaving.IsCancellationRequested)
        {
            throw new FormatException($"The recording took longer than {LongestArrival.TotalMinutes:0} minutes to arrive. Send "
                + "a shorter one, or one channel at a lower rate.");
        }
    }

    private static async Task<Upload> ReadAsync(HttpRequest request, CancellationToken leaving)
    {
        if (!MediaTypeHeaderValue.TryParse(request.ContentType, out var type)
            || !type.MediaType.Equals("multipart/form-data", StringComparison.OrdinalIgnoreCase)
            || HeaderUtilities.RemoveQuotes(type.Boundary).Value is not { Length: > 0 and <= 200 } boundary)
            throw new FormatException("Send a form (multipart/form-data) with the file 'audio'.");
        var reader = new MultipartReader(boundary, request.Body);
        var fields = new Dictionary<string, string>();
        MonoSound? sound = null;
        try
        {
            while (await reader.ReadNextSectionAsync(leaving) is { } section)
            {
                if (!ContentDispositionHeaderValue.TryParse(section.ContentDisposition, out var disposition)) continue;
                var name = HeaderUtilities.RemoveQuotes(disposition.Name).Value ?? "";
                using var content =
                    new MemoryStream(name == "audio" ? (int)Math.Clamp(request.ContentLength ?? 0, 0, LargestRequest) : 0);
                await CopyAsync(section.Body, content, name == "audio" ? LargestRequest : LongestField, leaving);
                content.Position = 0;
                if (name == "audio") sound = WavFiles.Read(content, leaving);
                else if (name.Length > 0)
                    fields[name] = System.Text.Encoding.UTF8.GetString(content.GetBuffer(), 0, (int)content.Length);
            }
        }
        catch (Exception e) when (e is InvalidDataException or (IOException and not BadHttpRequestException))
        {
            throw new FormatException("The form is cut off or damaged. Send it again.");
        }
        return sound is null
            ? throw new FormatException("There is no recording in it: send the file in the field 'audio'.")
            : new Upload(sound, fields);
    }

    private static async Task CopyAsync(Stream from, MemoryStream to, long most, CancellationToken leaving)
    {
        var block = new byte[81_920];
        while (await from.ReadAsync(block, leaving) is > 0 and var read)
        {
            if (to.Length + read > most) throw new FormatException("A field of the form is longer than it may be.");
            to.Write(block, 0, read);
        }
    }
}
