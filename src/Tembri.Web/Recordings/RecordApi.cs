using System.Text.Json;
using System.Threading.Channels;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Hearing;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Computing;
using Tembri.Web.Setup;

namespace Tembri.Web.Recordings;

/// <summary>Listens to a recording of a song: it is worked on in memory; kept are times and findings. Progress comes back line by line; who leaves ends the work.</summary>
internal static class RecordApi
{
    private sealed record Line(double? Done = null, string? Fault = null, bool? Heard = null);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull };

    public static void MapRecordApi(this IEndpointRouteBuilder routes) =>
        routes.MapPost("/songs/{id:guid}/record/listen", ListenAsync).WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(Uploads.LargestRequest)).RequireAuthorization().ExcludeFromDescription();

    private static async Task ListenAsync(Guid id, HttpContext http, TembriDbContext context, IAntiforgery antiforgery, Uploads uploads, ComputeLanes lanes, TimeProvider clock)
    {
        var leaving = http.RequestAborted;
        // The token is in a header: reading it from the form would put the recording on a disk.
        if (string.IsNullOrEmpty(http.Request.Headers["RequestVerificationToken"]) || !await antiforgery.IsRequestValidAsync(http)) { http.Response.StatusCode = StatusCodes.Status400BadRequest; return; }
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, leaving) is not { } song) { http.Response.StatusCode = StatusCodes.Status404NotFound; return; }
        http.Response.ContentType = "application/x-ndjson";
        http.Response.Headers.CacheControl = "no-store";
        async Task SayAsync(Line line)
        {
            await http.Response.WriteAsync(JsonSerializer.Serialize(line, Json) + "\n", leaving);
            await http.Response.Body.FlushAsync(leaving);
        }
        try
        {
            var chart = ChartReader.Read(song.ChartText, leaving).Chart;
            var heard = await uploads.WithAsync(http.Request, async upload =>
            {
                var told = Channel.CreateBounded<double>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest });
                var work = lanes.ForHearingAsync(w =>
                {
                    try { return Ear.Listen(upload.Sound, chart, new Telling(told.Writer), w.Cancel); }
                    finally { told.Writer.TryComplete(); }
                }, leaving);
                _ = work.ContinueWith(_ => told.Writer.TryComplete(), TaskScheduler.Default);
                await foreach (var done in told.Reader.ReadAllAsync(leaving)) await SayAsync(new Line(Done: Math.Round(done, 2)));
                return await work;
            }, leaving);
            await KeepAsync(context, id, HeardSong.Of(heard, chart), clock.GetUtcNow(), leaving);
            await SayAsync(new Line(Heard: true));
        }
        catch (Exception e) when (e is FormatException or ArgumentException) { await SayAsync(new Line(Fault: e.Message.Split(" (Parameter")[0])); }
        catch (TooBusyException e) { await SayAsync(new Line(Fault: e.Message)); }
    }

    private static async Task KeepAsync(TembriDbContext context, Guid song, HeardSong heard, DateTimeOffset now, CancellationToken leaving)
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
