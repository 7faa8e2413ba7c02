using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;
using Tembri.Web.Archive;
using Tembri.Web.Mail;
using Tembri.Web.Operating;

namespace Tembri.Web.Pages;

/// <summary>For whoever runs Tembri for others: how much is going on, the studios, what was done to them. Only accounts that the
/// command line appointed see it, and act on it only with a second factor.</summary>
[RequestSizeLimit(StudioArchive.LargestFile + 100_000)]
[RequestFormLimits(MultipartBodyLengthLimit = StudioArchive.LargestFile + 100_000)]
internal sealed class OperatorModel(OperatorDesk desk, LoadLook load, UserManager<Teacher> users, OwnPassword ownPassword,
    PublicAddress address) : PageModel
{
    private const int Shown = 50, LinesShown = 40;

    /// <summary>False for an operator without a second factor, who sees what to do and nothing else.</summary>
    public bool MayAct { get; private set; }

    public string? Asked { get; private set; }
    public int All { get; private set; }
    public IReadOnlyList<StudioRow> Studios { get; private set; } = [];
    public IReadOnlyList<LoadLine> Load { get; private set; } = [];
    public IReadOnlyList<OperatorAct> Trail { get; private set; } = [];
    public string? Fault { get; private set; }
    public string? Said { get; private set; }

    /// <summary>The way to a password, for the operator to hand on; shown once.</summary>
    public string? Way { get; private set; }

    public bool IsUnwatched => load.IsUnwatched;

    private Teacher _operator = null!;

    // What an address may have said after an act; nothing else is shown from there.
    private static readonly Dictionary<string, string> Words = new()
    {
        ["closed"] = "Closed. Nobody gets in, and nothing is lost.", ["open"] = "Open again.",
        ["anew"] = "It is arranged anew in the background.", ["erased"] = "Erased.",
    };

    [NonHandler]
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context,
        PageHandlerExecutionDelegate next)
    {
        if (await users.GetUserAsync(User) is not { IsOperator: true } teacher)
        {
            context.Result = NotFound();
            return;
        }
        (_operator, MayAct, desk.Who) = (teacher, teacher.TwoFactorEnabled, teacher.Email ?? teacher.Id.ToString());
        if (!MayAct && !HttpMethods.IsGet(Request.Method)) context.Result = NotFound();
        else await next();
    }

    public async Task OnGetAsync(string? find, string? said) => await ShowAsync(find, said);

    private async Task<IActionResult> ShowAsync(string? find = null, string? said = null, string? fault = null)
    {
        (Said, Fault,
            Asked) = (said is null ? null : Way is null ? Words.GetValueOrDefault(said) : said, fault,
                find is { Length: > 0 and <= 120 } ? find : null);
        if (fault is not null) Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        if (!MayAct) return Page();
        var leaving = HttpContext.RequestAborted;
        (Load, All, Trail) =
            (await load.ReadAsync(leaving), await desk.CountAsync(leaving), await desk.TrailAsync(LinesShown, leaving));
        Studios = await desk.FindAsync(Asked, Shown, leaving);
        return Page();
    }

    /// <summary>Does something, and says what became of it.</summary>
    private async Task<IActionResult> DoAsync(string? find, string? password, Func<Task<string>> act)
    {
        try
        {
            if (password is not null && await ownPassword.ObjectionAsync(_operator, password, HttpContext) is { } objection)
                return await ShowAsync(find, fault: objection);
            var said = await act();
            return Way is null ? RedirectToPage(new { find, said }) : await ShowAsync(find, said);
        }
        catch (OperatorException e) { return await ShowAsync(find, fault: e.Message); }
    }

    public Task<IActionResult> OnPostOpenAsync(string? name, string? email) => DoAsync(null, null, async () =>
    {
        var (teacher, way) = await desk.OpenAsync(name, email, HttpContext.RequestAborted);
        Way = address.Of(Request) + way;
        return $"Opened for {teacher.Email}.";
    });

    public Task<IActionResult> OnPostBringAsync(string? name, string? email, IFormFile? file) => DoAsync(null, null, async () =>
    {
        if (file is null || file.Length == 0) throw new OperatorException("Choose the archive, a file that ends in .zip.");
        await using var stream = file.OpenReadStream();
        var (teacher, way, _) = await desk.BringAsync(name, email, stream, HttpContext.RequestAborted);
        Way = address.Of(Request) + way;
        return $"Brought, for {teacher.Email}.";
    });

    public Task<IActionResult> OnPostCloseAsync(Guid id, string? why, string? find) => DoAsync(find, null, async () =>
    {
        await desk.CloseAsync(id, why, HttpContext.RequestAborted);
        return "closed";
    });

    public Task<IActionResult> OnPostReopenAsync(Guid id, string? find) => DoAsync(find, null, async () =>
    {
        await desk.ReopenAsync(id, HttpContext.RequestAborted);
        return "open";
    });

    public Task<IActionResult> OnPostRegradeAsync(Guid id, string? find) => DoAsync(find, null, async () =>
    {
        await desk.RegradeAsync(id, HttpContext.RequestAborted);
        return "anew";
    });

    public Task<IActionResult> OnPostResetAsync(Guid id, string? password,
        string? find) => DoAsync(find, password ?? "", async () =>
    {
        var (teacher, way) = await desk.ResetAsync(id.ToString(), HttpContext.RequestAborted);
        Way = address.Of(Request) + way;
        return $"For {teacher.Email}.";
    });

    public Task<IActionResult> OnPostEraseAsync(Guid id, string? name, string? password,
        string? find) => DoAsync(find, password ?? "", async () =>
    {
        await desk.EraseAsync(id, name, HttpContext.RequestAborted);
        return "erased";
    });

    public async Task<IActionResult> OnPostExportAsync(Guid id, string? password, string? find)
    {
        (byte[] File, string Name)? made = null;
        var answer = await DoAsync(find, password ?? "", async () =>
        {
            made = await desk.ExportAsync(id, HttpContext.RequestAborted);
            return "";
        });
        return made is { } found
            ? File(found.File, "application/zip",
                $"{string.Concat(found.Name.Where(c => char.IsLetterOrDigit(c) || c == ' ')).Trim()}.zip")
            : answer;
    }
}
