using System.Net;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Web.Mail;

namespace Tembri.Web.Pages.Account;

/// <summary>The mails that the demo's stand-in received. Seen on this machine only, and only while no real server is
/// set.</summary>
internal sealed class MailModel(TembriDbContext context, MailSetup mail) : PageModel
{
    public IReadOnlyList<StandInMail> Mails { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync()
    {
        var isHere = HttpContext.Connection.RemoteIpAddress is not { } address || IPAddress.IsLoopback(address);
        if (!mail.HasStandIn || !isHere) return NotFound();
        Mails = await context.StandInMails.AsNoTracking().OrderByDescending(m => m.At).Take(50).ToListAsync();
        return Page();
    }

    /// <summary>The text with its link apart, so that it can be followed.</summary>
    public static (string Before, string Link, string After) Parts(string body)
    {
        var from = body.IndexOf("http", StringComparison.Ordinal);
        if (from < 0) return (body, "", "");
        var to = body.AsSpan(from).IndexOfAny('\n', ' ') is >= 0 and var length ? from + length : body.Length;
        return (body[..from], body[from..to], body[to..]);
    }
}
