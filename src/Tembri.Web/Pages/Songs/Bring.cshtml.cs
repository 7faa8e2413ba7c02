using System.Text.Json;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Web.Songs;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>Bring charts as files: one or hundreds, packed or not, with progress and a list of what became of each.</summary>
[RequestSizeLimit(LargestRequest)]
[RequestFormLimits(MultipartBodyLengthLimit = LargestRequest, ValueCountLimit = 5_000)]
internal sealed class BringModel(SongBringer bringer) : PageModel
{
    private const int LargestRequest = 60_000_000;
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web);

    public IReadOnlyList<BroughtChart> Brought { get; private set; } = [];

    public string? Fault { get; private set; }

    /// <summary>Names the form, so that the same one sent twice brings its files once.</summary>
    [BindProperty]
    public Guid RequestKey { get; set; }

    public void OnGet() => RequestKey = Guid.CreateVersion7();

    /// <summary>With script the results come as lines of JSON while the work goes on; leaving off cancels it. Without, the page
    /// comes back with all of them.</summary>
    public async Task<IActionResult> OnPostAsync(List<IFormFile> files, CancellationToken cancel)
    {
        var streams = Request.Headers.ContainsKey("X-Progress");
        if (files.Count == 0)
        {
            Fault = "Choose at least one file: text, MusicXML, MIDI, a Tembri chart, or a .zip of them.";
            return streams
                ? new JsonResult(new { fault = Fault }) { StatusCode = StatusCodes.Status422UnprocessableEntity }
                : Page();
        }
        if (RequestKey == Guid.Empty) RequestKey = Guid.CreateVersion7();
        if (!streams)
        {
            var brought = new List<BroughtChart>();
            await foreach (var chart in bringer.BringAsync(files, RequestKey, cancel)) brought.Add(chart);
            Brought = brought;
            return brought is [{ Result: "read", SongId: { } only }] ? LocalRedirect(Paths.Chart(only)) : Page();
        }
        HttpContext.Features.Get<IHttpResponseBodyFeature>()?.DisableBuffering();
        Response.ContentType = "application/x-ndjson";
        try
        {
            await WriteAsync(new { total = SongBringer.Count(files) }, cancel);
            await foreach (var chart in bringer.BringAsync(files, RequestKey, cancel)) await WriteAsync(chart, cancel);
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // The teacher left off; what was read so far is saved.
        }
        return new EmptyResult();
    }

    private async Task WriteAsync<T>(T line, CancellationToken cancel)
    {
        await Response.WriteAsync(JsonSerializer.Serialize(line, Options) + "\n", cancel);
        await Response.Body.FlushAsync(cancel);
    }
}
