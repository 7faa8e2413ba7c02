using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Web.Archive;

namespace Tembri.Web.Pages;

/// <summary>Everything in and out: the studio as one archive, and the keys of programs.</summary>
[RequestSizeLimit(StudioArchive.LargestFile + 100_000)]
[RequestFormLimits(MultipartBodyLengthLimit = StudioArchive.LargestFile + 100_000)]
internal sealed class StudioDataModel(TembriDbContext context, StudioArchive archive, ApiKeys keys,
    TimeProvider clock) : PageModel
{
    public IReadOnlyList<ApiKey> Keys { get; private set; } = [];
    public IReadOnlyList<string> Brought { get; private set; } = [];
    public string? Fault { get; private set; }

    /// <summary>A key just made; shown once.</summary>
    public string? NewKey { get; private set; }

    public async Task OnGetAsync() => Keys = await keys.ListAsync(HttpContext.RequestAborted);

    private async Task<IActionResult> ShowAsync(string? fault = null)
    {
        Keys = await keys.ListAsync(HttpContext.RequestAborted);
        Fault = fault;
        if (fault is not null) Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>The studio as one archive.</summary>
    public async Task<IActionResult> OnGetArchiveAsync()
    {
        var name = await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Name).SingleAsync();
        return File(await archive.WriteAsync(HttpContext.RequestAborted), "application/zip",
            $"{string.Concat(name.Where(c => char.IsLetterOrDigit(c) || c == ' ')).Trim()} "
                + $"{clock.GetLocalNow():yyyy-MM-dd}.zip");
    }

    /// <summary>Brings an archive.</summary>
    public async Task<IActionResult> OnPostArchiveAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0) return await ShowAsync("Choose the archive, a file that ends in .zip.");
        if (file.Length > StudioArchive.LargestFile)
            return await ShowAsync(
                $"This file is larger than {StudioArchive.LargestFile / 1_000_000} MB, the largest that is read.");
        try
        {
            await using var stream = file.OpenReadStream();
            Brought = (await archive.ReadAsync(stream, HttpContext.RequestAborted)).Said;
        }
        catch (FormatException e) { return await ShowAsync(e.Message); }
        return await ShowAsync();
    }

    /// <summary>Makes a key for a program.</summary>
    public async Task<IActionResult> OnPostKeyAsync(string? name)
    {
        var called = PlainText.Cut(PlainText.OneLine(name ?? ""), ApiKey.LongestName);
        if (called.Length == 0) return await ShowAsync("Give the key a name, so that you know it again.");
        if ((await keys.ListAsync(HttpContext.RequestAborted)).Count >= ApiKeys.Most)
            return await ShowAsync($"There are {ApiKeys.Most} keys; end one first.");
        NewKey = await keys.MakeAsync(called, HttpContext.RequestAborted);
        return await ShowAsync();
    }

    /// <summary>Ends a key.</summary>
    public async Task<IActionResult> OnPostEndAsync(Guid id) =>
        await keys.RevokeAsync(id, HttpContext.RequestAborted) ? Redirect("/studio/data") : NotFound();
}
