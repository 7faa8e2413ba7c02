using System.Text.Json;
using System.Threading.Channels;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hearing;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Computing;
using Tembri.Web.Setup;

namespace Tembri.Web.Recordings;

/// <summary>Listens to a recording of a song: it is worked on in memory; kept are times and findings. Progress comes back line
/// by line; who leaves ends the work.</summary>
internal static class RecordApi
{
    private sealed record Line(double? Done = null, string? Fault = null, bool? Heard = null, string? Draft = null,
        string? Unsure = null);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    };

    public static void MapRecordApi(this IEndpointRouteBuilder routes)
    {
        foreach (var (address, handler) in new (string, Delegate)[]
        {
            ("/songs/{id:guid}/record/listen", ListenAsync), ("/songs/draft-from-record", DraftAsync)
        })
            routes.MapPost(address, handler)
                .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(Uploads.LargestRequest))
                .RequireAuthorization().ExcludeFromDescription();
    }

    // The token is in a header: reading it from the form would put the recording on a disk.
    private static async Task<bool> IsOwnPageAsync(HttpContext http, IAntiforgery antiforgery)
    {
        if (!string.IsNullOrEmpty(http.Request.Headers["X-Tembri-Token"]) && await antiforgery.IsRequestValidAsync(http))
            return true;
        http.Response.StatusCode = StatusCodes.Status400BadRequest;
        return false;
    }

    private static async Task DraftAsync(HttpContext http, IAntiforgery antiforgery, Uploads uploads, ComputeLanes lanes)
    {
        if (!await IsOwnPageAsync(http, antiforgery)) return;
        await AnswerAsync(http, uploads, lanes, null, heard =>
        {
            if (heard.Draft is not { } draft || !heard.Matches)
                return Task.FromResult(
                    new Line(Fault: "No chords can be told in this recording. It takes music with chords and a beat."));
            var unsure = heard.Places.Where(p => p.Certainty < UnsureBelow).OrderBy(p => p.Certainty).Take(MostUnsure)
                .Select(p => $"{draft.Sections[p.Section].Name} bar {p.Bar + 1}").Distinct().ToList();
            return Task.FromResult(new Line(
                Draft: $"title: \n{{note: a first draft by ear, to be checked}}\n{ChartWriter.Write(draft)}",
                Unsure: unsure.Count == 0 ? null : string.Join(", ", unsure)));
        });
    }

    private const double UnsureBelow = 0.8;
    private const int MostUnsure = 6;

    private static async Task ListenAsync(Guid id, HttpContext http, TembriDbContext context, IAntiforgery antiforgery,
        Uploads uploads, ComputeLanes lanes, TimeProvider clock)
    {
        var leaving = http.RequestAborted;
        if (!await IsOwnPageAsync(http, antiforgery)) return;
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, leaving) is not { } song)
        {
            http.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }
        var chart = ChartReader.Read(song.ChartText, leaving).Chart;
        if (chart.Chords.Count == 0) { http.Response.StatusCode = StatusCodes.Status409Conflict; return; }
        await AnswerAsync(http, uploads, lanes, chart, async heard =>
        {
            await KeepAsync(context, id, HeardSong.Of(heard, chart), clock.GetUtcNow(), leaving);
            return new Line(Heard: true);
        });
    }

    /// <summary>Listens, tells how far it is, and ends with one line of what came of it.</summary>
    private static async Task AnswerAsync(HttpContext http, Uploads uploads, ComputeLanes lanes, Chart? chart,
        Func<HearingResult, Task<Line>> end)
    {
        var leaving = http.RequestAborted;
        http.Response.ContentType = "application/x-ndjson";
        http.Response.Headers.CacheControl = "no-store";
        async Task SayAsync(Line line)
        {
            await http.Response.WriteAsync(JsonSerializer.Serialize(line, Json) + "\n", leaving);
            await http.Response.Body.FlushAsync(leaving);
        }
        try
        {
            var heard = await uploads.WithAsync(http.Request, ofStranger: false, async upload =>
            {
                var told =
                    Channel.CreateBounded<double>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest });
                var work = lanes.ForHearingAsync(w =>
                {
                    try { return Ear.Listen(upload.Sound, chart, new Telling(told.Writer), w.Cancel); }
                    finally { told.Writer.TryComplete(); }
                }, leaving);
                _ = work.ContinueWith(_ => told.Writer.TryComplete(), TaskScheduler.Default);
                await foreach (var done in told.Reader.ReadAllAsync(leaving))
                    await SayAsync(new Line(Done: Math.Round(done, 2)));
                return await work;
            }, leaving);
            await SayAsync(await end(heard));
        }
        catch (Exception e) when (e is FormatException or HearingRefusedException or TooBusyException)
        {
            await SayAsync(new Line(Fault: e.Message));
        }
    }

    private static async Task KeepAsync(TembriDbContext context, Guid song, HeardSong heard, DateTimeOffset now,
        CancellationToken leaving)
    {
        var row = await context.SongHearings.FirstOrDefaultAsync(h => h.SongId == song, leaving);
        if (row is null) context.AddOwned(new SongHearing { SongId = song, Findings = heard.Write(), HeardAt = now });
        else (row.Findings, row.HeardAt) = (heard.Write(), now);
        await context.SaveChangesAsync(leaving);
    }

    private sealed class Telling(ChannelWriter<double> told) : IProgress<double>
    {
        public void Report(double value) => told.TryWrite(value);
    }
}
